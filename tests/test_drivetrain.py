"""The pack over its charge and its life, the drive from full to empty, what gets hot, and what is told of it."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import tern
from fravik.engine.drivetrain import climbs_m_s, drive_of
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.engine.foresee.figures import ABOUT, figures
from fravik.engine.foresee.heat import bench_s, board_c
from fravik.engine.foresee.pack import clock_min
from fravik.engine.results import Evaluation
from fravik.engine.rotors import CHARGED, EMPTY, power_at
from fravik.library.load import cell_sorts
from fravik.model.blade import PropellerShape
from fravik.model.craft import Battery, Components, Motor
from fravik.model.paths import set_many
from fravik.model.project import Project, Target
from fravik.power.bem import RHO
from fravik.power.blades import TIP_M_S, coefficients, family_shape, worked_out
from fravik.power.discharge import flight, under_power_v
from fravik.power.drawn import flown
from fravik.power.heat import BURNS_C, Work, burst_c, winding_c
from fravik.power.momentum import rpm_for_thrust
from fravik.power.pack import supply
from fravik.power.thermal import Network, after_c, seconds_to, steady_c
from fravik.store.text import project_from_json

With = Callable[[dict[str, Any]], Evaluation]


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="module")
def with_edits(engine: Engine) -> With:
    return lambda edits: engine.evaluate(set_many(tern(), tuple(edits.items())))


def packed(**fields: Any) -> Components:
    return Components(battery=Battery(**fields))


def told(engine: Engine, result: Evaluation) -> dict[str, str]:
    return {f.id: f.weight for f in foresee(engine, result)}


# the pack

charges = st.floats(300.0, 20000.0)


@given(charge=charges, cells=st.integers(1, 12), kind=st.sampled_from(sorted(cell_sorts())), power=st.floats(0.5, 8.0))
def test_a_pack_sags_more_the_more_is_drawn_and_gives_no_more_than_it_holds(charge: float, cells: int, kind: str, power: float) -> None:
    pack = supply(packed(capacity_mah=charge, cells=cells, cell_kind=kind))
    watts = power * charge * 1e-3 * cells  # some volts a cell at once its charge an hour
    volts = [under_power_v(pack, watts * f, 0.3) for f in (0.0, 0.5, 1.0)]
    assert volts[0] == pytest.approx(float(pack.rest_v(0.3)))
    assert volts[0] > volts[1] > volts[2]
    flown = flight(pack, watts)
    assert flown.lasts_min * watts / 60.0 <= pack.charge_as("typical") / 3600 * float(pack.rest_v(0.0))
    assert (np.diff(flown.volts) < 0).all()


@given(months=st.floats(0.0, 40.0), full=st.floats(0.0, 40.0), cycles=st.integers(0, 300), cold=st.floats(-15.0, 20.0))
def test_age_rest_and_cold_only_take(months: float, full: float, cycles: int, cold: float) -> None:
    new = supply(packed())
    old = supply(packed(age_months=months + full, full_months=full, cycles=cycles, start_c=cold))
    assert old.left.low <= old.left.typical <= old.left.high <= new.left.high
    assert old.ohm.typical >= new.ohm.typical - 1e-12
    assert flight(old, 150.0).lasts_min <= flight(new, 150.0).lasts_min + 1e-9


def test_a_cells_own_resistance_goes_before_the_usual_one() -> None:
    own = supply(packed(resistance_mohm=9.0, cells=4))
    assert own.ohm.typical == pytest.approx(0.036)
    assert own.ohm.low < own.ohm.typical < own.ohm.high < 1.3 * own.ohm.low * 1.1
    assert supply(packed(resistance_mohm=9.0, cells=4, start_c=2.0)).ohm.typical > own.ohm.typical


def test_round_cans_sag_where_pouches_do_not() -> None:
    pouch, can = (supply(packed(capacity_mah=4000.0, cell_kind=k)) for k in ("polymer", "cylinder"))
    assert under_power_v(can, 800.0, 0.3) < 0.9 * under_power_v(pouch, 800.0, 0.3)
    assert flight(can, 900.0).by_voltage


def test_a_flight_ends_by_voltage_or_by_charge() -> None:
    gentle, hard = flight(supply(packed()), 60.0), flight(supply(packed(stop_cell_v=3.7)), 200.0)
    assert not gentle.by_voltage
    assert hard.by_voltage
    assert hard.volts[-1] >= 6 * 3.7
    assert flight(supply(packed(capacity_mah=50.0)), 5000.0).lasts_min == 0.0


def test_a_typed_voltage_of_older_files_gives_way_to_the_packs_own() -> None:
    data = tern().model_dump(mode="json")
    data["components"]["battery"]["cell_volts"] = 3.6
    assert project_from_json(json.dumps(data)) == tern()


# heat


@given(
    watts=st.lists(st.floats(0.1, 20.0), min_size=2, max_size=4),
    out=st.floats(0.02, 2.0),
    path=st.floats(0.05, 5.0),
    air=st.floats(-20, 50),
)
def test_what_is_made_goes_out_and_no_lump_is_colder_than_the_air(watts: list[float], out: float, path: float, air: float) -> None:
    n = len(watts)
    between = np.diag(np.full(n - 1, path), 1)
    away = np.zeros(n)
    away[-1] = out
    net = Network(np.full(n, 10.0), np.array(watts), np.zeros(n), 20.0, away, between)
    t = steady_c(net, air)
    assert out * (t[-1] - air) == pytest.approx(sum(watts))
    assert t.min() >= air
    assert after_c(net, np.full(n, air), air, 1e6) == pytest.approx(t, rel=1e-6, abs=1e-6)
    half = (air + t[0]) / 2
    when = seconds_to(net, np.full(n, air), air, 0, half, 1e6)
    assert when is not None
    assert after_c(net, np.full(n, air), air, when)[0] == pytest.approx(half, abs=1e-3)


def test_a_winding_whose_copper_outgrows_its_cooling_has_no_end() -> None:
    burning = winding_c(Motor(resistance_mohm=900.0), Work(400.0, 12.0, 1.0), 25.0)
    assert burning.typical == BURNS_C
    fine = winding_c(Motor(), Work(4.0, 12.0, 6.0), 25.0)
    assert 25.0 < fine.low < fine.typical < fine.high < 120.0
    assert burst_c(Motor(), Work(4.0, 12.0, 6.0), Work(400.0, 20.0, 12.0), 25.0).typical > fine.typical


# the drive


def test_what_is_drawn_is_what_the_pack_gives(with_edits: With) -> None:
    """Current and voltage at full throttle agree with each other, whatever the charge."""
    result = with_edits({})
    pack = supply(result.project.components)
    for drawn in (CHARGED, 0.5, EMPTY):
        p = power_at(result, drawn)
        assert p.full_volts == pytest.approx(
            float(pack.rest_v(drawn * pack.to_use())) - pack.ohm_at("typical") * p.pack_current_a, rel=1e-6
        )
        assert p.full_volts < p.hover_volts
    full, empty = power_at(result, CHARGED), power_at(result, EMPTY)
    assert full.thrust_to_weight > result.power.thrust_to_weight > empty.thrust_to_weight
    assert full.hover_throttle < empty.hover_throttle


def test_rotors_warm_with_the_work_they_do(with_edits: With) -> None:
    light, heavy = (drive_of(with_edits({"components.blocks.stack.mass_g": g})) for g in (40.0, 600.0))
    assert heavy.hottest.hover_c.typical > light.hottest.hover_c.typical
    weak = drive_of(with_edits({"components.motor.resistance_mohm": 600.0}))
    assert weak.hottest.hover_c.typical > light.hottest.hover_c.typical


def test_shaking_propellers_make_motors_hotter_by_way_of_the_loop(with_edits: With) -> None:
    worn, fine = (drive_of(with_edits({"components.propeller.balance": b})) for b in ("worn", "balanced"))
    assert worn.hottest.buzz_c is not None
    assert fine.hottest.buzz_c is not None
    assert worn.hottest.hover_c == fine.hottest.hover_c
    assert worn.hottest.buzz_c.typical > fine.hottest.buzz_c.typical
    assert fine.hottest.buzz_c.typical >= fine.hottest.hover_c.typical


@pytest.mark.parametrize(("field", "what"), [("motor.most_a", "motor"), ("motor.controller_a", "controller"), ("battery.plug_a", "plug")])
def test_every_limit_of_current_is_told_where_it_is_passed(engine: Engine, with_edits: With, field: str, what: str) -> None:
    name = f"drive.limit:components.{field}"
    asked = next(x for x in drive_of(with_edits({f"components.{field}": 1.0})).limits if x.what == what).asked_a
    assert told(engine, with_edits({f"components.{field}": asked * 0.5}))[name] == "grave"
    assert told(engine, with_edits({f"components.{field}": asked * 0.9}))[name] == "likely"
    assert name not in told(engine, with_edits({f"components.{field}": asked * 1.05}))
    assert name not in told(engine, with_edits({}))  # what is not known is not judged


def test_a_label_counts_where_there_is_one(engine: Engine, with_edits: With) -> None:
    assert "drive.current" not in told(engine, with_edits({}))
    assert told(engine, with_edits({"components.battery.rated_c": 15.0}))["drive.current"] == "likely"
    assert told(engine, with_edits({"components.battery.rated_c": 5.0}))["drive.current"] == "grave"


def test_an_old_pack_that_reads_full_is_told_with_what_is_left(engine: Engine, with_edits: With) -> None:
    new, old = with_edits({}), with_edits({"components.battery.age_months": 24.0, "components.battery.full_months": 18.0})
    assert "pack.aged" not in told(engine, new)
    (found,) = [f for f in foresee(engine, old) if f.id == "pack.aged"]
    assert found.weight == "likely"
    assert f"set the clock to {clock_min(old):.0f} min" in found.advice
    assert clock_min(old) < clock_min(new)
    assert drive_of(old).empty.thrust_to_weight < drive_of(new).empty.thrust_to_weight


def test_a_pack_that_nobody_watches_and_a_cold_one_are_told_with_a_cure(engine: Engine, with_edits: With) -> None:
    for field, value, name in (("voltage_seen", False, "pack.unseen"), ("start_c", -5.0, "pack.cold")):
        result = with_edits({f"components.battery.{field}": value})
        (found,) = [f for f in foresee(engine, result) if f.id == name]
        assert name not in told(engine, engine.evaluate(set_many(result.project, found.cures[0].edits)))


def test_a_voltage_that_ends_the_flight_early_is_told(engine: Engine, with_edits: With) -> None:
    assert "pack.early" not in told(engine, with_edits({}))
    assert "pack.early" in told(engine, with_edits({"components.battery.stop_cell_v": 3.8}))


def test_thrust_that_is_there_at_first_only_is_told(engine: Engine, with_edits: With) -> None:
    tired = {"components.battery.resistance_mohm": 60.0, "components.battery.stop_cell_v": 2.6}
    result = with_edits(tired)
    assert drive_of(result).empty.thrust_to_weight < result.power.thrust_to_weight
    heavier = with_edits({**tired, "components.blocks.stack.mass_g": 260.0})
    assert ("drive.end" in told(engine, heavier)) == (
        heavier.power.thrust_to_weight >= 1.8 and drive_of(heavier).worst_empty.thrust_to_weight < 1.8
    )


def test_boards_cool_in_moving_air_and_warm_when_closed_in(engine: Engine, with_edits: With) -> None:
    def camera(**fields: Any) -> Evaluation:
        return with_edits({f"components.blocks.camera.{k}": v for k, v in fields.items()})

    calm, hot, closed = camera(power_w=2.0), camera(power_w=8.0), camera(power_w=8.0, closed_in=True)
    block = [next(b for b in r.project.components.blocks if b.id == "camera") for r in (calm, hot, closed)]
    temperatures = [board_c(r, b).typical for r, b in zip((calm, hot, closed), block, strict=True)]
    assert temperatures[0] < temperatures[1] < temperatures[2]
    waits = [bench_s(r, b) for r, b in zip((calm, hot), block, strict=False)]
    assert waits[1] is not None
    assert waits[0] is None or waits[0] > waits[1]
    assert "heat.board:camera" in told(engine, closed) or "heat.bench:camera" in told(engine, closed)


def test_targets_on_the_drive_are_answered(engine: Engine) -> None:
    asked: tuple[tuple[str, Any, float], ...] = (
        ("hot", "motor_temp_c", 60.0),
        ("amps", "top_current_a", 200.0),
        ("left", "thrust_left", 1.0),
    )
    result = engine.evaluate(with_targets(asked))
    by = {m.metric: m for m in result.margins}
    train = drive_of(result)
    assert by["motor_temp_c"].value == pytest.approx(train.hottest.hottest_c.typical)
    assert by["motor_temp_c"].verdict == "fails"
    assert by["top_current_a"].value == pytest.approx(train.top_a)
    assert by["thrust_left"].low < train.worst_empty.thrust_to_weight < by["thrust_left"].high
    assert by["thrust_left"].verdict == "holds"


def with_targets(asked: tuple[tuple[str, Any, float], ...]) -> Project:
    more = tuple(Target(id=i, metric=m, limit=v) for i, m, v in asked)
    return set_many(tern(), (("targets", (*tern().targets, *more)),))


def test_airframe_and_data_tell_the_drive(engine: Engine, capsys: pytest.CaptureFixture[str]) -> None:
    result = engine.evaluate(tern())
    shown = figures(engine, result)
    assert set(shown) <= set(ABOUT)
    assert shown["Top current"].startswith(f"{drive_of(result).top_a:.0f} A")
    assert main(["evaluate", "--demo", "tern", "--json"]) == 0
    drive = json.loads(capsys.readouterr().out)["drive"]
    assert drive["pack"]["minutes"] == pytest.approx(result.power.endurance_min)
    assert len(drive["rotors"]) == 4
    assert all(math.isfinite(v) for r in drive["rotors"] for v in r["winding_hover_c"])
    assert [x["what"] for x in drive["limits"]] == ["pack"]


# blades by their family

sizes = st.tuples(st.floats(40.0, 500.0), st.floats(0.35, 0.75), st.integers(2, 6), st.sampled_from(["slim", "usual", "broad"]))


@given(sizes, st.floats(1.02, 1.15))
def test_more_pitch_blades_or_chord_push_more_and_no_blade_beats_the_ideal(size: tuple[float, float, int, str], more: float) -> None:
    diameter, pitch, blades, family = size
    one = coefficients(diameter, pitch * diameter, blades, family)
    assert 0.02 < one.thrust < 0.6
    assert 0.2 < one.merit < 1.0
    assert one.merit == pytest.approx(one.thrust**1.5 / (one.power * math.sqrt(math.pi / 2)), rel=1e-6)  # the same in a propeller's terms
    steeper = coefficients(diameter, more * pitch * diameter, blades, family)
    assert steeper.power > one.power
    assert steeper.thrust > one.thrust or more * pitch > 0.75  # steeper yet, a blade that stands still in the air stalls
    assert coefficients(diameter, pitch * diameter, blades + 1, family).thrust > one.thrust
    assert one.moving[2] < one.moving[1] < one.moving[0] == 1.0


@given(sizes)
def test_a_larger_propeller_of_the_same_form_is_no_worse(size: tuple[float, float, int, str]) -> None:
    """Its sections meet a higher Reynolds number at the same tip speed."""
    diameter, pitch, blades, family = size
    one, twice = (coefficients(k * diameter, k * pitch * diameter, blades, family) for k in (1, 2))
    assert twice.merit > one.merit
    assert twice.thrust == pytest.approx(one.thrust, rel=0.35)


@given(st.floats(25.0, 760.0), st.floats(0.1, 1.8), st.integers(2, 6), st.sampled_from(["slim", "usual", "broad"]))
def test_the_table_of_families_is_the_model(diameter: float, share: float, blades: int, family: str) -> None:
    read, made = (of(diameter, share * diameter, blades, family) for of in (coefficients, worked_out))
    assert read.thrust == pytest.approx(made.thrust, rel=0.01)
    assert read.merit == pytest.approx(made.merit, rel=0.015)
    assert read.moving == pytest.approx(made.moving, rel=0.015, abs=0.015)


@given(sizes.filter(lambda size: size[0] > 140.0))
def test_a_family_flies_as_one_drawn_by_the_same_laws(size: tuple[float, float, int, str]) -> None:
    """Bought and printed are told by one model: a drawn propeller with the family's sections, as smooth, flies the same."""
    diameter, pitch, blades, family = size
    law = family_shape(diameter, pitch * diameter, blades, family)
    same = {k: getattr(law, k) for k in ("outline", "chord_share", "camber", "root_thickness", "tip_thickness", "least_mm", "edge_mm")}
    drawn = PropellerShape(
        diameter_mm=diameter, pitch_mm=pitch * diameter, blades=blades, hub_diameter_mm=law.hub_diameter_mm, root_fillet_mm=9.0, **same
    )
    n, d = TIP_M_S / (math.pi * diameter * 1e-3), diameter * 1e-3
    there, one = flown(drawn, np.array([60 * n]), 0.0, 1.0), worked_out(diameter, pitch * diameter, blades, family)
    assert there.thrust_n[0] == pytest.approx(one.thrust * RHO * n**2 * d**4)
    assert there.power_w[0] == pytest.approx(one.power * RHO * n**3 * d**5)


