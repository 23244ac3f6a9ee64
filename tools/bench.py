"""The speed table: how long an edit takes to reach the margins, the 3D picture, start-up time and memory.

All window figures come from the real window on the Tern demo. Start-up is timed on a fresh process, a second run (warm disk).
Bounds in ms are read beside the reference workload; edits in the window at the pace at which their bounds were set (``windowbench``).
"""

from __future__ import annotations

import argparse
import json
import subprocess
import sys
import time
from typing import Any

import numpy as np

from tools.buzzbench import blades, buzz
from tools.pace import reference
from tools.windowbench import edits_in_window, edits_of_redshank
from tools.wingbench import wings

START = """
import time
from fravik.app import theme
from fravik.app.window import MainWindow
from fravik.demo import tern
app = theme.make_app([])
w = MainWindow(tern()); w.show(); w._look.stop()
for _ in range(5): app.processEvents()
w.session.edit("parts.arm.shape.root_height_mm", 12.5)
w.repaint()
print("usable", flush=True)
scene = w.view("Parts").scene
while scene.plotter is None or scene._dirty: app.processEvents(); time.sleep(0.002)
print("drawn", flush=True)
import os; os._exit(0)
"""


def start_up() -> dict[str, float]:
    """Seconds from launch to a window that has taken an edit, and to its first 3D picture; medians after a warm-up."""
    usable, drawn = [], []
    for _ in range(6):
        start = time.perf_counter()
        with subprocess.Popen([sys.executable, "-c", START], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True) as child:
            assert child.stdout is not None
            for word, found in (("usable", usable), ("drawn", drawn)):
                assert child.stdout.readline().strip() == word
                found.append(time.perf_counter() - start)
    return {"launch to usable window, s": float(np.median(usable[1:])), "launch to first 3D picture, s": float(np.median(drawn[1:]))}


def sections() -> dict[str, float]:
    """Section constants and stress points of the arm: solved anew, and found again by content."""
    from fravik.demo import tern
    from fravik.engine.evaluate import Engine
    from fravik.structure.member import member_basis

    project, engine = tern(), Engine()
    arm, part = engine.evaluate(project).members["arm"].member, project.part("arm")
    filament = engine.evaluate(project).parts["arm"].filament
    anew, again = [], []
    for _ in range(20):
        start = time.perf_counter()
        member_basis(arm, filament, part.recipe)
        anew.append(time.perf_counter() - start)
        key = (arm.tables.fingerprint, part.recipe, filament)
        engine.memo.get("bench", key, lambda: 0)
        start = time.perf_counter()
        engine.memo.get("bench", key, lambda: 0)
        again.append(time.perf_counter() - start)
    return {
        "sections of the arm solved anew, median ms": float(np.median(anew)) * 1e3,
        "sections of the arm found again, median ms": float(np.median(again)) * 1e3,
    }


HEAVY: tuple[tuple[str, Any], ...] = (
    ("parts.arm.recipe.lies", "on_end"), ("parts.arm.recipe.lies", "flat"), ("parts.arm.joint.kind", "one_piece"),
    ("parts.arm.joint.kind", "bolted"), ("parts.arm.joint.plates", "one"), ("parts.arm.joint.plates", "both"),
    ("parts.bottom.shape.thickness_mm", 3.6), ("parts.bottom.shape.thickness_mm", 3.2), ("parts.guard.shape.width_mm", 5.0),
    ("parts.guard.shape.width_mm", 4.5), ("parts.arm.recipe.pattern", "cubic"), ("parts.arm.recipe.pattern", "gyroid"),
    ("brief.pull_up_g", 5.0), ("brief.pull_up_g", 4.0),
)  # fmt: skip


def other_edits() -> dict[str, float]:
    """Joints, plates, guards, orientation and loads, without the window and with nothing found again."""
    from fravik.demo import tern
    from fravik.engine.evaluate import Engine
    from fravik.model.paths import set_at

    project, engine, times = tern(), Engine(), []
    for i, (path, value) in enumerate(HEAVY):
        # the arm is a little taller each time, so that no answer is remembered
        project = set_at(project, "parts.arm.shape.root_height_mm", 12.0 + 0.01 * (i + 1))
        engine.evaluate(project)
        project = set_at(project, path, value)
        start = time.perf_counter()
        engine.evaluate(project)
        times.append(time.perf_counter() - start)
    return {"edit of joint, plate, guard, way up or load, no window, median ms": float(np.median(times)) * 1e3}


