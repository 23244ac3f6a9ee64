"""From section forces to reserves: strength over stress, per failure kind and position.

Stress at the chosen points of every zone is turned into the zone's own axes. *Road pull* acts along the roads, *road-to-road*
across them in the layer (quadratic with in-plane shear; in covers for each ply), *layer split* and *layer shear* between layers
(quadratic together, named by the greater part), *core crush* in the core, *wall buckling* where thin faces are pressed.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from fravik.library import screw_through
from fravik.model.joint import Joint
from fravik.model.material import Filament
from fravik.model.recipe import Recipe
from fravik.printing.orientation import layer_normal
from fravik.printing.zones import Floats

from .buckling import critical_stress_mpa
from .fasteners import FULL_WALL_MM, screw_hold
from .joints import Holder, JointUse, bar_use, bolt_forces, joint_use
from .loadcases import CRASH_CASES
from .member import Member, MemberAnswer, MemberBasis, root_joint, with_carbon_ends
from .notches import Raiser, end_raisers
from .printed import CORE, COVER, WALL, printed_material
from .section import SectionLine
from .stress import SectionForces, StressField, curvatures, stresses

KINDS = ("road pull", "road-to-road", "layer split", "layer shear", "core crush", "wall buckling", "carbon", "bond line",
         "bearing", "bolt tear-out", "joint")  # fmt: skip
ROAD, CROSS, SPLIT, SLIDE, CRUSH, BUCKLE, FIBRE, BOND, BEARING, TEAR, JOINT = range(len(KINDS))
# kinds in which two strengths act together, squares summed
TOGETHER = (CROSS, SPLIT, SLIDE, CRUSH)
BRITTLE_KINDS = frozenset({"layer split", "layer shear", "carbon", "bond line", "joint"})
BEARING_FACTOR = 1.6
MOTOR_SCREWS = 4
SCREW_SHEAR = 0.6  # of its proof stress; a screw's own (von Mises, 0.577)
# in-plane force N and moment N mm on an arm's pad by case
PadForces = dict[str, tuple[float, float]]
CAP = 99.0


@dataclass(frozen=True)
class CaseReserves:
    """Reserves of one member in one case: (kinds, positions), capped at CAP; and the governing one."""

    values: Floats
    kind: str
    position_mm: float
    reserve: float
    detail: str = ""

    def envelope(self) -> Floats:
        """Least reserve at each position."""
        return self.values.min(axis=0)


@dataclass(frozen=True)
class StressBasis:
    """Everything about a member at one corner that does not depend on the load case."""

    member: Member
    basis: MemberBasis
    answer: MemberAnswer
    joint: Joint
    filament: Filament
    recipe: Recipe
    raisers: tuple[Raiser, ...]
    pull: Floats
    up: Floats
    side: Floats
    layer: Floats
    buckling_mpa: tuple[float, float]
    wall_mm: float


def _factors(arc_mm: Floats, raisers: tuple[Raiser, ...]) -> tuple[Floats, Floats, Floats, Floats]:
    out = np.ones((4, len(arc_mm) - 1))
    for r in raisers:
        factor = np.array([[r.pull], [r.up], [r.side], [r.layer]])
        np.maximum(out, factor, out=out, where=r.over(arc_mm))
    return out[0], out[1], out[2], out[3]


def member_raisers(member: Member, answer: MemberAnswer) -> tuple[Raiser, ...]:
    """Every stress raiser along a member, carbon ends included."""
    q = answer.material.notch_sensitivity
    raisers = member.form.raisers(q)
    for glued in (member.carbon, member.facing):
        raisers += end_raisers(glued, with_carbon_ends(member, answer), q)
    return tuple(r for r in raisers if r.end_mm > 0 and r.start_mm < member.ruler_mm)


def stress_basis(
    member: Member, basis: MemberBasis, answer: MemberAnswer, joint: Joint, f: Filament, recipe: Recipe,
    like: StressBasis | None = None,
) -> StressBasis:  # fmt: skip
    """Prepare stress recovery once for all cases; another corner's basis (``like``) lends its raisers."""
    raisers = member_raisers(member, answer) if like is None else like.raisers
    factors = _factors(member.path.arc_mm, raisers) if like is None else (like.pull, like.up, like.side, like.layer)
    walls = recipe.walls * recipe.line_width_mm
    return StressBasis(
        member, basis, answer, root_joint(member.form, joint), f, recipe, raisers,
        *factors, critical_stress_mpa(member, answer.material, recipe), walls,
    )  # fmt: skip