def test_a_family_gives_what_is_not_typed(engine: Engine, with_edits: With) -> None:
    typed, usual = with_edits({}), with_edits({"components.propeller.family": "usual"})
    p = usual.project.components.propeller
    own = coefficients(p.diameter_mm, p.pitch_mm, p.blades, "usual")
    got = usual.power.hardest
    assert rpm_for_thrust(got.full_thrust_n, own.thrust, p.diameter_mm) == pytest.approx(got.full_rpm)
    assert typed.power.full_rpm != usual.power.full_rpm
    # nothing typed counts then
    other = with_edits({"components.propeller.family": "usual", "components.propeller.thrust_coefficient": 0.2})
    assert other.power.hardest == usual.power.hardest


def test_it_climbs_as_fast_as_its_thrust_lets_it(engine: Engine, with_edits: With) -> None:
    def climbs(**more: Any) -> float:
        result = with_edits({f"components.{k}": v for k, v in more.items()})
        return climbs_m_s(result, result.power)

    usual = climbs()
    assert usual > climbs(**{"blocks.stack.mass_g": 500.0}) > 0
    assert climbs(**{"propeller.pitch_mm": 140.0}) > usual
    assert climbs(**{"blocks.stack.mass_g": 4500.0}) == 0.0
    assert figures(engine, with_edits({}))["Climbs, full to empty"].endswith("m/s")