def stages() -> dict[str, float]:
    """The live tier without the window: a cold project, a warm edit, and the ways out."""
    from fravik.demo import tern
    from fravik.engine.evaluate import Engine
    from fravik.model.paths import set_at
    from fravik.study.levers import find_levers

    project = tern()
    engine = Engine()
    start = time.perf_counter()
    base = engine.evaluate(project)
    cold = time.perf_counter() - start
    times = []
    for i in range(20):
        edited = set_at(project, "parts.arm.shape.root_height_mm", 10.0 + 0.1 * i)
        start = time.perf_counter()
        engine.evaluate(edited)
        times.append(time.perf_counter() - start)
    start = time.perf_counter()
    levers = find_levers(project, base.scores, engine.scores)
    ways = time.perf_counter() - start
    return {
        "evaluate Tern, nothing remembered, ms": cold * 1e3,
        "evaluate one arm edit, no window, median ms": float(np.median(times)) * 1e3,
        "all ways out for Tern, s": ways,
        "ways out found": float(len(levers)),
    }


def crafts() -> dict[str, float]:
    """New crafts from wishes, and a craft of many unlike parts evaluated again with nothing changed."""
    from fravik.demo import dunlin, redshank, tern
    from fravik.engine.evaluate import Engine
    from fravik.engine.firstdesign import made_to_hold
    from fravik.kinds.newcraft import Wish, sized
    from fravik.kinds.newpart import part_for
    from fravik.model.paths import set_at

    times = []
    for kind in ("quad_x", "hexa_x", "octa_x"):
        start = time.perf_counter()
        engine = Engine()
        engine.evaluate(made_to_hold(sized(Wish(kind, bed_mm=250.0)), engine))
        times.append(time.perf_counter() - start)
    project, engine = tern(), Engine()
    while len(project.parts) < 24:
        guard = part_for("guard", project)
        shape = guard.shape.model_copy(update={"span_deg": 60.0 + 4 * len(project.parts)})
        project = set_at(project, "parts", (*project.parts, guard.model_copy(update={"shape": shape, "count": 1})))
    engine.evaluate(project)
    start = time.perf_counter()
    engine.evaluate(project)
    return {
        "new craft from wishes, made and judged, slowest of three, s": max(times),
        "24 unlike parts evaluated again with nothing changed, ms": (time.perf_counter() - start) * 1e3,
        "a hexa put together from known elements and solved, median ms": whole_ms(),
        "evaluate an edit of the tail arm of Dunlin, median ms": median_edit_ms(dunlin(), "parts.tail.shape.root_width_mm", 22.0, 0.1),
        "evaluate an edit of a tube of Redshank, median ms": median_edit_ms(redshank(), "parts.tube.shape.wall_mm", 1.0, 0.02),
        "evaluate an edit of a plate of Redshank, median ms": median_edit_ms(redshank(), "parts.bottom.shape.thickness_mm", 3.0, 0.05),
    }


def foreseen() -> dict[str, float]:
    """Fit and clearances on a hexa when one thing moves, and all findings when nothing is new."""
    from fravik.demo import redshank
    from fravik.engine.evaluate import Engine
    from fravik.engine.foresee.access import access
    from fravik.engine.foresee.bay import gaps
    from fravik.engine.foresee.disks import nearest
    from fravik.engine.foresee.every import foresee
    from fravik.engine.foresee.shadow import shadows
    from fravik.model.paths import set_many

    engine, project = Engine(), redshank()
    foresee(engine, engine.evaluate(project))
    fit, again = [], []
    for k in range(8):
        moved = engine.evaluate(set_many(project, (("components.blocks.winch.x_mm", 1.0 + k),)))
        start = time.perf_counter()
        for room in (nearest, gaps, shadows, access):
            room(engine, moved)
        fit.append((time.perf_counter() - start) * 1e3)
        foresee(engine, moved)
        start = time.perf_counter()
        foresee(engine, moved)
        again.append((time.perf_counter() - start) * 1e3)
    return {
        "fit and clearances of Redshank when one thing moves, median ms": float(np.median(fit)),
        "all findings of Redshank when nothing is new, median ms": float(np.median(again)),
    }


class ElementsAlone:
    """A memory that keeps the condensed parts and forgets everything else."""

    def __init__(self) -> None:
        self._elements: dict[Any, Any] = {}

    def get(self, stage: str, key: Any, make: Any) -> Any:
        """What ``make`` gives, or the element known by this key."""
        if stage != "element":
            return make()
        if key not in self._elements:
            self._elements[key] = make()
        return self._elements[key]


def whole_ms() -> float:
    """Everything of the whole craft but its parts' own elements: assembly, modes, and how it gives in flight."""
    from fravik.engine import evaluate as live
    from fravik.kinds.newcraft import Wish, sized

    seen: list[Any] = []
    known = live.whole_craft

    def keep(memo: Any, *rest: Any) -> Any:
        seen.append(rest)
        return known(memo, *rest)

    live.whole_craft = keep
    try:
        live.Engine().evaluate(sized(Wish("hexa_x", motor_to_motor_mm=450.0)))
    finally:
        live.whole_craft = known
    memo, times = ElementsAlone(), []
    for _ in range(12):
        start = time.perf_counter()
        known(memo, *seen[0])  # type: ignore[arg-type]
        times.append((time.perf_counter() - start) * 1e3)
    return float(np.median(times[2:]))


