"""Where to begin: shown once to who has never used the window, with a way on from every button."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from conftest import until
from PyQt6.QtCore import QSettings, Qt
from PyQt6.QtTest import QTest

from fravik.app.window import MainWindow
from fravik.demo import DEMOS, tern
from fravik.demo.about import ABOUT


def test_it_comes_up_once(qapp: Any, tmp_path: Path) -> None:
    def begun() -> bool:
        window = MainWindow(tern(), settings=QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat))
        window.settler.auto = False
        window.restore()
        window.show()
        qapp.processEvents()
        shown = window.first is not None and window.first.isVisible()
        window.close()
        return shown

    assert begun()
    assert not begun()


def test_it_leads_on(window: Any, qapp: Any, monkeypatch: Any) -> None:
    window.actions_by_name["Where to begin"].trigger()
    page = window.first
    assert page.isVisible()
    assert window.session.project.name in page.on.text()
    QTest.mouseClick(page.on, Qt.MouseButton.LeftButton)
    assert window.stack.currentWidget() is window.view(window.stage)
    # any stage takes its place
    window.show_first()
    window.show_stage("Brief")
    assert not page.isVisible()
    window.show_first()
    QTest.mouseClick(page.demos["wren"], Qt.MouseButton.LeftButton)
    assert until(qapp, lambda: not page.isVisible())
    assert window.session.project == DEMOS["wren"]()
    # what is opened in another way takes its place too; who gives up stays
    window.show_first()
    monkeypatch.setattr("fravik.app.files.QFileDialog.getOpenFileName", lambda *_: ("", ""))
    QTest.mouseClick(page.open, Qt.MouseButton.LeftButton)
    assert page.isVisible()
    window.open_demo("tern")
    assert not page.isVisible()


def test_every_demo_is_told_as_it_is() -> None:
    assert set(ABOUT) == set(DEMOS)
    for name, (title, layout, about) in ABOUT.items():
        project = DEMOS[name]()
        assert project.name.startswith(title)
        assert about.endswith(".")
        assert project.layout.kind in (layout, "free")
