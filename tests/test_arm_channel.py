"""Arms that are open below, with ribs across, and bars along the middle."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.kinds import build_solid, rising_of, shape_input
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.shape.arm import channel_spans


def with_arm(**edits: Any) -> Project:
    return set_many(tern(), tuple((f"parts.arm.{k.replace('__', '.')}", v) for k, v in edits.items()))


@pytest.fixture(scope="module")
def open_below(engine: Engine) -> Evaluation:
    return engine.evaluate(with_arm(shape__channel_width_mm=9.0, shape__channel_depth_mm=7.0))


def section(result: Evaluation) -> Any:
    return result.members["arm"].answers["typical"].section


def test_an_open_arm_twists_far_more_easily(engine: Engine, result: Evaluation, open_below: Evaluation) -> None:
    whole, opened = section(result), section(open_below)
    assert float(opened.gj_nmm2[6]) < 0.55 * float(whole.gj_nmm2[6])
    torsion = [next(f for name, f, _, _ in r.members["arm"].mode_table() if "torsion" in name) for r in (result, open_below)]
    assert torsion[1] < 0.85 * torsion[0]
    # its shear centre leaves the middle of the section: a push through the middle twists it
    assert abs(float(opened.z_s_mm[6] - opened.z_c_mm[6])) > 2.0


def test_ribs_close_it_where_they_stand(engine: Engine, open_below: Evaluation) -> None:
    member = open_below.members["arm"]
    spans = channel_spans(member.member.shape, member.member.length_mm)  # type: ignore[arg-type]
    gj, at = section(open_below).gj_nmm2, member.member.positions_mm
    between = [any(a < x < b for a, b in spans) for x in at]
    ribs = [g for g, x, within in zip(gj, at, between, strict=True) if not within and x < spans[-1][1]]
    assert len(ribs) == 2
    assert min(ribs) > 2 * max(g for g, x, within in zip(gj, at, between, strict=True) if within)


@given(st.floats(2, 16), st.floats(1, 9), st.integers(0, 8), st.floats(60, 300))
def test_any_channel_leaves_one_piece_or_is_refused(width: float, depth: float, ribs: int, length: float) -> None:
    made = with_arm(shape__channel_width_mm=width, shape__channel_depth_mm=depth, shape__channel_ribs=ribs, shape__length_mm=length)
    errors = [p for p in Engine().problems(made) if p.severity == "error"]
    if errors:
        assert all(p.message for p in errors)
        return
    given_ = shape_input(made.part("arm"), made)
    solid, full = build_solid(given_), build_solid(shape_input(with_arm(shape__length_mm=length).part("arm"), made))
    assert len(solid.decompose()) == 1
    taken = sum(b - max(a, -made.part("arm").shape.tongue_length_mm) for a, b in channel_spans(given_.shape, length))  # type: ignore[arg-type, union-attr]
    assert full.volume() - solid.volume() == pytest.approx(taken * width * depth, rel=0.02, abs=1.0)
    # it cannot be sliced from a plan that only gets smaller upwards
    assert rising_of(given_, made.part("arm").recipe) is None


@pytest.mark.parametrize(
    ("edits", "words"),
    [
        ({"shape__channel_width_mm": 19.0}, "leaves sides"),
        ({"shape__channel_width_mm": 8.0, "shape__channel_depth_mm": 11.5}, "over it"),
        ({"shape__channel_width_mm": 16.5}, "tongue's bolts"),
        ({"shape__channel_width_mm": 8.0, "shape__pocket_count": 2}, "cut through the floor"),
        ({"shape__channel_width_mm": 8.0, "joint__kind": "clamp"}, "root's bore"),
    ],
)
def test_what_a_channel_runs_into(engine: Engine, edits: dict[str, Any], words: str) -> None:
    with pytest.raises(Refused) as err:
        engine.evaluate(with_arm(**edits))
    assert any(words in p.message for p in err.value.problems)


def test_one_bar_along_the_middle_is_lighter_and_stiffens_up_and_down_alone(engine: Engine, result: Evaluation) -> None:
    edges, middle = (engine.evaluate(with_arm(shape__bar_height_mm=4.0, shape__bar_way=w)) for w in ("edges", "middle"))
    assert result.parts["arm"].grams < middle.parts["arm"].grams < edges.parts["arm"].grams
    up = [float(section(r).ei_up_nmm2[6]) for r in (result, middle, edges)]
    assert up[0] < up[1] < up[2]
    assert float(section(middle).ei_side_nmm2[6]) == pytest.approx(float(section(result).ei_side_nmm2[6]), rel=0.03)
