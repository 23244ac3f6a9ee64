"""The half wing as a beam: its sections as printed, with the tube inside, under the hardest load of flight."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.flight.aero.aerofoils import flap_effect
from fravik.flight.aero.alone import Alone, Loaded
from fravik.flight.aero.flyer import Flyer
from fravik.kinds.wing.bodies import glass_g, spar_g
from fravik.kinds.wing.geometry import panels, wing_of
from fravik.library import stock_materials
from fravik.library.air import GRAVITY_M_S2
from fravik.model.material import CORNERS, Corner, Filament, Spread
from fravik.model.project import Part
from fravik.model.recipe import Recipe
from fravik.model.wing import WingShape
from fravik.power.bem import RHO
from fravik.printing.zones import Floats
from fravik.shape.wing import chord_at, outline_of, placed, spar_spot, thick_mm, web_spots
from fravik.structure.spar import (
    Bent,
    HalfWing,
    Outline,
    SkinTube,
    SparSection,
    bent,
    divergence_mpa,
    flutter_m_s,
    outline_worth,
    reserve_along,
    reversal_mpa,
    spar_section,
    swings_hz,
)

from .memo import Memo
from .results import Evaluation, PartResult

PIECES = 24
E_GLASS_MPA, GLASS_MM_G_M2, S_GLASS_MPA = 11000.0, 0.0085 / 10, 90.0  # cloth laid by hand: working assumptions
PRATT = 0.88  # gust alleviation (Pratt and Walker 1954)
MASS_AT = 0.42  # along the chord, where a printed panel with its tube balances: a working assumption


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


def chain_of(result: Evaluation) -> list[Part]:
    """Panels of the first wing from the middle out."""
    mine = {p.id: p for p in panels(result.project) if wing_of(p).role == "wing" and wing_of(p).hand != "upright"}
    first = next(p for p in mine.values() if wing_of(p).on not in mine)
    chain = [first]
    while True:
        nxt = next((p for p in mine.values() if wing_of(p).on == chain[-1].id and p not in chain), None)
        if nxt is None:
            return chain
        chain.append(nxt)


@dataclass(frozen=True, eq=False)
class _Cut:
    """A panel's form at a part of its span: outline, webs (z, height, thickness), tubes (x, z, outside, bore)."""

    outline: Outline
    webs: tuple[tuple[float, float, float], ...]
    tubes: tuple[tuple[float, float, float, float], ...]


def _cut(s: WingShape, recipe: Recipe, along: float) -> _Cut:
    webs = tuple((spar_spot(s, along, at)[1], thick_mm(s, along, at), 2 * recipe.line_width_mm) for at in web_spots(s))
    every = ((s.spar_mm, s.spar_at), (s.rear_spar_mm, s.rear_spar_at))
    tubes = tuple((*spar_spot(s, along, at), d, max(d - 2 * s.spar_wall_mm, 0.0)) for d, at in every if d > 0)
    return _Cut(outline_worth(placed(s, along, outline_of(s, chord_at(s, along)))), webs, tubes)


def _skin_tube(s: WingShape, recipe: Recipe, plastic: Filament, form: _Cut, corner: Corner) -> SkinTube:
    """A section at one corner of its materials, as it is printed."""
    tube = stock_materials()[s.spar_material]
    standing = recipe.lies in ("on_end", "on_other_end")
    e = (plastic.e_layer_mpa if standing else plastic.e_road_mpa).at(corner)
    g = (plastic.g_layer_mpa if standing else plastic.g_plane_mpa).at(corner)
    strong = (plastic.s_layer_mpa if standing else plastic.s_road_mpa).at(corner)
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
    of = (tube.e_road_mpa.at(corner), tube.g_plane_mpa.at(corner), tube.s_road_mpa.at(corner))
    tubes = tuple((*t, *of) for t in form.tubes)
    return SkinTube(form.outline, skin, e, g, strong, form.webs, tubes, s.fixed == "glued", s.webs > 0, plastic.poisson)


def panel_sections(memo: Memo, r: PartResult, along: tuple[float, ...]) -> dict[Corner, list[SparSection]]:
    """Worth of a panel's sections at parts of its span, at every corner; remembered by what the panel is."""
    s, recipe, plastic = wing_of(r.part), r.part.recipe, r.filament

    def make() -> dict[Corner, list[SparSection]]:
        cuts = [_cut(s, recipe, t) for t in along]
        return {c: [spar_section(_skin_tube(s, recipe, plastic, form, c)) for form in cuts] for c in CORNERS}

    return memo.get("wing sections", (s, recipe, plastic, along), make)


def _pieces(result: Evaluation) -> tuple[Floats, list[tuple[PartResult, float]]]:
    """Ends of the pieces of the half wing (mm from the middle), and each piece's part and place along it."""
    chain = chain_of(result)
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


