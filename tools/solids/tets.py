"""Ten-node tetrahedra of an even plastic, meshed by a general mesher: the reference for parts of any shape.

Needs what ``tools/solids/requirements.txt`` lists (a mesher and a sparse direct solver), none of which ships with the product.
Curved elements, four-point integration, consistent face loads. A load is a traction over a face whose resultant is one unit
force or moment about a point; a motion is the work-conjugate of that load, so compliances are symmetric by construction.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix

from .extruded import isotropic_stiffness

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_A, _B = 0.58541020, 0.13819660  # four-point rule on a tetrahedron
_EDGES = ((0, 1), (1, 2), (0, 2), (0, 3), (2, 3), (1, 3))  # the mesher's order of mid-side nodes


@dataclass(frozen=True)
class Solid:
    """Nodes (n, 3), tetrahedra (m, 10) and boundary triangles (k, 6)."""

    nodes: Floats
    tets: Ints
    faces: Ints

    def face(self, inside: Callable[[Floats], NDArray[np.bool_]]) -> Ints:
        """Boundary triangles all of whose nodes lie where ``inside`` (points -> mask) says."""
        return self.faces[inside(self.nodes.reshape(-1, 3))[self.faces].all(axis=1)]


def meshed(build: Callable[[Any], None], size_mm: float, least_mm: float | None = None, curve: int = 8) -> Solid:
    """Mesh what ``build(occ)`` makes of the mesher's solid kernel; ``curve`` elements to a full turn on round faces."""
    import gmsh

    gmsh.initialize()
    try:
        gmsh.option.setNumber("General.Verbosity", 1)
        gmsh.option.setNumber("Mesh.MeshSizeMax", size_mm)
        gmsh.option.setNumber("Mesh.MeshSizeMin", least_mm if least_mm is not None else size_mm / 8)
        gmsh.option.setNumber("Mesh.MeshSizeFromCurvature", curve)
        gmsh.option.setNumber("Mesh.ElementOrder", 2)
        gmsh.option.setNumber("Mesh.Optimize", 1)
        build(gmsh.model.occ)
        gmsh.model.occ.synchronize()
        gmsh.model.mesh.generate(3)
        tags, coords, _ = gmsh.model.mesh.getNodes()
        _, tets = gmsh.model.mesh.getElementsByType(11)
        _, faces = gmsh.model.mesh.getElementsByType(9)
    finally:
        gmsh.finalize()
    number = np.zeros(int(tags.max()) + 1, dtype=np.int64)
    number[tags.astype(int)] = np.arange(len(tags))
    nodes = coords.reshape(-1, 3)
    t, f = number[tets.astype(int)].reshape(-1, 10), number[faces.astype(int)].reshape(-1, 6)
    used = np.unique(t)
    back = np.full(len(nodes), -1)
    back[used] = np.arange(len(used))
    return Solid(nodes[used], back[t], back[f])


def _tet_gradients(l1: float, l2: float, l3: float, l4: float) -> Floats:
    """Gradients (3, 10) of the quadratic functions by the first three parent coordinates (l2, l3, l4)."""
    lam = np.array([l1, l2, l3, l4])
    dl = np.array([[-1.0, -1, -1], [1, 0, 0], [0, 1, 0], [0, 0, 1]])
    out = np.empty((3, 10))
    for i in range(4):
        out[:, i] = (4 * lam[i] - 1) * dl[i]
    for k, (a, b) in enumerate(_EDGES):
        out[:, 4 + k] = 4 * (lam[a] * dl[b] + lam[b] * dl[a])
    return out


def stiffness(solid: Solid, e_mpa: float | Floats, poisson: float) -> csr_matrix:
    """Global stiffness, 3 dofs a node; the modulus is one figure, or one for each element (m,)."""
    c = isotropic_stiffness(1.0, poisson)
    modulus = np.broadcast_to(e_mpa, len(solid.tets))
    place, m = solid.nodes[solid.tets], len(solid.tets)
    k = np.zeros((m, 30, 30))
    for spot in range(4):
        lam = [_B] * 4
        lam[spot] = _A
        g = _tet_gradients(*lam)
        jac = np.einsum("ij,mjk->mik", g, place)
        det = np.abs(np.linalg.det(jac))
        grad = np.linalg.solve(jac, np.broadcast_to(g, (m, 3, 10)))
        b = np.zeros((m, 6, 30))
        x, y, z = grad[:, 0], grad[:, 1], grad[:, 2]
        b[:, 0, 0::3], b[:, 1, 1::3], b[:, 2, 2::3] = x, y, z
        b[:, 3, 1::3], b[:, 3, 2::3] = z, y
        b[:, 4, 0::3], b[:, 4, 2::3] = z, x
        b[:, 5, 0::3], b[:, 5, 1::3] = y, x
        k += (modulus * det / 24)[:, None, None] * (b.transpose(0, 2, 1) @ (c @ b))
    dof = (3 * solid.tets[:, :, None] + np.arange(3)).reshape(m, 30)
    n = 3 * len(solid.nodes)
    return coo_matrix((k.ravel(), (np.repeat(dof, 30, axis=1).ravel(), np.tile(dof, (1, 30)).ravel())), shape=(n, n)).tocsr()


