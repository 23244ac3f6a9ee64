"""A craft in a stranger's folder runs none of what lies beside it."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

import pytest

import fravik
from fravik.demo import tern
from fravik.engine.channel import Worker
from fravik.engine.worker import Message

TRAPS = (
    "socket",
    "json",
    "random",
    "numpy",
    "pydantic",
    "multiprocessing",
    "sqlite3",
    "struct",
    "sitecustomize",
    "usercustomize",
    "lib3mf",
)
HOME = str(Path(fravik.__file__).parent.parent)


@pytest.fixture
def trapped(tmp_path: Path) -> Path:
    """A folder whose modules tell when they are run."""
    for name in TRAPS:
        (tmp_path / f"{name}.py").write_text("open('SPRUNG', 'a').write(__name__)\nraise SystemExit(66)\n")
    return tmp_path


def test_the_background_process_runs_nothing_from_the_current_folder(trapped: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(trapped)
    monkeypatch.setenv("PYTHONPATH", str(trapped))
    worker = Worker()
    found: list[Message] = []
    try:
        worker.submit("levers", tern().model_copy(update={"targets": ()}), None)
        end = time.monotonic() + 60
        while time.monotonic() < end and not any(m.kind != "progress" for m in found):
            found += worker.messages()
            time.sleep(0.05)
    finally:
        worker.stop()
    assert [m.kind for m in found if m.kind != "progress"] == ["done"], found
    assert not (trapped / "SPRUNG").exists()


@pytest.mark.parametrize("command", [[sys.executable, "-m", "fravik"], [str(Path(sys.executable).with_name("fravik"))]])
def test_the_command_runs_nothing_from_the_current_folder(trapped: Path, command: list[str]) -> None:
    env = {**os.environ, "PYTHONPATH": HOME} if "-m" in command else dict(os.environ)
    run = subprocess.run([*command, "evaluate", "--demo", "tern"], cwd=trapped, env=env, capture_output=True, text=True, timeout=120)
    assert run.returncode in (0, 1), run.stderr
    assert "Strike" in run.stdout
    assert not (trapped / "SPRUNG").exists()


def test_the_window_comes_up_without_what_is_slow_to_load() -> None:
    slow = ("scipy.signal", "scipy.stats", "scipy.optimize", "numba", "vtkmodules", "ezdxf", "reportlab", "jinja2", "trimesh")
    asked = f"import sys, fravik.app.window; print([m for m in {slow!r} if m in sys.modules])"
    run = subprocess.run([sys.executable, "-c", asked], env=os.environ | {"PYTHONPATH": HOME}, capture_output=True, text=True, check=True)
    assert run.stdout.strip() == "[]"
