"""Copies that their maker has detached from where their kind puts them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.foresee.standing import stands
from fravik.engine.results import Evaluation
from fravik.kinds import detach, kind_of, places, places_of
from fravik.kinds.around import foot_spots_mm
from fravik.model.paths import set_at, set_many
from fravik.model.project import OwnPlace, Project
from fravik.store.text import project_from_json, project_to_json


def _mount(project: Project) -> str:
    return next(p.id for p in project.parts if kind_of(p.shape).detachable and not kind_of(p.shape).stands)


def _moved(project: Project, **to: float) -> Project:
    part = project.part(_mount(project))
    (own,) = detach(part, project)
    return set_at(project, f"parts.{part.id}.own_places", (own.model_copy(update=to),))


def test_detached_where_it_stands_nothing_changes(engine: Engine, project: Project, result: Evaluation) -> None:
    same = engine.evaluate(_moved(project))
    for a, b in zip(result.margins, same.margins, strict=True):
        assert b.value == pytest.approx(a.value, rel=1e-6)
    assert same.craft.com_mm == pytest.approx(result.craft.com_mm, abs=1e-2)


@settings(max_examples=30)
@given(x=st.floats(-50, 50), y=st.floats(-40, 40), z=st.floats(-30, 60), turn=st.floats(-180, 180))
def test_it_stands_where_it_is_put(x: float, y: float, z: float, turn: float) -> None:
    project = tern()
    made = _moved(project, x_mm=x, y_mm=y, z_mm=z, turn_deg=turn)
    part = made.part(_mount(project))
    (there,), (before,) = places_of(part, made), places_of(project.part(part.id), project)
    assert there.at_mm == pytest.approx([x, y, z])
    # it leans as it did, only turned
    assert there.pose[2, :3] == pytest.approx(before.pose[2, :3])
    assert np.linalg.det(there.pose[:3, :3]) == pytest.approx(1.0)
    ahead, c, s = before.pose[:3, 0], np.cos(np.radians(turn)), np.sin(np.radians(turn))
    assert there.pose[:2, 0] == pytest.approx([c * ahead[0] - s * ahead[1], s * ahead[0] + c * ahead[1]])
    assert detach(part, made)[0].x_mm == pytest.approx(x, abs=0.01)
    assert [p.id for p in places(made)] == [p.id for p in places(project)]
    assert project_from_json(project_to_json(made)) == made


def test_weight_moves_along_and_the_craft_is_judged_with_it_there(engine: Engine, project: Project, result: Evaluation) -> None:
    (own,) = detach(project.part(_mount(project)), project)
    back = engine.evaluate(_moved(project, x_mm=-own.x_mm, turn_deg=180.0))
    grams = result.parts[_mount(project)].grams
    assert result.craft.com_mm[0] - back.craft.com_mm[0] == pytest.approx(
        grams * 2 * (own.x_mm + result.parts[_mount(project)].mass.com_mm[0]) / result.craft.mass_g, rel=0.1
    )
    assert set(back.members) == set(result.members)
    assert back.craft.mass_g == pytest.approx(result.craft.mass_g)
    beside = engine.evaluate(_moved(project, y_mm=140.0))
    assert any("stands beside" in p.message and p.severity == "warning" for p in beside.problems)


def _legs(project: Project, out: float = 1.0) -> Project:
    """Legs detached, each so many times as far from the middle."""
    own = tuple(o.model_copy(update={"x_mm": out * o.x_mm, "y_mm": out * o.y_mm}) for o in detach(project.part("leg"), project))
    return set_at(project, "parts.leg.own_places", own)


def test_legs_detached_where_they_stand_change_nothing(engine: Engine, project: Project, result: Evaluation) -> None:
    same = engine.evaluate(_legs(project))
    for a, b in zip(result.margins, same.margins, strict=True):
        assert b.value == pytest.approx(a.value, rel=2e-3), a.metric
    for k, m in result.members.items():
        for case, c in m.cases["typical"].items():
            assert same.members[k].cases["typical"][case].reserve == pytest.approx(c.reserve, rel=2e-3), (k, case)
    assert np.array(foot_spots_mm(same.project)) == pytest.approx(np.array(foot_spots_mm(project)), abs=0.01)


def test_legs_farther_out_tip_later_and_load_each_foot_less(engine: Engine, project: Project, result: Evaluation) -> None:
    wide = engine.evaluate(_legs(project, 1.15))
    near, far = (stands(engine, r) for r in (result, wide))
    assert near is not None
    assert far is not None
    assert far.tips_at_deg > near.tips_at_deg
    # what turns under a foot gives way: it is hit less hard
    assert wide.members["leg"].cases["typical"]["one_foot"].reserve > result.members["leg"].cases["typical"]["one_foot"].reserve


def test_one_leg_moved_is_worst_where_the_craft_comes_down_hardest(engine: Engine, project: Project) -> None:
    own = detach(project.part("leg"), project)
    inner = own[0].model_copy(update={"x_mm": 0.3 * own[0].x_mm, "y_mm": 0.3 * own[0].y_mm})
    result = engine.evaluate(set_at(project, "parts.leg.own_places", (inner, *own[1:])))
    # near the centre of mass nearly the whole craft stands over it
    assert result.members["leg"].where["typical"]["one_foot"] == "leg_1"
    beyond = engine.evaluate(_legs(project, 1.8))
    (told,) = [p for p in beyond.problems if "legs stand" in p.message]
    assert told.path == "parts.leg.own_places.copy1.x_mm"


@settings(max_examples=20)
@given(turn=st.floats(-179, 179), tilt=st.floats(-45, 90))
def test_what_is_detached_again_stays_as_it_stands(turn: float, tilt: float) -> None:
    """However it leans: a camera that looks straight down has no ahead of its own."""
    made = set_at(_moved(tern(), turn_deg=turn), f"parts.{_mount(tern())}.shape.tilt_deg", tilt)
    part = made.part(_mount(made))
    again = set_at(made, f"parts.{part.id}.own_places", detach(part, made))
    (a,), (b,) = places_of(part, made), places_of(again.part(part.id), again)
    assert b.pose == pytest.approx(a.pose, abs=2e-3)


def test_kinds_that_follow_stations_stay(project: Project) -> None:
    own = (OwnPlace(id="copy1", x_mm=5.0),)
    made = set_many(project, (("parts.arm.own_places", own),))
    stand, stood = ([p.at_mm.tolist() for p in places_of(x.part("arm"), x)] for x in (made, project))
    assert stand == stood


def test_detached_and_attached_in_the_window(qapp: Any, window: Any) -> None:
    part_id = _mount(window.session.project)
    window.show_stage("Parts")
    view = window.view("Parts")
    view.open_part(part_id)
    editors = view.controls.current
    assert not editors.own_box.isChecked()
    editors.set_detached(True)
    assert until(qapp, lambda: f"parts.{part_id}.own_places.copy1.x_mm" in view.controls.forms["made"].fields)
    window.session.edit(f"parts.{part_id}.own_places.copy1.x_mm", -30.0)
    assert until(qapp, lambda: places_of(window.session.result.project.part(part_id), window.session.result.project)[0].at_mm[0] == -30.0)
    view.controls.current.set_detached(False)
    assert not window.session.project.part(part_id).own_places
    assert until(qapp, lambda: not view.controls.current.own_box.isChecked())
