"""Plane-stress solids with eight-node elements, for the fine models that stress raisers are checked against.

Isoparametric serendipity elements, 3 x 3 Gauss points. Along a free edge the only stress is the one along the edge, so the peak is
read from the edge's own stretch.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_CORNER = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1), (0, -1), (1, 0), (0, 1), (-1, 0)], dtype=float)


@dataclass(frozen=True)
class Mesh2D:
    """Nodes (n, 2) and elements (m, 8): four corners, then mid-sides."""

    nodes: Floats
    elements: Ints


def block(x: Floats, y: Floats) -> Mesh2D:
    """A mapped block from grids of node places (2 nx + 1, 2 ny + 1)."""
    nx, ny = (x.shape[0] - 1) // 2, (x.shape[1] - 1) // 2
    number = np.arange(x.size).reshape(x.shape)
    elements = []
    for i in range(nx):
        for j in range(ny):
            a, b = 2 * i, 2 * j
            elements.append([number[a, b], number[a + 2, b], number[a + 2, b + 2], number[a, b + 2],
                             number[a + 1, b], number[a + 2, b + 1], number[a + 1, b + 2], number[a, b + 1]])  # fmt: skip
    return Mesh2D(np.stack([x.ravel(), y.ravel()], axis=1), np.array(elements))


def joined(parts: list[Mesh2D]) -> Mesh2D:
    """Blocks with coinciding nodes as one mesh; unused nodes are dropped."""
    nodes = np.concatenate([p.nodes for p in parts])
    shift = np.cumsum([0, *(len(p.nodes) for p in parts[:-1])])
    elements = np.concatenate([p.elements + s for p, s in zip(parts, shift, strict=True)])
    _, first, back = np.unique(np.round(nodes, 7), axis=0, return_index=True, return_inverse=True)
    elements = back.ravel()[elements]
    used, elements = np.unique(elements, return_inverse=True)
    return Mesh2D(nodes[first][used], elements.reshape(-1, 8))


def shape_functions(s: float, t: float) -> tuple[Floats, Floats]:
    """Values (8,) and gradients (2, 8) of the eight-node element's functions."""
    n, g = np.empty(8), np.empty((2, 8))
    for i, (a, b) in enumerate(_CORNER):
        if a and b:
            n[i] = (1 + a * s) * (1 + b * t) * (a * s + b * t - 1) / 4
            g[0, i] = a * (1 + b * t) * (2 * a * s + b * t) / 4
            g[1, i] = b * (1 + a * s) * (a * s + 2 * b * t) / 4
        elif a == 0:
            n[i] = (1 - s * s) * (1 + b * t) / 2
            g[0, i], g[1, i] = -s * (1 + b * t), b * (1 - s * s) / 2
        else:
            n[i] = (1 + a * s) * (1 - t * t) / 2
            g[0, i], g[1, i] = a * (1 - t * t) / 2, -t * (1 + a * s)
    return n, g


def solve_plane(mesh: Mesh2D, e_mpa: float, poisson: float, fixed: Ints, force: Floats) -> Floats:
    """Displacements (n, 2) of a sheet of unit thickness. ``fixed`` dofs are 2 x node + direction; ``force`` (n, 2)."""
    c = e_mpa / (1 - poisson**2) * np.array([[1, poisson, 0], [poisson, 1, 0], [0, 0, (1 - poisson) / 2]])
    m = len(mesh.elements)
    place = mesh.nodes[mesh.elements]
    k = np.zeros((m, 16, 16))
    spots, weights = np.polynomial.legendre.leggauss(3)
    for s, ws in zip(spots, weights, strict=True):
        for t, wt in zip(spots, weights, strict=True):
            _, g = shape_functions(s, t)
            jac = g @ place
            det = np.linalg.det(jac)
            grad = np.linalg.solve(jac, np.broadcast_to(g, (m, 2, 8)))
            b = np.zeros((m, 3, 16))
            b[:, 0, 0::2], b[:, 1, 1::2] = grad[:, 0], grad[:, 1]
            b[:, 2, 0::2], b[:, 2, 1::2] = grad[:, 1], grad[:, 0]
            k += (ws * wt * det)[:, None, None] * (b.transpose(0, 2, 1) @ c @ b)
    dof = (2 * mesh.elements[:, :, None] + np.arange(2)).reshape(m, 16)
    n = 2 * len(mesh.nodes)
    whole = coo_matrix((k.ravel(), (np.repeat(dof, 16, axis=1).ravel(), np.tile(dof, (1, 16)).ravel())), shape=(n, n)).tocsc()
    free = np.setdiff1d(np.arange(n), fixed)
    u = np.zeros(n)
    u[free] = spsolve(whole[free][:, free], force.ravel()[free])
    return u.reshape(-1, 2)


