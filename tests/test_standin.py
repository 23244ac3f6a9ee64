"""The simulated printer keeps time, heat and count, goes wrong as it is told to, and its record teaches what is hidden in it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.model.run import PrintRecord
from fravik.plan.record import judge_weight, learned_ratios
from fravik.standin.printer import BatchTask, CopyTask, SimulatedPrinter, SimulatedScale, truth_from


def batch(layers: int = 50, each_s: float = 60.0) -> BatchTask:
    tops = 0.2 * np.arange(1, layers + 1)
    copies = (CopyTask("arm 1", "arm", 20.0, 10.0), CopyTask("leg 1", "leg", 5.0, 4.0), CopyTask("leg 2", "leg", 5.0, 4.0))
    return BatchTask("batch 1", "first", copies, np.full(layers, each_s), tops, 300.0, 240.0, 75.0, (300 + layers * each_s) / 60)


def printing(seed: int = 4, seconds: float = 1500.0) -> SimulatedPrinter:
    printer = SimulatedPrinter(seed)
    printer.start(batch())
    printer.advance(seconds)
    return printer


def test_time_heat_and_layers() -> None:
    printer = SimulatedPrinter(2)
    printer.start(batch())
    assert printer.state().minutes_left == pytest.approx(55.0, rel=0.12)
    printer.advance(150.0)
    warm = printer.state()
    assert warm.phase == "warming"
    assert 23.0 < warm.bed_c < warm.nozzle_c < 240.0
    printer.advance(300.0)
    assert printer.state().phase == "printing"
    assert printer.state().nozzle_c == pytest.approx(240.0, abs=1.0)
    left = printer.state().minutes_left
    printer.advance(600.0)
    assert 0 < printer.state().minutes_left < left
    printer.advance(1e5)
    assert printer.state().phase == "done"
    assert printer.state().layer == 50
    assert printer.state().nozzle_c == pytest.approx(23.0, abs=0.5)
    assert printer.elapsed_s == pytest.approx(300 + 3000 * printer.truth.time_ratio, rel=1e-6)


@given(st.lists(st.floats(0.1, 900.0), min_size=1, max_size=40), st.integers(0, 50))
def test_pace_of_watching_changes_nothing(steps: list[float], seed: int) -> None:
    whole, pieces = SimulatedPrinter(seed), SimulatedPrinter(seed)
    whole.start(batch())
    pieces.start(batch())
    whole.advance(sum(steps))
    for s in steps:
        pieces.advance(s)
    assert pieces.layer == whole.layer or abs(pieces._left_s - whole._left_s) < 1e-3
    assert pieces.elapsed_s == pytest.approx(whole.elapsed_s)


def test_a_clog_costs_what_was_not_whole() -> None:
    printer = printing(seconds=300 + 45 * 60)
    printer.go_wrong("clog")
    assert printer.state().phase == "stopped"
    good = {o.copy.key: o.good for o in printer.outcomes()}
    assert good == {"arm 1": False, "leg 1": True, "leg 2": True}
    assert "clogged" in printer.outcomes()[0].note


def test_running_out_waits_and_leaves_a_weak_layer() -> None:
    printer = printing()
    printer.go_wrong("spool empty")
    layer = printer.layer
    printer.advance(5000.0)
    assert (printer.state().phase, printer.layer) == ("waiting", layer)
    printer.go_on()
    printer.advance(1e5)
    assert printer.state().phase == "done"
    assert all(o.good and "weak" in o.note for o in printer.outcomes())


def test_coming_loose_takes_the_tallest_and_the_rest_goes_on() -> None:
    printer = printing()
    printer.go_wrong("comes loose")
    printer.advance(1e5)
    found = {o.copy.key: o for o in printer.outcomes()}
    assert not found["arm 1"].good
    assert "came loose" in found["arm 1"].note


def test_giving_up_and_starting_twice() -> None:
    printer = printing()
    with pytest.raises(ValueError, match="under way"):
        printer.start(batch())
    assert printer.outcomes() == ()
    printer.give_up()
    assert not any(o.good for o in printer.outcomes())
    printer.start(batch())
    assert printer.state().layer == 0
    SimulatedPrinter(1).go_wrong("clog")


@given(st.integers(0, 200))
def test_the_record_finds_the_hidden_pace(seed: int) -> None:
    printer = SimulatedPrinter(seed)
    printer.start(batch())
    printer.advance(1e6)
    planned = batch().planned_min
    records = [PrintRecord(id=str(i), part="arm", printer="first", batch="a", planned_min=planned, real_min=printer.elapsed_s / 60)
               for i in range(3)]  # fmt: skip
    known = learned_ratios(records)["first"]
    assert known.batches == 1
    assert known.low < (300 + 3000 * truth_from(seed).time_ratio) / 3300 < known.high


def test_more_plates_narrow_the_range() -> None:
    def at(ratios: list[float]) -> float:
        rows = [
            PrintRecord(id=str(i), part="arm", printer="p", batch=f"{i}", planned_min=100.0, real_min=100 * r) for i, r in enumerate(ratios)
        ]
        known = learned_ratios(rows)["p"]
        return known.high - known.low

    assert at([1.05] * 8) < at([1.05])
    assert at([0.9, 1.2]) > at([1.05, 1.05])
    assert learned_ratios([]) == {}
    assert learned_ratios([PrintRecord(id="x", part="arm", printer="p")]) == {}


def test_scale_reads_tenths() -> None:
    scale = SimulatedScale(5)
    assert scale.read_g(20.04) == pytest.approx(20.0, abs=0.2)
    assert round(scale.read_g(20.04) * 10) == pytest.approx(scale.read_g(20.04) * 10)


def test_what_a_weight_suggests() -> None:
    def says(weighed: float) -> str:
        return judge_weight(20.0, weighed, 14.0, 30.0, 0.2, 1.27, (("PLA", 1.24), ("Foaming PLA", 0.56))).text

    assert judge_weight(20.0, 20.4, 14.0, 30.0, 0.2, 1.27).fine
    assert "10% core instead of 20%" in says(17.0)
    assert "under-extrusion" in says(18.5)
    assert "missing layers" in says(12.0)
    assert "Foaming PLA" in says(20 * 0.56 / 1.27)
    assert "over-extrusion" in says(22.0)
    assert "30% core" in says(23.0)
