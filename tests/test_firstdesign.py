"""A new craft is made to hold: parts stout enough for its landings and stiffness, within its weight, and told so."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.cli import main
from fravik.engine.evaluate import Engine
from fravik.engine.firstdesign import grown_words, made_to_hold, needs
from fravik.engine.foresee import foresee
from fravik.kinds import kind_of
from fravik.kinds.newcraft import Wish, sized
from fravik.model.paths import set_many
from fravik.model.shapes import ArmShape, FrameShape, LegShape, PlateShape
from fravik.store import open_file
from fravik.structure.beams import rectangle_torsion_mm4

WISHES = {
    "quad": Wish("quad_x", motor_to_motor_mm=220.0),
    "toy": Wish("quad_x", motor_to_motor_mm=120.0, arms="frame"),
    "tri": Wish("tri", motor_to_motor_mm=500.0),
    "y6": Wish("y6", motor_to_motor_mm=400.0),
}


@pytest.fixture(scope="module", params=WISHES)
def made(request: pytest.FixtureRequest) -> tuple[Any, Any, Engine]:
    engine = Engine()
    before = sized(WISHES[request.param])
    return before, made_to_hold(before, engine), engine


def test_a_new_craft_stands_its_landings_within_its_weight(made: tuple[Any, Any, Engine]) -> None:
    before, after, engine = made
    was, now = ({m.metric: m for m in engine.evaluate(p).margins} for p in (before, after))
    assert was["least_reserve"].verdict == "fails"
    assert now["least_reserve"].verdict == "holds"
    assert now["flying_mass_g"].verdict in ("holds", "tight")
    assert now["tip_sag_mm"].verdict == "holds"
    assert now["mode_floor_hz"].value >= was["mode_floor_hz"].value
    assert {m.verdict for m in now.values()} <= {"holds", "tight", "fails"}


def test_parts_only_grow_and_nothing_else_of_them_changes(made: tuple[Any, Any, Engine]) -> None:
    before, after, _ = made
    assert [p.id for p in before.parts] == [p.id for p in after.parts]
    for old, new in zip(before.parts, after.parts, strict=True):
        changed = {n for n in type(old.shape).model_fields if getattr(old.shape, n) != getattr(new.shape, n)}
        assert all(getattr(new.shape, n) > getattr(old.shape, n) for n in changed)
        assert old.model_copy(update={"shape": new.shape}) == new
    words = grown_words(before, after)
    assert words.startswith("Made stouter than proportion alone")
    assert "landing leg" in words


def test_what_holds_is_left_as_it_is(made: tuple[Any, Any, Engine]) -> None:
    _, after, engine = made
    assert not needs(engine.evaluate(after), stiff=False)
    again = made_to_hold(after, engine)
    for old, new in zip(after.parts, again.parts, strict=True):
        if not kind_of(old.shape).carries_rotor:  # arms may go on growing towards a floor that is out of reach
            assert old == new


def test_a_craft_that_cannot_be_judged_is_left_alone() -> None:
    project = sized(WISHES["quad"])
    broken = set_many(project, (("parts.arm.shape.pocket_count", 3), ("parts.arm.shape.pocket_width_mm", 40.0)))
    assert made_to_hold(broken, Engine()) == broken
    assert grown_words(broken, broken) == ""


def test_growing_stops_where_the_craft_would_be_too_heavy() -> None:
    engine, project = Engine(), sized(WISHES["tri"])
    grams = engine.evaluate(project).craft.mass_g
    light = set_many(project, (("targets.weight.limit", grams + 5.0),))
    result = engine.evaluate(made_to_hold(light, engine))
    assert result.craft.mass_g <= grams + 25.0
    assert next(m for m in result.margins if m.metric == "flying_mass_g").verdict != "fails"


times = st.floats(1.0, 3.0)


@given(times, times, st.floats(4.0, 30.0))
def test_stouter_is_never_smaller_and_never_past_what_a_field_takes(stronger: float, stiffer: float, size: float) -> None:
    shapes = (
        ArmShape(root_height_mm=max(size / 2, 3.0), tip_height_mm=max(size / 2 - 1, 2.5)),
        LegShape(thickness_mm=size, root_width_mm=max(size, 6.0), tip_width_mm=max(size / 2, 5.0)),
        LegShape(length_mm=200.0, thickness_mm=size, root_width_mm=58.0, tip_width_mm=40.0, flange_width_mm=72.0),
        PlateShape(place="bottom", thickness_mm=size / 3), FrameShape(thickness_mm=size / 3),
    )  # fmt: skip
    for shape in shapes:
        grown = kind_of(shape).stouter(shape, stronger, stiffer)
        assert grown
        assert all(value >= getattr(shape, name) - 1e-9 for name, value in grown.items())
        type(shape).model_validate({**shape.model_dump(), **grown})  # within every field's range


@given(st.floats(0.5, 50.0), st.floats(0.5, 50.0))
def test_a_rectangle_twists_alike_whichever_side_comes_first(one: float, other: float) -> None:
    j = float(rectangle_torsion_mm4(one, other))
    assert j == pytest.approx(float(rectangle_torsion_mm4(other, one)))
    # by the series of the exact solution (Timoshenko and Goodier, Theory of Elasticity, section 109)
    thin, long = sorted((one, other))
    n = np.arange(1, 60, 2)
    exact = thin**3 * long / 3 * (1 - 192 / np.pi**5 * thin / long * (np.tanh(n * np.pi * long / (2 * thin)) / n**5).sum())
    assert j == pytest.approx(exact, rel=0.005)


@pytest.mark.parametrize("thickness_mm", [5.0, 16.0, 17.0, 30.0])
def test_a_leg_may_be_thicker_than_it_is_wide(engine: Engine, thickness_mm: float) -> None:
    leg = engine.evaluate(set_many(sized(WISHES["quad"]), (("parts.leg.shape.thickness_mm", thickness_mm),))).members["leg"]
    assert np.linalg.eigvalsh(leg.answers["typical"].compliance).min() > 0


def test_the_window_opens_a_new_craft_that_holds_and_says_what_was_grown(window: Any, qapp: Any) -> None:
    window.begin(sized(WISHES["quad"], "Wader"))
    qapp.processEvents()
    assert window.session.project.name == "Wader"
    reserve = next(m for m in window.session.result.margins if m.metric == "least_reserve")
    assert reserve.verdict == "holds"
    assert "landing leg" in window.notice
    assert not window.session.can_undo


def test_the_command_says_what_was_grown_beside_the_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    target = tmp_path / "quad.fravik"
    assert main(["new", "quad_x", "-o", str(target)]) == 0
    out, err = capsys.readouterr()
    assert out.strip() == str(target)
    assert err.startswith("Made stouter")
    file, project = open_file(target)
    file.close()
    assert next(m for m in Engine().evaluate(project).margins if m.metric == "least_reserve").verdict == "holds"


def test_the_command_says_what_does_not_lie_on_the_bed(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    large = ["new", "quad_x", "--motor-to-motor-mm", "900"]
    assert main([*large, "--arms", "printed", "-o", str(tmp_path / "large.fravik")]) == 0
    assert "the bed is 220 × 220 mm" in capsys.readouterr().err
    # left open, arms that are bought spare the bed, and it says so
    assert main([*large, "-o", str(tmp_path / "barred.fravik")]) == 0
    told = capsys.readouterr().err
    assert "Arms of carbon tube" in told
    assert "the bed is" not in told
    assert main(["new", "quad_x", "--bed-mm", "220", "-o", str(tmp_path / "fits.fravik")]) == 0
    assert "the bed is" not in capsys.readouterr().err


@pytest.mark.parametrize(("layout", "span"), [("swept", None), ("swept", 500.0), ("quad_x", 300.0)])
def test_a_new_craft_is_balanced_as_far_as_its_propellers_let_it(engine: Engine, layout: Any, span: float | None) -> None:
    made = made_to_hold(sized(Wish(layout, motor_to_motor_mm=span)), engine)
    result = engine.evaluate(made)
    assert not [f.id for f in foresee(engine, result) if f.id.startswith(("balance.off", "fit.clash"))]
    assert result.clearances.prop_to_body_mm >= 5.0
    hover = result.allocation.hover_n
    assert hover.max() < 1.1 * hover.min()