def edge_force(mesh: Mesh2D, nodes: Ints, traction: Floats) -> Floats:
    """Nodal forces (n, 2) of a traction along x, given at nodes of a straight upright edge in order (corner, middle, corner, ...)."""
    out = np.zeros((len(mesh.nodes), 2))
    y = mesh.nodes[nodes, 1]
    for i in range(0, len(nodes) - 2, 2):
        half = (y[i + 2] - y[i]) / 2
        q = traction[i : i + 3]
        consistent = np.array([[4, 2, -1], [2, 16, 2], [-1, 2, 4]]) / 15 * half
        out[nodes[i : i + 3], 0] += consistent @ q
    return out


def edge_stress(mesh: Mesh2D, u: Floats, nodes: Ints, e_mpa: float) -> Floats:
    """Stress along a free edge at its nodes, given in order (corner, middle, corner, ...): E times the edge's own stretch."""
    out = []
    for i in range(0, len(nodes) - 2, 2):
        x, d = mesh.nodes[nodes[i : i + 3]], u[nodes[i : i + 3]]
        for s in (-1.0, 0.0, 1.0):
            g = np.array([s - 0.5, -2 * s, s + 0.5])
            along, move = g @ x, g @ d
            long = float(np.hypot(*along))
            out.append(float(move @ along) / long**2)
    return e_mpa * np.array(out)


def graded(low: float, high: float, count: int, growth: float) -> Floats:
    """2 count + 1 places from low to high whose steps grow by a factor over the whole."""
    t = np.linspace(0, 1, 2 * count + 1)
    return low + (high - low) * (np.power(growth, t) - 1) / (growth - 1) if growth != 1 else low + (high - low) * t


def shoulder_model(radius: float, narrow: float, wide: float, bending: bool, fine: int = 14) -> float:
    """Stress concentration of a stepped flat bar with a fillet, on the narrow bar's nominal stress, from a fine model of its half."""
    d, big, h = narrow / 2, wide / 2, (wide - narrow) / 2
    e, nu = 1000.0, 0.3
    turn = min(1.0, h / radius)
    reach = radius * np.sqrt(max(1 - (1 - turn) ** 2, 0.0))
    x_neck = 2.5 * narrow
    angle = np.linspace(0, np.arcsin(reach / radius), 2 * fine * 2 + 1)
    xs = np.concatenate([x_neck - graded(0, x_neck, 20, 60.0)[::-1], x_neck + radius * np.sin(angle)[1:]])
    top = np.where(xs <= x_neck, d, d + radius - np.sqrt(np.maximum(radius**2 - np.maximum(xs - x_neck, 0) ** 2, 0)))
    t = 1 - graded(0, 1, fine, 30.0)[::-1]
    blocks = [block(np.repeat(xs[:, None], len(t), axis=1), top[:, None] * t[None, :])]
    edge_y = float(top[-1]) * t
    x_end = float(xs[-1])
    far = graded(x_end, x_end + 2.5 * wide, 20, 60.0)
    ys = edge_y
    if big - edge_y[-1] > 1e-9:
        ys = np.concatenate([edge_y, edge_y[-1] + graded(0, big - edge_y[-1], 6, 8.0)[1:]])
    blocks.append(block(np.repeat(far[:, None], len(ys), axis=1), np.repeat(ys[None, :], len(far), axis=0)))
    mesh = joined(blocks)

    def on(mask: NDArray[np.bool_], axis: int) -> Ints:
        found = np.flatnonzero(mask)
        return found[np.argsort(mesh.nodes[found, axis])]

    left, right = on(np.abs(mesh.nodes[:, 0]) < 1e-6, 1), on(np.abs(mesh.nodes[:, 0] - far[-1]) < 1e-6, 1)
    base = np.flatnonzero(np.abs(mesh.nodes[:, 1]) < 1e-7)
    if bending:
        near, away = mesh.nodes[left, 1] / d, mesh.nodes[right, 1] / d * (d / big) ** 3
        fixed = np.concatenate([2 * base, [2 * base[0] + 1]])
    else:
        near, away = np.ones(len(left)), np.full(len(right), d / big)
        fixed = np.concatenate([2 * base + 1, [2 * base[0]]])
    force = edge_force(mesh, right, away) - edge_force(mesh, left, near)
    u = solve_plane(mesh, e, nu, fixed, force)
    rim = []
    for x, y in zip(xs, top, strict=True):
        rim.append(int(np.argmin(np.hypot(mesh.nodes[:, 0] - x, mesh.nodes[:, 1] - y))))
    return float(edge_stress(mesh, u, np.array(rim), e).max())


