"""Every view at every size holds: no text cut off without its whole in a tip, nothing over or out of anything, no label over another."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from conftest import until
from layoutcheck import faults, painted_faults, painting, shorten
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from fravik.app.exportdialog import ExportDialog
from fravik.app.newcraftdialog import NewCraftDialog
from fravik.app.widgets.beforeitflies import BeforeItFlies
from fravik.app.widgets.short import Choices, Line, Short, ShortButton
from fravik.demo import DEMOS
from fravik.kinds.wing.geometry import goes_over

SIZES = ((1000, 640), (1280, 800), (1920, 1080), (3840, 2160))
STAGES = ("Brief", "Airframe", "Parts", "Vibration", "Print run")
PAGES_OF_PARTS = 4
SLOW_S, PATIENT_S = 180.0, 6.0
# these show nothing that others do not, or have their own tests
SHARED = ("tern", "ruff", "turnstone", "dunlin", "wren")


def held(window: Any, qapp: Any, stage: str) -> list[str]:
    """What does not hold in a stage."""
    window.show_stage(stage)
    # pages are dressed, and their rows made, in turns
    until(qapp, lambda: not faults(window, (BeforeItFlies,)), PATIENT_S)
    with painting(window) as painted:
        window.grab()
    return [f"{stage}: {x}" for x in shorten(faults(window, (BeforeItFlies,)) + painted_faults(painted))]


def laid(window: Any, qapp: Any) -> None:
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh, SLOW_S)
    window.foresight.look()
    assert until(qapp, lambda: window.foresight.fresh, SLOW_S)


def test_all_views_at_all_sizes_light_and_dark(window: Any, qapp: Any) -> None:
    laid(window, qapp)
    found = []
    for dark in (False, True):
        for size in SIZES if not dark else SIZES[:2]:
            window.resize(*size)
            qapp.processEvents()
            assert (window.width(), window.height()) == size  # nothing in it is larger
            for stage in STAGES:
                found += [f"{size} {x}" for x in held(window, qapp, stage)]
        window.toggle_theme()
    assert not found, "\n".join(found)


@pytest.mark.parametrize("name", [n for n in DEMOS if n not in SHARED])
def test_other_crafts_at_the_smallest_size(window: Any, qapp: Any, name: str) -> None:
    window.load(DEMOS[name](), None)
    window.resize(*SIZES[0])
    if not goes_over(DEMOS[name]()):
        laid(window, qapp)
        found = [x for stage in STAGES[1:] for x in held(window, qapp, stage)]
    else:
        # what others have not
        found = held(window, qapp, "Airframe")
        for stage in ("Wing", "Transition"):
            window.show_stage(stage)
            assert until(qapp, lambda s=stage: window.view(s).known, SLOW_S)
            found += held(window, qapp, stage)
    assert not found, "\n".join(found)


def test_all_pages_of_a_part_and_what_is_foreseen_at_the_smallest_size(window: Any, qapp: Any) -> None:
    laid(window, qapp)
    window.resize(*SIZES[0])
    window.show_stage("Parts")
    view, found = window.view("Parts"), []
    for part in window.session.project.parts:
        view.open_part(part.id)
        for page in range(PAGES_OF_PARTS):
            view.show_page(page)
            found += [f"{part.id} {page}: {x}" for x in held(window, qapp, "Parts")]
    view.show_page(0)
    for tab in range(view.controls.current.count()):
        view.controls.current.setCurrentIndex(tab)
        found += [f"tab {tab}: {x}" for x in held(window, qapp, "Parts")]
    vibration = window.view("Vibration")
    window.show_stage("Vibration")
    vibration.show_page(1)
    assert until(qapp, lambda: vibration.ring.seen is not None)
    found += [f"loop: {x}" for x in held(window, qapp, "Vibration")]
    window.show_stage("Airframe")
    window.view("Airframe").drive_forms.add()
    found += [f"another drive: {x}" for x in held(window, qapp, "Airframe")]
    window.session.undo()
    laid(window, qapp)
    run = window.view("Print run")
    for tab in range(run.tabs.count()):
        window.show_stage("Print run")
        run.tabs.setCurrentIndex(tab)
        found += [f"tab {tab}: {x}" for x in held(window, qapp, "Print run")]
    window.show_flies()
    assert until(qapp, lambda: not window.flies.turns.busy)
    until(qapp, lambda: False, 0.2)
    found += [f"Before it flies: {x}" for x in faults(window.flies)]
    assert not found, "\n".join(shorten(found))


def test_dialogs_hold(window: Any, qapp: Any) -> None:
    for dialog in (NewCraftDialog(window.ground), ExportDialog(window.session.project, window.ground, laid=False)):
        dialog.show()
        until(qapp, lambda: False, 0.15)
        assert not faults(dialog)
        dialog.close()


@pytest.mark.parametrize(("scale", "text_pt"), [(2, 9), (1, 11)])
def test_at_twice_the_scale_and_where_the_system_writes_larger(tmp_path: Path, scale: int, text_pt: int) -> None:
    """In a process of its own: scale and face are set before anything is shown."""
    script = tmp_path / "another.py"
    script.write_text(
        "import sys\n"
        f"sys.path.insert(0, {str(Path(__file__).parent)!r})\n"
        "from pathlib import Path\n"
        "from PyQt6.QtWidgets import QApplication\n"
        "from fravik.app import theme\n"
        "from fravik.app.main import leave\n"
        "from fravik.app.theme import style\n"
        "from fravik.app.window import MainWindow\n"
        "from fravik.demo import tern\n"
        "from test_sizes import held, laid\n"
        "class Desk(QApplication):\n"
        "    def __init__(self, arguments):\n"
        "        super().__init__(arguments)\n"
        "        own = self.font()\n"
        f"        own.setPointSizeF({text_pt})\n"
        "        self.setFont(own)\n"
        "style.QApplication = Desk\n"
        "app = theme.make_app(['fravik'])\n"
        f"assert app.font().pointSizeF() == {text_pt}\n"
        f"window = MainWindow(tern(), keep_in=Path({str(tmp_path)!r}) / 'kept')\n"
        "window.show()\n"
        f"assert window.devicePixelRatioF() == {scale}\n"
        "laid(window, app)\n"
        "found = []\n"
        "window.resize(1000, 640)\n"
        "for stage in ('Brief', 'Airframe', 'Parts', 'Vibration', 'Print run'):\n"
        "    found += held(window, app, stage)\n"
        "window.close()\n"
        "print('\\n'.join(found))\n"
        "leave(1 if found else 0)\n"
    )
    run = subprocess.run([sys.executable, str(script)], env=os.environ | {"QT_SCALE_FACTOR": str(scale)}, capture_output=True, text=True,
                         timeout=200, check=False)  # fmt: skip
    assert run.returncode == 0, run.stdout + run.stderr[-2000:]


def test_the_check_finds_what_does_not_hold(qapp: Any) -> None:
    ground = QWidget()
    ground.resize(200, 100)
    cut, whole = QLabel("a text that is far too long for it", ground), QLabel("short", ground)
    cut.setGeometry(0, 0, 60, 20)
    whole.setGeometry(0, 40, 60, 20)
    over = QPushButton("over", ground)
    over.setGeometry(40, 40, 60, 20)
    out = QLabel("out", ground)
    out.setGeometry(180, 70, 60, 20)
    ground.show()
    qapp.processEvents()
    told = faults(ground)
    assert sum("cut off" in x for x in told) == 1
    assert sum("lies" in x for x in told) == 1
    assert sum("out of place" in x for x in told) == 1
    cut.setToolTip(cut.text())
    assert sum("cut off" in x for x in faults(ground)) == 0


def test_what_gives_way_tells_the_whole_in_its_tip(qapp: Any) -> None:
    ground = QWidget()
    row = QHBoxLayout(ground)
    text = "vertical bending, neighbours against each other"
    button, line, words, choices = ShortButton(text), Line(), Short(text), Choices()
    line.setText(text)
    line.setToolTip("what it is")
    choices.addItem(text)
    for widget in (button, line, words, choices):
        row.addWidget(widget, 1)
    ground.resize(300, 60)
    ground.show()
    qapp.processEvents()
    for widget in (button, line, words, choices):
        assert widget.toolTip().startswith(text), type(widget).__name__
    assert (button.text(), words.text()) == (text, text)
    assert line.toolTip().endswith("what it is")
    ground.resize(2400, 60)
    qapp.processEvents()
    assert [w.toolTip() for w in (button, line, words, choices)] == ["", "what it is", "", ""]
    words.wrap(True)
    assert words.wordWrap()
    ground.close()
