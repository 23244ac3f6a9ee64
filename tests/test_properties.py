"""Trends that must hold whatever the design: what a maker may always rely on, asked of whole evaluations."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.model.paths import set_many
from fravik.model.project import OwnCase, Project
from fravik.structure.failure import BUCKLE, CROSS, ROAD, SLIDE, SPLIT
from fravik.structure.loadcases import CRASH_CASES

SHARED = Engine()
BASE = tern()
few = settings(max_examples=7)
FILAMENTS = ["petg", "pla", "pla_tough", "pa_cf", "asa"]


def run(edits: dict[str, Any], project: Project = BASE) -> Evaluation:
    return SHARED.evaluate(set_many(project, tuple(edits.items())))


def worst(result: Evaluation, part: str = "arm", corner: str = "typical") -> float:
    return min(c.reserve for n, c in result.members[part].cases[corner].items() if n not in CRASH_CASES)  # type: ignore[index]


@few
@given(st.floats(0.4, 8.0), st.sampled_from(FILAMENTS), st.sampled_from(["root_fillet_mm", "pad_fillet_mm"]))
def test_a_larger_fillet_never_lowers_a_reserve(radius: float, filament: str, field: str) -> None:
    # of even height: along a taper the stairs of the layers move past the stations, and the section with them
    made = {"parts.arm.recipe.filament": filament, "parts.arm.shape.tip_height_mm": 12.0, "parts.arm.shape.root_height_mm": 12.0}
    small, large = (run({**made, f"parts.arm.shape.{field}": r}) for r in (radius, 1.3 * radius))
    for name, case in small.members["arm"].cases["typical"].items():
        assert large.members["arm"].cases["typical"][name].reserve >= 0.985 * case.reserve, name


@few
@given(st.integers(1, 6), st.sampled_from(["gyroid", "grid", "honeycomb"]), st.sampled_from(["flat", "on_side"]))
def test_another_wall_never_softens_nor_weakens(walls: int, pattern: str, lies: str) -> None:
    made = {"parts.arm.recipe.pattern": pattern, "parts.arm.recipe.lies": lies}
    thin, thick = (run({**made, "parts.arm.recipe.walls": w}) for w in (walls, walls + 1))
    a, b = (r.members["arm"].answers["typical"] for r in (thin, thick))
    assert (b.section.ei_up_nmm2 >= 0.99 * a.section.ei_up_nmm2).all()
    assert b.tip[2, 2] <= 1.01 * a.tip[2, 2]
    assert worst(thick) >= 0.97 * worst(thin)
    assert thick.craft.mass_g > thin.craft.mass_g


@few
@given(st.sampled_from(FILAMENTS), st.integers(2, 5))
def test_standing_a_solid_arm_on_end_is_never_stronger(filament: str, walls: int) -> None:
    # solid, so that standing up moves nothing but the layers: a sparse one also trades its covers for walls
    made = {"parts.arm.recipe.filament": filament, "parts.arm.recipe.walls": walls, "parts.arm.recipe.core_density": 1.0}
    flat, standing = (run({**made, "parts.arm.recipe.lies": lies}) for lies in ("flat", "on_end"))
    for name in ("full_throttle", "hard_landing", "arm_strike"):
        a, b = (r.members["arm"].cases["typical"][name] for r in (flat, standing))
        assert b.reserve < a.reserve, name
        assert b.kind in ("layer split", "layer shear", "core crush", "bearing", "bolt tear-out")


@few
@given(st.floats(0.0, 0.9), st.sampled_from(["gyroid", "cubic", "triangles", "lines"]))
def test_more_core_is_heavier_and_never_softer(core_density: float, pattern: str) -> None:
    made = {"parts.arm.recipe.pattern": pattern}
    sparse, dense = (run({**made, "parts.arm.recipe.core_density": i}) for i in (core_density, core_density + 0.1))
    a, b = (r.members["arm"].answers["typical"] for r in (sparse, dense))
    assert (b.section.ei_up_nmm2 >= a.section.ei_up_nmm2 * (1 - 1e-9)).all()
    assert (b.section.gj_nmm2 >= a.section.gj_nmm2 * 0.998).all()
    assert dense.parts["arm"].grams > sparse.parts["arm"].grams
    assert dense.parts["arm"].figures.minutes > sparse.parts["arm"].figures.minutes


@few
@given(st.floats(5.0, 60.0), st.floats(-25.0, 25.0), st.floats(20.0, 80.0))
def test_a_mirrored_part_gives_a_mirrored_answer(roll: float, side: float, station: float) -> None:
    """Layers that lean one way under a push from the left are layers that lean the other way under a push from the right."""

    def push(sign: float) -> Evaluation:
        own = OwnCase(id="push", name="Push", part="arm", position_mm=station, force_y_n=sign * side, force_z_n=8.0)
        lean = {"parts.arm.recipe.lies": "free", "parts.arm.recipe.roll_deg": sign * roll, "parts.arm.recipe.pitch_deg": 0.0}
        return run({**lean, "brief.own_cases": (own,)})

    left, right = push(1.0), push(-1.0)
    a, b = (r.members["arm"].cases["typical"]["own/push"] for r in (left, right))
    assert b.reserve == pytest.approx(a.reserve, rel=5e-3)
    one, other = (r.members["arm"].answers["typical"] for r in (left, right))
    assert other.freqs_hz[:3] == pytest.approx(one.freqs_hz[:3], rel=5e-3)
    assert other.section.ei_cross_nmm2 == pytest.approx(-one.section.ei_cross_nmm2, abs=0.01 * one.section.ei_up_nmm2.max())


@few
@given(st.floats(0.5, 2.0))
def test_reserves_fall_in_proportion_to_a_load_of_ones_own(times: float) -> None:
    def push(k: float) -> float:
        own = OwnCase(id="push", name="Push", part="arm", position_mm=60.0, force_z_n=10.0 * k, moment_x_nmm=40.0 * k)
        return run({"brief.own_cases": (own,)}).members["arm"].cases["typical"]["own/push"].reserve

    assert push(times) == pytest.approx(push(1.0) / times, rel=1e-6)


@few
@given(st.sampled_from(FILAMENTS))
def test_corners_bracket_every_reserve(filament: str) -> None:
    arm = run({"parts.arm.recipe.filament": filament}).members["arm"]
    for name, case in arm.cases["typical"].items():
        if name in CRASH_CASES:
            continue
        assert arm.cases["low"][name].reserve <= case.reserve * 1.001, name
        assert arm.cases["high"][name].reserve >= case.reserve * 0.999, name


def test_every_kind_of_failure_can_be_brought_about() -> None:
    seen = set()
    for edits in (
        {"parts.arm.recipe.lies": "on_end"}, {},
        {"parts.arm.recipe.walls": 1, "parts.arm.recipe.core_density": 0.0, "parts.arm.recipe.cover_layers": 1},
        {"parts.arm.recipe.lies": "on_side"}, {"parts.arm.shape.tongue_bolt_rows": 1, "parts.arm.shape.tongue_bolt_mm": 2.2},
        {"parts.arm.recipe.core_density": 0.05, "parts.arm.recipe.walls": 1, "parts.arm.recipe.cover_layers": 6},
    ):  # fmt: skip
        for member in run(edits).members.values():
            seen |= {c.kind for c in member.cases["typical"].values()}
    assert {"road pull", "road-to-road", "layer split"} <= seen
    assert seen & {"core crush", "wall buckling"}


def test_hollow_and_thin_buckles_before_it_tears() -> None:
    shell = {"parts.arm.recipe.walls": 1, "parts.arm.recipe.core_density": 0.0, "parts.arm.recipe.cover_layers": 1,
             "parts.arm.shape.root_width_mm": 28.0, "parts.arm.shape.tip_width_mm": 26.0}  # fmt: skip
    values = run(shell).members["arm"].cases["typical"]["hard_landing"].values
    assert values[BUCKLE].min() < values[ROAD].min()
    filled = run({**shell, "parts.arm.recipe.core_density": 0.4}).members["arm"].cases["typical"]["hard_landing"].values
    assert filled[BUCKLE].min() > 2 * values[BUCKLE].min()


def test_layers_across_the_pull_split_and_layers_along_it_do_not() -> None:
    flat, end = (run({"parts.arm.recipe.lies": lies}).members["arm"].cases["typical"]["pull_up"].values for lies in ("flat", "on_end"))
    assert end[SPLIT].min() < 0.5 * flat[SPLIT].min()
    assert min(flat[ROAD].min(), flat[CROSS].min()) < flat[SPLIT].min()
    assert flat[SLIDE].min() < 99


def test_pocket_rails_are_alike_along_a_pocket() -> None:
    section = run({"parts.arm.shape.pocket_count": 3, "parts.arm.shape.bar_height_mm": 0.0}).members["arm"].answers["typical"].section
    soft = section.ga_side_n < 0.6 * np.median(section.ga_side_n[section.ga_side_n > np.median(section.ga_side_n)])
    assert soft.sum() >= 6
    assert section.ga_side_n[soft].max() / section.ga_side_n[soft].min() < 2.0
    assert (section.gj_nmm2 > 0.2 * np.median(section.gj_nmm2)).all()
