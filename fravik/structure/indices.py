"""Stress over strength at points of a member's sections, by failure kind.

Stress is turned into the zone's own axes. *Road pull* acts along the roads, *road-to-road* across them in the layer (quadratic with
in-plane shear; in covers for each ply), *layer split* and *layer shear* between layers (quadratic together, named by the greater part),
*core crush* in the core, *wall buckling* where thin faces are pressed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

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


def limits_from(strengths: Strengths, to_zone: Floats, to_ply: Floats, layer: Floats, buckling_mpa: Floats) -> Limits:
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


@dataclass(frozen=True)
class Squares:
    """Squares of a face zone's indices (S, n): along roads; across them, and what its ``pulled`` part has in it; between layers, of what
    parts them (``lift``) and what slides them."""

    road: Floats
    across: Floats
    pulled: Floats
    lift: Floats
    slide: Floats

    def between(self) -> tuple[Floats, Floats]:
        """Both acting between layers, as a split where that is the greater part and as a slide elsewhere."""
        both, split = self.lift + self.slide, self.lift >= self.slide
        return both * split, both * ~split


def in_wall(rows: Floats, acting: Floats) -> Squares:
    """A wall's, from rows (S, 6, 3) as ``Limits.wall`` has them and what they act on (S, 3, n)."""
    own = rows @ acting
    lift = np.maximum(own[:, 3], 0.0) ** 2
    own *= own
    return Squares(own[:, 0], own[:, 1] + own[:, 2], own[:, 1], lift, own[:, 4] + own[:, 5])


def in_cover(rows: Floats, acting: Floats) -> Squares:
    """A cover's, of whose two plies the worse counts; rows (S, 9, 3) as ``Limits.cover`` has them."""
    own = rows @ acting
    lift = np.maximum(own[:, 6], 0.0) ** 2
    own *= own
    one, two = own[:, 1] + own[:, 2], own[:, 4] + own[:, 5]
    return Squares(np.maximum(own[:, 0], own[:, 3]), np.maximum(one, two), np.where(two > one, own[:, 4], own[:, 1]), lift,
                   own[:, 7] + own[:, 8])  # fmt: skip


def in_core(rows: Floats, acting: Floats) -> tuple[Floats, Floats]:
    """Squares of a core's index (S, n), and of what stress along its layers has in it; rows (S, 6, 3) as ``Limits.core`` has them."""
    own = rows @ acting
    own *= own
    level = own[:, 0] + own[:, 1] + own[:, 5]
    return level + own[:, 2] + own[:, 3] + own[:, 4], level


def _acting(stress: Stress) -> Floats:
    """(3 zones, S, 3, points * cases)."""
    zones, positions = stress[0].shape[:2]
    return np.stack([x.reshape(zones, positions, -1) for x in stress], axis=2)


def zone_indices(limits: Limits, stress: Stress) -> Floats:
    """Stress over strength of the plastic's kinds at every point, (6 kinds, 3 zones, S, points, cases); 0 where a kind does not act.

    Kinds in the order of KINDS up to wall buckling.
    """
    acting, shape = _acting(stress), stress[0].shape
    out = np.zeros((PLASTIC_KINDS, 3, shape[1], acting.shape[3]))
    for zone, found in ((WALL, in_wall(limits.wall, acting[WALL])), (COVER, in_cover(limits.cover, acting[COVER]))):
        out[ROAD, zone], out[CROSS, zone] = found.road, found.across
        out[SPLIT, zone], out[SLIDE, zone] = found.between()
        out[BUCKLE, zone] = (np.maximum(-acting[zone, :, 0], 0.0) / limits.buckling[zone][:, None]) ** 2
    out[CRUSH, CORE] = in_core(limits.core, acting[CORE])[0]
    return np.sqrt(out).reshape(PLASTIC_KINDS, *shape)


def worst_indices(limits: Limits, stress: Stress) -> tuple[Floats, Floats]:
    """The same at each kind's worst point, (6 kinds, S, cases), and there the squares of the parts of the two strengths that act together
    in the kinds of TOGETHER, (2, 4, S, cases)."""
    acting, (_, positions, points, cases) = _acting(stress), stress[0].shape
    wall, cover = in_wall(limits.wall, acting[WALL]), in_cover(limits.cover, acting[COVER])
    square, first = np.zeros((PLASTIC_KINDS, positions, cases)), np.zeros((PLASTIC_KINDS, positions, cases))

    def by_point(*zones: Floats) -> Floats:
        return np.concatenate([z.reshape(positions, points, cases) for z in zones], axis=1)

    def worst(kind: int, every: Floats, part: Floats) -> None:
        at = every.argmax(axis=1)[:, None]
        square[kind] = np.take_along_axis(every, at, axis=1)[:, 0]
        first[kind] = np.where(square[kind] > 0, np.take_along_axis(part, at, axis=1)[:, 0], 0.0)

    square[ROAD] = np.maximum(wall.road, cover.road).reshape(positions, points, cases).max(axis=1)
    worst(CROSS, by_point(wall.across, cover.across), by_point(wall.pulled, cover.pulled))
    lift = by_point(wall.lift, cover.lift)
    for kind, each in zip((SPLIT, SLIDE), zip(wall.between(), cover.between(), strict=True), strict=True):
        worst(kind, by_point(*each), lift)
    worst(CRUSH, *(by_point(x) for x in in_core(limits.core, acting[CORE])))
    pressed = -stress[0][:2].min(axis=2) / limits.buckling[:, :, None]  # of walls and covers, whose places these are
    square[BUCKLE] = np.maximum(pressed, 0.0).max(axis=0) ** 2
    both = list(TOGETHER)
    return np.sqrt(square), np.stack([first[both], np.maximum(square[both] - first[both], 0.0)])
