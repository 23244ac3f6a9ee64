"""Build any part's solid."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from fravik.library import carbon_stock
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape, GuardShape, ImportedShape, LegShape, MountShape, Shape

from .arm import BOLTED, RootForm, arm_solid, root_form
from .guard import guard_solid
from .leg import leg_solid
from .mount import mount_solid
from .plate import arm_bolt_holes, plate_solid
from .stations import arm_length_mm, arm_shape, first_arm

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
    bolted = arm_shape(project) if arm is not None and arm.joint.kind == "bolted" else None
    edge = project.layout.clamp_radius_mm
    return ShapeInput(shape, shape.length_mm, None, RootForm(), tuple(arm_bolt_holes(bolted, edge)), edge)


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


def silhouette(mesh: Mesh, along: int) -> Floats:
    """Hull (n, 2) of the surface seen along an axis: x gives (y, z), y gives (x, z); about the middle of its box."""
    across = (1, 2) if along == 0 else (0, 2)
    points = mesh.vertices_mm[:, across]
    points = points - (points.max(axis=0) + points.min(axis=0)) / 2
    hull = CrossSection.hull_points([(float(a), float(b)) for a, b in points]).to_polygons()
    return np.asarray(hull[0], dtype=np.float64) if hull else np.zeros((0, 2))
