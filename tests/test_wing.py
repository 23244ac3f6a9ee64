"""Wings: sections, lifting line, spar, printed panels, their hands, wrong input, findings, the command and the stage."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import ruff, wheatear, whimbrel
from fravik.engine.evaluate import Engine
from fravik.engine.export import export_all
from fravik.engine.exportrun import export_run
from fravik.engine.foresee import foresee
from fravik.engine.results import Evaluation, Refused
from fravik.engine.settle import settle
from fravik.engine.validate.wings import coefficients, straight_lift
from fravik.engine.wing import WingSight, wing_sight
from fravik.engine.wingpicture import panel_pictures, section_at
from fravik.flight.aero.aerofoils import Section, own_section
from fravik.flight.aero.alone import at_angle, loaded, stall
from fravik.flight.aero.forces import FZ
from fravik.flight.aero.strips import PanelPlan, strips_of
from fravik.kinds import places_of
from fravik.kinds.newpart import part_for
from fravik.kinds.wing.bodies import spar_g
from fravik.kinds.wing.checks import panel_problems
from fravik.kinds.wing.geometry import poses, stands, tip_mm, wing_of
from fravik.model.paths import EditError, set_at, set_many
from fravik.model.project import Project
from fravik.model.recipe import Recipe
from fravik.model.wing import Coordinate, WingShape
from fravik.printing.layroads import STEP_LINES, print_job
from fravik.shape.build import loose_pieces
from fravik.shape.wing import chord_at, four_digit, panel_solid
from fravik.store.fileproblem import FileProblem
from fravik.store.sectionfile import read_section
from fravik.structure.spar import bent, reserve_along

FOAM = Recipe(filament="pla_foam", lies="on_end", walls=1, cover_layers=0, core_density=0.0, line_width_mm=0.5, layer_height_mm=0.25)


@pytest.fixture(scope="module")
def craft() -> Project:
    return wheatear()


@pytest.fixture(scope="module")
def judged(engine: Engine, craft: Project) -> Evaluation:
    return engine.evaluate(craft)


@pytest.fixture(scope="module")
def sight(engine: Engine, judged: Evaluation) -> WingSight:
    found = wing_sight(engine.memo, judged)
    assert found is not None
    return found


# sections and lifting line


@st.composite
def panel_shapes(draw: st.DrawFn) -> WingShape:
    """Any panel that is not refused."""
    root = draw(st.floats(60.0, 400.0))
    surface = draw(st.sampled_from(("none", "elevon", "flaperon")))
    return WingShape(
        length_mm=draw(st.floats(60.0, 500.0)), root_chord_mm=root, tip_chord_mm=root * draw(st.floats(0.45, 1.2)),
        sweep_mm=draw(st.floats(-20.0, 60.0)), washout_deg=draw(st.floats(-4.0, 6.0)), thickness=draw(st.floats(0.09, 0.18)),
        camber=draw(st.floats(0.0, 0.08)), hand=draw(st.sampled_from(("pair", "across"))), surface=surface,
        hinge_gap_mm=draw(st.floats(0.4, 3.0)), hinge_left_mm=draw(st.floats(0.3, 1.0)),
        spar_mm=draw(st.sampled_from((0.0, 3.0))), webs=draw(st.integers(0, 6)), duct_mm=draw(st.sampled_from((0.0, 3.0))),
    )  # fmt: skip


@settings(max_examples=25)
@given(panel_shapes())
def test_a_panel_is_one_closed_piece(shape: WingShape) -> None:
    solid = panel_solid(shape)
    assert solid.volume() > 0
    assert loose_pieces(solid) == 1
    plan = shape.area_mm2
    thick = shape.thickness * (shape.root_chord_mm + shape.tip_chord_mm) / 2
    assert 0.35 * plan * thick < solid.volume() < 1.05 * plan * thick + 2.0 * plan


@settings(max_examples=20)
@given(st.floats(4.0, 14.0), st.floats(0.3, 1.0), st.floats(0.01, 0.14), st.floats(0.2, 4.0))
def test_lift_goes_with_size_and_attack_as_it_must(aspect: float, taper: float, attack: float, size: float) -> None:
    def wing(k: float) -> Any:
        root = k * 2 / (aspect * (1 + taper))
        tip = taper * root
        return straight_lift(
            strips_of([[PanelPlan("p", (root / 4, 0, 0), (tip / 4, k / 2, 0), root, tip, 0.0, 0.0, Section(0.12, 0.0))]], [16])
        )

    lift, drag = coefficients(wing(1.0), attack)
    large = coefficients(wing(size), attack)
    assert large == pytest.approx((lift, drag), rel=1e-6)
    assert coefficients(wing(1.0), -attack)[0] == pytest.approx(-lift, rel=1e-6)
    # no plan has less drag for its lift than the ellipse
    assert drag >= lift**2 / (math.pi * aspect) * 0.99


def test_strips_cover_the_plan() -> None:
    inner = PanelPlan("a", (0.0, 0.0, 0.0), (0.0, 0.3, 0.0), 0.2, 0.2, 0.0, 0.0, Section(0.12, 0.02))
    outer = PanelPlan("b", (0.0, 0.3, 0.0), (-0.02, 0.7, 0.0), 0.2, 0.1, 0.0, 0.0, Section(0.12, 0.02))
    s = strips_of([[inner, outer]], [60])
    assert float(s.area_m2.sum()) == pytest.approx(0.3 * 0.2 + 0.4 * 0.15, rel=2e-3)


def test_own_sections_are_read_back() -> None:
    for t, m in ((0.10, 0.0), (0.14, 0.03)):
        found = own_section(four_digit(t, m, 200))
        assert found.thickness == pytest.approx(t, rel=0.02)
        assert found.camber == pytest.approx(m, abs=0.003)
        assert abs(found.no_lift_rad) < 0.006
    reflexed = four_digit(0.10, 0.02, 200)
    bump = 0.02 * np.sin(2 * math.pi * reflexed[:, 0])  # a middle line that rises again at its end
    other = own_section(reflexed + np.column_stack([np.zeros(len(bump)), bump]))
    assert other.moment > 0.01


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("name\n1 0\n0.5 0.06\n", "12 to"),
        ("name\n" + "1.0 zero\n" * 20, "line 2"),
        ("name\n" + "7.0 0.1\n" * 20, "off the chord"),
        ("", "0 points"),
    ],
)
def test_a_damaged_section_file_is_told(tmp_path: Path, text: str, says: str) -> None:
    path = tmp_path / "own.dat"
    path.write_text(text)
    with pytest.raises(FileProblem, match=says):
        read_section(path)


def test_a_section_that_is_none_is_refused(engine: Engine, craft: Project) -> None:
    tangled = tuple(Coordinate(x=abs(math.cos(k)), y=0.05 * math.sin(3 * k)) for k in range(20))
    with pytest.raises(Refused, match=r"cannot be used|piece|section"):
        engine.evaluate(set_at(craft, "parts.inner.shape.section", tangled))
    with pytest.raises((EditError, ValueError)):
        set_at(craft, "parts.inner.shape.length_mm", -100.0)


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        ({"spar_mm": 30.0}, "spar_mm"),
        ({"spar_mm": 4.0, "spar_wall_mm": 2.0}, "spar_wall_mm"),
        ({"rear_spar_mm": 5.0, "rear_spar_at": 0.31}, "rear_spar_at"),
        ({"surface": "elevon", "surface_from": 0.9, "surface_to": 0.3}, "surface_to"),
        ({"on": "nowhere"}, "on"),
        ({"on": "tip"}, "on"),
        ({"spar_material": "cheese"}, "spar_material"),
        ({"root_chord_mm": 600.0}, "tip_chord_mm"),
    ],
)
def test_what_contradicts_itself_is_told_at_its_field(craft: Project, edit: dict[str, Any], field: str) -> None:
    shape = wing_of(craft.part("inner")).model_copy(update=edit)
    project = craft.model_copy(
        update={"parts": tuple(p.model_copy(update={"shape": shape}) if p.id == "inner" else p for p in craft.parts)}
    )
    assert any(p.path.endswith(field) for p in panel_problems(shape, "inner", project))


# places and hands


def test_pairs_are_mirror_images(engine: Engine, craft: Project, judged: Evaluation) -> None:
    left, right = (p.pose for p in places_of(craft.part("tip"), craft))
    assert np.linalg.det(left[:3, :3]) == pytest.approx(1.0)
    assert np.linalg.det(right[:3, :3]) == pytest.approx(-1.0)
    spot = np.array([100.0, 40.0, 3.0, 1.0])
    assert (left @ spot)[:3] * [1, -1, 1] == pytest.approx((right @ spot)[:3])
    assert judged.craft.com_mm[1] == pytest.approx(0.0, abs=1.5)
    rows = {(r["id"], r["mirror"]) for r in _places(judged)}
    assert any(m for i, m in rows if i.startswith("tip"))


def _places(result: Evaluation) -> list[dict[str, Any]]:
    from fravik.engine.rotors import place_rows

    return place_rows(result.project)


def test_panels_join_tip_to_root(craft: Project) -> None:
    at = stands(craft)
    inner, outer = wing_of(craft.part("inner")), wing_of(craft.part("outer"))
    tip = tip_mm(craft.part("inner"), craft)
    # quarter chords meet
    assert at["outer"].root_mm[1:] == pytest.approx(tip[1:])
    assert at["outer"].root_mm[0] - outer.root_chord_mm / 4 == pytest.approx(tip[0] - inner.tip_chord_mm / 4)


def test_on_its_tail_ahead_is_up() -> None:
    project = whimbrel()
    pose = poses(project.part("middle"), project)[0]
    aft = pose[:3, 1]
    assert aft == pytest.approx([0.0, 0.0, -1.0], abs=1e-9)


def test_the_other_hand_is_printed_and_exported_mirrored(engine: Engine, tmp_path: Path) -> None:
    base = wheatear()
    part = base.part("tail_plane").model_copy(update={"id": "only", "name": "Only"})
    project = base.model_copy(update={"parts": (*(p for p in base.parts if p.shape.kind != "wing"), part)})
    settled = settle(engine, project)
    copies = [c for b in settled.batches.batches for c in b.copies if c.part_id == "only"]
    assert sorted(c.place.mirrored for c in copies) == [False, True]
    result = engine.evaluate(project)
    names = {p.name for p in export_all(engine, result, tmp_path / "a", ("stl",), ("only",))}
    assert names == {"only_x1.stl", "only_other_hand_x1.stl"}
    written = export_run(engine, result, settled, tmp_path / "b", ("3mf",)) if "3mf" in _kinds() else []
    assert all(p.stat().st_size > 0 for p in written)


def _kinds() -> tuple[str, ...]:
    from fravik.engine.exportable import RUN_KINDS

    return RUN_KINDS


@pytest.mark.parametrize("more", [{}, {"duct_mm": 5.0}, {"surface": "elevon", "surface_from": 0.0, "surface_to": 1.0}])
def test_a_foamed_panel_is_one_path_a_layer(engine: Engine, craft: Project, more: dict[str, Any]) -> None:
    shape = WingShape(length_mm=40.0, root_chord_mm=150.0, tip_chord_mm=140.0, thickness=0.13, spar_mm=6.0, webs=4, **more)
    part = craft.part("inner").model_copy(update={"shape": shape, "recipe": FOAM})
    row = engine.part(part, craft)
    job = print_job(engine.solid(row.given), part.recipe, part.laying, row.filament, craft.printer)
    # the first layer lays a hem round it as well
    lifts = [r.breaks(STEP_LINES * FOAM.line_width_mm) - 1 for r in job.layer_roads[1:] if r.count]
    assert max(lifts) == 0, f"{sum(lifts)} lifts in {len(lifts)} layers"
    # without webs it is still one, with a core it is not
    cored = FOAM.model_copy(update={"core_density": 0.2})
    other = print_job(engine.solid(row.given), cored, part.laying, row.filament, craft.printer)
    assert any(r.breaks(STEP_LINES * FOAM.line_width_mm) > 1 for r in other.layer_roads if r.count)


# what it carries


def test_at_the_stall_speed_it_just_carries_itself(sight: WingSight) -> None:
    f, a = sight.flyer, sight.alone
    lift = [float(at_angle(f, a.stall_m_s, x)[FZ] * math.cos(x)) for x in np.radians(np.arange(6.0, 20.5, 0.5))]
    assert max(lift) == pytest.approx(f.weight_n, rel=0.05)
    heavier = replace(f, mass_kg=1.44 * f.mass_kg)
    assert stall(heavier)[0] == pytest.approx(1.2 * a.stall_m_s, rel=0.04)


def test_the_wing_back_steadies_it(engine: Engine, craft: Project, sight: WingSight) -> None:
    chord = 1e3 * sight.alone.chord_m
    moved = engine.evaluate(set_at(craft, "parts.inner.shape.x_mm", wing_of(craft.part("inner")).x_mm - 0.1 * chord))
    other = wing_sight(engine.memo, moved)
    assert other is not None
    # a tenth of the chord, less what the wing's own weight moves, more or less what the tail sees of it
    assert 6.0 < other.static_margin_pct - sight.static_margin_pct < 12.0


def test_load_along_the_span_carries_the_wing(sight: WingSight) -> None:
    a = sight.alone
    level = loaded(sight.flyer, a.cruise_m_s, a.cruise_rad)
    total = 2 * float((level.lift_n_m * sight.flyer.strips.width_m)[level.surface == 0].sum())
    assert 0.8 * sight.flyer.weight_n < total < 1.3 * sight.flyer.weight_n


def test_a_larger_tube_holds_more(engine: Engine, craft: Project, sight: WingSight) -> None:
    edits = tuple(
        (f"parts.{p}.shape.{f}", v)
        for p, d in (("inner", 10.0), ("outer", 8.0), ("tip", 6.0))
        for f, v in (("spar_mm", d), ("spar_wall_mm", 1.0))
    )
    other = wing_sight(engine.memo, engine.evaluate(set_many(craft, edits)))
    assert other is not None
    assert other.spar.least[0].typical > 2 * sight.spar.least[0].typical
    assert other.spar.tip_mm < sight.spar.tip_mm
    assert other.spar.divergence_m_s > sight.spar.divergence_m_s
    grams = spar_g(wing_of(craft.part("inner")))[0]
    assert 0 < grams < 10


def test_reserve_goes_down_as_load_goes_up(sight: WingSight) -> None:
    h = sight.spar.half
    load = np.full(len(h.ei), 0.02)
    once, twice = (bent(h, k * load, 0 * load) for k in (1.0, 2.0))
    assert twice.down_mm == pytest.approx(2 * once.down_mm)
    a, b = (reserve_along(sight.spar.sections, x.moment_nmm)[0] for x in (once, twice))
    assert a[0] == pytest.approx(2 * b[0])


def test_low_usual_and_high_stand_in_order(sight: WingSight) -> None:
    low, usual, high = sight.spar.reserve
    assert (low <= usual + 1e-9).all()
    assert (usual <= high + 1e-9).all()


def test_a_fold_past_its_dead_point_is_closed_by_lift(engine: Engine) -> None:
    project = whimbrel()
    found = wing_sight(engine.memo, engine.evaluate(project))
    assert found is not None
    (fold,) = found.folds
    assert fold.share > 1
    assert fold.verdict == "fails"
    assert fold.force_n == pytest.approx(abs(fold.moment_nmm) / wing_of(fold.part).fold_arm_mm)
    over = wing_sight(engine.memo, engine.evaluate(set_at(project, "parts.outer.shape.fold_over_centre", True)))
    assert over is not None
    assert over.folds[0].share == 0


def test_sections_and_plan_for_pictures(judged: Evaluation, sight: WingSight) -> None:
    shown = panel_pictures(judged)
    assert {p.part_id for p in shown} == {"inner", "outer", "tip", "tail_plane"}
    for y in (80.0, 300.0, 600.0):
        picture = section_at(judged, sight, y)
        assert np.ptp(picture.outline_mm[:, 0]) == pytest.approx(float(np.interp(y, [60, 280, 505, 705], [190, 180, 165, 130])), rel=0.08)
        assert picture.tubes
    assert chord_at(wing_of(whimbrel().part("middle")), 0.5) == 200.0


# findings, targets, command


def test_cures_lead_home(engine: Engine) -> None:
    project = wheatear()
    found = {f.id: f for f in foresee(engine, engine.evaluate(project))}
    for name in ("wing.spar:craft", "wing.steady:craft"):
        assert name in found, name
    project = set_many(project, found["wing.steady:craft"].cures[0].edits)
    for _ in range(6):
        again = {f.id: f for f in foresee(engine, engine.evaluate(project))}
        if "wing.spar:craft" not in again:
            break
        project = set_many(project, again["wing.spar:craft"].cures[-1].edits)
    result = engine.evaluate(project)
    margins = {m.metric: m for m in result.margins}
    assert margins["spar_reserve"].verdict == "holds"
    assert margins["static_margin_pct"].value > 3.0  # type: ignore[operator]


def test_folded_propellers_fly_longer(engine: Engine) -> None:
    project = ruff()
    before = wing_sight(engine.memo, engine.evaluate(project))
    after = wing_sight(engine.memo, engine.evaluate(set_at(project, "flying.stopped_fold", True)))
    assert before is not None
    assert after is not None
    assert after.cruise_min > 1.1 * before.cruise_min
    assert after.alone.glide > before.alone.glide


def test_a_craft_without_a_wing_says_so(engine: Engine, project: Project) -> None:
    from fravik.model.project import Target

    asked = project.model_copy(update={"targets": (Target(id="stall", metric="stall_m_s", limit=9.0),)})
    (margin,) = engine.evaluate(asked).margins
    assert margin.verdict == "not known yet"
    assert "no wing" in margin.detail


def test_the_command_tells_the_wing(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    # what is foreseen, with every cure tried, has tests of its own
    monkeypatch.setattr("fravik.engine.foresee.foresight", lambda engine, result: {})
    assert main(["evaluate", "--demo", "ruff", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    for name in ("area_dm2", "aspect_ratio", "stall_m_s", "static_margin_pct", "spar_reserve", "tip_deflection_mm", "divergence_m_s"):
        assert name in data["wing"], name
    assert len(data["transition"]["corridor"]) == 40 * 30
    assert {"out", "back", "hover"} <= set(data["transition"])
    assert data["tilt"]["mass_centre_mm"]


def test_a_craft_without_a_wing_has_no_such_figures(engine: Engine, result: Evaluation) -> None:
    from fravik.engine.wingtables import aloft_data

    assert aloft_data(engine, result) == {}


# the stage


def test_the_stage_comes_with_a_wing(qapp: Any, window: Any) -> None:
    assert window.rail.buttons["Wing"].isHidden()
    assert window.rail.buttons["Transition"].isHidden()
    window.show_stage("Wing")
    view = window.view("Wing")
    assert view.stack.currentIndex() == 0
    view.first.click()
    assert until(qapp, lambda: view.known), "the wing was not worked out"
    assert not window.rail.buttons["Transition"].isHidden()
    assert view.stack.currentIndex() == 1
    part = window.session.project.part(view.part_id)
    assert part.shape.kind == "wing"
    assert part.count == 2
    view.plan.move_to(60.0)
    assert view.section.picture is not None
    assert "EI" in view.section_words.text()
    for name in ("Bending", "Deflection", "Twist", "Reserve"):
        view.spar.show_kind(name)
    view.add("tail_plane")
    assert until(qapp, lambda: view.known)
    window.session.undo()
    window.session.undo()
    assert until(qapp, lambda: window.rail.buttons["Transition"].isHidden())


def test_a_section_is_read_in_the_window(qapp: Any, window: Any, tmp_path: Path) -> None:
    window.show_stage("Wing")
    view = window.view("Wing")
    view.first.click()
    path = tmp_path / "slim.dat"
    path.write_text("slim\n" + "\n".join(f"{x:.5f} {y:.5f}" for x, y in four_digit(0.11, 0.03, 40)))
    view.own_section.read(path)
    assert wing_of(window.session.project.part(view.part_id)).section
    assert "11 %" in view.own_section.words.toolTip() or "11 %" in view.own_section.words.text()
    (tmp_path / "bad.dat").write_text("nothing here\n")
    view.own_section.read(tmp_path / "bad.dat")
    assert "points" in (view.own_section.words.toolTip() + view.own_section.words.text())
    view.own_section.drop()
    assert not wing_of(window.session.project.part(view.part_id)).section


def test_a_new_panel_fits_any_craft(engine: Engine, project: Project) -> None:
    for start in ("wing", "tail_plane", "fin"):
        part = part_for(start, project)
        made = project.model_copy(update={"parts": (*project.parts, part)})
        assert not [p for p in engine.problems(made) if p.severity == "error" and p.path.startswith(f"parts.{part.id}")]


def test_a_panel_is_cut_to_the_printer(engine: Engine, craft: Project) -> None:
    long = set_many(craft, (("parts.outer.shape.length_mm", 420.0),))
    found = {f.id: f for f in foresee(engine, engine.evaluate(long))}
    cut = set_many(long, found["wing.tall:outer"].cures[0].edits)
    pieces = [p for p in cut.parts if p.id.startswith("outer")]
    assert sum(wing_of(p).length_mm for p in pieces) == pytest.approx(420.0)
    assert wing_of(cut.part("tip")).on == pieces[1].id
    result = engine.evaluate(cut)
    assert not any(result.parts[p.id].bed_problem for p in pieces)
    whole, halves = (wing_sight(engine.memo, engine.evaluate(p)) for p in (long, cut))
    assert whole is not None
    assert halves is not None
    # the same wing: drawn in two it flies as it did
    assert halves.alone.stall_m_s == pytest.approx(whole.alone.stall_m_s, rel=0.01)
    assert halves.static_margin_pct == pytest.approx(whole.static_margin_pct, abs=1.5)


def test_rotors_at_the_tips_are_told(engine: Engine, craft: Project) -> None:
    from fravik.engine.wingpicture import tip_words

    short = set_many(
        craft, (("parts.inner.shape.length_mm", 190.0), ("parts.outer.shape.length_mm", 25.0), ("parts.tip.shape.length_mm", 21.0))
    )
    result = engine.evaluate(short)
    found = wing_sight(engine.memo, result)
    assert found is not None
    # the left one turns right, seen from above: against the vortex of the left tip
    assert "against" in tip_words(result, found)
    whole = wing_sight(engine.memo, engine.evaluate(craft))
    assert whole is not None
    assert tip_words(engine.evaluate(craft), whole) == ""
