"""The model refuses what cannot be, says why, and edits by path."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from fravik.library import carbon_stock, carbon_stocks, filament, filaments
from fravik.model.base import explain
from fravik.model.craft import Battery, Layout, Motor, Propeller
from fravik.model.paths import EditError, get_at, owner_of, set_at, set_many
from fravik.model.project import Brief, Printer, Project, Spool, Target
from fravik.model.recipe import Carbon, Recipe
from fravik.model.shapes import ArmShape, LegShape, PlateShape
from fravik.store import project_from_json, project_to_json

MODELS = (ArmShape, LegShape, PlateShape, Recipe, Carbon, Layout, Motor, Propeller, Battery, Brief, Printer, Spool)


def bounds(cls: type, name: str) -> tuple[float, float] | None:
    low = high = None
    for m in cls.model_fields[name].metadata:
        low = getattr(m, "ge", low)
        high = getattr(m, "le", high)
    return None if low is None or high is None else (low, high)


@pytest.mark.parametrize("cls", MODELS)
def test_every_number_has_a_range_a_label_and_a_default_inside(cls: type) -> None:
    for name, info in cls.model_fields.items():
        if info.annotation in (float, int) or info.annotation == (float | None):
            found = bounds(cls, name)
            assert found is not None, name
            assert info.json_schema_extra["label"]
            if info.default is not None:
                assert found[0] <= info.default <= found[1]


@pytest.mark.parametrize("cls", MODELS)
def test_values_outside_the_range_are_refused_with_a_sentence(cls: type) -> None:
    needed = {"id": "x"} if "id" in cls.model_fields else {}
    for name in cls.model_fields:
        found = bounds(cls, name)
        if found is None:
            continue
        for wrong in (found[0] - 1, found[1] + 1, math.nan, math.inf, "many"):
            with pytest.raises(ValidationError) as caught:
                cls(**needed, **{name: wrong})
            path, text = explain(caught.value, cls)[0]
            assert path.endswith(name)
            assert len(text) > 15
            assert text[0].isupper() or text[0] in "'\""


def test_models_are_frozen_and_hashable(project: Project) -> None:
    with pytest.raises(ValidationError):
        project.name = "other"  # type: ignore[misc]
    assert hash(project) == hash(project_from_json(project_to_json(project)))


def test_unknown_fields_are_refused() -> None:
    with pytest.raises(ValidationError) as caught:
        Recipe(colour="red")  # type: ignore[call-arg]
    assert "no field called 'colour'" in explain(caught.value, Recipe)[0][1]


def test_two_parts_may_not_share_an_id(project: Project) -> None:
    with pytest.raises(ValidationError, match="share one id"):
        Project.model_validate({**dict(project), "parts": (project.parts[0], project.parts[0])})


def test_get_and_set_by_path(project: Project) -> None:
    edited = set_at(project, "parts.arm.shape.root_height_mm", 13.5)
    assert get_at(edited, "parts.arm.shape.root_height_mm") == 13.5
    assert get_at(project, "parts.arm.shape.root_height_mm") != 13.5
    assert edited.part("leg") is project.part("leg")


def test_set_many_is_all_or_nothing(project: Project) -> None:
    with pytest.raises(EditError) as caught:
        set_many(project, (("name", "x"), ("parts.arm.recipe.walls", 0)))
    assert caught.value.path == "parts.arm.recipe.walls"
    assert project.name == "Tern survey quad"


def test_carbon_is_made_when_its_field_is_set(project: Project) -> None:
    edited = set_at(project, "parts.arm.carbon.stock", "rod_3")
    assert edited.part("arm").carbon is not None
    assert edited.part("arm").carbon.stock == "rod_3"


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        ("parts.wing.shape.length_mm", 1, "known here: arm, bottom, top, leg"),
        ("parts.arm.shape.wobble", 1, "no field 'wobble'"),
        ("parts.arm.recipe.lies", "upside", "cannot be 'upside'"),
        ("parts.arm.recipe.walls", "three", "needs a number"),
        ("parts.arm.shape.root_height_mm", 400, "above the most allowed, 40"),
        ("parts.arm.shape.root_fillet_mm", 0.01, "a nozzle cannot print a sharper corner"),
        ("components.battery.usable", 2, "Usable share"),
        ("name.length", 3, "nothing below"),
        ("parts.top.carbon.stock.x", 3, "is not set"),
    ],
)
def test_bad_edits_teach(project: Project, path: str, value: Any, says: str) -> None:
    with pytest.raises(EditError) as caught:
        set_at(project, path, value)
    assert says in caught.value.message
    assert "\n" not in caught.value.message


def test_owner_of_finds_the_field(project: Project) -> None:
    owner, name = owner_of(project, "layout.motor_to_motor_mm")
    assert isinstance(owner, Layout)
    assert name == "motor_to_motor_mm"
    with pytest.raises(EditError):
        owner_of(project, "layout.nothing")


@given(st.floats(2, 40), st.integers(1, 40), st.floats(0, 1))
def test_json_round_trip_is_exact(height: float, walls: int, core_density: float) -> None:
    from fravik.demo import tern

    edited = set_many(
        tern(),
        (("parts.arm.shape.root_height_mm", height), ("parts.arm.recipe.walls", walls), ("parts.arm.recipe.core_density", core_density)),
    )
    assert project_from_json(project_to_json(edited)) == edited


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "not JSON"),
        ("[1, 2]", "not a project"),
        ('{"schema_version": 99}', "newer Fravik"),
        ('{"name": 3}', "does not hold together at name"),
        ('{"parts": [{"id": "a", "shape": {"kind": "cube"}}]}', "does not hold together"),
        ("{" * 4000, "not JSON"),
        ('{"layout": {"motor_to_motor_mm": NaN}}', "does not hold together"),
    ],
)
def test_bad_json_says_so(text: str, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        project_from_json(text)


def test_filament_table_holds_the_common_kinds() -> None:
    table = filaments()
    assert len(table) == 12
    assert {"pla", "pla_tough", "pla_foam", "petg", "abs", "asa", "pc", "pa12", "pa_cf", "pa_gf", "pet_cf", "tpu"} == set(table)


@pytest.mark.parametrize("kind", sorted(filaments()))
def test_filament_figures_are_ordered_and_plausible(kind: str) -> None:
    f = filament(kind)
    for name, info in type(f).model_fields.items():
        if "Spread" in str(info.annotation):
            spread = getattr(f, name)
            assert 0 < spread.low <= spread.typical <= spread.high, name
    assert f.e_road_mpa.typical >= f.e_cross_mpa.typical >= f.e_layer_mpa.typical
    assert f.s_road_mpa.typical > f.s_layer_mpa.typical
    assert f.ductility_road.typical >= f.ductility_layer.typical >= 1
    assert 0 <= f.notch_sensitivity <= 1
    assert f.basis


def test_stiff_plastics_are_brittle_and_tough_ones_soft() -> None:
    assert filament("pla").e_road_mpa.typical > filament("petg").e_road_mpa.typical > filament("pa12").e_road_mpa.typical
    assert filament("pla").ductility_road.typical < filament("petg").ductility_road.typical < filament("pa12").ductility_road.typical


def test_unknown_stock_names_what_there_is() -> None:
    with pytest.raises(KeyError, match="petg"):
        filament("wood")
    with pytest.raises(KeyError, match="tube_6x4"):
        carbon_stock("beam")
    assert all(c.form in ("tube", "rod", "square", "strip") for c in carbon_stocks().values())


def test_targets_need_sane_limits() -> None:
    with pytest.raises(ValidationError):
        Target(id="a", metric="tip_sag_mm", limit=-1)
    with pytest.raises(ValidationError):
        Target(id="a", metric="tip_sag_mm", limit=math.nan)
