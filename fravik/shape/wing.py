"""A panel of wing, tail or fin as a solid: span along x from its root, chord aft along y from the leading edge, z up."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from fravik.model.wing import WingShape

from .loft import lofted

Floats = NDArray[np.float64]
CAMBER_AT = 0.4  # of four-digit sections
POINTS = 50
EDGE_MM = 1.1  # a trailing edge of two roads
SLIT_MM = 0.08  # a slit that parts two roads of one web, which fuse as they are laid
WEB_LEFT_MM = 1.2  # over a web that its slit does not reach: two roads, as the one path goes there and back
TUBE_ROOM_MM = 0.2
END_GAP_MM = 0.8  # at both ends of a surface
OPEN_MM = 1.0  # how far a cut goes beyond what it opens


def four_digit_slope(camber: float, x: Floats) -> Floats:
    """Slope of the middle line of a four-digit section with its camber at 0.4."""
    p = CAMBER_AT
    return np.where(x < p, 2 * camber / p**2 * (p - x), 2 * camber / (1 - p) ** 2 * (p - x))


def four_digit(thickness: float, camber: float, points: int = POINTS, edge: float = 0.0) -> Floats:
    """(n, 2) outline over the chord, from the trailing edge over the top and back; ``edge`` is how thick the trailing edge is at least."""
    x = (1 - np.cos(np.linspace(0.0, math.pi, points))) / 2
    half = 5 * thickness * (0.2969 * np.sqrt(x) - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1036 * x**4)
    half = np.maximum(half, edge / 2 * np.minimum(x / 0.3, 1.0))
    p = CAMBER_AT
    middle = np.where(x < p, camber / p**2 * (2 * p * x - x**2), camber / (1 - p) ** 2 * (1 - 2 * p + 2 * p * x - x**2))
    tilt = np.arctan(four_digit_slope(camber, x))
    top = np.column_stack([x - half * np.sin(tilt), middle + half * np.cos(tilt)])
    low = np.column_stack([x + half * np.sin(tilt), middle - half * np.cos(tilt)])
    return np.vstack([top[::-1], low[1:]])


@lru_cache(maxsize=512)
def _four_digit(thickness: float, camber: float, edge: float) -> Floats:
    return four_digit(thickness, camber, edge=edge)


@lru_cache(maxsize=1024)
def _at(shape: WingShape, at: float) -> tuple[float, float]:
    """Middle line and thickness over the chord, at a part of it."""
    points = outline_of(shape, shape.root_chord_mm)
    nose = int(points[:, 0].argmin())
    top, low = points[nose::-1], points[nose:]
    up, down = float(np.interp(at, top[:, 0], top[:, 1])), float(np.interp(at, low[:, 0], low[:, 1]))
    return (up + down) / 2, up - down


def outline_of(shape: WingShape, chord_mm: float) -> Floats:
    """(n, 2) its section over the chord."""
    if shape.section:
        points = np.array([(c.x, c.y) for c in shape.section])
        x0, long = points[:, 0].min(), np.ptp(points[:, 0])
        points = (points - [x0, 0.0]) / long
        return points[:-1] if np.allclose(points[0], points[-1]) else points
    return _four_digit(shape.thickness, shape.camber, round(EDGE_MM / chord_mm, 5))


def chord_at(shape: WingShape, along: float) -> float:
    """Chord at a part of the span, mm; of one across the middle, from tip to tip."""
    t = abs(2 * along - 1) if shape.hand == "across" else along
    return shape.root_chord_mm + t * (shape.tip_chord_mm - shape.root_chord_mm)


def lead_at(shape: WingShape, along: float) -> float:
    """How far the leading edge lies behind the root's there, mm."""
    return shape.sweep_mm * (abs(2 * along - 1) if shape.hand == "across" else along)


def washed_rad(shape: WingShape, along: float) -> float:
    """How far it is turned nose down there."""
    return math.radians(shape.washout_deg) * (abs(2 * along - 1) if shape.hand == "across" else along)


