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

from fravik.structure.planestress import block, graded, joined, shape_functions

from .solids.extruded import Extruded, graded_levels, isotropic_stiffness, line_functions, solve

RADIUS_OVER_NARROW = np.array([0.02, 0.05, 0.1, 0.2, 0.4, 0.8])
RADIUS_OVER_THICK = np.array([0.03, 0.06, 0.12, 0.25, 0.5, 1.0, 2.5])
WIDE_OVER_NARROW = np.array([1.08, 1.25, 1.6, 2.5])
POISSON = 0.36


def flatwise_model(radius: float, narrow: float, wide: float, thick: float, fine: int = 5, layers: int = 7) -> float:
    """Stress concentration of a stepped flat bar bent out of its plane, on the narrow bar's nominal stress."""
    e = 1000.0
    d, big, h = narrow / 2, wide / 2, (wide - narrow) / 2
    turn = min(1.0, h / radius)
    angle = np.linspace(0, np.arccos(1 - turn), 4 * fine + 1)
    neck = 1.5 * max(narrow, thick)
    steps = 6 + round(2 * np.log10(max(neck / radius, 1.0)))
    xs = np.concatenate([neck - graded(0, neck, steps, min(neck / radius * 6, 400.0))[::-1], neck + radius * np.sin(angle)[1:]])
    top = np.where(xs <= neck, d, d + radius - np.sqrt(np.maximum(radius**2 - np.maximum(xs - neck, 0) ** 2, 0)))
    t = 1 - graded(0, 1, fine, min(d / radius * 6, 80.0))[::-1]
    x_end, edge = float(xs[-1]), float(top[-1]) * t
    far = graded(x_end, x_end + 1.5 * max(wide, thick), steps, min(neck / radius * 6, 400.0))
    ys = edge
    if big - edge[-1] > 1e-9:
        ys = np.concatenate([edge, edge[-1] + graded(0, big - edge[-1], 4, 8.0)[1:]])
    blocks = [block(np.repeat(xs[:, None], len(t), axis=1), top[:, None] * t[None, :]),
              block(np.repeat(far[:, None], len(ys), axis=1), np.repeat(ys[None, :], len(far), axis=0))]  # fmt: skip
    plane = joined(blocks)
    levels = graded_levels(thick / 2, layers, radius / 4)
    solid = Extruded(plane, levels)
    x, y = plane.nodes.T

    def line(mask: np.ndarray) -> np.ndarray:
        found = np.flatnonzero(mask)
        return found[np.argsort(y[found])]

    left, right = line(x < 1e-7), line(x > far[-1] - 1e-6)
    share = levels / levels[-1]
    force = solid.end_force(right, share * narrow / wide) - solid.end_force(left, share)
    middle = np.flatnonzero(y < 1e-8)
    base = np.arange(solid.count)
    every_middle = (np.arange(len(levels))[:, None] * solid.count + middle).ravel()
    ends = middle[[np.argmin(x[middle]), np.argmax(x[middle])]]
    fixed = np.unique(np.concatenate([3 * base, 3 * base + 1, 3 * every_middle + 1, 3 * ends + 2]))
    u = solve(solid.stiffness(isotropic_stiffness(e, POISSON)), fixed, force).reshape(len(levels), solid.count, 3)
    # where the arc ends its elements have no corner left; the peak lies far from there
    peak = (xs > neck - radius) & (xs < neck + radius * np.sin(np.radians(55.0)))
    rim = np.array([int(np.argmin(np.hypot(x - a, y - b))) for a, b in zip(xs[peak], top[peak], strict=True)])
    return float(wall_stress(solid, u, rim, isotropic_stiffness(e, POISSON)).max())


def wall_stress(solid: Extruded, u: np.ndarray, rim: np.ndarray, c: np.ndarray) -> np.ndarray:
    """Largest principal stress at the nodes of a wall (levels, rim), from the elements' own strains there, averaged."""
    spot = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1), (0, -1), (1, 0), (0, 1), (-1, 0)], dtype=float)
    order = {int(n): k for k, n in enumerate(rim)}
    total = np.zeros((len(solid.levels), len(rim), 6))
    many = np.zeros((len(solid.levels), len(rim), 1))
    touching = solid.plane.elements[np.isin(solid.plane.elements, rim).any(axis=1)]
    for element in touching:
        place = solid.plane.nodes[element]
        for a, node in enumerate(element):
            if int(node) not in order:
                continue
            n2, g = shape_functions(*spot[a])
            grad = np.linalg.solve(g @ place, g)
            for layer in range(solid.layers):
                z, moved = solid.levels[2 * layer : 2 * layer + 3], u[2 * layer : 2 * layer + 3, element]
                for i, s in enumerate((-1.0, 0.0, 1.0)):
                    n1, d1 = line_functions(s)
                    slope = np.stack([np.einsum("l,a,lac->c", n1, grad[0], moved), np.einsum("l,a,lac->c", n1, grad[1], moved),
                                      np.einsum("l,a,lac->c", d1 / float(d1 @ z), n2, moved)])  # fmt: skip
                    x, y, w = slope
                    strain = np.array([x[0], y[1], w[2], y[2] + w[1], x[2] + w[0], x[1] + y[0]])
                    total[2 * layer + i, order[int(node)]] += c @ strain
                    many[2 * layer + i, order[int(node)]] += 1
    s6 = total / np.maximum(many, 1)
    tensor = s6[..., [[0, 5, 4], [5, 1, 3], [4, 3, 2]]]
    return np.asarray(np.linalg.eigvalsh(tensor).max(axis=-1))


def _one(pair: tuple[float, float, float]) -> float:
    r, t, w = pair
    return flatwise_model(r, 1.0, w, r / t)


def main() -> None:
    """Model every combination and write the table beside the other shipped data."""
    target = Path(__file__).parents[1] / "fravik" / "library" / "data" / "flatwise.npz"
    every = [(r, t, w) for r in RADIUS_OVER_NARROW for t in RADIUS_OVER_THICK for w in WIDE_OVER_NARROW]
    with Pool(int(sys.argv[1]) if len(sys.argv) > 1 else 1) as pool:
        found = np.array(pool.map(_one, every, chunksize=2))
    table = found.reshape(len(RADIUS_OVER_NARROW), len(RADIUS_OVER_THICK), len(WIDE_OVER_NARROW))
    np.savez_compressed(target, radius=RADIUS_OVER_NARROW, thick=RADIUS_OVER_THICK, wide=WIDE_OVER_NARROW, factor=table)
    print(table.round(3))


if __name__ == "__main__":
    main()
