"""The blade of a drawn propeller: its sections along the radius, and the closed solid with its hub.

A blade lies along x; a propeller that turns anticlockwise, seen from above, leads with its +y edge. Sections are four-digit aerofoils
(Jacobs, Ward and Pinkerton 1933) with the camber at 0.4 of the chord, closed but for an edge that the nozzle can lay.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from numpy.typing import NDArray

from fravik.model.blade import PropellerShape

from .loft import lofted
from .outline import disc

Floats = NDArray[np.float64]
# chord over that at three quarters of the radius, by outline: working assumptions
ALONG: dict[str, tuple[tuple[float, ...], tuple[float, ...]]] = {
    "slim": ((0.0, 0.15, 0.3, 0.5, 0.75, 0.95, 1.0), (0.85, 0.95, 1.15, 1.15, 1.0, 0.7, 0.45)),
    "usual": ((0.0, 0.15, 0.3, 0.5, 0.75, 0.95, 1.0), (0.7, 0.8, 1.12, 1.18, 1.0, 0.6, 0.35)),
    "broad": ((0.0, 0.15, 0.3, 0.5, 0.75, 0.95, 1.0), (0.5, 0.6, 0.85, 1.05, 1.0, 0.85, 0.6)),
}
CAMBER_AT, AXIS = 0.4, 0.4  # along the chord: most camber; what lies on the line from the axis outwards
ROUNDED, TIP_CHORD = 0.03, 0.25  # of the radius, the rounded tip; of the chord before it, what is left at the very end
POSITIONS, POINTS = 33, 22  # along the blade, and on each side of a section
INTO_HUB = 0.6  # of the hub's radius: where the blade begins inside it
# how much one printed blade weighs more than the next, and how far a hole lies off; working assumptions, to be corrected by a balancer
BLADES_APART, HOLE_OFF_MM = 0.01, 0.05
CLEAR_MM = 0.4  # about an eye, for it to turn
FULL = 0.685  # area of a four-digit section over chord times thickness


@dataclass(frozen=True, eq=False)
class Blade:
    """A blade along its radius, (n,) each: mm, rad, and camber over chord."""

    radius_mm: Floats
    chord_mm: Floats
    angle_rad: Floats
    thickness_mm: Floats
    ahead_mm: Floats
    camber: float
    edge_mm: float

    def at(self, radius_mm: Floats) -> Blade:
        """The same at other positions."""
        each = (np.interp(radius_mm, self.radius_mm, v) for v in (self.chord_mm, self.angle_rad, self.thickness_mm, self.ahead_mm))
        chord, angle, thick, ahead = (np.asarray(v) for v in each)
        return Blade(radius_mm, chord, angle, thick, ahead, self.camber, self.edge_mm)

    def pitch_mm(self, radius_mm: float) -> float:
        """Advance per turn by its angle at a radius."""
        return 2 * math.pi * radius_mm * math.tan(float(np.interp(radius_mm, self.radius_mm, self.angle_rad)))

    @property
    def area_mm2(self) -> Floats:
        """(n,) of its sections."""
        return np.asarray(FULL * self.chord_mm * self.thickness_mm + self.edge_mm * self.chord_mm / 2)


@lru_cache(maxsize=64)
def blade_of(shape: PropellerShape) -> Blade:
    """As drawn, without what swells it at the hub."""
    r = np.linspace(shape.pivot_mm if shape.folds else shape.root_mm * INTO_HUB, shape.radius_mm, POSITIONS)
    return _drawn(shape, r) if len(shape.stations) >= 2 else _by_laws(shape, r)


def _by_laws(shape: PropellerShape, r: Floats) -> Blade:
    x = r / shape.radius_mm
    chord = shape.chord_share * shape.radius_mm * np.interp(x, *ALONG[shape.outline]) * _rounding(x)
    share = np.interp(x, (0.15, 0.85), (shape.root_thickness, shape.tip_thickness))
    thick = np.maximum(share * chord, shape.least_mm)
    ahead = AXIS * chord - shape.sweep_mm * x**2
    return Blade(r, chord, np.arctan2(shape.pitch_mm, 2 * math.pi * r), thick, ahead, shape.camber, shape.edge_mm)


def _rounding(x: Floats) -> Floats:
    over = np.clip((x - (1 - ROUNDED)) / ROUNDED, 0.0, 1.0)
    return np.asarray(TIP_CHORD + (1 - TIP_CHORD) * np.sqrt(1 - over**2))


def _drawn(shape: PropellerShape, r: Floats) -> Blade:
    """Smoothly through the positions; before the first and beyond the last as they are there, the angle by their pitch."""
    from scipy.interpolate import PchipInterpolator

    every = sorted({s.radius_mm: s for s in shape.stations}.values(), key=lambda s: s.radius_mm)
    at = np.array([s.radius_mm for s in every])
    inside = np.clip(r, at[0], at[-1])

    def along(values: list[float]) -> Floats:
        return np.asarray(PchipInterpolator(at, values)(inside)) if len(at) > 1 else np.full_like(r, values[0])

    pitch = along([2 * math.pi * s.radius_mm * math.tan(math.radians(s.angle_deg)) for s in every])
    x, drawn_to = r / shape.radius_mm, at[-1] / shape.radius_mm
    beyond = np.clip((x - drawn_to) / max(1 - drawn_to, 1e-6), 0.0, 1.0) if drawn_to < 1 - ROUNDED else np.zeros_like(x)
    chord = along([s.chord_mm for s in every]) * (1 - 0.5 * beyond**2) * _rounding(x)
    thick = np.maximum(along([s.thickness_mm for s in every]) * (1 - 0.4 * beyond), shape.least_mm)
    return Blade(r, chord, np.arctan2(pitch, 2 * math.pi * r), thick, along([s.ahead_mm for s in every]), shape.camber, shape.edge_mm)


def swelled(blade: Blade, shape: PropellerShape) -> Blade:
    """Thicker towards the hub, over the length of its root."""
    off = np.clip((blade.radius_mm - shape.root_mm) / shape.root_fillet_mm, 0.0, 1.0)
    more = 1 + (shape.root_swell - 1) * (1 - off) ** 2
    return Blade(blade.radius_mm, blade.chord_mm, blade.angle_rad, blade.thickness_mm * more, blade.ahead_mm, blade.camber, blade.edge_mm)


def section_mm(blade: Blade, k: int, points: int = POINTS) -> Floats:
    """(2 points, 2) outline of a section in its own chord's axes, forward and up, from the trailing edge over the top round to it."""
    chord, thick = float(blade.chord_mm[k]), float(blade.thickness_mm[k])
    x = (1 - np.cos(np.linspace(0.0, math.pi, points))) / 2
    half = 5 * thick * (0.2969 * np.sqrt(x) - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1036 * x**4)
    half = half + np.minimum(blade.edge_mm, thick) / 2 * x
    line = (
        blade.camber
        * chord
        * np.where(
            x < CAMBER_AT, (2 * CAMBER_AT * x - x**2) / CAMBER_AT**2, (1 - 2 * CAMBER_AT + 2 * CAMBER_AT * x - x**2) / (1 - CAMBER_AT) ** 2
        )
    )
    forward = float(blade.ahead_mm[k]) - x * chord
    upper, lower = np.stack([forward, line + half], axis=1), np.stack([forward, line - half], axis=1)
    return np.concatenate([upper[::-1], lower[1:]])


