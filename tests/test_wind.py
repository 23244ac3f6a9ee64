"""The wind that a craft holds: against the closed form where thrust does not fall, and by what each figure does to it."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.engine.foresee.wind import areas_mm2, held_m_s
from fravik.flight.wind import TO_STEER, wind_held_m_s
from fravik.library.air import DENSITY_KG_M3
from fravik.model.paths import set_many


@given(weight=st.floats(1, 60), lift=st.floats(1.3, 4), area=st.floats(5e3, 2e5))
def test_with_thrust_that_does_not_fall_it_is_what_is_left_across(weight: float, lift: float, area: float) -> None:
    across = math.sqrt(((1 - TO_STEER) * lift * weight) ** 2 - weight**2)
    closed = math.sqrt(2 * across / (DENSITY_KG_M3 * 1.1 * area * 1e-6))
    assert wind_held_m_s(weight, lift * weight, area, 1e9, 1.1) == pytest.approx(min(closed, 80.0), rel=1e-6)


@given(weight=st.floats(1, 60), lift=st.floats(1.2, 4), area=st.floats(5e3, 2e5), screw=st.floats(8, 60), more=st.floats(1.05, 2))
def test_more_area_holds_less_wind_and_more_thrust_or_pitch_no_less(
    weight: float, lift: float, area: float, screw: float, more: float
) -> None:
    held = wind_held_m_s(weight, lift * weight, area, screw)
    assert wind_held_m_s(weight, lift * weight, area * more, screw) <= held + 1e-9
    assert wind_held_m_s(weight, lift * weight * more, area, screw) >= held - 1e-9
    assert wind_held_m_s(weight, lift * weight, area, screw * more) >= held - 1e-9


def test_what_the_wind_meets_and_a_craft_that_is_carried_away() -> None:
    engine = Engine()
    result = engine.evaluate(tern())
    ahead, side = areas_mm2(engine, result)
    pack = result.project.components.battery
    assert ahead > pack.width_mm * pack.height_mm
    assert side > pack.length_mm * pack.height_mm
    low, usual, high = held_m_s(engine, result)
    assert low < usual < high
    assert not any(f.id == "wind.carried" for f in foresee(engine, result))
    weak = engine.evaluate(set_many(tern(), (("components.motor.kv_rpm_per_v", 420.0), ("components.propeller.pitch_mm", 40.0))))
    found = next(f for f in foresee(engine, weak) if f.id == "wind.carried")
    assert found.weight in ("likely", "worth knowing")
