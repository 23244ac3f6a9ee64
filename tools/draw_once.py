"""Draw every 3D view once, not on the screen: the graphics driver compiles what draws it and keeps that for good. Without this the first
look at a view on a new machine would hold the window up while it compiles.

    .venv/bin/python -m tools.draw_once
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt

from fravik.app import theme
from fravik.app.main import leave
from fravik.app.shots import ready, wait_for
from fravik.app.widgets.glview import view_class
from fravik.app.window import MainWindow
from fravik.demo import tern

STAGES = ("Airframe", "Parts", "Vibration", "Airframe")
SIZE_PX = 1280, 800


def main() -> int:
    """Through the stages that have a 3D view, once each is drawn."""
    app = theme.make_app(sys.argv[:1])
    with tempfile.TemporaryDirectory() as folder:
        window = MainWindow(tern(), keep_in=Path(folder))
        window.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
        window.resize(*SIZE_PX)
        window.show()
        for stage in STAGES:
            window.show_stage(stage)
            wait_for(app, window, lambda: ready(window) and drawn(window))
        window.close()
    return 0


def drawn(window: Any) -> bool:
    """Whether all that is in view is drawn; what is not is drawn now, as nothing asks for a paint off the screen."""
    views = [v for v in window.findChildren(view_class()) if v.isVisible()]
    for view in views:
        view.grabFramebuffer()
    return bool(views) and all(v.kept and v.renderer.actors for v in views)


if __name__ == "__main__":
    leave(main())
