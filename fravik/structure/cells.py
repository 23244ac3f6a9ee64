"""Geometry of one periodic cell of every core pattern, and the table of effective constants made from them.

Roads are one line wide; x is the direction the pattern is drawn along, z is upright on the plate.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import PchipInterpolator

from .homogenise import CELL_POISSON, Cell, Effective, homogenise, strengths
from .orthotropy import CARRIES_NOTHING, constants_of, turned_stiffness

Floats = NDArray[np.float64]

PATTERNS = ("lines", "grid", "triangles", "honeycomb", "gyroid", "cubic", "concentric")
DENSITIES = (0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.65, 0.8)
LAYER_OVER_LINE = 0.45
UPRIGHT_111 = np.array([[1, -1, 0], [1, 1, -2], [1, 1, 1]]) / np.sqrt([[2.0], [6.0], [3.0]])


def _bands(thick: float, whole: float, fine: int, coarse: int) -> Floats:
    """Edges over a cell with a solid band in its middle."""
    a, b = (whole - thick) / 2, (whole + thick) / 2
    return np.unique(np.concatenate([np.linspace(0, a, coarse + 1), np.linspace(a, b, fine + 1), np.linspace(b, whole, coarse + 1)]))


def _in_band(edges: Floats, thick: float) -> NDArray[np.bool_]:
    mid = (edges[1:] + edges[:-1]) / 2
    return np.asarray(np.abs(mid - edges[-1] / 2) < thick / 2)


def lines_cell(density: float) -> Cell:
    """Parallel roads, turned a quarter every layer: a pile of logs bonded where they cross."""
    s = 1.0 / density
    x = _bands(1.0, s, 4, 6)
    inside = _in_band(x, 1.0)
    z = np.linspace(0, 2 * LAYER_OVER_LINE, 5)
    solid = np.zeros((len(x) - 1, len(x) - 1, 4))
    solid[:, inside, :2] = 1.0
    solid[inside, :, 2:] = 1.0
    return Cell(x, x, z, solid)


def grid_cell(density: float) -> Cell:
    """Two families of walls crossing in every layer."""
    s = 1.0 / (1.0 - math.sqrt(1.0 - density))
    x = _bands(1.0, s, 6, 10)
    inside = _in_band(x, 1.0)
    solid = (inside[:, None] | inside[None, :]).astype(float)[:, :, None]
    return Cell(x, x, np.array([0.0, 1.0]), solid)


def concentric_cell(density: float) -> Cell:
    """Walls side by side along x, tied to nothing but a film a ten-thousandth as stiff."""
    y = _bands(1.0, 1.0 / density, 4, 4)
    solid = np.where(_in_band(y, 1.0), 1.0, 0.0)[None, :, None]
    return Cell(np.array([0.0, 1.0]), y, np.array([0.0, 1.0]), solid)


def cubic_cell(density: float) -> Cell:
    """Cubes standing on a corner; here in the cubes' own axes: three families of plates."""
    s = 1.0 / (1.0 - (1.0 - density) ** (1 / 3))
    x = _bands(1.0, s, 3, 5)
    i = _in_band(x, 1.0)
    solid = (i[:, None, None] | i[None, :, None] | i[None, None, :]).astype(float)
    return Cell(x, x, x, solid)


def _pixels(width: float, height: float, columns: int, covered: Callable[[Floats, Floats], Floats]) -> tuple[Floats, Floats, Floats]:
    """Share of solid per pixel from a signed distance (negative inside), smeared over one pixel."""
    rows = max(8, round(columns * height / width))
    x, y = np.linspace(0, width, columns + 1), np.linspace(0, height, rows + 1)
    xc, yc = np.meshgrid((x[1:] + x[:-1]) / 2, (y[1:] + y[:-1]) / 2, indexing="ij")
    pixel = width / columns
    return x, y, np.clip(0.5 - covered(xc, yc) / pixel, 0.0, 1.0)


