"""Rib layouts against closed forms and sense."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.library import filament
from fravik.model.shell import ShellPanel
from fravik.structure.shell import RibSet, advice, compare_shells, layouts, weigh_shell

PLA = filament("pla")
spans = st.floats(60, 500)
widths = st.floats(40, 300)


def test_bare_skin_by_hand() -> None:
    panel = ShellPanel(span_mm=100, width_mm=40, skin_lines=2, line_width_mm=0.5, pressure_pa=1000)
    a = weigh_shell(panel, (), PLA)
    assert a.ei_nmm2 == pytest.approx(PLA.e_layer_mpa.typical * 40 / 12)
    assert a.grams == pytest.approx(100 * 40 * 1.0 * 1.24e-3)
    d = PLA.e_road_mpa.typical / (12 * (1 - PLA.poisson**2))
    assert a.flex_mm == pytest.approx(1e-3 * 40**4 / (384 * d))
    assert a.sag_mm == pytest.approx(5 * 1e-3 * 40 * 100**4 / (384 * a.ei_nmm2))
    assert a.pitch_mm == 40
    assert a.lifts_per_layer == 0


def test_one_rib_by_parallel_axes() -> None:
    panel = ShellPanel(width_mm=30, skin_lines=1, line_width_mm=0.5)
    a = weigh_shell(panel, (RibSet(1, 2, 10.0),), PLA)
    middle = (15 * 0.25 + 10 * 5.5) / 25
    second = 30 * 0.5**3 / 12 + 15 * (0.25 - middle) ** 2 + 1000 / 12 + 10 * (5.5 - middle) ** 2
    assert a.ei_nmm2 == pytest.approx(PLA.e_layer_mpa.typical * second)


@given(spans, widths, st.integers(1, 3), st.floats(0.1, 2.0))
def test_layouts_spend_the_same_and_rank_as_expected(span: float, width: float, lines: int, share: float) -> None:
    panel = ShellPanel(span_mm=span, width_mm=width, skin_lines=lines, rib_share=share)
    bare, many, few, mixed = compare_shells(panel, PLA)
    assert many.grams == pytest.approx(few.grams) == pytest.approx(mixed.grams)
    assert many.grams == pytest.approx(bare.grams * (1 + share))
    assert many.flex_mm < few.flex_mm < bare.flex_mm
    assert few.sag_mm < mixed.sag_mm
    assert all(a.sag_mm < bare.sag_mm for a in (many, few, mixed))
    assert "Smoothest skin" in advice((bare, many, few, mixed))


@given(spans, widths, st.floats(10, 5000))
def test_more_load_less_reserve_and_more_flex(span: float, width: float, pressure: float) -> None:
    low, high = (ShellPanel(span_mm=span, width_mm=width, pressure_pa=p) for p in (pressure, 1.5 * pressure))
    for a, b in zip(compare_shells(low, PLA), compare_shells(high, PLA), strict=True):
        assert b.flex_mm == pytest.approx(1.5 * a.flex_mm)
        assert b.reserve == pytest.approx(a.reserve / 1.5)


def test_deep_thin_ribs_buckle_first() -> None:
    panel = ShellPanel(span_mm=120, width_mm=90)
    slender = weigh_shell(panel, (RibSet(2, 1, 30.0),), PLA)
    assert slender.kind == "ribs buckle"
    expected = 0.43 * math.pi**2 / (12 * (1 - PLA.poisson**2)) * (0.45 / 30) ** 2
    stress = panel.pressure_pa * 1e-6 * 90 * 120**2 / 8
    a = 90 * 0.45, 2 * 0.45 * 30
    middle = (a[0] * 0.225 + a[1] * 15.45) / sum(a)
    assert slender.reserve == pytest.approx(expected * slender.ei_nmm2 / (stress * (30.45 - middle)))


def test_layouts_of_a_narrow_panel() -> None:
    found = layouts(ShellPanel(width_mm=16.0))
    assert any(found.values())
    for ribs in found.values():
        assert all(r.count >= 1 and r.depth_mm > 0 for r in ribs)
