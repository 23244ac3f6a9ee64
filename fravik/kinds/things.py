"""Bought things as they are picked and moved in plan."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.model.craft import Block
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.shape.clash import bounds
from fravik.shape.meshbody import unit_body

from .base import Edits
from .registry import kind_of
from .whole import placed_components

EDGES_MM = (1.0, 400.0)  # of a component
SAME_MM = 0.5  # what stands so near to another's mirror image is its twin


@dataclass(frozen=True)
class Thing:
    """A box in plan: its middle and edges. The battery stays on the middle line (``across`` is False)."""

    id: str
    name: str
    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float
    across: bool

    def covers(self, x_mm: float, y_mm: float) -> bool:
        """Whether a point of the plan lies on it."""
        return abs(x_mm - self.x_mm) <= self.length_mm / 2 and abs(y_mm - self.y_mm) <= self.width_mm / 2


def things_in_plan(project: Project) -> tuple[Thing, ...]:
    """What takes room of its own, the smallest first: that lies on top for who picks it."""
    spread = {b.id for b in project.components.blocks if b.spread}
    found = [
        Thing(x.id, x.name, float(x.centre_mm[0]), float(x.centre_mm[1]), float(x.size_mm[0]), float(x.size_mm[1]), x.kind == "block")
        for x in placed_components(project) if x.kind in ("battery", "block") and x.id not in spread
    ]  # fmt: skip
    return tuple(sorted(found, key=lambda t: t.length_mm * t.width_mm))


def thing_moved(project: Project, thing_id: str, x_mm: float, y_mm: float, alike: bool) -> Edits:
    """It stands there; so does its twin on the other side, mirrored, where ``alike``."""
    if thing_id == "battery":
        return (("components.battery.x_mm", x_mm),)
    blocks = project.components.blocks
    mine = next(b for b in blocks if b.id == thing_id)
    out = [(f"components.blocks.{thing_id}.x_mm", x_mm), (f"components.blocks.{thing_id}.y_mm", y_mm)]
    twin = next((b for b in blocks if _twins(mine, b)), None) if alike else None
    if twin is not None:
        out += [(f"components.blocks.{twin.id}.x_mm", x_mm), (f"components.blocks.{twin.id}.y_mm", -y_mm)]
    return tuple(out)


def _twins(a: Block, b: Block) -> bool:
    alike = (a.length_mm, a.width_mm, a.height_mm, a.z_mm) == (b.length_mm, b.width_mm, b.height_mm, b.z_mm)
    return a.id != b.id and alike and abs(a.y_mm) > SAME_MM and abs(a.x_mm - b.x_mm) <= SAME_MM and abs(a.y_mm + b.y_mm) <= SAME_MM


def mesh_problems(project: Project) -> list[Problem]:
    """Things whose mesh cannot be read any more."""
    out = []
    for b in project.components.blocks:
        if b.form == "mesh":
            try:
                unit_body(b.mesh)
            except ValueError as err:
                out.append(Problem(f"components.blocks.{b.id}.form", f"{err} It is taken as its box.", "warning"))
    return out


def mesh_edits(block_id: str, read: Part) -> Edits:
    """A thing takes the form and the edges of a mesh that was read as a part."""
    solid = kind_of(read.shape).solid(kind_of(read.shape).given(read, read.shape, Project()), read.shape)
    low, high = bounds(solid)
    at = f"components.blocks.{block_id}."
    edges = zip(("length_mm", "width_mm", "height_mm"), np.clip(high - low, *EDGES_MM), strict=True)
    mesh: str = getattr(read.shape, "mesh", "")
    return ((at + "mesh", mesh), (at + "form", "mesh"), *((at + name, round(float(v), 2)) for name, v in edges))
