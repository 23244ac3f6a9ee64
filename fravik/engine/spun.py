"""A printed propeller as its strength is judged: one blade, spinning, under its own pull and under what it lifts."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from fravik.kinds import kind_of
from fravik.kinds.printedblades import drawn
from fravik.library.air import SOUND_M_S
from fravik.model.blade import PropellerShape
from fravik.model.joint import Joint
from fravik.model.material import CORNERS, Corner, Spread
from fravik.model.problem import Problem
from fravik.power.drawn import flown, rotor
from fravik.printing.orientation import layer_normal
from fravik.printing.zones import Floats
from fravik.shape.blade import blade_of
from fravik.structure.failure import CaseReserves
from fravik.structure.fatigue import relaxed
from fravik.structure.frame import respond
from fravik.structure.joints import RIGID, JointSprings
from fravik.structure.member import (
    TYPICAL_FIRST,
    Member,
    MemberAnswer,
    MemberBasis,
    MemberChain,
    build_member,
    chain_mass,
    member_basis,
    member_chain,
)
from fravik.structure.reserves import all_reserves
from fravik.structure.softmount import G_MM_S2
from fravik.structure.spinning import Blown, Ring, held, rings_of, spun_forces, spun_modes_hz
from fravik.structure.stressbasis import StressBasis, stress_basis

from .memo import Memo
from .results import PartResult, Refused

REST_H = 1000.0
STRUCK_AT = 0.8  # of the radius: where a blade meets things
# what a tuft of grass holds against a blade before it is cut or bent away, taken twice for its suddenness, N; how stiff a stick is that is
# as thick as a finger, N/mm; working assumptions
GRASS_N, STICK_N_MM = 6.0, 40.0
Verdict = Literal["holds", "tight", "fails"]
QUARTER = 0.25  # of the chord: where a section's forces act
MOST_MACH, SPEEDS = 0.85, 14  # of the tip: no printed blade is looked at beyond
# pull round the hole of a lug over that of its net section (Heywood 1952, a pin of a third of its width); layers that lie across the pin
LUG, LEVEL, BEARING = 3.5, 0.7, 1.6
# of the speed at which a weak print lets go, what is allowed: as much as 1.5 on stress (a working assumption)
ALLOWED = 0.8
PROOF = 1.1  # over the motor's most: what a propeller is spun at behind a shield before it flies


@dataclass(frozen=True, eq=False)
class Spun:
    """A blade ready to be spun, at the corners of its plastic."""

    part: PartResult
    shape: PropellerShape
    member: Member
    basis: MemberBasis
    chain: MemberChain
    mass: Floats
    rings: Ring

    def blown(self, rpm: Floats) -> tuple[Blown, ...]:
        """The air on it, standing, at speeds (s,)."""
        there = flown(self.shape, rpm)
        blade = blade_of(self.shape).at(self.member.path.line.origin_mm[:, 0])
        r, one = rotor(self.shape).r_m * 1e3, 1e-3 / self.shape.blades
        off = blade.ahead_mm - QUARTER * blade.chord_mm
        turn = 1 if self.shape.turns == "anticlockwise" else -1
        y, z = turn * off * np.cos(blade.angle_rad), off * np.sin(blade.angle_rad)
        return tuple(
            Blown(one * np.interp(blade.radius_mm, r, push), one * np.interp(blade.radius_mm, r, hold), y, z, turn)
            for push, hold in zip(there.push_n_m, there.hold_n, strict=True)
        )  # fmt: skip

    def droop_mm(self) -> float:
        """How far its tip sinks that lies flat in service for REST_H hours: its weight, and what the plastic creeps by and by."""
        nodes = self.member.path.nodes_mm[:, 0]
        each = -self.rings.mass_t_mm * np.diff(nodes) * G_MM_S2 / 2
        load = np.zeros((len(nodes), 6))
        load[:-1, 2] += each
        load[1:, 2] += each
        element = self.chain.elements[0]
        bent = respond(element, held(element.k), load.reshape(-1, 1)).u[-4, 0]
        return abs(float(bent)) / relaxed(self.part.filament.creep_exponent.typical, REST_H)

    def eye_rpm(self, corner: Corner) -> float:
        """The speed at which a folding blade's eye tears at its pin, or is crushed by it; for a corner of its plastic."""
        f, s = self.part.filament, self.shape
        flat = abs(float(layer_normal(self.part.part.recipe)[2])) > LEVEL
        holds = f.s_road_mpa.at(corner) if flat else f.s_layer_mpa.at(corner)
        tears = holds * (s.eye_mm - s.pin_mm) * s.eye_height_mm / (1 + f.notch_sensitivity * (LUG - 1))
        crushed = BEARING * f.s_cross_mpa.at(corner) * s.pin_mm * s.eye_height_mm
        nodes = self.member.path.nodes_mm[:, 0]
        eye = math.pi / 4 * s.eye_mm**2 * s.eye_height_mm * f.density_g_cm3.typical * 1e-9
        each = float((self.rings.mass_t_mm * np.diff(nodes**2) / 2).sum()) + eye * s.pivot_mm
        return math.sqrt(min(tears, crushed) / each) * 60 / (2 * math.pi)

    def lag_deg(self, rpm: float) -> float:
        """How far a folding blade trails behind its pin as it spins: its drag against its pull."""
        s, nodes = self.shape, self.member.path.nodes_mm[:, 0]
        mids, long = (nodes[1:] + nodes[:-1]) / 2, np.diff(nodes)
        (air,) = self.blown(np.array([rpm]))
        drag = float((air.hold_n_mm * (mids - s.pivot_mm) * long).sum())
        back = (rpm * 2 * math.pi / 60) ** 2 * s.pivot_mm * float((self.rings.mass_t_mm * (mids - s.pivot_mm) * long).sum())
        return math.degrees(drag / max(back, 1e-12))

    def modes_hz(self, rpm: float) -> Floats:
        """The blade's lowest frequencies as it spins so fast, of the usual plastic."""
        return spun_modes_hz(self.member.path, self.chain.elements[0], self.mass, self.rings, rpm * 2 * math.pi / 60)


