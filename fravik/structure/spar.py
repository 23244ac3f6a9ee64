"""A wing half as a cantilever of pieces: tube, skin and webs together, its bending, twist and swings, and where the air beats its
stiffness.

Section: thin skin along the outline, tubes and webs, each of its own modulus, about their common middle where the tube is glued in;
apart where
it is not. Twist: the closed skin by Bredt, tubes beside it. Beams by cubic pieces with consistent loads and masses (Przemieniecki 1968).
Divergence and aileron reversal by strips (Bisplinghoff, Ashley and Halfman 1955, chapter 8); flutter by Theodorsen and Garrick's
approximate
formula, as an index to be careful by, not a speed to fly to. Units mm, N, MPa, t.
"""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import eigh

from fravik.library.air import DENSITY_KG_M3

Floats = NDArray[np.float64]
AIR_T_MM3 = DENSITY_KG_M3 * 1e-12
# of the skin's shear stiffness where slits open it below: roads of a web fuse, but not as well; a working assumption
SLIT_SHEAR = 0.6
EVEN = np.array([[2.0, 1.0], [1.0, 2.0]])  # what is even along a piece, at its ends, over six
JOINT = "tube at the joint"
FLAT_PLATE = 4.0  # of a panel held on both long sides


@dataclass(frozen=True)
class Outline:
    """A section's outline as what its skin needs: length round, first and second moment of length about z = 0, area inside, middle of its
    points, lowest and highest z, leading edge and chord; mm, aft and up."""

    round_mm: float
    first_mm2: float
    second_mm3: float
    inside_mm2: float
    x_mean_mm: float
    z_low_mm: float
    z_high_mm: float
    lead_mm: float
    chord_mm: float


