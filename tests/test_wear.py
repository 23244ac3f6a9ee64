"""What the shake does over hours and to what stands on rubber: spots, fatigue, screws that let go, soft feet, the map of speeds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import dunlin, redshank, tern
from fravik.engine.evaluate import Engine
from fravik.engine.fatigue import end_forces, lives
from fravik.engine.foresee import foresee, tried
from fravik.engine.foresee.shaken import lets_through
from fravik.engine.foresee.wear import LONG_H, SHORT_H, creeps, hours_in_words
from fravik.engine.results import Evaluation
from fravik.engine.ring import ring_of
from fravik.engine.shake import BLADE_AT, UNEQUAL
from fravik.engine.speedmap import harmless, speed_map
from fravik.engine.spots import felt_at, spots_of
from fravik.engine.tables import as_data
from fravik.library.load import filament
from fravik.model.paths import set_many
from fravik.power.pulse import LEAST, blade_pass_share
from fravik.structure.craft.response import acceleration
from fravik.structure.fatigue import alternating, cycles, damage, relaxed
from fravik.structure.softmount import SoftMount
from fravik.study.findings import Finding

With = Callable[[dict[str, Any]], Evaluation]
ARM = "parts.arm.shape."
# holds every load once, and rings where its propellers shake it
SHARP = {ARM + "tip_width_mm": 7.0, ARM + "tip_height_mm": 6.0, ARM + "pad_fillet_mm": 0.5, "components.propeller.balance": "worn"}


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="module")
def with_edits(engine: Engine) -> With:
    return lambda edits: engine.evaluate(set_many(tern(), tuple(edits.items())))


def by_id(engine: Engine, result: Evaluation) -> dict[str, Finding]:
    return {f.id: f for f in foresee(engine, result)}


# what every spot feels


def test_a_motor_moves_as_newton_says(engine: Engine) -> None:
    """What passes an arm's end is the rotor's push less what moves its motor and the holder under it; the arm's own end adds a little."""
    result = engine.evaluate(redshank())
    assert result.whole is not None
    shake, rpm = result.whole.shake, np.array([3000.0, 4500.0, 6000.0])
    parts = result.project.components
    grams = parts.motor.mass_g + parts.propeller.mass_g + result.parts["holder"].grams
    order = shake.orders[1]
    assert order.way == "along the shaft"
    (motor,) = [s for s in spots_of(result) if s.id == "motor_arm_1"]
    place = motor.port[0]
    passed = end_forces(shake, place, order, rpm)[:, 2, 0]
    motion = shake.craft.motion(motor.port, motor.at_mm)
    one = replace(shake.corners[1], seen=(motion @ shake.shapes)[None], seen_rigid=(motion @ shake.craft.rigid)[None])
    w = 2 * np.pi * rpm / 60.0 * order.per_rev
    push = shake.push_n(order, rpm)
    moved = acceleration(one, w, shake.ways(order), push)[:, 0, 2, 0]
    left = push - grams * 1e-6 * moved
    arm = result.parts["tube"].grams * 1e-6
    assert np.abs(passed - left).max() < 0.5 * arm * np.abs(moved).max()
    assert np.abs(passed - left).max() < 0.1 * push.max()


def test_gyro_and_camera_as_spots_are_what_the_targets_ask(with_edits: With) -> None:
    result = with_edits({})
    assert result.whole is not None
    rpm = np.linspace(3000.0, 12000.0, 7)
    felt = result.whole.shake.over(rpm)
    gyro = felt_at(result.whole.shake, spots_of(result)[0], rpm)
    assert gyro.dps == pytest.approx(felt.gyro_dps)
    assert gyro.g == pytest.approx(felt.gyro_g)
    names = [s.name for s in spots_of(result)]
    assert names[:2] == ["Gyro", "Camera"]
    assert sum(n.startswith("Motor") for n in names) == 4
    assert len(names) == len(set(names))