def median_edit_ms(project: Any, path: str, start_at: float, step: float) -> float:
    """Evaluations after small edits of one field, without a window."""
    from fravik.engine.evaluate import Engine
    from fravik.model.paths import set_many

    engine = Engine()
    engine.evaluate(project)
    times = []
    for i in range(1, 15):
        edited = set_many(project, ((path, start_at + step * i),))
        start = time.perf_counter()
        engine.evaluate(edited)
        times.append((time.perf_counter() - start) * 1e3)
    return float(np.median(times[3:]))


def print_run() -> dict[str, float]:
    """Slicing, roads and the settled tier, in a process of their own so that its memory is their own."""
    run = subprocess.run([sys.executable, "-m", "tools.bench_print"], capture_output=True, text=True, check=True)
    found: dict[str, float] = json.loads(run.stdout.splitlines()[-1])
    return found


def stalls() -> dict[str, float]:
    """How long the event loop stood still over 300 mixed actions on Tern: presses, typing, edits, drags, exports, light and dark."""
    line = [sys.executable, "-m", "tools.monkey", "--actions", "300", "--seconds", "180", "--seed", "1", "--json"]
    run = subprocess.run(line, capture_output=True, text=True, check=True)
    found = json.loads(run.stdout.splitlines()[-1])
    gaps, goes = found["stalls"] or [0.0], found["goes"]
    return {
        "longest stall over 300 mixed actions, ms": max(gaps),
        "longest go of the window's thread at the bounds' pace, ms": max(goes),
        "goes of the window's thread over 50 ms at the bounds' pace": float(sum(g > 50 for g in goes)),
        "stalls over 100 ms in 300 mixed actions": float(sum(g > 100 for g in gaps)),
        "stalls over 500 ms in 300 mixed actions": float(sum(g > 500 for g in gaps)),
        "memory after 300 mixed actions, times that before": found["grown"],
    }


def window() -> dict[str, float]:
    """Edits in the real window and its memory, each craft in a process of its own: as a maker has it, with nothing of the other rows."""
    found: dict[str, float] = {}
    for craft in WINDOWS:
        run = subprocess.run([sys.executable, "-m", "tools.bench", "--window", craft], capture_output=True, text=True, check=True)
        found |= json.loads(run.stdout.splitlines()[-1])
    return found


WINDOWS = {"tern": edits_in_window, "redshank": edits_of_redshank}


AT_LEAST = {"plane sections, times as fast as trimesh": 10.0}
LIMITS = {
    "the loop on all axes, all states of flight, median ms": 300.0,
    "what every spot feels, median ms": 2000.0,
    "settled tier, all of Tern new, s": 3.0, "memory of slicing and roads at its peak, MB": 1000.0, "a part of 1000 unlike layers, s": 20.0,
    "edit to painted margins at the bounds' pace, median ms": 60.0,
    "edit to painted margins at the bounds' pace, 95th percentile ms": 100.0,
    "edit of Redshank to painted margins at the bounds' pace, 95th percentile ms": 160.0,
    "edit to 3D picture, 95th percentile ms": 250.0, "launch to usable window, s": 3.0,
    "memory of the window with all views open, MB": 600.0, "longest go of the window's thread at the bounds' pace, ms": 50.0,
    "new craft from wishes, made and judged, slowest of three, s": 2.0,
    "24 unlike parts evaluated again with nothing changed, ms": 20.0,
    "a hexa put together from known elements and solved, median ms": 40.0,
    "memory after 300 mixed actions, times that before": 1.3,
    "fit and clearances of Redshank when one thing moves, median ms": 60.0,
    "all findings of Redshank when nothing is new, median ms": 20.0,
}  # fmt: skip


def main() -> int:
    """Print the table."""
    parser = argparse.ArgumentParser(prog="bench")
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--window", choices=list(WINDOWS), help="the rows of the window on that craft alone, as one line")
    args = parser.parse_args()
    if args.window:
        print(json.dumps(WINDOWS[args.window]()), flush=True)
        return 0
    parts = (reference, sections, other_edits, crafts, foreseen, buzz, blades, wings, stages, print_run, start_up, stalls, window)
    found = {name: value for part in parts for name, value in part().items()}
    if args.json:
        print(json.dumps(found, indent=1))
        return 0
    for name, value in found.items():
        limit = LIMITS.get(name)
        least = f"   at least {AT_LEAST[name]:g}" if name in AT_LEAST else ""
        print(f"{name:<76} {value:>9.1f}" + (f"   at most {limit:g}" if limit is not None else least))
    return 0


if __name__ == "__main__":
    sys.exit(main())
