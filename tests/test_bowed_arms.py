"""Arms bowed aside, with a bar along one edge, and copies that are mirror images: solid, strength, whole craft, prints, window."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.engine.evaluate import Engine
from fravik.engine.export import export_all
from fravik.engine.results import Evaluation, Refused
from fravik.engine.settle import settle
from fravik.kinds import kind_of, places_of
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.model.shapes import ArmShape
from fravik.shape.arm import BOLTED, arm_plan, arm_solid, bow_mm
from fravik.shape.build import loose_pieces

AT = "parts.arm.shape."


def bare(project: Project, **shape: Any) -> Project:
    """Without what is glued on, and with an arm changed."""
    return set_many(project, (("parts.arm.carbon", None), ("parts.arm.facing", None), *((AT + k, v) for k, v in shape.items())))


@pytest.fixture(scope="module")
def straight(engine: Engine, project: Project) -> Evaluation:
    return engine.evaluate(bare(project))


def _first_hz(result: Evaluation) -> float:
    return float(result.members["arm"].answers["typical"].freqs_hz[0])


@settings(max_examples=25)
@given(bow=st.floats(-25.0, 25.0), length=st.floats(90.0, 200.0), bars=st.sampled_from(("edges", "left", "right", "middle")),
       pockets=st.integers(0, 2), channel=st.booleans())  # fmt: skip
def test_a_bowed_arm_is_one_closed_piece_of_the_same_area(bow: float, length: float, bars: Any, pockets: int, channel: bool) -> None:
    arm = ArmShape(
        bow_mm=bow, bar_way=bars, bar_height_mm=3.0, pocket_count=0 if channel else pockets, channel_width_mm=6.0 if channel else 0.0
    )
    plain = arm.model_copy(update={"bow_mm": 0.0})
    solid, other = arm_solid(arm, length, None, None), arm_solid(plain, length, None, None)
    assert loose_pieces(solid) == 1
    # moved aside, nothing is gained or lost
    assert solid.volume() == pytest.approx(other.volume(), rel=2e-3)
    mirrored = arm_solid(
        arm.model_copy(update={"bow_mm": -bow, "bar_way": {"left": "right", "right": "left"}.get(bars, bars)}), length, None, None
    )
    assert (solid.mirror((0.0, 1.0, 0.0)) - mirrored).volume() < 2e-3 * solid.volume()


def test_root_and_pad_stay_where_they_are() -> None:
    arm = ArmShape(bow_mm=20.0)
    ends = np.array([-20.0, 0.0, 150.0 - arm.pad_diameter_mm / 2, 150.0, 165.0])
    assert np.abs(bow_mm(arm, 150.0, ends)).max() < 1e-9
    assert float(bow_mm(arm, 150.0, np.array([(150.0 - arm.pad_diameter_mm / 2) / 2]))[0]) == pytest.approx(20.0)
    low, high = arm_plan(arm, 150.0, BOLTED).bounds()[:2], arm_plan(arm, 150.0, BOLTED).bounds()[2:]
    assert high[0] - low[0] == pytest.approx(150.0 + arm.pad_diameter_mm / 2 + arm.tongue_length_mm, abs=0.2)


def test_a_hair_of_bow_changes_nothing(engine: Engine, project: Project, straight: Evaluation) -> None:
    hair = engine.evaluate(bare(project, bow_mm=0.001))
    for a, b in zip(straight.margins, hair.margins, strict=True):
        assert b.value == pytest.approx(a.value, rel=2e-3, abs=1e-3), a.metric


def test_the_more_it_is_bowed_the_more_it_gives(engine: Engine, project: Project, straight: Evaluation) -> None:
    some, more = (engine.evaluate(bare(project, bow_mm=b)) for b in (8.0, 18.0))
    assert _first_hz(straight) > _first_hz(some) > _first_hz(more)
    sag = [next(m.value for m in r.margins if m.metric == "tip_sag_mm") for r in (straight, some, more)]
    assert sag[0] < sag[1] < sag[2]
    # to the other side it is the same arm
    other = engine.evaluate(bare(project, bow_mm=-8.0))
    assert _first_hz(other) == pytest.approx(_first_hz(some), rel=2e-3)
    # the ruler runs along the bowed line
    assert more.members["arm"].member.ruler_mm > straight.members["arm"].member.ruler_mm


def test_mirrored_copies_balance_the_craft(engine: Engine, project: Project) -> None:
    alike, mirrored = (engine.evaluate(bare(project, bar_height_mm=5.0, bar_way="left", hands=h)) for h in ("alike", "mirrored"))
    part, made = mirrored.project.part("arm"), mirrored.project
    hands = [float(np.linalg.det(p.pose[:3, :3])) for p in places_of(part, made)]
    assert sorted(np.sign(hands)) == [-1, -1, 1, 1]
    assert all((p.at_mm[1] < 0) == (h < 0) for p, h in zip(places_of(part, made), hands, strict=True))
    assert mirrored.craft.com_mm[1] == pytest.approx(0.0, abs=1e-4)
    assert mirrored.craft.mass_g == pytest.approx(alike.craft.mass_g)
    assert kind_of(part.shape).other_hands(part, part.shape, made) == {k + 1 for k, h in enumerate(hands) if h < 0}
    plain = bare(project, hands="mirrored").part("arm")
    assert not kind_of(plain.shape).other_hands(plain, plain.shape, made), "a straight arm is its own mirror image"


def test_a_bar_along_one_edge_stiffens_and_twists(engine: Engine, project: Project, straight: Evaluation) -> None:
    one, two = (engine.evaluate(bare(project, bar_height_mm=4.0, bar_way=w)) for w in ("left", "edges"))
    assert _first_hz(straight) < _first_hz(one) < _first_hz(two)
    assert straight.parts["arm"].grams < one.parts["arm"].grams < two.parts["arm"].grams


@settings(max_examples=20)
@given(rows=st.integers(1, 4), wide=st.floats(1.5, 3.0), web=st.floats(1.6, 2.5), count=st.integers(1, 4))
def test_rows_of_pockets_leave_webs_between(rows: int, wide: float, web: float, count: int) -> None:
    arm = ArmShape(
        pocket_rows=rows, pocket_width_mm=wide, pocket_web_mm=web, pocket_count=count, pocket_length_mm=16.0, pocket_corner_mm=0.5
    )
    solid, plain = (arm_solid(a, 150.0, None, None) for a in (arm, arm.model_copy(update={"pocket_count": 0})))
    assert loose_pieces(solid) == 1
    tall = (arm.root_height_mm + arm.tip_height_mm) / 2
    assert plain.volume() - solid.volume() == pytest.approx(rows * count * 16.0 * wide * tall, rel=0.12)
    assert arm.pockets_mm == pytest.approx(rows * wide + (rows - 1) * web)


def test_a_web_of_bars_is_judged_and_its_faults_told(engine: Engine, project: Project, straight: Evaluation) -> None:
    shape = {
        "pocket_count": 4,
        "pocket_length_mm": 14.0,
        "pocket_width_mm": 3.0,
        "pocket_rows": 2,
        "pocket_web_mm": 2.4,
        "pocket_corner_mm": 1.0,
    }
    # printed sparse, the walls round windows weigh more than they save
    assert engine.evaluate(bare(project, **shape)).parts["arm"].grams > straight.parts["arm"].grams
    straight, web = (engine.evaluate(set_many(bare(project, **x), (("parts.arm.recipe.core_density", 1.0),))) for x in ({}, shape))
    assert web.parts["arm"].grams < straight.parts["arm"].grams
    sideways = [float(r.members["arm"].answers["typical"].compliance[1, 1]) for r in (straight, web)]
    assert sideways[1] > sideways[0]
    for edit, says in (({"pocket_web_mm": 0.8}, "two roads need"), ({"pocket_rows": 5, "pocket_width_mm": 4.0}, "cut the arm in two")):
        with pytest.raises(Refused) as told:
            engine.evaluate(bare(project, **{**shape, **edit}))
        assert any(says in p.message for p in told.value.problems)


@pytest.mark.parametrize(
    ("shape", "says"), [({"bow_mm": 80.0}, "at most"), ({"bow_mm": 10.0, "carbon": True}, "run straight")]
)  # fmt: skip
def test_what_cannot_be_bowed_is_told(engine: Engine, project: Project, shape: dict[str, Any], says: str) -> None:
    glued = shape.pop("carbon", False)
    made = set_many(bare(project), tuple((AT + k, v) for k, v in shape.items()))
    if glued:
        part = made.part("arm")
        carbon = kind_of(part.shape).first_carbon(part.shape, made)
        made = set_many(made, (("parts.arm.carbon", carbon),))
    with pytest.raises(Refused) as told:
        engine.evaluate(made)
    assert any(says in p.message for p in told.value.problems)


def test_the_other_hand_is_printed_and_exported(engine: Engine, project: Project, tmp_path: Path) -> None:
    made = bare(project, bow_mm=8.0, hands="mirrored")
    files = {p.name for p in export_all(engine, engine.evaluate(made), tmp_path, kinds=("stl",), part_ids=("arm",))}
    assert files == {"arm_x2.stl", "arm_other_hand_x2.stl"}
    settled = settle(engine, made)
    copies = [c for b in settled.batches.batches for c in b.copies if c.part_id == "arm"]
    assert sum(c.place.mirrored for c in copies) == 2


def test_an_arm_is_bowed_in_the_window(qapp: Any, window: Any) -> None:
    for field in ("parts.arm.carbon", "parts.arm.facing"):
        window.session.edit(field, None)
    window.show_stage("Parts")
    view = window.view("Parts")
    view.open_part("arm")
    view.controls.show_tab(1)
    fields = view.controls.forms["shape"].fields
    assert {"parts.arm.shape.bow_mm", "parts.arm.shape.hands"} <= set(fields)
    window.session.edit("parts.arm.shape.bow_mm", 12.0)
    assert until(qapp, lambda: window.session.result is not None and window.session.result.project.part("arm").shape.bow_mm == 12.0)
    assert window.session.edit("parts.arm.shape.bow_mm", 119.0) is None
    assert until(qapp, lambda: any("bow" in p.path for p in window.session.problems))
