"""Every body of the craft in its place: copies of parts, bought things, and the disks that the propellers sweep."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds import kind_of, places_of
from fravik.kinds.carried import on_mounts
from fravik.kinds.whole import placed_components
from fravik.model.craft import Battery, Block
from fravik.printing.zones import Floats
from fravik.shape.build import ShapeInput
from fravik.shape.clash import bounds, box, disk, rod
from fravik.shape.meshbody import unit_body

# blade from tip of the nose to its trailing edge, seen from the side, over the diameter: a working assumption
PROPELLER_TALL = 0.03


@dataclass(frozen=True, eq=False)
class Copy:
    """One copy of a part in its place."""

    part_id: str
    name: str
    follows: str | None
    given: ShapeInput
    pose: Floats

    @property
    def key(self) -> tuple[ShapeInput, bytes]:
        """What its body hangs on."""
        return self.given, self.pose.tobytes()


@dataclass(frozen=True, eq=False)
class Thing:
    """A bought thing; ``path`` leads to its fields, ``on`` is the part that carries it, ``plug`` the side that it is plugged in at, how far
    plug and wire reach out there, and how wide they are.
    """

    id: str
    name: str
    path: str
    centre_mm: Floats
    size_mm: Floats
    on: str
    form: str = "box"
    plug: tuple[str, float, float] = ("none", 0.0, 0.0)
    mesh: str = ""

    @property
    def key(self) -> tuple[bytes, bytes, str, str]:
        """What its body hangs on."""
        return self.centre_mm.tobytes(), self.size_mm.tobytes(), self.form, self.mesh

    @property
    def body(self) -> Manifold:
        """The box, the round, or the mesh stretched to its edges."""
        if self.form == "box":
            return box(self.centre_mm, self.size_mm)
        if self.form == "mesh":
            stretched = unit_body(self.mesh).scale(tuple(float(v) for v in self.size_mm))
            return stretched.translate(tuple(float(v) for v in self.centre_mm))
        upright = self.form == "upright"
        return rod(self.centre_mm, float(self.size_mm[1]), float(self.size_mm[2 if upright else 0]), 2 if upright else 0)


def copies(result: Evaluation) -> list[Copy]:
    """All copies of all parts but those that go round with a motor: where they turn is the disks'."""
    return [
        Copy(p.id, p.name, place.follows, result.parts[p.id].given, np.asarray(place.pose))
        for p in result.project.parts
        if kind_of(p.shape).seat != "shaft"
        for place in places_of(p, result.project)
    ]


def things(result: Evaluation) -> list[Thing]:
    """Bought things that take room of their own: no wires, and no body that the arms reach into."""
    project = result.project
    on = {block: part for part, block in on_mounts(project, [p for p in project.parts if kind_of(p.shape).seat == "plate"]).items()}
    no_box = {b.id for b in project.components.blocks if b.spread or b.holds_arms}
    given: dict[str, Battery | Block] = {"battery": project.components.battery, **{b.id: b for b in project.components.blocks}}
    out = []
    for x in placed_components(project):
        if x.kind in ("battery", "block") and x.id not in no_box:
            one = given[x.id]
            path = "components.battery" if isinstance(one, Battery) else f"components.blocks.{x.id}"
            plug = (one.plug_side, one.plug_room_mm, one.plug_width_mm)
            out.append(Thing(x.id, x.name, path, np.asarray(x.centre_mm), np.asarray(x.size_mm), on.get(x.id, ""), x.form, plug, x.mesh))
    return out


def disks(result: Evaluation) -> list[tuple[int, Manifold]]:
    """The room that each propeller sweeps, by the number of its station."""
    props = [x for x in placed_components(result.project) if x.kind == "prop"]
    return [(k, disk(np.asarray(x.centre_mm), float(x.size_mm[0]), PROPELLER_TALL * float(x.size_mm[0]))) for k, x in enumerate(props)]


def placed(engine: Engine, copy: Copy) -> Manifold:
    """A copy's solid where it stands."""
    return engine.memo.get("placed", copy.key, lambda: engine.solid(copy.given).transform(copy.pose[:3]))


def corners(engine: Engine, copy: Copy) -> Floats:
    """(n, 3, 3) triangles of a copy where it stands."""

    def make() -> Floats:
        mesh = engine.mesh(copy.given)
        at = mesh.vertices_mm @ copy.pose[:3, :3].T + copy.pose[:3, 3]
        return np.asarray(at[mesh.faces], dtype=np.float64)

    return engine.memo.get("placed triangles", copy.key, make)


def near(engine: Engine, copy: Copy) -> Floats:
    """(2, 3) the box around a copy."""
    return engine.memo.get("placed box", copy.key, lambda: bounds(placed(engine, copy)))


def triangles(thing: Thing) -> Floats:
    """(n, 3, 3) the faces of a bought thing."""
    mesh = thing.body.to_mesh()
    return np.asarray(mesh.vert_properties[:, :3][mesh.tri_verts], dtype=np.float64)