def placed(shape: WingShape, along: float, points: Floats) -> Floats:
    """(n, 2) aft and up of points (n, 2) over the chord, at a part of the span, mm."""
    chord, w = chord_at(shape, along), washed_rad(shape, along)
    a, u = (points[:, 0] - 0.25) * chord, points[:, 1] * chord
    c, s = math.cos(w), math.sin(w)
    return np.column_stack([lead_at(shape, along) + chord / 4 + a * c - u * s, a * s + u * c])


def middle_line(shape: WingShape, at: float) -> float:
    """Height of the middle line over the chord, at a part of it."""
    return _at(shape, at)[0]


def thick_mm(shape: WingShape, along: float, at: float) -> float:
    """Thickness at a part of the span and of the chord, mm."""
    return _at(shape, at)[1] * chord_at(shape, along)


def breaks_of(shape: WingShape) -> tuple[float, ...]:
    """Parts of the span between which it is straight."""
    return (0.0, 0.5, 1.0) if shape.hand == "across" else (0.0, 1.0)


def panel_solid(shape: WingShape) -> Manifold:
    """The panel with what is cut from it: tubes' tunnels, webs' slits, servo pocket, wire duct, and the slot of its surface."""
    rings = []
    for t in _steps(shape):
        aft_up = placed(shape, t, outline_of(shape, shape.root_chord_mm))
        rings.append(np.column_stack([np.full(len(aft_up), t * shape.length_mm), aft_up]))
    whole = lofted(rings)
    if whole.volume() < 0:
        whole = lofted(rings, inward=True)
    cuts = [*_tunnels(shape), *_webs(shape), *_pockets(shape), *_hinge(shape)]
    for cut in cuts:
        whole = whole - cut
    return whole


def _steps(shape: WingShape) -> list[float]:
    """Where rings stand: closer where it is twisted."""
    breaks = breaks_of(shape)
    more = 1 + int(abs(shape.washout_deg) / 2.0)
    out = [float(a + (b - a) * k / more) for a, b in pairwise(breaks) for k in range(more)]
    return [*out, 1.0]


def spar_spot(shape: WingShape, along: float, at: float) -> tuple[float, float]:
    """Aft and up of a tube's middle, mm."""
    spot = placed(shape, along, np.array([[at, middle_line(shape, at)]]))[0]
    return float(spot[0]), float(spot[1])


def _tube(shape: WingShape, at: float, diameter_mm: float) -> list[Manifold]:
    out = []
    for a, b in pairwise(breaks_of(shape)):
        ends = []
        for t, beyond in ((a, -OPEN_MM if a == 0 else 0.0), (b, OPEN_MM if b == 1 else 0.0)):
            y, z = spar_spot(shape, t, at)
            turn = np.linspace(0.0, 2 * math.pi, 48, endpoint=False)
            r = diameter_mm / 2
            ends.append(np.column_stack([np.full(48, t * shape.length_mm + beyond), y + r * np.cos(turn), z + r * np.sin(turn)]))
        one = lofted(ends)
        out.append(one if one.volume() > 0 else lofted(ends, inward=True))
    return out


def _tunnels(shape: WingShape) -> list[Manifold]:
    out = []
    for d, at in ((shape.spar_mm, shape.spar_at), (shape.rear_spar_mm, shape.rear_spar_at)):
        if d > 0:
            out += _tube(shape, at, d + TUBE_ROOM_MM)
            if shape.webs:
                out += _slit(shape, at, to_middle=True)
    if shape.duct_mm > 0:
        at = min(shape.spar_at + 0.12, 0.7)
        out += _tube(shape, at, shape.duct_mm)
        if shape.webs:
            out += _slit(shape, at, to_middle=True)
    return out


def _slit(shape: WingShape, at: float, to_middle: bool = False) -> list[Manifold]:
    """A thin cut along the span, upwards from the bottom to a tunnel or to just under the top."""
    out = []
    for a, b in pairwise(breaks_of(shape)):
        ends = []
        for t, beyond in ((a, -OPEN_MM if a == 0 else 0.0), (b, OPEN_MM if b == 1 else 0.0)):
            y, z = spar_spot(shape, t, at)
            half = thick_mm(shape, t, at) / 2
            top = z if to_middle else z + half - WEB_LEFT_MM
            x = t * shape.length_mm + beyond
            ends.append(np.array([[x, y - SLIT_MM / 2, z - half - OPEN_MM], [x, y + SLIT_MM / 2, z - half - OPEN_MM],
                                  [x, y + SLIT_MM / 2, top], [x, y - SLIT_MM / 2, top]]))  # fmt: skip
        one = lofted(ends)
        out.append(one if one.volume() > 0 else lofted(ends, inward=True))
    return out