def turned_mm(blade: Blade, k: int, section: Floats) -> Floats:
    """(n, 2) y and z of points of a section, in the propeller's axes."""
    c, s = math.cos(blade.angle_rad[k]), math.sin(blade.angle_rad[k])
    return np.stack([c * section[:, 0] - s * section[:, 1], s * section[:, 0] + c * section[:, 1]], axis=1)


def _blade_solid(shape: PropellerShape) -> Manifold:
    blade = swelled(blade_of(shape), shape)
    rings = []
    for k in range(len(blade.radius_mm)):
        yz = turned_mm(blade, k, section_mm(blade, k))
        rings.append(np.column_stack([np.full(len(yz), blade.radius_mm[k]), yz[:, 0], yz[:, 1] + shape.hub_height_mm / 2]))
    return lofted(rings, inward=True)


def bore_plan(shape: PropellerShape) -> CrossSection:
    """What is cut from the hub, seen from above: the bore with its bush's seat, a flat, a hexagon, or the screws' holes."""
    wide = shape.bore_mm + 2 * shape.bush_mm
    if shape.bore == "hex":
        across = max(shape.flat_mm + 2 * shape.bush_mm, 0.5)
        return CrossSection.circle(across / math.sqrt(3), 6)
    plan = disc(0.0, 0.0, wide)
    if shape.bore == "flat":
        cut = CrossSection.square((2 * wide, wide), True).translate((0.0, shape.flat_mm + shape.bush_mm))
        return plan - cut
    if shape.bore == "screws":
        r = shape.screw_circle_mm / 2
        for k in range(4):
            plan += disc(r * math.cos(k * math.pi / 2 + math.pi / 4), r * math.sin(k * math.pi / 2 + math.pi / 4), shape.screw_hole_mm)
    return plan


def propeller_solid(shape: PropellerShape) -> Manifold:
    """A propeller, its hub standing on z = 0, its blades about the middle of the hub's height; or one folding blade, or their hub."""
    if shape.piece == "blade":
        whole = _folding_blade(shape)
    elif shape.piece == "hub":
        whole = _folding_hub(shape)
    else:
        one = _blade_solid(shape)
        whole = Manifold.batch_boolean([_cylinder(shape.hub_diameter_mm, 0.0, shape.hub_height_mm), *_round(one, shape.blades)], OpType.Add)
        whole = whole - Manifold.extrude(bore_plan(shape), shape.hub_height_mm + 60.0).translate((0.0, 0.0, -30.0))
    return whole.mirror((0.0, 1.0, 0.0)) if shape.turns == "clockwise" else whole


