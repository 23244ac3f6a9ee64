"""A camera mount: a tongue under the bottom plate's front edge, a blade, and a pad that carries the camera."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from manifold3d import Manifold

from fravik.library import carbon_stock
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon
from fravik.model.shapes import MountShape
from fravik.shape.build import ShapeInput
from fravik.shape.checks_bonded import bonded_problems
from fravik.shape.inlay import StraightBody
from fravik.shape.mount import mount_body, mount_solid
from fravik.shape.stations import Floats
from fravik.structure.beams import TipBody
from fravik.structure.cases import CraftLoads, Touchdown, mount_combinations
from fravik.structure.form import BeamForm
from fravik.structure.member import MemberAnswer
from fravik.structure.notches import Raiser

from ..around import bottom_plate, bottom_plate_mm
from ..base import PartKind, Posed, Start, Step, Weighed
from ..ladders import thicker
from ..proportion import half
from .beam import mount_form, mount_raisers
from .checks import mount_problems

CAMERA_SIDE_MM = 30.0

ON_MM = 1.0  # so far beside a plate a root still counts as on it


class Mount(PartKind[MountShape]):
    """What the product asks of camera mounts."""

    kind = "mount"
    shape_type = MountShape
    detachable = True
    shade, plan_layer = "wall", 0
    groups = (
        ("Blade", ("length_mm", "root_width_mm", "tip_width_mm", "thickness_mm", "root_fillet_mm", "tilt_deg",)),
        ("Camera pad", ("pad_length_mm", "pad_width_mm", "pad_fillet_mm", "carried_g", "carried_height_mm",)),
        ("Tongue", ("tongue_length_mm", "tongue_width_mm", "tongue_bolt_mm",)),
    )  # fmt: skip
    starts = {"mount": Start("mount", "Camera mount")}
    answers_for_all = False
    bends = takes_profiles = True
    root_page = "screws"
    along = "0 at the plate edge, {long} mm at the camera"
    weighed = Weighed("drop survived, m", "first mode with its camera, Hz", lambda a: float(a.freqs_hz[0]))

    def given(self, part: Part, shape: MountShape, project: Project) -> ShapeInput:
        return ShapeInput(shape, shape.length_mm, part.carbon)

    def solid(self, given: ShapeInput, shape: MountShape) -> Manifold:
        return mount_solid(shape, given.carbon, carbon_stock(given.carbon.stock) if given.carbon else None)

    def posed(self, part: Part, shape: MountShape, project: Project) -> list[Posed]:
        return [Posed(_pose(shape, project))] * part.count

    def problems(self, part: Part, shape: MountShape, project: Project) -> list[Problem]:
        return (
            self._beside(part, project)
            + mount_problems(shape, f"parts.{part.id}.shape.")
            + bonded_problems(self.straight(part, shape, shape.length_mm), part)
        )

    def _beside(self, part: Part, project: Project) -> list[Problem]:
        """Copies whose root stands on no plate."""
        plate, out = bottom_plate(project), list[Problem]()
        for own in part.own_places if plate is not None else ():
            if plate is not None and (abs(own.x_mm) > plate.length_mm / 2 + ON_MM or abs(own.y_mm) > plate.width_mm / 2 + ON_MM):
                at = f"parts.{part.id}.own_places.{own.id}.x_mm"
                out.append(Problem(at, "Its root stands beside the bottom plate: what holds it there is not judged.", "warning"))
        return out

    def default(self, project: Project, shape: MountShape | None = None, start: str = "") -> MountShape:
        """For the block called camera, else for a small one."""
        camera = next((b for b in project.components.blocks if "cam" in (b.id + b.name).lower()), None)
        if camera is None:
            return MountShape(carried_g=30.0)
        return MountShape(carried_g=max(camera.mass_g, 1.0), pad_width_mm=max(18.0, half(camera.width_mm)),
                          carried_height_mm=half(camera.height_mm / 2))  # fmt: skip

    def first_carbon(self, shape: MountShape, project: Project) -> Carbon:
        return Carbon(stock="rod_2", start_mm=-shape.tongue_length_mm, end_mm=float(int(shape.length_mm)))

    def straight(self, part: Part, shape: MountShape, length_mm: float) -> StraightBody:
        return mount_body(shape)

    def tip(self, part: Part, shape: MountShape, project: Project) -> TipBody:
        """The camera."""
        side = shape.carried_g * CAMERA_SIDE_MM**2 / 6 * 1e-6
        return TipBody(shape.carried_g * 1e-6, np.eye(3) * side, np.array([0.0, 0.0, -shape.carried_height_mm]))

    def form(self, part: Part, shape: MountShape, length_mm: float) -> BeamForm:
        return mount_form(part, shape)

    def raisers(self, shape: MountShape, length_mm: float, q: float) -> list[Raiser]:
        return mount_raisers(shape, q)

    def cases(self, loads: CraftLoads, shape: MountShape, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        return mount_combinations(loads, down)

    def ladders(self, part: Part, shape: MountShape, project: Project) -> Iterator[list[Step]]:
        at = f"parts.{part.id}.shape."
        yield thicker(part, "thickness_mm", shape.thickness_mm, (1.0, 2.0, 3.0, 4.5))
        yield [
            Step("width", f"{part.name} {d:g} mm wider", (
                (at + "root_width_mm", shape.root_width_mm + d), (at + "tip_width_mm", shape.tip_width_mm + d),
                (at + "pad_width_mm", max(shape.pad_width_mm, shape.tip_width_mm + d)),
                (at + "tongue_width_mm", max(shape.tongue_width_mm, shape.root_width_mm + d)),
            )) for d in (2.0, 4.0, 8.0)
        ]  # fmt: skip
        yield [
            Step("length", f"{part.name} {shape.length_mm:g} → {shape.length_mm - d:g} mm long",
                 ((at + "length_mm", shape.length_mm - d),)) for d in (2.0, 4.0, 7.0) if shape.length_mm - d > 12.0
        ]  # fmt: skip


def _pose(shape: MountShape, project: Project) -> Floats:
    """Under the front edge of the bottom plate, nose down by its tilt."""
    plate = bottom_plate(project)
    edge = plate.length_mm / 2 if plate is not None else project.layout.clamp_radius_mm
    t = math.radians(shape.tilt_deg)
    m = np.eye(4)
    m[:3, :3] = [[math.cos(t), 0.0, math.sin(t)], [0.0, 1.0, 0.0], [-math.sin(t), 0.0, math.cos(t)]]
    m[:3, 3] = edge, 0.0, -bottom_plate_mm(project) - shape.thickness_mm
    return m
