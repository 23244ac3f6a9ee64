"""Stations, places and the sharing of thrust, against shares worked out by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.flight.allocation import AXES, allocate, authority_nmm, mixing, thrust_centre_mm
from fravik.kinds import places
from fravik.kinds.around import stations
from fravik.model.paths import set_at
from fravik.shape.stations import Station

AT_CENTRE = np.zeros(3)
TORQUE_MM = 12.0


def ring(count: int, radius_mm: float = 200.0, first_deg: float = 30.0, levels: int = 1) -> tuple[Station, ...]:
    """Rotors round a circle, turning in turn; with two levels each has one above it that turns against it."""
    out = []
    for k in range(count):
        a = math.radians(first_deg + 360.0 * k / count)
        for level in range(levels):
            spin = (-1) ** (k if levels == 1 else level)
            out.append(Station(f"s{k}_{level}", radius_mm * math.cos(a), radius_mm * math.sin(a), 40.0 * level, a, spin))
    return tuple(out)


def test_a_quad_with_its_mass_in_the_middle_shares_evenly() -> None:
    got = allocate(mixing(stations(tern()), AT_CENTRE, TORQUE_MM), 10.0, 0.5)
    assert got.hover_n == pytest.approx([2.5] * 4)
    # the torque of a propeller is against its turn: those that turn clockwise push the nose to the left
    clockwise = np.array([s.spin < 0 for s in stations(tern())])
    assert got.hard_yaw_n == pytest.approx(np.where(clockwise, 3.75, 1.25))
    assert got.short == ()


def test_six_rotors_with_the_mass_off_the_middle() -> None:
    six, weight, off = ring(6), 30.0, 18.0
    got = allocate(mixing(six, np.array([off, 0.0, 0.0]), TORQUE_MM), weight, 0.0)
    # by hand: rows of thrust, roll, pitch and yaw are square to one another, so t = W / 6 + W d x / sum of x^2
    x = np.array([s.x_mm for s in six])
    assert got.hover_n == pytest.approx(weight / 6 + weight * off * x / (x**2).sum())
    assert float(got.hover_n @ x) / weight == pytest.approx(off)


def test_three_coaxial_pairs_share_evenly_within_each_pair() -> None:
    pairs, weight = ring(3, first_deg=60.0, levels=2), 24.0
    got = allocate(mixing(pairs, np.array([0.0, 10.0, 0.0]), TORQUE_MM), weight, 0.4)
    upper, lower = got.hover_n[0::2], got.hover_n[1::2]
    assert upper == pytest.approx(lower)
    y = np.array([s.y_mm for s in pairs])
    assert got.hover_n == pytest.approx(weight / 6 + weight * 10.0 * y / (y**2).sum())
    # a pure yaw moves thrust from one rotor of each pair to the other and leaves the pairs as they were
    assert got.hard_yaw_n[0::2] + got.hard_yaw_n[1::2] == pytest.approx(upper + lower)
    assert np.abs(got.hard_yaw_n - got.hover_n) == pytest.approx(0.4 * weight / 6)


def test_what_a_craft_cannot_hold_is_said() -> None:
    assert allocate(mixing(ring(3, first_deg=0.0), AT_CENTRE, TORQUE_MM), 9.0, 0.5).short  # three fixed rotors of odd turn
    two = (Station("left", 0.0, 150.0, 0.0, math.pi / 2, 1), Station("right", 0.0, -150.0, 0.0, -math.pi / 2, -1))
    assert "pitch" in allocate(mixing(two, np.array([5.0, 0.0, 0.0]), TORQUE_MM), 9.0, 0.0).short
    assert allocate(mixing(ring(6), AT_CENTRE, TORQUE_MM), 9.0, 0.5).short == ()


@pytest.mark.parametrize("full", [4.0, 9.0])
def test_authority_of_a_quad_by_hand(full: float) -> None:
    every, weight = stations(tern()), 10.0
    got = authority_nmm(mixing(every, AT_CENTRE, TORQUE_MM), weight, full)
    spare = min(weight / 4, full - weight / 4)  # a rotor gives up to all of its own, or takes up to what is left
    lever = abs(every[0].y_mm)
    assert got["roll"] == pytest.approx(4 * spare * lever)
    assert got["pitch"] == pytest.approx(4 * spare * lever)
    assert got["yaw"] == pytest.approx(4 * spare * TORQUE_MM)


def test_a_craft_that_cannot_hover_has_no_authority() -> None:
    assert authority_nmm(mixing(ring(4), AT_CENTRE, TORQUE_MM), 100.0, 5.0) == dict.fromkeys(AXES, 0.0)


@given(st.floats(-40, 40), st.floats(-40, 40), st.integers(2, 4), st.floats(0, 360))
def test_shares_balance_wherever_the_mass_is_and_turn_with_the_craft(x: float, y: float, half: int, turn: float) -> None:
    weight = 20.0
    com = np.array([x, y, 0.0])
    mix = mixing(ring(2 * half), com, TORQUE_MM)
    got = allocate(mix, weight, 0.0)
    assert mix @ got.hover_n == pytest.approx([weight, 0.0, 0.0, 0.0], abs=1e-9 * weight * 200)
    a = math.radians(turn)
    turned = np.array([x * math.cos(a) - y * math.sin(a), x * math.sin(a) + y * math.cos(a), 0.0])
    again = allocate(mixing(ring(2 * half, first_deg=30.0 + turn), turned, TORQUE_MM), weight, 0.0)
    assert again.hover_n == pytest.approx(got.hover_n, abs=1e-9 * weight * 200)


def test_every_copy_has_a_place_of_its_own_that_follows_a_station() -> None:
    project = tern()
    found = places(project)
    assert len(found) == sum(p.count for p in project.parts)
    assert len({p.id for p in found}) == len(found)
    known = {s.id: s for s in stations(project)}
    arms = [p for p in found if p.part_id == "arm"]
    assert {p.follows for p in arms} == set(known)
    arm = project.part("arm").shape
    assert arm.kind == "arm"
    for place in arms:
        station = known[place.follows or ""]
        length = station.radius_mm - project.layout.clamp_radius_mm
        tip = place.pose @ np.array([length, 0.0, arm.tip_height_mm, 1.0])
        assert tip[:3] == pytest.approx(station.at_mm)


def test_the_middle_of_thrust_is_where_even_thrusts_push() -> None:
    assert thrust_centre_mm(stations(tern())) == pytest.approx([0.0, 0.0], abs=1e-9)
    wide = set_at(tern(), "layout.motor_to_motor_mm", 500.0)
    assert stations(wide)[0].radius_mm > stations(tern())[0].radius_mm
