"""Arms of bought bar in printed clamps, and parts that are cut from plate."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import pytest
from conftest import until
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import dunlin, redshank, tern
from fravik.engine.evaluate import Engine
from fravik.engine.export import export_all
from fravik.engine.foresee import run_findings
from fravik.engine.onit import what_is_on_it
from fravik.engine.results import Evaluation, Refused
from fravik.engine.ruler import WORST, reserves_of
from fravik.engine.settle import settle
from fravik.engine.why import why
from fravik.kinds import build_solid, is_printed, places_of, printed_parts
from fravik.kinds.newcraft import Wish, sized
from fravik.kinds.rearm import rearmed
from fravik.library import filament, stock_material, stock_materials
from fravik.model.paths import set_many
from fravik.model.project import OwnCase, Project
from fravik.model.shapes import BarArmShape, MotorHolderShape
from fravik.shape.bararm import motor_holder_solid
from fravik.shape.build import ShapeInput
from fravik.structure.fasteners import screw_hold
from fravik.structure.loadcases import own_key

FORMS = ("tube", "square_tube", "rod", "square_rod", "channel")


@pytest.fixture(scope="module")
def barred() -> Project:
    return sized(Wish("quad_x", motor_to_motor_mm=450.0, arms="bar_arm"))


@pytest.fixture(scope="module")
def found(engine: Engine, barred: Project) -> Evaluation:
    return engine.evaluate(barred)


def changed(engine: Engine, project: Project, **edits: Any) -> Evaluation:
    """With fields of the bar's shape and joint changed."""
    paths = [(f"parts.bar.{k.replace('__', '.')}", v) for k, v in edits.items()]
    return engine.evaluate(set_many(project, tuple(paths)))


def lowest(result: Evaluation) -> float:
    return min(m.freq_hz for m in result.modes if m.part_id == "bar")


def test_a_craft_on_bars_is_judged_whole(found: Evaluation) -> None:
    assert not found.scope.structure
    assert not found.scope.unknown
    assert all(m.value is not None for m in found.margins)
    assert all("not judged" not in m.detail for m in found.margins)
    bar = found.parts["bar"]
    assert bar.figures.minutes == 0.0
    assert not bar.printed
    shape = bar.part.shape
    assert isinstance(shape, BarArmShape)
    # a tube weighs its wall's area over its whole length
    area = math.pi * (shape.outer_mm - shape.wall_mm) * shape.wall_mm
    long = bar.given.length_mm + shape.tongue_length_mm + shape.holder_grip_mm / 2
    assert bar.grams == pytest.approx(area * long * stock_material(shape.material).density_g_cm3.typical * 1e-3, rel=0.01)
    assert bar.cost == pytest.approx(bar.grams * 1e-3 * stock_material(shape.material).price_per_kg, rel=1e-6)


def test_its_blocks_follow_the_bar(found: Evaluation, engine: Engine, barred: Project) -> None:
    for block in ("clamp", "holder"):
        at = {p.follows for p in places_of(barred.part(block), barred)}
        assert at == {p.follows for p in places_of(barred.part("bar"), barred)}
    wider = changed(engine, barred, shape__outer_mm=16.0, shape__root_height_mm=24.0, shape__tongue_width_mm=36.0)
    assert wider.parts["clamp"].mass.mass_g > found.parts["clamp"].mass.mass_g
    assert wider.parts["holder"].mass.mass_g > found.parts["holder"].mass.mass_g


def test_thicker_is_stiffer_and_softer_clamps_are_felt(found: Evaluation, engine: Engine, barred: Project) -> None:
    thick = changed(engine, barred, shape__wall_mm=2.0)
    assert lowest(thick) > lowest(found)
    # the same tube held in a plastic a fifth as stiff turns more at its root
    soft = engine.evaluate(set_many(barred, (("parts.clamp.recipe.filament", "pla_foam"),)))
    stiff, slack = (r.members["bar"].answers["typical"].springs.stiffness for r in (found, soft))
    assert (slack[2:] < stiff[2:]).all()
    assert lowest(soft) < lowest(found)
    other = engine.evaluate(set_many(barred, (("parts.leg.recipe.filament", "pla"),)))
    assert (other.members["bar"].answers["typical"].springs.stiffness == stiff).all()


