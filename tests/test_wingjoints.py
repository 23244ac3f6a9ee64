"""Where a wing comes apart and what turns on it: tubes, screws, pins, hinges; by core, finding, command and window."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtWidgets import QLabel

from fravik.app.window import MainWindow
from fravik.cli import main
from fravik.demo import ruff, wheatear, whimbrel
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.engine.wing import JointSight, WingSight, wing_sight
from fravik.kinds.wing.bodies import spar_g
from fravik.kinds.wing.checks import panel_problems
from fravik.kinds.wing.geometry import wing_of
from fravik.model.paths import set_at, set_many
from fravik.model.project import Project
from fravik.model.wing import WingShape
from fravik.shape.wing import panel_solid
from fravik.structure.hinge import bending_nmm, turns_till_broken
from fravik.structure.spar import JOINT
from fravik.structure.tubejoint import socket_mpa, tube_mpa, wall_from_inside_mpa, wall_under_screw_mpa


@pytest.fixture(scope="module")
def craft() -> Project:
    return wheatear()


def _sight(engine: Engine, project: Project) -> WingSight:
    found = wing_sight(engine.memo, engine.evaluate(project))
    assert found is not None
    return found


def _joint(engine: Engine, project: Project, part_id: str) -> JointSight:
    return next(j for j in _sight(engine, project).joints if j.part.id == part_id)


def _use(j: JointSight, way: str) -> float:
    return next(x.use for x in j.ways if way in x.way)


# the parts that hold


@settings(max_examples=60)
@given(
    shear=st.floats(0.0, 80.0), moment=st.floats(0.0, 6000.0), wide=st.floats(3.0, 20.0), long=st.floats(5.0, 150.0), k=st.floats(1.1, 3.0)
)
def test_a_deeper_socket_is_pressed_less(shear: float, moment: float, wide: float, long: float, k: float) -> None:
    here = float(socket_mpa(shear, moment, wide, long))
    deeper = float(socket_mpa(shear, moment, wide, k * long))
    assert deeper <= here / k + 1e-9
    assert float(socket_mpa(-shear, -moment, wide, long)) == here, "either way round"
    # what is pressed balances the shear, and never less than evenly
    assert here >= shear / (wide * long) - 1e-12


@settings(max_examples=60)
@given(outside=st.floats(7.0, 20.0), wall=st.floats(0.3, 1.5), k=st.floats(1.05, 2.0), load=st.floats(0.1, 50.0))
def test_thicker_walls_stand_more(outside: float, wall: float, k: float, load: float) -> None:
    inside, thin = outside - 2 * wall * k, outside - 2 * wall
    assert wall_from_inside_mpa(load, inside, outside) < wall_from_inside_mpa(load, thin, outside)
    assert wall_under_screw_mpa(load, 3.0, outside, wall * k) < wall_under_screw_mpa(load, 3.0, outside, wall)
    assert tube_mpa(load, outside, inside) < tube_mpa(load, outside, thin)


@settings(max_examples=80)
@given(yields=st.floats(0.005, 0.06), tough=st.floats(1.05, 20.0), a=st.floats(0.05, 0.98), b=st.floats(0.05, 0.98))
def test_what_bends_farther_cracks_sooner(yields: float, tough: float, a: float, b: float) -> None:
    breaks = yields * tough
    less, more = sorted((a, b))
    assert turns_till_broken(less * breaks, yields, breaks) >= turns_till_broken(more * breaks, yields, breaks) - 1e-6
    assert turns_till_broken(1.001 * breaks, yields, breaks) == 0.0
    assert turns_till_broken(more * breaks, yields, breaks) >= 1.0


def test_bending_plastic_gives_back_by_the_third_power_of_its_thickness() -> None:
    one = bending_nmm(1500.0, 0.5, 2.0, 100.0, 0.4)
    assert bending_nmm(1500.0, 1.0, 2.0, 100.0, 0.4) == pytest.approx(8 * one)
    assert bending_nmm(1500.0, 0.5, 4.0, 100.0, 0.4) == pytest.approx(one / 2)


# of a craft


def test_screws_alone_do_not_keep_a_wing_from_turning(engine: Engine, craft: Project) -> None:
    inner = _joint(engine, craft, "inner")
    assert inner.on is None
    assert inner.verdict == "fails"
    assert inner.worst.way == "it turns on its tube"
    four = _joint(engine, set_at(craft, "parts.inner.shape.joint_screws", 4), "inner")
    assert _use(four, "turns") == pytest.approx(_use(inner, "turns") / 2, rel=0.01)
    none = _joint(engine, set_at(craft, "parts.inner.shape.joint_screws", 0), "inner")
    assert none.worst.use > 1
    assert "no screw" in none.worst.words
    for by in ("pin", "glue"):
        kept = _joint(engine, set_at(craft, "parts.inner.shape.joint_by", by), "inner")
        assert not any("turns" in x.way for x in kept.ways)


def test_a_second_tube_keeps_it_from_turning(engine: Engine, craft: Project) -> None:
    two = set_many(craft, tuple((f"parts.{p}.shape.rear_spar_mm", 3.0) for p in ("inner", "outer")))
    ways = [x.way for x in _joint(engine, two, "inner").ways]
    assert "the second tube's tunnel is crushed" in ways
    assert "it turns on its tube" not in ways
    # on the outer panel it runs on; on the tip there is none
    assert any("second" in x.way for x in _joint(engine, two, "outer").ways)
    assert any("pin" in x.way for x in _joint(engine, two, "tip").ways)


def test_the_spar_is_told_where_its_skin_ends(engine: Engine, craft: Project) -> None:
    found = _sight(engine, craft)
    least, at_mm, part, kind = found.spar.least
    assert (part, kind, at_mm) == ("inner", JOINT, wing_of(craft.part("inner")).y_mm)
    # the tube alone, by hand
    s = wing_of(craft.part("inner"))
    moment = float(found.spar.answer.moment_nmm[0])
    assert least.typical == pytest.approx(550.0 / tube_mpa(moment, s.spar_mm, s.spar_mm - 2 * s.spar_wall_mm), rel=0.01)
    # to the middle it is one tube: skin and tube together at the root
    through = set_at(craft, "parts.inner.shape.joint_mm", 60.0)
    assert wing_of(through.part("inner")).through
    assert not wing_of(craft.part("inner")).through
    assert _sight(engine, through).spar.kind[0] in (JOINT, "tube")


def test_one_tube_through_two_panels_has_no_joint(engine: Engine, craft: Project) -> None:
    same = set_many(craft, (("parts.outer.shape.spar_mm", 6.0), ("parts.outer.shape.spar_wall_mm", 0.5)))
    found = _sight(engine, same)
    assert "outer" not in {j.part.id for j in found.joints}
    assert "outer" not in {o.id for _, o, _ in found.loose}
    assert JOINT not in {k for k, p in zip(found.spar.kind, found.spar.part_of, strict=True) if p == "outer"}


def test_a_wing_on_the_body_hangs_on_its_screws(engine: Engine) -> None:
    project = whimbrel()
    two = _joint(engine, project, "middle")
    assert [x.way for x in two.ways] == ["its screws are pulled through"]
    four = _joint(engine, set_at(project, "parts.middle.shape.joint_screws", 4), "middle")
    assert four.worst.use == pytest.approx(two.worst.use / 2, rel=0.02)
    none = _joint(engine, set_at(project, "parts.middle.shape.joint_screws", 0), "middle")
    assert none.verdict == "fails"
    # under the body lift presses it on; only a gust from above pulls
    under = _joint(engine, set_at(project, "parts.middle.shape.z_mm", -40.0), "middle")
    assert under.worst.use < two.worst.use


def test_a_panel_set_on_its_tube_by_screws_cracks_a_thin_one(engine: Engine, craft: Project) -> None:
    def tip(**more: Any) -> JointSight:
        edits = {"fixed": "set_screw", "joint_screw": "M4", **more}
        return _joint(engine, set_many(craft, tuple((f"parts.tip.shape.{k}", v) for k, v in edits.items())), "tip")

    thin = tip()
    assert _use(thin, "crack") > _use(tip(spar_wall_mm=1.0), "crack")
    assert _use(thin, "crack") > _use(tip(joint_screw="M2"), "crack")
    assert "turns" in " ".join(x.way for x in thin.ways)


def test_a_tube_farther_in_weighs_and_presses_less(engine: Engine, craft: Project) -> None:
    outer = wing_of(craft.part("outer"))
    longer = outer.model_copy(update={"joint_mm": 80.0})
    assert spar_g(longer)[0] == pytest.approx(spar_g(outer)[0] * (outer.length_mm + 80) / (outer.length_mm + 40))
    near, far = (_joint(engine, set_at(craft, "parts.outer.shape.joint_mm", mm), "outer") for mm in (15.0, 80.0))
    assert _use(far, "splits") < 0.3 * _use(near, "splits")
    warned = [p for p in panel_problems(outer.model_copy(update={"joint_mm": 300.0}), "outer", craft) if "joint_mm" in p.path]
    assert [p.severity for p in warned] == ["warning"]


def test_without_a_tube_only_glue_carries_on(engine: Engine, craft: Project) -> None:
    bare = set_at(craft, "parts.tip.shape.spar_mm", 0.0)
    tip = _joint(engine, bare, "tip")
    assert tip.verdict == "fails"
    assert "no tube" in tip.worst.words
    least, _, part, kind = _sight(engine, bare).spar.least
    assert (least.high, part, kind) == (0.0, "tip", JOINT), "no green reserve beside a joint that nothing carries"
    found = {f.id: f for f in foresee(engine, engine.evaluate(bare))}
    glued = _sight(engine, set_many(bare, found["wing.joint:tip"].cures[0].edits))
    assert "tip" not in {j.part.id for j in glued.joints}
    assert glued.spar.least[0].typical > 0


def test_a_fold_is_no_joint(engine: Engine) -> None:
    found = _sight(engine, whimbrel())
    assert "outer" not in {j.part.id for j in found.joints}
    assert [f.part.id for f in found.folds] == ["outer"]


# hinges


@pytest.mark.parametrize("kind", ["pin", "rubber", "living"])
def test_hinges_are_judged_by_their_kind(engine: Engine, craft: Project, kind: str) -> None:
    found = _sight(engine, set_at(craft, "parts.outer.shape.hinge", kind))
    hinge = next(h for h in found.hinges if h.part.id == "outer")
    assert (hinge.turns is not None) == (kind == "living")
    if kind == "living":
        # stiff foam on a narrow gap
        assert hinge.breaks
        assert hinge.verdict == "fails"
        assert "cracks" in hinge.words
    else:
        assert 0 < hinge.use < 0.5
        assert hinge.verdict == "holds"


def test_a_tough_plastic_on_a_wide_gap_bends_for_long(engine: Engine, craft: Project) -> None:
    tpu = set_many(craft, (("parts.outer.shape.hinge", "living"), ("parts.outer.shape.webs", 0), ("parts.outer.recipe.filament", "tpu"),
                           ("parts.outer.shape.hinge_gap_mm", 4.0), ("parts.outer.shape.hinge_left_mm", 0.4)))  # fmt: skip
    soft = next(h for h in _sight(engine, tpu).hinges if h.part.id == "outer")
    assert soft.turns is not None
    assert soft.turns.low > 1000
    assert soft.turns.low <= soft.turns.typical <= soft.turns.high
    narrow = next(h for h in _sight(engine, set_at(tpu, "parts.outer.shape.hinge_gap_mm", 1.0)).hinges if h.part.id == "outer")
    assert narrow.turns is not None
    assert narrow.turns.low < soft.turns.low
    assert narrow.torque_nmm > soft.torque_nmm, "a narrow gap is stiffer"


def test_a_shorter_horn_pulls_harder(engine: Engine, craft: Project) -> None:
    long, short = (
        next(h for h in _sight(engine, set_at(craft, "parts.outer.shape.horn_mm", mm)).hinges if h.part.id == "outer") for mm in (20.0, 5.0)
    )
    assert short.use > long.use


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        ({"hinge_left_mm": 3.0, "surface_share": 0.1}, "hinge_left_mm"),
        ({"hinge_gap_mm": 9.0, "surface_share": 0.1}, "hinge_gap_mm"),
        ({"surface_share": 0.4, "rear_spar_mm": 4.0, "rear_spar_at": 0.59, "hinge_gap_mm": 5.0}, "hinge_gap_mm"),
    ],
)
def test_gaps_that_cut_too_far_are_told(craft: Project, edit: dict[str, Any], field: str) -> None:
    shape = wing_of(craft.part("outer")).model_copy(update=edit)
    assert field in {p.path.rsplit(".", 1)[-1] for p in panel_problems(shape, "outer", craft)}


def test_a_wider_gap_takes_more_away() -> None:
    plain = WingShape(surface="elevon", spar_mm=0.0)
    assert panel_solid(plain.model_copy(update={"hinge_gap_mm": 4.0})).volume() < panel_solid(plain).volume()


# findings, command, window


def test_cures_of_joints_and_hinges_lead_home(engine: Engine, craft: Project) -> None:
    living = set_at(craft, "parts.outer.shape.hinge", "living")
    found = {f.id: f for f in foresee(engine, engine.evaluate(living))}
    assert found["wing.hinge:outer"].weight == "grave"
    assert found["wing.joint:inner"].weight == "grave"
    for cure in (*found["wing.hinge:outer"].cures, *found["wing.joint:inner"].cures):
        after = _sight(engine, set_many(living, cure.edits))
        if "joint_by" in cure.edits[0][0]:
            assert not any("turns" in x.way for j in after.joints for x in j.ways if j.part.id == "inner")
        else:
            assert next(h for h in after.hinges if h.part.id == "outer").verdict == "holds"


def test_a_sound_craft_has_no_such_findings(engine: Engine) -> None:
    ids = {f.id.split(":")[0] for f in foresee(engine, engine.evaluate(ruff()))}
    assert not ids & {"wing.joint", "wing.hinge"}


def test_the_command_tells_joints_and_hinges(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["evaluate", "--demo", "wheatear", "--json"]) == 0
    wing = json.loads(capsys.readouterr().out)["wing"]
    inner = next(j for j in wing["joints"] if j["part"] == "inner")
    assert inner["verdict"] == "fails"
    assert all(math.isfinite(w["use"]) for w in inner["ways"])
    assert {h["part"] for h in wing["hinges"]} == {"outer", "tail_plane", "fin"}


def test_the_window_shows_what_comes_apart_first(qapp: Any, tmp_path: Path) -> None:
    window = MainWindow(wheatear(), keep_in=tmp_path)
    window.show()
    window.show_stage("Wing")
    view = window.view("Wing")
    assert until(qapp, lambda: view.known)

    def told() -> str:
        return " ".join(w.text() for w in view.joints.findChildren(QLabel))

    assert "Wing, inner on the body" in told()
    assert "turns on its tube" in told()
    window.session.edit("parts.inner.shape.joint_by", "pin")
    assert until(qapp, lambda: view.known and "turns on its tube" not in told())
    window.close()
