"""Features of flat parts: outlines, solids, strength, problems, file and window."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any, get_args

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import wren
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.kinds import kind_of
from fravik.kinds.flatfeatures import begun
from fravik.kinds.newpart import part_for
from fravik.model.features import ADDS, CUTS, FEATURE_FIELDS, FeatureKind, PlateFeature
from fravik.model.paths import set_at, set_many
from fravik.model.project import Project
from fravik.model.shapes import DeckShape, PlateShape
from fravik.shape.build import loose_pieces
from fravik.shape.deck import deck_plan, deck_solid
from fravik.shape.features import hole_spots, plan_of
from fravik.shape.plate import plate_solid
from fravik.store.text import project_from_json, project_to_json

KINDS = get_args(FeatureKind)
PLATE = PlateShape(length_mm=120.0, width_mm=90.0, thickness_mm=3.0, window_length_mm=0.0)
AT = "parts.bottom.shape.features"


def _one(kind: str, **more: Any) -> PlateFeature:
    return begun(kind, (), 120.0, 90.0).model_copy(update=more)  # type: ignore[arg-type]


def _solid(*features: PlateFeature, **more: Any) -> Any:
    return plate_solid(PLATE.model_copy(update={"features": features, **more}), ())


@pytest.fixture(scope="module")
def plain(engine: Engine, project: Project) -> Evaluation:
    return engine.evaluate(project)


# outlines


@pytest.mark.parametrize("kind", KINDS)
def test_each_kind_begins_as_one_that_can_be_made(kind: str) -> None:
    f = _one(kind)
    solid = _solid(f)
    assert loose_pieces(solid) == 1
    plate = _solid().volume()
    if kind in CUTS:
        assert solid.volume() < plate
    else:
        assert solid.volume() > plate
    assert set(FEATURE_FIELDS[kind]) <= set(PlateFeature.model_fields)


@settings(max_examples=40)
@given(kind=st.sampled_from(ADDS + CUTS), turn=st.floats(-180, 180), x=st.floats(-40, 40), y=st.floats(-30, 30), size=st.floats(4, 20))
def test_mirror_images_take_as_much_again(kind: str, turn: float, x: float, y: float, size: float) -> None:
    f = _one(kind, turn_deg=turn, x_mm=200.0 + x, y_mm=160.0 + y, width_mm=size, mirror="none")
    once = plan_of(f)
    for mirror, count in (("sides", 2), ("ends", 2), ("both", 4)):
        every = plan_of(f.model_copy(update={"mirror": mirror}))
        assert every.area() == pytest.approx(count * once.area(), rel=1e-3, abs=1e-3)
    both = np.array(plan_of(f.model_copy(update={"mirror": "both"})).bounds())
    assert both[:2] == pytest.approx(-both[2:], abs=1e-3)


@settings(max_examples=40)
@given(radius=st.floats(10, 80), width=st.floats(2, 9), span=st.floats(10, 360), count=st.integers(1, 12), pitch=st.floats(5, 20))
def test_areas_are_those_of_their_figures(radius: float, width: float, span: float, count: int, pitch: float) -> None:
    arc = plan_of(_one("arc", radius_mm=radius, width_mm=width, span_deg=span))
    assert arc.area() == pytest.approx(math.radians(span) * radius * width, rel=0.02)
    row = _one("holes", count=count, pitch_mm=pitch, hole_mm=3.0, mirror="none", radius_mm=0.0)
    assert plan_of(row).area() == pytest.approx(count * math.pi * 2.25, rel=1e-6)
    assert len(hole_spots(row)) == count
    ring = hole_spots(row.model_copy(update={"radius_mm": radius}))
    assert np.hypot(*np.array(ring).T) == pytest.approx(radius)


@settings(max_examples=30)
@given(long=st.floats(15, 80), wide=st.floats(15, 60), hole=st.floats(3, 8), web=st.floats(1.2, 4))
def test_a_honeycomb_leaves_even_webs_within_its_bounds(long: float, wide: float, hole: float, web: float) -> None:
    f = _one("windows", x_mm=0.0, y_mm=0.0, length_mm=long, width_mm=wide, hole_mm=hole, pitch_mm=hole + web, mirror="none")
    plan = plan_of(f)
    x0, y0, x1, y1 = plan.bounds()
    assert x0 >= -long / 2 - 1e-6 and x1 <= long / 2 + 1e-6  # noqa: PT018
    assert y0 >= -wide / 2 - 1e-6 and y1 <= wide / 2 + 1e-6  # noqa: PT018
    cells = plan.decompose()
    assert all(c.area() == pytest.approx(math.sqrt(3) / 2 * hole**2, rel=1e-4) for c in cells)
    # grown by half a web they just do not overlap
    assert len(plan.offset(0.49 * web).decompose()) == len(cells)


def test_what_stands_is_clear_of_bores_and_on_its_own_face() -> None:
    low = _solid(_one("rib", face="below")).bounding_box()
    high = _solid(_one("rib", face="above", height_mm=5.0)).bounding_box()
    assert (low[2], low[5]) == pytest.approx((-4.0, 3.0))
    assert (high[2], high[5]) == pytest.approx((0.0, 8.0))
    boss = _one("boss", hole_mm=3.0, width_mm=9.0, height_mm=6.0, mirror="none")
    grown = _solid(boss).volume() - _solid().volume()
    assert grown == pytest.approx(math.pi / 4 * (81 - 9) * 6.0 - math.pi / 4 * 9 * 3.0, rel=0.01)


def test_decks_take_them_too() -> None:
    deck = DeckShape()
    wide = deck.model_copy(update={"features": (_one("disc", x_mm=40.0, width_mm=20.0), _one("rib", length_mm=40.0, y_mm=10.0))})
    assert deck_plan(wide).area() > deck_plan(deck).area()
    assert loose_pieces(deck_solid(wide)) == 1
    assert deck_solid(wide).bounding_box()[5] == pytest.approx(deck.thickness_mm + 4.0)


# judged


def test_a_plate_is_judged_with_what_is_added_and_cut(engine: Engine, project: Project, plain: Evaluation) -> None:
    def first(*features: PlateFeature) -> tuple[float, float]:
        r = engine.evaluate(set_at(project, AT, features))
        return r.parts["bottom"].grams, float(r.modes[0].freq_hz)

    shape = project.part("bottom").shape
    assert isinstance(shape, PlateShape)
    weak = first(begun("cutout", (), shape.length_mm, shape.width_mm).model_copy(update={"length_mm": 30.0, "width_mm": 20.0}))
    assert weak[0] < plain.parts["bottom"].grams
    assert weak[1] < plain.modes[0].freq_hz
    more = first(begun("strip", (), shape.length_mm, shape.width_mm))
    assert more[0] > plain.parts["bottom"].grams
    # ribs and bosses weigh; the plate is judged without them
    ribbed = engine.evaluate(set_at(project, AT, (begun("rib", (), shape.length_mm, shape.width_mm),)))
    assert ribbed.parts["bottom"].grams > plain.parts["bottom"].grams
    assert ribbed.plates["bottom"].ei_nmm2 == pytest.approx(plain.plates["bottom"].ei_nmm2, rel=1e-9)


def test_a_frame_takes_them_and_no_cut_into_its_arms(engine: Engine) -> None:
    made = wren()
    at, shape = "parts.frame.shape.features", made.part("frame").shape
    base = engine.evaluate(made)
    more = engine.evaluate(set_at(made, at, (PlateFeature(id="nose", kind="disc", x_mm=shape.length_mm / 2, width_mm=14.0),)))  # type: ignore[union-attr]
    assert more.parts["frame"].grams > base.parts["frame"].grams
    assert set(more.members) == set(base.members)
    station = max((abs(s.x_mm) for s in kind_of(shape).stations(made)), default=50.0) or 50.0
    hole = PlateFeature(id="hole", kind="holes", count=1, hole_mm=6.0, x_mm=0.62 * station, y_mm=0.62 * station)
    with pytest.raises(Refused) as told:
        engine.evaluate(set_at(made, at, (hole,)))
    assert any("cuts into an arm" in p.message and p.path == at + ".hole.x_mm" for p in told.value.problems)


@pytest.mark.parametrize(
    ("feature", "says", "field"),
    [
        (PlateFeature(id="far", kind="disc", x_mm=300.0), "falls into 2 pieces", "features"),
        (PlateFeature(id="all", kind="cutout", length_mm=4.0, width_mm=500.0, x_mm=30.0), "falls into", "features"),
        (PlateFeature(id="thin", kind="windows", hole_mm=6.0, pitch_mm=6.5), "between them", "pitch_mm"),
        (PlateFeature(id="row", kind="holes", hole_mm=6.0, pitch_mm=5.0), "run into one another", "pitch_mm"),
        (PlateFeature(id="arc", kind="arc", radius_mm=3.0, width_mm=8.0), "wider than its radius", "radius_mm"),
        (PlateFeature(id="boss", kind="boss", width_mm=4.0, hole_mm=3.5), "of wall round its hole", "hole_mm"),
    ],
)  # fmt: skip
def test_what_cannot_be_made_is_told_at_its_field(engine: Engine, project: Project, feature: PlateFeature, says: str, field: str) -> None:
    with pytest.raises(Refused) as told:
        engine.evaluate(set_at(project, AT, (feature,)))
    assert any(says in p.message and p.path.endswith(field) for p in told.value.problems)


def test_a_cut_plate_has_nothing_standing(engine: Engine, project: Project) -> None:
    made = set_many(project, ((AT, (_one("rib"),)), ("parts.bottom.cut_from", "carbon_plate")))
    with pytest.raises(Refused, match="cut from flat stock"):
        engine.evaluate(made)


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.sampled_from(KINDS), st.floats(-50, 50), st.floats(-40, 40), st.floats(-90, 90)), min_size=1, max_size=4))
def test_any_list_of_them_is_judged_or_told(some: list[tuple[str, float, float, float]]) -> None:
    from fravik.demo import tern

    engine, features = Engine(), list[PlateFeature]()
    for kind, x, y, turn in some:
        features.append(begun(kind, features, 100.0, 80.0).model_copy(update={"x_mm": x, "y_mm": y, "turn_deg": turn}))  # type: ignore[arg-type]
    made = set_at(tern(), AT, tuple(features))
    assert project_from_json(project_to_json(made)) == made
    try:
        result = engine.evaluate(made)
    except Refused as err:
        told = [p.message for p in err.problems]
    else:
        told = [p.message for p in result.problems] or ["fine"]
        assert result.parts["bottom"].grams > 0
        assert "bottom" in result.plates
    assert all(told)


# window


def test_features_are_listed_added_and_dropped_in_the_window(qapp: Any, window: Any, tmp_path: Path) -> None:
    window.show_stage("Parts")
    view = window.view("Parts")
    view.open_part("bottom")
    editors = view.controls.current
    at = next(i for i in range(editors.count()) if editors.tabText(i) == "Features")
    assert editors.isTabVisible(at)
    editors.setCurrentIndex(at)
    forms = editors.features
    assert forms is not None
    assert forms.add("cutout") is None
    (new,) = window.session.project.part("bottom").shape.features
    assert window.session.edit(f"{AT}.{new.id}.length_mm", 14.0) is None
    assert until(qapp, lambda: window.session.result.project.part("bottom").shape.features[0].length_mm == 14.0)
    forms.again(new.id)
    assert [f.kind for f in forms.features] == ["cutout", "cutout"]
    forms.drop(new.id)
    assert len(forms.features) == 1
    window.session.undo()
    assert len(forms.features) == 2
    view.open_part("arm")
    editors = view.controls.current
    assert not any(editors.isTabVisible(i) for i in range(editors.count()) if editors.tabText(i) == "Features")


def test_a_new_deck_may_carry_them(engine: Engine, project: Project) -> None:
    part = part_for("deck", project)
    shape = part.shape
    assert isinstance(shape, DeckShape)
    ring = PlateFeature(id="ring", kind="holes", count=6, radius_mm=8.0, hole_mm=2.5)
    ringed = shape.model_copy(update={"features": (ring,)})
    made = project.model_copy(update={"parts": (*project.parts, part.model_copy(update={"shape": ringed}))})
    result = engine.evaluate(made)
    assert part.id in result.plates
    assert len(deck_plan(ringed).decompose()) == 1
