"""Beams, raisers and impact behave as mechanics says they must."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

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
from fravik.structure.raisers import (
    hole_tension,
    notched,
    shoulder_bending,
    shoulder_tension,
    slot_tension,
)


def even_beam(count: int = 20, length: float = 100.0, e: float = 2000.0, g: float = 700.0) -> BeamLine:
    o = np.ones(count)
    a, up, side, rho = 80.0, 10 * 8**3 / 12, 8 * 10**3 / 12, 1.2e-9
    return BeamLine(
        np.linspace(0, length, count + 1), e * a * o, e * up * o, e * side * o, g * (up + side) * o, g * a * o, g * a * o,
        rho * a * o, rho * (up + side) * o,
    )  # fmt: skip


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
    for factor in (shoulder_bending, shoulder_tension, shoulder_bending):
        k1, k2 = factor(radius, 10.0, 10 * ratio), factor(radius * 1.2, 10.0, 10 * ratio)
        assert k2 <= k1 + 1e-9
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
