"""Lift and drag of four-digit sections at the low Reynolds numbers of small blades, from stall to stall and beyond.

The table (``tools/make_polars.py``) goes over thickness, camber, Reynolds number and angle, from -20 to 24 degrees; beyond, to 90 degrees
either way, by Viterna and Corrigan 1981 for a blade of the stated aspect ratio. Blunt trailing edges drag by Hoerner 1965 (base drag of a
section); the steps of a printed face are a factor on drag (see ``layersteps``).
"""

from __future__ import annotations

import importlib.resources
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import RegularGridInterpolator

Floats = NDArray[np.float64]
ASPECT = 8.0  # of a blade, where it is stalled
ANGLES_DEG = np.arange(-90.0, 90.1, 1.0)
BASE_DRAG, BASE_POWER = 0.135, 4 / 3  # Hoerner's base drag of a section: 0.135 (h/c)^(4/3) / cd^(1/3)


@dataclass(frozen=True, eq=False)
class Polars:
    """The table as it ships: over thickness, camber, log of Reynolds number and angle (t, m, r, a)."""

    thickness: Floats
    camber: Floats
    log_re: Floats
    alpha_deg: Floats
    lift: Floats
    drag: Floats
    moment: Floats


@dataclass(frozen=True, eq=False)
class SectionPolars:
    """Of n sections: lift and drag coefficients (n, r, a) over log Reynolds number (r,) and every degree of ANGLES_DEG, and the least
    angle at which lift is most (n, r), in degrees."""

    log_re: Floats
    lift: Floats
    drag: Floats
    stall_deg: Floats


@lru_cache(maxsize=1)
def polars() -> Polars:
    """Read once."""
    with importlib.resources.as_file(importlib.resources.files("fravik.library") / "data" / "polars.npz") as path, np.load(path) as f:
        return Polars(f["thickness"], f["camber"], np.log(f["reynolds"]), f["alpha_deg"], f["lift"].astype(float), f["drag"].astype(float),
                      f["moment"].astype(float))  # fmt: skip


def section_polars(thickness: Floats, camber: float, edge: Floats | None = None, rough: float = 1.0) -> SectionPolars:
    """Of sections so thick (n,) and so cambered, over their chords; ``edge`` (n,) is how thick their trailing edge is over the chord,
    ``rough`` what their faces' steps do to drag. What lies outside the table is taken at its edge."""
    table = polars()
    at = np.column_stack([np.clip(thickness, table.thickness[0], table.thickness[-1]),
                          np.full(len(thickness), np.clip(camber, table.camber[0], table.camber[-1]))])  # fmt: skip
    lift, drag = (RegularGridInterpolator((table.thickness, table.camber), v)(at) for v in (table.lift, table.drag))
    drag = drag * rough
    if edge is not None:
        drag = drag + BASE_DRAG * edge[:, None, None] ** BASE_POWER / np.maximum(drag, 5e-3) ** (1 / 3)
    inside = (table.alpha_deg >= -10) & (table.alpha_deg <= 20)
    rising = np.where(inside, lift, -np.inf)
    stall = table.alpha_deg[np.argmax(rising >= rising.max(axis=2, keepdims=True) - 0.02, axis=2)]
    return SectionPolars(table.log_re, *_beyond(table.alpha_deg, lift, drag), stall)


def _beyond(alpha_deg: Floats, lift: Floats, drag: Floats) -> tuple[Floats, Floats]:
    """To 90 degrees either way."""
    most = 1.11 + 0.018 * ASPECT
    out_l, out_d = (np.zeros((*lift.shape[:2], len(ANGLES_DEG))) for _ in range(2))
    within = np.abs(ANGLES_DEG - (alpha_deg[0] + alpha_deg[-1]) / 2) <= (alpha_deg[-1] - alpha_deg[0]) / 2
    out_l[..., within], out_d[..., within] = lift, drag
    for side, edge in ((1.0, -1), (-1.0, 0)):
        outer = ANGLES_DEG * side > alpha_deg[edge] * side
        a, s = np.radians(np.abs(ANGLES_DEG[outer])), np.radians(abs(alpha_deg[edge]))
        cl, cd = side * lift[..., edge, None], drag[..., edge, None]
        a2 = (cl - most * np.sin(s) * np.cos(s)) * np.sin(s) / np.cos(s) ** 2
        b2 = (cd - most * np.sin(s) ** 2) / np.cos(s)
        out_l[..., outer] = side * (most / 2 * np.sin(2 * a) + a2 * np.cos(a) ** 2 / np.sin(a))
        out_d[..., outer] = np.maximum(most * np.sin(a) ** 2 + b2 * np.cos(a), 0.005)
    return out_l, out_d


def section_moments(thickness: Floats, camber: Floats) -> Floats:
    """(n, r, a): moments about the quarter chord, nose up positive, over chord; beyond the table the force moves to half the chord, where
    that of a plate across the stream acts."""
    table = polars()
    at = np.column_stack([np.clip(thickness, table.thickness[0], table.thickness[-1]), np.clip(camber, table.camber[0], table.camber[-1])])
    inner = RegularGridInterpolator((table.thickness, table.camber), table.moment)(at)
    out = np.zeros((*inner.shape[:2], len(ANGLES_DEG)))
    first, last = (int(np.searchsorted(ANGLES_DEG, a)) for a in (table.alpha_deg[0], table.alpha_deg[-1]))
    out[..., first : last + 1] = inner
    across = -0.25 * (1.11 + 0.018 * ASPECT)
    for k, edge, side in ((slice(last + 1, None), last, 1.0), (slice(None, first), first, -1.0)):
        a, e = np.abs(ANGLES_DEG[k]), abs(ANGLES_DEG[edge])
        share = (a - e) / (90.0 - e)
        out[..., k] = (1 - share) * out[..., edge, None] + share * side * across
    return out