def _sections(memo: Memo, each: list[tuple[PartResult, float]]) -> dict[Corner, list[SparSection]]:
    """Of all pieces, panel by panel."""
    out: dict[Corner, list[SparSection]] = {c: [] for c in CORNERS}
    for r in dict.fromkeys(r.part.id for r, _ in each):
        mine = [(x, t) for x, t in each if x.part.id == r]
        for c, found in panel_sections(memo, mine[0][0], tuple(t for _, t in mine)).items():
            out[c] += found
    return out


def _joints(each: list[tuple[PartResult, float]]) -> set[int]:
    """Pieces at whose inner end the skin ends: there the tube bears alone."""
    out: set[int] = set()
    last: PartResult | None = None
    for k, (r, _) in enumerate(each):
        s = wing_of(r.part)
        if last is not None and last.part.id != r.part.id:
            if not s.folds and not one_tube(wing_of(last.part), s) and not skin_goes_on(s):
                out.add(k)
        elif last is None and s.hand == "pair" and s.y_mm > 0 and not skin_goes_on(s):
            out.add(k)
        last = r
    return out


def skin_goes_on(s: WingShape) -> bool:
    """Whether its skin bears across its root: without a tube, where its rim is glued."""
    return s.spar_mm <= 0 and s.joint_by == "glue"


def one_tube(inner: WingShape, outer: WingShape) -> bool:
    """Whether one tube runs through both panels."""
    same = ("spar_mm", "spar_wall_mm", "spar_material")
    return not outer.folds and inner.spar_mm > 0 and all(getattr(inner, n) == getattr(outer, n) for n in same)


def _half(each: list[tuple[PartResult, float]], y: Floats, sections: list[SparSection]) -> HalfWing:
    grams = []
    for r, _ in each:
        s = wing_of(r.part)
        grams.append((r.grams + sum(spar_g(s)) + glass_g(s)) / s.length_mm * 1e-6)
    return HalfWing(y, np.array([s.ei for s in sections]), np.array([s.gj for s in sections]),
                    np.array([chord_at(wing_of(r.part), t) for r, t in each]), np.array([s.elastic_at for s in sections]), np.array(grams),
                    np.zeros(0), np.zeros(0))  # fmt: skip


def spar_sight(memo: Memo, result: Evaluation, f: Flyer, a: Alone, carries: Loaded) -> SparSight:
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
    by_corner, joints = _sections(memo, each), _joints(each)
    for corner in CORNERS:
        sections = by_corner[corner]
        half = _half(each, y, sections)
        own = half.mass_t_mm * GRAVITY_M_S2 * 1e3 * load
        torque = q * (half.elastic_at - 0.25) * half.chord_mm + m0
        b = bent(half, q - own, torque)
        least, kind = reserve_along(sections, b.moment_nmm, joints)
        reserves.append(least)
        answers.append(b)
        halves.append((half, sections))
        kinds.append(kind)
    half, sections = halves[1]
    bending, twist = swings_hz(half)
    flap = np.array([_flap(r, t) for r, t in each])
    diverges = divergence_mpa(half, slope)
    turned = reversal_mpa(half, slope, flap[:, 0], flap[:, 1], q_mpa(8 * a.cruise_m_s))
    return SparSight(
        half, sections, tuple(r.part.id for r, _ in each), load, gust > flying.pull_up_g, gust, answers[1], np.array(reserves), kinds[1],
        (bending, twist), _speed(diverges), _speed(turned), flutter_m_s(half, float(twist[0]), MASS_AT),
    )  # fmt: skip


def q_mpa(speed: float) -> float:
    return 0.5 * RHO * speed**2 * 1e-6


def _speed(q_mpa: float) -> float:
    return math.sqrt(2 * q_mpa * 1e6 / RHO) if math.isfinite(q_mpa) else math.inf


def _slope(a: Alone) -> float:
    """Of the lift coefficient, a radian, where the wing is not stalled."""
    some = (a.attack_rad > -0.03) & (a.attack_rad < min(a.stall_rad - 0.05, 0.12))
    return float(np.polyfit(a.attack_rad[some], a.lift[some], 1)[0]) if some.sum() > 2 else 2 * math.pi * a.aspect / (a.aspect + 2)


def _flap(r: PartResult, along: float) -> tuple[float, float]:
    s = wing_of(r.part)
    if s.surface not in ("aileron", "elevon", "flaperon") or not s.surface_from <= along <= s.surface_to:
        return 0.0, 0.0
    turn, nose = flap_effect(s.surface_share)
    return 0.85 * 2 * math.pi * turn, 0.85 * nose
