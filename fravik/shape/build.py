"""Build any part's solid, and say where its copies stand on the craft."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from fravik.library import carbon_stock
from fravik.model.craft import Layout
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape, GuardShape, ImportedShape, LegShape, MountShape, PlateShape, Shape

from .arm import BOLTED, RootForm, arm_solid, root_form
from .guard import guard_solid
from .leg import leg_solid
from .mount import mount_solid
from .plate import arm_bolt_holes, plate_solid

GUARD_CLEARANCE_MM = 6.0

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ShapeInput:
    """All that a part's geometry depends on; equal inputs give equal solids."""

    shape: Shape
    length_mm: float
    carbon: Carbon | None
    root: RootForm = BOLTED
    holes: tuple[tuple[float, float, float], ...] = ()
    edge_mm: float = 0.0


@dataclass(frozen=True)
class Mesh:
    """Triangles of a closed surface: vertices (n, 3) mm, faces (m, 3) outward."""

    vertices_mm: Floats
    faces: NDArray[np.int64]


def arm_length_mm(arm: ArmShape, layout: Layout) -> float:
    """Root edge to motor axis: the arm's own length, or what the layout asks for."""
    if arm.length_mm is not None:
        return arm.length_mm
    return max(25.0, layout.motor_to_motor_mm / 2 - layout.clamp_radius_mm)


def first_arm(project: Project) -> Part | None:
    """The arm whose tongue the plates are drilled for."""
    return next((p for p in project.parts if isinstance(p.shape, ArmShape)), None)


def guard_radius_mm(guard: GuardShape, propeller_mm: float) -> float:
    """Motor axis to the middle of the arc: the guard's own radius, or what clears the propeller."""
    if guard.radius_mm is not None:
        return guard.radius_mm
    return propeller_mm / 2 + GUARD_CLEARANCE_MM + guard.width_mm / 2


def shape_input(part: Part, project: Project) -> ShapeInput:
    """Gather what the part's solid depends on. ``length_mm`` of a guard is the radius of its arc."""
    shape = part.shape
    if isinstance(shape, ArmShape):
        return ShapeInput(shape, arm_length_mm(shape, project.layout), part.carbon, root_form(part.joint))
    if isinstance(shape, LegShape | MountShape):
        return ShapeInput(shape, shape.length_mm, part.carbon)
    if isinstance(shape, GuardShape):
        return ShapeInput(shape, guard_radius_mm(shape, project.components.propeller.diameter_mm), None)
    if isinstance(shape, ImportedShape):
        at_origin = shape.model_copy(update={"x_mm": 0.0, "y_mm": 0.0, "z_mm": 0.0})
        return ShapeInput(at_origin, 0.0, None)
    arm = first_arm(project)
    bolted = arm is not None and arm.joint.kind == "bolted"
    arm_shape = arm.shape if arm is not None and bolted and isinstance(arm.shape, ArmShape) else None
    edge = project.layout.clamp_radius_mm
    return ShapeInput(shape, shape.length_mm, None, RootForm(), tuple(arm_bolt_holes(arm_shape, edge)), edge)


def build_solid(given: ShapeInput) -> Manifold:
    """The closed solid of a part, in its own axes."""
    shape = given.shape
    stock = carbon_stock(given.carbon.stock) if given.carbon else None
    if isinstance(shape, ArmShape):
        return arm_solid(shape, given.length_mm, given.carbon, stock, given.root)
    if isinstance(shape, LegShape):
        return leg_solid(shape, given.carbon, stock)
    if isinstance(shape, MountShape):
        return mount_solid(shape, given.carbon, stock)
    if isinstance(shape, GuardShape):
        return guard_solid(shape, given.length_mm)
    if isinstance(shape, ImportedShape):
        from .meshread import solid_of, unpacked  # mesh readers load only for crafts that hold such a part

        return solid_of(unpacked(shape.mesh), shape.source or "The mesh").scale((shape.scale,) * 3)
    return plate_solid(shape, given.holes, given.edge_mm)


def mesh_of(solid: Manifold) -> Mesh:
    """The surface of a solid as plain arrays."""
    m = solid.to_mesh()
    return Mesh(
        np.asarray(m.vert_properties, dtype=np.float64)[:, :3].copy(),
        np.asarray(m.tri_verts, dtype=np.int64).copy(),
    )


def loose_pieces(solid: Manifold) -> int:
    """Number of separate bodies; a closed cavity is a shell of negative volume and does not count."""
    return sum(piece.volume() > 1e-6 for piece in solid.decompose())


