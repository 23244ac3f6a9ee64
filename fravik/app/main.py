"""Start the window."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import NoReturn

from fravik.model.project import Project
from fravik.store import FileProblem, ProjectFile, create, open_file, read_json_file

READ_ONLY = "edits go on in a kept craft. Save a copy to give it a place of your own."


def working_copy(project: Project, name: str) -> tuple[ProjectFile | None, str]:
    """A file for a demo in the user's data folder, so that edits are kept; earlier copies that were edited stay."""
    from platformdirs import user_data_path

    folder = user_data_path("fravik") / "demos"
    for i in range(1, 200):
        path = folder / (f"{name}.fravik" if i == 1 else f"{name}-{i}.fravik")
        try:
            if path.exists():
                file, found = open_file(path, claim=True)
                if found == project and not file.read_only:
                    return file, ""
                file.close()
                continue
            return create(path, project, claim=True), ""
        except FileProblem:
            continue
    return None, "The demo could not be put into a file; edits are kept in memory only. Save a copy to keep them."


def run(demo: str | None = None, file: Path | None = None) -> int:
    """Open the window on a demo or a file. Returns the exit code."""
    if sys.platform.startswith("linux") and not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        print("fravik: there is no display; run with --headless, or under a virtual display", file=sys.stderr)
        return 2
    from platformdirs import user_data_path

    keep_in = user_data_path("fravik") / "kept"
    notice = ""
    handle: ProjectFile | None = None
    if file is not None:
        try:
            if file.suffix.lower() == ".json":  # it has no file of its own yet: from the first edit on it is kept
                project = read_json_file(file)
            else:
                handle, project = open_file(file, claim=True)
        except FileProblem as err:
            print(f"fravik: {err}", file=sys.stderr)
            return 2
        if handle is not None and handle.read_only:
            notice = f"{handle.why}: {READ_ONLY}"
    else:
        from fravik.demo import DEMOS

        project = DEMOS[demo or "tern"]()
        handle, notice = working_copy(project, demo or "tern")
    os.environ.setdefault("QT_QPA_PLATFORM", "xcb")
    from PyQt6.QtCore import QSettings

    from fravik.app import theme
    from fravik.app.lastresort import LastResort
    from fravik.app.window import MainWindow
    from fravik.store.kept import kept_crafts

    app = theme.make_app(sys.argv[:1])
    waiting = len(kept_crafts(keep_in))
    if waiting and not notice:
        many = "crafts are kept that never got places" if waiting > 1 else "craft is kept that never got a place"
        notice = f"{waiting} {many} of {'their' if waiting > 1 else 'its'} own: File > Kept crafts."
    settings = QSettings("Fravik", "Fravik")
    window = MainWindow(project, handle, notice=notice, keep_in=keep_in, settings=settings)
    sys.excepthook = LastResort(window, user_data_path("fravik") / "reports")
    window.restore()
    window.show()
    code = app.exec()
    settings.sync()
    leave(code)


def leave(code: int) -> NoReturn:
    """End the process at once, when the window is closed and all is in its file: Python, Qt and the 3D library would each take down at its
    end what the others still hold, in an order that none of them keeps, now and then with a crash after all was done."""
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(code)
