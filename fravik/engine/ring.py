"""Whether the rate loop rings with the frame: every axis, in descent, hover and at full throttle, charged and empty, in soft and stiff
plastic."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial
from typing import Literal

import numpy as np

from fravik.flight.allocation import AXES
from fravik.flight.loop import (
    MOST_DB,
    Complex,
    Controller,
    LoopMargins,
    Motors,
    Paths,
    Plant,
    controller_response,
    frequencies,
    margins,
    paths,
    plant_response,
    tuned,
)
from fravik.flight.looptime import Second, simulate
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.model.material import CORNERS, Corner
from fravik.model.tune import Tune, in_force
from fravik.power.lag import lag_at
from fravik.power.momentum import RotorFigures
from fravik.printing.zones import Floats

from .results import Evaluation
from .rotors import CHARGED, EMPTY, mix_of, power_at
from .shake import Shake

RingVerdict = Literal["quiet", "nearly rings", "rings", "runs away"]
# of the thrust in hover: a brisk descent; of full thrust with the pack half empty: a punch of the throttle
DESCENT, PUNCH = 0.3, 0.8
THROTTLES = ("descent", "hover", "full throttle")
IDLE, PUNCHED = "idle", "punch"
WATCHED = (IDLE, PUNCHED)  # looked at in time only
IN_WORDS = {"descent": "in a descent", "full throttle": "at full throttle", IDLE: "at idle", PUNCHED: "in a punch of the throttle"}
CHARGES = (("charged", CHARGED), ("empty", EMPTY))
# a loop nearer to ringing than this rings at the first gust; motors driven over so much of their range hit both stops
CLOSE_DB, STOPS = 3.0, 0.8
QUICK = 4.0  # modes so many times quicker than what rings are left out of the second in time
WANTED_DB = 6.0  # what is usually kept
TRIED, HALVINGS = (0.1, 0.2, 0.4, 0.8, 1.6, 3.2), 4
# yaw, which rotors turn by little more than their torque, is left to follow so much slower; what rotors push back
# as they speed up, which is the harder the quicker they are asked to, is levelled
YAW_SHARE = 1 / 3
REACHED = 0.5  # of a moment asked for, what the rotors have to give of it
NEAR_MODE = 0.2  # a ring so near a mode, over its frequency, is that mode's
TORN_DB = 1e-9


@dataclass(frozen=True)
class At:
    """A state of flight: throttle and charge, by name."""

    throttle: str
    charge: str

    @property
    def words(self) -> str:
        """In a sentence."""
        return f"{IN_WORDS.get(self.throttle, f'in {self.throttle}')}, {self.charge}"


@dataclass(frozen=True, eq=False)
class AxisRing:
    """One axis at its worst: margins with the softest, usual and stiffest plastic, where the usual one's is, and what rings."""

    axis: str
    corners: tuple[LoopMargins, LoopMargins, LoopMargins]
    at: At
    mode: int | None
    rings: str
    worked_out: Callable[[], RingVerdict]

    @cached_property
    def verdict(self) -> RingVerdict:
        """What becomes of it, with the usual plastic."""
        return self.worked_out()

    @property
    def typical(self) -> LoopMargins:
        """With the usual plastic."""
        return self.corners[CORNERS.index("typical")]

    @property
    def spread_db(self) -> tuple[float, float, float]:
        """Low, usual and high gain margin."""
        each = [m.gain_db for m in self.corners]
        return min(each), self.typical.gain_db, max(each)


@dataclass(frozen=True, eq=False)
class Ring:
    """All axes under one tune. ``left_out`` says why an axis is not judged."""

    tune: Tune
    crossover_hz: float
    axes: tuple[AxisRing, ...]
    left_out: tuple[tuple[str, str], ...]

    @property
    def quiet(self) -> bool:
        """On every axis, whatever the plastic within its spread."""
        return bool(self.axes) and all(_quiet(a.corners) for a in self.axes)

    @property
    def worst(self) -> AxisRing | None:
        """The axis nearest to ringing."""
        return min(self.axes, key=lambda a: a.typical.gain_db, default=None)