def spun(memo: Memo, part: PartResult) -> Spun:
    """Raises Refused where nothing is left of a section."""
    shape = drawn(part.part)
    same = part.part.model_copy(update={"name": "", "count": 1})

    def make() -> Spun:
        try:
            member = build_member(kind_of(shape).form(part.part, shape, part.given.length_mm), part.field)
        except ValueError as err:
            raise Refused([Problem(f"parts.{part.part.id}.shape", f"{part.part.name}: {err}")]) from None
        basis = member_basis(member, part.filament, part.part.recipe)
        chain = member_chain(member, basis, part.filament, part.part.recipe)
        mass = chain_mass(member, chain, part.filament)
        return Spun(part, shape, member, basis, chain, mass, rings_of(member, part.filament.density_g_cm3.typical * 1e-9))

    return memo.get("spun", (part.given, same, part.filament), make)


@dataclass(frozen=True, eq=False)
class LetsGo:
    """When a propeller lets go: rpm with weak, usual and strong prints (None: not up to ``looked_to``), by what and where with the usual
    one, and by spin alone; and the reserves along the blade at one speed."""

    rpm: tuple[float | None, float | None, float | None]
    kind: str
    position_mm: float
    spin_alone_rpm: float | None
    looked_to: float
    at_rpm: float
    at: CaseReserves
    tip_up_mm: float
    untwist_deg: float

    @property
    def weak(self) -> float:
        """With a weak print, or as far as was looked."""
        return self.rpm[0] if self.rpm[0] is not None else self.looked_to

    @property
    def allowed(self) -> float:
        """Above it, do not spin."""
        return ALLOWED * self.weak

    def verdict(self, most_rpm: float) -> Verdict:
        """Whether a motor that reaches so much may turn it as fast as it can."""
        return "holds" if self.allowed >= most_rpm else "tight" if self.weak >= most_rpm else "fails"

    @property
    def spread(self) -> Spread:
        """Low, usual and high, as far as was looked."""
        return Spread(*sorted(r if r is not None else self.looked_to for r in self.rpm))


def lets_go(blade: Spun, most_rpm: float) -> LetsGo:
    """``most_rpm`` is what its motor reaches; reserves are told there."""
    top = MOST_MACH * SOUND_M_S / (blade.shape.radius_mm * 1e-3) * 60 / (2 * math.pi)
    rpm = np.unique(np.append(np.geomspace(0.25 * min(most_rpm, top), max(top, 1.2 * most_rpm), SPEEDS), most_rpm))
    names, air = [f"{k}" for k in range(len(rpm))], blade.blown(rpm)
    still = tuple(replace(a, push_n_mm=0 * a.push_n_mm, hold_n_mm=0 * a.hold_n_mm) for a in air)
    at, found = int(np.searchsorted(rpm, most_rpm)), {}
    like: StressBasis | None = None
    bent = np.zeros((1, 6))
    for corner, element in zip(TYPICAL_FIRST, range(3), strict=True):
        basis, moved = _stresses(blade, corner, element, rpm, air, like)
        if like is None:
            like, bent = basis, moved[:, :, at]
        found[corner] = all_reserves(basis, _each(names))
    alone = all_reserves(_stresses(blade, "typical", 0, rpm, still, like)[0], _each(names))
    typical = found["typical"]
    speeds = [_crossing(rpm, [found[c][n].reserve for n in names]) for c in CORNERS]
    usual = speeds[CORNERS.index("typical")]
    governs = typical[names[min(int(np.searchsorted(rpm, usual if usual is not None else rpm[-1])), len(names) - 1)]]
    turn = 1 if blade.shape.turns == "anticlockwise" else -1
    kind, at_mm = governs.kind, _radius(blade, governs.position_mm)
    if blade.shape.folds:
        eyes = [blade.eye_rpm(c) for c in CORNERS]
        if eyes[CORNERS.index("typical")] < (usual or math.inf):
            kind, at_mm = "the eye at its pin", blade.shape.pivot_mm
        speeds = [min(v if v is not None else math.inf, e) for v, e in zip(speeds, eyes, strict=True)]
    ordered = sorted(speeds, key=lambda v: v if v is not None else math.inf)
    return LetsGo((ordered[0], ordered[1], ordered[2]), kind, at_mm,
                  _crossing(rpm, [alone[n].reserve for n in names]), float(rpm[-1]), most_rpm, typical[names[at]], float(bent[-1, 2]),
                  math.degrees(turn * float(bent[np.abs(bent[:, 3]).argmax(), 3])))  # fmt: skip


