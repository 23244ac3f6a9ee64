"""The wing of a craft: what it carries, how slow it flies, how steady it is, and whether spar, folds and hinges hold."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from fravik.flight.aero.alone import Alone, Loaded, alone, loaded
from fravik.flight.aero.flyer import Flyer
from fravik.flight.aero.sections import flap_effect
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.kinds.wing.bodies import glass_g, spar_g
from fravik.kinds.wing.flyer import flyer_of
from fravik.kinds.wing.geometry import panels, stands, wing_of
from fravik.library import stock_materials
from fravik.library.air import GRAVITY_M_S2
from fravik.model.material import CORNERS, Corner, Spread
from fravik.model.project import Part
from fravik.model.wing import WingShape
from fravik.power.bem import RHO
from fravik.printing.zones import Floats
from fravik.shape.wing import TUBE_ROOM_MM, chord_at, outline_of, placed, spar_spot, thick_mm, web_spots
from fravik.structure.spar import (
    Bent,
    HalfWing,
    SkinTube,
    SparSection,
    bent,
    divergence_mpa,
    flutter_m_s,
    reserve_along,
    reversal_mpa,
    spar_section,
    swings_hz,
)
from fravik.study.margins import Verdict

from .memo import Memo
from .results import Evaluation, PartResult

PIECES = 24
E_GLASS_MPA, GLASS_MM_G_M2, S_GLASS_MPA = 11000.0, 0.0085 / 10, 90.0  # cloth laid by hand: working assumptions
SERVO_SHARE = 0.6  # of its stalled torque that a servo is to work at
HINGE_DELTA, HINGE_ALPHA = (
    0.55,
    0.30,
)  # moment of a plain flap about its hinge, a radian: McCormick 1979, figure 3.36, flaps of a quarter chord
PRATT = 0.88  # gust alleviation (Pratt and Walker 1954)
MASS_AT = 0.42  # along the chord, where a printed panel with its tube balances: a working assumption
STEADY_PCT, HALF = 4.0, 0.5  # static margin under which the nose hardly comes back; share of what holds that is to be asked of it
FASTEST = 1.4  # times cruise, up to which divergence, reversal and flutter are to keep away


@dataclass(frozen=True, eq=False)
class SparSight:
    """The half wing as a beam: ends of pieces, what each is of, load and answers under its hardest load, reserve (n,) low to high with what
    gives first; ``load_g`` what that is, from pull-up or gust."""

    half: HalfWing
    sections: list[SparSection]
    part_of: tuple[str, ...]
    load_g: float
    from_gust: bool
    gust_g: float
    answer: Bent
    reserve: Floats
    kind: list[str]
    swings_hz: tuple[Floats, Floats]
    divergence_m_s: float
    reversal_m_s: float
    flutter_m_s: float

    @property
    def least(self) -> tuple[Spread, float, str, str]:
        """Least reserve low to high, where (mm from the middle), in which part and by what."""
        k = int(self.reserve[1].argmin())
        low, usual, high = (float(v) for v in self.reserve.min(axis=1))
        return Spread(low, usual, high), float(self.half.y_mm[k]), self.part_of[k], self.kind[k]

    @property
    def tip_mm(self) -> float:
        """How far the tip goes up."""
        return float(self.answer.down_mm[-1])

    @property
    def twist_deg(self) -> float:
        """How far the tip twists, nose up."""
        return math.degrees(float(self.answer.twist_rad[-1]))


@dataclass(frozen=True)
class FoldSight:
    """A folding joint: moment that lift opens it with, force at its lever and what holds, pressure on its lugs and what these stand, how
    far the
    tip moves with its play."""

    part: Part
    moment_nmm: float
    force_n: float
    holds_n: float
    lug_mpa: float
    stands_mpa: float
    play_mm: float

    @property
    def share(self) -> float:
        """Of what holds it; an over-centre linkage is closed by lift."""
        shape = wing_of(self.part)
        return 0.0 if shape.fold_over_centre else self.force_n / max(self.holds_n, 1e-9)

    @property
    def verdict(self) -> Verdict:
        """Whether latch and lugs hold."""
        if self.share > 1 or self.lug_mpa > self.stands_mpa:
            return "fails"
        return "tight" if self.share > HALF else "holds"


@dataclass(frozen=True)
class HingeSight:
    """A surface: torque of its hinge at the fastest, what its servo gives, and its play."""

    part: Part
    torque_nmm: float
    servo_nmm: float
    play_deg: float

    @property
    def share(self) -> float:
        """Of what its servo is to work at."""
        return self.torque_nmm / (SERVO_SHARE * max(self.servo_nmm, 1e-9))

    @property
    def verdict(self) -> Verdict:
        """Whether its servo can."""
        return "tight" if self.share > 1 else "holds"


@dataclass(frozen=True, eq=False)
class WingSight:
    """All that is known of the wing. ``loose`` are panels whose tube does not go into the next one's."""

    flyer: Flyer
    alone: Alone
    carries: Loaded
    spar: SparSight
    folds: tuple[FoldSight, ...]
    hinges: tuple[HingeSight, ...]
    loose: tuple[tuple[Part, Part, float], ...]
    hover_w: float
    energy_wh: float

    @property
    def static_margin_pct(self) -> float:
        """Of the mean chord."""
        return 100 * self.alone.static_margin

    @property
    def steady(self) -> Verdict:
        """Whether its nose comes back by itself."""
        return "fails" if self.static_margin_pct < 0 else "tight" if self.static_margin_pct < STEADY_PCT else "holds"

    @property
    def fastest_m_s(self) -> float:
        """Up to which nothing may twist off, turn round or flutter."""
        return FASTEST * self.alone.cruise_m_s

    @property
    def cruise_min(self) -> float:
        """On the usable charge, without the ways out and back."""
        return 60 * self.energy_wh / self.alone.cruise_w if self.alone.cruise_w > 0 else math.nan

    @property
    def range_km(self) -> float:
        """At the speed that takes least a metre."""
        _, joules = self.alone.best_range
        return 3.6 * self.energy_wh / joules if joules > 0 else math.nan


