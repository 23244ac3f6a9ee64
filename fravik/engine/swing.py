"""A mode as one moving surface: the whole craft swinging, or a part by itself where the whole is not known."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from fravik.kinds import places_of
from fravik.kinds.around import stations
from fravik.printing.zones import Floats
from fravik.shape.build import Mesh
from fravik.structure.craft.swing import body_motion, part_motion
from fravik.structure.swing import mode_motion

from .craft import BODY
from .evaluate import Engine
from .results import Evaluation, WholeCraft

SHARE = 0.06  # of the craft's span: how far the picture lets it swing


@dataclass(frozen=True, eq=False)
class Swing:
    """A surface, and how far each of its vertices (n, 3) moves."""

    mesh: Mesh
    motion_mm: Floats


def mode_swing(engine: Engine, result: Evaluation, mode: int) -> Swing:
    """One of ``result.modes``."""
    if result.whole is not None:
        return _craft_swing(engine, result, result.whole, result.whole.free.shapes[:, mode])
    part = result.modes[mode].part_id
    first = next(i for i, m in enumerate(result.modes) if m.part_id == part)
    member, mesh = result.members[part], engine.fine_mesh(result.pieces[part].given)
    return Swing(mesh, mode_motion(member.member, member.answers["typical"], mode - first, mesh.vertices_mm))


def _craft_swing(engine: Engine, result: Evaluation, whole: WholeCraft, shape: Floats) -> Swing:
    project, craft = result.built, whole.craft
    vertices, faces, motion, count = [], [], [], 0
    for part in project.parts:
        mesh = engine.mesh(result.pieces[part.id].given)
        for place in places_of(part, project):
            at = mesh.vertices_mm @ place.pose[:3, :3].T + place.pose[:3, 3]
            vertices.append(at)
            faces.append(mesh.faces + count)
            motion.append(
                part_motion(craft, place.id, shape, mesh.vertices_mm) if place.id in craft.places
                else body_motion(craft, BODY, shape, at, project.layout.clamp_radius_mm)
            )  # fmt: skip
            count += len(at)
    every = np.concatenate(motion)
    span = 2 * max(s.radius_mm for s in stations(project))
    top = float(np.linalg.norm(every, axis=1).max())
    return Swing(Mesh(np.concatenate(vertices), np.concatenate(faces)), every * (SHARE * span / top if top > 0 else 0.0))
