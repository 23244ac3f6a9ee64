"""Sections that fall into pieces, such as the two rails beside a pocket: what a run of them gives, from both of its limits.

A long run twists as free rails do: each by itself, and all of them by bending up and down between the ends of the run. A short one
twists as the unbroken section does. Between the two the flexibilities join as the p-th power mean, so that cutting material away
never stiffens a part. Rails shear, and give a little where they grow out of the whole; the whole beside a cut carries its load only
from a way off (shear lag). The four factors are calibrated on solid models of pocketed bars (``tools/solids``, docs/section.md).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .sectionfe import Grids, SectionFE, divided, solve_sections

JOIN_POWER = 2.2
ROOT_GIVE_TWIST = 0.82  # added to the run's length, in widths of a rail
ROOT_GIVE_SHEAR = 1.17
LAG_TWIST = 1.13  # whole section beside the cut that hardly works, in widths of the gap, at each end
LAG_BENDING = 0.325


@dataclass(frozen=True)
class Divided:
    """What the divided ones among a part's sections are worth, each array (positions,).

    ``gj_nmm2`` and ``flex_`` replace those of the pieces alone; ``give_`` (v and r) is how much more the run bends than its sections;
    ``local_`` is the bending of a rail about its own middle per unit of shear (lever times what its own stiffness leaves over).
    """

    gj_nmm2: Floats
    flex_v: Floats
    flex_r: Floats
    give_v: Floats
    give_r: Floats
    local_v: Floats
    local_r: Floats


def _along_v(g: Grids) -> NDArray[np.bool_]:
    """Sections (S,) whose pieces lie side by side along v."""
    solid = (g.gv_mpa + g.gr_mpa) > 0
    return np.asarray(_gap(solid.any(axis=1), g.v_mm) >= _gap(solid.any(axis=2), g.r_mm))


def _gap(filled: Any, edges: Floats) -> Floats:
    """Width of the empty lines between the first and the last full one; ``filled`` (S, n)."""
    there = np.asarray(filled, dtype=bool)
    seen = np.logical_or.accumulate(there, axis=1) & np.logical_or.accumulate(there[:, ::-1], axis=1)[:, ::-1]
    return np.asarray((np.diff(edges, axis=1) * (seen & ~there)).sum(axis=1))


def unbroken(g: Grids) -> Grids:
    """The sections with their gaps filled by the plastic beside them."""
    solid = (g.gv_mpa + g.gr_mpa) > 0
    side = _along_v(g)
    axis_of = {2: side, 1: ~side}
    out = []
    for m in (g.e_mpa, g.gv_mpa, g.gr_mpa):
        full = m.copy()
        for axis, mine in axis_of.items():
            mean = m.sum(axis=axis, keepdims=True) / np.maximum(solid.sum(axis=axis, keepdims=True), 1)
            full = np.where(mine[:, None, None] & ~solid, mean, full)
        out.append(full)
    return replace(g, e_mpa=out[0], gv_mpa=out[1], gr_mpa=out[2])


def whole_bending(g: Grids) -> tuple[Floats, Floats]:
    """EI of each section about its own middle, for bending along v and along r (S,)."""
    a, b = np.diff(g.v_mm, axis=1)[:, None, :], np.diff(g.r_mm, axis=1)[:, :, None]
    v, r = (g.v_mm[:, 1:] + g.v_mm[:, :-1])[:, None, :] / 2, (g.r_mm[:, 1:] + g.r_mm[:, :-1])[:, :, None] / 2
    ea = g.e_mpa * a * b
    whole = np.maximum(ea.sum(axis=(1, 2)), 1e-9)
    cv, cr = (ea * v).sum(axis=(1, 2)) / whole, (ea * r).sum(axis=(1, 2)) / whole
    along_v = (ea * ((v - cv[:, None, None]) ** 2 + a * a / 12)).sum(axis=(1, 2))
    along_r = (ea * ((r - cr[:, None, None]) ** 2 + b * b / 12)).sum(axis=(1, 2))
    return along_v, along_r


def run_lengths(positions: Floats, inside: NDArray[np.bool_]) -> tuple[Floats, Floats]:
    """For positions in a run of divided sections: the run's length and the distance from its middle; else 0."""
    length, lever = np.zeros(len(positions)), np.zeros(len(positions))
    i = 0
    while i < len(positions):
        if not inside[i]:
            i += 1
            continue
        j = i
        while j + 1 < len(positions) and inside[j + 1]:
            j += 1
        low = (positions[i - 1] + positions[i]) / 2 if i > 0 else positions[i]
        high = (positions[j] + positions[j + 1]) / 2 if j + 1 < len(positions) else positions[j]
        length[i : j + 1] = max(high - low, 1.0)
        lever[i : j + 1] = positions[i : j + 1] - (low + high) / 2
        i = j + 1
    return length, lever


