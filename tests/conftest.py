"""Shared fixtures: the demo craft, one engine that remembers, and the real window."""

from __future__ import annotations

import gc
import sys
import time
import traceback
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, settings

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.model.paths import set_many
from fravik.model.project import Project

settings.register_profile("fresh", deadline=None, max_examples=25, print_blob=True, database=None, suppress_health_check=list(HealthCheck))
settings.load_profile("fresh")


# files that take longest: begun first, so that no process is left alone with one at the end
LONGEST = ("test_findings", "test_sizes", "test_window", "test_export_cli", "test_propeller", "test_transition", "test_print_run")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """By file, those that take longest first, each in its own order."""
    place = {name: k for k, name in enumerate(LONGEST)}
    items.sort(key=lambda item: place.get(item.path.stem, len(LONGEST)))


@pytest.fixture(scope="session")
def project() -> Project:
    return tern()


@pytest.fixture(scope="session")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="session")
def result(engine: Engine, project: Project) -> Evaluation:
    return engine.evaluate(project)


@pytest.fixture
def with_edits(engine: Engine, project: Project) -> Callable[..., Evaluation]:
    """Evaluate the demo with some fields changed; dots in names are written as double underscores."""

    def run(edits: dict[str, Any]) -> Evaluation:
        return engine.evaluate(set_many(project, tuple(edits.items())))

    return run


@pytest.fixture(scope="session")
def qapp() -> Iterator[Any]:
    from fravik.app import theme

    return theme.make_app(["fravik"])


def until(qapp: Any, condition: Callable[[], bool], seconds: float = 60.0) -> bool:
    """Run the event loop until a condition holds."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        qapp.processEvents()
        if condition():
            return True
        time.sleep(0.005)
    return False


def work(seconds: float) -> None:
    """Of the thread's own time: sleeping would not count."""
    end = time.thread_time() + seconds
    while time.thread_time() < end:
        sum(range(500))


def written(session: Any, path: Path | None = None) -> Project:
    """The craft as its file has it, once the newest edit is written or is not going to be: an edit waits for that but a moment."""
    from PyQt6.QtWidgets import QApplication

    from fravik.store import open_file

    assert until(QApplication.instance(), lambda: session.save_state is None or session.save_state.kind != "waiting", 10.0)
    return open_file(path or session.file.path)[1]


@pytest.fixture(autouse=True)
def no_fault_in_a_slot(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """The window survives faults in slots and paint events; tests must not overlook them."""
    found: list[str] = []
    monkeypatch.setattr(sys, "excepthook", lambda kind, err, trace: found.append("".join(traceback.format_exception(kind, err, trace))))
    yield
    take_apart_closed_windows()
    assert not found, found[0]


def take_apart_closed_windows() -> None:
    """Python's collector would empty the parts of a window before Qt is done with them."""
    widgets, sip = sys.modules.get("PyQt6.QtWidgets"), sys.modules.get("PyQt6.sip")
    if widgets is None or sip is None or "fravik.app.window" not in sys.modules:
        return
    from fravik.app.window import MainWindow

    for top in widgets.QApplication.topLevelWidgets():
        if isinstance(top, MainWindow) and top.session.aside.closed:
            sip.delete(top)


@pytest.fixture(autouse=True)
def nobody_answers_dialogs(monkeypatch: pytest.MonkeyPatch) -> None:
    """A dialog that no test expects would wait for an answer for good."""
    if "PyQt6.QtWidgets" not in sys.modules:
        return
    from PyQt6.QtWidgets import QDialog, QFileDialog, QMenu, QMessageBox

    def refused(*args: object, **_: object) -> None:
        raise AssertionError(f"a dialog that nobody answers: {args}")

    for kind in (QDialog, QMessageBox, QFileDialog, QMenu):
        monkeypatch.setattr(kind, "exec", refused)
    for name in ("information", "question", "warning", "critical", "about"):
        monkeypatch.setattr(QMessageBox, name, refused)
    for name in ("getOpenFileName", "getOpenFileNames", "getSaveFileName", "getExistingDirectory"):
        monkeypatch.setattr(QFileDialog, name, refused)


@pytest.fixture
def window(qapp: Any, tmp_path: Path) -> Iterator[Any]:
    """The real window on the demo, kept in a file."""
    from fravik.app import theme
    from fravik.app.window import MainWindow
    from fravik.store import create

    gc.collect()  # windows of earlier tests hold themselves in cycles, and a restyle visits every one alive
    theme.set_mode("light")
    from fravik.app import measures

    measures.set_inch(False)
    theme.apply(qapp)
    made = MainWindow(tern(), create(tmp_path / "tern.fravik", tern()))
    made.settler.auto = False  # tests of the settled tier ask for it themselves
    made.settler._pause.stop()
    made.foresight.auto = False  # and those of what is foreseen
    made.foresight._pause.stop()
    made.show()
    qapp.processEvents()
    yield made
    made.close()
    qapp.processEvents()
