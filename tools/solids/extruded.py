"""Plane meshes of eight-node elements drawn out into solid elements, quadratic in all three directions.

Each plane element becomes a column of 24-node solids: serendipity in the plane, three nodes through each layer. Full 3 x 3 x 3
integration, one sparse direct solution. Used offline for stress raisers in bars that bend out of their plane.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csc_matrix

from fravik.structure.planestress import Mesh2D, graded, shape_functions

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def isotropic_stiffness(e_mpa: float, poisson: float) -> Floats:
    """(6, 6) in the order xx, yy, zz, yz, xz, xy with engineering shears."""
    lame = e_mpa * poisson / ((1 + poisson) * (1 - 2 * poisson))
    shear = e_mpa / (2 * (1 + poisson))
    c = np.zeros((6, 6))
    c[:3, :3] = lame
    c[np.arange(3), np.arange(3)] += 2 * shear
    c[np.arange(3, 6), np.arange(3, 6)] = shear
    return c


def line_functions(t: float) -> tuple[Floats, Floats]:
    """Three-node line functions (3,) and their slopes at -1 <= t <= 1; nodes at -1, 0, 1."""
    return np.array([t * (t - 1) / 2, 1 - t * t, t * (t + 1) / 2]), np.array([t - 0.5, -2 * t, t + 0.5])


class Extruded:
    """A plane mesh drawn out over levels z (2 layers + 1,); node (level, plane node) is number level * plane nodes + plane node."""

    def __init__(self, plane: Mesh2D, levels: Floats) -> None:
        self.plane, self.levels = plane, levels
        self.count = len(plane.nodes)
        self.layers = (len(levels) - 1) // 2

    def node(self, level: int, plane_node: Ints) -> Ints:
        """Numbers of nodes at one level."""
        return np.asarray(level * self.count + plane_node)

    def stiffness(self, c: Floats) -> csc_matrix:
        """Global stiffness, 3 dofs a node."""
        place = self.plane.nodes[self.plane.elements]
        m = len(place)
        spots, weights = np.polynomial.legendre.leggauss(3)
        rows, cols, values = [], [], []
        for layer in range(self.layers):
            z = self.levels[2 * layer : 2 * layer + 3]
            k = np.zeros((m, 72, 72))
            for s, ws in zip(spots, weights, strict=True):
                for t, wt in zip(spots, weights, strict=True):
                    n2, g = shape_functions(s, t)
                    jac = g @ place
                    det = np.linalg.det(jac)
                    grad = np.linalg.solve(jac, np.broadcast_to(g, (m, 2, 8)))
                    for q, wq in zip(spots, weights, strict=True):
                        n1, d1 = line_functions(q)
                        long = float(d1 @ z)
                        gx = np.einsum("l,ma->mla", n1, grad[:, 0]).reshape(m, 24)
                        gy = np.einsum("l,ma->mla", n1, grad[:, 1]).reshape(m, 24)
                        gz = np.broadcast_to(np.outer(d1 / long, n2).ravel(), (m, 24))
                        b = np.zeros((m, 6, 72))
                        b[:, 0, 0::3], b[:, 1, 1::3], b[:, 2, 2::3] = gx, gy, gz
                        b[:, 3, 1::3], b[:, 3, 2::3] = gz, gy
                        b[:, 4, 0::3], b[:, 4, 2::3] = gz, gx
                        b[:, 5, 0::3], b[:, 5, 1::3] = gy, gx
                        k += (ws * wt * wq * det * long)[:, None, None] * (b.transpose(0, 2, 1) @ (c @ b))
            nodes = np.stack([self.node(2 * layer + i, self.plane.elements) for i in range(3)], axis=1).reshape(m, 24)
            dof = (3 * nodes[:, :, None] + np.arange(3)).reshape(m, 72)
            rows.append(np.repeat(dof, 72, axis=1).ravel())
            cols.append(np.tile(dof, (1, 72)).ravel())
            values.append(k.ravel())
        n = 3 * self.count * len(self.levels)
        return coo_matrix((np.concatenate(values), (np.concatenate(rows), np.concatenate(cols))), shape=(n, n)).tocsc()

    def end_force(self, plane_nodes: Ints, traction: Floats) -> Floats:
        """Nodal forces (nodes, 3) of a traction along x over an upright face, linear in z.

        ``plane_nodes`` run along a straight plane edge (corner, middle, corner, ...); ``traction`` (levels,).
        """
        out = np.zeros((self.count * len(self.levels), 3))
        y = self.plane.nodes[plane_nodes, 1]
        mass = np.array([[4, 2, -1], [2, 16, 2], [-1, 2, 4]]) / 15
        for i in range(0, len(plane_nodes) - 2, 2):
            across = mass.sum(axis=1) * (y[i + 2] - y[i]) / 2
            for layer in range(self.layers):
                at = slice(2 * layer, 2 * layer + 3)
                up = mass @ traction[at] * (self.levels[2 * layer + 2] - self.levels[2 * layer]) / 2
                for a in range(3):
                    out[self.node(2 * layer + a, plane_nodes[i : i + 3]), 0] += across * up[a]
        return out


def solve(k: csc_matrix, fixed: Ints, force: Floats) -> Floats:
    """Displacements (nodes, 3) with some dofs held at zero."""
    n = k.shape[0]
    free = np.setdiff1d(np.arange(n), fixed)
    u = np.zeros(n)
    import pypardiso

    u[free] = pypardiso.spsolve(k[free][:, free].tocsr(), force.ravel()[free])
    return u.reshape(-1, 3)


def nodal_stress(solid: Extruded, u: Floats, c: Floats, elements: Ints) -> tuple[Floats, Ints]:
    """Stress (levels, plane nodes, 6) at the nodes of some plane elements' columns, averaged, and how many each average is of."""
    spot = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1), (0, -1), (1, 0), (0, 1), (-1, 0)], dtype=float)
    total = np.zeros((len(solid.levels), solid.count, 6))
    many = np.zeros((len(solid.levels), solid.count), dtype=np.int64)
    member = solid.plane.elements[elements]
    place = solid.plane.nodes[member]
    moved = u.reshape(len(solid.levels), solid.count, 3)[:, member]
    for a in range(8):
        n2, g = shape_functions(*spot[a])
        grad = np.linalg.solve(g @ place, np.broadcast_to(g, (len(member), 2, 8)))
        for layer in range(solid.layers):
            at = slice(2 * layer, 2 * layer + 3)
            z = solid.levels[at]
            for i, s in enumerate((-1.0, 0.0, 1.0)):
                n1, d1 = line_functions(s)
                x = np.einsum("l,ma,lmac->mc", n1, grad[:, 0], moved[at])
                y = np.einsum("l,ma,lmac->mc", n1, grad[:, 1], moved[at])
                w = np.einsum("l,a,lmac->mc", d1 / float(d1 @ z), n2, moved[at])
                strain = np.stack([x[:, 0], y[:, 1], w[:, 2], y[:, 2] + w[:, 1], x[:, 2] + w[:, 0], x[:, 1] + y[:, 0]], axis=1)
                np.add.at(total, (2 * layer + i, member[:, a]), strain @ c.T)
                np.add.at(many, (2 * layer + i, member[:, a]), 1)
    return total / np.maximum(many, 1)[..., None], many


def graded_levels(half: float, layers: int, finest: float) -> Floats:
    """Levels from 0 to ``half`` whose layers shrink towards the face, the last one about ``finest``."""
    low, high = 1.0, 1e4
    if half / layers <= finest:
        return np.linspace(0, half, 2 * layers + 1)
    for _ in range(60):
        growth = (low * high) ** 0.5
        z = graded(0.0, half, layers, growth)
        low, high = (growth, high) if z[2] > finest else (low, growth)
    return half - graded(0.0, half, layers, growth)[::-1]
