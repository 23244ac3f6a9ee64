"""How long edits take in the real window, on the Tern and Redshank demos, and how much memory it holds.

The machine's pace may drift by two within a minute, and stumble for some tenths of a second. So the workload is done once after every edit,
each edit is read at the pace of the bounds by the workloads about it, and the same edits are made in three passes, in each of which the
engine begins with nothing known: of each edit the middle time counts.
"""

from __future__ import annotations

import random
import sys
import time
from itertools import pairwise
from typing import Any

import numpy as np

from fravik.model.project import Project
from tools.pace import at_bounds_pace, reference_workload

EDITS, PASSES = 120, 3
Ranges = dict[str, tuple[float, float, int]]  # name or path -> lowest, highest, digits after the point (0: whole)
Choices = dict[str, list[Any]]  # name or path -> the values that it may take
RANGES: Ranges = {
    "root_width_mm": (15.0, 28.0, 1), "tip_width_mm": (12.0, 24.0, 1), "root_height_mm": (8.0, 15.0, 1), "tip_height_mm": (7.0, 13.0, 1),
    "root_fillet_mm": (0.4, 8.0, 1), "pad_fillet_mm": (0.4, 8.0, 1), "pad_diameter_mm": (26.0, 36.0, 1), "bolt_circle_mm": (17.0, 20.0, 1),
    "bolt_hole_mm": (2.4, 3.4, 1), "shaft_hole_mm": (0.0, 10.0, 1), "tongue_length_mm": (24.0, 30.0, 1), "tongue_width_mm": (29.0, 36.0, 1),
    "tongue_bolt_rows": (1, 2, 0), "tongue_bolt_mm": (2.2, 4.2, 1), "pocket_count": (0, 3, 0), "pocket_length_mm": (8.0, 16.0, 1),
    "pocket_width_mm": (3.0, 7.0, 1), "pocket_corner_mm": (0.3, 1.5, 2), "bar_height_mm": (0.0, 5.0, 1), "bar_width_mm": (1.4, 4.0, 1),
    "length_mm": (95.0, 125.0, 1),
}  # fmt: skip
RECIPE: Choices = {
    "walls": [2, 3, 4, 5], "core_density": [0.0, 0.15, 0.3, 0.6, 1.0], "cover_layers": [2, 4, 6],
    "pattern": ["grid", "gyroid", "triangles"],
    "lies": ["flat", "on_side", "flat"], "filament": ["petg", "pla", "pa_cf"],
}  # fmt: skip
TERN: tuple[Ranges, Choices] = (
    {f"parts.arm.shape.{name}": of for name, of in RANGES.items()}, {f"parts.arm.recipe.{name}": of for name, of in RECIPE.items()},
)  # fmt: skip
REDSHANK: tuple[Ranges, Choices] = (
    {
        "parts.tube.shape.wall_mm": (0.8, 2.0, 2), "parts.tube.shape.outer_mm": (12.0, 16.0, 1),
        "parts.tube.joint.tightness": (0.2, 0.9, 2),
        "parts.bottom.shape.thickness_mm": (2.4, 4.0, 1), "parts.bottom.shape.rib_height_mm": (0.0, 8.0, 1),
        "parts.bottom.shape.rib_pitch_mm": (24.0, 40.0, 0), "parts.bottom.shape.grid_pitch_mm": (16.0, 30.0, 0),
        "parts.top.shape.thickness_mm": (2.0, 4.0, 1), "parts.top.shape.rib_width_mm": (1.6, 4.0, 1),
        "parts.leg.shape.thickness_mm": (9.0, 16.0, 1), "parts.leg.shape.splay_deg": (5.0, 20.0, 0),
        "parts.holder.shape.pad_diameter_mm": (36.0, 44.0, 1), "layout.motor_to_motor_mm": (580.0, 680.0, 0),
        "components.battery.mass_g": (700.0, 1200.0, 0), "components.battery.x_mm": (-12.0, 12.0, 0),
    },
    {
        "parts.bottom.recipe.core_density": [0.2, 0.4, 1.0], "parts.bottom.recipe.filament": ["petg", "pla_tough", "asa"],
        "parts.clamp.recipe.walls": [3, 4, 5], "parts.leg.recipe.walls": [3, 4, 5],
    },
)  # fmt: skip