def web_spots(shape: WingShape) -> list[float]:
    """Parts of the chord at which webs stand: evenly, but clear of tunnels and surface."""
    end = 1 - shape.surface_share - 0.04 if shape.surface != "none" else 0.85
    spots = [0.08 + (end - 0.08) * (k + 0.5) / shape.webs for k in range(shape.webs)]
    least = min(shape.root_chord_mm, shape.tip_chord_mm)
    taken = [(at, d) for d, at in ((shape.spar_mm, shape.spar_at), (shape.rear_spar_mm, shape.rear_spar_at)) if d > 0]
    if shape.duct_mm > 0:
        taken.append((min(shape.spar_at + 0.12, 0.7), shape.duct_mm))
    return [s for s in spots if all(abs(s - at) * least > d / 2 + 2.0 for at, d in taken)]


def _webs(shape: WingShape) -> list[Manifold]:
    return [cut for at in web_spots(shape) for cut in _slit(shape, at)]


def _pockets(shape: WingShape) -> list[Manifold]:
    if shape.pocket_mm <= 0:
        return []
    t = max(min((shape.surface_from + shape.surface_to) / 2, 0.95), 0.05)
    at = min(shape.spar_at + 0.2, 0.7)
    y, z = spar_spot(shape, t, at)
    wide, deep = shape.pocket_mm / 2 + 1.0, thick_mm(shape, t, at)
    # open below, as far up as leaves a skin
    box = Manifold.cube((shape.pocket_mm, wide, deep + OPEN_MM - 1.6)).translate(
        (t * shape.length_mm - shape.pocket_mm / 2, y - wide / 2, z - deep / 2 - OPEN_MM)
    )
    return [box]


def _under_skin_mm(shape: WingShape, t: float, at: float) -> float:
    """Height under the upper skin to which the hinge's slot goes."""
    left = WEB_LEFT_MM if shape.webs else shape.hinge_left_mm
    return float(spar_spot(shape, t, at)[1] + thick_mm(shape, t, at) / 2 - left)


def _hinge(shape: WingShape) -> list[Manifold]:
    """A slot from below along the hinge and at both ends of the surface, that leaves what bends, or what is cut once a pin or a strip is
    in."""
    if shape.surface == "none":
        return []
    t0, t1 = shape.surface_from, shape.surface_to
    at = 1 - shape.surface_share
    rings = []
    for t in (t0, t1):
        chord = chord_at(shape, t)
        y, z = spar_spot(shape, t, at)
        half = thick_mm(shape, t, at) / 2
        low, gap = z - half - OPEN_MM, shape.hinge_gap_mm
        # what is left is as thick over the whole gap, however the panel falls away there
        front, rear = (_under_skin_mm(shape, t, at + way * gap / (2 * chord)) for way in (-1, 1))
        lean = min(half, 0.1 * chord)  # open enough below to swing down
        rings.append(np.array([[t * shape.length_mm, y - gap / 2, low], [t * shape.length_mm, y + gap / 2 + lean, low],
                               [t * shape.length_mm, y + gap / 2, rear], [t * shape.length_mm, y - gap / 2, front]]))  # fmt: skip
    slot = lofted(rings)
    if slot.volume() < 0:
        slot = lofted(rings, inward=True)
    out = [slot]
    for t, ends in ((t0, t0 > 0.005), (t1, t1 < 0.995)):
        if ends:
            y, z = spar_spot(shape, t, at)
            far = 2 * chord_at(shape, t)
            out.append(Manifold.cube((END_GAP_MM, far, 4 * far)).translate((t * shape.length_mm - END_GAP_MM / 2, y, z - 2 * far)))
    return out
