"""Work beside the window: it goes on painting, edits made meanwhile build on each other, and nothing is lost."""

import threading
import time
from concurrent.futures import Future
from typing import Any

import numpy as np
import pytest
from conftest import until
from PyQt6.QtCore import QTimer

from fravik.app.aside import Aside
from fravik.app.session import Session
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.kinds import places_of


@pytest.fixture
def aside(qapp: Any) -> Any:
    made = Aside()
    yield made
    made.close()


def test_timers_go_on_while_an_answer_is_waited_for(aside: Aside) -> None:
    beats: list[float] = []
    timer = QTimer()
    timer.timeout.connect(lambda: beats.append(time.perf_counter()))
    timer.start(10)
    assert aside.run(lambda: (time.sleep(0.5), "done")[1]) == "done"
    assert len(beats) > 15


def test_what_goes_wrong_beside_is_raised_where_it_is_waited_for(aside: Aside) -> None:
    def wrong() -> None:
        raise ValueError("beside")

    with pytest.raises(ValueError, match="beside"):
        aside.run(wrong)
    assert aside.run(lambda: 2) == 2


def test_an_answer_is_told_on_the_windows_own_thread(aside: Aside, qapp: Any) -> None:
    told: list[tuple[int, int]] = []
    aside.ask(threading.get_ident, lambda f: told.append((f.result(), threading.get_ident())))
    assert until(qapp, lambda: bool(told), 5.0)
    worked, heard = told[0]
    assert heard == threading.get_ident() != worked


def test_an_edit_made_while_another_is_judged_builds_on_it(qapp: Any) -> None:
    session = Session(tern())
    slow, order = session.engine.evaluate, []

    def evaluate(project: Any) -> Any:
        order.append(project.name)
        time.sleep(0.2)
        return slow(project)

    session.engine.evaluate = evaluate  # type: ignore[method-assign]
    seen: list[tuple[bool, str]] = []

    def another() -> None:
        seen.append((session.busy, session.project.name))
        assert session.edit("brief.landing_m_s", 1.7) is None

    QTimer.singleShot(60, another)
    assert session.edit("name", "first") is None
    assert seen == [(True, "first")]  # the design stands at once, its figures follow
    assert not session.busy
    assert session.project.name == "first"
    assert session.project.brief.landing_m_s == 1.7
    assert session.result is not None
    assert session.result.project == session.project
    session.undo()
    assert (session.project.name, session.project.brief.landing_m_s) == ("first", tern().brief.landing_m_s)
    session.undo()
    assert session.project == tern()
    session.close()


def test_a_parts_outline_in_plan_is_its_shadow() -> None:
    engine, project = Engine(), tern()
    result = engine.evaluate(project)
    for part in project.parts:
        given = result.parts[part.id].given
        mesh = engine.mesh(given)
        for place in (p.pose for p in places_of(part, project)):
            loops = engine.outline(given, place)
            moved = mesh.vertices_mm @ place[:3, :3].T + place[:3, 3]
            every = np.concatenate(loops)
            assert np.allclose(every.min(axis=0), moved[:, :2].min(axis=0), atol=0.05)
            assert np.allclose(every.max(axis=0), moved[:, :2].max(axis=0), atol=0.05)
            area = sum(0.5 * float(np.sum(q[:, 0] * np.roll(q[:, 1], -1) - q[:, 1] * np.roll(q[:, 0], -1))) for q in loops)
            # at least what any one layer covers, at most the box
            height = float(np.ptp(moved[:, 2]))
            assert engine.solid(given).volume() / max(height, 1e-9) - 1.0 <= area <= float(np.prod(np.ptp(every, axis=0)))


def test_a_picture_made_for_the_design_before_is_dropped_and_the_newest_is_drawn(qapp: Any) -> None:
    from fravik.app.widgets.scene import Scene

    class Plotter:
        def update(self) -> None: ...
        def close(self) -> None: ...

    class Later:
        """Answers when told to."""

        def __init__(self) -> None:
            self.asked: list[tuple[Any, Any]] = []

        def ask(self, call: Any, then: Any) -> None:
            self.asked.append((call, then))

        def answer(self) -> None:
            call, then = self.asked.pop(0)
            future: Future[Any] = Future()
            future.set_result(call())
            then(future)

    drawn: list[str] = []
    shown, later = ["first"], Later()
    scene = Scene(lambda _: drawn.append(scene.prepared), "a picture")
    scene.plotter, scene._fitted = Plotter(), True
    scene.prepare_by(later, lambda: lambda name=shown[0]: name)  # type: ignore[arg-type,misc]
    scene._refresh()
    shown[0] = "second"
    scene.invalidate()
    later.answer()
    assert drawn == []
    assert scene._dirty
    scene._refresh()
    later.answer()
    assert drawn == ["second"]
    assert not scene._dirty
    scene.shut()