def test_the_map_is_dark_along_the_orders_and_says_what_is_worst(with_edits: With) -> None:
    result = with_edits({})
    for spot in ("gyro", "camera", "motor_front_left"):
        seen = speed_map(result, spot)
        assert seen is not None
        k = len(seen.rpm) // 2
        loudest = float(seen.hz[int(seen.loud[k].argmax())])
        assert loudest == pytest.approx(seen.rpm[k] / 60.0, rel=0.03) or loudest == pytest.approx(seen.rpm[k] / 30.0, rel=0.03)
        assert seen.loud.max() == pytest.approx(float(seen.by_order.max()), rel=0.2)
        assert seen.worst.startswith(seen.spot.name)
    gone = speed_map(result, "no such spot")
    assert gone is not None
    assert gone.spot.id == "gyro"


def test_crossings_that_nothing_feels_are_harmless(with_edits: With) -> None:
    # the arms ring within the working speeds
    edits: dict[str, Any] = {"brief.working_low": 0.3, "brief.working_high": 3.0}
    calm, loud = (
        with_edits({**edits, "components.propeller.balance": "balanced"}),
        with_edits({**edits, "components.propeller.balance": "worn"}),
    )
    (few, met), (none, same) = harmless(calm), harmless(loud)
    assert met == same > 0
    assert few > none


@given(st.floats(5.0, 40.0), st.floats(45.0, 90.0), st.integers(2, 6), st.floats(1.05, 2.0))
def test_a_wide_arm_close_under_the_blades_is_loud(wide: float, gap: float, blades: int, more: float) -> None:
    def share(wide: float, gap: float) -> float:
        return blade_pass_share(blades, 180.0, [(wide / 2, gap)], 6.0, 8000.0)

    assert share(more * wide, gap) >= share(wide, gap) >= share(wide, more * gap) >= LEAST
    assert share(wide, gap) < 0.2


def test_a_guards_struts_pass_under_the_blades_too(with_edits: With) -> None:
    """Tern's guards are on its front rotors only, its arms all alike."""
    result = with_edits({})
    assert result.whole is not None
    front, rear = ([r.pulse for r in result.whole.shake.rotors if (r.hub_mm[0] > 0) == fore] for fore in (True, False))
    assert min(front) > max(rear)  # slim ones, beside the arm
    assert max(front) < 3 * max(rear)


def test_a_blade_that_lifts_more_turns_its_hub_round_with_it(with_edits: With) -> None:
    """Against the pull and drag of one blade summed over a turn."""
    result = with_edits({})
    assert result.whole is not None
    shake = result.whole.shake
    order, prop, own = shake.orders[0], result.project.components.propeller, result.power.rotors[0]
    rpm = np.array([own.hover_rpm])
    push = float(shake.push_n(order, rpm)[0])
    at = BLADE_AT * prop.diameter_mm / 2
    lift = UNEQUAL[prop.balance] * own.hover_thrust_n / prop.blades
    drag = UNEQUAL[prop.balance] * own.torque_mm * own.hover_thrust_n / prop.blades / at
    for k, spin in enumerate(shake.spins):
        for angle in (0.3, 1.9, 4.4):
            out = at * np.array([np.cos(spin * angle), np.sin(spin * angle), 0.0])
            back = -spin * np.array([-np.sin(spin * angle), np.cos(spin * angle), 0.0])
            turns = np.cross(out, [0.0, 0.0, lift])
            ours = (shake.ways(order)[len(shake.spins) + k] * np.exp(1j * angle)).real * push
            assert ours[3:] == pytest.approx(turns, abs=1e-9)
            assert ours[:3] == pytest.approx(drag * back, abs=1e-9)


# fatigue


