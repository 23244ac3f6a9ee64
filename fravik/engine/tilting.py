"""What turning a rotor asks of its servo or actuator over the angle, and what its gear bears."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.flight.mass import HUB_OVER_MM
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.library import filament_of
from fravik.library.air import GRAVITY_M_S2
from fravik.model.material import Spread
from fravik.model.wing import Tilt
from fravik.power.propeller import propeller_inertia_gmm2
from fravik.printing.zones import Floats
from fravik.structure.gear import back_share, moves_till_worn, tooth_mpa

from .results import Evaluation

ANGLES_DEG = np.linspace(0.0, 90.0, 31)
LINEAR_WORST = 0.7  # of the crank that a linear actuator works on at the ends of its way
SPEEDS_UP_S = 0.15  # in which a drive reaches its speed: a working assumption
AT_MOST = 0.5  # of what a drive has stalled: beyond, it slows down and warms
LOST_PUSH = 0.05  # of thrust that the stream across a disk adds as drag of its hub: a working assumption


@dataclass(frozen=True, eq=False)
class TiltSight:
    """One tilt, for the rotor that asks most: torque at the axis over ``angle_deg`` (n,) N mm, split into what it is of; what the drive has
    there; seconds from end to end, A, the gyroscopic moment its bearings take (N mm), tooth stress and what the teeth stand, times that it
    turns over and back until its pinion is worn, whether it stays where it is when its drive is off."""

    tilt: Tilt
    angle_deg: Floats
    torque_nmm: Floats
    parts_nmm: dict[str, Floats]
    has_nmm: float
    seconds: float
    amps: float
    gyro_nmm: float
    tooth_mpa: float | None
    tooth_stands_mpa: float
    flights: Spread | None
    holds: bool
    back_nmm: float

    @property
    def most_nmm(self) -> float:
        """The most that is asked."""
        return float(np.abs(self.torque_nmm).max())

    @property
    def share(self) -> float:
        """Of what the drive has, stalled."""
        return self.most_nmm / max(self.has_nmm, 1e-9)

    @property
    def tooth_reserve(self) -> float | None:
        """Strength of the weakest print over stress."""
        return self.tooth_stands_mpa / self.tooth_mpa if self.tooth_mpa else None


def has_nmm(t: Tilt) -> float:
    """Torque at the tilt's axis, stalled, as it is fed."""
    d = t.drive
    fed = min(d.fed_v / d.rated_v, 1.3)
    if d.kind == "linear":
        return d.force_n * d.crank_mm * LINEAR_WORST
    ratio, passes = (d.ratio, d.efficiency) if d.kind == "gear" else (d.ratio, 1.0)
    return d.torque_nmm * fed * ratio * passes


def end_to_end_s(t: Tilt, share: float) -> float:
    """Seconds for the whole way under a load of a share of its torque."""
    d = t.drive
    slows = max(1 - min(share, 0.95), 0.05)
    if d.kind == "linear":
        return d.crank_mm * math.radians(t.most_deg) / (d.speed_mm_s * slows)
    fed = min(d.fed_v / d.rated_v, 1.3)
    return d.s_per_60deg * t.most_deg / 60 * d.ratio / (fed * slows)


def tilts_of(result: Evaluation, thrust_n: float | None = None) -> tuple[TiltSight, ...]:
    """Of every tilt; thrust is that of hover unless said."""
    by_id = {s.id: k for k, s in enumerate(stations(result.project))}
    out = []
    for t in result.project.flying.tilts:
        mine = [by_id[r] for r in t.rotors if r in by_id]
        if mine:
            out.append(max((_tilt(result, t, k, thrust_n) for k in mine), key=lambda x: x.most_nmm))
    return tuple(out)


def _tilt(result: Evaluation, t: Tilt, k: int, thrust_n: float | None) -> TiltSight:
    drive = drives(result.project)[k]
    m, p = drive.motor, drive.propeller
    angle = np.radians(np.linspace(0.0, t.most_deg, len(ANGLES_DEG)))
    up_m, up_p = t.pivot_under_mm + m.height_mm / 2, t.pivot_under_mm + m.height_mm + HUB_OVER_MM
    grams = np.array([m.mass_g, p.mass_g, t.pod_g])
    ahead, up = np.array([t.pivot_back_mm, t.pivot_back_mm, 0.0]), np.array([up_m, up_p, t.pod_over_mm])
    thrust = thrust_n if thrust_n is not None else float(result.allocation.hover_n[k]) or result.power.hover_thrust_n
    rpm = result.power.rotors[k].full_rpm
    # ahead of the axis weight turns it on; the drive holds it back
    out_mm = ahead[:, None] * np.cos(angle) + up[:, None] * np.sin(angle)
    weight = (grams[:, None] * 1e-3 * GRAVITY_M_S2 * out_mm).sum(axis=0)
    line = np.full(len(angle), -thrust * t.pivot_back_mm)
    air = -LOST_PUSH * thrust * up_p * np.sin(2 * angle)
    inertia = float((grams * (ahead**2 + up**2)).sum()) * 1e-9
    seconds = end_to_end_s(t, 0.5)
    rate = math.radians(t.most_deg) / seconds
    start = np.full(len(angle), inertia * rate / SPEEDS_UP_S * 1e3)
    rubs = np.full(len(angle), t.friction_nmm)
    torque = weight + line + air
    torque = torque + np.sign(torque) * (rubs + start)
    has = has_nmm(t)
    share = float(np.abs(torque).max()) / max(has, 1e-9)
    spin = float(propeller_inertia_gmm2(p)[2, 2]) * 1e-9 * rpm * 2 * math.pi / 60
    f = filament_of(result.project, t.drive.gear_filament) if t.drive.kind == "gear" else None
    geared = t.drive.kind == "gear"
    pinion = float(np.abs(torque).max()) / (t.drive.ratio * t.drive.efficiency) if geared else 0.0
    passes = 0.0 if t.drive.holds_itself else back_share(t.drive.efficiency) if geared else 1.0
    back = float(np.abs(weight + line).max()) * passes
    return TiltSight(
        t, np.degrees(angle), torque, {"weight of the pod": weight, "thrust beside the axis": line, "air": air, "friction": rubs,
            "starting": start},
        has, end_to_end_s(t, share), min(share, 1.0) * t.drive.stall_a, spin * rate * 1e3,
        tooth_mpa(pinion, t.drive.module_mm, t.drive.teeth, t.drive.face_mm) if geared else None,
            f.s_cross_mpa.low if f is not None else 0.0, _flights(t, float(np.abs(torque).mean())) if geared else None,
        passes <= 0.0, back,
    )  # fmt: skip


def _flights(t: Tilt, torque_nmm: float) -> Spread:
    """Ways over and back until the pinion is worn, under a mean torque at the axis."""
    d = t.drive
    pinion = torque_nmm / (d.ratio * d.efficiency)
    moves = moves_till_worn(pinion, math.radians(t.most_deg) * d.ratio, d.module_mm, d.teeth, max(round(d.teeth * d.ratio), 8), d.face_mm)
    return Spread(*(m / 2 for m in moves))
