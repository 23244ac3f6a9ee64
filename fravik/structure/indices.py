"""Stress over strength at points of a member's sections, by failure kind.

Stress is turned into the zone's own axes. *Road pull* acts along the roads, *road-to-road* across them in the layer (quadratic with
in-plane shear; in covers for each ply), *layer split* and *layer shear* between layers (quadratic together, named by the greater part),
*core crush* in the core, *wall buckling* where thin faces are pressed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from fravik.printing.zones import Floats

from .failure import BUCKLE, CROSS, CRUSH, ROAD, SLIDE, SPLIT, TOGETHER
from .printed import CORE, COVER, WALL, Strengths

PLASTIC_KINDS = 6  # the first of KINDS, up to wall buckling


@dataclass(frozen=True)
class Limits:
    """What stress at each position of a row has to be set against. Rows over xx, xv, xr, each of a stress in a zone's own axes over its
    strength: ``wall`` (S, 6, 3) along the road, across it, in its plane's shear, apart and sliding both ways; ``cover`` (S, 9, 3) the first
    three for either ply, then the others; ``core`` (S, 6, 3) xx, yy, zz, yz, xz, xy. ``buckling`` (2, S) are MPa of wall and cover."""

    wall: Floats
    cover: Floats
    core: Floats
    buckling: Floats

    def at(self, position: int) -> Limits:
        """Those of one position alone."""
        one = slice(position, position + 1)
        return Limits(self.wall[one], self.cover[one], self.core[one], np.ascontiguousarray(self.buckling[:, one]))


def limits(strengths: Strengths, to_zone: Floats, to_ply: Floats, layer: Floats, buckling_mpa: Floats) -> Limits:
    """From the ways into the zones' axes, ``to_zone`` (3, S or 1, 6, 3) and ``to_ply`` (2, 3, 3); ``layer`` (S,) raises what acts between
    layers."""
    n, st = len(layer), strengths
    turn = np.broadcast_to(to_zone, (3, n, 6, 3))
    plane = np.array([st.road_mpa, st.cross_mpa, st.plane_shear_mpa])[:, None]
    between = (turn[..., 2:5, :] / np.array([st.layer_mpa, st.layer_shear_mpa, st.layer_shear_mpa])[:, None]) * layer[:, None, None]
    flat = turn[..., [0, 1, 5], :]
    plies = (to_ply @ flat[COVER][:, None] / plane).reshape(n, 6, 3)
    return Limits(
        np.concatenate([flat[WALL] / plane, between[WALL]], axis=1), np.concatenate([plies, between[COVER]], axis=1),
        turn[CORE] / np.array(st.core_mpa)[:, None], np.ascontiguousarray(np.broadcast_to(buckling_mpa[:, None], (2, n))),
    )  # fmt: skip


Stress = tuple[Floats, Floats, Floats]  # xx, xv, xr, each (3 zones, S, points, cases)


def zone_indices(limits: Limits, stress: Stress) -> Floats:
    """Stress over strength of the plastic's kinds at every point, (6 kinds, 3 zones, S, points, cases); 0 where a kind does not act.

    Kinds in the order of KINDS up to wall buckling.
    """
    return np.sqrt(_every(*_arrays(limits, stress)))


def worst_indices(limits: Limits, stress: Stress) -> tuple[Floats, Floats]:
    """The same at each kind's worst point, (6 kinds, S, cases), and there the squares of the parts of the two strengths that act together
    in the kinds of TOGETHER, (2, 4, S, cases)."""
    square, first = _worst(*_arrays(limits, stress))
    both = list(TOGETHER)
    return np.sqrt(square), np.stack([first[both], np.maximum(square[both] - first[both], 0.0)])


def _arrays(limits: Limits, stress: Stress) -> tuple[Floats, ...]:
    every = limits.wall, limits.cover, limits.core, limits.buckling, *stress
    return tuple(np.ascontiguousarray(x) for x in every)


@njit(cache=True)
def _over(rows: Floats, s: int, k: int, xx: float, xv: float, xr: float) -> float:
    return rows[s, k, 0] * xx + rows[s, k, 1] * xv + rows[s, k, 2] * xr


@njit(cache=True)
def _square(rows: Floats, s: int, k: int, xx: float, xv: float, xr: float) -> float:
    own = _over(rows, s, k, xx, xv, xr)
    return own * own


@njit(cache=True)
def _between(rows: Floats, s: int, k: int, xx: float, xv: float, xr: float) -> tuple[float, float]:
    """Squares of what parts layers and of what slides them."""
    lift = max(_over(rows, s, k, xx, xv, xr), 0.0)
    return lift * lift, _square(rows, s, k + 1, xx, xv, xr) + _square(rows, s, k + 2, xx, xv, xr)


@njit(cache=True)
def in_wall(rows: Floats, s: int, xx: float, xv: float, xr: float) -> tuple[float, float, float, float, float]:
    """Squares of a wall's indices along roads and across them, of the pull in the latter, and of what parts and slides layers."""
    pulled = _square(rows, s, 1, xx, xv, xr)
    lift, slide = _between(rows, s, 3, xx, xv, xr)
    return _square(rows, s, 0, xx, xv, xr), pulled + _square(rows, s, 2, xx, xv, xr), pulled, lift, slide


