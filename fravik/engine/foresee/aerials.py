"""Aerials and receivers of position beside what shades or disturbs them."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from manifold3d import Manifold

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.flight.lens import COLUMNS, ROWS, covered
from fravik.kinds.whole import placed_components
from fravik.library import facing_stock, filament_of
from fravik.model.craft import Block
from fravik.printing.zones import Floats
from fravik.shape.clash import box, disk
from fravik.study.findings import Cure, Finding

from .bodies import Copy, copies, corners, placed, things, triangles

QUARTER_MM = 31.0  # a quarter of the wave at 2.4 GHz: what conducts within it is part of the aerial
TOUCHES_MM = 8.0
SKY_DEG = 120.0  # satellites lower than 30 degrees are of little use
SHADED, DARK = 0.05, 0.25
HIGHER_MM = (20.0, 40.0, 80.0)


def conducts(result: Evaluation, copy: Copy) -> bool:
    """Whether a part is of what conducts, or has carbon glued to it."""
    part = next(p for p in result.project.parts if p.id == copy.part_id)
    faced = part.facing is not None and facing_stock(part.facing.stock).form == "carbon plate"
    made = result.parts[part.id].part  # a bar's own material stands in its recipe
    return faced or part.carbon is not None or filament_of(result.project, made.recipe.filament).conducts


def metal(engine: Engine, result: Evaluation) -> list[tuple[str, Manifold]]:
    """All bodies that conduct, with their names: parts of carbon or metal, motors, and the battery."""
    out = [(f"the {c.name.lower()}", placed(engine, c)) for c in copies(result) if conducts(result, c)]
    for x in placed_components(result.project):
        if x.kind == "motor":
            out.append(("a motor", disk(np.asarray(x.centre_mm), float(x.size_mm[0]), float(x.size_mm[2]))))
    battery = next(t for t in things(result) if t.id == "battery")
    return [*out, ("the battery", battery.body)]


def nearest_metal(engine: Engine, result: Evaluation, block: Block) -> tuple[str, float]:
    """What conducts nearest to a component, and how far off; up to a quarter of the wave."""
    size, at = np.array([block.length_mm, block.width_mm, block.height_mm]), np.array([block.x_mm, block.y_mm, block.z_mm])
    body = box(at, size)
    key = (size.tobytes(), at.tobytes(), result.project.parts, result.project.components, result.project.layout)

    def make() -> tuple[str, float]:
        gaps = [(name, float(min(body.min_gap(other, QUARTER_MM), QUARTER_MM))) for name, other in metal(engine, result)]
        return min(gaps, key=lambda g: g[1])

    return engine.memo.get("nearest metal", key, make)


def sky_covered(engine: Engine, result: Evaluation, block: Block) -> float:
    """Share of the sky over 30 degrees that what conducts covers, as seen from a component's top."""
    at = np.array([block.x_mm, block.y_mm, block.z_mm + block.height_mm / 2 + 0.5])
    key = (at.tobytes(), result.project.parts, result.project.components.battery, result.project.layout, "sky")

    def make() -> float:
        surfaces: list[Floats] = [corners(engine, c) for c in copies(result) if conducts(result, c)]
        surfaces += [triangles(t) for t in things(result) if t.id == "battery"]
        # the raster is even in the picture's plane, not over the sky
        spots = np.meshgrid(*((np.arange(n) + 0.5) / n * 2 - 1 for n in (COLUMNS, ROWS)))
        out = np.hypot(spots[0], spots[1] * ROWS / COLUMNS)
        sky = np.where(out <= 1.0, (1 + (out * math.tan(math.radians(SKY_DEG / 2))) ** 2) ** -1.5, 0.0)
        return float((sky * covered(surfaces, at, 90.0, SKY_DEG)[1]).sum() / sky.sum())

    return engine.memo.get("sky", key, make)


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One finding for each aerial that something conducts beside, and for each receiver whose sky is covered."""
    for block in result.project.components.blocks:
        path = f"components.blocks.{block.id}"
        if block.is_aerial:
            name, gap = nearest_metal(engine, result, block)
            if gap < QUARTER_MM:
                yield Finding(
                    f"aerial.near:{block.id}", "likely" if gap < TOUCHES_MM else "worth knowing", "Airframe", f"{path}.z_mm", block.name,
                    f"What conducts stands within a quarter of the wave: its reach is short on the side of {name}.",
                    f"{gap:.0f} mm to {name}; a quarter of the wave at 2.4 GHz is {QUARTER_MM:.0f} mm.",
                    "A tip that stands free of the frame, away from carbon, motors and pack.",
                    tuple(_cures(result, block, lambda b: nearest_metal(engine, result, b)[1] >= QUARTER_MM)), "fit",
                )  # fmt: skip
        if block.finds_place:
            share = sky_covered(engine, result, block)
            if share > SHADED:
                yield Finding(
                    f"aerial.sky:{block.id}", "likely" if share > DARK else "worth knowing", "Airframe", f"{path}.z_mm", block.name,
                    f"What conducts covers {share:.0%} of the sky that it needs: it finds its place late, or loses it.",
                    "Of the sky more than 30° above the horizon, seen from its top.", "On top of all else, or on a mast.",
                    tuple(_cures(result, block, lambda b: sky_covered(engine, result, b) <= SHADED)), "fit",
                )  # fmt: skip


def _cures(result: Evaluation, block: Block, free: object) -> Iterable[Cure]:
    assert callable(free)
    for up in HIGHER_MM:
        z = round(block.z_mm + up, 1)
        if z <= 300 and free(block.model_copy(update={"z_mm": z})):
            yield Cure(f"{block.name} {up:.0f} mm higher", ((f"components.blocks.{block.id}.z_mm", z),))
            return
