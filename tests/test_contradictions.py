"""Every contradiction in a design is told at the field that the maker has to change, says what to do, and goes when it is done."""

from __future__ import annotations

from typing import Any

import pytest

from fravik.demo import DEMOS
from fravik.engine.evaluate import Engine
from fravik.engine.results import Refused
from fravik.kinds.asking import printed_parts
from fravik.model.paths import set_many
from fravik.model.problem import Problem
from fravik.model.project import Project

# demo, part, what is typed, the field it is told at, some of its words
WRONG: tuple[tuple[str, str, dict[str, Any], str, str], ...] = (
    ("tern", "guard", {"radius_mm": 90.0}, "radius_mm", "to the propeller's tip"),
    ("tern", "guard", {"hub_diameter_mm": 20.0}, "hub_diameter_mm", "outside the motor screws"),
    ("tern", "guard", {"bolt_circle_mm": 6.0, "bolt_hole_mm": 4.0}, "bolt_circle_mm", "meet in the middle"),
    ("tern", "guard", {"hub_thickness_mm": 9.0, "height_mm": 5.0}, "hub_thickness_mm", "make the ring higher"),
    ("tern", "guard", {"width_mm": 14.0, "hub_diameter_mm": 27.0}, "width_mm", "do not fit the hub"),
    ("tern", "mount", {"root_width_mm": 40.0, "tongue_width_mm": 30.0}, "root_width_mm", "wider than the tongue"),
    ("tern", "mount", {"tip_width_mm": 34.0, "pad_width_mm": 20.0}, "tip_width_mm", "wider than the pad"),
    ("tern", "mount", {"length_mm": 15.0, "pad_length_mm": 40.0}, "length_mm", "leave no blade"),
    ("tern", "bottom", {"rib_height_mm": 4.0, "rib_width_mm": 8.0, "rib_pitch_mm": 9.0}, "rib_pitch_mm", "fill the plate"),
    ("tern", "bottom", {"rib_height_mm": 20.0, "rib_width_mm": 1.2, "rib_pitch_mm": 20.0}, "rib_height_mm", "fold over"),
    ("tern", "bottom", {"rib_height_mm": 4.0, "rib_width_mm": 1.6, "rib_pitch_mm": 200.0}, "rib_pitch_mm", "No rib fits"),
    ("tern", "bottom", {"grid_pitch_mm": 5.0, "grid_hole_mm": 4.6}, "grid_hole_mm", "between them"),
    ("tern", "arm", {"channel_width_mm": 18.0, "channel_depth_mm": 5.0}, "channel_width_mm", "narrower channel"),
    ("tern", "arm", {"channel_width_mm": 8.0, "channel_depth_mm": 11.5}, "channel_depth_mm", "shallower channel"),
    ("tern", "arm", {"length_mm": 70.0}, "length_mm", "put the motors 240 mm apart"),
    ("turnstone", "wide", {"bore_mm": 14.0, "hub_diameter_mm": 15.0}, "hub_diameter_mm", "round a hole of"),
    ("turnstone", "wide", {"hub_diameter_mm": 70.0, "diameter_mm": 130.0}, "hub_diameter_mm", "more than half"),
    ("turnstone", "wide", {"bore": "flat", "flat_mm": 8.0, "bore_mm": 5.0}, "flat_mm", "no flat"),
    ("turnstone", "wide", {"bore": "screws", "screw_circle_mm": 6.0, "screw_hole_mm": 3.0}, "screw_circle_mm", "meet the bore"),
    ("turnstone", "wide", {"piece": "blade", "eye_mm": 4.0, "pin_mm": 3.0}, "eye_mm", "round its pin"),
    ("turnstone", "wide", {"piece": "blade", "pivot_mm": 4.0, "hub_diameter_mm": 20.0}, "pivot_mm", "as the blade folds"),
    ("turnstone", "wide", {"bush_mm": 1.0, "bush_grip_mm": 0.0, "hub_diameter_mm": 24.0}, "bush_grip_mm", "holds nothing"),
    ("whimbrel", "middle", {"spar_wall_mm": 4.5, "spar_mm": 8.0}, "spar_wall_mm", "no bore"),
    ("whimbrel", "middle", {"spar_material": "unobtainium"}, "spar_material", "There is no bar"),
    ("whimbrel", "middle", {"tip_chord_mm": 30.0, "root_chord_mm": 300.0}, "tip_chord_mm", "not to be trusted"),
    ("whimbrel", "middle", {"sweep_mm": 400.0}, "sweep_mm", "rough"),
    ("wheatear", "fin", {"role": "wing"}, "role", "stands upright"),
    ("whimbrel", "outer", {"on": "nothing"}, "on", "no panel"),
    ("whimbrel", "outer", {"hand": "upright"}, "hand", "Only a pair"),
)  # fmt: skip


@pytest.fixture(scope="module")
def demos() -> dict[str, Project]:
    return {name: DEMOS[name]() for name in {w[0] for w in WRONG}}


def test_a_wing_on_a_fin_is_told_at_what_joins_on(engine: Engine) -> None:
    craft = set_many(DEMOS["ruff"](), (("parts.inner.shape.role", "fin"),))
    with pytest.raises(Refused, match="what carries needs a wing for its root"):
        engine.evaluate(craft)
    assert [p.path for p in engine.problems(craft) if p.severity == "error"] == ["parts.outer.shape.on"]


@pytest.mark.parametrize("demo", ["tern", "redshank", "turnstone", "whimbrel", "wren"])
def test_a_filament_that_is_gone_is_told_at_every_part_that_has_it(engine: Engine, demo: str) -> None:
    """A shared shelf may lose what a craft is made of: whatever else asks for the filament keeps its peace."""
    craft = DEMOS[demo]()
    for part in printed_parts(craft):
        with pytest.raises(Refused) as refused:
            engine.evaluate(set_many(craft, ((f"parts.{part.id}.recipe.filament", "unobtainium"),)))
        assert f"parts.{part.id}.recipe.filament" in {p.path for p in refused.value.problems}


def told(engine: Engine, project: Project, at: str) -> list[Problem]:
    """What is said at one field."""
    return [p for p in engine.problems(project) if p.path == at]


@pytest.mark.parametrize(("demo", "part", "typed", "field", "words"), WRONG, ids=[f"{w[1]}-{w[3]}-{k}" for k, w in enumerate(WRONG)])
def test_it_is_told_at_its_field(
    engine: Engine, demos: dict[str, Project], demo: str, part: str, typed: dict[str, Any], field: str, words: str
) -> None:
    at = f"parts.{part}.shape."
    # typed as a maker types: one field after another, so all of them at once are one edit that is not refused
    wrong = set_many(demos[demo], tuple((at + k, v) for k, v in typed.items()))
    found = told(engine, wrong, at + field)
    assert any(words in p.message for p in found), [p.message for p in engine.problems(wrong)]
    # a whole sentence that a maker can act on
    assert all(p.message[0].isupper() and p.message.rstrip().endswith((".", "!")) for p in found)
    assert not any(words in p.message for p in told(engine, demos[demo], at + field))