_SIX = ((1 / 6, 1 / 6, 2 / 3), (1 / 6, 2 / 3, 1 / 6), (2 / 3, 1 / 6, 1 / 6))
_FOUR = ((1 / 3, 1 / 3, 1 / 3, -27 / 48), (0.6, 0.2, 0.2, 25 / 48), (0.2, 0.6, 0.2, 25 / 48), (0.2, 0.2, 0.6, 25 / 48))


def _tri(l1: float, l2: float, l3: float) -> tuple[Floats, Floats]:
    n = np.array([l1 * (2 * l1 - 1), l2 * (2 * l2 - 1), l3 * (2 * l3 - 1), 4 * l1 * l2, 4 * l2 * l3, 4 * l1 * l3])
    d2 = np.array([-(4 * l1 - 1), 4 * l2 - 1, 0, 4 * (l1 - l2), 4 * l3, -4 * l3])
    d3 = np.array([-(4 * l1 - 1), 0, 4 * l3 - 1, -4 * l2, 4 * l2, 4 * (l1 - l3)])
    return n, np.stack([d2, d3])


def face_load(solid: Solid, triangles: Ints, traction: Callable[[Floats], Floats]) -> Floats:
    """Nodal forces (n, 3) of a traction (points (..., 3) -> vectors (..., 3)) over boundary triangles."""
    out = np.zeros((len(solid.nodes), 3))
    place = solid.nodes[triangles]
    for l1, l2, l3, w in _FOUR:
        n, d = _tri(l1, l2, l3)
        at = np.einsum("a,mac->mc", n, place)
        way = np.einsum("ia,mac->mic", d, place)
        area = np.linalg.norm(np.cross(way[:, 0], way[:, 1]), axis=1) / 2
        push = traction(at) * (w * area)[:, None]
        for a in range(6):
            np.add.at(out, triangles[:, a], n[a] * push)
    return out


def unit_loads(solid: Solid, triangles: Ints, about: Floats) -> Floats:
    """Six load columns (3 n, 6) over a face: unit forces along x, y, z and unit moments about them at a point.

    Tractions vary as a rigid motion does, so that each column is one resultant alone.
    """
    about = np.asarray(about, dtype=np.float64)
    basis = []
    for i in range(3):
        basis.append(lambda p, i=i: np.broadcast_to(np.eye(3)[i], p.shape))
    for i in range(3):
        basis.append(lambda p, i=i: np.cross(np.broadcast_to(np.eye(3)[i], p.shape), p - about))
    raw = np.stack([face_load(solid, triangles, b).ravel() for b in basis], axis=1)
    arm = solid.nodes - about
    rigid = np.zeros((3 * len(solid.nodes), 6))
    for i in range(3):
        rigid[i::3, i] = 1.0
        rigid[:, 3 + i] = np.cross(np.broadcast_to(np.eye(3)[i], arm.shape), arm).ravel()
    resultants = rigid.T @ raw  # column j's force and moment
    return raw @ np.linalg.inv(resultants)


def solve(k: csr_matrix, fixed_dofs: Ints, loads: Floats) -> Floats:
    """Displacements (3 n, columns) with some dofs held at zero."""
    import pypardiso

    n = k.shape[0]
    free = np.setdiff1d(np.arange(n), fixed_dofs)
    u = np.zeros_like(loads)
    u[free] = pypardiso.spsolve(k[free][:, free].tocsr(), np.asfortranarray(loads[free])).reshape(len(free), -1)
    return u


def held(solid: Solid, inside: Callable[[Floats], NDArray[np.bool_]], directions: tuple[int, ...] = (0, 1, 2)) -> Ints:
    """Dofs of the nodes where ``inside`` says, in some directions."""
    nodes = np.flatnonzero(inside(solid.nodes))
    return np.concatenate([3 * nodes + d for d in directions])
