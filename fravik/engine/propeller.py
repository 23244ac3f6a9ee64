"""A printed propeller beside the bought one: what it lifts, what that costs, and whether it may spin."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.kinds.printedblades import drawn, in_place_of, is_propeller
from fravik.library.air import SOUND_M_S
from fravik.model.blade import PropellerShape
from fravik.model.craft import Propeller
from fravik.model.material import Spread
from fravik.model.project import Part, Project
from fravik.power.bem import RHO, Flown
from fravik.power.blades import resolved
from fravik.power.drawn import disk_m2, flown, rotor
from fravik.power.layersteps import drag_factor
from fravik.printing.zones import Floats
from fravik.shape.blade import Blade, blade_of

from .drivetrain import drive_of
from .evaluate import Engine
from .onshaft import SUDDEN, Balance, Grip, balance_of, grip_of
from .results import Evaluation
from .shake import out_of_balance_gmm
from .spun import PROOF, LetsGo, Spun, Struck, Verdict, lets_go, spun, struck

CURVE, BEYOND = 25, 1.15  # points of the curves over speed, and how far they go over the motor's most
SCREWS = 1.25  # times its pitch: with its camber a blade pushes beyond that
AIR_SPREAD = 0.10  # of thrust and power: blade elements at these Reynolds numbers; a working assumption
LIFTING = (0.3, 0.95)  # of the radius: where stall is looked for
# of how much warmer than the air a winding is, what reaches a hub in its own wash: a working assumption
FROM_MOTOR = 0.4
BENDS_DEG, SOFT_C = 3.0, 10.0
CAUTION = ("Printed blades can fly off: first spin them behind a shield, nobody in or near the plane of the disk, eyes covered; look "
           "them over after every flight, and never mend one.")  # fmt: skip


@dataclass(frozen=True, eq=False)
class Curves:
    """Over speeds (s,) of turn, standing: thrust N and power W at the shaft of the printed one (low, usual, high) and of the bought."""

    rpm: Floats
    thrust_n: tuple[Floats, Floats, Floats]
    power_w: tuple[Floats, Floats, Floats]
    bought_thrust_n: Floats
    bought_power_w: Floats
    merit: Floats


@dataclass(frozen=True, eq=False)
class InFlight:
    """Over speeds of flight along the shaft (v,), m/s: thrust N and efficiency at the turns of hover and at the motor's most, (2, v)."""

    speed_m_s: Floats
    thrust_n: Floats
    efficiency: Floats

    @property
    def best(self) -> tuple[float, float]:
        """The best efficiency at the motor's most, and the speed of it."""
        k = int(self.efficiency[1].argmax())
        return float(self.efficiency[1, k]), float(self.speed_m_s[k])

    @property
    def no_thrust_m_s(self) -> float:
        """At the motor's most, the speed at which it pushes no more, or as far as was looked."""
        below = np.flatnonzero(self.thrust_n[1] <= 0)
        return float(self.speed_m_s[below[0]]) if len(below) else float(self.speed_m_s[-1])


@dataclass(frozen=True)
class Match:
    """What the craft does with one propeller on every rotor."""

    name: str
    hover_rpm: float
    most_rpm: float
    hover_throttle: float
    hover_a: float
    endurance_min: float
    thrust_to_weight: float
    winding_c: float
    torque_nmm: float