def sharpened(basis: StressBasis, q: float) -> StressBasis:
    """The same where every raiser of the shape is felt by a notch sensitivity of at least ``q``."""
    member = basis.member
    sharp = member.form.raisers(max(q, basis.answer.material.notch_sensitivity))
    raisers = tuple(r for r in sharp if r.end_mm > 0 and r.start_mm < member.ruler_mm)
    pull, up, side, layer = _factors(member.path.arc_mm, (*raisers, *(r for r in basis.raisers if not r.field)))
    return replace(basis, raisers=raisers, pull=pull, up=up, side=side, layer=layer)


def section_forces(basis: StressBasis, combos: Floats) -> SectionForces:
    """Internal forces at every position in every case; ``combos`` (loads, cases)."""
    every = basis.answer.forces @ combos
    return SectionForces(*(every[i] for i in range(6)))


@dataclass(frozen=True)
class Limits:
    """Strengths at every position of a row, each (S,) but ``core`` (6, S) and ``buckling`` (2, S); and the ways into the zones' axes."""

    road: Floats
    cross: Floats
    layer: Floats
    plane_shear: Floats
    layer_shear: Floats
    core: Floats
    buckling: Floats
    to_zone: Floats
    to_ply: Floats


def limits_of(basis: StressBasis) -> Limits:
    """The strengths of one corner along its positions."""
    n, m = len(basis.member.positions_mm), basis.answer.material
    st, one = m.strengths, np.ones(len(basis.member.positions_mm))
    return Limits(
        st.road_mpa * one, st.cross_mpa * one, st.layer_mpa / basis.layer, st.plane_shear_mpa * one, st.layer_shear_mpa / basis.layer,
        np.array(st.core_mpa)[:, None] * one, np.array(basis.buckling_mpa)[:, None] * one,
        np.broadcast_to(m.to_zone, (3, n, 6, 3)), np.broadcast_to(m.to_ply, (n, *m.to_ply.shape)),
    )  # fmt: skip


def zone_indices(limits: Limits, stress: tuple[Floats, Floats, Floats]) -> Floats:
    """Stress over strength of the plastic's kinds at every point, (6 kinds, 3 zones, S, P, cases); 0 where a kind does not act.

    ``stress`` xx, xv, xr, each (3 zones, S, P, cases). Kinds in the order of KINDS up to wall buckling.
    """
    return _indices_and_shares(limits, stress)[0]


def _both(a: Floats, b: Floats) -> Floats:
    """Root of the sum of squares; numpy's hypot, which guards against overflow, takes ten times as long."""
    return np.sqrt(a * a + b * b)


def _indices_and_shares(limits: Limits, stress: tuple[Floats, Floats, Floats]) -> tuple[Floats, Floats]:
    """The indices, and in them the part of the first strength of road-to-road, of the layer kinds and of the core (3, ...)."""
    shape = stress[0].shape
    flat = np.stack([x.reshape(3, shape[1], -1) for x in stress], axis=2)  # (3, S, 3, P * cases)
    own = limits.to_zone @ flat  # (3, S, 6, P * cases)
    out = np.zeros((6, 3, shape[1], flat.shape[3]))
    first = np.zeros((3, 3, shape[1], flat.shape[3]))

    def col(x: Floats) -> Floats:
        return x[:, None]

    for zone in (WALL, COVER):
        s = own[zone]
        if zone == WALL:
            out[ROAD, zone] = np.abs(s[:, 0]) / col(limits.road)
            pulled = np.abs(s[:, 1]) / col(limits.cross)
            out[CROSS, zone] = _both(pulled, s[:, 5] / col(limits.plane_shear))
            first[0, zone] = pulled
        else:
            plies = limits.to_ply @ s[:, None, [0, 1, 5]]  # (S, 2 plies, 3, points)
            out[ROAD, zone] = np.abs(plies[:, :, 0]).max(axis=1) / col(limits.road)
            pulled = np.abs(plies[:, :, 1]) / col(limits.cross)[..., None]
            across = _both(pulled, plies[:, :, 2] / col(limits.plane_shear)[..., None])
            second = across[:, 1] > across[:, 0]
            out[CROSS, zone] = np.where(second, across[:, 1], across[:, 0])
            first[0, zone] = np.where(second, pulled[:, 1], pulled[:, 0])
        lift = np.maximum(s[:, 2], 0.0) / col(limits.layer)
        slide = _both(s[:, 3], s[:, 4]) / col(limits.layer_shear)
        both = _both(lift, slide)
        split = lift >= slide
        out[SPLIT, zone], out[SLIDE, zone] = both * split, both * ~split
        first[1, zone] = lift
        out[BUCKLE, zone] = np.maximum(-flat[zone, :, 0], 0.0) / col(limits.buckling[zone])
    squares = (own[CORE] / limits.core.T[:, :, None]) ** 2
    level = squares[:, 0] + squares[:, 1] + squares[:, 5]
    out[CRUSH, CORE], first[2, CORE] = np.sqrt(squares.sum(axis=1)), np.sqrt(level)
    return out.reshape(6, *shape), first.reshape(3, *shape)


