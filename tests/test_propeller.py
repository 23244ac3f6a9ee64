"""Printed propellers: blades, air, spinning, hubs, readings, findings, the command and the stage."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtTest import QTest

from fravik.cli import main
from fravik.demo import turnstone
from fravik.demo.turnstone import READ
from fravik.engine.betterblade import better_blades, power_w, scaled
from fravik.engine.evaluate import Engine
from fravik.engine.export import export_all
from fravik.engine.foresee import foresee
from fravik.engine.propeller import PropellerSight, may_it_spin, propellers, sight_of
from fravik.engine.propellertables import propeller_data, propeller_text
from fravik.engine.propellerways import lies_of, ways_out
from fravik.engine.results import Refused
from fravik.engine.spun import lets_go, spun
from fravik.kinds import places_of
from fravik.kinds.measuring import by_hand, drawn_from, other_hand
from fravik.kinds.newpart import part_for
from fravik.kinds.printedblades import drawn, is_propeller
from fravik.kinds.propeller.checks import propeller_problems
from fravik.library import filaments_of
from fravik.model.blade import BladeStation, PropellerShape, Reading, ThrustReading
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.plan.templates import sections
from fravik.power.drawn import disk_m2, flown, rotor
from fravik.shape.blade import blade_mm3, blade_of, hub_mm3, propeller_solid
from fravik.shape.build import loose_pieces
from fravik.shape.measured import blade_from
from fravik.store.fileproblem import FileProblem
from fravik.store.readings import COLUMNS, read_readings, read_stand
from fravik.structure.pressfit import Elastic, pressures_mpa


@st.composite
def shapes(draw: st.DrawFn) -> PropellerShape:
    """Any propeller that is not refused."""
    wide = draw(st.floats(25.0, 760.0))
    bore = draw(st.sampled_from(("round", "flat", "hex", "screws")))
    hub = min(max(draw(st.floats(0.08, 0.25)) * wide, 5.0), 80.0)
    made = PropellerShape(
        diameter_mm=wide, blades=draw(st.integers(2, 6)), pitch_mm=min(max(draw(st.floats(0.3, 1.3)) * wide, 10.0), 500.0),
        outline=draw(st.sampled_from(("slim", "usual", "broad"))), chord_share=draw(st.floats(0.05, 0.4)),
        camber=draw(st.floats(0.0, 0.08)),
        root_thickness=draw(st.floats(0.05, 0.25)), tip_thickness=draw(st.floats(0.04, 0.15)), least_mm=draw(st.floats(0.5, 1.5)),
        hub_diameter_mm=hub, hub_height_mm=min(max(0.05 * wide, 3.0), 40.0), bore=bore, bore_mm=min(max(0.3 * hub, 0.8), 20.0),
        flat_mm=max(0.25 * hub, 0.5), screw_circle_mm=min(max(0.6 * hub, 3.0), 40.0), screw_hole_mm=min(max(0.08 * hub, 0.8), 5.0),
        turns=draw(st.sampled_from(("anticlockwise", "clockwise"))), root_swell=draw(st.floats(1.0, 2.5)),
    )  # fmt: skip
    return made if not any(p.severity == "error" for p in propeller_problems(made, "")) else PropellerShape(diameter_mm=178.0)


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="module")
def craft() -> Project:
    return turnstone()


@pytest.fixture(scope="module")
def wide(engine: Engine, craft: Project) -> PropellerSight:
    return sight_of(engine, craft, "wide")


def made(engine: Engine, craft: Project, **edits: Any) -> PropellerSight:
    """The wide blade with some fields changed; dots in names are double underscores."""
    changed = set_many(craft, tuple((f"parts.wide.{k.replace('__', '.')}", v) for k, v in edits.items()))
    return sight_of(engine, changed, "wide")


# the blade


@settings(max_examples=20)
@given(shapes())
def test_every_propeller_is_one_closed_solid_as_heavy_as_its_sections(shape: PropellerShape) -> None:
    solid = propeller_solid(shape)
    assert solid.status().name == "NoError"
    assert loose_pieces(solid) == 1
    low, high = solid.bounding_box()[:3], solid.bounding_box()[3:]
    assert max(high[0], -low[0]) <= shape.radius_mm + 0.2 * shape.radius_mm  # a swept blade's corner
    # the blades beyond the hub and the hub; what they share within its height is counted in neither
    told = hub_mm3(shape) + shape.blades * blade_mm3(shape)[0]
    assert solid.volume() == pytest.approx(told, rel=0.25)


def test_the_other_hand_is_the_mirror() -> None:
    shape = PropellerShape()
    a, b = propeller_solid(shape), propeller_solid(shape.model_copy(update={"turns": "clockwise"}))
    assert (a.mirror((0.0, 1.0, 0.0)) - b).volume() < 1e-3 * a.volume()
    # it leads with the edge that stands higher
    blade = blade_of(shape)
    assert (np.diff(blade.angle_rad) <= 1e-12).all()
    assert float(blade.angle_rad[20]) == pytest.approx(math.atan2(shape.pitch_mm, 2 * math.pi * float(blade.radius_mm[20])))


def test_positions_by_hand_draw_the_same_blade() -> None:
    shape = PropellerShape()
    again = by_hand(shape)
    assert len(again.stations) == 8
    a, b = blade_of(shape), blade_of(again)
    inner = (a.radius_mm > 20) & (a.radius_mm < 80)
    assert b.chord_mm[inner] == pytest.approx(a.chord_mm[inner], rel=0.03)
    assert np.degrees(b.angle_rad[inner]) == pytest.approx(np.degrees(a.angle_rad[inner]), abs=0.5)


def test_what_contradicts_itself_is_refused_at_its_field(engine: Engine, craft: Project) -> None:
    for field, value in (("hub_diameter_mm", 5.0), ("diameter_mm", 100.0)):
        changed = set_many(craft, ((f"parts.wide.shape.{field}", value),))
        with pytest.raises(Refused) as err:
            engine.evaluate(changed)
        assert err.value.problems[0].path == f"parts.wide.shape.{field}"
    flat = PropellerShape(bore="flat", flat_mm=5.5, bore_mm=5.2)
    assert any(p.path == "flat_mm" for p in propeller_problems(flat, ""))


# the air


@settings(max_examples=60)
@given(shapes(), st.floats(5.0, 220.0), st.floats(0.0, 0.9))
def test_blades_and_stream_always_agree(shape: PropellerShape, tip_m_s: float, advance: float) -> None:
    rpm = np.array([tip_m_s / (shape.radius_mm * 1e-3) * 60 / (2 * math.pi)])
    f = flown(shape, rpm, advance * shape.pitch_mm * 1e-3 * rpm / 60)
    assert f.agreed.all()
    assert np.isfinite(f.thrust_n).all()
    assert np.isfinite(f.torque_nm).all()
    still = flown(shape, rpm)
    assert 0 < float(still.merit(disk_m2(shape))[0]) < 1
    # momentum: what every ring pushes is what its stream gains, with its loss and swirl
    r = rotor(shape).r_m
    assert still.push_n_m.shape == (1, len(r))
    if float(still.to_stall_rad.min()) > math.radians(3.0):  # flight along the shaft takes from it, but where it mends a stall
        assert float(f.thrust_n[0]) <= float(still.thrust_n[0]) * (1 + 1e-3)


def test_broader_blades_push_more_and_rougher_ones_cost_more() -> None:
    rpm, shape = np.array([6000.0]), PropellerShape()
    broad = shape.model_copy(update={"chord_share": 0.26})
    assert flown(broad, rpm).thrust_n[0] > flown(shape, rpm).thrust_n[0]
    assert flown(shape, rpm, 0.0, 1.3).power_w[0] > flown(shape, rpm, 0.0, 1.0).power_w[0]
    assert flown(shape, 1.1 * rpm).thrust_n[0] == pytest.approx(1.21 * flown(shape, rpm).thrust_n[0], rel=0.03)


def test_in_a_duct_tips_lose_nothing() -> None:
    rpm, shape = np.array([7000.0]), PropellerShape()
    free, ducted = flown(shape, rpm), flown(shape.model_copy(update={"ducted": True}), rpm)
    assert ducted.thrust_n[0] > free.thrust_n[0]
    assert ducted.push_n_m[0, -1] > 1.3 * free.push_n_m[0, -1]
    assert ducted.agreed.all()


# spinning


def test_a_blade_holds_until_it_does_not(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    g = wide.lets_go
    assert g.spread.low < g.spread.typical < g.spread.high
    blade = spun(engine.memo, engine.part(craft.part("wide"), craft))
    for speed, holds in ((0.97 * g.spread.typical, True), (1.03 * g.spread.typical, False)):
        assert (lets_go(blade, speed).at.reserve > 1) == holds
    assert g.spin_alone_rpm is not None
    assert g.allowed < g.weak
    # a printed blade that spins rings higher
    assert blade.modes_hz(6000.0)[0] > blade.modes_hz(0.0)[0]


def test_stood_on_end_it_fails_where_lying_it_holds(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    assert wide.part.recipe.lies == "on_end"
    assert wide.verdict == "fails"
    assert wide.lets_go.kind == "layer split"
    flat = made(engine, craft, recipe__lies="flat")
    assert flat.verdict == "holds"
    assert flat.proof_rpm > flat.printed.most_rpm
    assert wide.proof_rpm < wide.printed.most_rpm
    assert flat.struck.holds_n.typical > wide.struck.holds_n.typical
    assert wide.rough.typical < flat.rough.typical  # what it was stood on end for
    coarse = made(engine, craft, recipe__lies="flat", recipe__layer_height_mm=0.28)
    assert coarse.rough.typical > flat.rough.typical
    assert may_it_spin(wide)[0].startswith("No")
    assert may_it_spin(flat)[0].startswith("It may spin")


def test_hands_turn_alike(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    left = sight_of(engine, craft, "wide_left")
    assert left.lets_go.spread.typical == pytest.approx(wide.lets_go.spread.typical, rel=0.01)
    assert left.lets_go.untwist_deg == pytest.approx(wide.lets_go.untwist_deg, abs=0.05)
    assert left.hz == pytest.approx(wide.hz, rel=0.01)


def test_a_soft_blade_gives_its_pitch_away(engine: Engine, craft: Project) -> None:
    assert made(engine, craft, recipe__filament="tpu", recipe__lies="flat").gives_way


def test_heat_softens_hubs_and_makes_blades_droop(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    hot = sight_of(engine, set_many(craft, (("brief.service_temp_c", 55.0), ("brief.sun", True))), "wide")
    assert hot.hub_c > wide.hub_c + 25
    assert hot.hub_softens
    assert not wide.hub_softens
    assert hot.droop_mm > 1.3 * wide.droop_mm > 0
    assert hot.lets_go.spread.typical < wide.lets_go.spread.typical


def test_ways_are_spun_and_the_cheapest_that_is_enough_comes_first(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    lies = {w.title: w for w in lies_of(engine, craft, wide)}
    assert lies["Standing, root down"].allowed_rpm == pytest.approx(wide.lets_go.allowed)
    assert lies["Standing, root down"].verdict == wide.verdict
    ways = ways_out(engine, craft, wide)
    assert ways
    assert ways[0].allowed_rpm >= wide.printed.most_rpm
    after = sight_of(engine, set_many(craft, ways[0].edits), "wide")
    assert after.lets_go.allowed == pytest.approx(ways[0].allowed_rpm)
    assert after.verdict == "holds"


# folding blades, rings


def folding(piece: str, **edits: Any) -> PropellerShape:
    return PropellerShape(piece=piece, hub_diameter_mm=16.0, hub_height_mm=9.0, pivot_mm=18.0, eye_mm=10.0, **edits)


@given(st.integers(2, 4), st.floats(14.5, 24.0), st.sampled_from(("anticlockwise", "clockwise")))
@settings(max_examples=8)
def test_a_blade_swings_between_its_cheeks(blades: int, pivot: float, turns: str) -> None:
    pieces = {k: folding(k, blades=blades, turns=turns).model_copy(update={"pivot_mm": pivot}) for k in ("blade", "hub")}
    blade, hub = (propeller_solid(pieces[k]) for k in ("blade", "hub"))
    for solid in (blade, hub):
        assert solid.status().name == "NoError"
        assert loose_pieces(solid) == 1
    back = blade.translate((-pivot, 0.0, 0.0))
    for angle in (0.0, 25.0, 60.0):
        way = angle if turns == "clockwise" else -angle  # behind its turn
        swung = back.rotate((0.0, 0.0, way)).translate((pivot, 0.0, 0.0))
        assert (swung ^ hub).volume() < 1.0, angle
    told = hub_mm3(pieces["hub"]) + blades * blade_mm3(pieces["blade"])[0]
    assert hub.volume() + blades * blade.volume() == pytest.approx(told, rel=0.25)


def test_folding_blades_are_judged_at_their_eyes(engine: Engine, craft: Project) -> None:
    small = {
        "shape__piece": "blade",
        "shape__stations": (),
        "shape__pivot_mm": 20.0,
        "shape__eye_mm": 10.0,
        "recipe__lies": "flat",
        "count": 4,
    }
    thick, thin = made(engine, craft, **small), made(engine, craft, **{**small, "shape__eye_mm": 5.2})
    assert thin.lets_go.spread.typical < thick.lets_go.spread.typical
    assert thin.lets_go.kind == "the eye at its pin"
    assert 0 < thick.lag_deg < 15
    blade = thick.spun
    # the pull at its pin by hand: everything beyond it
    assert blade.eye_rpm("low") < blade.eye_rpm("typical") < blade.eye_rpm("high")
    two = set_many(craft, (("parts.wide.shape.piece", "blade"), ("parts.wide.shape.stations", ()), ("parts.wide.shape.pivot_mm", 20.0),
                           ("parts.wide.count", 4)))  # fmt: skip
    assert len(places_of(two.part("wide"), two)) == 4  # two blades on each of two rotors
    assert not is_propeller(set_many(two, (("parts.wide.shape.piece", "hub"),)).part("wide"))


def test_a_ring_fits_the_hub_it_is_made_for(engine: Engine, craft: Project) -> None:
    ring = part_for("ring", craft)
    assert filaments_of(craft)[ring.recipe.filament].flexible
    shape = drawn(craft.part("wide"))
    assert ring.shape.outer_mm == pytest.approx(shape.bore_mm + 2 * shape.bush_mm + shape.bush_grip_mm)  # type: ignore[union-attr]
    with_it = engine.evaluate(set_many(craft, (("parts", (*craft.parts, ring)),)))
    assert with_it.craft.mass_g == pytest.approx(engine.evaluate(craft).craft.mass_g)
    assert with_it.parts["ring"].grams > 0.1
    bad = ring.model_copy(update={"shape": ring.shape.model_copy(update={"inner_mm": 7.9})})
    with pytest.raises(Refused):
        engine.evaluate(set_many(craft, (("parts", (*craft.parts, bad)),)))


# on the shaft


@given(st.floats(0.02, 0.3), st.floats(20.0, 200.0), st.floats(1.2, 3.0))
def test_a_tighter_bush_presses_harder(grip: float, soft: float, more: float) -> None:
    bush, hub = Elastic(soft, 0.45), Elastic(1900.0, 0.38)
    a, b = pressures_mpa(5.0, 8.0, 18.0, bush, hub, grip, grip), pressures_mpa(5.0, 8.0, 18.0, bush, hub, more * grip, more * grip)
    assert b == pytest.approx((more * a[0], more * a[1]))
    assert min(a) > 0
    stiffer = pressures_mpa(5.0, 8.0, 18.0, Elastic(more * soft, 0.45), hub, grip, grip)
    assert stiffer[0] > a[0]


def test_hubs_hold_less_when_warm_and_later(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    g = wide.grip
    assert g.room_nmm is not None
    assert g.warm_nmm is not None
    assert g.warm_nmm.typical < g.room_nmm.typical
    loose = made(engine, craft, shape__bush_mm=0.0, shape__bore_mm=5.2)
    assert loose.grip.warm_nmm is None
    assert "0.30 mm wider" in loose.grip.unknown
    locked = made(engine, craft, shape__bush_mm=0.0, shape__bore="flat", shape__flat_mm=4.0)
    assert locked.grip.warm_nmm is not None
    assert made(engine, craft, shape__bush_mm=0.0, shape__bore="hex", shape__flat_mm=7.0).grip.warm_nmm.low > locked.grip.warm_nmm.low  # type: ignore[union-attr]


# on the craft


def test_it_flies_in_place_of_the_bought_one(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    printed = engine.evaluate(craft)
    bought = engine.evaluate(set_many(craft, (("parts.wide.shape.in_use", False), ("parts.wide_left.shape.in_use", False))))
    assert printed.power.endurance_min == pytest.approx(wide.printed.endurance_min, rel=1e-6)
    assert bought.power.endurance_min == pytest.approx(wide.bought.endurance_min, rel=1e-6)
    assert printed.power.hover_rpm < bought.power.hover_rpm  # which is what it was drawn for
    # four of it in place of four bought ones
    told = printed.craft.mass_g - bought.craft.mass_g
    assert told == pytest.approx(4 * (wide.grams - craft.components.propeller.mass_g), rel=0.08)


def test_one_hand_alone_flies_on_its_own_rotors_only(engine: Engine, craft: Project) -> None:
    half = engine.evaluate(set_many(craft, (("parts.wide_left.shape.in_use", False),)))
    speeds = sorted({round(r.hover_rpm) for r in half.power.rotors})
    assert len(speeds) == 2


def test_what_will_go_wrong_is_foreseen_and_cured(engine: Engine, craft: Project) -> None:
    found = {f.id: f for f in foresee(engine, engine.evaluate(craft))}
    assert found["blade.spin:wide"].weight == "grave"
    assert found["blade.spin:wide"].stage == "Propeller"
    flat = set_many(craft, tuple((f"parts.{k}.recipe.lies", "flat") for k in ("wide", "wide_left")))
    assert not any(f.id.startswith("blade.spin") for f in foresee(engine, engine.evaluate(flat)))
    none = set_many(craft, tuple((f"parts.{k}.shape.in_use", False) for k in ("wide", "wide_left")))
    assert not any(f.id.startswith("blade.") for f in foresee(engine, engine.evaluate(none)))


@pytest.mark.parametrize(("typed", "finding", "words"), [
    ({"shape.bush_mm": 0.0, "shape.bore_mm": 5.4, "shape.shaft_mm": 4.9}, "loose", "not known"),
    ({"shape.bush_mm": 0.0, "shape.bore_mm": 4.9, "shape.shaft_mm": 5.0, "shape.hub_height_mm": 2.0}, "slips", "after a month"),
    ({"shape.bush_mm": 0.0, "shape.bore_mm": 4.0, "shape.shaft_mm": 5.0}, "splits", "as hard as it may be"),
    ({"recipe.filament": "pla", "temp": 50.0}, "soft", "softens at"),
    ({"shape.stations": (), "shape.pitch_mm": 330.0}, "stall", "is stalled"),
])  # fmt: skip
def test_each_way_to_go_wrong_is_told(engine: Engine, craft: Project, typed: dict[str, Any], finding: str, words: str) -> None:
    edits = {f"parts.{k}.{field}": v for k in ("wide", "wide_left") for field, v in typed.items() if field != "temp"}
    if "temp" in typed:
        edits["brief.service_temp_c"] = typed["temp"]
    found = {f.id: f for f in foresee(engine, engine.evaluate(set_many(craft, tuple(edits.items()))))}
    assert words in found[f"blade.{finding}:wide"].why
    assert f"blade.{finding}:wide" not in {f.id for f in foresee(engine, engine.evaluate(craft))}


def test_a_balancers_reading_feeds_the_shake(engine: Engine, craft: Project, wide: PropellerSight) -> None:
    def shake(gmm: float) -> float:
        both = tuple((f"parts.{k}.shape.unbalance_gmm", gmm) for k in ("wide", "wide_left"))
        result = engine.evaluate(set_many(craft, both))
        assert result.whole is not None
        return float(result.whole.shake.over(np.array([5000.0])).gyro_dps[1, 0, 0])

    assert not wide.balance.measured
    assert shake(wide.balance.gmm) == pytest.approx(shake(1.0) * wide.balance.gmm, rel=0.15)  # but for blades that lift unequally
    assert shake(20.0) == pytest.approx(2 * shake(10.0), rel=0.02)
    assert made(engine, craft, shape__unbalance_gmm=0.5).balance.measured


def test_in_flight_a_blade_pushes_less_up_to_where_it_screws_through_the_air(wide: PropellerSight) -> None:
    flight = wide.in_flight
    assert (np.diff(flight.thrust_n[1]) < 0).mean() > 0.9
    pitch_speed = wide.spun.shape.pitch_mm * 1e-3 * wide.printed.most_rpm / 60
    assert 0.8 * pitch_speed < flight.no_thrust_m_s <= 1.25 * pitch_speed + 1e-9
    best, at = flight.best
    assert 0.3 < best < 0.9
    assert 0 < at < flight.no_thrust_m_s


# readings


def test_a_wrong_reading_is_named_and_left_out(craft: Project) -> None:
    shape = craft.part("bought").shape
    assert isinstance(shape, PropellerShape)
    found = blade_from(shape.readings, shape.radius_mm)
    assert [(a.number, a.what) for a in found.apart] == [(5, "angle")]
    right = replace(found)
    mended = [r.model_copy(update={"leading_mm": 9.0}) if k == 4 else r for k, r in enumerate(shape.readings)]
    again = blade_from(mended, shape.radius_mm)
    assert not again.apart
    assert again.pitch_low_mm < right.pitch_mm < again.pitch_high_mm
    with pytest.raises(ValueError, match="4 readings"):
        blade_from(mended[:3], shape.radius_mm)


@given(st.floats(60.0, 200.0), st.floats(0.7, 1.8), st.integers(6, 12), st.floats(0.1, 0.3))
def test_a_blade_without_noise_is_found_back(tip: float, pitch: float, n: int, share: float) -> None:
    r = np.linspace(0.25 * tip, 0.95 * tip, n)
    angle = np.arctan(pitch * tip / (2 * math.pi * r))
    read = [Reading(radius_mm=float(a), chord_mm=share * tip, leading_mm=2 + share * tip * math.sin(b), trailing_mm=2.0,
                    thickness_mm=1.5) for a, b in zip(r, angle, strict=True)]  # fmt: skip
    found = blade_from(read, tip)
    assert found.pitch_mm == pytest.approx(pitch * tip, rel=1e-6)
    assert not found.apart
    drawn = drawn_from(PropellerShape(diameter_mm=2 * tip, hub_diameter_mm=0.2 * tip, readings=tuple(read)))
    at = blade_of(drawn).at(np.array([0.7 * tip]))
    assert math.degrees(float(at.angle_rad[0])) == pytest.approx(math.degrees(math.atan(pitch / (2 * math.pi * 0.7))), abs=0.3)


def table(path: Path, rows: list[str]) -> Path:
    path.write_text("\n".join([",".join(COLUMNS), *rows]), encoding="utf-8")
    return path


def test_tables_of_readings_say_what_is_wrong_with_them(tmp_path: Path) -> None:
    good = table(tmp_path / "good.csv", [",".join(map(str, r)) for r in READ])
    assert len(read_readings(good)) == len(READ)
    for rows, what in ((["24,abc,3,2,1"], "line 2"), (["24,15,3,2"], "line 2"), (["24,15,3,2,900"], "line 2")):
        with pytest.raises(FileProblem, match=what):
            read_readings(table(tmp_path / "bad.csv", rows))
    (tmp_path / "none.csv").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(FileProblem, match="no column"):
        read_readings(tmp_path / "none.csv")


def test_a_thrust_stand_takes_the_place_of_what_was_computed(engine: Engine, craft: Project, wide: PropellerSight, tmp_path: Path) -> None:
    rpm = (3000.0, 4500.0, 6000.0)
    pushes = flown(wide.spun.shape, np.array(rpm)).thrust_n
    path = tmp_path / "stand.csv"
    path.write_text("rpm;thrust_n\n" + "\n".join(f"{n};{0.8 * t}" for n, t in zip(rpm, pushes, strict=True)), encoding="utf-8")
    stand = read_stand(path)
    weak = made(engine, craft, shape__stand=stand)
    ratio = weak.printed.hover_rpm / wide.printed.hover_rpm
    assert ratio == pytest.approx(math.sqrt(1 / 0.8), rel=0.03)
    assert weak.printed.endurance_min < wide.printed.endurance_min
    assert weak.lets_go.spread.typical == pytest.approx(wide.lets_go.spread.typical)  # strength is of the blade as drawn
    # what was computed, measured: nothing changes
    told = flown(wide.spun.shape, np.array(rpm))
    rows = zip(rpm, told.thrust_n.tolist(), told.power_w.tolist(), strict=True)
    same = tuple(ThrustReading(rpm=n, thrust_n=t, power_w=p) for n, t, p in rows)
    again = made(engine, craft, shape__stand=same)
    assert again.printed.endurance_min == pytest.approx(wide.printed.endurance_min, rel=0.03)


def test_a_better_blade_is_better_when_it_is_made(engine: Engine, craft: Project) -> None:
    narrow = sight_of(engine, set_many(craft, (("parts.bought.shape.pitch_mm", 160.0), ("parts.bought.shape.stations", ()))), "bought")
    project = set_many(craft, (("parts.bought.shape", narrow.part.shape),))
    found = better_blades(engine, project, narrow)
    assert found
    after = sight_of(engine, set_many(project, found[0].edits), "bought")
    assert after.printed.endurance_min == pytest.approx(found[0].endurance_min)
    assert after.printed.endurance_min > 1.01 * narrow.printed.endurance_min
    assert scaled(PropellerShape(), 1.2, 1.1).pitch_mm == pytest.approx(122.4)
    # fast flight wants more pitch than hover
    fast = set_many(
        craft, (("parts.bought.shape.cruise_m_s", 20.0), ("parts.bought.shape.cruise_n", 1.5), ("parts.bought.shape.stations", ()))
    )
    flies = sight_of(engine, fast, "bought")
    (best, *_) = better_blades(engine, fast, flies)
    assert best.power_w < power_w(flies.spun.shape, 0.0)
    assert drawn(set_many(fast, best.edits).part("bought")).pitch_mm > flies.spun.shape.pitch_mm


# scripts


def test_the_command_tells_the_same(capsys: Any, wide: PropellerSight) -> None:
    assert main(["propeller", "--demo", "turnstone", "--json"]) == 0
    told = {p["part"]: p for p in json.loads(capsys.readouterr().out)["propellers"]}
    assert set(told) == {"bought", "wide", "wide_left"}
    assert told["wide"]["spin"]["lets_go_rpm"]["typical"] == pytest.approx(wide.lets_go.spread.typical)
    assert told["wide"] == json.loads(json.dumps(propeller_data(wide)))
    assert main(["propeller", "--demo", "turnstone", "--part", "wide"]) == 0
    assert capsys.readouterr().out.strip() == propeller_text(wide)
    assert main(["propeller", "--demo", "tern"]) == 2
    assert "no printed propeller" in capsys.readouterr().err


def test_the_command_makes_a_blade_from_readings(tmp_path: Path, capsys: Any) -> None:
    source = table(tmp_path / "read.csv", [",".join(map(str, r)) for r in READ])
    assert main(["propeller", "--measured", str(source), "-o", str(tmp_path / "blade.json")]) == 0
    out = capsys.readouterr().out
    assert "reading 5 stands apart" in out
    assert main(["propeller", str(tmp_path / "blade.json")]) == 0
    assert "do not spin" in capsys.readouterr().out.lower()
    assert main(["propeller", "--measured", str(source)]) == 2


def test_sections_leave_at_their_size(engine: Engine, craft: Project, tmp_path: Path) -> None:
    files = export_all(engine, engine.evaluate(craft), tmp_path, ("sections.svg", "sections.dxf", "measuring.pdf"), ("wide", "arm"))
    assert sorted(f.name for f in files) == ["wide-measuring.pdf", "wide-sections.dxf", "wide-sections.svg"]
    shape = craft.part("wide").shape
    assert isinstance(shape, PropellerShape)
    doc = ezdxf.readfile(tmp_path / "wide-sections.dxf")
    lines = list(doc.modelspace().query("LWPOLYLINE"))
    assert len(lines) == len(sections(shape))
    for line, (radius, _) in zip(lines, sections(shape), strict=True):
        there = blade_of(shape).at(np.array([radius]))
        points = np.array([p[:2] for p in line.get_points()])
        reach = np.hypot(*(points[:, None] - points[None]).transpose(2, 0, 1)).max()
        assert reach == pytest.approx(float(there.chord_mm[0]), rel=0.02)
    assert (tmp_path / "wide-sections.svg").read_text().count("<polygon") == len(lines)
    assert (tmp_path / "wide-measuring.pdf").read_bytes().startswith(b"%PDF")


# the stage


def test_in_the_window(window: Any, qapp: Any) -> None:
    window.show_stage("Propeller")
    view, session = window.view("Propeller"), window.session
    assert view.stack.currentIndex() == 0
    view.first.click()
    assert view.stack.currentIndex() == 1
    (part,) = propellers(session.project)
    assert until(qapp, lambda: view.sight is not None and view.sight.part.id == part.id)
    assert may_it_spin(view.sight)[0] == view.verdict_card.words.text()
    assert until(qapp, lambda: bool(view._lies))
    view.tabs.setCurrentIndex(1)
    assert until(qapp, lambda: view._found is not None and view._better is not None)
    view.turn_colour()
    assert view.plan.by_stall
    view.lift.turn.click()
    assert "in flight" in view.lift.title.text()
    view.lift.turn.click()
    view.move_by_hand()
    shape = session.project.part(part.id).shape
    assert len(shape.stations) == 8
    view.move_station(3, BladeStation(**{**shape.stations[3].model_dump(), "chord_mm": 25.0}))
    assert session.project.part(part.id).shape.stations[3].chord_mm == 25.0
    assert until(qapp, lambda: view.sight is not None and view.sight.part == session.project.part(part.id))
    view.add_other_hand()
    assert {p.shape.turns for p in propellers(session.project)} == {"anticlockwise", "clockwise"}
    session.undo()
    assert len(propellers(session.project)) == 1
    assert other_hand(session.project.part(part.id), session.project).shape.turns == "clockwise"


def test_readings_are_typed_and_drawn(window: Any, qapp: Any, tmp_path: Path) -> None:
    window.show_stage("Propeller")
    view, session = window.view("Propeller"), window.session
    view.add()
    page = view.readings
    page.add()
    page.draw()
    assert "4 readings" in page.told.text()
    session.edit(f"parts.{view.part_id}.shape.diameter_mm", 216.0)
    page.read_file(table(tmp_path / "read.csv", [",".join(map(str, r)) for r in READ]))
    assert page.table.rowCount() == len(READ)
    page.table.item(4, 2).setText("9.0")
    assert page.shape().readings[4].leading_mm == 9.0
    page.table.item(4, 1).setText("wide")
    assert "Chord of row 5" in page.told.text()
    page.draw()
    assert len(page.shape().stations) == len(READ)
    assert until(qapp, lambda: view.sight is not None and view.sight.part.shape == page.shape())
    page.table.setCurrentCell(0, 0)
    page.remove()
    assert len(page.shape().readings) == len(READ) - 1


def test_a_photograph_lies_with_its_axis_on_the_axis_and_its_tip_on_the_tip(window: Any, qapp: Any, tmp_path: Path) -> None:
    window.show_stage("Propeller")
    view = window.view("Propeller")
    view.add()
    assert until(qapp, lambda: view.sight is not None)
    picture = QImage(800, 600, QImage.Format.Format_RGB32)
    picture.fill(QColor("white"))
    picture.save(str(tmp_path / "above.png"))
    (tmp_path / "text.png").write_text("no picture")
    assert "no picture" in view.lay_photograph(tmp_path / "text.png")
    view.lay_photograph(tmp_path / "above.png")
    plan = view.plan
    room = QRectF(plan.rect())
    k, corner = plan.photo.fitted(room)
    for at in (QPointF(100, 500), QPointF(700, 100)):
        spot = corner + k * at
        QTest.mouseClick(plan, Qt.MouseButton.LeftButton, pos=spot.toPoint())
    assert not plan.photo.asks
    scale, axis = plan._scale()
    tip = scale * view.sight.spun.shape.radius_mm
    laid = plan.photo.laid(axis, tip, False)
    assert (laid.map(QPointF(100, 500)) - axis).manhattanLength() < 4 / k
    assert (laid.map(QPointF(700, 100)) - axis - QPointF(tip, 0)).manhattanLength() < 4 / k
    plan.grab()
    view.open_part(view.part_id)
    assert plan.photo is None


def test_the_rail_does_not_call_good_what_is_not_judged_yet(window: Any, qapp: Any) -> None:
    window.open_demo("turnstone")
    mark = window.rail.buttons["Propeller"]
    assert mark.verdict == "not known yet"
    window.foresight.look()
    assert until(qapp, lambda: mark.verdict == "fails")
    edits = tuple((f"parts.{k}.recipe.lies", "flat") for k in ("wide", "wide_left"))
    window.session.edit_many(edits, "flat")
    assert mark.verdict == "not known yet"
    window.foresight.look()
    assert until(qapp, lambda: mark.verdict == "holds")
