"""The drive over a flight: from full to empty what each rotor turns, draws and how warm it gets, against every limit of current."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from fravik.flight.allocation import AXES
from fravik.flight.loop import controller_response
from fravik.flight.looptime import Second
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.model.material import Spread
from fravik.model.project import Metric
from fravik.power.blades import climbing_share
from fravik.power.discharge import Flight, flight
from fravik.power.drive import Drive
from fravik.power.heat import ELECTRIC_S, Work, burst_c, wash_m_s, winding_c
from fravik.power.lag import driven_a2, lag_at
from fravik.power.momentum import GRAVITY_M_S2, THRUST_SPREAD, PowerFigures, RotorFigures
from fravik.power.motor import motor_at
from fravik.power.pack import supply

from .budget import Found
from .results import Evaluation
from .ring import At, RingCraft, controller_of, craft_of, shares_of
from .rotors import CHARGED, EMPTY, power_at

MOST_CLIMB_M_S = 80.0
ASKED: tuple[Metric, ...] = ("motor_temp_c", "top_current_a", "thrust_left")


@dataclass(frozen=True)
class Limit:
    """A current that something stands, and what is asked of it. ``briefly`` says that seconds of it are meant."""

    what: str
    path: str
    stands_a: float
    asked_a: float
    briefly: bool

    @property
    def over(self) -> float:
        """What is asked over what it stands."""
        return self.asked_a / max(self.stands_a, 1e-9)


@dataclass(frozen=True)
class RotorDrive:
    """One rotor with full and with empty pack: throttle in hover, current at full throttle, and how warm its winding gets.

    ``hover_c`` is that in long hover, ``buzz_c`` the same with what the gyro's buzz adds (None where the modes are not known), ``burst_c``
    after some seconds of full throttle from it.
    """

    station: str
    drive: Drive
    hover_full: float
    hover_empty: float
    top_a: float
    hover_c: Spread
    buzz_c: Spread | None
    burst_c: Spread

    @property
    def hottest_c(self) -> Spread:
        """The worst of the three."""
        each = [s for s in (self.hover_c, self.buzz_c, self.burst_c) if s is not None]
        return Spread(max(s.low for s in each), max(s.typical for s in each), max(s.high for s in each))


@dataclass(frozen=True)
class DriveTrain:
    """All rotors, and the pack: as it is full, and when it is time to land."""

    rotors: tuple[RotorDrive, ...]
    full: PowerFigures
    empty: PowerFigures
    worst_empty: PowerFigures
    flight: Flight
    limits: tuple[Limit, ...]

    @property
    def hottest(self) -> RotorDrive:
        """The rotor whose winding gets hottest."""
        return max(self.rotors, key=lambda r: r.hottest_c.typical)

    @property
    def top_a(self) -> float:
        """Drawn from a full pack at full throttle."""
        return self.full.pack_current_a


def _work(drive: Drive, figures: RotorFigures, full: bool, ripple_a2: float = 0.0) -> Work:
    thrust = figures.full_thrust_n if full else figures.hover_thrust_n
    amps = figures.full_current_a if full else figures.hover_current_a
    torque = figures.full_torque_nmm if full else figures.hover_torque_nmm
    volts = motor_at(drive.motor, figures.full_rpm if full else figures.hover_rpm, torque * 1e-3).volts
    return Work(amps * amps + ripple_a2, volts, wash_m_s(thrust, drive.propeller.diameter_mm))


def buzz_a2(result: Evaluation, craft: RingCraft) -> np.ndarray:
    """Mean square of the current (rotors,) that motors take in hover because the gyro feels imbalance and blade pass.

    The controller answers what it feels, filtered, too quickly for the motors to follow: all of its voltage drives current through the
    winding.
    """
    assert result.whole is not None
    shake, at = result.whole.shake, At("hover", "charged")
    own, every = result.power.rotors, drives(result.project)
    felt = shake.over(np.array([result.power.hover_rpm]))
    rate = np.radians(felt.gyro_dps[1, :, 0])  # typical plastic, by order
    out = np.zeros(len(own))
    judged = [axis for axis in AXES if (axis, "typical") in craft.plants]
    for axis in judged:
        share = shares_of(result)[1][:, 1 + AXES.index(axis)]
        for k, order in enumerate(shake.orders):
            w = 2 * math.pi * result.power.hover_rpm / 60.0 * order.per_rev
            asked = abs(complex(controller_response(controller_of(craft, result, result.project.tune, axis, at), np.array([w]))[0]))
            # the gyro's turning is not told by axis: each takes an even part of its square
            n = asked * rate[k] / math.sqrt(max(len(judged), 1)) * np.abs(share)
            for j, (d, r) in enumerate(zip(every, own, strict=True)):
                volts = min(n[j] / max(lag_at(d, r, r.hover_rpm).n_per_volt, 1e-12), result.power.hover_volts)
                out[j] += 0.5 * (volts / (d.motor.resistance_mohm * 1e-3)) ** 2 / (1 + (w * ELECTRIC_S) ** 2)
    return out


def climbs_m_s(result: Evaluation, power: PowerFigures) -> float:
    """The fastest straight climb at full throttle, at most: the body's drag is left out. 0 where it does not lift itself."""
    weight = result.craft.mass_g * 1e-3 * GRAVITY_M_S2
    speed = np.linspace(0.0, MOST_CLIMB_M_S, 161)
    push = np.zeros(len(speed))
    for d, r in zip(drives(result.project), power.rotors, strict=True):
        push += r.full_thrust_n * climbing_share(d.propeller, r.full_rpm, speed)
    return float(speed[int(np.argmax(push < weight))]) if (push < weight).any() else MOST_CLIMB_M_S