def stress_field(basis: StressBasis) -> StressField:
    """Forces to stress at one corner; in a fillet the section beyond it carries the local load."""
    member, m, nom = basis.member, basis.answer.material, basis.member.nominal
    s = basis.answer.section
    if (nom != np.arange(len(nom))).any():
        s = SectionLine(**{k: getattr(s, k)[nom] for k in SectionLine.__dataclass_fields__})
    n = len(nom)
    section = basis.basis.section
    e, g_v, g_r = (np.broadcast_to(x, (3, n)) for x in (m.e_mpa, m.g_v_mpa, m.g_r_mpa))
    scale = np.full(n, section.shear_scale_mpa / m.shear_scale_mpa)
    return StressField(
        basis.basis.points, s, e, g_v, g_r, scale, member.tables.beta_rad, section.answer.local_v, section.answer.local_r,
        basis.pull, basis.up, basis.side,
    )  # fmt: skip


@dataclass(frozen=True)
class UnitIndices:
    """Stress over strength at the typical corner for cases of unit size: index (6 kinds, S, cases) at the worst point of each kind.

    ``squares`` (2, 4, S, cases) are the parts of the two strengths that act together in the kinds of TOGETHER; ``severity`` (S, cases) is
    the size of the forces behind them.
    """

    index: Floats
    squares: Floats
    severity: Floats


def packed_cases(combos: dict[str, Floats]) -> Floats:
    """Cases side by side, (loads, cases)."""
    return np.stack(list(combos.values()), axis=1)


def unit_directions(packed: Floats) -> tuple[Floats, Floats]:
    """Cases scaled to unit size, rounded so that equal ones are equal to the last digit; and their sizes."""
    size = np.maximum(np.abs(packed).max(axis=0), 1e-12)
    return np.round(packed / size, 9), size


def unit_indices(basis: StressBasis, directions: Floats) -> UnitIndices:
    """Solve the stress of unit cases once."""
    forces = section_forces(basis, directions)
    every, first = _indices_and_shares(limits_of(basis), stresses(stress_field(basis), forces))
    n, cases = every.shape[2], every.shape[4]
    flat = every.transpose(0, 2, 4, 1, 3).reshape(6, n, cases, -1)
    worst = flat[list(TOGETHER)].argmax(axis=3)[..., None]
    index = flat.max(axis=3)
    both = index[list(TOGETHER)]
    # the point in every zone lies at the same place in the arrays of shares
    points = every.shape[3]
    zone, point = worst[..., 0] // points, worst[..., 0] % points
    part = np.array([0, 1, 1, 2])[:, None, None]
    pulled = first[part, zone, np.arange(n)[:, None], point, np.arange(cases)]
    pulled = np.where(both > 0, pulled, 0.0) ** 2
    squares = np.stack([pulled, np.maximum(both**2 - pulled, 0.0)])
    return UnitIndices(index, squares, np.maximum(_severity(basis, forces), 1e-15))


