"""Sections as printed: what is in them, how stiff they are, and that the trends a maker relies on hold."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold

from fravik.engine.validate.sections import bar_of, box, even_plastic, printed_section, rectangle_torsion
from fravik.kinds import build_solid
from fravik.kinds.arm.beam import arm_form
from fravik.library import filament
from fravik.model.project import Part
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import ArmShape
from fravik.printing.orientation import layer_normal, print_from_part
from fravik.printing.zones import lay
from fravik.shape.build import ShapeInput
from fravik.structure.inserts import facing_inserts
from fravik.structure.member import build_member, member_basis
from fravik.structure.printed import core_ratios, printed_material
from fravik.structure.rows import row_tables, straight_line
from fravik.structure.section import SectionLine
from fravik.structure.sectionfe import Grids, solve_sections

PETG = filament("petg")
STIFFNESSES = ("ea_n", "ei_up_nmm2", "ei_side_nmm2", "gj_nmm2", "ga_up_n", "ga_side_n")


def bar(recipe: Recipe, width: float = 20.0, height: float = 8.0) -> SectionLine:
    solid = Manifold.cube((100.0, width, height)).translate((0.0, -width / 2, 0.0))
    return printed_section(solid, recipe, PETG)[0]


@given(st.integers(1, 7), st.sampled_from(["gyroid", "grid", "triangles", "cubic", "lines", "honeycomb"]), st.floats(0.0, 0.9))
def test_more_wall_never_lowers_stiffness(walls: int, pattern: str, core_density: float) -> None:
    a, b = (bar(Recipe(walls=w, core_density=core_density, pattern=pattern)) for w in (walls, walls + 1))
    for name in STIFFNESSES[:4]:
        assert (getattr(b, name) >= getattr(a, name) * 0.997).all(), name


@given(st.floats(0.0, 0.9), st.sampled_from(["gyroid", "grid", "triangles", "cubic", "lines", "honeycomb", "concentric"]))
def test_core_is_monotone(core_density: float, pattern: str) -> None:
    a, b = (bar(Recipe(core_density=i, pattern=pattern)) for i in (core_density, core_density + 0.1))
    assert (b.ei_up_nmm2 >= a.ei_up_nmm2 * (1 - 1e-9)).all()
    assert (b.gj_nmm2 >= a.gj_nmm2 * 0.999).all()
    assert (b.mass_per_mm_t > a.mass_per_mm_t).all()


def test_solid_bar_is_a_solid_bar() -> None:
    s = bar(Recipe(walls=40, core_density=1.0))
    e = PETG.e_road_mpa.typical
    assert s.ei_up_nmm2[0] == pytest.approx(e * 20 * 8**3 / 12, rel=2e-3)
    assert s.ei_side_nmm2[0] == pytest.approx(e * 8 * 20**3 / 12, rel=2e-3)
    assert s.mass_per_mm_t[0] == pytest.approx(1.27e-9 * 160, rel=1e-6)
    assert s.z_c_mm[0] == pytest.approx(4.0)
    assert s.y_c_mm[0] == pytest.approx(0.0, abs=1e-9)
    assert s.z_s_mm[0] == pytest.approx(4.0, abs=1e-3)


def test_walls_on_the_faces_bend_stiffer_than_walls_at_the_sides() -> None:
    flat, side = bar(Recipe(walls=3, core_density=0.15, lies="flat")), bar(Recipe(walls=3, core_density=0.15, lies="on_side"))
    assert side.ei_up_nmm2[0] > 1.15 * flat.ei_up_nmm2[0]


@pytest.mark.parametrize(("a", "b"), [("flat", "flat_over"), ("on_side", "on_other_side"), ("on_end", "on_other_end")])
def test_the_other_way_up_is_as_stiff(a: str, b: str) -> None:
    one, other = bar(Recipe(lies=a)), bar(Recipe(lies=b))
    for name in STIFFNESSES:
        assert getattr(one, name)[0] == pytest.approx(getattr(other, name)[0], rel=2e-3)


def test_turning_a_bar_over_swaps_its_directions() -> None:
    flat, turned = bar(Recipe(walls=3, lies="flat"), 20.0, 8.0), bar(Recipe(walls=3, lies="on_side"), 8.0, 20.0)
    assert flat.ei_up_nmm2[0] == pytest.approx(turned.ei_side_nmm2[0], rel=0.03)
    assert flat.ei_side_nmm2[0] == pytest.approx(turned.ei_up_nmm2[0], rel=0.03)
    assert flat.gj_nmm2[0] == pytest.approx(turned.gj_nmm2[0], rel=0.04)


@given(st.floats(-180.0, 180.0), st.floats(-90.0, 90.0))
def test_free_turns_are_rotations(roll: float, pitch: float) -> None:
    r = print_from_part(Recipe(lies="free", roll_deg=roll, pitch_deg=pitch))
    assert r @ r.T == pytest.approx(np.eye(3), abs=1e-9)
    assert np.linalg.det(r) == pytest.approx(1.0)


@pytest.mark.parametrize(("turn", "named"), [((0, 0), "flat"), ((90, 0), "on_side"), ((-90, 0), "on_other_side"), ((180, 0), "flat_over")])
def test_free_turns_meet_the_named_ones(turn: tuple[float, float], named: str) -> None:
    free = Recipe(lies="free", roll_deg=turn[0], pitch_deg=turn[1])
    assert layer_normal(free) == pytest.approx(layer_normal(Recipe(lies=named)), abs=1e-9)
    a, b = bar(free), bar(Recipe(lies=named))
    assert a.ei_up_nmm2[0] == pytest.approx(b.ei_up_nmm2[0], rel=0.01)


@pytest.mark.parametrize(("roll", "pitch"), [(30.0, 0.0), (0.0, 45.0), (20.0, 30.0), (-50.0, 12.0)])
def test_an_askew_print_keeps_its_area_and_moments(roll: float, pitch: float) -> None:
    solid = Manifold.cube((100.0, 20.0, 8.0)).translate((0.0, -10.0, 0.0))
    t = row_tables(lay(solid, Recipe(lies="free", roll_deg=roll, pitch_deg=pitch)), straight_line(np.array([50.0])))
    sums = {k: float(v.sum(axis=0)[0]) for k, v in t.zone_sums.items()}
    assert sums["a"] == pytest.approx(160.0, rel=0.02)
    assert sums["zz"] - sums["z"] ** 2 / sums["a"] == pytest.approx(20 * 8**3 / 12, rel=0.05)
    assert sums["yy"] == pytest.approx(8 * 20**3 / 12, rel=0.03)
    assert t.extents[:, 0] == pytest.approx([-10, 10, 0, 8], abs=0.35)


@given(st.sampled_from(["petg", "pla", "pa_cf"]), st.floats(0.0, 90.0))
def test_leaning_layers_lie_between_flat_and_upright(kind: str, pitch: float) -> None:
    f = filament(kind)
    flat, end = (printed_material(f, Recipe(lies=lies), "typical").e_mpa[0, 0] for lies in ("flat", "on_end"))
    free = printed_material(f, Recipe(lies="free", pitch_deg=pitch), "typical").e_mpa[0, 0]
    # a leaning bar also shears between its layers, so it can be a little softer than either end
    assert 0.85 * end < free <= flat * (1 + 1e-9)


@pytest.mark.parametrize(("wide", "high"), [(12.0, 12.0), (20.0, 8.0), (8.0, 20.0)])
def test_torsion_at_default_resolution(wide: float, high: float) -> None:
    s, _, _ = printed_section(bar_of(box(-wide / 2, 0, wide / 2, high)), Recipe(walls=40, core_density=1.0), even_plastic())
    exact = 2000 / 2.6 * rectangle_torsion(max(wide, high), min(wide, high))
    assert s.gj_nmm2[0] == pytest.approx(exact, rel=0.01)


def test_section_solution_does_not_mind_where_the_section_lies() -> None:
    rng = np.random.default_rng(1)
    e, g = rng.uniform(500, 2000, (1, 8, 12)), rng.uniform(100, 900, (1, 8, 12))
    v, r = np.linspace(0, 12, 13)[None], np.linspace(0, 8, 9)[None]
    here, there = (solve_sections(Grids(v + d, r - d, e, g, g)) for d in (0.0, 40.0))
    assert here.gj_nmm2 == pytest.approx(there.gj_nmm2, rel=1e-9)
    assert here.flex_v == pytest.approx(there.flex_v, rel=1e-6)
    assert here.centre_v_mm + 40 == pytest.approx(there.centre_v_mm, abs=1e-4)
    assert here.centre_r_mm - 40 == pytest.approx(there.centre_r_mm, abs=1e-4)
    turned = solve_sections(Grids(r, v, e.transpose(0, 2, 1), g.transpose(0, 2, 1), g.transpose(0, 2, 1)))
    assert turned.gj_nmm2 == pytest.approx(here.gj_nmm2, rel=1e-9)
    assert turned.flex_r == pytest.approx(here.flex_v, rel=1e-6)


def test_a_slit_tube_twists_far_more_easily() -> None:
    closed = box(-10, 0, 10, 8) - box(-9, 1, 9, 7)
    recipe = Recipe(walls=40, core_density=1.0)
    whole, _, _ = printed_section(bar_of(closed), recipe, even_plastic())
    slit, _, _ = printed_section(bar_of(closed - box(-0.5, 6, 0.5, 9)), recipe, even_plastic())
    assert slit.gj_nmm2[0] < 0.06 * whole.gj_nmm2[0]
    assert abs(slit.z_s_mm[0] - slit.z_c_mm[0]) > 4


def test_rails_beside_a_pocket_bend_by_themselves() -> None:
    two = box(-10, 0, -6, 8) + box(6, 0, 10, 8)
    solid = bar_of(box(-10, 0, 10, 8)) - bar_of(box(-6, -1, 6, 9)).trim_by_plane((1, 0, 0), 40).trim_by_plane((-1, 0, 0), -60)
    recipe = Recipe(walls=40, core_density=1.0)
    apart, basis, _ = printed_section(bar_of(two), recipe, even_plastic())
    assert basis.fe.pieces[0] == 2
    plain = ArmShape(pad_fillet_mm=1.0)
    m = build_member(arm_form(Part(id="arm", shape=plain), plain, 100.0), lay(solid, recipe))
    s = member_basis(m, even_plastic(), recipe).section.answer
    inside = int(np.argmin(np.abs(m.positions_mm - 50)))
    # 12 EI of both rails over L^2 carries the side force
    rails = 12 * 2 * 2000 * 8 * 4**3 / 12 / 20.0**2
    # they also shear, and give where they grow out of the whole
    assert 0.4 * rails < 1 / s.flex_v[inside] < rails
    assert apart.ei_side_nmm2[0] > 0.5 * 2000 * 8 * 20**3 / 12


@given(st.sampled_from(["tube_4x2p5", "rod_3", "square_4x2p5"]), st.floats(8.0, 11.0))
def test_carbon_in_the_middle_adds_less_than_at_the_faces(stock: str, height: float) -> None:
    arm = ArmShape(root_width_mm=24.0, tip_width_mm=24.0, root_height_mm=height, tip_height_mm=height, pad_diameter_mm=34.0)
    recipe = Recipe(walls=3, core_density=0.3)
    ei = []
    for place, count in (("inside", 2), ("slot", 2)):
        carbon = Carbon(stock=stock, place=place, count=count, start_mm=2.0, end_mm=88.0)
        form = arm_form(Part(id="arm", shape=arm, carbon=carbon), arm, 112.0)
        m = build_member(form, lay(build_solid(ShapeInput(arm, 112.0, carbon)), recipe), carbon)
        from fravik.structure.member import member_inserts, member_material
        from fravik.structure.section import section_line

        basis = member_basis(m, PETG, recipe)
        line = section_line(
            m.tables, member_material(m, PETG, recipe, "typical"), 1.27e-9, member_inserts(m, PETG, "typical"), basis.section
        )
        ei.append(line.ei_up_nmm2[int(np.argmin(np.abs(m.positions_mm - 45)))])
    assert ei[1] > 1.5 * ei[0]


def test_sheets_lie_on_the_faces_and_enter_over_a_length() -> None:
    stations = np.array([0.5, 5.0, 40.0, 79.5])
    extents = np.array([[-10.0] * 4, [10.0] * 4, [0.0] * 4, [8.0] * 4])
    low, high = facing_inserts(Facing(stock="plate_1", cover=0.8, start_mm=0.0, end_mm=80.0), extents, stations, PETG, "typical")
    assert low.z_mm[0] == pytest.approx(-0.65)
    assert high.z_mm[0] == pytest.approx(8.65)
    assert low.width_mm[0] == pytest.approx(16.0)
    assert low.share[0] < 0.3 < low.share[1] < 0.9 < low.share[2]
    assert low.entry_mm == pytest.approx(math.sqrt(55000 * 1.0 * 0.15 / 900), rel=1e-6)


def test_core_constants_follow_the_pattern() -> None:
    grid, along = (bar(Recipe(walls=1, core_density=0.2, pattern="grid", core_angle_deg=a)) for a in (45.0, 0.0))
    assert along.ei_up_nmm2[0] > grid.ei_up_nmm2[0]
    upright, _ = core_ratios("honeycomb", 0.2)
    assert upright[2] > 5 * upright[0]
