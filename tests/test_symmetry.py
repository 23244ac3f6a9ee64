"""A craft evaluated whole does not know left from right, front from back, or the order in which it is written down."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import tern, wren
from fravik.engine.evaluate import Engine
from fravik.kinds import places_of
from fravik.kinds.freely import freed
from fravik.kinds.newcraft import Wish, sized
from fravik.kinds.newpart import part_for
from fravik.model.craft import Block
from fravik.model.paths import set_many
from fravik.model.project import Project

ENGINE = Engine()
NEAR, NEAR_PCT = 1e-4, 1e-3  # of a figure, or % of one that may be nothing: other sums of the same numbers
# layouts whose arms, and the legs under some of them, are alike on both sides, or when turned half about
MIRRORED, TURNED = ("quad_x", "plus", "swept", "y6", "x8"), ("quad_x", "plus", "octa_x")


def figures(project: Project) -> dict[str, float | None]:
    return {m.id: m.value for m in ENGINE.evaluate(project).margins}


def same(a: Project, b: Project) -> None:
    one, other = figures(a), figures(b)
    assert one.keys() == other.keys()
    for name, value in one.items():
        assert other[name] == pytest.approx(value, rel=NEAR, abs=NEAR_PCT if name == "modes" else None), name


def placed(project: Project, ways: tuple[int, int]) -> Project:
    """Seen in a mirror along one axis, or turned half about with both: rotors, their turning, and all that is on it."""
    over = ways[0] * ways[1] < 0
    other = {"left": "right", "right": "left"}
    stations = tuple(
        s.model_copy(update={"x_mm": ways[0] * s.x_mm, "y_mm": ways[1] * s.y_mm, "turns": other[s.turns] if over else s.turns})
        for s in project.layout.stations
    )
    blocks = tuple(b.model_copy(update={"x_mm": ways[0] * b.x_mm, "y_mm": ways[1] * b.y_mm}) for b in project.components.blocks)
    pack = ways[0] * project.components.battery.x_mm
    return set_many(project, (("layout.stations", stations), ("components.blocks", blocks), ("components.battery.x_mm", pack)))


def loaded(layout: str, x_mm: float, y_mm: float, grams: float) -> Project:
    made = sized(Wish(layout, motor_to_motor_mm=300.0))  # type: ignore[arg-type]
    made = set_many(made, freed(made))
    load = Block(id="load", name="Load", mass_g=grams, length_mm=20, width_mm=20, height_mm=12, x_mm=x_mm, y_mm=y_mm, z_mm=-30.0)
    return set_many(made, (("components.blocks", (*made.components.blocks, load)),))


@settings(max_examples=12, deadline=None)
@given(
    layout=st.sampled_from(MIRRORED),
    x=st.floats(-40.0, 40.0),
    y=st.floats(2.0, 40.0),
    grams=st.floats(20.0, 200.0),
)
def test_mirrored_left_to_right_it_has_the_same_margins(layout: str, x: float, y: float, grams: float) -> None:
    craft = loaded(layout, x, y, grams)
    same(craft, placed(craft, (1, -1)))


@settings(max_examples=8, deadline=None)
@given(layout=st.sampled_from(TURNED), x=st.floats(2.0, 40.0), y=st.floats(-40.0, 40.0), grams=st.floats(20.0, 200.0))
def test_turned_about_it_has_the_same_margins(layout: str, x: float, y: float, grams: float) -> None:
    craft = loaded(layout, x, y, grams)
    same(craft, placed(craft, (-1, -1)))


@settings(max_examples=6, deadline=None)
@given(st.randoms(use_true_random=False), st.sampled_from((tern, wren)))
def test_written_down_in_another_order_it_has_the_same_margins(rng: random.Random, demo: object) -> None:
    craft: Project = demo()  # type: ignore[operator]
    parts, blocks = list(craft.parts), list(craft.components.blocks)
    rng.shuffle(parts)
    rng.shuffle(blocks)
    same(craft, set_many(craft, (("parts", tuple(parts)), ("components.blocks", tuple(blocks)))))


@pytest.mark.parametrize(("layout", "kind"), [("quad_x", "deck"), ("hexa_x", "deck"), ("quad_x", "mount")])
def test_a_part_that_carries_nothing_adds_its_weight_alone(layout: str, kind: str) -> None:
    bare = sized(Wish(layout, motor_to_motor_mm=300.0))  # type: ignore[arg-type]
    extra = part_for(kind, bare)
    more = set_many(bare, (("parts", (*bare.parts, extra)),))
    before, after = ENGINE.evaluate(bare), ENGINE.evaluate(more)
    grams = after.craft.mass_g - before.craft.mass_g
    assert grams > 0.999 * after.parts[extra.id].grams  # and the spacers of a deck
    pose = places_of(extra, more)[0].pose
    x, y, z = (float(v) for v in pose[:3, :3] @ after.parts[extra.id].mass.com_mm + pose[:3, 3])
    # as heavy a thing in its place
    thing = Block(id="thing", name="Thing", mass_g=grams, length_mm=72, width_mm=62, height_mm=3, x_mm=x, y_mm=y, z_mm=z)
    same_weight = figures(set_many(bare, (("components.blocks", (*bare.components.blocks, thing)),)))
    told = {m.id: m.value for m in after.margins}
    for name in ("weight", "sag", "floor", "reserve", "strike"):
        assert told[name] == pytest.approx(same_weight[name], rel=0.004), name
    assert told["modes"] == pytest.approx(same_weight["modes"], abs=0.5)
