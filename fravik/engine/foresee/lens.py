"""What the cameras see of their own craft."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.lens import axes, covered
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.kinds.whole import placed_components
from fravik.model.craft import Block
from fravik.printing.zones import Floats
from fravik.study.findings import Cure, Finding

from .bodies import copies, corners, things, triangles

SEEN, MUCH = 0.005, 0.05  # share of the picture
TURNS_DEG = (5.0, 10.0, 15.0, 20.0, 30.0, 40.0)
AHEAD_MM = (10.0, 20.0, 40.0, 60.0)
DISK_POINTS = 40


def cameras(result: Evaluation) -> list[Block]:
    """Blocks that have a lens."""
    return [b for b in result.project.components.blocks if b.view_deg > 0]


def lens_at(camera: Block) -> Floats:
    """(3,) the middle of its front."""
    middle = np.array([camera.x_mm, camera.y_mm, camera.z_mm])
    return np.asarray(middle + axes(camera.lens_up_deg)[0] * camera.length_mm / 2)


def sight(engine: Engine, result: Evaluation, camera: Block) -> tuple[float, NDArray[np.bool_]]:
    """Share of its picture that craft and propellers cover, and the picture (rows, columns)."""
    around = tuple(s.at_mm.tobytes() for s in stations(result.project))
    bodies = (tuple(c.key for c in copies(result)), tuple(t.key for t in things(result)))
    key = (camera, bodies, tuple(d.propeller.diameter_mm for d in drives(result.project)), around)
    return engine.memo.get("sight", key, lambda: _sight(engine, result, camera))


def _sight(engine: Engine, result: Evaluation, camera: Block) -> tuple[float, NDArray[np.bool_]]:
    surfaces = [corners(engine, c) for c in copies(result)]
    surfaces += [triangles(t) for t in things(result) if t.id != camera.id]
    surfaces += _swept(result)
    return covered(surfaces, lens_at(camera), camera.lens_up_deg, camera.view_deg)


def _swept(result: Evaluation) -> list[Floats]:
    turn = np.linspace(0.0, 2 * np.pi, DISK_POINTS + 1)
    out = []
    for prop in (x for x in placed_components(result.project) if x.kind == "prop"):
        rim = prop.centre_mm + prop.size_mm[0] / 2 * np.stack([np.cos(turn), np.sin(turn), np.zeros_like(turn)], axis=1)
        out.append(np.stack([np.broadcast_to(prop.centre_mm, rim[1:].shape), rim[:-1], rim[1:]], axis=1))
    return out


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One finding for each camera that sees its craft."""
    for camera in cameras(result):
        share, _ = sight(engine, result, camera)
        if share < SEEN:
            continue
        path = f"components.blocks.{camera.id}"
        yield Finding(
            f"lens.covered:{camera.id}", "likely" if share > MUCH else "worth knowing", "Airframe", f"{path}.lens_up_deg", camera.name,
            f"Its picture shows {share:.0%} craft and propellers." if share >= 0.01 else "The edge of its picture shows the craft.",
            f"It sees {camera.view_deg:.0f}° across, {_raised(camera.lens_up_deg)}.", "", _cures(engine, result, camera),
        )  # fmt: skip


def free_deg(engine: Engine, result: Evaluation, camera: Block) -> float | None:
    """The lens's angle nearest to its own at which the picture is free of the craft; None where there is none within reach."""
    for turn in (0.0, *(s * t for t in TURNS_DEG for s in (1.0, -1.0))):
        up = camera.lens_up_deg + turn
        if abs(up) <= 90 and sight(engine, result, camera.model_copy(update={"lens_up_deg": up}))[0] < SEEN:
            return up
    return None


def _cures(engine: Engine, result: Evaluation, camera: Block) -> tuple[Cure, ...]:
    """The least turn of the lens and the least way ahead that free the picture."""
    path, out = f"components.blocks.{camera.id}", []
    up = free_deg(engine, result, camera)
    if up is not None:
        out.append(Cure(f"{camera.name} {_raised(up)}", ((f"{path}.lens_up_deg", up),)))
    for ahead in AHEAD_MM:
        x = round(camera.x_mm + ahead, 1)
        if x <= 400 and sight(engine, result, camera.model_copy(update={"x_mm": x}))[0] < SEEN:
            out.append(Cure(f"{camera.name} {ahead:.0f} mm ahead", ((f"{path}.x_mm", x),)))
            break
    return tuple(out)


def _raised(up_deg: float) -> str:
    return "looking straight ahead" if up_deg == 0 else f"its lens {abs(up_deg):.0f}° {'up' if up_deg > 0 else 'down'}"
