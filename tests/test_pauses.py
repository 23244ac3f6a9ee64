"""A print that pauses: in the plan, on the ruler, on the printer, on the sheet."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.batchview import batches
from fravik.engine.evaluate import Engine
from fravik.engine.runrecord import batch_task
from fravik.engine.settle import settle
from fravik.engine.settled import Settled
from fravik.engine.sheetcontent import sheet_of
from fravik.model.laying import Pause
from fravik.model.paths import set_at
from fravik.model.project import Project
from fravik.model.recipe import Carbon
from fravik.model.run import BatchWish
from fravik.plan.schedule import PAUSE_MIN
from fravik.plan.stops import stops_of
from fravik.standin.printer import SimulatedPrinter
from fravik.store.text import project_from_json, project_to_json


def paused(*pauses: Pause, part: str = "arm", **run: Any) -> Project:
    craft = set_at(tern(), f"parts.{part}.laying.pauses", pauses)
    return craft.model_copy(update={"run": craft.run.model_copy(update=run)})


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine()


@pytest.fixture(scope="module")
def plain(engine: Engine) -> Settled:
    return settle(engine, tern())


def test_a_pause_costs_its_minutes_and_no_more(engine: Engine, plain: Settled) -> None:
    found = settle(engine, paused(Pause(id="one", height_mm=6.8), Pause(id="two", height_mm=6.83, why="colour")))
    stops = batches(found)[0].batch.stops
    assert len(stops) == 1  # the same layer
    assert stops[0].why == ("lay_in", "colour")
    assert stops[0].height_mm == pytest.approx(6.8)
    assert found.batches.minutes == pytest.approx(plain.batches.minutes)
    assert found.minutes == pytest.approx(plain.minutes + PAUSE_MIN)
    first = [t for t in found.schedule.tasks if t.batch_id == "batch 1"]
    bar, stop = (next(t for t in first if t.kind == kind) for kind in ("print", "pause"))
    assert bar.end_h - bar.start_h == pytest.approx((batches(found)[0].batch.minutes + PAUSE_MIN) / 60)
    assert stop in found.schedule.by_hand
    assert found.schedule.hands_h == pytest.approx(plain.schedule.hands_h + PAUSE_MIN / 60)


def test_the_minutes_before_a_pause_are_those_of_the_layers_below(engine: Engine) -> None:
    view = batches(settle(engine, paused(Pause(id="one", height_mm=6.8))))[0]
    stop = view.batch.stops[0]
    below = view.layer_minutes[: view.index_at(stop.height_mm) + 1].sum() + view.printer.start_up_min
    assert stop.after_min == pytest.approx(below, rel=0.05)


def test_with_nobody_there_it_waits_and_that_is_told(engine: Engine) -> None:
    late = paused(Pause(id="one", height_mm=6.8), wishes=(BatchWish(id="batch 1", start_h=12.0),))
    found = settle(engine, late)
    stop = next(t for t in found.schedule.tasks if t.kind == "pause")
    assert (late.run.start_hour + stop.start_h) % 24.0 == pytest.approx(late.run.attended_from)
    assert any("nobody there" in note for note in found.schedule.notes)


@given(st.lists(st.floats(0.1, 40.0), min_size=1, max_size=8), st.integers(3, 60), st.floats(0.0, 20.0))
def test_stops_come_in_order_within_the_print(heights: list[float], layers: int, warm_min: float) -> None:
    tops, seconds = 0.25 * np.arange(1, layers + 1), np.linspace(5.0, 60.0, layers)
    stops = stops_of([Pause(id=f"p{k}", height_mm=h) for k, h in enumerate(heights)], tops, seconds, warm_min)
    assert [s.height_mm for s in stops] == sorted({s.height_mm for s in stops})
    assert all(warm_min < s.after_min <= warm_min + seconds.sum() / 60 + 1e-9 for s in stops)
    assert bool(stops) == any(h < tops[-1] - 0.02 for h in heights)


def test_the_printer_waits_there_and_the_copy_is_good(engine: Engine) -> None:
    view = batches(settle(engine, paused(Pause(id="one", height_mm=6.8))))[0]
    task, printer = batch_task(view), SimulatedPrinter()
    printer.start(task)
    printer.advance(1e6)
    assert printer.phase == "waiting"
    assert "laying something in" in printer.note
    assert task.tops_mm[printer.layer - 1] == pytest.approx(6.8)
    printer.go_on()
    printer.advance(1e6)
    assert printer.phase == "done"
    assert all(o.good and not o.note for o in printer.outcomes())


def test_power_lost_in_a_pause_still_leaves_a_weak_layer(engine: Engine) -> None:
    printer = SimulatedPrinter()
    printer.start(batch_task(batches(settle(engine, paused(Pause(id="one", height_mm=6.8))))[0]))
    printer.advance(1e6)
    printer.go_wrong("power loss")
    printer.go_on()
    printer.advance(1e6)
    assert all("weak" in o.note for o in printer.outcomes())


def test_a_pause_above_the_part_is_told_and_laid_in_carbon_is_asked_no_more(engine: Engine) -> None:
    found = engine.evaluate(paused(Pause(id="high", height_mm=90.0)))
    assert any("never comes" in p.message for p in found.problems)
    inside = set_at(tern(), "parts.arm.carbon", Carbon(stock="tube_6x4", place="inside", start_mm=10.0, end_mm=90.0))
    asked = [p for p in engine.problems(inside) if "pause the print" in p.message]
    assert asked
    standing = set_at(paused(Pause(id="one", height_mm=50.0)), "parts.arm.recipe.lies", "on_end")
    assert any("bond less" in p.message for p in engine.evaluate(standing).problems)
    laid = set_at(inside, "parts.arm.laying.pauses", (Pause(id="one", height_mm=6.0),))
    assert not [p for p in engine.problems(laid) if "pause the print" in p.message]


def test_it_is_kept_and_stands_on_the_sheet(engine: Engine) -> None:
    craft = paused(Pause(id="one", height_mm=6.8, why="colour"))
    assert project_from_json(project_to_json(craft)) == craft
    sheet = sheet_of(engine, engine.evaluate(craft), settle(engine, craft))
    card = next(c for c in sheet.parts if c.name == "Arm")
    assert ("Pauses", "6.8 mm, another colour") in card.facts


def test_wishes_of_older_files_name_batches() -> None:
    assert BatchWish.model_validate({"id": "plate 3", "start_h": 2.0}).id == "batch 3"


def test_on_the_ruler_and_in_the_list(window: Any, qapp: Any) -> None:
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh)
    window.show_stage("Print run")
    view = window.view("Print run")
    view.tabs.setCurrentIndex(1)
    until(qapp, lambda: view.laying.form is not None)
    view.show_layer(20)
    view.laying.pauses.add_button.click()
    pauses = window.session.project.part("arm").laying.pauses
    assert pauses[0].height_mm == pytest.approx(view.batch.tops_mm[20], abs=0.01)
    assert list(view.laying.pauses.fields) == [pauses[0].id]
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh and bool(view.batch.batch.stops))
    assert "pauses for laying something in" in view.ruler.accessibleDescription()
    view.laying.pauses.drop(pauses[0].id)
    assert not window.session.project.part("arm").laying.pauses
    view.ruler.pause_asked.emit(3.0)
    assert window.session.project.part("arm").laying.pauses[0].height_mm == pytest.approx(3.0)
    window.session.undo()
    assert not window.session.project.part("arm").laying.pauses