@dataclass(frozen=True, eq=False)
class RingCraft:
    """What no tune changes: per axis and corner the plant and its paths, per state of flight the motors, thrusts left down and up (n,), and
    1/rev of the hardest rotor."""

    plants: dict[tuple[str, Corner], tuple[Plant, Paths]]
    motors: dict[At, Motors]
    room_n: dict[At, tuple[Floats, Floats]]
    turns_hz: dict[At, float]
    middle: Motors


def axes_of(result: Evaluation) -> tuple[tuple[str, ...], tuple[tuple[str, str], ...]]:
    """The axes that are judged, and why others are not."""
    mix, _ = shares_of(result)
    tilts = any(s.tilt_deg for s in stations(result.project))
    judged, left_out = [], []
    for k, axis in enumerate(AXES, start=1):
        if tilts and axis == "yaw":
            left_out.append((axis, "Its rotors tilt to turn it: how quickly their servos do is not known."))
        elif float(mix[k] @ shares_of(result)[1][:, k]) < REACHED:
            left_out.append((axis, "The thrust of its rotors does not turn it about this axis."))
        else:
            judged.append(axis)
    return tuple(judged), tuple(left_out)


def shares_of(result: Evaluation) -> tuple[Floats, Floats]:
    """The mixing (4, n) of the rotors' thrusts, and the thrusts (n, 4) of least effort for one newton, or one N mm about each axis."""
    mix = mix_of(result.project, result.craft, result.power)[:, : len(result.power.rotors)]
    full = np.array([r.full_thrust_n for r in result.power.rotors])
    strength = full / max(float(full.mean()), 1e-12)
    return mix, strength[:, None] * np.linalg.pinv(mix * strength)


def _plant(result: Evaluation, shake: Shake, axis: int, corner: int) -> Plant:
    shaken = shake.corners[corner]
    gyro, whole = shaken.seen[0, 3 + axis], np.linalg.solve(shaken.rigid_mass, shaken.seen_rigid[0, 3 + axis])
    every, own = stations(result.project), result.power.rotors
    share, feet = shares_of(result)[1][:, 1 + axis], shake.gyro_feet
    soft = (2 * math.pi * float(feet.rings_hz()[3 + axis]), feet.loss / 2) if feet is not None else None
    return Plant(
        shaken.w_rad_s, shaken.loss / 2, shake.hubs[:, 2] * gyro, shake.hubs[:, 5] * gyro, shake.hubs_rigid[:, 2] @ whole,
        shake.hubs_rigid[:, 5] @ whole, share, np.array([float(s.spin) for s in every]), np.array([r.torque_mm for r in own]), soft,
    )  # fmt: skip


def _states(result: Evaluation) -> tuple[dict[At, Motors], dict[At, tuple[Floats, Floats]], dict[At, float], Motors]:
    own, each = result.power.rotors, drives(result.project)
    charges = {name: power_at(result, drawn) for name, drawn in CHARGES}
    hover = [lag_at(d, r, r.hover_rpm) for d, r in zip(each, own, strict=True)]
    middle = Motors(np.array([h.lag_s for h in hover]), np.array([h.swing_s for h in hover]), np.ones(len(own)))
    motors, room, turns = {}, {}, {}
    for throttle in (*THROTTLES, *WATCHED):
        speeds = [_speed(r, throttle) for r in own]
        lags = [lag_at(d, r, rpm) for d, r, rpm in zip(each, own, speeds, strict=True)]
        thrust = np.array([r.hover_thrust_n * (rpm / r.hover_rpm) ** 2 for r, rpm in zip(own, speeds, strict=True)])
        least = np.array([r.full_thrust_n * (r.idle_rpm / max(r.full_rpm, 1e-9)) ** 2 for r in own])
        for charge, there in charges.items():
            most = np.array([r.full_thrust_n for r in there.rotors])
            at = At(throttle, charge)
            volts = (there.full_volts if throttle in ("full throttle", PUNCHED) else there.hover_volts) / result.power.hover_volts
            gain = np.array([volts * a.n_per_volt / h.n_per_volt for a, h in zip(lags, hover, strict=True)])
            motors[at] = Motors(np.array([a.lag_s for a in lags]), np.array([a.swing_s for a in lags]), gain)
            room[at] = (np.minimum(least - thrust, 0.0), np.maximum(most - thrust, 0.0))
            turns[at] = max(speeds) / 60
    return motors, room, turns, middle


