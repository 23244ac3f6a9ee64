"""A bar with every wall of its 45-degree grid drawn out, as a sheet: cores held between covers, against the homogenised ones.

Covers and core walls share their motion in plan, so the bar is a sheet whose thickness times modulus is the covers' everywhere, the
core's more where a core wall stands, and the full height's in the outer walls. Six-node triangles from a general mesher.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix

Floats = NDArray[np.float64]


def sheet_bar(length: float, width: float, height: float, wall: float, cover: float, line: float, infill: float, e_mpa: float,
              poisson: float, angle_deg: float = 45.0) -> tuple[float, float, float]:  # fmt: skip
    """(EA in N, and the end's sideways deflection in mm under 1 N and under 1 N mm, root held) of a cantilevered bar."""
    import gmsh

    spacing = 2 * line / infill
    inner = width / 2 - wall
    gmsh.initialize()
    try:
        gmsh.option.setNumber("General.Verbosity", 1)
        occ = gmsh.model.occ
        outer = [(2, occ.addRectangle(0, -width / 2, 0, length, wall)), (2, occ.addRectangle(0, inner, 0, length, wall))]
        strips = []
        reach = length + width
        for turn in (angle_deg, angle_deg + 90.0):
            for k in range(-math.ceil(reach / spacing), math.ceil(reach / spacing) + 1):
                s = occ.addRectangle(-reach, k * spacing - line / 2, 0, 2 * reach, line)
                occ.rotate([(2, s)], 0, 0, 0, 0, 0, 1, math.radians(turn))
                strips.append((2, s))
        core = [(2, occ.addRectangle(0, -inner, 0, length, 2 * inner))]
        walls, _ = occ.intersect(strips, core, removeTool=False)
        occ.fragment(core + outer, walls)
        occ.synchronize()
        gmsh.option.setNumber("Mesh.MeshSizeMax", 1.1 * line)
        gmsh.option.setNumber("Mesh.ElementOrder", 2)
        gmsh.model.mesh.generate(2)
        tags, coords, _ = gmsh.model.mesh.getNodes()
        _, tris = gmsh.model.mesh.getElementsByType(9)
    finally:
        gmsh.finalize()
    number = np.zeros(int(tags.max()) + 1, dtype=np.int64)
    number[tags.astype(int)] = np.arange(len(tags))
    used, elements = np.unique(number[tris.astype(int)], return_inverse=True)
    nodes, elements = coords.reshape(-1, 3)[used, :2], elements.reshape(-1, 6)
    middle = nodes[elements[:, :3]].mean(axis=1)
    a = math.radians(angle_deg)
    along = middle[:, 0] * math.cos(a) + middle[:, 1] * math.sin(a)
    across = -middle[:, 0] * math.sin(a) + middle[:, 1] * math.cos(a)
    in_wall = np.minimum(*(np.abs(c - spacing * np.round(c / spacing)) for c in (along, across))) < line / 2
    thick = np.where(np.abs(middle[:, 1]) > inner, height, 2 * cover + (height - 2 * cover) * in_wall)
    k = _stiffness(nodes, elements, thick, e_mpa, poisson)
    root = np.flatnonzero(nodes[:, 0] < 1e-7)
    end = np.flatnonzero(nodes[:, 0] > length - 1e-7)
    end = end[np.argsort(nodes[end, 1])]
    weight = _end_weights(nodes, end, thick, elements)
    f = np.zeros((len(k.indptr) - 1, 3))
    y = nodes[end, 1]
    f[2 * end, 0] = weight / weight.sum()
    f[2 * end + 1, 1] = weight / weight.sum()
    f[2 * end, 2] = -weight * y / float((weight * y * y).sum())
    import pypardiso

    held = np.concatenate([2 * root, 2 * root + 1])
    free = np.setdiff1d(np.arange(f.shape[0]), held)
    u = np.zeros_like(f)
    u[free] = pypardiso.spsolve(k[free][:, free].tocsr(), np.asfortranarray(f[free]))
    return length / float(f[:, 0] @ u[:, 0]), float(f[:, 1] @ u[:, 1]), float(f[:, 2] @ u[:, 2])


def _end_weights(nodes: Floats, end: NDArray[np.int64], thick: Floats, elements: NDArray[np.int64]) -> Floats:
    """Nodal shares of an even pull on the end, by thickness along it."""
    where = {int(n): i for i, n in enumerate(end)}
    out = np.zeros(len(end))
    for e, t in zip(elements, thick, strict=True):
        for a, b, m in ((0, 1, 3), (1, 2, 4), (2, 0, 5)):
            if int(e[a]) in where and int(e[b]) in where and int(e[m]) in where:
                long = abs(nodes[e[a], 1] - nodes[e[b], 1]) * t
                out[where[int(e[a])]] += long / 6
                out[where[int(e[b])]] += long / 6
                out[where[int(e[m])]] += 4 * long / 6
    return out


def _stiffness(nodes: Floats, elements: NDArray[np.int64], thick: Floats, e_mpa: float, poisson: float):  # type: ignore[no-untyped-def]
    c = e_mpa / (1 - poisson**2) * np.array([[1, poisson, 0], [poisson, 1, 0], [0, 0, (1 - poisson) / 2]])
    place, m = nodes[elements], len(elements)
    k = np.zeros((m, 12, 12))
    for l1, l2, l3 in ((2 / 3, 1 / 6, 1 / 6), (1 / 6, 2 / 3, 1 / 6), (1 / 6, 1 / 6, 2 / 3)):
        d2 = np.array([-(4 * l1 - 1), 4 * l2 - 1, 0, 4 * (l1 - l2), 4 * l3, -4 * l3])
        d3 = np.array([-(4 * l1 - 1), 0, 4 * l3 - 1, -4 * l2, 4 * l2, 4 * (l1 - l3)])
        g = np.stack([d2, d3])
        jac = g @ place
        grad = np.linalg.solve(jac, np.broadcast_to(g, (m, 2, 6)))
        b = np.zeros((m, 3, 12))
        b[:, 0, 0::2], b[:, 1, 1::2] = grad[:, 0], grad[:, 1]
        b[:, 2, 0::2], b[:, 2, 1::2] = grad[:, 1], grad[:, 0]
        k += (thick * np.abs(np.linalg.det(jac)) / 6)[:, None, None] * (b.transpose(0, 2, 1) @ c @ b)
    dof = (2 * elements[:, :, None] + np.arange(2)).reshape(m, 12)
    n = 2 * len(nodes)
    return coo_matrix((k.ravel(), (np.repeat(dof, 12, axis=1).ravel(), np.tile(dof, (1, 12)).ravel())), shape=(n, n)).tocsr()
