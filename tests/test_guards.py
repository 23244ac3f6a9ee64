"""Guards, mounts and legs get the same treatment as arms: curved beams, what they carry, and what they weigh."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
import trimesh
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.ruler import WORST, along_part, held_behind_mm, reserves_of, ruler_of, spot_of
from fravik.engine.why import why
from fravik.model.paths import set_many
from fravik.model.recipe import Recipe
from fravik.model.shapes import GuardShape, MountShape
from fravik.shape.guard import guard_line, guard_solid
from fravik.shape.mount import mount_bolts, mount_solid
from fravik.structure.failure import KINDS
from fravik.structure.raisers import curved_bar

SHARED = Engine()
BASE = tern()


def run(edits: dict[str, Any]) -> Evaluation:
    return SHARED.evaluate(set_many(BASE, tuple(edits.items())))


@given(st.floats(60.0, 160.0), st.floats(60.0, 180.0), st.floats(3.0, 10.0))
@settings(max_examples=10)
def test_the_middle_line_runs_from_hub_to_hub(radius: float, span: float, step: float) -> None:
    g = GuardShape(span_deg=span)
    line = guard_line(g, radius, step)
    ends = np.linalg.norm(line[[0, -1]], axis=1)
    assert ends == pytest.approx([g.hub_diameter_mm / 2] * 2)
    assert np.linalg.norm(line, axis=1).max() == pytest.approx(radius)
    length = np.linalg.norm(np.diff(line, axis=0), axis=1).sum()
    assert length == pytest.approx(2 * (radius - g.hub_diameter_mm / 2) + radius * math.radians(span), rel=0.01)
    assert line[:, 1] == pytest.approx(-line[::-1, 1])


def test_a_guard_clears_its_propeller_and_weighs_its_volume(result: Evaluation) -> None:
    part = result.parts["guard"]
    assert part.given.length_mm >= 177.8 / 2 + 6
    solid = guard_solid(GuardShape(), part.given.length_mm)
    assert solid.genus() == 6  # four screws, the hub's bore, and the ring itself
    assert solid.volume() > 0


@pytest.mark.parametrize("field", ["width_mm", "height_mm"])
def test_a_thicker_guard_gives_less_and_weighs_more(field: str) -> None:
    thin, thick = run({f"parts.guard.shape.{field}": 5.0}), run({f"parts.guard.shape.{field}": 8.0})
    a, b = (r.members["guard"].answers["typical"].compliance for r in (thin, thick))
    assert b[0, 0] < a[0, 0]
    assert thick.parts["guard"].grams > thin.parts["guard"].grams


def test_width_stiffens_a_bump_as_its_cube_and_height_only_in_line() -> None:
    made = {"parts.guard.recipe.core_density": 1.0, "parts.guard.recipe.walls": 30}

    def flex(width: float, height: float) -> float:
        sized = {"parts.guard.shape.width_mm": width, "parts.guard.shape.height_mm": height}
        return float(run({**made, **sized}).members["guard"].answers["typical"].compliance[0, 0])

    assert flex(4.0, 8.0) / flex(8.0, 8.0) == pytest.approx(8.0, rel=0.12)
    assert flex(4.0, 6.0) / flex(4.0, 12.0) == pytest.approx(2.0, rel=0.05)


def test_a_hollow_guard_is_lighter_by_more_than_it_gives() -> None:
    wide = {"parts.guard.shape.width_mm": 8.0, "parts.guard.recipe.walls": 2}
    hollow, solid = (run({**wide, "parts.guard.recipe.core_density": i}) for i in (0.0, 1.0))
    grams = [r.parts["guard"].grams for r in (hollow, solid)]
    flex = [float(r.members["guard"].answers["typical"].compliance[0, 0]) for r in (hollow, solid)]
    assert grams[0] < 0.85 * grams[1]
    assert 1.0 < flex[0] / flex[1] < grams[1] / grams[0]


def test_a_bump_is_worst_at_the_arcs_middle_or_corners_and_is_alike_left_and_right(result: Evaluation) -> None:
    guard = result.members["guard"]
    values = guard.cases["typical"]["guard_bump"].values
    solid = values[: KINDS.index("core crush")].min(axis=0)
    assert solid == pytest.approx(solid[::-1], rel=0.02)
    # a core is probed where its strips happen to lie
    assert values.min(axis=0) == pytest.approx(values.min(axis=0)[::-1], rel=0.15)
    shown = reserves_of(result, "guard", "guard_bump")
    assert shown is not None
    assert "guard bump at" in why(result, "guard", shown)
    ruler = ruler_of(result, "guard")
    assert ruler is not None
    assert any("corner" in s.name for s in ruler.spikes) or GuardShape().corner_mm > 4


@given(st.floats(0.3, 30.0), st.floats(1.5, 12.0))
def test_a_sharper_bend_raises_the_stress_on_its_inside(radius: float, depth: float) -> None:
    assert curved_bar(radius, depth) >= curved_bar(1.2 * radius, depth) >= 1.0
    assert curved_bar(1e4 * depth, depth) == pytest.approx(1.0, abs=1e-3)


def test_a_harder_bump_breaks_in_proportion(result: Evaluation) -> None:
    slow, fast = (run({"brief.bump_m_s": v}) for v in (1.0, 2.0))
    a, b = (reserves_of(r, "guard", "guard_bump").reserve for r in (slow, fast))  # type: ignore[union-attr]
    assert a == pytest.approx(2 * b, rel=1e-6)
    assert slow.members["guard"].breaks["typical"]["guard_bump"].speed_m_s == pytest.approx(
        fast.members["guard"].breaks["typical"]["guard_bump"].speed_m_s
    )


def test_a_mount_carries_its_camera() -> None:
    light, heavy = (run({"parts.mount.shape.carried_g": g}) for g in (40.0, 160.0))
    a, b = (r.members["mount"].answers["typical"] for r in (light, heavy))
    assert b.freqs_hz[0] < 0.7 * a.freqs_hz[0]
    for case in ("pull_up", "hard_landing", "flat_drop"):
        assert heavy.members["mount"].cases["typical"][case].reserve < light.members["mount"].cases["typical"][case].reserve


def test_a_mount_is_one_solid_with_two_bolts() -> None:
    shape = MountShape()
    solid = mount_solid(shape)
    assert len(solid.decompose()) == 1
    assert len(mount_bolts(shape)) == 2
    assert solid.genus() == 2
    box = solid.bounding_box()
    assert box[0] == pytest.approx(-shape.tongue_length_mm)
    assert box[3] == pytest.approx(shape.length_mm + shape.pad_length_mm / 2)


@pytest.mark.parametrize("part", ["arm", "leg", "mount", "guard", "bottom", "top"])
def test_every_judged_part_can_be_coloured_and_explained(result: Evaluation, part: str) -> None:
    shown, ruler = reserves_of(result, part, WORST), ruler_of(result, part)
    assert shown is not None
    assert ruler is not None
    assert ruler.low_mm <= shown.position_mm <= ruler.high_mm
    assert shown.reserve == pytest.approx(shown.envelope().min(), rel=1e-9)
    found = result.members.get(part) or result.plates[part]
    given = result.parts[part].given
    held, mesh = SHARED.coloured_meshes(given, held_behind_mm(found))
    colours = along_part(found, shown, mesh.vertices_mm)
    assert len(colours) == len(mesh.vertices_mm)
    assert colours.min() >= shown.reserve - 1e-9
    # cut square where the ruler begins, and nothing of the part is lost
    if held is not None:
        assert held.vertices_mm[:, 0].max() == pytest.approx(mesh.vertices_mm[:, 0].min(), abs=1e-6)
    volume = sum(trimesh.Trimesh(m.vertices_mm, m.faces).volume for m in (held, mesh) if m is not None)
    assert volume == pytest.approx(SHARED.solid(given).volume(), rel=1e-4)
    spot, size = spot_of(found, shown, mesh)
    assert np.isfinite(spot).all()
    assert size > 10
    text = why(result, part, shown)
    assert f"reserve {shown.reserve:.2f}" in text
    assert text[0].isupper()


@pytest.mark.parametrize("part", ["leg", "mount", "guard"])
def test_other_parts_answer_to_their_recipe_too(part: str, result: Evaluation) -> None:
    recipe = BASE.part(part).recipe
    sturdier = run({f"parts.{part}.recipe.walls": recipe.walls + 2, f"parts.{part}.recipe.core_density": 0.9})
    a, b = (r.members[part] for r in (result, sturdier))
    give = [np.diag(m.answers["typical"].compliance) for m in (a, b)]
    assert (give[1] <= 1.001 * give[0]).all()
    assert sturdier.parts[part].grams > result.parts[part].grams
    assert isinstance(recipe, Recipe)
    standing = run({f"parts.{part}.recipe.lies": "on_end"}).members[part]
    case = "guard_bump" if part == "guard" else "hard_landing"
    assert standing.cases["typical"][case].reserve < a.cases["typical"][case].reserve


@given(st.floats(1.6, 9.0), st.floats(2.0, 26.0), st.floats(60.0, 200.0), st.sampled_from(["flat", "on_side"]))
@settings(max_examples=12)
def test_a_guards_sections_hold_nothing_of_its_other_legs(width: float, height: float, span: float, lies: str) -> None:
    shape = {"width_mm": width, "height_mm": height, "span_deg": span}
    edits: dict[str, Any] = {f"parts.guard.shape.{k}": v for k, v in shape.items()}
    project = set_many(BASE, (*edits.items(), ("parts.guard.recipe.lies", lies)))
    assume(not any(p.severity == "error" for p in SHARED.problems(project)))  # a hub too low for its screws, say
    found = SHARED.evaluate(project).members["guard"]
    area = found.member.tables.zone_sums["a"].sum(axis=0)
    middle = len(area) // 2
    arc = area[middle - 3 : middle + 4]
    layers = project.part("guard").recipe.layer_height_mm / width  # of the rim's width; on its side it has stairs at both faces
    assert arc == pytest.approx(width * height, rel=0.12 if lies == "flat" else 0.05 + 2 * layers)
    section = found.answers["typical"].section
    assert section.ei_up_nmm2.min() > 0
    assert section.ei_side_nmm2.min() > 0


def test_struts_at_a_sharp_angle_are_judged_beyond_the_wedge_between_them() -> None:
    narrow = run({"parts.guard.shape.span_deg": 40.0, "parts.guard.shape.width_mm": 2.4, "parts.guard.shape.root_fillet_mm": 0.2})
    area = narrow.members["guard"].member.tables.zone_sums["a"].sum(axis=0)
    assert area.min() > 1.0
    assert narrow.members["guard"].worst_static()[1].reserve > 0
