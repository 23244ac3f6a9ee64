"""Sharing of thrust over rotors against shares solved by hand, and authority against levers counted by hand."""

from __future__ import annotations

import math

import numpy as np

from fravik.flight.allocation import allocate, authority_nmm, mixing
from fravik.shape.stations import Station

from .check import Check

RADIUS_MM, TORQUE_MM, WEIGHT_N = 250.0, 14.0, 36.0


def ring(degrees: tuple[float, ...], spins: tuple[int, ...]) -> tuple[Station, ...]:
    """Stations on a circle, at angles from straight ahead."""
    return tuple(
        Station(f"s{k}", RADIUS_MM * math.cos(math.radians(d)), RADIUS_MM * math.sin(math.radians(d)), 0.0, math.radians(d), spin)
        for k, (d, spin) in enumerate(zip(degrees, spins, strict=True))
    )


def _shares() -> list[Check]:
    off = 15.0
    # six in a circle, one straight ahead, the mass 15 mm ahead of the middle: sum x = 0 and sum x^2 = 3 R^2, so that the front one
    # carries W/6 + W d R / (3 R^2)
    plus = ring((0, 60, 120, 180, 240, 300), (1, -1, 1, -1, 1, -1))
    got = allocate(mixing(plus, np.array([off, 0.0, 0.0]), TORQUE_MM), WEIGHT_N, 0.0)
    front = WEIGHT_N / 6 + WEIGHT_N * off / (3 * RADIUS_MM)
    # three coaxial pairs at 60, 180 and 300 degrees: the rear pair sees x = -R, the front pairs R / 2, sum over six x^2 = 3 R^2
    pairs = ring((60, 60, 180, 180, 300, 300), (1, -1, 1, -1, 1, -1))
    y6 = allocate(mixing(pairs, np.array([off, 0.0, 0.0]), TORQUE_MM), WEIGHT_N, 0.3)
    rear = WEIGHT_N / 6 - WEIGHT_N * off / (3 * RADIUS_MM)
    return [
        Check("hover thrust of a hexa's front rotor, mass ahead", "by hand, N", front, float(got.hover_n[0]), 1e-9),
        Check("hover thrust of a Y6's rear rotors, mass ahead", "by hand, N", rear, float(y6.hover_n[2]), 1e-9),
        Check(
            "hard yaw of a Y6: thrust moved in each pair", "by hand, N", 0.3 * WEIGHT_N / 6, float(y6.hover_n[2] - y6.hard_yaw_n[2]), 1e-9
        ),
    ]


def _authority() -> list[Check]:
    # six at 30, 90, ... degrees turning in turn, each at half of what it can give
    six = ring((30, 90, 150, 210, 270, 330), (1, -1, 1, -1, 1, -1))
    each = WEIGHT_N / 6
    got = authority_nmm(mixing(six, np.zeros(3), TORQUE_MM), WEIGHT_N, 2 * each)
    # yaw: three up to double, three down to nothing
    return [Check("yaw authority of a hexa with half its thrust to spare", "by hand, N mm", 6 * each * TORQUE_MM, got["yaw"], 1e-9)]


GROUPS = (_shares, _authority)