def twisted(project: Project, moment_nmm: float) -> Project:
    """With a case of the maker's own that twists the bar's end."""
    case = OwnCase(id="twist", name="twist", part="bar", position_mm=400.0, force_z_n=0.0, moment_x_nmm=moment_nmm)
    return set_many(project, (("brief.own_cases", (case,)),))


def test_a_motor_holder_slips_round_a_tube_and_not_round_a_square(engine: Engine, barred: Project) -> None:
    bar = barred.part("bar")
    hold = screw_hold(bar.joint, filament(barred.part("holder").recipe.filament), "typical", barred.part("holder").recipe, True)
    # what two screws' friction holds: on each half of the bore, at the bar's radius
    grip = bar.joint.clamp_screws * hold.preload_n * bar.joint.friction * bar.shape.outer_mm  # type: ignore[union-attr]
    key = own_key(OwnCase(id="twist"))
    just = engine.evaluate(twisted(barred, grip)).members["bar"].cases["typical"][key]
    assert just.reserve == pytest.approx(1.0, rel=0.15)  # the plastic in service is a little weaker than its table's
    assert (just.kind, just.detail) == ("joint", "the motor holder slips")
    loose = engine.evaluate(twisted(barred, 2 * grip))
    shown = reserves_of(loose, "bar", key)
    assert shown is not None
    assert "the motor holder slips" in why(loose, "bar", shown)
    square = engine.evaluate(set_many(twisted(barred, 2 * grip), (("parts.bar.shape.form", "square_tube"),)))
    assert square.members["bar"].cases["typical"][key].reserve > 2.0


def test_slipping_breaks_nothing_in_a_crash(engine: Engine, barred: Project) -> None:
    loose, firm = (changed(engine, barred, joint__tightness=t).members["bar"].breaks["typical"]["arm_strike"] for t in (0.001, 0.3))
    assert loose.speed_m_s == pytest.approx(firm.speed_m_s, rel=1e-6)


def test_a_clamp_that_pinches_says_how_far_to_tighten(engine: Engine, barred: Project) -> None:
    tight = changed(engine, barred, joint__tightness=1.0, joint__clamp_screws=4, joint__screw="M5", shape__wall_mm=0.5)
    said = [p for p in tight.problems if p.path == "parts.bar.joint.tightness"]
    assert len(said) == 1
    share = float(said[0].message.split("tighten to ")[1].split("%")[0]) / 100 - 0.01
    eased = changed(engine, barred, joint__tightness=share, joint__clamp_screws=4, joint__screw="M5", shape__wall_mm=0.5)
    assert not [p for p in eased.problems if p.path == "parts.bar.joint.tightness"]
    # a rod has no wall to pinch
    rod = changed(engine, barred, joint__tightness=1.0, joint__clamp_screws=4, joint__screw="M5", shape__form="rod",
                  shape__material="spruce")  # fmt: skip
    assert not [p for p in rod.problems if p.path == "parts.bar.joint.tightness"]


@pytest.mark.parametrize(
    ("edits", "words"),
    [
        ({"shape.form": "channel"}, "not sold as channel"),
        ({"shape.wall_mm": 8.0}, "nothing hollow"),
        ({"shape.root_height_mm": 13.0}, "of plastic over the bar"),
        ({"shape.tongue_width_mm": 18.0}, "within"),
        ({"shape.holder_grip_mm": 120.0, "shape.length_mm": 60.0}, "reaches back"),
        ({"shape.tongue_length_mm": 80.0}, "meet in the middle"),
    ],
)  # fmt: skip
def test_what_cannot_be_built_is_refused_in_words(engine: Engine, barred: Project, edits: dict[str, Any], words: str) -> None:
    with pytest.raises(Refused) as err:
        engine.evaluate(set_many(barred, tuple((f"parts.bar.{k}", v) for k, v in edits.items())))
    assert any(words in p.message for p in err.value.problems)


