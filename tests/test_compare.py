"""Ways to make a part side by side: orientations, plastics, support need; and the ruler, the probe and the why line."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold

from fravik.demo import tern
from fravik.engine.compare import axes_of, orientations, plastics, sag_text, weigh_choice
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.ruler import WORST, governing_at, picture_at, probe_at, reserves_of, ruler_of, speed_factor, stiffness_text
from fravik.engine.why import case_words, governing_raiser, nominal_mix, why
from fravik.kinds import kind_of
from fravik.library import filaments
from fravik.model.paths import set_many
from fravik.model.recipe import LIES_LABELS, Recipe
from fravik.printing.orientation import print_from_part
from fravik.printing.overhang import support_need
from fravik.shape.build import mesh_of
from fravik.structure.loadcases import CRASH_CASES
from fravik.structure.notches import Raiser, cure_radius_mm
from fravik.structure.raisers import shoulder_flatwise

SHARED = Engine()
BASE = tern()


def run(edits: dict[str, Any]) -> Evaluation:
    return SHARED.evaluate(set_many(BASE, tuple(edits.items())))


@pytest.mark.parametrize("part", ["arm", "leg", "guard", "mount", "bottom"])
def test_every_part_has_orientations_and_two_axes(part: str) -> None:
    ways = orientations(BASE, part)
    assert {n for n, _ in ways} >= set(LIES_LABELS.values()) - {"Turned freely"}
    axes = axes_of(BASE, part)
    assert "survived" in axes.crash
    assert axes.flex != axes.crash
    first = weigh_choice(SHARED, BASE, part, *ways[0])
    assert first.refused == ""
    assert first.minutes > 0
    assert first.flex_low <= first.flex <= first.flex_high
    assert first.crash_low <= first.crash <= first.crash_high


def test_orientations_differ_for_the_reasons_they_should() -> None:
    made = {name: weigh_choice(SHARED, BASE, "arm", name, edits) for name, edits in orientations(BASE, "arm")}
    flat, end = made["Flat, as drawn"], made["Standing, root down"]
    assert end.reserve < flat.reserve
    assert end.kind in ("layer split", "layer shear")
    assert end.height_mm > 5 * flat.height_mm
    assert end.minutes > flat.minutes
    assert flat.support_cm3 < 0.2 < made["Flat, face down"].support_cm3
    side = made["On its right side"]
    assert side.reserve == pytest.approx(made["On its left side"].reserve, rel=0.03)


def test_plastics_answer_with_this_parts_own_figures() -> None:
    ways = dict(plastics(BASE, "arm"))
    assert len(ways) == len(filaments())
    tough, stiff = (weigh_choice(SHARED, BASE, "arm", filaments()[k].name, ways[filaments()[k].name]) for k in ("petg", "pla"))
    assert stiff.flex > tough.flex
    assert tough.crash > stiff.crash
    direct = run({"parts.arm.recipe.filament": "pla"})
    assert stiff.flex == pytest.approx(float(direct.members["arm"].answers["typical"].freqs_hz[0]))
    assert stiff.grams == pytest.approx(direct.parts["arm"].grams)


def test_a_way_that_cannot_be_built_says_why() -> None:
    refused = weigh_choice(SHARED, BASE, "arm", "Gone", (("parts.arm.recipe.walls", 900),))
    assert "40" in refused.refused
    refused = weigh_choice(SHARED, BASE, "arm", "Thin", (("parts.arm.shape.root_width_mm", 4.0), ("parts.arm.shape.tip_width_mm", 80.0)))
    assert refused.refused != ""
    assert refused.reserve == 0.0


@given(st.floats(5.0, 40.0), st.floats(5.0, 30.0))
def test_a_box_wants_no_support_and_a_table_wants_its_underside(height: float, size: float) -> None:
    box = mesh_of(Manifold.cube((size, size, height)))
    need = support_need(box, np.eye(3))
    assert need.columns_cm3 == 0.0
    assert need.contact_cm2 == pytest.approx(size * size / 100)
    table = Manifold.cube((3 * size, size, 2.0)).translate((-size, 0.0, height)) + Manifold.cube((size, size, height))
    need = support_need(mesh_of(table), np.eye(3))
    assert need.columns_cm3 == pytest.approx(2 * size * size * height / 1000, rel=1e-6)
    over = support_need(mesh_of(table), print_from_part(Recipe(lies="flat_over")))
    assert over.columns_cm3 == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize(("lean", "held"), [(30.0, False), (60.0, True)])
def test_faces_hang_beyond_half_a_right_angle(lean: float, held: bool) -> None:
    a = math.radians(lean)
    prism = Manifold.hull_points([(0.0, 0.0, 0.0), (10.0, 0.0, 0.0), (10.0, 10.0, 0.0), (0.0, 10.0, 0.0),
                                  (20 * math.tan(a), 0.0, 20.0), (20 * math.tan(a) + 10, 0.0, 20.0),
                                  (20 * math.tan(a) + 10, 10.0, 20.0), (20 * math.tan(a), 10.0, 20.0)])  # fmt: skip
    assert (support_need(mesh_of(prism), np.eye(3)).columns_cm3 > 0) == held


@pytest.mark.parametrize("station", [1.0, 30.0, 80.0])
@pytest.mark.parametrize("case", ["full_throttle", "hard_landing", "arm_strike"])
def test_the_probe_agrees_with_the_ruler(result: Evaluation, station: float, case: str) -> None:
    probe = probe_at(result, "arm", case, station)
    assert probe is not None
    shown = reserves_of(result, "arm", case)
    assert shown is not None
    line = np.interp(station, result.members["arm"].member.positions_mm, shown.envelope())
    elastic = float(probe.reserve[probe.zone >= 0].min())
    # the ruler's crash figures count toughness; the probe shows stress against strength
    assert elastic <= line * 1.25
    assert elastic >= line / (2.2 if case in CRASH_CASES else 1.35)
    middle = probe.at(0.0, 6.0)
    assert middle is not None
    assert middle.zone == "core"
    assert probe.at(500.0, 0.0) is None
    top = probe.at(0.0, 11.4 if station < 5 else 9.8)
    assert top is not None
    assert abs(top.along_mpa) > abs(middle.along_mpa) or case == "arm_strike"


def test_the_probe_is_silent_where_there_is_nothing(result: Evaluation) -> None:
    assert probe_at(result, "bottom", "hover", 0.0) is None
    assert probe_at(result, "arm", "no such case", 10.0) is None
    assert probe_at(result, "nobody", "hover", 10.0) is None
    assert picture_at(result, "nobody", 10.0) is None
    assert ruler_of(result, "nobody") is None
    assert reserves_of(result, "nobody", WORST) is None
    assert governing_at(result, "nobody", WORST, 0.0) is None


def test_bending_is_pull_on_one_face_and_push_on_the_other(result: Evaluation) -> None:
    probe = probe_at(result, "arm", "full_throttle", 30.0)
    assert probe is not None
    low, high = probe.at(0.0, 0.3), probe.at(0.0, 11.0)
    assert low is not None
    assert high is not None
    assert low.along_mpa * high.along_mpa < 0
    left, right = probe.at(-8.0, 6.0), probe.at(8.0, 6.0)
    assert left is not None
    assert right is not None
    assert left.zone == right.zone


def test_the_governing_case_of_a_station_is_the_least(result: Evaluation) -> None:
    for station in (2.0, 50.0, 95.0):
        found = governing_at(result, "arm", WORST, station)
        assert found is not None
        name, _, reserve = found
        for case in result.members["arm"].cases["typical"]:
            one = governing_at(result, "arm", case, station)
            assert one is not None
            assert one[2] >= reserve - 1e-12
        assert governing_at(result, "arm", name, station) == found


def test_words_of_a_case(result: Evaluation) -> None:
    shown = reserves_of(result, "arm", "arm_strike")
    assert shown is not None
    assert case_words(result, shown) == "In an arm strike at 2.2 m/s"
    assert speed_factor(result, "arm_strike") == pytest.approx(1 / 2.2)
    calm = reserves_of(result, "arm", "hover")
    assert calm is not None
    assert case_words(result, calm) == "In hover"
    landing = reserves_of(result, "arm", "hard_landing")
    assert landing is not None
    assert case_words(result, landing) == "In a hard landing"
    ruler = ruler_of(result, "arm")
    assert ruler is not None
    assert "GJ" in stiffness_text(ruler, result, "arm", 20.0)
    assert "mm at full throttle" in sag_text(result, "arm")
    assert "pressed" in sag_text(result, "guard")
    assert sag_text(result, "bottom") == ""


def test_the_why_line_weighs_a_corner_by_its_load(result: Evaluation) -> None:
    arm = result.members["arm"]
    strike, throttle = (reserves_of(result, "arm", c) for c in ("arm_strike", "full_throttle"))
    assert strike is not None
    assert throttle is not None
    side, up = nominal_mix(arm, strike), nominal_mix(arm, throttle)
    assert side[2] > 10 * side[1]
    assert up[1] > 10 * up[2]
    raiser = governing_raiser(arm, strike)
    assert raiser is not None
    assert raiser.name.startswith("root fillet")
    assert raiser.under(*side) == pytest.approx(raiser.side, rel=0.03)
    assert raiser.under(*up) == pytest.approx(raiser.up, rel=0.03)
    assert "bends sideways" in why(result, "arm", strike)


@given(st.floats(0.3, 4.0), st.floats(0.5, 1.4))
def test_the_curing_radius_is_the_smallest_that_cures(radius: float, reserve: float) -> None:
    shape = BASE.part("arm").shape.model_copy(update={"root_fillet_mm": radius})
    kt = shoulder_flatwise(radius, shape.root_width_mm, shape.tongue_width_mm, shape.root_height_mm)  # type: ignore[union-attr]
    raiser = Raiser(0.0, radius, kt, kt, kt, f"root fillet {radius:g} mm", "root_fillet_mm", radius)

    def raisers_at(r: float) -> list[Raiser]:
        return kind_of(shape).raisers(shape.model_copy(update={"root_fillet_mm": r}), 110.0, 1.0)

    found = cure_radius_mm(raisers_at, raiser, reserve, 1.5, (0.0, 1.0, 0.0))

    def lifted(r: float) -> float:
        return reserve * kt / shoulder_flatwise(r, shape.root_width_mm, shape.tongue_width_mm, shape.root_height_mm)  # type: ignore[union-attr]

    if found is None:
        assert lifted(38.0) < 1.5 * 1.05
    else:
        assert lifted(found) >= 1.5 * 0.99
        assert found > radius
        assert lifted(found / 1.25) < 1.5 * 1.01 or found / 1.25 < radius * 1.12 + 0.2


@given(st.floats(0.0, 60.0), st.floats(0.05, 8.0))
def test_a_raiser_acts_on_one_element_at_least(start: float, length: float) -> None:
    nodes = np.array([0.0, 4.0, 9.0, 20.0, 33.0, 50.0, 61.0, 70.0])
    r = Raiser(start, start + length, 2.0, 1.5, 1.2, "corner")
    hit = r.over(nodes)
    assert hit.any()
    low, high = nodes[:-1][hit].min(), nodes[1:][hit].max()
    assert low < start + length
    assert high > start
    assert r.worst == 2.0
    assert r.under(0.0, 0.0, 0.0) == 2.0
    assert 1.2 <= r.under(0.0, 1.0, 3.0) <= 1.5
