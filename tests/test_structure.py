"""Sections, beams, raisers and impact behave as mechanics says they must."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold

from fravik.engine.validate import rectangle_torsion
from fravik.library import filament, filaments
from fravik.model.recipe import Recipe
from fravik.printing.zones import lay
from fravik.structure.beams import BeamLine, TipBody, assemble, modes, name_mode, unit_responses
from fravik.structure.excitation import crossings
from fravik.structure.impact import (
    drop_peaks,
    effective_strike_mass_g,
    height_from_speed_m,
    mass_on_spring_peak_n,
    series_n_mm,
    speed_from_height_m_s,
    toughness_speed_factor,
)
from fravik.structure.printed import (
    PATTERN_STIFFNESS,
    PATTERN_STRENGTH,
    angle_ply_modulus_mpa,
    cellular_ratio,
    hashin_shtrikman_upper,
    off_axis_strength_mpa,
    printed_material,
)
from fravik.structure.raisers import (
    hole_tension,
    notched,
    shoulder_bending,
    shoulder_out_of_plane,
    shoulder_tension,
    slot_tension,
)
from fravik.structure.section import row_tables, section_line, torsion_line
from fravik.structure.torsion import torsion_stiffness

PETG = filament("petg")


def bar(recipe: Recipe, width: float = 20.0, height: float = 8.0, stations: tuple[float, ...] = (40.0, 45.0, 50.0)):
    solid = Manifold.cube((100.0, width, height)).translate((0.0, -width / 2, 0.0))
    tables = row_tables(lay(solid, recipe), np.array(stations))
    material = printed_material(PETG, recipe, "typical")
    return section_line(tables, material, 1.27e-9, (), torsion_line(tables, material))


def even_beam(count: int = 20, length: float = 100.0, e: float = 2000.0, g: float = 700.0) -> BeamLine:
    o = np.ones(count)
    a, up, side, rho = 80.0, 10 * 8**3 / 12, 8 * 10**3 / 12, 1.2e-9
    return BeamLine(
        np.linspace(0, length, count + 1), e * a * o, e * up * o, e * side * o, g * (up + side) * o, g * a * o, g * a * o,
        rho * a * o, rho * (up + side) * o,
    )  # fmt: skip


@given(st.integers(1, 7))
def test_more_wall_never_lowers_stiffness(walls: int) -> None:
    a, b = (bar(Recipe(walls=w, infill=0.2)) for w in (walls, walls + 1))
    for name in ("ea_n", "ei_up_nmm2", "ei_side_nmm2", "gj_nmm2"):
        assert (getattr(b, name) >= getattr(a, name) * 0.999).all()


@given(st.floats(0.0, 0.9), st.sampled_from(sorted(PATTERN_STIFFNESS)))
def test_infill_is_monotone(infill: float, pattern: str) -> None:
    a, b = (bar(Recipe(infill=i, pattern=pattern)) for i in (infill, infill + 0.1))
    assert (b.ei_up_nmm2 > a.ei_up_nmm2).all()
    assert (b.gj_nmm2 > a.gj_nmm2).all()
    assert (b.mass_per_mm_t > a.mass_per_mm_t).all()


def test_solid_bar_is_a_solid_bar() -> None:
    s = bar(Recipe(walls=40, infill=1.0))
    e = PETG.e_road_mpa.typical
    assert s.ei_up_nmm2[0] == pytest.approx(e * 20 * 8**3 / 12, rel=2e-3)
    assert s.ei_side_nmm2[0] == pytest.approx(e * 8 * 20**3 / 12, rel=2e-3)
    assert s.mass_per_mm_t[0] == pytest.approx(1.27e-9 * 160, rel=1e-6)
    assert s.z_c_mm[0] == pytest.approx(4.0)
    assert s.y_c_mm[0] == pytest.approx(0.0, abs=1e-9)


def test_walls_on_the_faces_bend_stiffer_than_walls_at_the_sides() -> None:
    flat, side = bar(Recipe(walls=3, infill=0.15, lies="flat")), bar(Recipe(walls=3, infill=0.15, lies="on_side"))
    assert side.ei_up_nmm2[0] > 1.15 * flat.ei_up_nmm2[0]


def test_turning_a_bar_over_swaps_its_directions() -> None:
    flat = bar(Recipe(walls=3, lies="flat"), 20.0, 8.0)
    turned = bar(Recipe(walls=3, lies="on_side"), 8.0, 20.0)
    assert flat.ei_up_nmm2[0] == pytest.approx(turned.ei_side_nmm2[0], rel=0.03)
    assert flat.ei_side_nmm2[0] == pytest.approx(turned.ei_up_nmm2[0], rel=0.03)
    assert flat.gj_nmm2[0] == pytest.approx(turned.gj_nmm2[0], rel=0.04)


def test_standing_on_end_has_the_layers_modulus() -> None:
    s = bar(Recipe(walls=40, infill=1.0, lies="on_end"))
    assert s.ei_up_nmm2[0] == pytest.approx(PETG.e_layer_mpa.typical * 20 * 8**3 / 12, rel=5e-3)


@given(st.floats(0.4, 5.0), st.floats(0.5, 3.0))
def test_torsion_of_rectangles(aspect: float, scale: float) -> None:
    n = 22
    y, z = np.linspace(0, 10 * aspect * scale, n + 1), np.linspace(0, 10 * scale, n + 1)
    g = np.full((n, n), 700.0)
    wide, thin = max(10 * aspect, 10.0) * scale, min(10 * aspect, 10.0) * scale
    assert torsion_stiffness(y, z, g, g) == pytest.approx(700 * rectangle_torsion(wide, thin), rel=0.012)


def test_torsion_of_nothing_is_nothing() -> None:
    z = np.zeros((4, 4))
    assert torsion_stiffness(np.arange(5.0), np.arange(5.0), z, z) == 0.0


def test_torsion_does_not_mind_where_the_section_lies() -> None:
    g = np.random.default_rng(1).uniform(100, 900, (8, 12))
    y, z = np.linspace(0, 12, 13), np.linspace(0, 8, 9)
    assert torsion_stiffness(y, z, g, g) == pytest.approx(torsion_stiffness(y + 50, z - 30, g, g), rel=1e-9)
    assert torsion_stiffness(y, z, g, g) == pytest.approx(torsion_stiffness(z, y, g.T, g.T), rel=1e-9)


def test_a_slit_tube_twists_far_more_easily() -> None:
    y = z = np.linspace(0, 20, 41)
    ring = np.ones((40, 40))
    ring[2:-2, 2:-2] = 0.0
    slit = ring.copy()
    slit[:2, 19:21] = 0.0
    assert torsion_stiffness(y, z, slit, slit) < 0.05 * torsion_stiffness(y, z, ring, ring)


def test_angle_ply_limits() -> None:
    e0, g0 = angle_ply_modulus_mpa(2000.0, 1500.0, 600.0, 0.36, 0.0)
    e90, _ = angle_ply_modulus_mpa(2000.0, 1500.0, 600.0, 0.36, 90.0)
    assert (e0, e90, g0) == (pytest.approx(2000), pytest.approx(1500), pytest.approx(600))
    e45, g45 = angle_ply_modulus_mpa(2000.0, 2000.0, 2000 / 2.72, 0.36, 45.0)
    assert e45 == pytest.approx(2000)
    assert g45 == pytest.approx(2000 / 2.72)


@given(st.floats(0, 90))
def test_off_axis_strength_lies_between_its_ends(angle: float) -> None:
    s = off_axis_strength_mpa(45.0, 35.0, 24.0, angle)
    assert 30.0 < s <= 45.0 + 1e-9


@given(st.floats(0.01, 0.99), st.sampled_from(sorted(PATTERN_STIFFNESS)))
def test_infill_stays_within_its_bounds(density: float, pattern: str) -> None:
    e = cellular_ratio(density, *PATTERN_STIFFNESS[pattern])
    assert 0 < e < hashin_shtrikman_upper(density, 0.36)
    assert cellular_ratio(density, *PATTERN_STRENGTH[pattern]) >= e


def test_hashin_shtrikman_limits() -> None:
    assert hashin_shtrikman_upper(0.0, 0.36) == 0.0
    assert hashin_shtrikman_upper(1.0, 0.36) == pytest.approx(1.0)
    assert hashin_shtrikman_upper(0.5, 0.36) < 0.5


@pytest.mark.parametrize("kind", sorted(filaments()))
def test_pulling_across_layers_is_never_stronger(kind: str) -> None:
    f = filament(kind)
    along, across = (printed_material(f, Recipe(lies=lies), "typical") for lies in ("flat", "on_end"))
    assert across.strength_mpa[0] < along.strength_mpa[0]
    assert across.e_mpa[0] <= along.e_mpa[0]


@pytest.mark.parametrize("lies", ["flat", "on_side", "on_end"])
def test_corners_of_the_spread_are_ordered(lies: str) -> None:
    low, typ, high = (printed_material(PETG, Recipe(lies=lies), c) for c in ("low", "typical", "high"))
    assert low.e_mpa < typ.e_mpa < high.e_mpa
    assert low.strength_mpa < typ.strength_mpa < high.strength_mpa


def test_clamped_beam_is_reciprocal() -> None:
    k, _, ke = assemble(even_beam(), None)
    loads = np.zeros((len(k), 2))
    loads[6 * 10 + 2, 0] = 1.0
    loads[6 * 20 + 2, 1] = 1.0
    free = slice(6, None)
    u = np.zeros_like(loads)
    u[free] = np.linalg.solve(k[free, free], loads[free])
    assert u[6 * 20 + 2, 0] == pytest.approx(u[6 * 10 + 2, 1], rel=1e-9)
    assert unit_responses(k, ke, loads).tip[2, 1] == pytest.approx(u[6 * 20 + 2, 1])


def test_section_forces_follow_statics() -> None:
    beam = even_beam()
    k, _, ke = assemble(beam, None)
    loads = np.zeros((len(k), 4))
    for col, dof in enumerate((-6, -5, -4, -3)):
        loads[dof, col] = 1.0
    forces = unit_responses(k, ke, loads).forces
    lever = 100.0 - (beam.nodes_mm[1:] + beam.nodes_mm[:-1]) / 2
    assert np.abs(forces[0, :, 0]) == pytest.approx(np.ones(20))
    assert np.abs(forces[5, :, 1]) == pytest.approx(lever)
    assert np.abs(forces[4, :, 2]) == pytest.approx(lever)
    assert np.abs(forces[3, :, 3]) == pytest.approx(np.ones(20))


def test_free_beam_has_six_rigid_motions_and_its_own_mass() -> None:
    beam = even_beam()
    k, m, _ = assemble(beam, TipBody(3e-5, np.eye(3) * 1e-3, np.array([0.0, 2.0, 5.0])))
    freqs, _ = modes(k, m, 8, clamped=False)
    assert (freqs[:6] < 1.0).all()
    assert freqs[6] > 100.0
    up = np.zeros(len(m))
    up[2::6] = 1.0
    assert up @ m @ up == pytest.approx(1.2e-9 * 80 * 100 + 3e-5)


def test_modes_are_mass_normalised_and_ordered() -> None:
    k, m, _ = assemble(even_beam(), None)
    freqs, shapes = modes(k, m, 5)
    assert (np.diff(freqs) >= 0).all()
    assert shapes.T @ m @ shapes == pytest.approx(np.eye(5), abs=1e-6)
    assert name_mode(shapes[:, 0]) == "vertical bending"
    assert name_mode(shapes[:, 1]) == "in-plane bending"


@given(st.floats(1e-6, 5e-4))
def test_a_heavier_motor_lowers_every_mode(mass: float) -> None:
    k, m, _ = assemble(even_beam(), TipBody(mass, np.zeros((3, 3)), np.zeros(3)))
    k2, m2, _ = assemble(even_beam(), TipBody(1.5 * mass, np.zeros((3, 3)), np.zeros(3)))
    assert (modes(k2, m2, 4)[0] <= modes(k, m, 4)[0] + 1e-9).all()


@given(st.floats(0.05, 20.0), st.floats(1.02, 4.0))
def test_shoulder_factors_fall_as_the_fillet_grows(radius: float, ratio: float) -> None:
    for factor in (shoulder_bending, shoulder_tension, shoulder_out_of_plane):
        k1, k2 = factor(radius, 10.0, 10 * ratio), factor(radius * 1.2, 10.0, 10 * ratio)
        assert k2 <= k1 + 0.02
        assert k1 >= 1.0


def test_no_step_no_factor() -> None:
    assert shoulder_bending(1.0, 10.0, 10.0) == 1.0
    assert shoulder_bending(1.0, 10.0, 9.0) == 1.0
    assert shoulder_bending(50.0, 10.0, 10.5) < 1.12


def test_hole_and_slot_factors() -> None:
    assert hole_tension(1e-6, 10.0) == pytest.approx(3.0, abs=1e-3)
    assert hole_tension(10.0, 10.0) == pytest.approx(2.0)
    assert slot_tension(6.0, 3.0, 20.0) == pytest.approx(hole_tension(6.0, 20.0))
    assert slot_tension(6.0, 0.5, 20.0) > slot_tension(6.0, 2.0, 20.0)


def test_notch_sensitivity_scales_the_factor() -> None:
    assert notched(2.5, 0.0) == 1.0
    assert notched(2.5, 1.0) == 2.5
    assert notched(2.5, 0.6) == pytest.approx(1.9)


@given(st.floats(50, 3000), st.floats(10, 500), st.floats(5, 2000), st.floats(1, 400))
def test_drop_peaks_are_bounded_by_energy(body: float, tips: float, contact: float, arms: float) -> None:
    peaks = drop_peaks(body, tips, contact, arms)
    energy = 0.5 * (body + tips) * 1e-3  # J at 1 m/s, and F^2 / 2k of each spring cannot exceed it
    assert peaks.contact_n**2 / (2 * contact * 1e3) <= energy * 1.001
    assert peaks.tips_n**2 / (2 * arms * 1e3) <= energy * 1.001
    assert peaks.contact_n > 0


def test_light_arms_leave_a_single_mass_on_a_spring() -> None:
    peaks = drop_peaks(800.0, 1e-6, 100.0, 50.0)
    assert peaks.contact_n == pytest.approx(mass_on_spring_peak_n(1.0, 100.0, 800.0), rel=2e-3)


def test_hard_ground_stops_the_body_dead() -> None:
    # a body stopped at once leaves the tips with v sqrt(k m) on the arms
    peaks = drop_peaks(50.0, 200.0, 1e6, 40.0)
    assert peaks.tips_n == pytest.approx(mass_on_spring_peak_n(1.0, 40.0, 200.0), rel=0.05)


def test_strike_mass_and_speeds() -> None:
    assert effective_strike_mass_g(900.0, 1e30, 100.0) == pytest.approx(900.0)
    assert effective_strike_mass_g(900.0, 4e6, 100.0) < 900.0
    assert height_from_speed_m(speed_from_height_m_s(1.7)) == pytest.approx(1.7)
    assert series_n_mm(10.0, 10.0) == pytest.approx(5.0)
    assert toughness_speed_factor(1.0) == 1.0
    assert toughness_speed_factor(0.5) == 1.0
    assert toughness_speed_factor(4.0) > toughness_speed_factor(2.0) > 1.0


def test_crossings_name_order_speed_and_band() -> None:
    found = crossings([("vertical bending", 100.0, 90.0, 110.0)], 2, 1000.0, 12000.0, (5000.0, 7000.0))
    assert [(c.order, round(c.rpm), c.in_working_band) for c in found] == [("1/rev", 6000, True), ("blade pass", 3000, False)]
    assert crossings([("torsion", 900.0, 880.0, 930.0)], 2, 1000.0, 12000.0, (5000.0, 7000.0)) == []


@given(st.floats(20, 600), st.integers(2, 5))
def test_every_crossing_lies_on_its_line(freq: float, blades: int) -> None:
    for c in crossings([("m", freq, 0.9 * freq, 1.1 * freq)], blades, 900.0, 20000.0, (4000.0, 8000.0)):
        per_rev = 1 if c.order == "1/rev" else blades
        assert c.rpm / 60 * per_rev == pytest.approx(freq)
        assert c.rpm_low <= c.rpm <= c.rpm_high
