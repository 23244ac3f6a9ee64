"""A body that is bought and does not give, in place of printed plates: for who prints arms and legs for a craft that is there already."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from conftest import until
from PyQt6.QtWidgets import QCheckBox

from fravik.app.newcraftdialog import NewCraftDialog
from fravik.cli import main
from fravik.engine.evaluate import Engine
from fravik.engine.onit import what_is_on_it
from fravik.engine.results import Evaluation, Refused
from fravik.kinds.newcraft import Wish, sized
from fravik.model.paths import set_many
from fravik.model.project import Project


def made(body_g: float = 350.0, **wishes: Any) -> Project:
    return sized(Wish(motor_to_motor_mm=400.0, body_g=body_g, **wishes))


@pytest.fixture(scope="module")
def found() -> Evaluation:
    return Engine().evaluate(made())


def test_a_craft_on_it_is_judged_as_one_and_weighs_what_it_weighs(found: Evaluation) -> None:
    assert found.whole is not None
    assert not found.plates
    assert not found.problems
    assert all(m.value is not None for m in found.margins)
    craft = found.whole.craft
    mass = craft.rigid.T @ craft.m @ craft.rigid
    assert mass[0, 0] * 1e6 == pytest.approx(found.craft.mass_g, rel=1e-9)
    # free in the air: a rigid motion strains nothing
    for k in craft.k:
        assert np.abs(k @ craft.rigid).max() < 1e-6 * np.abs(k).max()


def test_on_a_very_heavy_body_the_arms_ring_as_if_they_were_held_still() -> None:
    wide = tuple((f"components.blocks.body.{side}_mm", size) for side, size in (("length", 400.0), ("width", 400.0), ("height", 300.0)))
    heavy = Engine().evaluate(set_many(made(5000.0), wide))
    light = Engine().evaluate(made(100.0))
    assert heavy.whole is not None
    assert light.whole is not None
    held = float(heavy.members["arm"].answers["typical"].freqs_hz[0])
    vertical = [m.freq_hz for m in heavy.whole.modes if m.part_id == "arm" and m.name.startswith("vertical bending")][:4]
    assert min(vertical) == pytest.approx(held, rel=0.06)
    # on a light one they swing against one another, and those that take it along ring higher
    assert max(m.freq_hz for m in light.whole.modes[:6]) > 1.15 * held


def test_arms_rise_less_over_a_body_that_does_not_give_than_over_plates_of_its_weight() -> None:
    printed = Engine().evaluate(sized(Wish(motor_to_motor_mm=400.0)))
    plates = sum(r.mass.mass_g * r.part.count for r in printed.parts.values() if r.part.shape.kind == "plate")
    stiff = Engine().evaluate(made(plates))
    assert printed.whole is not None
    assert stiff.whole is not None
    for corner in ("low", "typical", "high"):
        assert stiff.whole.worst_rise(corner)[0] < printed.whole.worst_rise(corner)[0]


@pytest.mark.parametrize("layout", ["hexa_x", "tri", "y6", "h"])
def test_any_layout_stands_on_it(layout: Any) -> None:
    for arms in ("arm", "bar_arm"):
        result = Engine().evaluate(made(layout=layout, arms=arms))
        assert result.whole is not None
        lowest = result.whole.lowest
        assert 5.0 < lowest.low_hz <= lowest.freq_hz <= lowest.high_hz < 500.0


def test_one_thing_holds_the_arms() -> None:
    engine, both = Engine(), sized(Wish(motor_to_motor_mm=300.0))
    with pytest.raises(Refused, match=r"holds the arms, and so would bottom plate and top plate"):
        engine.evaluate(set_many(both, (("components.blocks.stack.holds_arms", True),)))
    with pytest.raises(Refused, match="both hold the arms"):
        engine.evaluate(set_many(made(), (("components.blocks.stack.holds_arms", True),)))
    none = engine.evaluate(set_many(made(), (("components.blocks.body.holds_arms", False),)))
    assert none.whole is None
    assert any("Nothing holds the arms" in p.message for p in none.problems)
    with pytest.raises(ValueError, match="frame plate is the body"):
        made(arms="frame")
    with pytest.raises(ValueError, match="most allowed"):
        made(body_g=90_000.0)


def test_it_is_told_in_the_tree_with_what_it_carries(found: Evaluation) -> None:
    first = what_is_on_it(found)[0]
    assert first.title == "Bought body"
    assert "350 g" in first.under
    assert {n.title.split(" ×")[0] for n in first.children} >= {"Landing leg", "Battery", "Flight stack"}


def test_the_command_makes_one(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "mine.fravik"
    assert main(["new", "quad_x", "--motor-to-motor-mm", "380", "--body-g", "420", "-o", str(path)]) == 0
    assert main(["evaluate", str(path), "--json"]) in (0, 1)
    assert '"craft"' in capsys.readouterr().out


def test_the_dialog_and_the_airframe_take_it(window: Any, qapp: Any) -> None:
    dialog = NewCraftDialog()
    dialog.edits["body_g"].setText("350")
    assert "late" not in dialog.summary.text().split("To print:")[1]
    dialog._make()
    assert dialog.project is not None
    window.load(dialog.project, None)
    window.show_stage("Airframe")
    window.view("Airframe").reveal("components.blocks.body.holds_arms")
    window.view("Airframe").reveals.finish()
    box = next(b for b in window.view("Airframe").findChildren(QCheckBox) if b.accessibleName() == "Holds the arms" and b.isChecked())
    box.click()
    assert until(qapp, lambda: "Nothing holds the arms" in " ".join(p.message for p in window.session.problems))
    assert window.session.result.whole is None
    window.session.undo()
    assert window.session.result.whole is not None
    window.show_stage("Vibration")
    assert until(qapp, lambda: window.view("Vibration").picker.count() > 3)
