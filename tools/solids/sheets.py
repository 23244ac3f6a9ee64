"""Plane models: a guard in its own plane, by six-node triangles of its true outline."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from manifold3d import CrossSection
from scipy.sparse import coo_matrix

from fravik.model.shapes import GuardShape
from fravik.shape.guard import guard_plan

from .parts import E_MPA, POISSON

_PLANE = E_MPA / (1 - POISSON**2) * np.array([[1, POISSON, 0], [POISSON, 1, 0], [0, 0, (1 - POISSON) / 2]])


def _gradients(place: np.ndarray, l1: float, l2: float, l3: float) -> tuple[np.ndarray, np.ndarray]:
    """Gradients (m, 2, 6) and twice the areas (m,) of six-node triangles at a point."""
    d2 = np.array([-(4 * l1 - 1), 4 * l2 - 1, 0, 4 * (l1 - l2), 4 * l3, -4 * l3])
    d3 = np.array([-(4 * l1 - 1), 0, 4 * l3 - 1, -4 * l2, 4 * l2, 4 * (l1 - l3)])
    g = np.stack([d2, d3])
    jac = g @ place
    return np.linalg.solve(jac, np.broadcast_to(g, (len(place), 2, 6))), np.abs(np.linalg.det(jac))


def _strain_rows(grad: np.ndarray) -> np.ndarray:
    b = np.zeros((len(grad), 3, 12))
    b[:, 0, 0::2], b[:, 1, 1::2] = grad[:, 0], grad[:, 1]
    b[:, 2, 0::2], b[:, 2, 1::2] = grad[:, 1], grad[:, 0]
    return b


def _mesh(outline: np.ndarray, size: float) -> tuple[np.ndarray, np.ndarray]:
    import gmsh

    gmsh.initialize()
    try:
        gmsh.option.setNumber("General.Verbosity", 1)
        geo = gmsh.model.geo
        points = [geo.addPoint(x, y, 0, size) for x, y in outline]
        lines = [geo.addLine(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)]
        geo.addPlaneSurface([geo.addCurveLoop(lines)])
        geo.synchronize()
        gmsh.option.setNumber("Mesh.MeshSizeMax", size)
        gmsh.option.setNumber("Mesh.ElementOrder", 2)
        gmsh.model.mesh.generate(2)
        tags, coords, _ = gmsh.model.mesh.getNodes()
        _, tris = gmsh.model.mesh.getElementsByType(9)
    finally:
        gmsh.finalize()
    number = np.zeros(int(tags.max()) + 1, dtype=np.int64)
    number[tags.astype(int)] = np.arange(len(tags))
    used, elements = np.unique(number[tris.astype(int)], return_inverse=True)
    return coords.reshape(-1, 3)[used, :2], elements.reshape(-1, 6)


def guard_pressed(span_deg: float, width: float, height: float, corner: float, radius: float) -> dict[str, Any]:
    """Largest stresses at a corner, under the load and at the hub's fillet of a guard pressed in at the middle of its arc by 1 N, and
    how far it gives there; its hub held."""
    g = GuardShape(span_deg=span_deg, width_mm=width, height_mm=height, corner_mm=corner)
    hub = g.hub_diameter_mm / 2 + 0.05
    disc = CrossSection([[(hub * math.cos(a), hub * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 129)[:-1]]])
    outline = max((np.array(p) for p in (guard_plan(g, radius) - disc).simplify(0.01).to_polygons()), key=len)
    nodes, elements = _mesh(outline, 0.5)
    place, m = nodes[elements], len(elements)
    k = np.zeros((m, 12, 12))
    for spot in ((2 / 3, 1 / 6, 1 / 6), (1 / 6, 2 / 3, 1 / 6), (1 / 6, 1 / 6, 2 / 3)):
        grad, det = _gradients(place, *spot)
        b = _strain_rows(grad)
        k += (height * det / 6)[:, None, None] * (b.transpose(0, 2, 1) @ _PLANE @ b)
    dof = (2 * elements[:, :, None] + np.arange(2)).reshape(m, 12)
    n = 2 * len(nodes)
    whole = coo_matrix((k.ravel(), (np.repeat(dof, 12, axis=1).ravel(), np.tile(dof, (1, 12)).ravel())), shape=(n, n)).tocsr()
    out = np.hypot(*nodes.T)
    fixed = np.flatnonzero(out < hub + 0.01)
    pressed = np.flatnonzero((out > radius + width / 2 - 0.2) & (np.abs(nodes[:, 1]) < 2.5) & (nodes[:, 0] > 0))
    load = np.zeros(n)
    load[2 * pressed] = -1.0 / len(pressed)
    free = np.setdiff1d(np.arange(n), np.concatenate([2 * fixed, 2 * fixed + 1]))
    import pypardiso

    u = np.zeros(n)
    u[free] = pypardiso.spsolve(whole[free][:, free].tocsr(), load[free])
    largest = np.abs(_principal(nodes, elements, u)).max(axis=1)
    half = math.radians(span_deg) / 2
    away = np.hypot(nodes[:, 0] - radius * math.cos(half), nodes[:, 1] - radius * math.sin(half))
    under = (out < radius - width / 2 + 0.4) & (np.abs(nodes[:, 1]) < 8) & (nodes[:, 0] > 0)
    return {
        "corner": largest[away < corner + width].max(), "under": largest[under].max(),
        "root": largest[out < hub + g.root_fillet_mm + 2].max(), "gives": -float(u[2 * pressed].mean()), "nodes": len(nodes),
    }  # fmt: skip


def _principal(nodes: np.ndarray, elements: np.ndarray, u: np.ndarray) -> np.ndarray:
    """Principal stresses (nodes, 2), averaged over the elements at a node."""
    total, many = np.zeros((len(nodes), 3)), np.zeros(len(nodes))
    moved = u.reshape(-1, 2)[elements].reshape(len(elements), 12)
    for a, spot in enumerate(((1, 0, 0), (0, 1, 0), (0, 0, 1), (0.5, 0.5, 0), (0, 0.5, 0.5), (0.5, 0, 0.5))):
        strain = np.einsum("mpi,mi->mp", _strain_rows(_gradients(nodes[elements], *spot)[0]), moved)
        np.add.at(total, elements[:, a], strain @ _PLANE)
        np.add.at(many, elements[:, a], 1)
    s = total / many[:, None]
    mean, size = (s[:, 0] + s[:, 1]) / 2, np.hypot((s[:, 0] - s[:, 1]) / 2, s[:, 2])
    return np.stack([mean + size, mean - size], axis=1)
