"""Every copy of a part judged by what acts on it: the worst is found, named and told, and what is alike stays alike."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import DEMOS
from fravik.engine.copies import copy_names, copy_reserves, together, worst_copies
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.ruler import reserves_of
from fravik.engine.why import why
from fravik.kinds import places_of
from fravik.kinds.newcraft import Wish, sized
from fravik.model.material import CORNERS
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.structure.loadcases import CRASH_CASES

AT = "parts.arm.shape."


def pushed(project: Project, forward_mm: float, aside_mm: float = 0.0) -> Project:
    """With its pack and its controller so far from where they are."""
    pack, stack = project.components.battery, project.components.blocks[0]
    edits = (("components.battery.x_mm", pack.x_mm + forward_mm), (f"components.blocks.{stack.id}.y_mm", stack.y_mm + aside_mm))
    return set_many(project, edits)


def levelled(engine: Engine, project: Project) -> Project:
    """With its weight in the middle."""
    craft, c = engine.evaluate(project).craft, project.components
    return pushed(
        project, *(-float(v) * craft.mass_g / m for v, m in zip(craft.com_mm[:2], (c.battery.mass_g, c.blocks[0].mass_g), strict=True))
    )


def at_places(result: Evaluation, case: str, part: str = "arm") -> dict[str, float]:
    """Reserves in a case, by what the copies are called."""
    names = copy_names(result, part)
    return {names[place]: c.reserve for (n, place), c in result.members[part].copies["typical"].items() if n == case}


@settings(max_examples=6)
@given(forward=st.floats(-40.0, 40.0), aside=st.floats(-250.0, 250.0))
def test_the_arms_nearest_to_the_weight_are_worst(engine: Engine, project: Project, forward: float, aside: float) -> None:
    result = engine.evaluate(pushed(project, forward, aside))
    x, y = (float(v) for v in result.craft.com_mm[:2])
    lift = at_places(result, "pull_up")
    for axis, one, other in ((x, "front", "rear"), (y, "left", "right")):
        mine, theirs = (min(r for n, r in lift.items() if side in n.split()) for side in (one, other))
        if abs(axis) > 0.5:
            assert (mine < theirs) == (axis > 0)
    # hover and pull-up grow alike
    hover = at_places(result, "hover")
    assert sorted(lift, key=lambda n: lift[n]) == sorted(hover, key=lambda n: hover[n])


def test_the_worst_of_all_copies_is_the_parts_own(result: Evaluation) -> None:
    for m in result.members.values():
        for corner in CORNERS:
            for case, worst in m.cases[corner].items():
                every = {place: c for (n, place), c in m.copies[corner].items() if n == case}
                assert set(every) == set(m.places)
                assert every[m.where[corner][case]] is worst
                if case not in CRASH_CASES:
                    assert worst.reserve == min(c.reserve for c in every.values())
            assert m.worst_static(corner)[1].reserve == min(m.worst_static(corner, p)[1].reserve for p in m.places)
        for case, b in m.breaks["typical"].items():
            assert b.speed_m_s == min(x.speed_m_s for (n, _), x in m.breaks_at.items() if n == case)


def test_copies_of_a_balanced_craft_are_alike(engine: Engine, project: Project) -> None:
    level = engine.evaluate(levelled(engine, project))
    assert abs(level.craft.com_mm[0]) < 0.01 > abs(level.craft.com_mm[1])
    for k in ("arm", "leg"):
        assert not any(level.members[k].worse_for(case) for case in level.members[k].cases["typical"])
        assert copy_reserves(level, k) == ""
        assert "ones)" not in why(level, k, reserves_of(level, k, "hard_landing"))  # type: ignore[arg-type]


def test_a_pole_meets_every_arm_the_way_it_faces(engine: Engine, project: Project) -> None:
    """Seen from the pole an arm behind, flown backwards, is as one in front, flown ahead."""
    strike = at_places(engine.evaluate(project), "arm_strike")
    assert max(strike.values()) == pytest.approx(min(strike.values()), rel=1e-9)
    made = engine.evaluate(sized(Wish(layout="swept", motor_to_motor_mm=450.0)))
    part = next(k for k, m in made.members.items() if len(m.places) == 4 and "arm_strike" in m.cases["typical"])
    swept = at_places(made, "arm_strike", part)
    assert swept["front left"] == pytest.approx(swept["front right"], rel=1e-9)
    assert abs(swept["front left"] / swept["rear left"] - 1) > 0.01


def bowed(project: Project, hands: str, bow: float) -> Project:
    return set_many(project, (("parts.arm.carbon", None), ("parts.arm.facing", None), (AT + "bow_mm", bow), (AT + "hands", hands)))


def test_a_bowed_arm_feels_which_way_its_motor_turns(engine: Engine, project: Project) -> None:
    """Mirrored copies beside one another, whose motors turn against each other, are loaded alike; copies drawn alike are not."""
    level = levelled(engine, project)
    for hands in ("mirrored", "alike"):
        result = engine.evaluate(bowed(level, hands, 18.0))
        step = at_places(result, "out_of_step")
        across = [abs(step[f"{end} left"] / step[f"{end} right"] - 1) for end in ("front", "rear")]
        assert max(across) < 1e-6 if hands == "mirrored" else max(across) > 1e-3


def test_copies_are_named_as_a_maker_would(engine: Engine) -> None:
    names = copy_names(engine.evaluate(DEMOS["redshank"]()), "tube")
    assert len(set(names.values())) == 6
    quad = {"a": "front left", "b": "rear left", "c": "rear right", "d": "front right"}
    assert together(quad, ("a", "d")) == "the front ones"
    assert together(quad, ("a", "b")) == "the left ones"
    assert together(quad, ("a",)) == "the front left one"
    assert together(quad, ("a", "c")) == "the front left and rear right ones"
    assert together(quad, ()) == ""
    octa = {str(k): f"rotor {k}" for k in range(8)}
    assert together(octa, ("0", "1", "2", "3", "4")) == "5 of the 8"


def test_it_is_told_in_words_in_findings_and_to_scripts(engine: Engine, project: Project, capsys: Any) -> None:
    heavy = engine.evaluate(pushed(project, 45.0))
    assert worst_copies(heavy, "arm", "pull_up") == "the front ones"
    shown = reserves_of(heavy, "arm", "pull_up")
    assert shown is not None
    assert "In a pull-up (the front ones) " in why(heavy, "arm", shown)
    assert main(["evaluate", "--demo", "tern", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    places = {p["id"]: p["part"] for p in told["places"]}
    for row in told["reserves"]:
        assert row["reserve"] == pytest.approx(min(row["by_place"].values())) or row["id"] in CRASH_CASES
        assert {places[p] for p in row["by_place"]} == {row["part"]}
        assert row["place"] in row["by_place"]


def test_two_kinds_of_leg_come_down_as_one_kind_does(engine: Engine, project: Project, result: Evaluation) -> None:
    """The craft does not know that its legs are two parts, if these are alike."""
    leg = project.part("leg")
    front = leg.model_copy(update={"count": 2, "at": ("front_left", "front_right")})
    rear = leg.model_copy(update={"id": "rear_leg", "count": 2, "at": ("rear_left", "rear_right")})
    parts = tuple(q for p in project.parts for q in ((front, rear) if p.id == "leg" else (p,)))
    two = engine.evaluate(project.model_copy(update={"parts": parts}))

    def against_landing(r: Evaluation, part: str, side: str) -> float:
        # two in a batch cool less from layer to layer than four and bond otherwise: so the plastic's strength is divided out
        return at_places(r, "one_foot", part)[side] / at_places(r, "hard_landing", part)[side]

    for k, side in (("leg", "front left"), ("rear_leg", "rear left")):
        assert against_landing(two, k, side) == pytest.approx(against_landing(result, "leg", side), rel=1e-3)


def test_every_copy_of_every_demo_has_its_place(engine: Engine) -> None:
    for build in (DEMOS["dunlin"], DEMOS["wheatear"]):
        result = engine.evaluate(build())
        for k, m in result.members.items():
            part = result.built.part(k)
            assert set(m.places) == {p.id for p in places_of(part, result.built)}
