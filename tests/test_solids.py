"""Orthotropic solids, bricks and chains of beams in space: turning, symmetry and rigid motion."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.structure.beams import TipBody
from fravik.structure.frame import Chain, add_body, add_spring, assemble_chain, held_modes, respond, rigid_arm
from fravik.structure.orthotropy import (
    Orthotropic,
    constants_of,
    isotropic,
    modulus_along,
    stress_turn,
    turned_compliance,
    turned_stiffness,
)
from fravik.structure.section import SectionLine
from fravik.structure.solid import CORNERS, brick_stiffness, centre_strain

ROADS = Orthotropic(2000.0, 1600.0, 1300.0, 480.0, 500.0, 640.0, 0.36, 0.33, 0.3)
HOLD = np.diag([1e9] * 3 + [1e12] * 3)


def turn_about(axis: int, degrees: float) -> np.ndarray:
    a, out = math.radians(degrees), np.eye(3)
    i, j = [(1, 2), (2, 0), (0, 1)][axis]
    out[i, i] = out[j, j] = math.cos(a)
    out[i, j], out[j, i] = math.sin(a), -math.sin(a)
    return out


def chain(nodes: np.ndarray, frames: np.ndarray | None = None, **changes: float) -> Chain:
    """A chain of an even 10 x 8 section of an even plastic; ``changes`` replace section constants."""
    n = len(nodes) - 1
    e, g, a, up, side, rho = 2000.0, 700.0, 80.0, 10 * 8**3 / 12, 8 * 10**3 / 12, 1.2e-9
    values = {
        "positions_mm": 0.0, "ea_n": e * a, "ei_up_nmm2": e * up, "ei_side_nmm2": e * side, "ei_cross_nmm2": 0.0,
        "gj_nmm2": g * (up + side),
        "ga_up_n": g * a, "ga_side_n": g * a, "y_c_mm": 0.0, "z_c_mm": 0.0, "y_s_mm": 0.0, "z_s_mm": 0.0, "mass_per_mm_t": rho * a,
        "polar_t_mm": rho * (up + side), "core_share": 0.0, "give_up": 1.0, "give_side": 1.0,
    } | changes  # fmt: skip
    if frames is None:
        frames = np.broadcast_to(np.eye(3), (n, 3, 3))
    return Chain(nodes, frames, SectionLine(**{k: np.full(n, v) for k, v in values.items()}))


def straight(n: int = 12, length: float = 100.0) -> np.ndarray:
    out = np.zeros((n + 1, 3))
    out[:, 0] = np.linspace(0, length, n + 1)
    return out


def tip_answers(c: Chain, held: int = 0) -> np.ndarray:
    a = assemble_chain(c)
    k = a.k.copy()
    add_spring(k, held, HOLD, np.zeros(3))
    loads = np.zeros((len(k), 6))
    loads[-6:] = np.eye(6)
    return respond(a, k, loads).u[-6:]


@given(st.floats(-180, 180), st.floats(-180, 180), st.floats(-180, 180))
def test_turning_there_and_back_changes_nothing(a: float, b: float, c: float) -> None:
    turn = turn_about(0, a) @ turn_about(1, b) @ turn_about(2, c)
    stiff = np.linalg.inv(ROADS.compliance())
    assert turned_stiffness(turned_stiffness(stiff, turn), turn.T) == pytest.approx(stiff, rel=1e-6, abs=1e-6)
    assert np.linalg.inv(turned_stiffness(stiff, turn)) == pytest.approx(turned_compliance(ROADS.compliance(), turn), rel=1e-6, abs=1e-12)


def test_stress_turns_as_a_tensor() -> None:
    stress = np.array([3.0, -2.0, 5.0, 1.5, -0.7, 2.2])
    full = np.array([[3.0, 2.2, -0.7], [2.2, -2.0, 1.5], [-0.7, 1.5, 5.0]])
    turn = turn_about(0, 25.0) @ turn_about(2, -40.0)
    moved = turn @ full @ turn.T
    pairs = [(0, 0), (1, 1), (2, 2), (1, 2), (0, 2), (0, 1)]
    assert stress_turn(turn) @ stress == pytest.approx([moved[p] for p in pairs])


def test_constants_come_back_out_of_their_compliance() -> None:
    got = constants_of(ROADS.compliance())
    for name in Orthotropic.__dataclass_fields__:
        assert getattr(got, name) == pytest.approx(getattr(ROADS, name))


@given(st.floats(0, 90))
def test_an_even_plastic_has_one_modulus(angle: float) -> None:
    a = math.radians(angle)
    assert modulus_along(isotropic(2000.0, 0.36), np.array([math.cos(a), 0.0, math.sin(a)])) == pytest.approx(2000.0)
    lean = modulus_along(ROADS, np.array([math.cos(a), 0.0, math.sin(a)]))
    assert 0.4 * ROADS.e3_mpa < lean <= ROADS.e1_mpa * (1 + 1e-9)


def test_a_brick_has_six_rigid_motions_and_bends_exactly() -> None:
    size = np.array([3.0, 2.0, 1.5])
    c = np.linalg.inv(ROADS.compliance())
    k = brick_stiffness(c, size)
    assert k == pytest.approx(k.T, abs=1e-6)
    values = np.linalg.eigvalsh(k)
    assert (np.abs(values[:6]) < 1e-6 * values[-1]).all()
    assert values[6] > 1e-4 * values[-1]
    # an even strain: the brick's forces do the work of that strain over its volume
    strain = np.array([1e-3, -4e-4, 2e-4, 3e-4, -2e-4, 5e-4])
    grad = np.array([[strain[0], strain[5] / 2, strain[4] / 2], [strain[5] / 2, strain[1], strain[3] / 2],
                     [strain[4] / 2, strain[3] / 2, strain[2]]])  # fmt: skip
    u = (CORNERS * size @ grad.T).ravel()
    assert u @ k @ u == pytest.approx(strain @ c @ strain * size.prod(), rel=1e-9)
    assert centre_strain(size) @ u == pytest.approx(strain, abs=1e-12)


@given(st.floats(-180, 180), st.floats(-80, 80))
def test_a_chain_turned_in_space_answers_turned(yaw: float, pitch: float) -> None:
    turn = turn_about(1, pitch) @ turn_about(2, yaw)
    nodes = straight()
    here = tip_answers(chain(nodes))
    frames = np.broadcast_to(turn, (12, 3, 3))
    there = tip_answers(chain(nodes @ turn, frames))
    six = np.kron(np.eye(2), turn)
    assert six @ there @ six.T == pytest.approx(here, rel=1e-5, abs=1e-12)


def test_a_bent_chain_gives_what_castigliano_says() -> None:
    # a quarter ring, held at one end and pulled at the other along its radius at the held end
    r, n = 80.0, 40
    angle = np.linspace(0, math.pi / 2, n + 1)
    nodes = np.stack([r * np.cos(angle), r * np.sin(angle), np.zeros(n + 1)], axis=1)
    along = np.diff(nodes, axis=0)
    along /= np.linalg.norm(along, axis=1)[:, None]
    up = np.broadcast_to([0.0, 0.0, 1.0], along.shape)
    frames = np.stack([along, np.cross(up, along), up], axis=1)
    c = chain(nodes, frames)
    got = tip_answers(c)[0, 0]
    ei, ea, ga = (float(getattr(c.section, k)[0]) for k in ("ei_side_nmm2", "ea_n", "ga_side_n"))
    # M = F r (1 - sin), N = F sin, V = F cos over the quarter
    expected = r**3 / ei * (3 * math.pi / 4 - 2) + r * math.pi / 4 / ea + r * math.pi / 4 / ga
    assert got == pytest.approx(expected, rel=0.01)


def test_an_eccentric_section_couples_pull_and_bending() -> None:
    off = tip_answers(chain(straight(), z_c_mm=4.0, z_s_mm=4.0))
    middle = tip_answers(chain(straight()))
    ei = float(chain(straight()).section.ei_up_nmm2[0])
    # a pull on the reference line 4 mm under the middle lifts the tip by M L^2 / 2 EI
    assert abs(off[2, 0]) == pytest.approx(4.0 * 100.0**2 / (2 * ei), rel=1e-4)
    assert middle[2, 0] == pytest.approx(0.0, abs=1e-12)
    assert off == pytest.approx(off.T, rel=1e-6, abs=1e-12)


def test_a_load_beside_the_shear_centre_twists() -> None:
    answers = tip_answers(chain(straight(), y_s_mm=6.0))
    gj = float(chain(straight()).section.gj_nmm2[0])
    assert abs(answers[3, 2]) == pytest.approx(6.0 * 100.0 / gj, rel=1e-3)


def test_principal_axes_turn_with_their_section() -> None:
    # the same section, given by its principal stiffnesses turned 30 degrees about its own axis
    base = chain(straight())
    up, side = float(base.section.ei_up_nmm2[0]), float(base.section.ei_side_nmm2[0])
    a = math.radians(30.0)
    c, s = math.cos(a), math.sin(a)
    leaning = chain(straight(), ei_up_nmm2=up * c * c + side * s * s, ei_side_nmm2=side * c * c + up * s * s,
                    ei_cross_nmm2=(side - up) * s * c)  # fmt: skip
    turned = chain(straight(), np.broadcast_to(turn_about(0, 30.0), (12, 3, 3)))
    other = chain(straight(), np.broadcast_to(turn_about(0, -30.0), (12, 3, 3)))
    got = tip_answers(leaning)
    assert any(got == pytest.approx(tip_answers(t), rel=1e-6, abs=1e-12) for t in (turned, other))


@given(st.floats(-30, 30), st.floats(-30, 30), st.floats(-30, 30))
def test_a_rigid_arm_moves_as_a_rigid_body(x: float, y: float, z: float) -> None:
    moved = rigid_arm(np.array([x, y, z])) @ np.array([1.0, 2.0, 3.0, 1e-3, -2e-3, 3e-3])
    turn = np.array([1e-3, -2e-3, 3e-3])
    assert moved[:3] == pytest.approx(np.array([1.0, 2.0, 3.0]) + np.cross(turn, [x, y, z]), abs=1e-12)
    assert moved[3:] == pytest.approx(turn)


def test_a_point_mass_on_a_light_chain_rings_as_a_spring() -> None:
    c = chain(straight(), mass_per_mm_t=1e-16, polar_t_mm=1e-16)
    a = assemble_chain(c)
    k, m = a.k.copy(), a.m.copy()
    add_spring(k, 0, HOLD, np.zeros(3))
    add_body(m, 12, TipBody(40e-6, np.zeros((3, 3)), np.zeros(3)))
    freqs, shapes = held_modes(k, m, 2)
    flex = tip_answers(c)
    for f, d in zip(freqs, sorted((flex[2, 2], flex[1, 1]), reverse=True), strict=True):
        assert f == pytest.approx(math.sqrt(1 / (d * 40e-6)) / (2 * math.pi), rel=1e-4)
    assert abs(shapes[-4, 0]) > 100 * abs(shapes[-5, 0])
