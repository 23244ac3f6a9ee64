"""A new craft from a few wishes, on every layout: whole, printable, clash-free, and honest about what is not judged yet."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path
from typing import Any, get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtWidgets import QDialogButtonBox

from fravik.app.newcraftdialog import NewCraftDialog, layout_picture
from fravik.app.widgets.fold import told
from fravik.cli import main
from fravik.demo import tern
from fravik.engine.body import solve_pair
from fravik.engine.evaluate import Engine
from fravik.kinds import places_of, shape_input, shape_problems
from fravik.kinds.around import arm_ends, stations
from fravik.kinds.newcraft import Wish, relaid, sized
from fravik.kinds.newreasons import follows
from fravik.model.craft import LayoutKind
from fravik.model.paths import set_at, set_many
from fravik.shape.stations import ARRANGEMENTS
from fravik.store import project_to_json, read_json_file
from fravik.structure.member import LOADS
from fravik.study.levers import find_levers

LAYOUTS = tuple(k for k in get_args(LayoutKind) if k != "free")
ENGINE = Engine()


def test_every_layout_has_its_arrangement() -> None:
    assert set(LAYOUTS) == set(ARRANGEMENTS)


@pytest.mark.parametrize("kind", LAYOUTS)
def test_a_new_craft_flies_level_without_turning(kind: LayoutKind) -> None:
    project = sized(Wish(kind))
    every = stations(project)
    assert len(every) == ARRANGEMENTS[kind].rotors
    # three cannot cancel their torques: the tail leans for what is left
    assert sum(s.spin for s in every) == (0 if len(every) % 2 == 0 else -1)
    assert np.sum([s.at_mm[:2] for s in every], axis=0)[1] == pytest.approx(0.0, abs=1e-9)
    result = ENGINE.evaluate(project)
    assert result.allocation.short == ()
    assert result.allocation.hover_n.min() > 0
    known = {m.metric: m.value for m in result.margins}
    assert known["flying_mass_g"] is not None
    assert result.power.endurance_min > 5
    assert result.clearances.prop_to_prop_mm > 5
    assert result.clearances.prop_to_body_mm > 5
    arms = next(places_of(p, project) for p in project.parts if p.id == "arm")
    assert [p.follows for p in arms] == [s.id for s in arm_ends(project)]


def test_a_pair_on_an_arm_loads_it_with_both_and_twists_it_with_neither() -> None:
    x8 = sized(Wish("x8"))
    quad = set_many(x8, (*relaid(x8, "quad_x"), ("components.battery.mass_g", x8.components.battery.mass_g + 4 * 50.0)))
    pair, one = ENGINE.evaluate(x8), ENGINE.evaluate(quad)
    at = {k: i for i, k in enumerate(LOADS)}
    both, single = (r.members["arm"].combos["typical"] for r in (pair, one))
    assert both["hover"][at["fz"]] == pytest.approx(2 * pair.power.hover_thrust_n, rel=0.05)
    assert both["full_throttle"][at["fz"]] == pytest.approx(2 * pair.power.full_thrust_n)
    assert both["full_throttle"][at["mz"]] == 0.0
    assert single["full_throttle"][at["mz"]] == pytest.approx(one.power.full_torque_nmm)
    # in a hard yaw one of the pair speeds up and the other slows down
    assert both["hard_yaw"][at["fz"]] == pytest.approx(both["hover"][at["fz"]])
    assert both["hard_yaw"][at["mz"]] > 0
    # one motor out of step jerks as one motor does
    assert both["out_of_step"][at["mz"]] == pytest.approx(-x8.brief.out_of_step * pair.power.full_torque_nmm)
    # two motors at its end swing slower than one
    assert pair.members["arm"].answers["typical"].freqs_hz[0] < 0.8 * one.members["arm"].answers["typical"].freqs_hz[0]


@given(st.sampled_from(LAYOUTS), st.floats(110.0, 1100.0), st.floats(0.0, 2000.0))
def test_nothing_contradicts_itself_at_any_size(kind: LayoutKind, span: float, payload: float) -> None:
    try:
        project = sized(Wish(kind, motor_to_motor_mm=span, payload_g=payload))
    except ValueError as err:
        # many arms and a heavy load want room: in a small craft there is none, and that is said
        if span > 110.0 * math.sqrt(ARRANGEMENTS[kind].rotors) + 0.1 * payload:
            raise AssertionError(str(err)) from err
        return
    found = [p.message for part in project.parts for p in shape_problems(part, project) if p.severity == "error"]
    assert found == []
    assert [p.message for p in ENGINE.problems(project) if p.severity == "error"] == []


@given(st.sampled_from(LAYOUTS), st.floats(180.0, 400.0))
def test_a_craft_for_a_bed_fits_it_and_nearly_fills_it(kind: LayoutKind, bed: float) -> None:
    project = sized(Wish(kind, bed_mm=bed))
    assert project.printer.bed_x_mm == project.printer.bed_y_mm == bed
    boxes = [ENGINE.solid(shape_input(part, project)).bounding_box() for part in project.parts]
    longest = max(max(b[3] - b[0], b[4] - b[1]) for b in boxes)
    assert 0.75 * bed < longest < bed
    for part in project.parts:
        assert ENGINE.part(part, project).bed_problem is None, part.id


def test_a_wish_too_large_for_its_bed_is_refused_with_what_would_fit() -> None:
    with pytest.raises(ValueError, match="does not fit a bed of 150 mm") as told:
        sized(Wish("quad_x", motor_to_motor_mm=500.0, bed_mm=150.0))
    fits = float(str(told.value).split("about ")[1].split()[0])
    near = sized(Wish("quad_x", motor_to_motor_mm=0.97 * fits, bed_mm=150.0))  # "about": the pad does not shrink in proportion
    assert near.layout.motor_to_motor_mm == pytest.approx(0.97 * fits)


def test_propellers_that_meet_are_refused_with_the_way_out() -> None:
    with pytest.raises(ValueError, match="mm from motor to motor") as told:
        sized(Wish("hexa_x", motor_to_motor_mm=250.0, propeller_mm=127.0))
    wide = float(str(told.value).split(" or ")[1].split()[0])
    assert sized(Wish("hexa_x", motor_to_motor_mm=wide, propeller_mm=127.0)).components.propeller.diameter_mm == 127.0


def test_the_sizing_follows_what_is_wished() -> None:
    by_propeller = sized(Wish("octa_x", propeller_mm=200.0))
    ends = arm_ends(by_propeller)
    gap = min(math.dist(a.at_mm, b.at_mm) for i, a in enumerate(ends) for b in ends[i + 1 :]) - 200.0
    assert 0.07 * 200 < gap < 0.2 * 200
    heavy, light = (sized(Wish("hexa_x", payload_g=g)) for g in (1000.0, 0.0))
    assert heavy.components.motor.mass_g > light.components.motor.mass_g
    assert {b.id: b.mass_g for b in heavy.components.blocks}["payload"] == 1000.0
    assert sized(Wish(motor_g=20.0, battery_g=100.0)).components.motor.mass_g == 20.0


@pytest.mark.parametrize(
    "wish", [Wish(), Wish("hexa_x", bed_mm=220.0, payload_g=300.0), Wish("y6", propeller_mm=254.0), Wish("quad_x", 90.0, arms="frame")]
)
def test_what_is_left_open_is_told_with_its_reason_and_makes_the_same_craft_when_asked_for(wish: Wish) -> None:
    made = sized(wish)
    told = follows(wish, made)
    assert all(t.short and t.whole for t in told.values())
    asked = {name for name in ("motor_to_motor_mm", "propeller_mm", "bed_mm", "payload_g") if getattr(wish, name)}
    assert not asked & set(told)
    figures = {name: t.value for name, t in told.items() if t.value is not None}
    assert {"motor_g", "battery_g"} <= set(figures)
    again = sized(replace(wish, **figures))
    assert again.model_dump(exclude={"name"}) == made.model_dump(exclude={"name"})


def test_coaxial_rotors_hang_below_turn_against_and_cost_power() -> None:
    x8 = sized(Wish("x8"))
    every = stations(x8)
    for upper, lower in zip(every[0::2], every[1::2], strict=True):
        assert (upper.x_mm, upper.y_mm) == (lower.x_mm, lower.y_mm)
        assert lower.z_mm < upper.z_mm
        assert (upper.up, lower.up) == (1, -1)
        assert lower.spin == -upper.spin
    from fravik.power.drive import alike
    from fravik.power.momentum import power_figures

    apart, stacked = (power_figures(1500.0, x8.components, alike(x8.components, 8), (coaxial,) * 8) for coaxial in (False, True))
    assert 1.1 < stacked.hover_torque_nmm / apart.hover_torque_nmm < 1.3
    assert stacked.endurance_min < apart.endurance_min
    assert stacked.full_thrust_n < apart.full_thrust_n


@pytest.mark.parametrize("kind", LAYOUTS)
def test_a_craft_is_relaid_with_as_many_arms_and_back(kind: LayoutKind) -> None:
    other = set_many(tern(), relaid(tern(), kind))
    assert other.part("arm").count == len(ARRANGEMENTS[kind].arms)
    back = set_many(other, relaid(other, "quad_x"))
    assert not [p for p in ENGINE.problems(other) if "past the edge" in p.message]
    # plates that had to grow to hold the arms stay so, as nothing says how small they were
    kept = {(f"parts.{p}.shape.{n}", getattr(other.part(p).shape, n)) for p in ("bottom", "top") for n in ("length_mm", "width_mm")}
    assert back == set_many(tern(), tuple(kept))


@pytest.mark.parametrize("kind", LAYOUTS)
def test_every_layout_is_judged_whole(kind: LayoutKind) -> None:
    result = ENGINE.evaluate(sized(Wish(kind)))
    assert all(m.value is not None and m.low <= m.value <= m.high for m in result.margins)  # type: ignore[operator]
    assert set(result.members) == {"arm", "leg"}
    assert set(result.plates) == {"bottom", "top"}
    body = solve_pair(ENGINE.memo, result.project, result.parts)
    assert body is not None
    assert len(body.answer.roots) == len(ARRANGEMENTS[kind].arms)
    give = {c: body.root["arm"][c][4, 4] for c in ("low", "typical", "high")}
    assert give["low"] > give["typical"] > give["high"] > 0


def test_more_arms_of_one_kind_bend_less_under_the_same_craft() -> None:
    heavy = {k: sized(Wish(k, motor_to_motor_mm=400.0, propeller_mm=120.0, motor_g=40.0, battery_g=400.0)) for k in ("quad_x", "octa_x")}
    sag = {k: {m.metric: m.value for m in ENGINE.evaluate(p).margins}["tip_sag_mm"] for k, p in heavy.items()}
    hover = {k: ENGINE.evaluate(p).power.hover_thrust_n for k, p in heavy.items()}
    assert sag["octa_x"] < sag["quad_x"]  # type: ignore[operator]
    assert hover["octa_x"] < 0.75 * hover["quad_x"]


def test_nothing_is_thinned_out_where_strength_is_not_judged() -> None:
    # two plates below the arms are not judged
    project = sized(Wish("quad_x", motor_to_motor_mm=420.0))
    mixed = set_many(project, (("parts.bottom.count", 2),))
    mixed = set_many(mixed, (("targets.time.limit", 300.0),))
    base = ENGINE.scores(mixed)
    assert base is not None
    assert {m.metric for m in base.margins if m.verdict == "fails"} == {"print_minutes"}
    assert "lighter print" not in {lever.kind for lever in find_levers(mixed, base, ENGINE.scores)}


def test_the_wrong_number_of_arms_is_said() -> None:
    result = ENGINE.evaluate(set_at(sized(Wish("hexa_x")), "parts.arm.count", 5))
    assert any("the craft has 5 arms; Hexa X has 6" in p.message for p in result.problems)
    assert all(m.verdict == "not known yet" for m in result.margins if m.metric == "flying_mass_g")


def test_the_command_makes_a_file_that_opens(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["new", "--list"]) == 0
    listed = capsys.readouterr().out
    assert all(kind in listed for kind in LAYOUTS)
    target = tmp_path / "six.fravik"
    assert main(["new", "y6", "--propeller-mm", "200", "--payload-g", "300", "--name", "Six", "-o", str(target)]) == 0
    capsys.readouterr()
    assert main(["evaluate", str(target), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["project"] == "Six"
    assert len(data["rotors"]) == 6
    assert sum(p["part"] == "arm" for p in data["places"]) == 3
    assert all(m["value"] is not None for m in data["targets"])
    assert {"craft", "arm", "leg"} == {m["of"] for m in data["modes"]}


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["new", "banana", "-o", "x.fravik"], "no layout"), (["new", "-o", "x.fravik"], "no layout"), (["new", "quad_x"], "-o FILE"),
        (["new", "quad_x", "--propeller-mm", "nan", "-o", "x.json"], "no number over zero"),
        (["new", "quad_x", "--motor-to-motor-mm", "5000", "-o", "x.json"], "1200 mm"),
        (["new", "quad_x", "--name", "a\nb", "-o", "x.json"], "line break"),
    ],
)  # fmt: skip
def test_what_cannot_be_made_is_one_line(
    arguments: list[str], says: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    assert main(arguments) == 2
    told = capsys.readouterr().err
    assert says in told
    assert told.count("\n") == 1
    assert list(tmp_path.iterdir()) == []


def test_the_dialog_says_what_comes_of_the_wishes(qapp: Any) -> None:
    dialog = NewCraftDialog()
    assert dialog.kind() == "quad_x"
    assert "4 propellers" in dialog.summary.text()
    assert dialog.edits["motor_to_motor_mm"].placeholderText() == "250: a usual size"
    dialog.layouts.button(LAYOUTS.index("octa_x")).click()
    assert "8 propellers" in dialog.summary.text()
    dialog.edits["propeller_mm"].setText("254")
    dialog.edits["motor_to_motor_mm"].setText("300")
    assert "meet" in dialog.message.text()
    assert dialog.summary.text() == ""
    assert dialog.edits["motor_g"].placeholderText() == ""  # no craft, no figure
    dialog.buttons.button(QDialogButtonBox.StandardButton.Ok).click()
    assert dialog.project is None
    dialog.edits["motor_to_motor_mm"].setText("")
    dialog.edits["name"].setText("Eight")
    dialog.buttons.button(QDialogButtonBox.StandardButton.Ok).click()
    assert dialog.project is not None
    assert (dialog.project.name, dialog.project.layout.kind) == ("Eight", "octa_x")


def test_the_dialog_warns_of_parts_that_no_bed_takes(qapp: Any) -> None:
    dialog = NewCraftDialog()
    assert dialog.message.text() == ""
    dialog.edits["motor_to_motor_mm"].setText("900")
    # arms that are bought spare the bed; who wants them printed hears of it
    assert dialog.message.text() == ""
    assert dialog.arms.currentText() == "As fits: carbon tubes"
    assert "longer than the bed" in dialog.summary.text()
    dialog.arms.setCurrentIndex(dialog.arms.findData("arm"))
    assert "the bed is 220 × 220 mm" in dialog.message.text()
    assert "Arm takes" in dialog.message.text()
    assert "4 propellers" in dialog.summary.text()  # said, and made all the same
    dialog.edits["motor_to_motor_mm"].setText("300")
    assert dialog.message.text() == ""


@pytest.mark.parametrize(
    "wish", [Wish(motor_to_motor_mm=220.0), Wish(motor_to_motor_mm=450.0), Wish("y6"), Wish("hexa_x", payload_g=300.0)]
)
def test_drives_lift_the_craft_several_times_and_the_pack_feeds_them(wish: Wish) -> None:
    result = ENGINE.evaluate(sized(wish))
    assert 3.3 < result.power.thrust_to_weight < 6.0
    per_hour = result.power.pack_current_a / (result.project.components.battery.capacity_mah * 1e-3)
    assert per_hour < 30.0  # what good cells give for a while


def test_pictures_differ_by_layout(qapp: Any) -> None:
    images = [layout_picture(a, 48).toImage() for a in ARRANGEMENTS.values()]
    seen = {bytes(image.constBits().asarray(48 * 48 * 4)) for image in images}  # type: ignore[union-attr]
    # a true X is a quad X by another name
    assert len(seen) == len(ARRANGEMENTS) - 1


def test_another_layout_in_the_airframe_and_back(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    field = view.forms[0].fields["layout.kind"]
    before = window.session.project
    assert field.commit("x8")
    qapp.processEvents()
    assert len(stations(window.session.project)) == 8
    assert window.session.result.power.hover_thrust_n < ENGINE.evaluate(before).power.hover_thrust_n
    assert window.session.result.whole is not None
    for stage in ("Parts", "Vibration", "Brief", "Airframe"):
        window.show_stage(stage)
        qapp.processEvents()
    window.session.undo()
    assert window.session.project == before


def test_a_craft_written_before_there_were_layouts_is_a_quad_x(tmp_path: Path) -> None:
    data = json.loads(project_to_json(tern()))
    del data["layout"]["kind"]
    (tmp_path / "old.json").write_text(json.dumps(data))
    assert read_json_file(tmp_path / "old.json") == tern()


def test_large_figures_are_told_in_whole_numbers() -> None:
    toy = sized(Wish("quad_x", motor_to_motor_mm=60.0, arms="frame"))
    kv = toy.components.motor.kv_rpm_per_v
    assert kv >= 10_000
    assert told(toy, "components.motor") == f"{toy.components.motor.mass_g:g} g, {kv:.0f} rpm/V"