def _speed(r: RotorFigures, throttle: str) -> float:
    return {
        "descent": r.hover_rpm * math.sqrt(DESCENT), "full throttle": r.full_rpm, IDLE: r.idle_rpm, PUNCHED: r.full_rpm * math.sqrt(PUNCH),
    }.get(throttle, r.hover_rpm)  # fmt: skip


def can_fly(result: Evaluation) -> bool:
    """Whether every rotor has thrust left in hover: without, there is no loop to speak of."""
    return all(r.full_thrust_n > r.hover_thrust_n for r in result.power.rotors)


def craft_of(result: Evaluation) -> RingCraft | None:
    """The craft ready for any tune; None where its modes are not known."""
    if result.whole is None or result.scope.flight or not can_fly(result):
        return None
    shake, reach = result.whole.shake, 0.5 * result.project.brief.loop_crossover_hz
    plants = {}
    for k, axis in enumerate(AXES):
        if axis in axes_of(result)[0]:
            for c, corner in enumerate(CORNERS):
                plant = _plant(result, shake, k, c)
                plants[axis, corner] = plant, paths(plant, frequencies(plant, reach))
    return RingCraft(plants, *_states(result))


def controller_of(craft: RingCraft, result: Evaluation, tune: Tune, axis: str, at: At) -> Controller:
    """The controller of an axis: tuned in hover on the rigid craft, its notches where the motors turn now."""
    plant, figures = craft.plants[axis, "typical"][0], in_force(tune)
    notches = [(n + 1) * craft.turns_hz[at] for n in range(figures.notches)]
    tuned_at = [(n + 1) * craft.turns_hz[At("hover", at.charge)] for n in range(figures.notches)]
    crossover = result.project.brief.loop_crossover_hz * figures.follows * (YAW_SHARE if axis == "yaw" else 1.0)
    delay_s = figures.delay_ms * 1e-3
    made = tuned(plant, craft.middle, crossover, figures.lead, figures.lowpass, tuned_at, figures.notch_q, delay_s, axis == "yaw")
    return replace(made, notch_hz=tuple(notches))


def ring_of(result: Evaluation, tune: Tune | None = None, craft: RingCraft | None = None) -> Ring | None:
    """The loop on the craft as it is, under its own tune or another. None where its modes are not known."""
    tune, craft = tune or result.project.tune, craft or craft_of(result)
    if craft is None:
        return None
    judged, left_out = axes_of(result)
    axes = tuple(_axis(craft, result, tune, axis) for axis in judged)
    return Ring(tune, result.project.brief.loop_crossover_hz * in_force(tune).follows, axes, left_out)


def _axis(craft: RingCraft, result: Evaluation, tune: Tune, axis: str) -> AxisRing:
    worst: dict[Corner, tuple[LoopMargins, At]] = {}
    for at in _unlike(craft, tune):
        for corner in CORNERS:
            found = margins(*open_loop(craft, result, tune, axis, at, corner))
            if corner not in worst or found.gain_db < worst[corner][0].gain_db - TORN_DB:
                worst[corner] = found, at
    (soft, _), (usual, at), (stiff, _) = (worst[c] for c in CORNERS)
    mode, words = _what_rings(result, usual.freq_hz)
    return AxisRing(axis, (soft, usual, stiff), at, mode, words, partial(_verdict, craft, result, tune, axis, at, (soft, usual, stiff)))


def open_loop(craft: RingCraft, result: Evaluation, tune: Tune, axis: str, at: At, corner: Corner) -> tuple[Floats, Complex]:
    """Circular frequencies (f,) and the open loop there."""
    motors = evened(craft.motors[at]) if in_force(tune).evens else craft.motors[at]
    plant, way = craft.plants[axis, corner]
    return way.w, controller_response(controller_of(craft, result, tune, axis, at), way.w) * plant_response(plant, motors, way)


