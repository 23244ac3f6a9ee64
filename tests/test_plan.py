"""Batches hold what fits, minutes add up, and the schedule keeps to the hours somebody is there."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.settle import lots_of, settle
from fravik.engine.settled import Settled, settled_margins
from fravik.library import filament
from fravik.model.paths import set_many
from fravik.model.project import Printer, Project, Spool
from fravik.model.run import BatchWish, PartOnPrinter, PrintRecord, PrintRun, Spare
from fravik.plan.beds import Lot, arrange, batch_seconds, refusal
from fravik.plan.nest import Bed, Outline
from fravik.plan.place import Batches
from fravik.plan.schedule import BenchWork, Hours, Schedule, schedule

PETG = filament("petg")
FIRST = Printer(name="Small printer", bed_x_mm=120.0, bed_y_mm=120.0)


def square(wide: float, deep: float) -> tuple[np.ndarray, ...]:
    return (np.array([[-wide, -deep], [wide, -deep], [wide, deep], [-wide, deep]]) / 2,)


def lot(name: str = "arm", count: int = 1, wide: float = 40.0, deep: float = 20.0, *, layers: int = 20, each_s: float = 60.0,
        plastic: str = "petg", risk: str = "", first: bool = False, tall: float = 4.0) -> Lot:  # fmt: skip
    tops = 0.2 * np.arange(1, layers + 1)
    return Lot(name, name.capitalize(), count, Outline(square(wide, deep)), tops, np.full(layers, each_s), 10.0, filament(plastic), tall,
               risk, first)  # fmt: skip


@pytest.fixture(scope="module")
def settled() -> Settled:
    return settle(Engine(), tern())


@given(st.lists(st.tuples(st.floats(8, 70), st.floats(8, 50)), min_size=1, max_size=9), st.floats(1, 10))
def test_nested_outlines_keep_apart_and_on_the_bed(sizes: list[tuple[float, float]], gap: float) -> None:
    bed = Bed(150.0, 140.0, gap, 10.0)
    put = []
    for wide, deep in sizes:
        place = bed.put(Outline(square(wide, deep)))
        if place is not None:
            put.append(shapely.Polygon(place.put(square(wide, deep)[0])))
    assert put
    room = shapely.box(0, 10.0, 150, 140)
    for i, a in enumerate(put):
        assert shapely.covers(shapely.buffer(room, 0.01), a)
        assert all(a.distance(b) > gap - 1.5 for b in put[i + 1 :])


def test_an_l_takes_another_into_its_corner() -> None:
    ell = (np.array([[-45.0, -45], [45, -45], [45, -25], [-25, -25], [-25, 45], [-45, 45]]),)
    bed = Bed(150.0, 150.0, 3.0)
    assert bed.put(Outline(ell)) is not None
    assert bed.put(Outline(ell)) is not None, "by its box it would not fit"


def test_too_big_for_the_bed_only_when_no_turn_helps() -> None:
    assert Bed(100.0, 100.0, 2.0).put(Outline(square(118.0, 10.0))) is not None
    assert Bed(100.0, 100.0, 2.0).put(Outline(square(150.0, 10.0))) is None


@given(st.integers(1, 12), st.integers(1, 6), st.integers(1, 6))
def test_every_copy_is_on_one_plate(arms: int, legs: int, most: int) -> None:
    found = arrange([lot("arm", arms), lot("leg", legs, 25, 12)], (FIRST,), PrintRun(most_in_batch=most))
    keys = [c.key for p in found.batches for c in p.copies]
    assert sorted(keys) == sorted([*(f"arm {k + 1}" for k in range(arms)), *(f"leg {k + 1}" for k in range(legs))])
    assert max(len(p.copies) for p in found.batches) <= most
    assert not found.left_out


def test_plates_hold_one_plastic_and_share_printers_out() -> None:
    second = FIRST.model_copy(update={"id": "second", "name": "Second printer"})
    found = arrange([lot("arm", 8), lot("guard", 2, plastic="tpu")], (FIRST, second), PrintRun(most_in_batch=2))
    assert all(len({c.part_id for c in p.copies}) == 1 for p in found.batches)
    load = {p: sum(x.minutes for x in found.batches if x.printer_id == p) for p in ("first", "second")}
    assert max(load.values()) < 1.6 * min(load.values())


def test_parts_wanted_first_are_printed_first() -> None:
    found = arrange([lot("batch", 1, 100, 100), lot("arm", 2, first=True)], (FIRST,), PrintRun())
    assert {c.part_id for c in found.batches[0].copies} == {"arm"}


def test_printers_refuse_what_they_cannot_run() -> None:
    carbon = lot("arm", plastic="pa_cf")
    assert "abrasive" in refusal(carbon, FIRST)
    assert refusal(carbon, FIRST.model_copy(update={"hardened_nozzle": True})) == ""
    assert "°C" in refusal(lot(plastic="pc"), FIRST.model_copy(update={"max_nozzle_c": 250.0}))
    assert "tall" in refusal(lot(tall=500.0), FIRST)
    found = arrange([carbon, lot("leg")], (FIRST,), PrintRun())
    assert [k for k, _ in found.left_out] == ["arm"]
    assert len(found.batches) == 1
    found = arrange([lot("wing", wide=300.0)], (FIRST,), PrintRun())
    assert "300 × 20" in found.left_out[0][1]


def test_minutes_of_a_plate() -> None:
    printer = FIRST.model_copy(update={"layer_change_s": 2.0})
    one, two = lot(each_s=60.0), lot("pin", each_s=1.0)
    assert batch_seconds([one], [1], printer, 8.0) == pytest.approx(20 * 62)
    assert batch_seconds([two], [1], printer, 8.0) == pytest.approx(20 * 8)
    # eight pins at once need no waiting: their own roads take longer than a layer needs to set
    eight = batch_seconds([two], [8], printer, 8.0)
    assert 20 * 10 < eight < 20 * 8 * 2.2
    assert eight < 8 * batch_seconds([two], [1], printer, 8.0) / 3


def test_risky_mixes_are_named() -> None:
    found = arrange([lot("mast", 1, 10, 10, risk="stands 90 mm tall on a foot of 30 mm²"), lot("arm", 2)], (FIRST,), PrintRun())
    (batch,) = found.batches
    assert "2 others may go with it" in batch.warnings[0]
    assert not arrange([lot("arm", 2)], (FIRST,), PrintRun()).batches[0].warnings


def planned(run: PrintRun, hours: float = 5.0, batches: int = 3, works: tuple[BenchWork, ...] = (), wet: dict[str, float] | None = None,
            printers: tuple[Printer, ...] = (FIRST,)) -> Schedule:  # fmt: skip
    lots = [lot("arm", batches, 90, 90, layers=int(hours * 60))]
    found = arrange(lots, printers, run.model_copy(update={"most_in_batch": 1}))
    return schedule(found, printers, run, works, wet or {})


@given(st.floats(0, 24), st.floats(0, 12), st.floats(12.5, 24), st.floats(0.5, 20), st.integers(1, 5))
def test_plates_are_changed_only_while_somebody_is_there(start: float, low: float, high: float, hours: float, batches: int) -> None:
    run = PrintRun(start_hour=start, attended_from=low, attended_to=high)
    found = planned(run, hours, batches)
    for t in found.tasks:
        day = (start + t.start_h + 1e-9) % 24.0  # a moment before midnight is midnight
        assert low - 1e-6 <= day <= high + 1e-6, t
    prints = sorted((t for t in found.tasks if t.row == FIRST.name), key=lambda t: t.start_h)
    assert all(a.end_h <= b.start_h + 1e-9 for a, b in itertools.pairwise(prints))
    assert found.ready_h >= max(t.end_h for t in prints)


def test_nothing_runs_unattended_when_the_maker_says_so() -> None:
    run = PrintRun(start_hour=9.0, attended_from=8.0, attended_to=18.0, night=False)
    for t in planned(run, 5.0).tasks:
        if t.kind == "print":
            assert (9.0 + t.start_h) % 24.0 + (t.end_h - t.start_h) <= 18.0 + 1e-6
    assert "into the night" in planned(run, 30.0, 1).notes[0]


def test_precedence_and_cure() -> None:
    work = BenchWork("arm", "Arm", inserts=4, glue_min=12.0, cure_h=8.0, support="soluble", test=True)
    found = planned(PrintRun(), works=(work,), wet={"petg": 4.0})
    kinds = [t.kind for t in found.tasks]
    assert kinds.count("test") == 1
    assert {"dry", "supports", "inserts", "glue", "cure", "assemble"} <= set(kinds)
    dry = next(t for t in found.tasks if t.kind == "dry")
    assert all(t.start_h >= dry.end_h for t in found.tasks if t.kind == "print")
    last = max(t.end_h for t in found.tasks if t.kind == "cure")
    assert next(t for t in found.tasks if t.kind == "assemble").start_h >= last
    bench = sorted((t for t in found.tasks if t.row == "Bench"), key=lambda t: t.start_h)
    assert all(a.end_h <= b.start_h + 1e-9 for a, b in itertools.pairwise(bench))


def test_a_second_printer_and_a_wish() -> None:
    run = PrintRun(attended_from=0.0, attended_to=24.0)
    second = FIRST.model_copy(update={"id": "second", "name": "Second printer"})
    assert planned(run, 6.0, 4, printers=(FIRST, second)).ready_h < 0.65 * planned(run, 6.0, 4).ready_h
    wished = planned(run.model_copy(update={"wishes": (BatchWish(id="batch 1", start_h=7.0),)}), 6.0, 1)
    assert next(t for t in wished.tasks if t.kind == "print").start_h >= 7.0


def test_hours() -> None:
    hours = Hours(PrintRun(start_hour=20.0, attended_from=8.0, attended_to=22.0))
    assert hours.next(1.0) == 1.0
    assert hours.next(3.0) == pytest.approx(12.0)
    assert hours.finish(1.5, 2.0) == pytest.approx((12.0, 14.0))


def test_settled_tern(settled: Settled) -> None:
    made = [c.key for p in settled.batches.batches for c in p.copies]
    assert len(made) == len(set(made)) == sum(p.count for p in settled.project.parts)
    assert settled.schedule.late_h < 0
    result = Engine().evaluate(settled.project)
    margins = {m.metric: m for m in settled_margins(result, settled)}
    assert margins["print_minutes"].source == margins["flying_mass_g"].source == "settled"
    assert margins["tip_sag_mm"].source == "live"
    assert margins["print_minutes"].value == pytest.approx(settled.minutes)
    live = {m.metric: m for m in result.margins}
    assert margins["flying_mass_g"].value == pytest.approx(live["flying_mass_g"].value, rel=0.005)
    # one part alone: the live count of its minutes stands within a seventh of its roads
    for k, job in settled.jobs.items():
        assert result.parts[k].figures.minutes == pytest.approx(job.minutes, rel=0.14)


def test_spares_and_what_came_off_count() -> None:
    base = tern()
    run = base.run.model_copy(update={
        "spares": (Spare(id="arm", count=2),),
        "records": (PrintRecord(id="1", part="arm"), PrintRecord(id="2", part="arm", outcome="failed"), PrintRecord(id="3", part="mount")),
    })  # fmt: skip
    project = base.model_copy(update={"run": run})
    engine = Engine()
    found = settle(engine, project)
    counts = {lo.part_id: lo.count for lo in lots_of(project, engine.evaluate(project), found.jobs)}
    assert counts["arm"] == 4 + 2 - 1
    assert "mount" not in counts


def test_a_short_spool_is_called_out() -> None:
    base: Project = tern()
    short = base.model_copy(update={"spools": (Spool(id="a", filament="petg", grams_left=50.0),)})
    found = settle(Engine(), short)
    assert "PETG" in found.problems[0].message
    assert "50 g" in found.problems[0].message
    assert found.verdict == "tight"
    assert not settle(Engine(), base).problems


def test_a_carbon_filled_arm_is_left_out_and_said() -> None:
    project = set_many(tern(), (("parts.arm.recipe.filament", "pa_cf"),))
    found = settle(Engine(), project)
    assert [k for k, _ in found.batches.left_out] == ["arm"]
    assert any("abrasive" in n for n in found.schedule.notes)
    assert found.verdict == "fails"
    hard = set_many(project, (("printer.hardened_nozzle", True),))
    assert not settle(Engine(), hard).batches.left_out


def test_a_layout_that_lengthens_the_arms_moves_their_plates() -> None:
    engine, base = Engine(), tern()
    first = settle(engine, base)
    wide = settle(engine, set_many(base, (("layout.motor_to_motor_mm", 360.0),)))
    assert wide.batches.batches[0].minutes > first.batches.batches[0].minutes
    assert settle(engine, base).batches is first.batches


def test_nothing_to_print() -> None:
    assert arrange([], (FIRST,), PrintRun()) == Batches((), ())
    assert schedule(Batches((), ()), (FIRST,), PrintRun(), (), {}).ready_h == 0.0


def test_plastic_of_a_plate(settled: Settled) -> None:
    grams = sum((j.grams + j.waste_grams) * settled.project.part(k).count for k, j in settled.jobs.items())
    assert sum(p.grams for p in settled.batches.batches) == pytest.approx(grams)
    assert {p.filament.id for p in settled.batches.batches} == {"petg"}
    assert PETG.name == "PETG"


def test_too_big_parts_get_an_offer() -> None:
    long = lot("spar", wide=300.0)
    standing = Lot(**{**long.__dict__, "size_mm": (200.0, 20.0, 6.0)})
    assert "standing on its end" in arrange([standing], (FIRST,), PrintRun()).left_out[0][1]
    huge = Lot(**{**long.__dict__, "size_mm": (900.0, 20.0, 6.0)})
    assert "Split it into" in arrange([huge], (FIRST,), PrintRun()).left_out[0][1]


@given(st.integers(1, 5), st.floats(0, 40))
def test_a_plate_lies_in_the_middle_of_the_bed(count: int, purge: float) -> None:
    found = arrange([lot("arm", count)], (FIRST,), PrintRun(purge_mm=purge))
    assert sum(len(p.copies) for p in found.batches) == count
    for batch in found.batches:
        points = np.concatenate([c.place.put(square(40.0, 20.0)[0]) for c in batch.copies])
        low, high = points.min(axis=0), points.max(axis=0)
        assert (low + high) / 2 == pytest.approx([60.0, (120.0 + purge) / 2])
        assert low[1] >= purge - 1e-6
        assert high.max() <= 120.0 + 1e-6


def test_a_faster_second_printer_is_timed_by_its_own_motion() -> None:
    base = tern()
    quick = {"wall_speed_mm_s": 200.0, "cover_speed_mm_s": 200.0, "core_speed_mm_s": 250.0, "acceleration_mm_s2": 8000.0}
    fast = base.printer.model_copy(update={"id": "fast", "name": "Fast printer", "wall_acceleration_mm_s2": 5000.0, **quick})
    same = base.printer.model_copy(update={"id": "fast", "name": "Same printer"})
    runs = [settle(Engine(), base.model_copy(update={"more_printers": (p,)})) for p in (fast, same)]
    minutes = []
    for found in runs:
        on = [p for p in found.batches.batches if p.printer_id == "fast"]
        assert on
        minutes.append(sum(p.minutes for p in on) / sum(p.grams for p in on))
    assert minutes[0] < 0.8 * minutes[1]


def test_another_spool_is_loaded_before_its_plate() -> None:
    found = arrange([lot("arm", 1), lot("guard", 1, plastic="tpu"), lot("leg", 1)], (FIRST,), PrintRun())
    plan = schedule(found, (FIRST,), PrintRun(attended_from=0.0, attended_to=24.0), (), {})
    loads = [t for t in plan.tasks if t.label.startswith("load")]
    assert len(loads) == 1
    after = min((t for t in plan.tasks if t.kind == "print" and t.start_h >= loads[0].end_h - 1e-9), key=lambda t: t.start_h)
    assert after.start_h == pytest.approx(loads[0].end_h)
    assert after.batch_id == loads[0].batch_id


def test_a_part_goes_on_the_printer_it_is_put_on_or_it_is_said_why_not() -> None:
    engine, base = Engine(), tern()
    second = base.printer.model_copy(update={"id": "second", "name": "Second printer"})
    two = base.model_copy(update={"more_printers": (second,)})
    for printer in ("first", "second"):
        wish = (PartOnPrinter(id="arm", printer=printer),)
        found = settle(engine, set_many(two, (("run.on_printer", wish),)))
        on = {p.printer_id for p in found.batches.batches for c in p.copies if c.part_id == "arm"}
        assert on == {printer}
        assert {c.part_id for p in found.batches.batches for c in p.copies} == {p.id for p in base.parts}
    small = two.model_copy(update={"more_printers": (second.model_copy(update={"bed_x_mm": 100.0, "bed_y_mm": 100.0}),)})
    found = settle(engine, set_many(small, (("run.on_printer", (PartOnPrinter(id="arm", printer="second"),)),)))
    assert not found.batches.left_out
    assert any("Arm does not go where it was put" in n for n in found.schedule.notes)
    gone = settle(engine, set_many(base, (("run.on_printer", (PartOnPrinter(id="arm", printer="second"),)),)))
    assert gone.batches.batches == settle(engine, base).batches.batches


def test_what_is_done_by_hand_adds_up(settled: Settled) -> None:
    plan = settled.schedule
    assert plan.hands_h == pytest.approx(sum(t.end_h - t.start_h for t in plan.tasks if t.kind not in ("print", "cure", "dry")))
    run = settled.project.run
    for t in plan.by_hand:
        begin = (run.start_hour + t.start_h) % 24
        assert run.attended_from - 1e-6 <= begin <= run.attended_to + 1e-6