@pytest.mark.parametrize("missing", ["clamp", "holder"])
def test_a_bar_without_its_blocks_is_refused(engine: Engine, barred: Project, missing: str) -> None:
    without = barred.model_copy(update={"parts": tuple(p for p in barred.parts if p.id != missing)})
    with pytest.raises(Refused, match="bar"):
        engine.evaluate(without)


@given(st.sampled_from(FORMS), st.floats(4.0, 40.0), st.floats(0.5, 3.0), st.floats(30.0, 500.0))
def test_bars_are_closed_solids_of_their_sections_volume(form: str, outer: float, wall: float, length: float) -> None:
    wall = min(wall, outer / 2 - 0.6)
    bar = BarArmShape(form=form, outer_mm=outer, wall_mm=wall, material="aluminium")  # type: ignore[arg-type]
    hole = outer - 2 * wall
    area = {"tube": math.pi / 4 * (outer**2 - hole**2), "square_tube": outer**2 - hole**2, "rod": math.pi / 4 * outer**2,
            "square_rod": outer**2, "channel": outer**2 - hole * (outer - wall)}[form]  # fmt: skip
    solid = build_solid(ShapeInput(bar, length, None))
    assert solid.volume() == pytest.approx(area * (length + bar.tongue_length_mm + bar.holder_grip_mm / 2), rel=2e-3)
    assert len(solid.decompose()) == 1


def test_arms_are_changed_for_bars_and_back(engine: Engine) -> None:
    printed = sized(Wish("y6", motor_to_motor_mm=500.0))
    bars = rearmed(printed, "bar_arm")
    assert [p.shape.kind for p in bars.parts].count("bar_arm") == 1
    assert bars.part("bar").count == 3
    result = engine.evaluate(bars)
    assert result.members["bar"].cases
    # what lies on the upper plate moved with it
    assert bars.components.battery.z_mm - printed.components.battery.z_mm == pytest.approx(
        bars.part("bar").shape.root_height_mm - printed.part("arm").shape.root_height_mm  # type: ignore[union-attr]
    )
    back = rearmed(bars, "arm")
    assert sorted(p.shape.kind for p in back.parts) == sorted(p.shape.kind for p in printed.parts)
    assert back.components == printed.components


def test_clamps_and_holders_print_as_they_start(engine: Engine) -> None:
    for craft in (rearmed(tern(), "bar_arm"), redshank(), rearmed(dunlin(), "bar_arm")):
        blocks = {p.name for p in craft.parts if p.shape.kind in ("root_clamp", "motor_holder")}
        assert len(blocks) == sum(p.shape.kind in ("root_clamp", "motor_holder") for p in craft.parts)  # told apart
        grave = [f.what for f in run_findings(settle(engine, craft)) if f.where in blocks and f.weight == "grave"]
        assert not grave, craft.name


@given(st.floats(1.2, 12.0), st.floats(6.0, 20.0), st.booleans(), st.sampled_from(FORMS))
def test_the_motor_sits_on_its_seat_and_on_nothing_else(rise_mm: float, outer_mm: float, both: bool, form: Any) -> None:
    bar = BarArmShape(form=form, outer_mm=outer_mm, seat_rise_mm=rise_mm, root_height_mm=28.0)
    holder = motor_holder_solid(MotorHolderShape(), bar, both)
    _, _, low, _, _, high = holder.bounding_box()
    assert high == pytest.approx(bar.face_mm, abs=1e-6)
    if both:
        assert low == pytest.approx(bar.root_height_mm - bar.face_mm, abs=1e-6)
    assert len(holder.decompose()) == 1


def test_one_of_two_kinds_of_arm_can_be_bars(engine: Engine) -> None:
    mixed = rearmed(dunlin(), "bar_arm", ("tail_arm",) if any(p.id == "tail_arm" for p in dunlin().parts) else (dunlin().parts[1].id,))
    kinds = [p.shape.kind for p in mixed.parts]
    assert "arm" in kinds
    assert "bar_arm" in kinds
    result = engine.evaluate(mixed)
    assert {m.member.shape.kind for m in result.members.values()} >= {"arm", "bar_arm"}
    assert result.whole is not None


