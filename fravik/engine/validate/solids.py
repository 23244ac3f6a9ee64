"""Whole parts against solid models of another method: pocketed bars, legs, guards, cores, plates and fillets, of an even plastic."""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection, Manifold

from fravik.kinds.guard.beam import guard_form
from fravik.kinds.leg.beam import leg_form
from fravik.library import solid_models
from fravik.model.joint import Joint
from fravik.model.material import Filament, Spread
from fravik.model.project import Part
from fravik.model.recipe import Recipe
from fravik.model.shapes import GuardShape, LegShape
from fravik.printing.zones import lay
from fravik.shape.guard import guard_solid
from fravik.shape.leg import leg_solid
from fravik.shape.stations import ARRANGEMENTS, in_plan
from fravik.structure.body import body_points, condense, root_compliances, tie_faces, used_slots
from fravik.structure.failure import ROAD
from fravik.structure.lattice import Lattice, latticed
from fravik.structure.member import LOADS, Member, MemberAnswer, MemberBasis, build_member, member_basis, member_chain, solve_member
from fravik.structure.plate import CELL_MM, PlateGrid, bonded_under, solve_plate
from fravik.structure.platesection import PlateSection
from fravik.structure.printed import printed_material
from fravik.structure.raisers import shoulder_flatwise
from fravik.structure.reserves import all_reserves
from fravik.structure.rows import row_tables, straight_line
from fravik.structure.section import section_basis, section_line
from fravik.structure.stressbasis import stress_basis

from .check import Basis, Check
from .sections import SOLID, even_plastic

E_MPA, NU = 2000.0, 0.36
G_MPA = E_MPA / (2 * (1 + NU))
METHOD: Basis = "another method"


def solid_plastic() -> Filament:
    """The even plastic of the solid models; it feels every notch and holds 1 MPa along its roads."""
    e, g, one, much = (Spread(v, v, v) for v in (E_MPA, G_MPA, 1.0, 1e3))
    return even_plastic().model_copy(update={
        "e_road_mpa": e, "e_cross_mpa": e, "e_layer_mpa": e, "g_plane_mpa": g, "g_layer_mpa": g, "poisson": NU, "notch_sensitivity": 1.0,
        "s_road_mpa": one, "s_cross_mpa": much, "s_layer_mpa": much, "t_plane_mpa": much, "t_layer_mpa": much,
    })  # fmt: skip


def bar_gives(solid: Manifold, long: float, f: Filament, lattice: Lattice | None = None) -> tuple[float, float, float]:
    """How far a bar along x gives in twist, up and sideways at its end, held at 0, for unit moment and forces; with a honeycomb in it."""
    n = 120
    at = (np.arange(n) + 0.5) * long / n
    tables = row_tables(lay(solid, SOLID), straight_line(at))
    if lattice is not None:
        tables = latticed(tables, lattice)
    material = printed_material(f, SOLID, "typical", np.ascontiguousarray(tables.frames[:1]))
    s = section_line(tables, material, 1e-9, (), section_basis(tables, material, ()))
    step, arm = long / n, long - at
    twist = float((step / s.gj_nmm2).sum())
    up = float((step * (arm**2 * s.give_up / s.ei_up_nmm2 + 1 / s.ga_up_n)).sum())
    side = float((step * (arm**2 * s.give_side / s.ei_side_nmm2 + 1 / s.ga_side_n)).sum())
    return twist, up, side