def flyer(memo: Memo, result: Evaluation) -> Flyer:
    """The craft as the air sees it. Raises ValueError where a section is none."""
    key = (result.project, result.craft.com_mm.tobytes(), result.craft.mass_g)
    masses = {k: r.mass for k, r in result.parts.items()}

    def make() -> Flyer:
        return flyer_of(result.project, result.craft, stations(result.project), drives(result.project), result.power.full_volts, masses)

    return memo.get("flyer", key, make)


def wing_sight(memo: Memo, result: Evaluation) -> WingSight | None:
    """None for a craft without a wing."""
    mine = [p for p in panels(result.project) if wing_of(p).role == "wing" and wing_of(p).hand != "upright"]
    if not mine:
        return None
    f = flyer(memo, result)
    return memo.get("wing", (result.project, f.mass_kg, f.com_m.tobytes()), lambda: _sight(result, f))


def _sight(result: Evaluation, f: Flyer) -> WingSight:
    a = alone(f, result.project.flying.cruise_m_s)
    carries = loaded(f, a.cruise_m_s, a.cruise_rad, 0.0 if math.isnan(a.cruise_surface_rad) else a.cruise_surface_rad)
    spar = _spar(result, f, a, carries)
    chain = _chain(result)
    loose = []
    for inner, outer in pairwise(chain):
        s, o = wing_of(inner), wing_of(outer)
        gap = s.spar_mm - 2 * s.spar_wall_mm - o.spar_mm
        if s.spar_mm > 0 and o.spar_mm > 0 and not -0.05 <= gap <= 0.35 and not o.folds:
            loose.append((inner, outer, gap))
    return WingSight(f, a, carries, spar, _folds(result, spar), _hinges(result, a), tuple(loose), result.power.hover_power_w,
                     result.power.energy_wh)  # fmt: skip


def _chain(result: Evaluation) -> list[Part]:
    """Panels of the first wing from the middle out."""
    mine = {p.id: p for p in panels(result.project) if wing_of(p).role == "wing" and wing_of(p).hand != "upright"}
    first = next(p for p in mine.values() if wing_of(p).on not in mine)
    chain = [first]
    while True:
        nxt = next((p for p in mine.values() if wing_of(p).on == chain[-1].id and p not in chain), None)
        if nxt is None:
            return chain
        chain.append(nxt)


