"""Load cases of arms, legs, guards and mounts, from the craft's mass and power figures and the brief.

Static cases are quasi-steady. *Hover* and *full throttle* hold the body still (as on a bench); *pull-up* adds the inertia of the
part and what it carries; *hard yaw* speeds one diagonal pair up; *motor out of step* jerks the motor's torque; *hard landing* and
*flat drop* come from two masses on springs, a landing on two feet or on one from the rigid craft that turns about them; *transport* is a
hand or a bag. In the *arm strike* a front motor meets a stiff pole in straight flight, and what the arm bends stops the craft; before that,
in the *first blow*, the pole stops the motor itself, whose own mass loads the pad's screws and pulls at the root. In the *guard bump* a
guard meets a wall.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from fravik.library.air import GRAVITY_M_S2
from fravik.model.project import OwnCase
from fravik.printing.zones import Floats

from .attachments import PadForce
from .failure import BRITTLE_KINDS, KINDS, CaseReserves
from .impact import (
    OWN_MASS_SHARE,
    POLE_STIFFNESS_N_MM,
    effective_strike_mass_g,
    height_from_speed_m,
    many_drops,
    mass_on_spring_peak_n,
    series_n_mm,
    toughness_speed_factor,
)
from .loadcases import CRASH_CASES, CaseKey, case_of, own_key
from .member import LOADS, MemberAnswer

G_MM = 9806.65
ONE_SPOT = 1e-9


@dataclass(frozen=True)
class CraftLoads:
    """What the cases need to know of the craft and the brief.

    Thrusts and torques act on the end of the arm that works hardest: of two rotors there that turn against each other, torques are what is
    left of both. ``yaw_push_n`` is the sideways push of a rotor that tilts, ``step_torque_nmm`` the full torque of one motor,
    ``yaw_moment_nmm`` what turns the whole craft in a hard yaw. Seen from the middle, the motor stands ``motor_out_mm`` along its arm
    and ``motor_aside_mm`` beside it. ``struck_rad`` is the direction of the arm that meets a pole, ``struck_lever_mm`` how far beside the
    middle. ``turn`` is 1 where torques twist the arm's end to the left, -1 to the right.
    """

    mass_g: float
    yaw_inertia_gmm2: float
    hover_thrust_n: float
    full_thrust_n: float
    hover_torque_nmm: float
    full_torque_nmm: float
    yaw_thrust_n: float
    yaw_torque_nmm: float
    yaw_push_n: float
    step_torque_nmm: float
    yaw_moment_nmm: float
    pull_up: float
    out_of_step: float
    landing_m_s: float
    landing_drag: float
    transport_n: float
    ground_n_mm: float
    restitution: float
    tip_mass_g: float
    motor_out_mm: float
    motor_aside_mm: float
    struck_lever_mm: float
    struck_rad: float
    own: tuple[OwnCase, ...] = ()
    turn: float = 1.0


@dataclass(frozen=True)
class Touchdown:
    """Peak forces per m/s of sink speed on one leg (or ground spring) and on one arm tip, and the body's stop in g per m/s.

    ``two_feet_n`` and ``one_foot_n`` are those on a leg when only two neighbours, or it alone, meet the ground; 0 where no legs stand.
    """

    leg_n: float
    tip_n: float
    body_g: float
    two_feet_n: float = 0.0
    one_foot_n: float = 0.0


_PLACE = {name: k for k, name in enumerate(LOADS)}


def load(**parts: float) -> Floats:
    """A combination of the unit loads by name: fx, fy, fz in N, mx, my, mz in N mm, ax, ay, az in mm/s2."""
    out = np.zeros(len(LOADS))
    for name, value in parts.items():
        out[_PLACE[name]] = value
    return out


def leg_stiffness_n_mm(leg: MemberAnswer | None, lean_deg: float) -> float:
    """Vertical stiffness at the toe of a leaning leg; without legs the body lands on the ground itself."""
    if leg is None:
        return 1e9
    tilt = math.radians(lean_deg)
    c = leg.compliance
    return 1.0 / (math.cos(tilt) ** 2 * c[0, 0] + math.sin(tilt) ** 2 * c[2, 2])


def touchdowns(loads: CraftLoads, arm: list[MemberAnswer], arms: int, leg_n_mm: list[float], feet: int) -> list[Touchdown]:
    """Peaks of a flat touch-down at 1 m/s on so many feet, at several corners of the arms' and legs' material."""
    contact = feet * np.array([series_n_mm(k, loads.ground_n_mm) for k in leg_n_mm])
    tips = arms * np.array([end_mass_g(loads, a) for a in arm])
    body = np.maximum(loads.mass_g - tips, 0.05 * loads.mass_g)
    spring = np.array([arms / float(a.compliance[2, 2]) for a in arm])
    peaks = many_drops(body, tips, contact, spring, loads.restitution)
    return [
        Touchdown(p.contact_n / feet, p.tips_n / arms, p.contact_n / (b * 1e-3) / GRAVITY_M_S2)
        for p, b in zip(peaks, body.tolist(), strict=True)
    ]  # fmt: skip


def on_few_feet(mass_g: float, com_mm: Floats, inertia_gmm2: Floats, toes_mm: Floats, leg_n_mm: float) -> tuple[Floats, Floats]:
    """(n,) peak force per m/s on each leg when the rigid craft comes down level on it and a neighbour, the harder one, and on it alone.

    ``toes_mm`` (n, 3), ``leg_n_mm`` the stiffness of a leg with the ground under it. Feet feel the mass that resists there,
    1 / (1/M + (r x z)' I^-1 (r x z)), and two of them each other: modes of their penetration, peaks added (an upper bound).
    """
    from_com = (toes_mm - com_mm) * 1e-3
    turns = np.stack([from_com[:, 1], -from_com[:, 0], np.zeros(len(toes_mm))], axis=1)
    give = 1.0 / (mass_g * 1e-3) + turns @ np.linalg.inv(inertia_gmm2 * 1e-9) @ turns.T  # 1/kg, foot against foot
    k = leg_n_mm * 1e3
    one, two = np.sqrt(k / np.diag(give)), np.zeros(len(toes_mm))
    around = np.argsort(np.arctan2(from_com[:, 1], from_com[:, 0]))
    for a, b in zip(around, np.roll(around, -1), strict=True):
        size, way = np.linalg.eigh(give[np.ix_([a, b], [a, b])])
        size = np.maximum(size, ONE_SPOT * size[-1])  # two feet on one spot only ever move alike
        two[[a, b]] = np.maximum(two[[a, b]], np.abs(way) @ (np.abs(way.sum(axis=0)) * np.sqrt(k / size)))
    return two, one


def end_mass_g(loads: CraftLoads, arm: MemberAnswer) -> float:
    """What swings at the end of an arm: motor, propeller, and the share of the arm's own mass that goes with them."""
    return loads.tip_mass_g + OWN_MASS_SHARE * arm.section.mass_t * 1e6


def first_blow_n(loads: CraftLoads, arm: MemberAnswer) -> float:
    """Peak force of a pole that stops the end of an arm at 1 m/s, before the craft behind it is felt."""
    return mass_on_spring_peak_n(1.0, POLE_STIFFNESS_N_MM, end_mass_g(loads, arm))


def strike_force_n(loads: CraftLoads, arm: MemberAnswer) -> float:
    """Peak force of an arm strike at 1 m/s: the craft's mass felt at the motor on arm and pole in series."""
    d = np.array([-math.cos(loads.struck_rad), math.sin(loads.struck_rad), 0.0])
    stiffness = series_n_mm(1.0 / float(d @ arm.compliance[:3, :3] @ d), POLE_STIFFNESS_N_MM)
    felt = effective_strike_mass_g(loads.mass_g, loads.yaw_inertia_gmm2, loads.struck_lever_mm)
    return mass_on_spring_peak_n(1.0, stiffness, felt)


def arm_combinations(loads: CraftLoads, arm: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
    """Unit-load combinations of an arm in every case; crash cases are per m/s."""
    struck, blow = strike_force_n(loads, arm), first_blow_n(loads, arm) * math.cos(loads.struck_rad)
    g, n, hover, turn = G_MM, loads.pull_up, loads.hover_thrust_n, loads.turn
    # the motors of one turn speed up, those of the other slow down: the torques add up and turn the craft
    torque, spin = turn * loads.hover_torque_nmm, turn * loads.yaw_moment_nmm / loads.yaw_inertia_gmm2 * 1e6
    return {
        "hover": load(fz=hover, mz=torque, az=-g),
        "full_throttle": load(fz=loads.full_thrust_n, mz=turn * loads.full_torque_nmm, az=-g),
        "pull_up": load(fz=n * hover, mz=n * torque, az=-g * n),
        "hard_yaw": load(
            fz=loads.yaw_thrust_n,
            fy=turn * loads.yaw_push_n,
            mz=turn * loads.yaw_torque_nmm,
            az=-g,
            ax=spin * loads.motor_aside_mm,
            ay=-spin * loads.motor_out_mm,
        ),
        "out_of_step": load(fz=hover, mz=-turn * loads.out_of_step * loads.step_torque_nmm, az=-g),
        "hard_landing": load(fz=-down.tip_n * loads.landing_m_s, az=-g),
        "transport": load(fz=-loads.transport_n, fy=0.5 * loads.transport_n),
        "flat_drop": load(fz=-down.tip_n),
        "arm_strike": load(fx=-struck * math.cos(loads.struck_rad), fy=struck * math.sin(loads.struck_rad)),
        # too short for the arm to bend, the blow runs along it to the root
        "first_blow": load(fx=-blow),
    }


def leg_combinations(loads: CraftLoads, lean_deg: float, down: Touchdown) -> dict[str, Floats]:
    """Unit-load combinations of a leg: the ground's push and drag at the toe, turned into the leg's axes."""
    tilt = math.radians(lean_deg)
    c, s = math.cos(tilt), math.sin(tilt)

    def push(force: float, drag: float) -> Floats:
        return load(fx=-c * force, fz=s * force, fy=drag * force)

    few = {"two_feet": down.two_feet_n, "one_foot": down.one_foot_n}
    return {
        "hard_landing": push(down.leg_n * loads.landing_m_s, loads.landing_drag),
        **{case: push(force * loads.landing_m_s, loads.landing_drag) for case, force in few.items() if force > 0},
        "transport": load(fy=loads.transport_n, fz=0.5 * loads.transport_n),
        "flat_drop": push(down.leg_n, 0.0),
    }


def bump_force_n(loads: CraftLoads, guard: MemberAnswer) -> float:
    """Peak force of a guard bump at 1 m/s: the whole craft on the guard's radial stiffness."""
    return mass_on_spring_peak_n(1.0, series_n_mm(1.0 / float(guard.compliance[0, 0]), POLE_STIFFNESS_N_MM), loads.mass_g)


def guard_combinations(loads: CraftLoads, guard: MemberAnswer) -> dict[str, Floats]:
    """Unit-load combinations of a guard: pushed in at the middle of its arc."""
    return {
        "pull_up": load(az=-G_MM * loads.pull_up),
        "transport": load(fx=-0.5 * loads.transport_n, fz=-0.5 * loads.transport_n),
        "guard_bump": load(fx=-bump_force_n(loads, guard)),
    }


def mount_combinations(loads: CraftLoads, down: Touchdown) -> dict[str, Floats]:
    """Unit-load combinations of a camera mount: what it carries, under the craft's accelerations; gravity pulls it down."""
    return {
        "hover": load(az=-G_MM),
        "pull_up": load(az=-G_MM * loads.pull_up),
        "hard_landing": load(az=-G_MM * (1 + down.body_g * loads.landing_m_s)),
        "transport": load(fz=-0.5 * loads.transport_n, fy=0.5 * loads.transport_n),
        "flat_drop": load(az=-G_MM * down.body_g),
    }


def with_own_cases(loads: CraftLoads, part_id: str, cases: dict[str, Floats]) -> dict[str, Floats]:
    """All cases of a part by key, the maker's own included; each (loads,) with six more for every extra place."""
    mine = [c for c in loads.own if c.part == part_id]
    if not mine:
        return cases
    out = {k: np.concatenate([v, np.zeros(6 * len(mine))]) for k, v in cases.items()}
    for i, c in enumerate(mine):
        v = np.zeros(len(LOADS) + 6 * len(mine))
        v[len(LOADS) + 6 * i : len(LOADS) + 6 * i + 6] = (
            c.force_x_n, c.force_y_n, c.force_z_n, c.moment_x_nmm, c.moment_y_nmm, c.moment_z_nmm,
        )  # fmt: skip
        out[own_key(c)] = v
    return out


@dataclass(frozen=True)
class BreakPoint:
    """Where and how a part breaks in a crash, and the speed it survives until then."""

    speed_m_s: float
    kind: str
    position_mm: float

    @property
    def height_m(self) -> float:
        """The speed as a free-fall height."""
        return height_from_speed_m(self.speed_m_s)


def pad_forces(loads: CraftLoads, arm: MemberAnswer, combos: dict[str, Floats]) -> dict[str, PadForce]:
    """In-plane force (N) and moment (N mm) that the motor's screws pass to the pad in every case: what acts on the motor, and in the
    first blow the motor's own stop."""
    i = [_PLACE[k] for k in ("fx", "fy", "mz")]
    out = {name: (math.hypot(float(c[i[0]]), float(c[i[1]])), abs(float(c[i[2]]))) for name, c in combos.items()}
    return {**out, "first_blow": (first_blow_n(loads, arm), 0.0)}


@lru_cache(maxsize=64)
def toughness(ductility_road: float, ductility_layer: float) -> Floats:
    """How much faster than its elastic limit each failure kind lets a part be hit, (kinds,); shared, so not to be written to."""
    return np.array([toughness_speed_factor(ductility_layer if k in BRITTLE_KINDS else ductility_road) for k in KINDS])


def break_points(cases: dict[CaseKey, CaseReserves], tough: Floats, positions_mm: Floats) -> dict[CaseKey, BreakPoint]:
    """Survived speed in every crash case: reserve at 1 m/s times what the toughness of each failure kind allows."""
    names = sorted((n for n in cases if case_of(n) in CRASH_CASES), key=lambda n: CRASH_CASES.index(case_of(n)))
    if not names:
        return {}
    speeds = np.stack([cases[n].values for n in names]) * tough[:, None]
    _, _, positions = speeds.shape
    flat = speeds.reshape(len(names), -1)
    out = {}
    for name, row, at in zip(names, flat, flat.argmin(axis=1).tolist(), strict=True):
        k, i = divmod(at, positions)
        out[name] = BreakPoint(float(row[at]), KINDS[k], float(positions_mm[i]))
    return out


def sag_mm(answer: MemberAnswer, combination: Floats) -> float:
    """Vertical movement of the loaded point under a case, as a positive figure."""
    return abs(float(answer.tip[2] @ combination))
