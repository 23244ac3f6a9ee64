"""Stress over strength at points: against stress turned into each zone's axes and rated there by the rules as they are written."""

from __future__ import annotations

import numpy as np
import pytest

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.structure.failure import BUCKLE, CROSS, CRUSH, ROAD, SLIDE, SPLIT, TOGETHER
from fravik.structure.indices import PLASTIC_KINDS, worst_indices, zone_indices
from fravik.structure.printed import CORE, COVER, WALL
from fravik.structure.reserves import limits_of
from fravik.structure.stressbasis import StressBasis


@pytest.fixture(scope="module")
def basis() -> StressBasis:
    """The arm of the demo at its typical material."""
    found = []
    from fravik.engine import members

    known = members.unit_indices

    def keep(basis: StressBasis, way: np.ndarray) -> object:
        found.append(basis)
        return known(basis, way)

    members.unit_indices = keep
    try:
        Engine().evaluate(tern())
    finally:
        members.unit_indices = known
    return max(found, key=lambda b: len(b.member.positions_mm))


def by_hand(basis: StressBasis, zone: int, s: int, acting: np.ndarray) -> np.ndarray:
    """(6,) indices of one point under xx, xv, xr."""
    m, out = basis.answer.material, np.zeros(PLASTIC_KINDS)
    st = m.strengths
    turn = np.broadcast_to(m.to_zone, (3, len(basis.layer), 6, 3))[zone, s]
    xx, yy, zz, yz, xz, xy = (float(v) for v in turn @ acting)
    if zone == CORE:
        out[CRUSH] = np.linalg.norm(np.array([xx, yy, zz, yz, xz, xy]) / st.core_mpa)
        return out
    plies = [(xx, yy, xy)] if zone == WALL else [tuple(p @ np.array([xx, yy, xy])) for p in m.to_ply]
    out[ROAD] = max(abs(along) / st.road_mpa for along, _, _ in plies)
    out[CROSS] = max(np.hypot(across / st.cross_mpa, shear / st.plane_shear_mpa) for _, across, shear in plies)
    lift = max(zz, 0.0) * basis.layer[s] / st.layer_mpa
    slide = np.hypot(yz, xz) * basis.layer[s] / st.layer_shear_mpa
    out[SPLIT if lift >= slide else SLIDE] = np.hypot(lift, slide)
    out[BUCKLE] = max(-acting[0], 0.0) / basis.buckling_mpa[zone]
    return out


@pytest.fixture(scope="module")
def stress(basis: StressBasis) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Stress of all sorts at some points in some cases."""
    drawn = (
        np.random.default_rng(3).normal(size=(3, 3, len(basis.member.positions_mm), 7, 4))
        * np.array([30.0, 8.0, 8.0])[:, None, None, None, None]
    )
    return drawn[0], drawn[1], drawn[2]


def test_every_point_by_the_rules(basis: StressBasis, stress: tuple[np.ndarray, np.ndarray, np.ndarray]) -> None:
    every = zone_indices(limits_of(basis), stress)
    for zone in (WALL, COVER, CORE):
        for s in (0, 5, every.shape[2] - 1):
            for p in range(every.shape[3]):
                acting = np.array([x[zone, s, p, 1] for x in stress])
                assert every[:, zone, s, p, 1] == pytest.approx(by_hand(basis, zone, s, acting), rel=1e-9, abs=1e-12)


def test_one_position_alone_is_rated_alike(basis: StressBasis, stress: tuple[np.ndarray, np.ndarray, np.ndarray]) -> None:
    one = zone_indices(limits_of(basis).at(4), tuple(x[:, 4:5] for x in stress))
    assert one[:, :, 0] == pytest.approx(zone_indices(limits_of(basis), stress)[:, :, 4])


def test_the_worst_point_counts(basis: StressBasis, stress: tuple[np.ndarray, np.ndarray, np.ndarray]) -> None:
    every = zone_indices(limits_of(basis), stress)
    index, squares = worst_indices(limits_of(basis), stress)
    assert index == pytest.approx(every.max(axis=(1, 3)))
    # two strengths act together: their parts add up to the whole
    assert squares.sum(axis=0) == pytest.approx(index[list(TOGETHER)] ** 2, rel=1e-9, abs=1e-12)
    assert squares.min() >= 0.0


def test_without_stress_nothing_is_used(basis: StressBasis, stress: tuple[np.ndarray, np.ndarray, np.ndarray]) -> None:
    index, squares = worst_indices(limits_of(basis), tuple(0 * x for x in stress))
    assert not index.any()
    assert not squares.any()
