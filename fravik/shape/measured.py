"""A blade found back from readings: smoothed by least squares, readings that stand apart named, and its pitch with a band.

The angle of a section is asin((leading - trailing) / chord) of what was read, its pitch 2 pi r tan(angle). Pitch may change evenly
along the blade, chord and thickness by a cubic. A reading stands apart, and is left out, when so great a distance from what the others
say would come by chance once in a hundred blades (Student's t of the deleted residual, Beckman and Trussell 1974). The band of the pitch
is that of the least squares, by Student's t.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.stats import t as student

from fravik.model.blade import BladeStation, Reading

from .blade import AXIS

Floats = NDArray[np.float64]
PITCH_AT = 0.7  # of the radius: where a pitch is told
CHANCE, SURE = 0.01, 0.98  # a little over 19 of 20, for what was left out by chance
# no reading stands apart by less: mm of height, and shares of chord and thickness
LEAST_MM, LEAST_CHORD, LEAST_THICK = 0.4, 0.05, 0.12
FEWEST = 4


@dataclass(frozen=True)
class Apart:
    """A reading that stands apart: which, what of it, and by how much."""

    number: int
    what: str
    off: str


@dataclass(frozen=True, eq=False)
class Measured:
    """A blade from readings, in the order of their radius: smoothed positions, its pitch at PITCH_AT with what it is within 19 times of 20,
    angles as read (n,), and readings that stand apart by their number as given."""

    stations: tuple[BladeStation, ...]
    pitch_mm: float
    pitch_low_mm: float
    pitch_high_mm: float
    radius_mm: Floats
    angle_deg: Floats
    apart: tuple[Apart, ...]


def read_angle_deg(r: Reading) -> float:
    """Of one reading."""
    return math.degrees(math.asin(max(-1.0, min(1.0, (r.leading_mm - r.trailing_mm) / r.chord_mm))))


def blade_from(readings: Sequence[Reading], tip_mm: float) -> Measured:
    """Raises ValueError with what is missing."""
    if len({r.radius_mm for r in readings}) < FEWEST:
        raise ValueError(f"A blade is drawn from {FEWEST} readings at least, each at a radius of its own; there are {len(readings)}.")
    order = sorted(range(len(readings)), key=lambda k: readings[k].radius_mm)
    every = [readings[k] for k in order]
    r, chord = np.array([x.radius_mm for x in every]), np.array([x.chord_mm for x in every])
    angle, thick = np.radians([read_angle_deg(x) for x in every]), np.array([x.thickness_mm for x in every])
    pitch = 2 * math.pi * r * np.tan(angle)
    per_mm = 2 * math.pi * r / (np.cos(angle) ** 3 * chord)  # of pitch, for a height of either edge
    line, good = _robust(r, pitch, 1, per_mm, LEAST_MM)
    share, right = _robust(r, chord, 3, chord.mean() + 0 * chord, LEAST_CHORD)
    flat, stout = _robust(r, thick, 3, thick.mean() + 0 * thick, LEAST_THICK)
    fitted = np.degrees(np.arctan2(line, 2 * math.pi * r))
    apart = [Apart(order[k] + 1, "angle", f"{np.degrees(angle[k]) - fitted[k]:+.1f}°") for k in np.flatnonzero(~good)]
    apart += [Apart(order[k] + 1, "chord", f"{chord[k] - share[k]:+.1f} mm") for k in np.flatnonzero(~right)]
    apart += [Apart(order[k] + 1, "thickness", f"{thick[k] - flat[k]:+.1f} mm") for k in np.flatnonzero(~stout)]
    stations = tuple(
        BladeStation(radius_mm=float(a), chord_mm=max(float(b), 1.0), angle_deg=float(np.clip(c, -10, 80)), thickness_mm=max(float(d), 0.3),
                     ahead_mm=AXIS * float(b))
        for a, b, c, d in zip(r, share, fitted, flat, strict=True)
    )  # fmt: skip
    at, half = _told(r[good], pitch[good], per_mm[good], PITCH_AT * tip_mm)
    return Measured(stations, at, at - half, at + half, r, np.degrees(angle), tuple(sorted(apart, key=lambda a: a.number)))


def _design(r: Floats, degree: int) -> Floats:
    return np.asarray(np.vander(r / max(float(r.max()), 1e-9), degree + 1))


def _fit(r: Floats, value: Floats, scale: Floats, degree: int) -> tuple[Floats, Floats]:
    """Coefficients and residuals over ``scale``."""
    a = _design(r, degree) / scale[:, None]
    found = np.linalg.lstsq(a, value / scale, rcond=None)[0]
    return np.asarray(found, dtype=np.float64), np.asarray(value / scale - a @ found)


def _robust(r: Floats, value: Floats, degree: int, scale: Floats, least: float) -> tuple[Floats, NDArray[np.bool_]]:
    """The smoothed values, and which readings were kept: the worst is left out as long as it stands apart."""
    kept, most = np.ones(len(r), dtype=bool), max(len(r) // 3, 1)
    while True:
        n, now = int(kept.sum()), min(degree, int(kept.sum()) - 2)
        a = _design(r, now) / scale[:, None]
        found = np.linalg.lstsq(a[kept], (value / scale)[kept], rcond=None)[0]
        smooth, free = (a @ found) * scale, n - now - 2
        if len(r) - n >= most or free < 1:
            return smooth, kept
        lever = np.einsum("ij,jk,ik->i", a[kept], np.linalg.pinv(a[kept].T @ a[kept]), a[kept])
        left, off = np.maximum(1 - lever, 1e-6), ((value - smooth) / scale)[kept]
        others = np.sqrt(np.maximum((off @ off) - off**2 / left, 1e-18) / free)
        told = np.abs(off) / (others * np.sqrt(left))
        told[np.abs(off) / left < least] = 0.0
        worst = int(np.argmax(told))
        if told[worst] < student.ppf(1 - CHANCE / (2 * n), free):
            return smooth, kept
        kept[np.flatnonzero(kept)[worst]] = False


def _told(r: Floats, pitch: Floats, scale: Floats, at_mm: float) -> tuple[float, float]:
    """The pitch at a radius and half its band."""
    a = _design(r, 1) / scale[:, None]
    found, off = _fit(r, pitch, scale, 1)
    free = max(len(r) - 2, 1)
    there = np.array([at_mm / float(r.max()), 1.0])
    spread = float(off @ off) / free * float(there @ np.linalg.pinv(a.T @ a) @ there)
    return float(there @ found), float(student.ppf(SURE, free)) * math.sqrt(max(spread, 0.0))