@given(share=st.floats(0.01, 0.9), slope=st.floats(5.0, 15.0), mean=st.floats(0.0, 0.9), more=st.floats(1.01, 3.0))
def test_harder_work_wears_faster_and_a_life_is_used_up_once(share: float, slope: float, mean: float, more: float) -> None:
    a, m = np.array([share]), np.array([mean])
    assert damage(a, float(cycles(a, slope)[0]), slope)[0] == pytest.approx(1.0)
    assert cycles(more * a, slope)[0] == pytest.approx(cycles(a, slope)[0] * more**-slope)
    assert alternating(a, m)[0] == pytest.approx(share / (1 - mean))
    assert alternating(a, np.zeros(1))[0] == share
    assert relaxed(slope / 200, 1.0) > relaxed(slope / 200, 24.0)


def test_a_sharp_corner_that_holds_every_load_once_cracks_in_flight(engine: Engine, with_edits: With) -> None:
    sharp = with_edits(SHARP)
    assert sharp.members["arm"].worst_static()[1].reserve > 1.0
    (life,) = [x for x in lives(sharp) if x.part_id == "arm"]
    assert life.hours.low <= life.hours.typical <= life.hours.high
    assert life.hours.typical < SHORT_H
    assert life.raiser is not None
    assert life.raiser.field == "pad_fillet_mm"
    found = by_id(engine, sharp)["wear:arm"]
    assert found.weight == "grave"
    assert "strength:arm" not in by_id(engine, sharp) or by_id(engine, sharp)["strength:arm"].weight != "grave"
    assert any("balanced" in t.cure.title for t in tried(engine, sharp, found))


def test_the_radius_that_is_offered_cures_the_corner(engine: Engine, with_edits: With) -> None:
    """Of arms thicker at the pad, one that wears only for its corner."""
    for height in np.arange(6.0, 9.1, 0.25).tolist():
        result = with_edits({**SHARP, ARM + "tip_height_mm": height})
        hours = next(x.hours.typical for x in lives(result) if x.part_id == "arm")
        found = by_id(engine, result).get("wear:arm") if 2.0 < hours < LONG_H else None
        rounder = [t for t in tried(engine, result, found) if "fillet" in t.cure.title] if found is not None else []
        if rounder:
            break
    else:
        pytest.fail("no arm of those wears out for its corner")
    after = engine.evaluate(set_many(result.project, rounder[0].cure.edits))
    assert next(x.hours.typical for x in lives(after) if x.part_id == "arm") > LONG_H


def test_worn_propellers_wear_arms(with_edits: With) -> None:
    def low(balance: str) -> float:
        thin = {k: v for k, v in SHARP.items() if k.startswith(ARM)}
        return next(x.hours.typical for x in lives(with_edits({**thin, "components.propeller.balance": balance})) if x.part_id == "arm")

    assert low("worn") < low("as_bought") <= low("balanced")


def test_lives_go_out_as_data(engine: Engine) -> None:
    rows = as_data(engine.evaluate(dunlin()))["fatigue"]
    assert {r["part"] for r in rows} == {"front", "tail", "boom"}
    assert all(0 < r["low"] <= r["hours"] <= r["high"] for r in rows)
    assert hours_in_words(0.01) == "a few minutes"
    assert hours_in_words(1e4) == "over 1000 h"


def test_screws_in_plastic_that_flight_asks_much_of_are_told(engine: Engine, with_edits: With) -> None:
    assert "loose:arm" not in by_id(engine, with_edits({}))
    slack = {"parts.arm.joint.tightness": 0.02, "parts.arm.joint.friction": 0.06}
    assert "loose:arm" in by_id(engine, with_edits(slack))
    assert creeps(filament("petg"), 60.0) > creeps(filament("petg"), 20.0) > creeps(filament("pet_cf"), 20.0)


# rubber feet


