"""Two kinds of arm on one craft: every station has one arm, whatever is said of which stands where."""

from __future__ import annotations

from typing import Any

import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.kinds.around import arm_ends
from fravik.kinds.dividing import divided, with_another_arm, without
from fravik.kinds.newcraft import Wish, sized
from fravik.kinds.newpart import part_for
from fravik.model.paths import set_many
from fravik.model.project import Project

TWO = sized(Wish("hexa_x"))
TWO = TWO.model_copy(update={"parts": with_another_arm(TWO, part_for("arm", TWO))})
ENDS = tuple(s.id for s in arm_ends(TWO))


def arms(project: Project) -> dict[str, tuple[int, tuple[str, ...]]]:
    return {p.id: (p.count, p.at) for p in project.parts if p.shape.kind == "arm"}


def test_a_second_kind_of_arm_stands_ahead_and_the_craft_stays_judged(engine: Engine) -> None:
    craft = tern()
    made = craft.model_copy(update={"parts": with_another_arm(craft, part_for("arm", craft))})
    assert arms(made) == {"arm": (2, ()), "arm2": (2, ("front_left", "front_right"))}
    assert not engine.evaluate(made).scope.structure
    assert without(made, "arm2") == craft.parts
    # no third kind is squeezed in, and what is no arm is only added
    third = made.model_copy(update={"parts": with_another_arm(made, part_for("arm", made))})
    assert arms(third)["arm"] == (2, ())
    assert with_another_arm(craft, part_for("leg", craft))[:-1] == craft.parts


@settings(max_examples=40)
@given(st.lists(st.tuples(st.sampled_from(("arm", "arm2")), st.lists(st.sampled_from(ENDS), unique=True, max_size=5)), max_size=5))
def test_no_station_goes_without_an_arm_or_has_two(told: list[tuple[str, list[str]]]) -> None:
    craft = TWO
    for part_id, at in told:
        craft = set_many(craft, divided(craft, part_id, tuple(at)))
        counts, named = zip(*arms(craft).values(), strict=True)
        every = [i for t in named for i in t]
        assert len(every) == len(set(every))
        if len([t for t in named if not t]) == 1 and len(every) < len(ENDS):
            assert sum(counts) == len(ENDS)


def test_a_guard_takes_as_many_as_it_names() -> None:
    craft = set_many(tern(), divided(tern(), "guard", ("rear_left",)))
    assert (craft.part("guard").count, craft.part("guard").at) == (1, ("rear_left",))
    assert arms(craft) == arms(tern())


def test_arms_are_divided_by_a_press_and_joined_again(window: Any, qapp: Any) -> None:
    window.show_stage("Parts")
    view = window.view("Parts")
    view.add_part("arm")
    assert until(
        qapp, lambda: view.part_id == "arm2" and not window.session.stale and window.session.result.project.part("arm2") is not None
    )
    assert window.session.result.margins[1].value is not None
    field = view.controls.forms["made"].fields["parts.arm2.at"]
    field.actions_by_id["rear_left"].trigger()
    assert arms(window.session.project) == {"arm": (1, ()), "arm2": (3, ("front_left", "front_right", "rear_left"))}
    view.drop_part("arm2")
    assert arms(window.session.project) == {"arm": (4, ())}
    window.session.undo()
    window.session.undo()
    window.session.undo()
    assert arms(window.session.project) == {"arm": (4, ())}


@pytest.mark.parametrize("kind", ["quad_x", "y6", "octa_x", "tri"])
def test_every_layout_divides(kind: Any, engine: Engine) -> None:
    craft = sized(Wish(kind))
    made = craft.model_copy(update={"parts": with_another_arm(craft, part_for("arm", craft))})
    assert len(arms(made)) == 2
    assert not engine.evaluate(made).scope.structure