def _fitted(density: float, low: float, high: float, make: Callable[[float], tuple[Floats, Floats, Floats]]) -> Cell:
    """The cell whose wall thickness gives the density."""
    from scipy.optimize import brentq  # loads much else: not while the window starts

    thick = brentq(lambda t: float(make(t)[2].mean()) - density, low, high, xtol=1e-6)
    x, y, share = make(thick)
    return Cell(x, y, np.array([0.0, x[1] - x[0]]), share[:, :, None])


def triangles_cell(density: float) -> Cell:
    """Three families of walls at 0, 60 and 120 degrees meeting in points; triangle side 1."""
    height = math.sqrt(3.0)
    d = height / 2

    def distance(x: Floats, y: Floats) -> Floats:
        out = np.full_like(x, np.inf)
        for angle in (0.0, math.pi / 3, 2 * math.pi / 3):
            across = -math.sin(angle) * x + math.cos(angle) * y
            out = np.minimum(out, np.abs(across - d * np.round(across / d)))
        return out

    columns = _columns(density * d / 3.3, 1.0)
    return _fitted(density, 1e-3, 0.8, lambda t: _pixels(1.0, height, columns, lambda x, y: distance(x, y) - t / 2))


def honeycomb_cell(density: float) -> Cell:
    """Regular hexagons of side 1 with a corner up; walls of one thickness."""
    w = math.sqrt(3.0)
    centres = np.array([(0, 0), (w, 0), (w / 2, 1.5), (0, 3), (w, 3), (-w / 2, 1.5), (1.5 * w, 1.5)])
    normals = [(math.cos(a), math.sin(a)) for a in (0.0, math.pi / 3, 2 * math.pi / 3)]

    def distance(x: Floats, y: Floats) -> Floats:
        out = np.full_like(x, -np.inf)
        for cx, cy in centres:
            reach = np.max([np.abs((x - cx) * nx + (y - cy) * ny) for nx, ny in normals], axis=0)
            out = np.maximum(out, w / 2 - reach)
        return out

    columns = _columns(density * w / 2, w)
    return _fitted(density, 1e-3, 1.6, lambda t: _pixels(w, 3.0, columns, lambda x, y: distance(x, y) - t / 2))


def _columns(thick: float, width: float) -> int:
    """Pixels across a cell so that a wall has about ten."""
    return int(min(420, max(96, 10 * width / max(thick, 1e-6)))) // 2 * 2


def gyroid_cell(density: float) -> Cell:
    """The gyroid as a sheet of even thickness about its zero surface; cell side 1."""
    n = 72 if density <= 0.1 else 56 if density <= 0.3 else 36
    edges = np.linspace(0, 1, n + 1)
    c = 2 * math.pi * (edges[1:] + edges[:-1]) / 2
    x, y, z = np.meshgrid(c, c, c, indexing="ij")
    g = np.sin(x) * np.cos(y) + np.sin(y) * np.cos(z) + np.sin(z) * np.cos(x)
    gx = np.cos(x) * np.cos(y) - np.sin(z) * np.sin(x)
    gy = np.cos(y) * np.cos(z) - np.sin(x) * np.sin(y)
    gz = np.cos(z) * np.cos(x) - np.sin(y) * np.sin(z)
    away = np.abs(g) / np.maximum(2 * math.pi * np.sqrt(gx**2 + gy**2 + gz**2), 1e-3)

    def share(t: float) -> Floats:
        return np.clip(0.5 - (away - t / 2) * n, 0.0, 1.0)

    from scipy.optimize import brentq  # loads much else: not while the window starts

    thick = brentq(lambda t: float(share(t).mean()) - density, 1e-4, 2.0, xtol=1e-6)
    return Cell(edges, edges, edges, share(thick))


CELLS: dict[str, Callable[[float], Cell]] = {
    "lines": lines_cell, "grid": grid_cell, "triangles": triangles_cell, "honeycomb": honeycomb_cell,
    "gyroid": gyroid_cell, "cubic": cubic_cell, "concentric": concentric_cell,
}  # fmt: skip