@dataclass(frozen=True, eq=False)
class PropellerSight:
    """All that is known of one printed propeller on its craft. ``at_hover`` and ``at_most`` are its rings at those speeds; ``stalled`` is
    the share of the lifting blade that is stalled in hover; ``hz`` its lowest frequencies there and ``rev_hz`` the turns."""

    part: Part
    blade: Blade
    grams: float
    minutes: float
    printed: Match
    bought: Match
    curves: Curves
    in_flight: InFlight
    at_hover: Flown
    at_most: Flown
    spun: Spun
    rough: Spread
    lets_go: LetsGo
    struck: Struck
    grip: Grip
    balance: Balance
    stalled: float
    lag_deg: float
    droop_mm: float
    hub_c: float
    hz: Floats
    rev_hz: float
    tip_m_s: float
    pass_hz: float
    bought_tip_m_s: float
    bought_pass_hz: float

    @property
    def verdict(self) -> Verdict:
        """Whether its motor may turn it as fast as it can."""
        return self.lets_go.verdict(self.printed.most_rpm)

    @property
    def proof_rpm(self) -> float:
        """To spin it at behind a shield: over what it will see where it may see that, else what it may."""
        return PROOF * self.printed.most_rpm if self.verdict == "holds" else self.lets_go.allowed

    @property
    def wanted_nmm(self) -> float:
        """What its hub has to hold: the motor's most, and more as it is jerked."""
        return SUDDEN * self.printed.torque_nmm

    @property
    def gives_way(self) -> bool:
        """Whether it untwists so far that what it lifts is not what is told."""
        return abs(self.lets_go.untwist_deg) > BENDS_DEG

    @property
    def hub_softens(self) -> bool:
        """Whether its hub comes near to where its plastic goes soft."""
        return self.hub_c > self.spun.part.filament.glass_transition_c - SOFT_C

    @property
    def tip_mach(self) -> float:
        """At the motor's most."""
        return 2 * math.pi * self.printed.most_rpm / 60 * float(self.blade.radius_mm[-1]) * 1e-3 / SOUND_M_S


def propellers(project: Project) -> tuple[Part, ...]:
    """Those that are drawn."""
    return tuple(p for p in project.parts if is_propeller(p))


def sight_of(engine: Engine, project: Project, part_id: str) -> PropellerSight:
    """Raises Refused where the craft or the propeller contradicts itself."""
    return engine.memo.get("propeller", (project, part_id), lambda: _sight(engine, project, part_id))


def _sight(engine: Engine, project: Project, part_id: str) -> PropellerSight:
    part = project.part(part_id)
    shape = drawn(part)
    made = engine.part(part, project)
    with_bought = engine.evaluate(_with(project, None))
    printed_result = _on_all(engine, project, part)
    printed, bought = _match(part.name, printed_result), _match("Bought", with_bought)
    blade, most = spun(engine.memo, made), printed.most_rpm
    gone = lets_go(blade, most)
    rough = drag_factor(shape, part.recipe)
    at = flown(shape, np.array([printed.hover_rpm, most]), 0.0, rough.typical)
    r = rotor(shape).r_m / (shape.radius_mm * 1e-3)
    lifting = (r > LIFTING[0]) & (r < LIFTING[1])
    stalled = float(np.mean(at.to_stall_rad[0, lifting] < 0))
    c = project.components.propeller
    return PropellerSight(
        part, blade_of(shape), made.grams, made.figures.minutes, printed, bought, _curves(project, shape, most, rough),
        _in_flight(shape, printed, rough.typical), _one(at, 0), _one(at, 1),
        blade, rough, gone, struck(blade), grip_of(project, made), balance_of(made, out_of_balance_gmm(c)), stalled,
        blade.lag_deg(printed.hover_rpm) if shape.folds else 0.0, blade.droop_mm(),
        made.service.temp_c + FROM_MOTOR * (printed.winding_c - project.brief.service_temp_c),
        blade.modes_hz(printed.hover_rpm),
        printed.hover_rpm / 60, *_noise(printed.hover_rpm, shape.diameter_mm, shape.blades),
        *_noise(bought.hover_rpm, c.diameter_mm, c.blades),
    )  # fmt: skip


def _noise(rpm: float, diameter_mm: float, blades: int) -> tuple[float, float]:
    """Speed of the tips in m/s, and blades that pass a second: what is heard."""
    return math.pi * rpm / 60 * diameter_mm * 1e-3, blades * rpm / 60


def _one(at: Flown, k: int) -> Flown:
    """One of its speeds."""
    return Flown(*(getattr(at, name)[k : k + 1] for name in Flown.__dataclass_fields__))


