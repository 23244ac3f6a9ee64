"""What any spot of the craft feels of its rotors: gyro, camera, motors, and the tips of guards, legs and mounts."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from fravik.kinds import kind_of
from fravik.kinds.around import stations
from fravik.printing.zones import Floats
from fravik.structure.craft.assemble import PortOf
from fravik.structure.craft.member import END
from fravik.structure.craft.response import acceleration, size
from fravik.structure.excitation import Order
from fravik.structure.softmount import SoftMount

from .results import Evaluation
from .shake import BAND_POINTS, G_MM_S2, PUSH_SPREAD, Shake

# of a spectrum's peak: motors that turn a little apart, and the width of what is looked at, over its frequency and in Hz
SMEAR_SHARE, SMEAR_HZ = 0.015, 2.0


@dataclass(frozen=True, eq=False)
class Spot:
    """A place that is shaken: what it is called, the port that carries it, where it is if not at the port, and its soft feet."""

    id: str
    name: str
    port: PortOf
    at_mm: Floats | None = None
    feet: SoftMount | None = None


@dataclass(frozen=True, eq=False)
class SpotFelt:
    """Over speeds (f,), at the corners of the materials and by order, (3, orders, f) each: acceleration in g, velocity in mm/s, and
    turning to and fro in deg/s."""

    rpm: Floats
    g: Floats
    mm_s: Floats
    dps: Floats


def spots_of(result: Evaluation) -> tuple[Spot, ...]:
    """All of a craft; none where its modes are not known."""
    if result.whole is None:
        return ()
    shake, out = result.whole.shake, []
    out.append(Spot("gyro", "Gyro", shake.gyro_at, None, shake.gyro_feet))
    if shake.camera_at is not None:
        out.append(Spot("camera", "Camera", shake.camera_at, None, shake.camera_feet))
    for s, rotor in zip(stations(result.project), shake.rotors, strict=True):
        out.append(Spot(f"motor_{s.id}", f"Motor {s.side}", rotor.on, rotor.hub_mm))
    for place in shake.craft.places:
        part = result.pieces.get(place.rsplit("_", 1)[0])
        if (
            part is not None
            and (place, END) != shake.camera_at
            and kind_of(part.part.shape).bends
            and not kind_of(part.part.shape).carries_rotor
        ):
            number = f" {place.rsplit('_', 1)[1]}" if part.part.count > 1 else ""
            out.append(Spot(f"tip_{place}", f"Tip of {part.part.name.lower()}{number}", (place, END)))
    return tuple(out)


def felt_at(shake: Shake, spot: Spot, rpm: Floats) -> SpotFelt:
    """What a spot feels at motor speeds (f,), for usual propellers."""
    motion = shake.craft.motion(spot.port, spot.at_mm)
    seen, rigid = (motion @ shake.shapes)[None], (motion @ shake.craft.rigid)[None]
    every: list[list[tuple[Floats, Floats, Floats]]] = []
    for corner in shake.corners:
        shaken, rows = replace(corner, seen=seen, seen_rigid=rigid), []
        for order in shake.orders:
            w = 2 * math.pi * rpm / 60.0 * order.per_rev
            a = acceleration(shaken, w, shake.ways(order), shake.push_n(order, rpm * order.ratio))[:, 0]
            if spot.feet is not None:
                a = a * spot.feet.through(w)[:, :, None]
            rows.append((size(a[:, :3]) / G_MM_S2, size(a[:, :3]) / w, np.degrees(size(a[:, 3:]) / w)))
        every.append(rows)
    g, mm_s, dps = (np.array([[row[k] for row in rows] for rows in every]) for k in range(3))
    return SpotFelt(rpm, g, mm_s, dps)


def spectrum(orders: Sequence[Order], rpm: Floats, loud: Floats, hz: Floats) -> Floats:
    """(f speeds, n frequencies): what a log shows of a spot that each order shakes so much (orders, f); motors turn a little apart."""
    out = np.zeros((len(rpm), len(hz)))
    for order, own in zip(orders, loud, strict=True):
        middle = rpm[:, None] / 60.0 * order.per_rev
        wide = SMEAR_SHARE * middle + SMEAR_HZ
        out += (own[:, None] * np.exp(-0.5 * ((hz - middle) / wide) ** 2)) ** 2
    return np.sqrt(out)


def response_rows(result: Evaluation) -> list[dict[str, Any]]:
    """What every spot feels of each order at the worst of the working speeds, gyro and camera also over all; usual, least and most."""
    if result.whole is None:
        return []
    shake, out = result.whole.shake, []
    low, high = (60.0 * f for f in result.working_hz)
    band = np.linspace(low, high, BAND_POINTS)

    def put(place: str, axis: str, unit: str, speeds: str, rpm: Floats, every: Floats) -> None:
        for k, order in enumerate(shake.orders):
            at, peaks = int(every[1, k].argmax()), every[:, k].max(axis=1)
            out.append({"place": place, "axis": axis, "unit": unit, "order": order.name, "speeds": speeds, "rpm": float(rpm[at]),
                        "throttle": throttle_at(result, float(rpm[at])), "value": float(peaks[1]),
                        "low": float(peaks.min()) / PUSH_SPREAD, "high": float(peaks.max()) * PUSH_SPREAD})  # fmt: skip

    for speeds, felt in (("working", shake.over(band)), ("any", shake.map)):
        put("gyro", "turning", "deg/s", speeds, felt.rpm, felt.gyro_dps)
        put("gyro", "moving", "g", speeds, felt.rpm, felt.gyro_g)
        if felt.camera:
            put("camera", "picture", "px", speeds, felt.rpm, felt.camera_px)
    for spot in spots_of(result)[1:]:
        there = felt_at(shake, spot, band)
        put(spot.id, "moving", "g", "working", band, there.g)
        put(spot.id, "moving", "mm/s", "working", band, there.mm_s)
    return out


def throttle_at(result: Evaluation, rpm: float) -> float:
    """About the throttle at which the hardest rotor turns so fast: that of hover times the ratio of the speeds."""
    return min(result.power.hover_throttle * rpm / max(result.power.hover_rpm, 1e-9), 1.0)
