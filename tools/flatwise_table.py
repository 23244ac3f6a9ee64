"""Remake the shipped table of shoulder fillets bent flatwise from solid elements: ``python -m tools.flatwise_table``.

A stepped bar of width d that widens to D through a fillet r, of thickness t, bends out of its plane. A thin bar bends as a plate
there; in a thick one the layers near its face are pulled as a stepped bar in tension is, so the factor falls with r/t. One
quarter is modelled (see ``solids.extruded``); the factor is the largest principal stress on the fillet's wall over 6 M / (d t^2).
"""

from __future__ import annotations

import sys
from multiprocessing import Pool
from pathlib import Path

import numpy as np

from fravik.structure.planestress import Mesh2D

from .solids.extruded import Extruded, graded_levels, isotropic_stiffness, nodal_stress, solve

RADIUS_OVER_NARROW = np.array([0.02, 0.05, 0.1, 0.2, 0.45, 0.9])
RADIUS_OVER_THICK = np.array([0.04, 0.083, 0.17, 0.35, 1.0, 2.5])
WIDE_OVER_NARROW = np.array([1.1, 1.45, 2.2])
POISSON = 0.36


def plane_mesh(radius: float, narrow: float, wide: float, neck: float, far: float, near: float) -> Mesh2D:
    """Upper half of the stepped bar from x = -neck to far, its fillet's arc between x = 0 and the radius, in eight-node elements."""
    import gmsh

    d, h = narrow / 2, (wide - narrow) / 2
    turn = min(1.0, h / radius)
    reach = radius * float(np.sqrt(1 - (1 - turn) ** 2))
    gmsh.initialize()
    try:
        gmsh.option.setNumber("General.Verbosity", 1)
        gmsh.option.setNumber("Mesh.MeshSizeExtendFromBoundary", 0)
        gmsh.option.setNumber("Mesh.RecombineAll", 1)
        gmsh.option.setNumber("Mesh.SubdivisionAlgorithm", 1)
        gmsh.option.setNumber("Mesh.ElementOrder", 2)
        gmsh.option.setNumber("Mesh.SecondOrderIncomplete", 1)
        occ = gmsh.model.occ
        places = [(-neck, 0.0), (far, 0.0), (far, wide / 2), (reach, wide / 2), (reach, d + radius * turn), (0.0, d), (-neck, d)]
        if h < radius * (1 + 1e-6):  # the arc ends at the wide side, or before it is upright
            del places[3]
        points = [occ.addPoint(x, y, 0.0) for x, y in places]
        centre = occ.addPoint(0.0, d + radius, 0.0)
        lines = [
            occ.addCircleArc(p, centre, q) if (i == len(points) - 3) else occ.addLine(p, q)
            for i, (p, q) in enumerate(zip(points, [*points[1:], points[0]], strict=True))
        ]  # fmt: skip
        occ.addPlaneSurface([occ.addCurveLoop(lines)])
        occ.synchronize()
        field = gmsh.model.mesh.field
        field.add("MathEval", 1)
        x0, y0 = radius * float(np.sin(0.6)), d + radius * (1 - float(np.cos(0.6)))
        field.setString(1, "F", f"{near}+0.3*Sqrt((x-{x0})^2+(y-{y0})^2)")
        field.setAsBackgroundMesh(1)
        gmsh.model.mesh.generate(2)
        tags, coords, _ = gmsh.model.mesh.getNodes()
        _, quads = gmsh.model.mesh.getElementsByType(16)
    finally:
        gmsh.finalize()
    number = np.zeros(int(tags.max()) + 1, dtype=np.int64)
    number[tags.astype(int)] = np.arange(len(tags))
    used, elements = np.unique(number[quads.astype(int)], return_inverse=True)
    return Mesh2D(coords.reshape(-1, 3)[used, :2], elements.reshape(-1, 8))


def flatwise_model(radius: float, narrow: float, wide: float, thick: float, fine: float = 2.5, layers: int = 7) -> float:
    """Stress concentration of a stepped flat bar bent out of its plane, on the narrow bar's nominal stress."""
    e = 1000.0
    neck, far = 1.3 * max(narrow, thick), radius + 1.3 * max(wide, thick)
    plane = plane_mesh(radius, narrow, wide, neck, far, radius / fine)
    levels = graded_levels(thick / 2, layers, radius / 4)
    solid = Extruded(plane, levels)
    x, y = plane.nodes.T

    def line(mask: np.ndarray) -> np.ndarray:
        found = np.flatnonzero(mask)
        return found[np.argsort(y[found])]

    left, right = line(x < -neck + 1e-6), line(x > far - 1e-6)
    share = levels / levels[-1]
    force = solid.end_force(right, share * narrow / wide) - solid.end_force(left, share)
    middle = np.flatnonzero(y < 1e-8)
    base = np.arange(solid.count)
    every_middle = (np.arange(len(levels))[:, None] * solid.count + middle).ravel()
    ends = middle[[np.argmin(x[middle]), np.argmax(x[middle])]]
    fixed = np.unique(np.concatenate([3 * base, 3 * base + 1, 3 * every_middle + 1, 3 * ends + 2]))
    c = isotropic_stiffness(e, POISSON)
    u = solve(solid.stiffness(c), fixed, force)
    wall = np.abs(np.hypot(x, y - narrow / 2 - radius) - radius) < 1e-4 * radius
    touching = np.flatnonzero(wall[plane.elements].any(axis=1))
    stress, many = nodal_stress(solid, u, c, touching)
    tensor = stress[..., [[0, 5, 4], [5, 1, 3], [4, 3, 2]]][:, wall & (many[0] > 0)]
    return float(np.linalg.eigvalsh(tensor).max())


def _one(pair: tuple[float, float, float]) -> float:
    r, t, w = pair
    return flatwise_model(r, 1.0, w, r / t)


def main() -> None:
    """Model every combination and write the table beside the other shipped data."""
    target = Path(__file__).parents[1] / "fravik" / "library" / "data" / "flatwise.npz"
    every = [(r, t, w) for r in RADIUS_OVER_NARROW for t in RADIUS_OVER_THICK for w in WIDE_OVER_NARROW]
    with Pool(int(sys.argv[1]) if len(sys.argv) > 1 else 1) as pool:
        found = np.array(pool.map(_one, every, chunksize=1))
    table = found.reshape(len(RADIUS_OVER_NARROW), len(RADIUS_OVER_THICK), len(WIDE_OVER_NARROW))
    np.savez_compressed(target, radius=RADIUS_OVER_NARROW, thick=RADIUS_OVER_THICK, wide=WIDE_OVER_NARROW, factor=table)
    print(table.round(3))


if __name__ == "__main__":
    main()