def corner_reserves(
    bases: list[StressBasis], combos: list[dict[str, Floats]], unit: UnitIndices | None = None, pads: list[PadForces] | None = None
) -> list[dict[str, CaseReserves]]:
    """Reserves of a member in every case at several corners of its material; each case is a combination of the unit loads, (loads,).

    In a part of one plastic the stiffnesses change together, so that stress follows the loads alone: the reserves of a corner are those of
    the typical one, with each strength at the governing point changed for its corner, over the ratio of forces. With carbon or facings
    every corner is solved by itself. ``unit`` are the typical corner's indices for the cases' directions, if they are known already;
    ``pads`` what the motor's screws pass to an arm's pad.
    """
    pads = pads or [{} for _ in bases]
    if bases[0].answer.inserts:
        return [all_reserves(b, c, p) for b, c, p in zip(bases, combos, pads, strict=True)]
    middle = next(i for i, b in enumerate(bases) if b.answer.corner == "typical")
    names, packed = list(combos[middle]), [packed_cases(c) for c in combos]
    directions, _ = unit_directions(packed[middle])
    basis = bases[middle]
    unit = unit_indices(basis, directions) if unit is None else unit
    every = [section_forces(b, c) for b, c in zip(bases, packed, strict=True)]
    index = [_at_corner(unit, basis, b) * (_severity(basis, own) / unit.severity) for b, own in zip(bases, every, strict=True)]
    return _case_reserves(bases, np.stack(index), names, every, [b.answer.root @ c for b, c in zip(bases, packed, strict=True)], pads)


def _at_corner(unit: UnitIndices, basis: StressBasis, b: StressBasis) -> Floats:
    """Indices of the typical corner with each strength changed for another one."""
    if b is basis:
        return unit.index
    base, s = basis.answer.material.strengths, b.answer.material.strengths
    here = unit.index.copy()
    here[ROAD] *= base.road_mpa / s.road_mpa
    core = [x / y for x, y in zip(base.core_mpa, s.core_mpa, strict=True)]
    across, layer, slide = base.cross_mpa / s.cross_mpa, base.layer_mpa / s.layer_mpa, base.layer_shear_mpa / s.layer_shear_mpa
    one = np.array([across, layer, layer, max(core[0], core[1], core[5])])[:, None, None]
    two = np.array([base.plane_shear_mpa / s.plane_shear_mpa, slide, slide, max(core[2:5])])[:, None, None]
    here[list(TOGETHER)] = np.sqrt(unit.squares[0] * one**2 + unit.squares[1] * two**2)
    here[BUCKLE] *= max(x / y for x, y in zip(basis.buckling_mpa, b.buckling_mpa, strict=True))
    return here


def all_reserves(basis: StressBasis, combinations: dict[str, Floats], pad: PadForces | None = None) -> dict[str, CaseReserves]:
    """Reserves of a member in every case at one corner, solved by itself."""
    packed = packed_cases(combinations)
    forces = section_forces(basis, packed)
    index = zone_indices(limits_of(basis), stresses(stress_field(basis), forces)).max(axis=(1, 3))
    return _case_reserves([basis], index[None], list(combinations), [forces], [basis.answer.root @ packed], [pad or {}])[0]


def _severity(basis: StressBasis, f: SectionForces) -> Floats:
    """Size of the forces at each position and case, as the root of the energy they put into a slice of the typical part."""
    s = basis.answer.section
    each = ((f.n, s.ea_n), (f.m_y, s.ei_up_nmm2), (f.m_z, s.ei_side_nmm2), (f.t, s.gj_nmm2), (f.v_y, s.ga_side_n), (f.v_z, s.ga_up_n))
    return np.sqrt(sum(x * x / k[:, None] for x, k in each))


def _case_reserves(
    bases: list[StressBasis], index: Floats, names: list[str], forces: list[SectionForces], roots: list[Floats], pads: list[PadForces]
) -> list[dict[str, CaseReserves]]:
    """Reserves at several corners from what their plastic takes, ``index`` (corners, 6 kinds, S, cases), and the joints' share."""
    corners, own, n, cases = index.shape
    values = np.full((corners, len(KINDS), n, cases), CAP)
    values[:, :own] = _reserve(index)
    details, ends = [], []
    for mine, basis, force, root, pad in zip(values, bases, forces, roots, pads, strict=True):
        if basis.answer.inserts:
            mine[FIBRE], mine[BOND] = _bonded_rows(basis, force)
        mine[BEARING, 0], mine[TEAR, 0] = _bolt_rows(basis, root)
        use = _root_use(basis, root)
        mine[JOINT, 0] = _reserve(use.broken)
        ends.append("motor screws")
        if basis.member.form.end_grip is not None:
            mine[JOINT, -1], ends[-1] = _end_row(basis, force, [n in CRASH_CASES for n in names])
        elif pad:
            mine[BEARING, -1], mine[TEAR, -1], mine[JOINT, -1] = _pad_rows(basis, names, pad)
        details.append(use.what)
    return governing(values, names, bases[0].member.positions_mm, details, ends)