@njit(cache=True)
def in_cover(rows: Floats, s: int, xx: float, xv: float, xr: float) -> tuple[float, float, float, float, float]:
    """The same in a cover, of whose two plies the worse counts."""
    road = max(_square(rows, s, 0, xx, xv, xr), _square(rows, s, 3, xx, xv, xr))
    pulled, other = _square(rows, s, 1, xx, xv, xr), _square(rows, s, 4, xx, xv, xr)
    across, second = pulled + _square(rows, s, 2, xx, xv, xr), other + _square(rows, s, 5, xx, xv, xr)
    if second > across:
        across, pulled = second, other
    lift, slide = _between(rows, s, 6, xx, xv, xr)
    return road, across, pulled, lift, slide


@njit(cache=True)
def in_core(rows: Floats, s: int, xx: float, xv: float, xr: float) -> tuple[float, float]:
    """Squares of a core's index and of what its walls' plane has in it."""
    level = _square(rows, s, 0, xx, xv, xr) + _square(rows, s, 1, xx, xv, xr) + _square(rows, s, 5, xx, xv, xr)
    rest = _square(rows, s, 2, xx, xv, xr) + _square(rows, s, 3, xx, xv, xr) + _square(rows, s, 4, xx, xv, xr)
    return level + rest, level


@njit(cache=True)
def _buckled(xx: float, limit: float) -> float:
    pressed = max(-xx, 0.0) / limit
    return pressed * pressed


@njit(cache=True)
def _every(wall: Floats, cover: Floats, core: Floats, buckling: Floats, xx: Floats, xv: Floats, xr: Floats) -> Floats:
    """Squares of all indices."""
    zones, positions, points, cases = xx.shape
    out = np.zeros((PLASTIC_KINDS, zones, positions, points, cases))
    for zone in range(zones):
        for s in range(positions):
            for p in range(points):
                for c in range(cases):
                    x, v, r = xx[zone, s, p, c], xv[zone, s, p, c], xr[zone, s, p, c]
                    if zone == CORE:
                        out[CRUSH, zone, s, p, c], _ = in_core(core, s, x, v, r)
                        continue
                    road, cross, _, lift, slide = in_wall(wall, s, x, v, r) if zone == WALL else in_cover(cover, s, x, v, r)
                    out[ROAD, zone, s, p, c], out[CROSS, zone, s, p, c] = road, cross
                    out[SPLIT if lift >= slide else SLIDE, zone, s, p, c] = lift + slide
                    out[BUCKLE, zone, s, p, c] = _buckled(x, buckling[zone, s])
    return out


@njit(cache=True)
def keep_worse(worst: Floats, first: Floats, kind: int, s: int, c: int, square: float, part: float) -> None:
    """The greater of what is known and this; what is not a number stays so."""
    if square > worst[kind, s, c] or square != square:
        worst[kind, s, c], first[kind, s, c] = square, part


@njit(cache=True)
def _worst(wall: Floats, cover: Floats, core: Floats, buckling: Floats, xx: Floats, xv: Floats, xr: Floats) -> tuple[Floats, Floats]:
    """The square of each kind's worst index (6, S, cases), and the part of its first strength in it."""
    zones, positions, points, cases = xx.shape
    worst, first = np.zeros((PLASTIC_KINDS, positions, cases)), np.zeros((PLASTIC_KINDS, positions, cases))
    for zone in range(zones):
        for s in range(positions):
            for p in range(points):
                for c in range(cases):
                    x, v, r = xx[zone, s, p, c], xv[zone, s, p, c], xr[zone, s, p, c]
                    if zone == CORE:
                        crush, level = in_core(core, s, x, v, r)
                        keep_worse(worst, first, CRUSH, s, c, crush, level)
                        continue
                    road, cross, pulled, lift, slide = in_wall(wall, s, x, v, r) if zone == WALL else in_cover(cover, s, x, v, r)
                    keep_worse(worst, first, ROAD, s, c, road, 0.0)
                    keep_worse(worst, first, CROSS, s, c, cross, pulled)
                    keep_worse(worst, first, SPLIT if lift >= slide else SLIDE, s, c, lift + slide, lift)
                    keep_worse(worst, first, BUCKLE, s, c, _buckled(x, buckling[zone, s]), 0.0)
    return worst, first
