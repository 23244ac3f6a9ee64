"""Edits while the window's loop turns, as a maker makes them: nothing waits for figures, the newest edit overtakes, none is lost."""

import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from conftest import until
from PyQt6.QtCore import QEventLoop, Qt, QTimer
from PyQt6.QtTest import QTest

from fravik.app.session import Session
from fravik.app.views.parts.controls import PartControls
from fravik.demo import tern
from fravik.store import create, open_file

SLOW_S = 0.25


def in_turn(deed: Callable[[], None], stands: Callable[[], bool], most_s: float = 20.0) -> None:
    """Do something in a turn of the loop, and let it turn on until something holds."""
    loop, wrong = QEventLoop(), list[BaseException]()
    end = time.monotonic() + most_s

    def look() -> None:
        if stands() or wrong or time.monotonic() > end:
            loop.quit()

    def begin() -> None:
        try:
            deed()
        except BaseException as err:
            wrong.append(err)

    watch = QTimer()
    watch.timeout.connect(look)
    QTimer.singleShot(0, begin)
    watch.start(5)
    loop.exec()
    watch.stop()
    if wrong:
        raise wrong[0]
    assert stands()


class Slow:
    """An engine that takes its time, and remembers what it was asked."""

    def __init__(self, session: Session) -> None:
        self.asked: list[str] = []
        self._evaluate = session.engine.evaluate
        session.engine.evaluate = self  # type: ignore[assignment,method-assign]

    def __call__(self, project: Any) -> Any:
        self.asked.append(project.name)
        time.sleep(SLOW_S)
        return self._evaluate(project)


@pytest.fixture
def session(qapp: Any) -> Iterator[Session]:
    made = Session(tern())
    yield made
    made.close()


def test_an_edit_returns_before_its_figures_and_newer_ones_overtake(session: Session) -> None:
    slow, told = Slow(session), list[str]()
    session.changed.connect(lambda: told.append(session.project.name))
    first = session.result

    def edits() -> None:
        began = time.monotonic()
        for name in ("one", "two", "three"):
            assert session.edit("name", name) is None
        assert time.monotonic() - began < SLOW_S
        assert session.project.name == "three"
        assert session.busy
        assert session.result is first

    in_turn(edits, lambda: not session.busy)
    assert slow.asked == ["one", "three"]  # the first had begun; the second never had to
    assert told == ["three"]
    assert session.result is not None
    assert session.result.project == session.project
    for name in ("two", "one", tern().name):
        session.undo()
        assert session.project.name == name
    assert session.result.project == tern()


def test_what_follows_an_edit_waits_for_its_figures(session: Session) -> None:
    Slow(session)
    seen: list[bool] = []

    def edit() -> None:
        session.edit("name", "later")
        session.then(lambda: seen.append(session.result is not None and session.result.project.name == "later"))
        assert seen == []

    in_turn(edit, lambda: bool(seen))
    assert seen == [True]
    session.then(lambda: seen.append(True))  # nothing is under way: at once
    assert len(seen) == 2


def test_figures_show_now_and_then_while_edits_overtake_each_other(session: Session) -> None:
    Slow(session)
    shown: list[str] = []
    session.evaluated.connect(lambda: shown.append(session.result.project.name if session.result is not None else ""))
    pull = QTimer()
    pull.setInterval(20)
    count = iter(range(10_000))
    pull.timeout.connect(lambda: session.edit("name", f"pulled {next(count)}"))
    in_turn(pull.start, lambda: len(shown) >= 3)
    assert session.busy
    assert len(set(shown)) == len(shown)
    pull.stop()
    in_turn(lambda: None, lambda: not session.busy)
    assert shown[-1] == session.project.name