def _bars() -> list[Check]:
    out, f = [], solid_plastic()
    for row in solid_models()["bar"]:
        long, wide, high, pockets = row["length_mm"], row["width_mm"], row["height_mm"], row["pockets"]
        solid = Manifold.cube((long, wide, high)).translate((0.0, -wide / 2, 0.0))
        for x, a, b, r in pockets:
            plan = CrossSection.square((a - 2 * r, b - 2 * r)).offset(r, circular_segments=64)
            solid = solid - plan.extrude(high + 2).translate((x + r, r - b / 2, -1.0))
        twist, up, side = bar_gives(solid, long, f)
        name = f"bar {wide:g} x {high:g}, " + (f"{len(pockets)} pockets {pockets[0][1]:g} x {pockets[0][2]:g}" if pockets else "whole")
        against = f"tetrahedra, {row['nodes']} nodes"
        out += [Check(f"{name}: {what}", against, row[key], got, 0.10 if key == "twist" else 0.06, METHOD)
                for what, key, got in (("twist", "twist", twist), ("sag", "up", up), ("sideways", "side", side))]  # fmt: skip
    return out


def _solved(member: Member, f: Filament) -> tuple[MemberBasis, MemberAnswer]:
    basis = member_basis(member, f, SOLID)
    return basis, solve_member(member, member_chain(member, basis, f, SOLID), f, SOLID, Joint(), None)["typical"]


def _legs() -> list[Check]:
    out, f = [], solid_plastic()
    for row in solid_models()["leg"]:
        shape = LegShape(
            length_mm=row["length_mm"], root_width_mm=row["root_mm"], tip_width_mm=row["tip_mm"], thickness_mm=row["thick_mm"],
            flange_length_mm=row["flange_length_mm"], flange_width_mm=row["flange_width_mm"], root_fillet_mm=row["fillet_mm"],
        )  # fmt: skip
        member = build_member(leg_form(Part(id="leg", shape=shape), shape), lay(leg_solid(shape, None, None), SOLID))
        c = _solved(member, f)[1].compliance
        name, against = f"leg on its flange {row['flange_length_mm']:g} x {row['flange_width_mm']:g}", f"tetrahedra, {row['nodes']} nodes"
        out += [Check(f"{name}, {what}", against, row["compliance"][i], float(c[i, i]), 0.06, METHOD)
                for i, what in ((2, "sag"), (1, "sideways"), (3, "twist"))]  # fmt: skip
    return out


def _guards() -> list[Check]:
    out, f = [], solid_plastic()
    for row in solid_models()["guard"]:
        g = GuardShape(span_deg=row["span_deg"], width_mm=row["width_mm"], height_mm=row["height_mm"], corner_mm=row["corner_mm"])
        radius = row["radius_mm"]
        member = build_member(guard_form(g, radius), lay(guard_solid(g, radius), SOLID))
        basis, answer = _solved(member, f)
        push = np.zeros(len(LOADS))
        push[0] = -1.0
        values = all_reserves(stress_basis(member, basis, answer, Joint(), f, SOLID), {"push": push})["push"].values[ROAD]
        stress, x, strut = 1 / values, member.positions_mm, radius - g.hub_diameter_mm / 2
        near = {"corner": np.abs(x - strut) < g.corner_mm + g.width_mm, "under": np.abs(x - member.ruler_mm / 2) < 6, "root": x < 4}
        name, against = f"guard {row['span_deg']:g} deg, corner {row['corner_mm']:g}", f"triangles, {row['nodes']} nodes"
        out += [Check(f"{name}, stress at {k}", against, row[k], float(stress[m].max()), 0.10, METHOD) for k, m in near.items()]
        out.append(Check(f"{name}, how far it gives", against, row["gives"], -float(answer.tip[0] @ push), 0.05, METHOD))
    return out


def _cores() -> list[Check]:
    out, f = [], solid_plastic()
    for row in solid_models()["core"]:
        high, cover = row["height_mm"], row["cover_mm"]
        recipe = Recipe(core_density=row["core_density"], pattern="grid", core_angle_deg=row["angle_deg"], cover_layers=4)
        m = printed_material(f, recipe, "typical", covers=2 * cover / high)
        pull = 2 * cover * E_MPA + high * float(m.e_mpa[2, 0])
        shear = 2 * cover * G_MPA + high * float(m.g_v_mpa[2, 0])
        name = f"grid {row['core_density']:.0%} at {row['angle_deg']:g} deg, {high:g} mm between covers of {cover:g}"
        against = f"every wall in bricks, {row['nodes']} of them"
        # an askew grid is held to 10 %; along its lines a grid's shear rests on bending walls and is small
        out.append(Check(f"{name}: pull", against, row["pull"], pull, 0.11, METHOD))
        out.append(Check(f"{name}: shear", against, row["shear"], shear, 0.10, METHOD))
    return out