@dataclass(frozen=True)
class Filled:
    """The divided ones (``cut``) among some sections, as they are, and with their gaps filled."""

    cut: NDArray[np.int64]
    open: Grids
    grids: Grids
    fe: SectionFE


def solve_filled(g: Grids) -> tuple[SectionFE, Filled]:
    """All sections, and the divided ones once more with their gaps filled, in one sweep."""
    n, cut = len(g.e_mpa), divided(g)
    some = Grids(**{k: v[cut] for k, v in vars(g).items()})
    full = unbroken(some)
    both = solve_sections(Grids(**{k: np.concatenate([v, vars(full)[k]]) for k, v in vars(g).items()})) if len(cut) else solve_sections(g)
    return both.take(0, n), Filled(cut, some, full, both.take(n, n + len(cut)))


def divided_sections(
    positions_mm: Floats, fe: SectionFE, filled: Filled, of: NDArray[np.int64], gj: Floats, flex_v: Floats, flex_r: Floats
) -> Divided:
    """Put runs of divided sections right. ``fe`` and ``filled`` are the solved sections, ``of`` which of them stands for each position."""
    n = len(positions_mm)
    out = Divided(gj.copy(), flex_v.copy(), flex_r.copy(), np.ones(n), np.ones(n), np.zeros(n), np.zeros(n))
    at = np.flatnonzero(fe.pieces[of] > 1)
    if not len(at):
        return out
    cut, some, full, solved = filled.cut, filled.open, filled.grids, filled.fe
    k = np.searchsorted(cut, of[at])
    ratio = gj[at] / np.maximum(fe.gj_nmm2[of[at]], 1e-12)
    length, lever = run_lengths(positions_mm, fe.pieces[of] > 1)
    length, lever = length[at], lever[at]

    side = _along_v(some)[k]
    gap = np.where(side, _gap((some.gv_mpa > 0).any(axis=1), some.v_mm)[k], _gap((some.gv_mpa > 0).any(axis=2), some.r_mm)[k])
    across = np.where(side, np.ptp(some.v_mm, axis=1)[k], np.ptp(some.r_mm, axis=1)[k])
    rail = np.maximum(across - gap, 0.0) / np.maximum(fe.pieces[cut][k], 1)

    own_v, own_r = fe.own_v_nmm2[cut][k], fe.own_r_nmm2[cut][k]
    bends, shears = np.where(side, own_r, own_v), np.where(side, fe.flex_r[cut][k], fe.flex_v[cut][k])
    lever_sq = fe.apart_nmm4[cut][k] / np.maximum(bends, 1e-9)
    swing = lever_sq / ((length + ROOT_GIVE_TWIST * rail) ** 2 / (12 * np.maximum(bends, 1e-9)) + shears)
    limit = solved.gj_nmm2[k]
    # the filler is an average of what stands beside it; a cut never twists stiffer than it
    apart = np.minimum(fe.gj_nmm2[cut][k] + swing, 1e6 * limit)
    joined = (limit**-JOIN_POWER + apart**-JOIN_POWER) ** (-1 / JOIN_POWER)
    lag = 2 * gap / length
    out.gj_nmm2[at] = ratio / (1 / joined + LAG_TWIST * lag * np.maximum(1 / joined - 1 / limit, 0.0))

    here, whole = whole_bending(some), whole_bending(full)
    for i, (own, flex, give, local, before) in enumerate((
        (own_v, out.flex_v, out.give_v, out.local_v, solved.flex_v[k]), (own_r, out.flex_r, out.give_r, out.local_r, solved.flex_r[k]),
    )):  # fmt: skip
        soft = (1 - np.minimum(own / np.maximum(here[i][k], 1e-9), 1.0)) / np.maximum(own, 1e-9)
        flex[at] = np.maximum(flex[at], before) + (length + ROOT_GIVE_SHEAR * rail) ** 2 / 12 * soft
        give[at] = 1 + LAG_BENDING * lag * np.maximum(1 - here[i][k] / np.maximum(whole[i][k], 1e-9), 0.0)
        local[at] = lever * soft
    return out