def random_edit(rng: random.Random, ranges: Ranges, choices: Choices) -> tuple[str, Any]:
    """Path and value of an edit."""
    if rng.random() < 0.85:
        path = rng.choice(list(ranges))
        low, high, digits = ranges[path]
        return path, round(rng.uniform(low, high), digits) if digits else rng.randint(int(low), int(high))
    path = rng.choice(list(choices))
    return path, rng.choice(choices[path])


def edits_to_make(project: Project, ranges: Ranges, choices: Choices, count: int) -> list[tuple[str, Any]]:
    """Edits one after another, each of which changes the design and leaves it without contradiction."""
    from fravik.engine.evaluate import Engine
    from fravik.model.paths import set_at

    engine, rng, out = Engine(), random.Random(7), []
    while len(out) < count:
        path, value = random_edit(rng, ranges, choices)
        edited = set_at(project, path, value)
        if edited != project and engine.scores(edited) is not None:
            out.append((path, value))
            project = edited
    return out


class WindowBench:
    """The window under edits, and what was read of each: ms to painted margins, to all figures, to the 3D picture, and the workload."""

    def __init__(self, project: Project) -> None:
        from fravik.app import theme
        from fravik.app.shots import ready, wait_for
        from fravik.app.window import MainWindow

        self.app, self.project = theme.make_app(sys.argv[:1]), project
        self.window = MainWindow(project)
        self.window.show()
        wait_for(self.app, self.window, lambda: ready(self.window))
        self.window._look.setInterval(10**7)
        self.clock = PaintClock(self.window.strip.tiles)
        self.answered_s = 0.0
        self.window.session.evaluated.connect(self._answered)
        self.work = reference_workload()

    def _answered(self) -> None:
        self.answered_s = time.perf_counter()

    def one(self, path: str, value: Any) -> tuple[float, float, float, float]:
        """Make an edit, let everything be painted and come to rest."""
        scene = self.window.view("Parts").scene
        start = edit_in_loop(self.window.session, path, value)
        scene._later.stop()
        self.app.processEvents()  # every paint event that the edit asked for
        shown = time.perf_counter()
        scene._refresh()
        while scene._dirty:  # the surface is made beside the window
            self.app.processEvents()
        scene.redraw()
        scene.plotter.repaint()
        drawn = time.perf_counter()
        rest(self.app)
        margins = self.clock.first_after(start) or self.answered_s
        return (margins - start) * 1e3, (shown - start) * 1e3, (drawn - start) * 1e3, self.work()

    def one_pass(self, edits: list[tuple[str, Any]]) -> np.ndarray:
        """All edits from the demo on, (edits, 4)."""
        session = self.window.session
        session.engine.forget()
        session.replace(self.project, "again")
        rest(self.app)
        self.clock.times.clear()
        return np.array([self.one(path, value) for path, value in edits])

    def passes(self, edits: list[tuple[str, Any]], count: int) -> tuple[np.ndarray, np.ndarray]:
        """Each edit as often as told, (passes, edits, 4), and to painted margins at the bounds' pace, (edits,)."""
        read = np.array([self.one_pass(edits) for _ in range(count)])
        return read, np.median([at_bounds_pace(r[:, 0], r[:, 3]) for r in read], axis=0)


