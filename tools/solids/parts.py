"""Solid models of parts: pocketed bars, a leg on its flange, an arm's root fillet, and the two-plate body. E and nu as in ``EVEN``."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from scipy.sparse import bmat, csr_matrix

from . import tets

E_MPA, POISSON = 2000.0, 0.36
STIFF = 1000.0

Numbers = list[float]


def _end_compliance(solid: tets.Solid, length: float, middle: float, back: float) -> np.ndarray:
    k = tets.stiffness(solid, E_MPA, POISSON)
    end = solid.face(lambda p: p[..., 0] > length - 1e-6)
    f = tets.unit_loads(solid, end, np.array([length, 0.0, middle]))
    return f.T @ tets.solve(k, tets.held(solid, lambda p: p[..., 0] < back + 1e-6), f)


def pocketed_bar(length: float, width: float, height: float, pockets: list[Numbers]) -> dict[str, Any]:
    """Twist, rise and sideways motion of a bar's end under unit loads there; each pocket is (start, length, width, corner)."""

    def build(occ: Any) -> None:
        base = [(3, occ.addBox(0, -width / 2, 0, length, width, height))]
        cuts = []
        for x, long, wide, corner in pockets:
            plan = occ.addRectangle(x, -wide / 2, -1, long, wide, roundedRadius=corner)
            cuts += [d for d in occ.extrude([(2, plan)], 0, 0, height + 2) if d[0] == 3]
        if cuts:
            occ.cut(base, cuts)

    solid = tets.meshed(build, min(2.6, height / 3), 0.6)
    c = _end_compliance(solid, length, height / 2, 0.0)
    return {"twist": c[3, 3], "up": c[2, 2], "side": c[1, 1], "nodes": len(solid.nodes)}


def _outline(occ: Any, points: list[tuple[float, float]], arcs: dict[int, tuple[float, float]], thick: float) -> None:
    p = [occ.addPoint(x, y, 0) for x, y in points]
    lines = []
    for i in range(len(p)):
        j = (i + 1) % len(p)
        lines.append(occ.addCircleArc(p[i], occ.addPoint(*arcs[i], 0), p[j]) if i in arcs else occ.addLine(p[i], p[j]))
    occ.extrude([(2, occ.addPlaneSurface([occ.addCurveLoop(lines)]))], 0, 0, thick)


def flanged_leg(
    length: float, root: float, tip: float, thick: float, flange_length: float, flange_width: float, fillet: float
) -> dict[str, Any]:
    """Compliances of a leg's toe, its flange held at its back."""
    y, big, k, r = root / 2, flange_width / 2, tip / 2, fillet
    points = [(-flange_length, -big), (0, -big), (0, -y - r), (r, -y), (length, -k), (length, k), (r, y), (0, y + r), (0, big),
              (-flange_length, big)]  # fmt: skip
    solid = tets.meshed(lambda occ: _outline(occ, points, {2: (r, -y - r), 6: (r, y + r)}, thick), 2.5, 0.8)
    c = _end_compliance(solid, length, thick / 2, -flange_length)
    return {"compliance": np.diag(c).tolist(), "nodes": len(solid.nodes)}


def body_root(bearing: str, two_plates: bool, clamp_radius: float, size: float = 5.0) -> dict[str, Any]:
    """Diagonal of the compliance at the first arm's root: plates of 104 x 88 x 3.2 and 2.4 with a window, tongues a thousand times as stiff
    between them, held by the walls of the bottom plate's stack holes on average."""
    thick, upper, gap, eps = 3.2, 2.4, 12.0, 0.4
    long, wide, window, pitch, hole, tongue, across, washer = 104.0, 88.0, 18.0, 30.5, 1.6, 28.0, 30.0, 7.0
    bolts = ((-5.12, -9.88), (-5.12, 9.88), (-22.88, -9.88), (-22.88, 9.88))
    r = clamp_radius

    def build(occ: Any) -> None:
        def plate(z: float, t: float) -> list[Any]:
            cut = [(3, occ.addBox(-window / 2, -window / 2, z - 1, window, window, t + 2))]
            return list(occ.cut([(3, occ.addBox(-long / 2, -wide / 2, z, long, wide, t))], cut)[0])

        holes = [
            (3, occ.addCylinder(sx * pitch / 2, sy * pitch / 2, -thick - 1, 0, 0, thick + 1, hole)) for sx in (-1, 1) for sy in (-1, 1)
        ]
        every = list(occ.cut(plate(-thick, thick), holes)[0])
        if two_plates:
            every += plate(gap, upper)
        for k in range(4):
            own = []
            if bearing == "bonded":
                own.append((3, occ.addBox(r - tongue, -across / 2, 0, tongue, across, gap)))
            else:
                own.append((3, occ.addBox(r - tongue, -across / 2, eps, tongue, across, gap - (2 if two_plates else 1) * eps)))
                for x, y in bolts:
                    own.append((3, occ.addCylinder(r + x, y, 0, 0, 0, eps, washer / 2)))
                    if two_plates:
                        own.append((3, occ.addCylinder(r + x, y, gap - eps, 0, 0, eps, washer / 2)))
            occ.rotate(own, 0, 0, 0, 0, 0, 1, math.pi / 4 + k * math.pi / 2)
            every += own
        occ.fragment(every, [])

    solid = tets.meshed(build, size, 1.0, curve=10)
    middle = solid.nodes[solid.tets[:, :4]].mean(axis=1)[:, 2]
    k = tets.stiffness(solid, np.where((middle < 0) | (middle > gap), E_MPA, STIFF * E_MPA), POISSON)
    pins = []
    for sx in (-1, 1):
        for sy in (-1, 1):
            wall = solid.face(
                lambda p, sx=sx, sy=sy: (
                    (p[..., 2] < 1e-6) & (np.abs(np.hypot(p[..., 0] - sx * pitch / 2, p[..., 1] - sy * pitch / 2) - hole) < 0.05)
                )
            )
            pins += [tets.face_load(solid, wall, lambda p, d=d: np.broadcast_to(np.eye(3)[d], p.shape)).ravel() / 32.0 for d in range(3)]
    turn = np.array([[1, 1, 0], [-1, 1, 0], [0, 0, math.sqrt(2)]]) / math.sqrt(2)
    end = solid.face(
        lambda p: (np.abs(p @ turn[0] - r) < 1e-5) & (np.abs(p @ turn[1]) < across / 2 + 1e-6) & (p[..., 2] > eps / 2)
        & (p[..., 2] < gap - eps / 2)
    )  # fmt: skip
    f = tets.unit_loads(solid, end, np.array([r / math.sqrt(2), r / math.sqrt(2), gap / 2]))
    import pypardiso

    n, scale = k.shape[0], 1e-3 * float(k.diagonal().max())
    a = scale * csr_matrix(np.array(pins))
    u = pypardiso.spsolve(bmat([[k, a.T], [a, None]]).tocsr(), np.asfortranarray(np.vstack([f, np.zeros((len(pins), 6))])))[:n]
    six = np.zeros((6, 6))
    six[:3, :3] = six[3:, 3:] = turn
    return {"compliance": np.diag(six @ (f.T @ u) @ six.T).tolist(), "nodes": len(solid.nodes)}