def _root_use(basis: StressBasis, root: Floats) -> JointUse:
    """How the root joint bears forces (6, cases), in the plastic that holds it."""
    by = basis.member.root_holder or Holder(basis.filament, basis.recipe)
    return joint_use(basis.joint, basis.member.root, by.filament, basis.answer.corner, by.recipe, root)


def _end_row(basis: StressBasis, f: SectionForces, crash: list[bool]) -> tuple[Floats, str]:
    """Reserve (cases,) of the clamp round a bar's end, which the bar's last forces pass: crushed, or in use slipped, as then the motor
    leans. In a crash slipping breaks nothing."""
    grip, by = basis.member.form.end_grip, basis.member.end_holder or Holder(basis.filament, basis.recipe)
    assert grip is not None
    last = np.stack([x[-1] for x in (f.n, f.v_y, f.v_z, f.t, f.m_y, f.m_z)])
    hold = screw_hold(basis.joint, by.filament, basis.answer.corner, by.recipe, True)
    use = bar_use(basis.joint, grip, hold, by.filament, basis.answer.corner, last)
    slipping = np.where(crash, 0.0, use.slipping)
    slips = bool(slipping.max() > use.broken.max())
    return _reserve(np.maximum(use.broken, slipping)), "the motor holder slips" if slips else "the motor holder is crushed"


def _reserve(index: Floats) -> Floats:
    """Strength over stress, at most CAP, from stress over strength."""
    return np.asarray(1.0 / np.maximum(index, 1.0 / CAP))


def governing(values: Floats, names: list[str], positions_mm: Floats, joints: list[str], ends: list[str]) -> list[dict[str, CaseReserves]]:
    """At each corner every case's reserves (corners, kinds, positions, cases) with the kind and position of its least; ``joints`` and
    ``ends`` say what a corner's root joint, and what holds at its end, fail by."""
    corners, kinds, positions, cases = values.shape
    flat = values.reshape(corners, kinds * positions, cases)
    least = flat.argmin(axis=1)
    found = np.take_along_axis(flat, least[:, None], axis=1)[:, 0].tolist()
    where = positions_mm.tolist()
    out = []
    for mine, joint, end, places, reserves in zip(values, joints, ends, least.tolist(), found, strict=True):
        each = {}
        for c, (name, at, reserve) in enumerate(zip(names, places, reserves, strict=True)):
            k, i = divmod(at, positions)
            detail = "" if k != JOINT else joint if i == 0 else end
            each[name] = CaseReserves(mine[:, :, c], KINDS[k], where[i], reserve, detail)
        out.append(each)
    return out


def _bonded_rows(basis: StressBasis, f: SectionForces) -> tuple[Floats, Floats]:
    """Carbon and facings: stress in them, and shear in their bond lines (shear flow, and entry at the ends)."""
    s = basis.answer.section
    fibre, bond = np.full(f.n.shape, CAP), np.full(f.n.shape, CAP)
    ky, kz = curvatures(s, f.m_y, f.m_z)
    kvy, kvz = curvatures(s, f.v_z, -f.v_y)
    for i in basis.answer.inserts:
        there = (i.area_mm2 > 0)[:, None]
        dz, dy = (i.z_mm - s.z_c_mm)[:, None], (i.y_mm - s.y_c_mm)[:, None]
        half_z, half_y = i.height_mm[:, None] / 2, i.width_mm[:, None] / 2
        middle = f.n / s.ea_n[:, None] + dz * ky - dy * kz
        edge = np.abs(middle) + np.abs(half_z * ky) + np.abs(half_y * kz)
        stress = i.modulus_mpa * i.share[:, None] * edge
        fibre = np.where(there, np.minimum(fibre, _ratio(i.strength_mpa, stress)), fibre)
        area = np.maximum(i.area_mm2, 1e-9)[:, None]
        flow = np.abs(i.modulus_mpa * i.share[:, None] * area * (dz * kvy - dy * kvz)) / i.bonded_mm[:, None]
        # at an end the load that the full bar would carry has one entry length to get in
        missing = (1 - i.share[:, None]) * i.modulus_mpa * area
        held = i.modulus_mpa * area * np.abs(
            f.n / (s.ea_n[:, None] + missing) + dz * f.m_y / (s.ei_up_nmm2[:, None] + missing * dz**2)
            - dy * f.m_z / (s.ei_side_nmm2[:, None] + missing * dy**2)
        )  # fmt: skip
        entry = held * (1 - i.share[:, None]) / (i.bonded_mm[:, None] * i.entry_mm)
        bond = np.where(there, np.minimum(bond, _ratio(i.bond_mpa, flow + entry)), bond)
    return fibre, bond


