"""A fault that nobody foresaw costs no work, is written down, and is said in the window; and settings come back."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QSettings, QTimer

from fravik.app import theme
from fravik.app.lastresort import LastResort
from fravik.app.window import MainWindow
from fravik.demo import tern
from fravik.store import open_file
from fravik.store.kept import kept_crafts


@pytest.fixture
def made(qapp: Any, tmp_path: Path) -> Iterator[MainWindow]:
    window = MainWindow(tern(), keep_in=tmp_path / "kept", settings=QSettings(str(tmp_path / "set.ini"), QSettings.Format.IniFormat))
    window.settler.auto = False
    window._look.setInterval(10**7)
    window.show()
    yield window
    window.close()


def test_a_fault_in_a_slot_keeps_the_work_and_says_so(
    made: MainWindow, qapp: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr(sys, "excepthook", LastResort(made, tmp_path / "reports"))

    def broken() -> None:
        raise ZeroDivisionError("in a slot")

    for _ in range(3):
        QTimer.singleShot(0, broken)
        qapp.processEvents()
        qapp.processEvents()
    (report,) = (tmp_path / "reports").iterdir()
    assert "in a slot" in report.read_text()
    said = made.banner_text.text()
    assert "ZeroDivisionError" in said
    assert str(report) in said
    (kept,) = kept_crafts(tmp_path / "kept")
    assert kept.name in said
    assert open_file(kept)[1] == made.session.project
    # the window goes on
    assert made.session.edit("name", "still here") is None
    assert open_file(kept)[1].name == "still here"
    made.load(tern(), None)
    assert "ZeroDivisionError" not in made.banner_text.text()


def test_a_report_that_cannot_be_written_is_said(made: MainWindow, tmp_path: Path) -> None:
    (tmp_path / "reports").write_text("in the way")
    try:
        raise ValueError("x")
    except ValueError as err:
        LastResort(made, tmp_path / "reports")(ValueError, err, err.__traceback__)
    assert "No report could be written" in made.banner_text.text()


def test_size_and_light_come_back(made: MainWindow, qapp: Any, tmp_path: Path) -> None:
    was = theme.mode()
    made.resize(1120, 720)
    made.toggle_theme()
    shown = theme.mode()
    made.close()
    theme.set_mode(was)
    again = MainWindow(tern(), settings=QSettings(str(tmp_path / "set.ini"), QSettings.Format.IniFormat))
    again.restore()
    assert theme.mode() == shown
    assert (again.width(), again.height()) == (1120, 720)
    again.toggle_theme()
    again.close()
