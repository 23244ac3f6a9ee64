"""What is typed into a numeric field: numbers, fractions, and units of one's own."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.model.typed import MEASURES, NotANumber, number_of


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("12", "mm", 12.0), ("3,5", "mm", 3.5), ("-0.25", "mm", -0.25), ("1e3", "g", 1000.0), (".5", "mm", 0.5),
        ("3/8 in", "mm", 9.525), ("1 3/8 in", "mm", 34.925), ('2"', "mm", 50.8), ("1 ft 2 in", "mm", 355.6), ("1ft2in", "mm", 355.6),
        ("3/8", "mm", 0.375), ("12 oz", "g", 340.1942775), ("2 lb 3 oz", "g", 992.2333094), ("2lb 3oz", "g", 992.2333094),
        ("250 psi", "MPa", 1.723689323), ("2 msi", "MPa", 13789.51459), ("12 mph", "m/s", 5.36448), ("36 km/h", "m/s", 10.0),
        ("2.2 Ah", "mAh", 2200.0), ("90 s", "min", 1.5), ("1 h 30 min", "min", 90.0), ("73.4 °F", "°C", 23.0), ("-40 F", "°C", -40.0),
        ("1.2 N m", "N mm", 1200.0), ("5 in lb", "N mm", 564.9241453), ("5 °", "deg", 5.0), ("20 %", "%", 20.0), ("10 mm", "mm", 10.0),
        ("0.05 lb/in3", "g/cm3", 1.383995236), ("1.24 g/cm³", "g/cm3", 1.24), ("0.1 Ω", "mΩ", 100.0),
    ],
)  # fmt: skip
def test_numbers_with_units_of_their_own(text: str, unit: str, value: float) -> None:
    assert number_of(text, unit) == pytest.approx(value, rel=1e-9)


@pytest.mark.parametrize(
    ("text", "unit"),
    [("", "mm"), ("abc", "mm"), ("12 oz", "mm"), ("3 mm", "g"), ("1/0 in", "mm"), ("12 12", "mm"), ("3 in 4", "mm"), ("--3", "mm"),
     ("1" * 80, "mm"), ("5 mm", "×"), ("12 oz", "× g"), ("3 furlongs", "mm"), ("1//2", "mm"), ("0x10", "mm")],
)  # fmt: skip
def test_what_makes_no_sense_is_refused_in_words(text: str, unit: str) -> None:
    with pytest.raises(NotANumber) as refused:
        number_of(text, unit)
    assert "number" in str(refused.value) or "unit" in str(refused.value)


@given(value=st.floats(1e-3, 1e5), measure=st.sampled_from(sorted(MEASURES)), data=st.data())
def test_there_and_back_is_where_it_began(value: float, measure: str, data: Any) -> None:
    units = sorted(MEASURES[measure])
    a, b = data.draw(st.sampled_from(units)), data.draw(st.sampled_from(units))
    there = number_of(f"{value!r} {a}", b)
    assert number_of(f"{there!r} {b}", a) == pytest.approx(value, rel=1e-8, abs=1e-7)


@given(st.text(max_size=80))
def test_any_text_is_a_number_or_refused(text: str) -> None:
    try:
        value = number_of(text, "mm")
    except NotANumber:
        return
    assert isinstance(value, float) or math.isnan(value)


def test_inches_and_ounces_are_typed_into_the_window(window: Any, qapp: Any) -> None:
    from test_window import type_into

    window.show_stage("Airframe")
    view = window.view("Airframe")
    type_into(view.forms[2].fields["components.propeller.diameter_mm"], "7 in")
    assert window.session.value("components.propeller.diameter_mm") == pytest.approx(177.8)
    type_into(view.forms[3].fields["components.battery.mass_g"], "12 oz")
    assert window.session.value("components.battery.mass_g") == pytest.approx(340.194, abs=0.001)
    field = view.forms[3].fields["components.battery.mass_g"]
    type_into(field, "12 in")
    assert "no unit for a figure in g" in field.message.text()
    assert window.session.value("components.battery.mass_g") == pytest.approx(340.194, abs=0.001)


def test_every_field_of_every_view_shows_inches_and_no_stored_digit_changes(window: Any, qapp: Any) -> None:
    from fravik.app.widgets.fields import NumberField
    from fravik.model.typed import IN_INCHES

    before = window.session.project
    seen: set[str] = set()
    window.toggle_inches()
    for stage in ("Brief", "Airframe", "Parts", "Vibration", "Print run"):
        window.show_stage(stage)
        qapp.processEvents()
        if stage == "Parts":
            assert window.view("Parts").controls.forms
        for field in window.view(stage).findChildren(NumberField):
            stored, unit = field.current(), field.unit.text()
            assert unit == IN_INCHES.get(field.base_unit, field.base_unit)
            seen.add(field.base_unit)
            if stored is None:
                continue
            shown = field.edit.text()
            typed, home = (f"{shown} {unit}", field.base_unit) if unit in MEASURED else (shown, "")
            assert number_of(typed, home) == pytest.approx(stored * field.scale, rel=1e-3, abs=6e-2)
            field.edit.setModified(True)  # as if the same had been typed again
            field._finish()
    assert {"mm", "g", "°C", "m/s", "N"} <= seen
    assert window.session.project == before
    field = window.view("Airframe").forms[2].fields["components.propeller.diameter_mm"]
    window.show_stage("Airframe")
    field.edit.setText("7")
    field.edit.setModified(True)
    field._finish()
    assert window.session.value("components.propeller.diameter_mm") == pytest.approx(177.8)
    assert field.edit.text() == "7"
    window.toggle_inches()
    assert field.edit.text() == "177.8"
    assert field.unit.text() == "mm"


MEASURED = {"in", "oz", "psi", "lbf", "in lb", "°F", "ft/s", "lb/in"}


def test_the_pull_up_is_no_mass(window: Any, qapp: Any) -> None:
    window.toggle_inches()
    assert window.session.value("brief.pull_up_g") == 4.0
    from fravik.app.measures import shown

    assert shown("× g").unit == "× g"
    assert shown("g").unit == "oz"
    window.toggle_inches()
