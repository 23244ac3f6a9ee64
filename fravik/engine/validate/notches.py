"""Stress raisers against published fits and against fine models."""

from __future__ import annotations

import math

from fravik.structure.planestress import hole_model, shoulder_model
from fravik.structure.raisers import curved_bar, hole_tension, shoulder_bending, shoulder_tension

from .check import Check

# fits of stepped flat bars in the order C1..C4, for 0.1 <= h/r <= 2 and 2 <= h/r <= 20 (Young and Budynas, Roark's Formulas)
_BENDING = (
    ((1.007, 1.000, -0.031), (-0.270, -2.404, 0.749), (0.677, 1.133, -0.904), (-0.414, 0.271, 0.186)),
    ((1.042, 0.982, -0.036), (-3.599, 1.619, -0.431), (6.084, -5.607, 1.158), (-2.527, 3.006, -0.691)),
)
_TENSION = (
    ((1.007, 1.000, -0.031), (-0.114, -0.585, 0.314), (0.241, -0.992, -0.271), (-0.134, 0.577, -0.012)),
    ((1.042, 0.982, -0.036), (-0.074, -0.156, -0.010), (-3.418, 1.220, -0.005), (3.450, -2.046, 0.051)),
)


def published(table: tuple[tuple[tuple[float, ...], ...], ...], radius: float, narrow: float, wide: float) -> float:
    """A published fit of a shoulder's factor."""
    h = (wide - narrow) / 2
    rows = table[0] if h / radius <= 2.0 else table[1]
    c = [a + b * (h / radius) ** 0.5 + k * h / radius for a, b, k in rows]
    x = 2 * h / wide
    return c[0] + c[1] * x + c[2] * x**2 + c[3] * x**3


def _shoulders() -> list[Check]:
    out = []
    for wide, r in ((1.1, 0.15), (1.2, 0.15), (1.5, 0.1), (2.0, 0.1), (2.0, 0.3)):
        for name, table, factor in (("bending", _BENDING, shoulder_bending), ("tension", _TENSION, shoulder_tension)):
            exact = published(table, 10 * r, 10, 10 * wide)
            what = f"shoulder fillet in {name}, D/d {wide:g}, r/d {r:g}"
            out.append(Check(what, "published fit", exact, factor(10 * r, 10, 10 * wide), 0.05, "published"))
    # between the table's own places
    for wide, r in ((1.27, 0.04), (1.7, 0.15), (2.4, 0.07)):
        for name, bending, factor in (("bending", True, shoulder_bending), ("tension", False, shoulder_tension)):
            exact = shoulder_model(10 * r, 10, 10 * wide, bending)
            what = f"shoulder fillet in {name}, D/d {wide:g}, r/d {r:g}"
            out.append(Check(what, "fine plane model", exact, factor(10 * r, 10, 10 * wide), 0.02, "another method"))
    return out


def _holes() -> list[Check]:
    x = 0.3
    howland = 3.000 - 3.140 * x + 3.667 * x**2 - 1.527 * x**3
    return [
        Check("hole in a strip, d/W 0.3, net section", "Howland fit", howland, hole_tension(3.0, 10.0), 0.05, "published"),
        Check(
            "hole in a strip, d/W 0.3, net section", "fine model", hole_model(3.0, 10.0), hole_tension(3.0, 10.0), 0.05, "another method"
        ),
        Check(
            "hole in a strip, d/W 0.5, net section", "fine model", hole_model(5.0, 10.0), hole_tension(5.0, 10.0), 0.05, "another method"
        ),
    ]


def _curved() -> list[Check]:
    # thick curved bar in pure bending, exact plane stress (Timoshenko and Goodier): stress at the inside over 6M/w^2
    out = []
    for inner in (4.0, 8.0):
        a, b = inner, inner + 4.0
        n = (b * b - a * a) ** 2 - 4 * a * a * b * b * math.log(b / a) ** 2
        # hoop stress at r = a from a unit moment
        exact = 4 / n * (-a * a * b * b / (a * a) * math.log(b / a) + b * b * math.log(a / b) + b * b - a * a)
        out.append(
            Check(
                f"inside of a bent bar, radius {inner:g} of width 4",
                "curved bar, exact",
                abs(exact) / (6 / 16),
                curved_bar(inner, 4.0),
                0.03,
            )
        )
    return out


GROUPS = (_shoulders, _holes, _curved)