def _with(project: Project, propeller: Propeller | None) -> Project:
    """No printed one in use, and another bought one on all rotors if said."""
    parts = tuple(
        p.model_copy(update={"shape": p.shape.model_copy(update={"in_use": False})}) if is_propeller(p) else p for p in project.parts
    )
    c = project.components
    if propeller is not None:
        others = tuple(d.model_copy(update={"propeller": propeller}) for d in c.other_drives)
        c = c.model_copy(update={"propeller": propeller, "other_drives": others})
    return project.model_copy(update={"parts": parts, "components": c})


def _on_all(engine: Engine, project: Project, part: Part) -> Evaluation:
    """The craft with it on every rotor."""
    return engine.evaluate(_with(project, in_place_of(project.components.propeller, part, project)))


def _match(name: str, result: Evaluation) -> Match:
    train, p = drive_of(result), result.power
    return Match(name, p.hover_rpm, max(r.full_rpm for r in train.full.rotors), p.hover_throttle, p.hover_current_a, p.endurance_min,
                 p.thrust_to_weight, train.hottest.hover_c.typical, max(r.full_torque_nmm for r in train.full.rotors))  # fmt: skip


def _curves(project: Project, shape: PropellerShape, most_rpm: float, rough: Spread) -> Curves:
    rpm = np.linspace(0.02, BEYOND, CURVE) * most_rpm
    every = [flown(shape, rpm, 0.0, k) for k in reversed(rough)]
    spread = (1 - AIR_SPREAD, 1.0, 1 + AIR_SPREAD)
    thrust = tuple(k * f.thrust_n for k, f in zip(spread, every, strict=True))
    power = tuple(k * f.power_w for k, f in zip(spread, reversed(every), strict=True))
    p, n = resolved(project.components.propeller), rpm / 60
    d = p.diameter_mm * 1e-3
    pushes = p.thrust_coefficient * RHO * n**2 * d**4
    drawn = pushes**1.5 / math.sqrt(2 * RHO * math.pi * d**2 / 4) / p.figure_of_merit
    return Curves(rpm, (thrust[0], thrust[1], thrust[2]), (power[0], power[1], power[2]), pushes, drawn, every[1].merit(disk_m2(shape)))


def _in_flight(shape: PropellerShape, printed: Match, rough: float) -> InFlight:
    """Up to a little over what its pitch would screw forward at the motor's most."""
    top = SCREWS * shape.pitch_mm * 1e-3 * printed.most_rpm / 60
    speed = np.linspace(0.0, max(top, 1.0), CURVE)
    each = [flown(shape, np.full(CURVE, rpm), speed, rough) for rpm in (printed.hover_rpm, printed.most_rpm)]
    return InFlight(speed, np.stack([f.thrust_n for f in each]), np.stack([np.where(f.thrust_n > 0, f.efficiency, 0.0) for f in each]))


def may_it_spin(sight: PropellerSight) -> tuple[str, str]:
    """The verdict in a sentence, and why."""
    g, most = sight.lets_go, sight.printed.most_rpm
    low, usual, high = (_rpm(v) for v in g.spread)
    band = f"a weak print lets go from {low}, a usual one from {usual}, a strong one from {high}"
    if g.rpm[0] is None:
        return f"It may spin: nothing lets go up to {_rpm(g.looked_to)} rpm, and its motor reaches {_rpm(most)}.", ""
    where = f"{g.kind} at {g.position_mm:.0f} mm"
    alone = f" Its own pull alone it would hold to {_rpm(g.spin_alone_rpm)}." if g.spin_alone_rpm is not None else ""
    why = f"Governed by {where}.{alone}"
    if sight.verdict == "holds":
        return f"It may spin: its motor reaches {_rpm(most)} rpm; {band}.", why
    if sight.verdict == "tight":
        return f"Barely: its motor reaches {_rpm(most)} rpm; {band}.", why
    return f"No: its motor reaches {_rpm(most)} rpm; {band}.", why


def _rpm(rpm: float) -> str:
    return f"{round(rpm, -2):,.0f}".replace(",", "\u00a0")
