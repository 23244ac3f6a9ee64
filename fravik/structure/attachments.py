"""What holds a member: its root joint, the clamp or the motor's screws at its end, and what is glued to it, as reserves."""

from __future__ import annotations

import numpy as np

from fravik.library import screw_through
from fravik.printing.orientation import layer_normal
from fravik.printing.zones import Floats

from .failure import CAP, capped, ratio
from .fasteners import FULL_WALL_MM, screw_hold
from .joints import Holder, JointUse, bar_use, bolt_forces, joint_use
from .printed import printed_material
from .stress import SectionForces, curvatures
from .stressbasis import StressBasis
from .tubejoint import IN_A_HOLE

MOTOR_SCREWS = 4
SCREW_SHEAR = 0.6  # of its proof stress; a screw's own (von Mises, 0.577)
PadForce = tuple[float, float]  # in-plane force N and moment N mm on an arm's pad


def root_use(basis: StressBasis, root: Floats) -> JointUse:
    """How the root joint bears forces (6, cases), in the plastic that holds it."""
    by = basis.member.root_holder or Holder(basis.filament, basis.recipe)
    return joint_use(basis.joint, basis.member.root, by.filament, basis.answer.corner, by.recipe, root)


def end_row(basis: StressBasis, f: SectionForces, crash: list[bool]) -> tuple[Floats, str]:
    """Reserve (cases,) of the clamp round a bar's end, which the bar's last forces pass: crushed, or in use slipped, as then the motor
    leans. In a crash slipping breaks nothing."""
    grip, by = basis.member.form.end_grip, basis.member.end_holder or Holder(basis.filament, basis.recipe)
    assert grip is not None
    last = np.stack([x[-1] for x in (f.n, f.v_y, f.v_z, f.t, f.m_y, f.m_z)])
    hold = screw_hold(basis.joint, by.filament, basis.answer.corner, by.recipe, True)
    use = bar_use(basis.joint, grip, hold, by.filament, basis.answer.corner, last)
    slipping = np.where(crash, 0.0, use.slipping)
    slips = bool(slipping.max() > use.broken.max())
    return capped(np.maximum(use.broken, slipping)), "the motor holder slips" if slips else "the motor holder is crushed"


def bonded_rows(basis: StressBasis, f: SectionForces) -> tuple[Floats, Floats]:
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
        fibre = np.where(there, np.minimum(fibre, ratio(i.strength_mpa, stress)), fibre)
        area = np.maximum(i.area_mm2, 1e-9)[:, None]
        flow = np.abs(i.modulus_mpa * i.share[:, None] * area * (dz * kvy - dy * kvz)) / i.bonded_mm[:, None]
        # at an end the load that the full bar would carry has one entry length to get in
        missing = (1 - i.share[:, None]) * i.modulus_mpa * area
        held = i.modulus_mpa * area * np.abs(
            f.n / (s.ea_n[:, None] + missing) + dz * f.m_y / (s.ei_up_nmm2[:, None] + missing * dz**2)
            - dy * f.m_z / (s.ei_side_nmm2[:, None] + missing * dy**2)
        )  # fmt: skip
        entry = held * (1 - i.share[:, None]) / (i.bonded_mm[:, None] * i.entry_mm)
        bond = np.where(there, np.minimum(bond, ratio(i.bond_mpa, flow + entry)), bond)
    return fibre, bond


def bolt_rows(basis: StressBasis, root: Floats) -> tuple[Floats, Floats]:
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
    bearing = ratio(IN_A_HOLE * crush, force / (d * h))
    bolts = np.array(g.bolts_mm)
    edge = min(g.tongue_width_mm / 2 - float(bolts[:, 1].max()), float(bolts[:, 0].min()) + g.tongue_length_mm)
    depth = max(edge - d / 2, 0.1)
    shear_area = 2 * h * (min(depth, 2 * wall) + m.core_share * max(depth - 2 * wall, 0.0))
    tear = ratio(st.plane_shear_mpa if up else st.layer_shear_mpa, force / shear_area)
    return bearing, tear


def pad_rows(basis: StressBasis, each: list[PadForce]) -> tuple[Floats, Floats, Floats]:
    """Bearing and tear-out of the motor's four screws in the pad under what acts on it, and their own shear; each (cases,)."""
    p, m = basis.member.form.pad, basis.answer.material
    assert p is not None
    r, d, h = p.circle_mm / 2, p.hole_mm, p.thickness_mm
    force = np.array([push / MOTOR_SCREWS + turn / (MOTOR_SCREWS * r) for push, turn in each])
    st, up = m.strengths, abs(float(layer_normal(basis.recipe)[2])) > 0.7
    solid = min(1.0, basis.wall_mm / FULL_WALL_MM) * (1 - m.core_share) + m.core_share
    bearing = ratio(IN_A_HOLE * (st.cross_mpa if up else st.layer_mpa) * solid, force / (d * h))
    depth = max(p.diameter_mm / 2 - r - d / 2, 0.1)
    shear_area = 2 * h * (min(depth, 2 * basis.wall_mm) + m.core_share * max(depth - 2 * basis.wall_mm, 0.0))
    tear = ratio(st.plane_shear_mpa if up else st.layer_shear_mpa, force / shear_area)
    size = screw_through(d)
    return bearing, tear, ratio(SCREW_SHEAR * size.proof_mpa, force / size.stress_area_mm2)


def slipping(basis: StressBasis, combination: Floats) -> float:
    """Share of the joint's grip that a case uses; over 1 it slips (0 for joints that cannot)."""
    root = (basis.answer.root @ combination)[:, None]
    return float(root_use(basis, root).slipping[0])