def fine_mesh_of(solid: Manifold, edge_mm: float) -> Mesh:
    """The surface with no edge longer than asked, so that colours and bending can vary over it."""
    return mesh_of(solid.refine_to_length(edge_mm))


def motor_radius_mm(project: Project) -> float:
    """Craft centre to motor axis."""
    arm = first_arm(project)
    if arm is None or not isinstance(arm.shape, ArmShape):
        return project.layout.motor_to_motor_mm / 2
    return project.layout.clamp_radius_mm + arm_length_mm(arm.shape, project.layout)


def plate_gap_mm(project: Project) -> float:
    """Height between the plates: the arm's root height."""
    arm = first_arm(project)
    return arm.shape.root_height_mm if arm is not None and isinstance(arm.shape, ArmShape) else 8.0


def bottom_plate_mm(project: Project) -> float:
    """Thickness of the bottom plate, 0 if there is none."""
    for p in project.parts:
        if isinstance(p.shape, PlateShape) and p.shape.place == "bottom":
            return p.shape.thickness_mm
    return 0.0


def placements(part: Part, project: Project) -> list[Floats]:
    """4x4 part-to-craft transforms, one per copy. Craft axes: x forward, y left, z up from the bottom plate's top."""
    shape = part.shape
    out: list[Floats] = []
    if isinstance(shape, PlateShape):
        m = np.eye(4)
        m[2, 3] = -shape.thickness_mm if shape.place == "bottom" else plate_gap_mm(project)
        return [m]
    if isinstance(shape, MountShape):
        return [_mount_place(shape, project)] * part.count
    if isinstance(shape, ImportedShape):
        m = np.eye(4)
        m[:3, 3] = shape.x_mm, shape.y_mm, shape.z_mm
        return [m] * part.count
    first = 0
    for other in project.parts:
        if other.id == part.id:
            break
        if other.shape.kind == shape.kind:
            first += other.count
    for k in range(part.count):
        # guards go to the front pair first
        turn = (0, 3, 1, 2)[(first + k) % 4] if isinstance(shape, GuardShape) else first + k
        ang = math.pi / 4 + turn * math.pi / 2
        c, s = math.cos(ang), math.sin(ang)
        m = np.eye(4)
        if isinstance(shape, ArmShape | GuardShape):
            m[:3, :3] = [[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]
            guard = isinstance(shape, GuardShape)
            r = motor_radius_mm(project) if guard else project.layout.clamp_radius_mm
            m[:3, 3] = r * c, r * s, motor_face_mm(project) if guard else 0.0
        else:
            tilt = math.radians(shape.splay_deg)
            ct, st = math.cos(tilt), math.sin(tilt)
            along = np.array([c * st, s * st, -ct])
            thick = np.array([c * ct, s * ct, st])
            side = np.cross(thick, along)
            m[:3, 0], m[:3, 1], m[:3, 2] = along, side, thick
            r = project.layout.leg_radius_mm
            root = np.array([r * c, r * s, -bottom_plate_mm(project)])
            m[:3, 3] = root + along * shape.flange_length_mm - thick * shape.thickness_mm / 2
        out.append(m)
    return out


def motor_face_mm(project: Project) -> float:
    """Height of the arm's motor face above the bottom plate's top."""
    arm = first_arm(project)
    return arm.shape.tip_height_mm if arm is not None and isinstance(arm.shape, ArmShape) else plate_gap_mm(project)


def _mount_place(shape: MountShape, project: Project) -> Floats:
    """Under the front edge of the bottom plate, nose down by its tilt."""
    plate = next((p.shape for p in project.parts if isinstance(p.shape, PlateShape) and p.shape.place == "bottom"), None)
    edge = plate.length_mm / 2 if plate is not None else project.layout.clamp_radius_mm
    t = math.radians(shape.tilt_deg)
    m = np.eye(4)
    m[:3, :3] = [[math.cos(t), 0.0, math.sin(t)], [0.0, 1.0, 0.0], [-math.sin(t), 0.0, math.cos(t)]]
    m[:3, 3] = edge, 0.0, -bottom_plate_mm(project) - shape.thickness_mm
    return m


def silhouette(mesh: Mesh, along: int) -> Floats:
    """Hull (n, 2) of the surface seen along an axis: x gives (y, z), y gives (x, z); about the middle of its box."""
    across = (1, 2) if along == 0 else (0, 2)
    points = mesh.vertices_mm[:, across]
    points = points - (points.max(axis=0) + points.min(axis=0)) / 2
    hull = CrossSection.hull_points([(float(a), float(b)) for a, b in points]).to_polygons()
    return np.asarray(hull[0], dtype=np.float64) if hull else np.zeros((0, 2))