def _ratio(strength: float, stress: Floats) -> Floats:
    return np.minimum(strength / np.maximum(stress, strength / CAP), CAP)


def _bolt_rows(basis: StressBasis, root: Floats) -> tuple[Floats, Floats]:
    """Bearing and tear-out of tongue bolts, which take sideways bending and pull as an elastic group. ``root`` (6, cases)."""
    g, by = basis.member.root, basis.member.root_holder
    cases = root.shape[1]
    if not g.bolts_mm or (basis.joint.kind != "bolted" and g.bar is None):
        return np.full(cases, CAP), np.full(cases, CAP)
    force = bolt_forces(g.bolts_mm, root[0], root[1], root[5])
    d, h = g.bolt_hole_mm, g.height_mm
    recipe = by.recipe if by is not None else basis.recipe
    m = printed_material(by.filament, recipe, basis.answer.corner) if by is not None else basis.answer.material
    wall = recipe.walls * recipe.line_width_mm
    st, up = m.strengths, abs(float(layer_normal(recipe)[2])) > 0.7
    solid = min(1.0, wall / FULL_WALL_MM) * (1 - m.core_share) + m.core_share
    crush = (st.cross_mpa if up else st.layer_mpa) * solid
    bearing = _ratio(BEARING_FACTOR * crush, force / (d * h))
    bolts = np.array(g.bolts_mm)
    edge = min(g.tongue_width_mm / 2 - float(bolts[:, 1].max()), float(bolts[:, 0].min()) + g.tongue_length_mm)
    depth = max(edge - d / 2, 0.1)
    shear_area = 2 * h * (min(depth, 2 * wall) + m.core_share * max(depth - 2 * wall, 0.0))
    tear = _ratio(st.plane_shear_mpa if up else st.layer_shear_mpa, force / shear_area)
    return bearing, tear


def _pad_rows(basis: StressBasis, names: list[str], pad: PadForces) -> tuple[Floats, Floats, Floats]:
    """Bearing and tear-out of the motor's four screws in the pad, and their own shear; each (cases,)."""
    p, m = basis.member.form.pad, basis.answer.material
    assert p is not None
    r, d, h = p.circle_mm / 2, p.hole_mm, p.thickness_mm
    force = np.array([pad[n][0] / MOTOR_SCREWS + pad[n][1] / (MOTOR_SCREWS * r) for n in names])
    st, up = m.strengths, abs(float(layer_normal(basis.recipe)[2])) > 0.7
    solid = min(1.0, basis.wall_mm / FULL_WALL_MM) * (1 - m.core_share) + m.core_share
    bearing = _ratio(BEARING_FACTOR * (st.cross_mpa if up else st.layer_mpa) * solid, force / (d * h))
    depth = max(p.diameter_mm / 2 - r - d / 2, 0.1)
    shear_area = 2 * h * (min(depth, 2 * basis.wall_mm) + m.core_share * max(depth - 2 * basis.wall_mm, 0.0))
    tear = _ratio(st.plane_shear_mpa if up else st.layer_shear_mpa, force / shear_area)
    size = screw_through(d)
    return bearing, tear, _ratio(SCREW_SHEAR * size.proof_mpa, force / size.stress_area_mm2)


def slipping(basis: StressBasis, combination: Floats) -> float:
    """Share of the joint's grip that a case uses; over 1 it slips (0 for joints that cannot)."""
    root = (basis.answer.root @ combination)[:, None]
    return float(_root_use(basis, root).slipping[0])