def _cylinder(diameter_mm: float, low_mm: float, height_mm: float, x_mm: float = 0.0) -> Manifold:
    return Manifold.cylinder(height_mm, diameter_mm / 2, diameter_mm / 2, 72).translate((x_mm, 0.0, low_mm))


def _round(one: Manifold, count: int) -> list[Manifold]:
    return [one.rotate((0.0, 0.0, 360.0 * k / count)) for k in range(count)]


def _folding_blade(shape: PropellerShape) -> Manifold:
    """The blade with an eye round its pin, which the cheeks of the hub take between them. Within the eye's reach there is no more of it
    than goes between the cheeks, so that it swings back."""
    tall, low = shape.eye_height_mm, (shape.hub_height_mm - shape.eye_height_mm) / 2
    blade, wide = _blade_solid(shape), 2 * shape.diameter_mm
    beyond = blade.trim_by_plane((1.0, 0.0, 0.0), shape.root_mm)
    neck = blade ^ Manifold.cube((shape.eye_mm, shape.eye_mm, tall)).translate((shape.pivot_mm, -shape.eye_mm / 2, low))
    eye = _cylinder(shape.eye_mm, low, tall, shape.pivot_mm)
    # a root that is set so steeply that it passes the eye's height only in part is led into it
    lead = Manifold.cube((shape.eye_mm / 2 + 1.0, 0.7 * shape.eye_mm, tall)).translate((shape.pivot_mm, -0.35 * shape.eye_mm, low))
    whole = Manifold.batch_boolean([beyond, neck, eye, lead], OpType.Add)
    return whole - _cylinder(shape.pin_mm, -wide, 2 * wide, shape.pivot_mm)


def _folding_hub(shape: PropellerShape) -> Manifold:
    """A disc with two cheeks for every blade, and its bore."""
    gap, tall = shape.eye_height_mm + 2 * shape.play_mm, shape.hub_height_mm
    arm = Manifold.cube((shape.pivot_mm, shape.eye_mm, tall)).translate((0.0, -shape.eye_mm / 2, 0.0)) + _cylinder(
        shape.eye_mm, 0.0, tall, shape.pivot_mm
    )
    free = _cylinder(2 * (shape.eye_mm / 2 + CLEAR_MM), (tall - gap) / 2, gap, shape.pivot_mm)
    beside = Manifold.cube((200.0, 400.0, gap)).translate((shape.pivot_mm, -200.0, (tall - gap) / 2))
    pin = _cylinder(shape.pin_mm, -1.0, tall + 2.0, shape.pivot_mm)
    arms = _round(arm, shape.blades)
    whole = Manifold.batch_boolean([_cylinder(shape.hub_diameter_mm, 0.0, tall), *arms], OpType.Add)
    away = Manifold.batch_boolean([*_round(free + beside + pin, shape.blades)], OpType.Add)
    return whole - away - Manifold.extrude(bore_plan(shape), tall + 60.0).translate((0.0, 0.0, -30.0))


def hub_mm3(shape: PropellerShape) -> float:
    """Volume of the hub less its bore; with cheeks and eyes where blades fold."""
    disc = shape.hub_height_mm * (math.pi * shape.hub_diameter_mm**2 / 4 - float(bore_plan(shape).area()))
    if not shape.folds:
        return disc
    beyond = max(shape.pivot_mm - shape.hub_diameter_mm / 2, 0.0) * shape.eye_mm + math.pi * shape.eye_mm**2 / 8
    pin = math.pi * shape.pin_mm**2 / 4
    cheeks = (beyond - pin) * (shape.hub_height_mm - shape.eye_height_mm - 2 * shape.play_mm)
    return disc + shape.blades * (cheeks + (math.pi * shape.eye_mm**2 / 4 - pin) * shape.eye_height_mm)


def propeller_mm3(shape: PropellerShape) -> float:
    """Volume of the whole."""
    return shape.blades * blade_mm3(shape)[0] + hub_mm3(shape)


def as_printed_gmm(shape: PropellerShape, density_g_cm3: float) -> float:
    """How far out of balance it comes off the bed: one blade a little heavier than the next, the hole a little off."""
    loose = max(shape.bore_mm - shape.shaft_mm, 0.0) / 2 * (shape.bore == "round" and shape.bush_mm <= 0)
    density = density_g_cm3 * 1e-3
    return math.hypot(BLADES_APART * blade_mm3(shape)[1] * density, propeller_mm3(shape) * density * (HOLE_OFF_MM + loose))


def blade_mm3(shape: PropellerShape) -> tuple[float, float, float]:
    """Of one blade beyond the hub: its volume, its first moment about the axis (mm4), and its second (mm5)."""
    r = np.linspace(shape.root_mm, shape.radius_mm, 8 * POSITIONS)
    area = swelled(blade_of(shape), shape).at(r).area_mm2
    return tuple(float(np.trapezoid(area * r**k, r)) for k in (0, 1, 2))  # type: ignore[return-value]