def test_editors_of_a_part_that_is_taken_away_while_they_are_made_are_let_go_of(session: Session) -> None:
    Slow(session)
    controls = PartControls(session)
    arm, leg = (session.project.part(name) for name in ("arm", "leg"))
    controls.show_part(arm)
    assert controls.current.part_id == "arm"
    stations = controls.forms["made"].fields["parts.arm.at"]

    def take_away() -> None:
        controls.show_part(leg)
        controls._turns.step()  # theirs are there, and not yet shown
        session.edit("parts", tuple(p for p in session.project.parts if p.id == "wheel"), "parts removed")
        assert controls.current.part_id == "arm"
        stations.refresh()  # of a part that is gone: nothing is chosen
        assert stations.control().text() == "those that are left"

    in_turn(take_away, lambda: not session.busy)
    assert not controls._turns.busy
    session.undo()
    controls.show_part(leg)
    assert controls.current.part_id == "leg"


def test_a_craft_that_is_left_while_it_is_judged_is_in_its_file(qapp: Any, tmp_path: Path) -> None:
    session = Session(tern(), create(tmp_path / "left.fravik", tern(), claim=True))
    Slow(session)

    def leave() -> None:
        session.edit("name", "left in haste")
        session.close()

    in_turn(leave, lambda: True)
    assert open_file(tmp_path / "left.fravik")[1].name == "left in haste"


def test_a_craft_that_has_been_left_is_judged_no_more(qapp: Any) -> None:
    left = Session(tern())
    left.close()
    for edit in (lambda: left.edit("name", "in no loop"), lambda: in_turn(lambda: left.edit("name", "in a loop"), lambda: True)):
        edit()
        assert not left.busy


def test_another_craft_opened_while_one_is_judged_is_not_mixed_with_it(session: Session) -> None:
    Slow(session)
    other = tern().model_copy(update={"name": "another"})

    def both() -> None:
        session.edit("name", "never shown")
        session.open(other, None)

    in_turn(both, lambda: not session.busy)
    assert session.project is other
    assert session.result is not None
    assert session.result.project is other
    assert session.revision == 0


def test_the_window_takes_presses_while_an_edit_is_judged(window: Any, qapp: Any) -> None:
    window.show_stage("Brief")
    window.show_stage("Parts")
    assert until(qapp, lambda: not window.opening.busy)
    Slow(window.session)

    def edit_and_press() -> None:
        window.session.edit("parts.arm.recipe.walls", 6)
        QTest.mouseClick(window.rail.buttons["Brief"], Qt.MouseButton.LeftButton)
        assert window.stage == "Brief"
        assert window.session.busy

    in_turn(edit_and_press, lambda: not window.session.busy)
    assert window.session.result.project.part("arm").recipe.walls == 6
    assert window.stage == "Brief"


def test_parts_that_come_and_go_faster_than_they_are_judged(window: Any, qapp: Any) -> None:
    window.show_stage("Parts")
    view = window.view("Parts")
    Slow(window.session)
    known = {p.id for p in window.session.project.parts}

    def come_and_go() -> None:
        view.add_part("deck")
        new = next(p.id for p in window.session.project.parts if p.id not in known)
        view.refresh()  # as a change of size would, before there is any figure of it
        view.drop_part(new)
        view.refresh()
        window.session.undo()
        window.show_stage("Airframe")

    in_turn(come_and_go, lambda: not window.session.busy)
    assert {p.id for p in window.session.project.parts} > known
    assert window.session.result.project == window.session.project


def test_an_export_holds_nothing_up_and_is_finished_before_the_window_goes(
    window: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import fravik.engine.export as export

    write = export.export_all

    def slowly(*args: Any) -> list[Path]:
        time.sleep(1.0)
        return write(*args)

    monkeypatch.setattr(export, "export_all", slowly)
    done: list[Path] = []

    def both() -> None:
        nonlocal done
        done = window.export_to(tmp_path / "out", ("json",))
        assert "Exporting" in window.banner_text.text()
        window.session.edit("name", "meanwhile")

    in_turn(both, lambda: not window.session.busy)
    assert done == []
    in_turn(window.close, lambda: True)
    assert [p.suffix for p in (tmp_path / "out").iterdir()] == [".json"]