@given(
    st.floats(5.0, 80.0), st.floats(15.0, 60.0), st.integers(3, 8), st.floats(0.5, 40.0), st.floats(0.02, 0.8), st.floats(1.0, 2.0),
)  # fmt: skip
def test_feet_carry_what_is_slow_and_keep_out_what_is_quick(
    grams: float, edge: float, feet: int, stiff: float, loss: float, more: float
) -> None:
    one = SoftMount(grams, (edge, edge, 10.0), feet, stiff, loss)
    slow, quick = (2 * np.pi * one.rings_hz() * f for f in (0.02, 20.0))
    for axis in range(6):
        assert abs(one.through(slow[axis : axis + 1])[0, axis]) == pytest.approx(1.0, abs=0.01)
        assert abs(one.through(quick[axis : axis + 1])[0, axis]) < 0.02
    stiffer, livelier = replace(one, stiffness_n_mm=more * stiff), replace(one, loss=loss / more)
    assert (stiffer.rings_hz() >= one.rings_hz()).all()
    assert stiffer.sag_mm <= one.sag_mm
    peak = 2 * np.pi * one.rings_hz()[2:3]
    assert abs(livelier.through(peak)[0, 2]) >= abs(one.through(peak)[0, 2]) - 1e-9


def on_feet(stiff: float, feet: int = 4, block: str = "stack") -> dict[str, Any]:
    return {f"components.blocks.{block}.grommets": feet, f"components.blocks.{block}.grommet_n_mm": stiff}


def test_a_gyro_on_feet_feels_less_or_more_and_so_does_its_loop(engine: Engine, with_edits: With) -> None:
    def shaken(result: Evaluation) -> float:
        assert result.whole is not None
        return float(result.whole.shake.over(60.0 * np.linspace(*result.working_hz, 24)).gyro_dps[1].max())

    hard, soft = with_edits({}), with_edits(on_feet(1.0))
    assert shaken(soft) < 0.5 * shaken(hard)
    block = next(b for b in hard.project.components.blocks if b.has_gyro)
    by_share = {
        k: lets_through(hard, block.model_copy(update={"grommets": 4, "grommet_n_mm": k}), "gyro") for k in (0.5, 1, 2, 4, 8, 16, 32)
    }
    ringing = max(by_share, key=lambda k: by_share[k])
    rung = with_edits(on_feet(ringing))
    assert shaken(rung) > shaken(hard)
    found = by_id(engine, rung)["feet.ring:stack"]
    assert tried(engine, rung, found)
    assert "feet.ring:stack" not in by_id(engine, hard)
    # feet that lag make the loop worse
    loops = [ring_of(with_edits(e)) for e in ({}, on_feet(0.4))]
    assert loops[0] is not None
    assert loops[1] is not None
    assert loops[0].worst is not None
    assert loops[1].worst is not None
    assert loops[1].worst.typical.gain_db < loops[0].worst.typical.gain_db


def test_a_camera_that_is_shaken_is_told_with_feet_that_calm_it(engine: Engine, with_edits: With) -> None:
    worn = with_edits({"components.propeller.balance": "worn", "components.blocks.camera.view_deg": 60.0})
    found = by_id(engine, worn)["shaken.camera"]
    cures = [t.cure for t in tried(engine, worn, found)]
    assert cures
    assert any("feet" in c.title for c in cures)
    assert "shaken.camera" not in by_id(engine, with_edits({"components.propeller.balance": "balanced"}))


def test_what_sinks_on_its_feet_is_told(engine: Engine, with_edits: With) -> None:
    assert "feet.sag:stack" in by_id(engine, with_edits(on_feet(0.05, 3)))
    assert "feet.sag:stack" not in by_id(engine, with_edits(on_feet(8.0)))


def test_the_view_shades_what_a_picked_spot_feels(window: Any, qapp: Any) -> None:
    window.show_stage("Vibration")
    view = window.view("Vibration")
    assert until(qapp, lambda: "Gyro: shaken most" in view.diagram.legend.text())
    place = view.diagram.place
    place.setCurrentIndex(place.findData("motor_front_left"))
    place.activated.emit(place.currentIndex())
    assert until(qapp, lambda: "Motor front left: shaken most" in view.diagram.legend.text())
    window.session.edit("components.blocks.stack.mass_g", 60.0)
    assert until(qapp, lambda: "Motor front left" in view.diagram.legend.text() and window.session.result.whole is not None)
    assert place.currentData() == "motor_front_left"