def hole_model(diameter: float, width: float, fine: int = 16) -> float:
    """Stress concentration of a hole in a pulled strip on its net section, from a fine model of its quarter."""
    r, half, long = diameter / 2, width / 2, 2.5 * width
    e, nu = 1000.0, 0.3
    corner = np.arctan2(half, half)
    first = np.linspace(0, corner, 2 * fine + 1)
    second = np.linspace(corner, np.pi / 2, 2 * fine + 1)
    t = graded(0, 1, fine, 25.0)
    blocks = []
    for angles, right in ((first, True), (second, False)):
        cos, sin = np.cos(angles), np.sin(angles)
        outer = (
            np.stack([np.full_like(angles, half), half * np.tan(angles)], axis=1)
            if right
            else np.stack([half / np.tan(np.maximum(angles, 1e-9)), np.full_like(angles, half)], axis=1)
        )
        if not right:
            outer[-1, 0] = 0.0
        inner = r * np.stack([cos, sin], axis=1)
        grid = inner[None] * (1 - t)[:, None, None] + outer[None] * t[:, None, None]
        blocks.append(block(grid[..., 0], grid[..., 1]))
    y = half * np.tan(first)
    far = graded(half, long, 12, 6.0)
    blocks.append(block(np.repeat(far[:, None], len(y), axis=1), np.repeat(y[None, :], len(far), axis=0)))
    mesh = joined(blocks)
    left, base = np.flatnonzero(np.abs(mesh.nodes[:, 0]) < 1e-7), np.flatnonzero(np.abs(mesh.nodes[:, 1]) < 1e-7)
    end = np.flatnonzero(np.abs(mesh.nodes[:, 0] - long) < 1e-6)
    end = end[np.argsort(mesh.nodes[end, 1])]
    u = solve_plane(mesh, e, nu, np.concatenate([2 * left, 2 * base + 1]), edge_force(mesh, end, np.ones(len(end))))
    rim = [int(np.argmin(np.hypot(mesh.nodes[:, 0] - r * np.cos(a), mesh.nodes[:, 1] - r * np.sin(a)))) for a in
           np.concatenate([first, second[1:]])]  # fmt: skip
    return float(edge_stress(mesh, u, np.array(rim), e).max()) * (width - diameter) / width


def built_in_turn(depth: float, wide: float, e_mpa: float, poisson: float) -> float:
    """Turn per unit moment and unit thickness of a bar's root built into a wide body, beyond the bar's own bending.

    The body is a block ``wide`` across and half as deep, held at its back; the bar is long enough for its end not to matter.
    """
    long = 3.0 * depth
    half = depth / 2
    y_bar = np.linspace(-half, half, 17)
    out = half + graded(0.0, wide / 2 - half, 8, 12.0)
    y = np.concatenate([-out[::-1][:-1], y_bar, out[1:]])
    bar = block(np.repeat(graded(0.0, long, 12, 10.0)[:, None], len(y_bar), axis=1), np.repeat(y_bar[None, :], 25, axis=0))
    back = -graded(0.0, wide / 2, 12, 20.0)[::-1]
    body = block(np.repeat(back[:, None], len(y), axis=1), np.repeat(y[None, :], len(back), axis=0))
    mesh = joined([body, bar])
    held = np.flatnonzero(mesh.nodes[:, 0] < back[0] + 1e-6)
    end = np.flatnonzero(mesh.nodes[:, 0] > long - 1e-6)
    end = end[np.argsort(mesh.nodes[end, 1])]
    second = depth**3 / 12
    force = edge_force(mesh, end, mesh.nodes[end, 1] / second)
    u = solve_plane(mesh, e_mpa, poisson, np.concatenate([2 * held, 2 * held + 1]), -force)
    turned = float(np.polyfit(mesh.nodes[end, 1], -u[end, 0], 1)[0])
    return abs(turned) - long / (e_mpa * second)
