"""Beams, raisers and impact behave as mechanics says they must."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.engine.validate.beams import even_bar, tip_rise
from fravik.structure.beams import TipBody, name_mode
from fravik.structure.excitation import ModeBand, clear_pct, clearance, meetings, orders
from fravik.structure.frame import Assembled, held_modes, respond
from fravik.structure.impact import (
    drop_peaks,
    effective_strike_mass_g,
    height_from_speed_m,
    many_drops,
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


def bar(tip: TipBody | None = None) -> tuple[Assembled, np.ndarray]:
    return even_bar(20, 100.0, lambda _: 10.0, 8.0, 2000.0, 700.0, 1.2e-9, tip)


def test_clamped_beam_is_reciprocal() -> None:
    chain, k = bar()
    loads = np.zeros((len(k), 2))
    loads[6 * 10 + 2, 0] = 1.0
    loads[6 * 20 + 2, 1] = 1.0
    u = respond(chain, k, loads).u
    assert u[6 * 20 + 2, 0] == pytest.approx(u[6 * 10 + 2, 1], rel=1e-9)
    assert u[6 * 20 + 2, 1] == pytest.approx(tip_rise(chain, k))


def test_section_forces_follow_statics() -> None:
    chain, k = bar()
    loads = np.zeros((len(k), 4))
    for col, dof in enumerate((-6, -5, -4, -3)):
        loads[dof, col] = 1.0
    forces = respond(chain, k, loads).forces
    lever = 100.0 - (np.arange(20) + 0.5) * 5.0
    assert np.abs(forces[0, :, 0]) == pytest.approx(np.ones(20), rel=1e-4)
    assert np.abs(forces[5, :, 1]) == pytest.approx(lever, rel=1e-4)
    assert np.abs(forces[4, :, 2]) == pytest.approx(lever, rel=1e-4)
    assert np.abs(forces[3, :, 3]) == pytest.approx(np.ones(20), rel=1e-4)


def test_a_free_beam_has_six_motions_without_strain_and_its_own_mass() -> None:
    chain, _ = bar(TipBody(3e-5, np.eye(3) * 1e-3, np.array([0.0, 2.0, 5.0])))
    stiffness = np.linalg.eigvalsh(chain.k)
    assert np.abs(stiffness[:6]).max() < 1e-6 * stiffness[-1]
    assert stiffness[6] > 1e3 * np.abs(stiffness[:6]).max()
    up = np.zeros(len(chain.m))
    up[2::6] = 1.0
    assert up @ chain.m @ up == pytest.approx(1.2e-9 * 80 * 100 + 3e-5)


def test_modes_are_mass_normalised_and_ordered() -> None:
    chain, k = bar()
    freqs, shapes = held_modes(k, chain.m, 5)
    assert (np.diff(freqs) >= 0).all()
    assert shapes.T @ chain.m @ shapes == pytest.approx(np.eye(5), abs=1e-6)
    assert name_mode(shapes[:, 0]) == "vertical bending"
    assert name_mode(shapes[:, 1]) == "in-plane bending"


@given(st.floats(1e-6, 5e-4))
def test_a_heavier_motor_lowers_every_mode(mass: float) -> None:
    (light, k), (heavy, _) = (bar(TipBody(f * mass, np.zeros((3, 3)), np.zeros(3))) for f in (1.0, 1.5))
    assert (held_modes(k, heavy.m, 4)[0] <= held_modes(k, light.m, 4)[0] * (1 + 1e-9)).all()


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


def test_a_mode_meets_every_order_and_says_where() -> None:
    found = meetings([ModeBand("arm", "vertical bending", 90.0, 100.0, 110.0)], orders(2), 1000.0, 12000.0, (95.0, 130.0))
    by = {m.order.name: m for m in found}
    assert by["1/rev"].where == "working"
    assert by["1/rev"].rpm == pytest.approx(6000.0)
    assert by["blade pass"].where == "below"
    assert by["blade pass"].rpm == pytest.approx(3000.0)
    # blade pass shakes 190..260 Hz: the mode is at best 90 and at worst 110
    assert by["blade pass"].clear_low_pct == pytest.approx(100 * (1 - 110 / 190))
    assert found[0].order.name == "1/rev"
    beyond = meetings([ModeBand("arm", "torsion", 880.0, 900.0, 930.0)], orders(2), 1000.0, 12000.0, (95.0, 130.0))
    assert not any(m.reached for m in beyond)


@given(st.floats(20, 600), st.integers(2, 5), st.floats(1.0, 1.4))
def test_clearance_is_what_a_mode_would_have_to_move(freq: float, blades: int, spread: float) -> None:
    found = meetings([ModeBand("m", "x", freq / spread, freq, freq * spread)], orders(blades), 900.0, 20000.0, (70.0, 130.0))
    assert found[0].clear_pct == min(m.clear_pct for m in found)
    for m in found:
        low, high = 70.0 * m.order.per_rev, 130.0 * m.order.per_rev
        assert m.clear_low_pct <= m.clear_pct <= m.clear_high_pct
        assert m.rpm / 60 * m.order.per_rev == pytest.approx(freq)
        spans = freq / spread < high and freq * spread > low
        assert (m.where == "working") == spans
        assert (m.clear_low_pct < 0) == spans
        if freq > high:
            assert clear_pct(freq / (1 + m.clear_pct / 100), (low, high)) == pytest.approx(0.0, abs=1e-9)
    governs = clearance(tuple(found))
    assert governs is not None
    assert governs[1] is found[0]
    assert clearance(()) is None


@given(st.floats(50, 3000), st.floats(10, 500), st.floats(5, 2000), st.floats(1, 400), st.floats(0.0, 0.6))
def test_ground_that_springs_back_never_eases_the_blow(body: float, tips: float, contact: float, arms: float, back: float) -> None:
    dead, lively = drop_peaks(body, tips, contact, arms), drop_peaks(body, tips, contact, arms, back)
    assert lively.contact_n >= dead.contact_n * (1 - 1e-3)


@given(
    st.lists(st.tuples(st.floats(50, 3000), st.floats(10, 500), st.floats(5, 2000), st.floats(1, 400)), min_size=1, max_size=4),
    st.floats(0, 1),
)
def test_drops_worked_together_are_each_as_if_alone(drops: list[tuple[float, float, float, float]], back: float) -> None:
    columns = np.array(drops).T
    together = many_drops(columns[0], columns[1], columns[2], columns[3], back)
    for one, drop in zip(together, drops, strict=True):
        alone = drop_peaks(*drop, back)
        assert one.contact_n == pytest.approx(alone.contact_n, rel=1e-9)
        assert one.tips_n == pytest.approx(alone.tips_n, rel=1e-6)