def skin_tube(r: PartResult, along: float, corner: Corner) -> SkinTube:
    """A panel's section at a part of its span, at one corner of its materials, as it is printed."""
    s, recipe, plastic = _shape(r), r.part.recipe, r.filament
    tube = stock_materials()[s.spar_material]
    standing = recipe.lies in ("on_end", "on_other_end")
    e = (plastic.e_layer_mpa if standing else plastic.e_road_mpa).at(corner)
    g = (plastic.g_layer_mpa if standing else plastic.g_plane_mpa).at(corner)
    strong = (plastic.s_layer_mpa if standing else plastic.s_road_mpa).at(corner)
    outline = placed(s, along, outline_of(s, chord_at(s, along)))
    skin = recipe.walls * recipe.line_width_mm
    if s.glass_g_m2 > 0:
        glass = s.glass_g_m2 * GLASS_MM_G_M2
        both = e * skin + E_GLASS_MPA * glass
        g = (g * skin + E_GLASS_MPA / 2.6 * glass) / (skin + glass)
        # the skin's modulus with glass on it; it gives as the glass does
        e, strong, skin = (
            both / (skin + glass),
            max(strong, min(S_GLASS_MPA, strong * 6)) * both / (skin + glass) / E_GLASS_MPA,
            skin + glass,
        )
    webs = [(spar_spot(s, along, at)[0], thick_mm(s, along, at), 2 * recipe.line_width_mm) for at in web_spots(s)]
    tubes = []
    for d, at in ((s.spar_mm, s.spar_at), (s.rear_spar_mm, s.rear_spar_at)):
        if d > 0:
            x, z = spar_spot(s, along, at)
            bore = max(d - 2 * s.spar_wall_mm, 0.0)
            tubes.append((x, z, d, bore, tube.e_road_mpa.at(corner), tube.g_plane_mpa.at(corner), tube.s_road_mpa.at(corner)))
    return SkinTube(outline, skin, e, g, strong, tuple(webs), tuple(tubes), s.fixed == "glued", s.webs > 0, plastic.poisson)


def _shape(r: PartResult) -> WingShape:
    return wing_of(r.part)


def _pieces(result: Evaluation) -> tuple[Floats, list[tuple[PartResult, float]]]:
    """Ends of the pieces of the half wing (mm from the middle), and each piece's part and place along it."""
    chain = _chain(result)
    first = wing_of(chain[0])
    start = 0.0 if first.hand == "across" else first.y_mm
    reach = [(wing_of(p).length_mm / 2 if wing_of(p).hand == "across" else wing_of(p).length_mm) for p in chain]
    ends = start + np.concatenate([[0.0], np.cumsum(reach)])
    y, each = [start], []
    for part, a, b in zip(chain, ends, ends[1:], strict=False):
        n = max(round(PIECES * (b - a) / (ends[-1] - start)), 3)
        for k in range(n):
            t = (k + 0.5) / n
            each.append((result.parts[part.id], 0.5 + t / 2 if wing_of(part).hand == "across" else t))
            y.append(a + (b - a) * (k + 1) / n)
    return np.array(y), each


def _half(each: list[tuple[PartResult, float]], y: Floats, sections: list[SparSection]) -> HalfWing:
    grams = []
    for r, _ in each:
        s = _shape(r)
        grams.append((r.grams + sum(spar_g(s)) + glass_g(s)) / s.length_mm * 1e-6)
    return HalfWing(y, np.array([s.ei for s in sections]), np.array([s.gj for s in sections]),
                    np.array([chord_at(_shape(r), t) for r, t in each]), np.array([s.elastic_at for s in sections]), np.array(grams),
                    np.zeros(0), np.zeros(0))  # fmt: skip