def _unlike(craft: RingCraft, tune: Tune) -> list[At]:
    """States of flight in which the loop is not the same: where thrust is evened out, the charge makes no difference."""
    judged = [at for at in craft.motors if at.throttle in THROTTLES]
    return [at for at in judged if not in_force(tune).evens or at.charge == CHARGES[0][0]]


def least_db(craft: RingCraft, result: Evaluation, tune: Tune, enough_db: float) -> float:
    """The least margin of all axes with the usual plastic; looks no further once it is less than asked for."""
    least = MOST_DB
    for axis in axes_of(result)[0]:
        for at in _unlike(craft, tune):
            least = min(least, margins(*open_loop(craft, result, tune, axis, at, "typical")).gain_db)
            if least < enough_db:
                return least
    return least


def evened(motors: Motors) -> Motors:
    """Motors whose answer is evened out by the controller."""
    return Motors(motors.lag_s, motors.swing_s, np.ones_like(motors.gain))


def _what_rings(result: Evaluation, freq_hz: float) -> tuple[int | None, str]:
    assert result.whole is not None
    every = result.whole.modes
    if not every or freq_hz <= 0:
        return None, ""
    k = min(range(len(every)), key=lambda i: abs(every[i].freq_hz - freq_hz))
    if abs(every[k].freq_hz - freq_hz) > NEAR_MODE * freq_hz:
        return None, "the loop itself"
    part = result.part(every[k].part_id)
    return k, f"{part.part.name.lower() if part is not None else 'the craft'}: {every[k].name}"


def _verdict(craft: RingCraft, result: Evaluation, tune: Tune, axis: str, at: At, corners: Sequence[LoopMargins]) -> RingVerdict:
    usual = corners[CORNERS.index("typical")]
    if usual.gain_db < 0:
        swing = second_of(craft, result, tune, axis, at).swing
        return "runs away" if swing >= STOPS else "rings"
    return "quiet" if _quiet(corners) else "nearly rings"


def _quiet(corners: Sequence[LoopMargins]) -> bool:
    return corners[CORNERS.index("typical")].gain_db >= CLOSE_DB and min(c.gain_db for c in corners) >= 0


def shown_at(at: At) -> At:
    """The state of flight in which a second is shown: that of the worst margin, but hover where motors at full have nowhere to go."""
    return At("hover", at.charge) if at.throttle == "full throttle" else at


def second_of(craft: RingCraft, result: Evaluation, tune: Tune, axis: str, at: At, seconds: float = 1.0) -> Second:
    """A second in time after a kick, with the usual plastic."""
    low, high = craft.room_n[at]
    motors = evened(craft.motors[at]) if in_force(tune).evens else craft.motors[at]
    plant = craft.plants[axis, "typical"][0]
    ringing = margins(*open_loop(craft, result, tune, axis, at, "typical")).freq_hz
    plant = plant.below(QUICK * 2 * math.pi * max(ringing, result.project.brief.loop_crossover_hz))
    return simulate(plant, motors, controller_of(craft, result, tune, axis, at), low, high, seconds)


def bears_hz(result: Evaluation, craft: RingCraft, least: float = WANTED_DB) -> float:
    """The quickest loop, by its crossover, that this frame bears with so much margin on every axis, all else as in the tune; 0 if none."""
    figures, wanted = in_force(result.project.tune), result.project.brief.loop_crossover_hz
    low, high = 0.0, 0.0

    def bears(follows: float) -> bool:
        return least_db(craft, result, figures.model_copy(update={"house": "own", "follows": follows}), least) >= least

    for follows in TRIED:
        if not bears(follows):
            high = follows
            break
        low = follows
    for _ in range(HALVINGS if low < high else 0):
        middle = (low + high) / 2
        low, high = (middle, high) if bears(middle) else (low, middle)
    return low * wanted