def outline_worth(points_mm: Floats) -> Outline:
    """Of an outline (n, 2), aft and up, from the trailing edge round."""
    p = points_mm
    q = np.roll(p, -1, axis=0)
    step, z = q - p, (p[:, 1] + q[:, 1]) / 2
    ds = np.hypot(step[:, 0], step[:, 1])
    inside = abs(float((p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]).sum())) / 2
    lead = float(p[:, 0].min())
    return Outline(
        float(ds.sum()), float((ds * z).sum()), float((ds * (z**2 + step[:, 1] ** 2 / 12)).sum()), inside, float(p[:, 0].mean()),
        float(z.min()), float(z.max()), lead, float(p[:, 0].max()) - lead,
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class SkinTube:
    """What a section is made of: its outline, skin thickness, its moduli along the span and in shear and its strength, webs (z, height,
    thickness), tubes (x, z, outside, bore, E, G, strength), whether they are glued in, and whether slits open the skin."""

    outline: Outline
    skin_mm: float
    e_skin: float
    g_skin: float
    s_skin: float
    webs: tuple[tuple[float, float, float], ...]
    tubes: tuple[tuple[float, float, float, float, float, float, float], ...]
    glued: bool
    slit: bool
    poisson: float = 0.36


@dataclass(frozen=True)
class SparSection:
    """EI up and down (N mm2), how much of it is tubes' and how much tubes have about their own middles, GJ (N mm2), middle of stiffness
    up, half heights of skin and tubes about it,
    modulus
    and strength of each, the stress at which the skin buckles, and where its elastic line lies, over the chord."""

    ei: float
    ei_tubes: float
    ei_alone: float
    gj: float
    skin_far_mm: float
    tube_far_mm: float
    alone_far_mm: float
    e_skin: float
    s_skin: float
    e_tube: float
    s_tube: float
    buckles_mpa: float
    elastic_at: float


def spar_section(m: SkinTube) -> SparSection:
    """Worth of one section."""
    p, es = m.outline, m.e_skin * m.skin_mm
    ea, eaz, own = es * p.round_mm, es * p.first_mm2, es * p.second_mm3
    for z, height, thick in m.webs:
        e = m.e_skin * thick * height
        ea, eaz, own = ea + e, eaz + e * z, own + e * (z**2 + height**2 / 12)
    tubes = []
    for x, z, outside, bore, e, g, s in m.tubes:
        area, second = math.pi / 4 * (outside**2 - bore**2), math.pi / 64 * (outside**4 - bore**4)
        tubes.append((x, z, outside, e * area, e * second, g * 2 * second, e, s))
    skin_ea, skin_eaz = ea, eaz
    if m.glued:
        total = skin_ea + sum(t[3] for t in tubes)
        zc = (skin_eaz + sum(t[3] * t[1] for t in tubes)) / total
        ei_tubes = sum(t[4] + t[3] * (t[1] - zc) ** 2 for t in tubes)
        ei = own - 2 * zc * skin_eaz + zc**2 * skin_ea + ei_tubes
        tube_far = max((abs(t[1] - zc) + t[2] / 2 for t in tubes), default=0.0)
    else:
        zc = skin_eaz / skin_ea
        ei_tubes = sum(t[4] for t in tubes)
        # the shell slides on its tube: it bends along, but what it bears does not reach the next panel
        ei = ei_tubes if tubes else own - zc**2 * skin_ea
        tube_far = max((t[2] / 2 for t in tubes), default=0.0)
    gj_skin = 4 * p.inside_mm2**2 * m.g_skin * m.skin_mm / p.round_mm * (SLIT_SHEAR if m.slit else 1.0)
    gj_tubes = sum(t[5] for t in tubes)
    wide = p.chord_mm / (len(m.webs) + len(m.tubes) + 1)
    buckles = FLAT_PLATE * math.pi**2 * m.e_skin / (12 * (1 - m.poisson**2)) * (m.skin_mm / wide) ** 2
    at = (gj_skin * (p.x_mean_mm - p.lead_mm) + sum(t[5] * (t[0] - p.lead_mm) for t in tubes)) / (gj_skin + gj_tubes) / p.chord_mm
    first = tubes[0] if tubes else None
    return SparSection(
        ei, ei_tubes, sum(t[4] for t in tubes), gj_skin + gj_tubes, max(p.z_high_mm - zc, zc - p.z_low_mm), tube_far,
            max((t[2] / 2 for t in tubes), default=0.0),
        m.e_skin, m.s_skin, first[6] if first else 0.0,
        first[7] if first else 0.0, buckles, at,
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class HalfWing:
    """A half from its middle out: ends of pieces ``y_mm`` (n + 1,), and of each piece (n,) EI, GJ, chord, elastic line over the chord, and
    mass over length (t/mm); lumps (k,) of mass (t) at places (mm)."""

    y_mm: Floats
    ei: Floats
    gj: Floats
    chord_mm: Floats
    elastic_at: Floats
    mass_t_mm: Floats
    lump_t: Floats
    lump_mm: Floats

    @property
    def long(self) -> Floats:
        """(n,) lengths of the pieces."""
        return np.diff(self.y_mm)

    @cached_property
    def bending(self) -> tuple[Floats, Floats]:
        """Stiffness and mass of deflection and slope."""
        return _bending(self)

    @cached_property
    def twisting(self) -> tuple[Floats, Floats]:
        """Stiffness and inertia of twist."""
        return _twisting(self)


def _bending(h: HalfWing) -> tuple[Floats, Floats]:
    """Stiffness and mass (2n, 2n) of deflection and slope at every end but the first, which is held."""
    n, le = len(h.ei), h.long
    one = np.ones(n)
    k4 = np.array([[12 * one, 6 * le, -12 * one, 6 * le], [6 * le, 4 * le**2, -6 * le, 2 * le**2],
                   [-12 * one, -6 * le, 12 * one, -6 * le], [6 * le, 2 * le**2, -6 * le, 4 * le**2]]) * (h.ei / le**3)  # fmt: skip
    m4 = np.array([[156 * one, 22 * le, 54 * one, -13 * le], [22 * le, 4 * le**2, 13 * le, -3 * le**2],
                   [54 * one, 13 * le, 156 * one, -22 * le], [-13 * le, -3 * le**2, -22 * le, 4 * le**2]])  # fmt: skip
    at = 2 * np.arange(n)[:, None] + np.arange(4)
    k, m = _added(k4, at, 2 * n + 2), _added(m4 * (h.mass_t_mm * le / 420), at, 2 * n + 2)
    for t, y in zip(h.lump_t, h.lump_mm, strict=True):
        i = int(np.abs(h.y_mm - y).argmin())
        m[2 * i, 2 * i] += t
    return k[2:, 2:], m[2:, 2:]


def _twisting(h: HalfWing, radius_share: float = 0.25) -> tuple[Floats, Floats]:
    """Stiffness and inertia (n, n) of twist at every end but the first; each piece's mass lies so far from its elastic line, over the
    chord."""
    n, le = len(h.gj), h.long
    at = np.arange(n)[:, None] + np.arange(2)
    k = _added(np.multiply.outer(np.array([[1.0, -1.0], [-1.0, 1.0]]), h.gj / le), at, n + 1)
    m = _added(np.multiply.outer(EVEN, h.mass_t_mm * (radius_share * h.chord_mm) ** 2 * le / 6), at, n + 1)
    return k[1:, 1:], m[1:, 1:]


def _added(each: Floats, at: NDArray[np.int64], size: int) -> Floats:
    """(size, size) from pieces' matrices (k, k, n) at their places ``at`` (n, k)."""
    out = np.zeros((size, size))
    np.add.at(out, (at[:, :, None], at[:, None, :]), np.moveaxis(each, 2, 0))
    return out


@dataclass(frozen=True, eq=False)
class Bent:
    """Along the ends of the pieces (n + 1,): shear N, moment N mm, deflection mm, twist rad (nose up) and torque N mm."""

    shear_n: Floats
    moment_nmm: Floats
    down_mm: Floats
    torque_nmm: Floats
    twist_rad: Floats


def bent(h: HalfWing, load_n_mm: Floats, torque_n: Floats) -> Bent:
    """Under loads over length of each piece (n,): up, N/mm, and nose up about the elastic line, N mm/mm."""
    le = h.long
    shear = np.concatenate([np.cumsum((load_n_mm * le)[::-1])[::-1], [0.0]])
    moment = np.zeros(len(le) + 1)
    for i in range(len(le) - 1, -1, -1):
        moment[i] = moment[i + 1] + shear[i + 1] * le[i] + load_n_mm[i] * le[i] ** 2 / 2
    f = np.zeros((len(le) + 1, 2))
    push, turn = load_n_mm * le / 2, load_n_mm * le**2 / 12
    f[:-1] += np.column_stack([push, turn])
    f[1:] += np.column_stack([push, -turn])
    k, _ = h.bending
    w = np.linalg.solve(k, f.ravel()[2:])
    torque = np.concatenate([np.cumsum((torque_n * le)[::-1])[::-1], [0.0]])
    kt, _ = h.twisting
    ft = np.zeros(len(le) + 1)
    ft[:-1] += torque_n * le / 2
    ft[1:] += torque_n * le / 2
    return Bent(shear, moment, np.concatenate([[0.0], w[::2]]), torque, np.concatenate([[0.0], np.linalg.solve(kt, ft[1:])]))


def swings_hz(h: HalfWing, count: int = 3) -> tuple[Floats, Floats]:
    """Lowest frequencies of bending and of twist, held in the middle."""
    out = []
    for k, m in (h.bending, h.twisting):
        w2 = eigh(k, m, eigvals_only=True, subset_by_index=[0, min(count, len(k)) - 1])
        out.append(np.sqrt(np.maximum(w2, 0.0)) / (2 * math.pi))
    return out[0], out[1]


def _air_twist(h: HalfWing, slope: float) -> Floats:
    """(n, n) torque at the ends for a radian of twist there, over dynamic pressure (MPa): lift at the quarter chord, about the elastic
    line."""
    n = len(h.gj)
    each = np.multiply.outer(EVEN, slope * h.chord_mm**2 * (h.elastic_at - 0.25) * h.long / 6)
    return _added(each, np.arange(n)[:, None] + np.arange(2), n + 1)[1:, 1:]


def divergence_mpa(h: HalfWing, slope: float) -> float:
    """Dynamic pressure at which twist grows without end, MPa; infinite where the elastic line lies ahead of the lift."""
    k, _ = h.twisting
    values = np.linalg.eigvals(np.linalg.solve(k, _air_twist(h, slope))).real
    most = float(values.max(initial=0.0))
    return 1 / most if most > 1e-18 else math.inf


def reversal_mpa(h: HalfWing, slope: float, flap_lift: Floats, flap_moment: Floats, most_mpa: float) -> float:
    """Dynamic pressure at which ailerons roll the wing no more, MPa; infinite if not below ``most_mpa``. ``flap_`` (n,) are lift and moment
    about the quarter chord of each piece for a radian."""
    k, _ = h.twisting
    air, n = _air_twist(h, slope), len(h.gj)
    middle = (h.y_mm[1:] + h.y_mm[:-1]) / 2
    straight = float((flap_lift * h.chord_mm * middle * h.long).sum())
    if straight <= 0:
        return math.inf

    def roll(q: float) -> float:
        t = (flap_moment + (h.elastic_at - 0.25) * flap_lift) * h.chord_mm**2 * h.long
        f = np.zeros(n + 1)
        f[:-1] += t / 2
        f[1:] += t / 2
        twist = np.concatenate([[0.0], np.linalg.solve(k - q * air, q * f[1:])])
        return straight + float((slope * (twist[1:] + twist[:-1]) / 2 * h.chord_mm * middle * h.long).sum())

    top = min(most_mpa, 0.999 * divergence_mpa(h, slope))
    low, high = 0.0, top
    if roll(top) > 0:
        return math.inf
    for _ in range(60):
        q = (low + high) / 2
        low, high = (q, high) if roll(q) > 0 else (low, q)
    return high


def flutter_m_s(h: HalfWing, twist_hz: float, mass_at: float) -> float:
    """Theodorsen and Garrick's approximate speed, m/s, of the section at three quarters of the span: semichord times twist frequency times
    the root of mu r2 / (1 + 2 (a + x)); infinite where the mass lies far enough ahead. ``mass_at`` is where along the chord it lies."""
    i = int(np.abs((h.y_mm[1:] + h.y_mm[:-1]) / 2 - 0.75 * h.y_mm[-1]).argmin())
    b = h.chord_mm[i] / 2
    a, x = 2 * h.elastic_at[i] - 1, 2 * (mass_at - h.elastic_at[i])
    mu = h.mass_t_mm[i] / (math.pi * AIR_T_MM3 * b**2)
    down = 1 + 2 * (a + x)
    if down <= 0.02:
        return math.inf
    return float(b * 1e-3 * 2 * math.pi * twist_hz * math.sqrt(mu * 0.25 / down))


def reserve_along(sections: list[SparSection], moment_nmm: Floats, joints: Collection[int] = ()) -> tuple[Floats, list[str]]:
    """(n,) least reserve of each piece at its inner end, and what gives first; at the inner end of those of ``joints`` the skin ends."""
    out, kind = np.zeros(len(sections)), []
    for i, s in enumerate(sections):
        moment = abs(float(moment_nmm[i]))
        every = {"tube": s.s_tube / max(s.e_tube * moment / s.ei * s.tube_far_mm, 1e-12) if s.e_tube else math.inf}
        skin = max(s.e_skin * moment / s.ei * s.skin_far_mm, 1e-12)
        if s.ei_tubes < s.ei:
            every["skin splits"], every["skin buckles"] = s.s_skin / skin, s.buckles_mpa / skin
        least = min(every, key=lambda k: every[k])
        if s.e_tube and s.ei_tubes > 0:
            # once the skin has given way the tube bears alone
            alone = s.s_tube / max(s.e_tube * moment / s.ei_alone * s.alone_far_mm, 1e-12)
            if i in joints:
                every, least = {JOINT: alone}, JOINT
            elif alone > every[least]:
                every, least = {"tube": alone}, "tube"
        elif i in joints:
            every, least = {JOINT: 0.0}, JOINT  # no tube there
        out[i] = min(every[least], 99.0)
        kind.append(least)
    return out, kind


def skin_reserve(sections: list[SparSection], moment_nmm: Floats) -> float:
    """How many times the load the skin takes before it wrinkles or splits anywhere."""
    out = 99.0
    for s, m in zip(sections, moment_nmm, strict=False):
        stress = max(s.e_skin * abs(float(m)) / s.ei * s.skin_far_mm, 1e-12)
        if s.ei_tubes < s.ei:
            out = min(out, s.s_skin / stress, s.buckles_mpa / stress)
    return out