def _body_plate(thick: float) -> tuple[PlateGrid, PlateSection]:
    long, wide, window = 104.0, 88.0, 18.0
    x, y = np.linspace(-long / 2, long / 2, round(long / CELL_MM) + 1), np.linspace(-wide / 2, wide / 2, round(wide / CELL_MM) + 1)
    gap = [np.clip(np.minimum(e[1:], window / 2) - np.maximum(e[:-1], -window / 2), 0, None) / np.diff(e) for e in (x, y)]
    cover = 1 - gap[0][:, None] * gap[1][None, :]
    d, a = E_MPA * thick**3 / (12 * (1 - NU**2)), E_MPA * thick / (1 - NU**2)
    section = PlateSection((d, d, NU * d, d * (1 - NU) / 2), (a, a, NU * a, a * (1 - NU) / 2), thick, thick / 2, 1.0)
    return PlateGrid(x, y, np.where(cover < 0.06, 0.0, cover)), section


def _bodies() -> list[Check]:
    out = []
    local = ((-5.12, -9.88), (-5.12, 9.88), (-22.88, -9.88), (-22.88, 9.88))
    tongue = ((-28.0, -15.0), (0.0, -15.0), (0.0, 15.0), (-28.0, 15.0))
    for row in solid_models()["body"]:
        r = row["clamp_radius_mm"]

        around = ARRANGEMENTS["quad_x"].ways_rad
        bolts, tongues = ([in_plan(places, s) for s in ARRANGEMENTS["quad_x"].stands(r, [2 * r] * 4)] for places in (local, tongue))
        points = body_points(
            around,
            bolts,
            [np.array(c) for c in tongues],
            7.0,
            30.5,
            3.2,
            52.0,
            40.0,
            0.0,
            39.0,
            [(42.0 * math.cos(a), 42.0 * math.sin(a)) for a in around],
        )
        plates = {}
        for name, thick in (("bottom", 3.2), ("top", 2.4)):
            if name == "top" and not row["two_plates"]:
                continue
            grid, section = _body_plate(thick)
            if row["bearing"] == "bonded":
                grid = bonded_under(grid, points.outlines, thick)
            slots = used_slots(points)
            plates[name] = condense(solve_plate(grid, section, points.xy_mm, slots, points.radii_mm), tie_faces(points, slots))
        root = np.diag(root_compliances(plates, points, 12.0, r, (0,))[0])
        name = f"body of {1 + row['two_plates']} plates, {row['bearing']}, root at {r:g} mm"
        against = f"tetrahedra, {row['nodes']} nodes"
        ways = zip(("along", "across", "up", "roll", "pitch", "turn"), row["compliance"], root, strict=True)
        out += [Check(f"{name}: {what}", against, want, float(got), 0.25, METHOD) for what, want, got in ways]
    return out


def _fillets() -> list[Check]:
    return [
        Check(f"fillet {r['radius_mm']:g} bent flatwise, {r['narrow_mm']:g} to {r['wide_mm']:g} wide, {r['thick_mm']:g} thick",
              "solids, finer than the table's", r["factor"],
              shoulder_flatwise(r["radius_mm"], r["narrow_mm"], r["wide_mm"], r["thick_mm"]), 0.08, METHOD)
        for r in solid_models()["fillet"]
    ]  # fmt: skip


GROUPS = (_bars, _legs, _guards, _cores, _bodies, _fillets)