def _spar(result: Evaluation, f: Flyer, a: Alone, carries: Loaded) -> SparSight:
    flying = result.project.flying
    y, each = _pieces(result)
    mine = carries.surface == 0
    at, lift = carries.y_m[mine] * 1e3, carries.lift_n_m[mine] * 1e-3
    nose = carries.moment_n[mine]
    middle = (y[1:] + y[:-1]) / 2
    slope = _slope(a)
    # Pratt's gust: mass ratio, alleviation, and the load it adds at the cruise speed
    ratio = 2 * f.mass_kg / (RHO * a.area_m2 * a.chord_m * slope)
    kg = PRATT * ratio / (5.3 + ratio)
    gust = 1 + kg * RHO * a.cruise_m_s * slope * flying.gust_m_s * a.area_m2 / (2 * f.weight_n)
    load = max(flying.pull_up_g, gust)
    total = 2 * float(np.trapezoid(lift, at)) or 1.0
    share = f.weight_n / max(abs(2 * float((carries.lift_n_m[mine] * f.strips.width_m[mine]).sum())), 1e-9) if total else 1.0
    q = load * share * np.interp(middle, at, lift)
    m0 = np.interp(middle, at, nose)
    reserves, answers, halves, kinds = [], [], [], []
    for corner in CORNERS:
        sections = [spar_section(skin_tube(r, t, corner)) for r, t in each]
        half = _half(each, y, sections)
        own = half.mass_t_mm * GRAVITY_M_S2 * 1e3 * load
        torque = q * (half.elastic_at - 0.25) * half.chord_mm + m0
        b = bent(half, q - own, torque)
        least, kind = reserve_along(sections, b.moment_nmm)
        reserves.append(least)
        answers.append(b)
        halves.append((half, sections))
        kinds.append(kind)
    half, sections = halves[1]
    bending, twist = swings_hz(half)
    flap = np.array([_flap(r, t) for r, t in each])
    diverges = divergence_mpa(half, slope)
    turned = reversal_mpa(half, slope, flap[:, 0], flap[:, 1], _q_mpa(8 * a.cruise_m_s))
    return SparSight(
        half, sections, tuple(r.part.id for r, _ in each), load, gust > flying.pull_up_g, gust, answers[1], np.array(reserves), kinds[1],
        (bending, twist), _speed(diverges), _speed(turned), flutter_m_s(half, float(twist[0]), MASS_AT),
    )  # fmt: skip


def _q_mpa(speed: float) -> float:
    return 0.5 * RHO * speed**2 * 1e-6


def _speed(q_mpa: float) -> float:
    return math.sqrt(2 * q_mpa * 1e6 / RHO) if math.isfinite(q_mpa) else math.inf


def _slope(a: Alone) -> float:
    """Of the lift coefficient, a radian, where the wing is not stalled."""
    some = (a.attack_rad > -0.03) & (a.attack_rad < min(a.stall_rad - 0.05, 0.12))
    return float(np.polyfit(a.attack_rad[some], a.lift[some], 1)[0]) if some.sum() > 2 else 2 * math.pi * a.aspect / (a.aspect + 2)


def _flap(r: PartResult, along: float) -> tuple[float, float]:
    s = _shape(r)
    if s.surface not in ("aileron", "elevon", "flaperon") or not s.surface_from <= along <= s.surface_to:
        return 0.0, 0.0
    turn, nose = flap_effect(s.surface_share)
    return 0.85 * 2 * math.pi * turn, 0.85 * nose


def _folds(result: Evaluation, spar: SparSight) -> tuple[FoldSight, ...]:
    out = []
    for k, part_id in enumerate(spar.part_of):
        part = result.project.part(part_id)
        s = wing_of(part)
        if not s.folds or (k > 0 and spar.part_of[k - 1] == part_id):
            continue
        moment = float(spar.answer.moment_nmm[k])
        force = abs(moment) / s.fold_arm_mm
        plastic = result.parts[part_id].filament
        outboard = float(spar.half.y_mm[-1] - spar.half.y_mm[k])
        out.append(FoldSight(part, moment, force, s.fold_force_n, force / (s.fold_pin_mm * 2 * s.fold_lug_mm), plastic.s_cross_mpa.low,
                             s.fold_play_mm / s.fold_arm_mm * outboard))  # fmt: skip
    return tuple(out)


def _hinges(result: Evaluation, a: Alone) -> tuple[HingeSight, ...]:
    q = _q_mpa(FASTEST * a.cruise_m_s)
    out = []
    for part in panels(result.project):
        s = wing_of(part)
        if s.surface == "none" or s.surface_to <= s.surface_from:
            continue
        chord = chord_at(s, (s.surface_from + s.surface_to) / 2) * s.surface_share
        span = (s.surface_to - s.surface_from) * s.length_mm
        ch = HINGE_DELTA * math.radians(s.surface_deg) + HINGE_ALPHA * max(a.stall_rad / 2, 0.0)
        out.append(HingeSight(part, q * ch * chord**2 * span, s.servo_nmm, s.hinge_play_deg))
    return tuple(out)


def spots_mm(result: Evaluation) -> dict[str, Floats]:
    """Where each panel's root stands, aeroplane axes."""
    return {k: s.root_mm for k, s in stands(result.project).items()}


__all__ = ["TUBE_ROOM_MM", "FoldSight", "HingeSight", "SparSight", "WingSight", "flyer", "skin_tube", "spots_mm", "wing_sight"]