def test_bars_are_cut_not_printed(engine: Engine, barred: Project, found: Evaluation, tmp_path: Path) -> None:
    assert not is_printed(barred.part("bar"))
    settled = settle(engine, barred)
    assert "bar" not in settled.jobs
    assert set(settled.jobs) == {p.id for p in printed_parts(barred)}
    files = {f.name: f for f in export_all(engine, found, tmp_path)}
    assert "bar_x4.stl" in files
    sheet = next(f for n, f in files.items() if n.endswith("sheet.html")).read_text()
    assert "Cut from" in sheet
    assert "Carbon, rolled tube" in sheet
    assert "×2000" not in sheet


def test_the_tree_hangs_blocks_on_their_bar(found: Evaluation) -> None:
    bar = next(n for n in what_is_on_it(found) if n.part_id == "bar")
    assert {n.part_id for n in bar.children} >= {"clamp", "holder"}


def test_a_plate_cut_from_carbon_is_stiffer_and_prints_in_no_time(engine: Engine, barred: Project, found: Evaluation) -> None:
    cut = engine.evaluate(set_many(barred, (("parts.bottom.cut_from", "carbon_plate"),)))
    ratio = cut.plates["bottom"].ei_nmm2.max() / found.plates["bottom"].ei_nmm2.max()
    printed = found.parts["bottom"].filament.e_road_mpa.typical
    # solid carbon against a printed plate that is no stiffer than its own roads
    assert ratio > 55000.0 / printed * 0.9
    assert cut.parts["bottom"].figures.minutes == 0.0
    assert cut.parts["bottom"].mass.mass_g == pytest.approx(cut.parts["bottom"].field.outer.areas_mm2()[0] * 3.2 * 1.52e-3, rel=0.01)
    for edit in (("parts.bottom.cut_from", "spruce"), ("parts.leg.cut_from", "marble"), ("parts.holder.cut_from", "carbon_plate")):
        with pytest.raises(Refused):
            engine.evaluate(set_many(barred, (edit,)))


def test_every_stock_material_names_its_basis_and_is_not_a_filament() -> None:
    from fravik.library import filaments

    assert not set(stock_materials()) & set(filaments())
    for m in stock_materials().values():
        assert m.basis
        assert m.note
        assert m.forms


def test_parts_view_of_a_bar_offers_no_printing(qapp: Any, barred: Project) -> None:
    from fravik.app.window import MainWindow

    window = MainWindow(barred)
    window.show()
    window.show_stage("Parts")
    view = window.view("Parts")
    view.open_part("bar")
    assert [view.pages.button(i).isVisible() for i in range(4)] == [True, False, False, False]
    assert "cut from" in view.note.text()
    assert "cut, not printed" in view.total.text()
    assert "Carbon, rolled tube" in view.controls.current.stock_note.text()
    view.controls.show_tab(1)
    field = view.controls.forms["shape"].fields["parts.bar.shape.form"]
    field.box.setCurrentIndex(field.box.findData("square_tube"))
    field.box.activated.emit(field.box.currentIndex())
    assert until(qapp, lambda: window.session.project.part("bar").shape.form == "square_tube")
    # and back to printed arms by the menu
    view.open_part("bar")
    view.add_part("arm")
    assert [p.shape.kind for p in window.session.project.parts].count("bar_arm") == 0
    view.open_part("arm")
    assert view.pages.button(1).isVisible()
    view.add_part("bar_arm")
    assert not {"arm"} & {p.shape.kind for p in window.session.project.parts}
    view.open_part("bottom")
    made = view.controls.forms["made"].fields["parts.bottom.cut_from"]
    made.box.setCurrentIndex(made.box.findData("carbon_plate"))
    made.box.activated.emit(made.box.currentIndex())
    assert until(qapp, lambda: not view.pages.button(1).isVisible())
    assert window.session.result is not None
    assert reserves_of(window.session.result, "bottom", WORST) is not None
    window.close()