@dataclass(frozen=True)
class Struck:
    """What pushed against a blade's turn breaks it, N, and the speeds from which a stick does, rpm; with weak, usual and strong plastic."""

    holds_n: Spread
    stick_rpm: Spread

    @property
    def grass(self) -> bool:
        """Whether it comes through grass."""
        return self.holds_n.low >= GRASS_N


def struck(blade: Spun) -> Struck:
    """What goes round with the motor, a blade's mass at STRUCK_AT of the radius, is stopped by the blade in its own plane and a stick in a
    row: F = v sqrt(k m). Pull and lift are left out, the blade's toughness too.
    """
    path, shape = blade.member.path, blade.shape
    node = int(np.argmin(np.abs(path.nodes_mm[:, 0] - STRUCK_AT * shape.radius_mm)))
    at = float(path.nodes_mm[node, 0])
    load = np.zeros((6 * len(path.nodes_mm), 1))
    load[6 * node + 1] = -1.0 if shape.turns == "anticlockwise" else 1.0
    long = np.diff(path.nodes_mm[:, 0])
    middle = (path.nodes_mm[1:, 0] + path.nodes_mm[:-1, 0]) / 2
    mass_t = float((blade.rings.mass_t_mm * long * middle**2).sum()) / at**2
    speeds, holds, like = [], [], None
    for k, corner in enumerate(TYPICAL_FIRST):
        element = blade.chain.elements[k]
        answer = respond(element, held(element.k), load)
        gives = abs(float(answer.u[6 * node + 1, 0]))
        basis = _basis_of(blade, corner, k, answer.forces, np.zeros((6, 1)), np.zeros((6, 1)), like)
        like = like or basis
        holds_n = min(all_reserves(basis, _each(["0"]))["0"].reserve, 1e6)
        stiff = 1.0 / (gives + 1.0 / STICK_N_MM)
        holds.append(holds_n)
        speeds.append(holds_n / math.sqrt(stiff * mass_t) / at * 60 / (2 * math.pi))
    return Struck(Spread(*sorted(holds)), Spread(*sorted(speeds)))


def _radius(blade: Spun, position_mm: float) -> float:
    return position_mm + blade.shape.root_mm


def _each(names: list[str]) -> dict[str, Floats]:
    return {n: np.eye(len(names))[k] for k, n in enumerate(names)}


def _stresses(
    blade: Spun, corner: Corner, k: int, rpm: Floats, air: tuple[Blown, ...], like: StressBasis | None
) -> tuple[StressBasis, Floats]:
    """Forces at every speed as the load cases of an answer, and how its nodes move (n, 6, s)."""
    element = blade.chain.elements[k]
    forces, root, moved = spun_forces(blade.member.path, element, blade.mass, blade.rings, rpm * 2 * math.pi / 60, air)
    return _basis_of(blade, corner, k, forces, root, moved[-1], like), moved


def _basis_of(blade: Spun, corner: Corner, k: int, forces: Floats, root: Floats, tip: Floats, like: StressBasis | None) -> StressBasis:
    chain, fast, none = blade.chain, JointSprings(np.full(6, RIGID), 0.0, 0.0), (np.zeros(0), np.zeros((0, 0)), ())
    answer = MemberAnswer(corner, chain.materials[k], chain.sections[k], forces, root, tip, *none, chain.inserts[k], fast)
    return stress_basis(blade.member, blade.basis, answer, Joint(kind="one_piece"), blade.part.filament, blade.part.part.recipe, like)


def _crossing(rpm: Floats, reserves: list[float]) -> float | None:
    """Where the reserve falls below 1; None where it does not."""
    every = np.array(reserves)
    below = np.flatnonzero(every < 1)
    if not len(below):
        return None
    k = int(below[0])
    if k == 0:
        return float(rpm[0] * math.sqrt(every[0]))
    share = np.log(every[k - 1]) / (np.log(every[k - 1]) - np.log(every[k]))
    return float(rpm[k - 1] * (rpm[k] / rpm[k - 1]) ** share)
