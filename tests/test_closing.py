"""The program ends when its window is closed: at once, without complaint, with everything in its file and the file free for others."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from fravik.store import open_file

CLOSED_SOON = """
import sys
from PyQt6.QtCore import QTimer
from fravik.app import theme
from fravik.cli import main

make = theme.make_app

def made(args):
    app = make(args)
    def close():
        window = next(w for w in app.topLevelWidgets() if type(w).__name__ == "MainWindow")
        window.session.edit("name", "Closed at once")
        window.close()
    QTimer.singleShot(1500, close)
    return app

theme.make_app = made
sys.exit(main(["demo", "tern"]))
"""


def test_a_closed_window_leaves_its_file_whole_and_free(qapp: object, tmp_path: Path) -> None:
    home = {"XDG_DATA_HOME": str(tmp_path / "data"), "XDG_CONFIG_HOME": str(tmp_path / "settings")}
    run = subprocess.run([sys.executable, "-c", CLOSED_SOON], env=os.environ | home, capture_output=True, text=True, timeout=120)
    assert (run.returncode, run.stderr) == (0, "")
    handle, project = open_file(tmp_path / "data" / "fravik" / "demos" / "tern.fravik", claim=True)
    assert project.name == "Closed at once"
    assert not handle.read_only
    handle.close()
    assert "geometry" in (tmp_path / "settings" / "Fravik" / "Fravik.conf").read_text()