def effective_constants(pattern: str, density: float) -> tuple[Floats, Floats]:
    """(E1 E2 E3 G23 G13 G12 nu12 nu13 nu23, all over the solid's) (9,) and strengths over the solid's (6,) of a pattern."""
    effective = homogenise(CELLS[pattern](density))
    turn = UPRIGHT_111 if pattern == "cubic" else np.eye(3)
    stiffness = turned_stiffness(effective.stiffness, turn)
    if pattern == "cubic":
        # cubes above one another are turned half round at every layer of cubes: their couplings cancel
        half = np.diag([-1.0, -1.0, 1.0])
        stiffness = (stiffness + turned_stiffness(stiffness, half)) / 2
    if pattern == "honeycomb":
        # drawn at all six directions of the hexagon alike
        quarter = np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
        stiffness = (stiffness + turned_stiffness(stiffness, quarter)) / 2
    soft = 1e-7 * np.trace(stiffness) / 6
    k = constants_of(np.linalg.inv(stiffness + soft * np.eye(6)))
    g = 1 / (2 * (1 + 0.36))
    ratios = np.array([k.e1_mpa, k.e2_mpa, k.e3_mpa, k.g23_mpa / g, k.g13_mpa / g, k.g12_mpa / g, k.nu12, k.nu13, k.nu23])
    softened = Effective(effective.stiffness + soft * np.eye(6), effective.stress, effective.volume)
    return ratios, strengths(softened, turn)


def make_table(say: Callable[[str], None] = lambda _: None) -> dict[str, Floats]:
    """All patterns at all densities: arrays ``density``, and per pattern ``<name>_elastic`` (n, 9), ``<name>_strength`` (n, 6)."""
    out: dict[str, Floats] = {"density": np.array(DENSITIES)}
    for pattern in PATTERNS:
        elastic, strong = [], []
        for density in DENSITIES:
            e, s = effective_constants(pattern, density)
            say(f"{pattern:11s} {density:.2f}  E {e[0]:.4f} {e[1]:.4f} {e[2]:.4f}  G12 {e[5]:.4f} G13 {e[4]:.4f}  S {s[0]:.4f} {s[2]:.4f}")
            elastic.append(e)
            strong.append(s)
        out[f"{pattern}_elastic"], out[f"{pattern}_strength"] = np.array(elastic), np.array(strong)
    return out


STEPS = 401
NEVER = 1e6  # of the solid's strength, where a core carries nothing


def dense(table: dict[str, Floats]) -> dict[str, Floats]:
    """The table drawn out to ``STEPS`` even densities from empty to solid by monotone cubics; the solved points go along as ``solved_*``.

    Empty has no stiffness and no strength, solid has all of it. A way in which a pattern carries nothing never breaks; where towards the
    solid it begins to carry, its strength grows from nothing with its stiffness.
    """
    fine = np.linspace(0.0, 1.0, STEPS)
    out: dict[str, Floats] = {"density": fine, "solved_density": table["density"]}
    for pattern in PATTERNS:
        for kind, nothing, whole in (
            ("elastic", np.zeros(6), np.concatenate([np.ones(6), np.full(3, CELL_POISSON)])),
            ("strength", np.zeros(6), np.ones(6)),
        ):
            solved = table[f"{pattern}_{kind}"]
            idle = table[f"{pattern}_elastic"][:, :6] <= CARRIES_NOTHING
            first = np.concatenate([nothing, solved[0, 6:]])
            x = np.concatenate([[0.0], table["density"], [1.0]])
            known = np.where(idle, 0.0, solved) if kind == "strength" else solved
            found = PchipInterpolator(x, np.vstack([first, known, whole]))(fine)
            if kind == "strength":
                still = idle.any(axis=0) & (out[f"{pattern}_elastic"][:, :6] <= CARRIES_NOTHING) & (fine > 0)[:, None]
                found = np.where(still, NEVER, found)
            out[f"{pattern}_{kind}"] = found
            out[f"solved_{pattern}_{kind}"] = solved
    return out