def rung_c(result: Evaluation, craft: RingCraft, at: At, second: Second) -> Spread:
    """How warm the hottest winding gets in a hover in which the loop swings on as at the end of a second in time."""
    low, high = craft.room_n[at]
    last = second.asked[2 * len(second.asked) // 3 :]
    thrust = last * (high - low)
    step, air = float(second.at_s[1] - second.at_s[0]), result.project.brief.service_temp_c
    each = []
    for k, (d, r) in enumerate(zip(drives(result.project), result.power.rotors, strict=True)):
        ripple = driven_a2(d, r, step, thrust[:, k] - thrust[:, k].mean(), result.power.hover_volts)
        each.append(winding_c(d.motor, _work(d, r, False, ripple), air))
    return max(each, key=lambda s: s.typical)


def drive_of(result: Evaluation, craft: RingCraft | None = None) -> DriveTrain:
    """The drive from full to empty. ``craft`` is the loop's, where it is already known."""
    project, every = result.project, drives(result.project)
    full, empty, worst = power_at(result, CHARGED), power_at(result, EMPTY), power_at(result, EMPTY, "low")
    craft = craft or craft_of(result)
    ripple = buzz_a2(result, craft) if craft is not None else None
    air = project.brief.service_temp_c
    rotors = tuple(
        _rotor(d, result.power.rotors[k], full.rotors[k], empty.rotors[k], air, None if ripple is None else float(ripple[k]), s.id)
        for k, (d, s) in enumerate(zip(every, stations(project), strict=True))
    )
    pack = supply(project.components)
    return DriveTrain(rotors, full, empty, worst, flight(pack, result.power.hover_power_w), tuple(_limits(result, full)))


def _rotor(
    d: Drive, mean: RotorFigures, full: RotorFigures, empty: RotorFigures, air_c: float, ripple: float | None, station: str
) -> RotorDrive:
    hover = _work(d, mean, full=False)
    return RotorDrive(
        station, d, full.hover_throttle, empty.hover_throttle, full.full_current_a, winding_c(d.motor, hover, air_c),
        None if ripple is None else winding_c(d.motor, _work(d, mean, False, ripple), air_c),
        burst_c(d.motor, hover, _work(d, full, full=True), air_c),
    )  # fmt: skip


def _limits(result: Evaluation, full: PowerFigures) -> list[Limit]:
    """Every current that is known to be stood, and the pack's, which is always asked."""
    parts, pack = result.project.components, supply(result.project.components)
    out: list[Limit] = []
    for d, r in dict(zip(drives(result.project), full.rotors, strict=True)).items():
        if d.motor.most_a > 0:
            out.append(Limit("motor", f"{d.path}.motor.most_a", d.motor.most_a, r.full_current_a, True))
        if d.motor.controller_a > 0:
            out.append(Limit("controller", f"{d.path}.motor.controller_a", d.motor.controller_a, r.full_current_a, False))
    top, own = full.pack_current_a, parts.battery
    steady = own.rated_c if own.rated_c > 0 else pack.sort.usual_c.typical
    out.append(Limit("pack", "components.battery.rated_c", steady * pack.capacity_mah * 1e-3, top, False))
    if own.plug_a > 0:
        out.append(Limit("plug", "components.battery.plug_a", own.plug_a, top, False))
    return out


def answered(result: Evaluation, train: DriveTrain) -> dict[Metric, Found]:
    """What targets on the drive ask."""
    hot, top = train.hottest, train.top_a
    names = {s.id: s.side for s in stations(result.project)}
    warm = hot.hottest_c
    when = "at full throttle" if hot.burst_c.typical >= warm.typical else "in hover"
    low = train.worst_empty.thrust_to_weight * (1 - THRUST_SPREAD)
    best = power_at(result, EMPTY, "high").thrust_to_weight * (1 + THRUST_SPREAD)
    return {
        "motor_temp_c": ((warm.low, warm.typical, warm.high), f"{names[hot.station]} motor, {when}"),
        "top_current_a": ((top * (1 - THRUST_SPREAD), top, top * (1 + THRUST_SPREAD)), "full pack, full throttle"),
        "thrust_left": ((low, train.empty.thrust_to_weight, best), "when it is time to land"),
    }


def drive_rows(result: Evaluation, train: DriveTrain) -> dict[str, Any]:
    """The same as data."""
    flown = train.flight
    return {
        "rotors": [
            {"id": r.station, "hover_throttle_full": r.hover_full, "hover_throttle_empty": r.hover_empty,
             "hover_rpm": own.hover_rpm, "full_rpm": full.full_rpm, "empty_rpm": empty.full_rpm,
             "hover_current_a": own.hover_current_a, "full_current_a": r.top_a,
             "winding_hover_c": list(r.hover_c), "winding_buzz_c": None if r.buzz_c is None else list(r.buzz_c),
             "winding_full_c": list(r.burst_c), "winding_stands_c": r.drive.motor.hottest_c}
            for r, own, full, empty in zip(train.rotors, result.power.rotors, train.full.rotors, train.empty.rotors, strict=True)
        ],
        "pack": {"volts_first": float(flown.volts[0]) if len(flown.volts) else None,
                 "volts_last": float(flown.volts[-1]) if len(flown.volts) else None, "minutes": flown.lasts_min,
                 "ends_by": "voltage" if flown.by_voltage else "charge", "top_current_a": train.top_a,
                 "climb_full_m_s": climbs_m_s(result, train.full), "climb_empty_m_s": climbs_m_s(result, train.empty),
                 "thrust_to_weight_full": train.full.thrust_to_weight, "thrust_to_weight_empty": train.empty.thrust_to_weight},
        "limits": [{"what": x.what, "field": x.path, "stands_a": x.stands_a, "asked_a": x.asked_a, "passed": x.over > 1.0}
                   for x in train.limits],
    }  # fmt: skip