def edits_in_window() -> dict[str, float]:
    """Random edits over all arm parameters in the real window: figures painted, then the 3D picture; and the window's memory."""
    from fravik.demo import tern

    bench = WindowBench(tern())
    read, at_pace = bench.passes(edits_to_make(bench.project, *TERN, EDITS), PASSES)
    margins, figures, pictures, paces = (read[..., k] for k in range(4))
    memory = idle_memory_mb(bench.app, bench.window)
    bench.window.close()
    return {
        "edit to painted margins, median ms": float(np.median(margins)),
        "edit to painted margins, 95th percentile ms": float(np.percentile(margins, 95)),
        "reference workload between the edits, median ms": float(np.median(paces)),
        "edit to painted margins at the bounds' pace, median ms": float(np.median(at_pace)),
        "edit to painted margins at the bounds' pace, 95th percentile ms": float(np.percentile(at_pace, 95)),
        "edit to all figures, rulers and sections painted, median ms": float(np.median(figures)),
        "edit to all figures, rulers and sections painted, 95th percentile ms": float(np.percentile(figures, 95)),
        "edit to 3D picture, 95th percentile ms": float(np.percentile(pictures, 95)),
        **memory,
    }


def edits_of_redshank() -> dict[str, float]:
    """Random edits of tubes, plates, legs, layout and battery of a hexa in the real window, to its painted margins."""
    from fravik.demo import redshank

    bench = WindowBench(redshank())
    read, at_pace = bench.passes(edits_to_make(bench.project, *REDSHANK, EDITS // 2), PASSES)
    bench.window.close()
    return {
        "edit of Redshank to painted margins, 95th percentile ms": float(np.percentile(read[..., 0], 95)),
        "edit of Redshank to painted margins at the bounds' pace, median ms": float(np.median(at_pace)),
        "edit of Redshank to painted margins at the bounds' pace, 95th percentile ms": float(np.percentile(at_pace, 95)),
    }


def edit_in_loop(session: Any, path: str, value: Any) -> float:
    """Make an edit as its user does, while the window's loop turns and brings the answer; returns when it was made."""
    from PyQt6.QtCore import QEventLoop, QTimer

    loop, made_s = QEventLoop(), list[float]()

    def edit() -> None:
        made_s.append(time.perf_counter())
        session.edit(path, value)
        session.then(lambda: QTimer.singleShot(0, loop.quit))

    QTimer.singleShot(0, edit)
    loop.exec()
    return made_s[0]


class PaintClock:
    """Notes when the margins' tiles were painted: the last of a run of them is when the strip was whole."""

    def __init__(self, tiles: list[Any]) -> None:
        self.times: list[float] = []
        for tile in tiles:
            paint = type(tile).paintEvent

            def timed(event: Any, tile: Any = tile, paint: Any = paint) -> None:
                paint(tile, event)
                self.times.append(time.perf_counter())

            tile.paintEvent = timed

    def first_after(self, start: float) -> float | None:
        """When the first run of paints after a moment was over; none when no figure changed."""
        after = [t for t in self.times if t > start]
        self.times.clear()
        ends = [t for t, later in pairwise([*after, float("inf")]) if later - t > 0.01]
        return ends[0] if ends else None


def rest(app: Any, seconds: float = 0.12) -> None:
    """Let the window and the display server come to rest, as between two presses of a key."""
    end = time.perf_counter() + seconds
    while time.perf_counter() < end:
        app.processEvents()
        time.sleep(0.005)


def idle_memory_mb(app: Any, window: Any) -> dict[str, float]:
    """Memory of the window's process and of its background worker, as proportional set size."""
    import psutil

    for name in ("Brief", "Airframe", "Parts", "Vibration"):
        window.show_stage(name)
        for _ in range(40):
            app.processEvents()
            time.sleep(0.01)
    rest(app, 3.0)  # until the window has swept up after itself
    own = psutil.Process()
    total = own.memory_full_info().pss / 1e6
    child = sum(c.memory_full_info().pss / 1e6 for c in own.children(recursive=True))
    return {"memory of the window with all views open, MB": total, "memory of the background worker, MB": child}
