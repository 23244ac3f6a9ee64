"""When each batch prints and what is done at the bench afterwards, up to the assembled craft.

Hours run from the start of the run. Batches are changed, parts glued and inserts set only while somebody is there; prints and cures go
on by themselves. Each printer takes its batches in order; the bench does one thing at a time, whatever is ready first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from fravik.model.project import Printer
from fravik.model.run import PrintRun
from fravik.study.words import several

from .place import Batch, Batches

Kind = Literal["dry", "print", "change", "pause", "supports", "inserts", "glue", "cure", "test", "assemble"]
BY_HAND: tuple[Kind, ...] = ("change", "pause", "supports", "inserts", "glue", "test", "assemble")
SWAP_MIN = 6.0
PAUSE_MIN = 5.0
WAITS_H = 0.25  # a printer that waits longer for somebody is told of
INSERT_MIN = 1.5
BREAK_AWAY_MIN = 4.0
TEST_MIN = 20.0
ASSEMBLE_MIN = 90.0


@dataclass(frozen=True)
class BenchWork:
    """What one copy of a part needs after it is printed, and whether it is worth testing as soon as there is one."""

    part_id: str
    name: str
    inserts: int = 0
    glue_min: float = 0.0
    cure_h: float = 0.0
    support: Literal["none", "break-away", "soluble"] = "none"
    test: bool = False
    bath_h: float = 6.0


@dataclass(frozen=True)
class Task:
    """One bar of the schedule: what, on which row, from when to when."""

    kind: Kind
    row: str
    label: str
    start_h: float
    end_h: float
    batch_id: str = ""
    parts: tuple[str, ...] = ()


@dataclass(frozen=True)
class Schedule:
    """All bars, when the craft is ready, and what to know about it."""

    tasks: tuple[Task, ...]
    ready_h: float
    deadline_h: float
    notes: tuple[str, ...]

    @property
    def late_h(self) -> float:
        """Hours after the deadline, negative when there are hours to spare."""
        return self.ready_h - self.deadline_h

    @property
    def by_hand(self) -> tuple[Task, ...]:
        """What somebody has to be there for, in its order."""
        return tuple(sorted((t for t in self.tasks if t.kind in BY_HAND), key=lambda t: t.start_h))

    @property
    def hands_h(self) -> float:
        """Hours of it."""
        return sum(t.end_h - t.start_h for t in self.by_hand)

    def rows(self) -> list[str]:
        """Rows in the order they are shown: dry box, printers, bench."""
        return list(dict.fromkeys(t.row for t in sorted(self.tasks, key=lambda t: (_RANK.get(t.row, 1), 0))))


_RANK = {"Dry box": 0, "Bench": 2}


class Hours:
    """When somebody is there."""

    def __init__(self, run: PrintRun) -> None:
        self.start, self.night, self.done = run.start_hour, run.night, run.done_h
        self.low, self.high = run.attended_from, max(run.attended_to, run.attended_from + 0.5)

    def next(self, at_h: float) -> float:
        """The first moment from ``at_h`` on when somebody is there."""
        day = (self.start + at_h) % 24.0
        if day < self.low:
            return at_h + self.low - day
        return at_h if day < self.high - 1e-9 else at_h + 24.0 - day + self.low

    def finish(self, at_h: float, work_h: float) -> tuple[float, float]:
        """Begin and end of work that is done in one go: put off to the next day if the day is too short for it."""
        begin = self.next(at_h)
        left = self.high - (self.start + begin) % 24.0
        if work_h > left and work_h <= self.high - self.low:
            begin = self.next(begin + left)
        return begin, begin + work_h

    def runs_on(self, begin_h: float, hours: float) -> bool:
        """Whether something begun then is still going when nobody is there."""
        return (self.start + begin_h) % 24.0 + hours > self.high


def schedule(batches: Batches, printers: tuple[Printer, ...], run: PrintRun, works: Sequence[BenchWork], wet: dict[str, float]) -> Schedule:
    """Lay all work on the time axis. ``wet`` names filaments that must be dried first, with the hours that takes."""
    hours = Hours(run)
    wishes = {w.id: w.start_h for w in run.wishes}
    tasks: list[Task] = []
    notes: list[str] = []
    dry_until: dict[str, float] = {}
    box = run.done_h
    for batch in batches.batches:
        f = batch.filament
        if f.id in wet and f.id not in dry_until:
            begin = hours.next(box)
            box = dry_until[f.id] = begin + wet[f.id]
            tasks.append(Task("dry", "Dry box", f"dry {f.name}", begin, box))
    free = {p.id: run.done_h for p in printers}
    loaded: dict[str, str] = {}
    by_id = {p.id: p for p in printers}
    ready: list[tuple[float, str, int, str]] = []
    names = {w.part_id: w.name for w in works}
    for batch in _in_order(batches.batches, run.order):
        printer = by_id[batch.printer_id]
        swap = SWAP_MIN / 60 if loaded.get(printer.id) not in (None, batch.filament.id) else 0.0
        loaded[printer.id] = batch.filament.id
        wish = wishes.get(batch.id, 0.0)
        begin = hours.next(max(free[printer.id], dry_until.get(batch.filament.id, 0.0) - swap, wish - swap))
        if swap:
            tasks.append(Task("change", printer.name, f"load {batch.filament.name}", begin, begin + swap, batch.id))
            begin += swap
        long = batch.minutes / 60 + len(batch.stops) * PAUSE_MIN / 60
        if not run.night and hours.runs_on(begin, long):
            if long <= hours.high - hours.low:
                begin = hours.next(begin + hours.high - (hours.start + begin) % 24.0)
            else:
                notes.append(f"{batch.id.capitalize()} takes {long:.0f} h and cannot end within a day: it prints into the night.")
        end, pauses = _paused(batch, begin, hours, notes)
        label = ", ".join(several(n, names.get(part, part)) for part, n in _counts([c.part_id for c in batch.copies]).items())
        tasks.append(Task("print", printer.name, label, begin, end, batch.id, tuple(c.key for c in batch.copies)))
        tasks += [Task("pause", printer.name, words, a, b, batch.id) for words, a, b in pauses]
        change, off = hours.finish(end, printer.bed_change_min / 60)
        tasks.append(Task("change", printer.name, "cool, take off", change, off, batch.id))
        free[printer.id] = off
        ready += [(off, c.part_id, c.number, batch.id) for c in batch.copies]
    done = _bench(sorted(ready), {w.part_id: w for w in works}, hours, tasks)
    begin, end = hours.finish(max(done, default=0.0), ASSEMBLE_MIN / 60) if ready else (0.0, 0.0)
    if ready:
        tasks.append(Task("assemble", "Bench", "assemble", begin, end))
    notes += batches.notes
    for part, why in batches.left_out:
        notes.append(f"{part} is on no bed: {why}.")
    return Schedule(tuple(tasks), end, run.deadline_h, tuple(notes))


def _paused(batch: Batch, begin_h: float, hours: Hours, notes: list[str]) -> tuple[float, list[tuple[str, float, float]]]:
    """When a batch that begins then ends, and its pauses, each from when somebody is there to see to it."""
    at, done, out = begin_h, 0.0, []
    for stop in batch.stops:
        at += (stop.after_min - done) / 60
        done = stop.after_min
        a, b = hours.finish(at, PAUSE_MIN / 60)
        if a - at > WAITS_H:
            notes.append(f"{batch.id.capitalize()} pauses at {stop.height_mm:.1f} mm with nobody there and waits {a - at:.0f} h: parts "
                         "that cool may come loose. Begin it at another hour.")  # fmt: skip
        out.append((stop.words, a, b))
        at = b
    return at + (batch.minutes - done) / 60, out


def _in_order(batches: tuple[Batch, ...], order: tuple[str, ...]) -> list[Batch]:
    """As the maker put them; one that he has not named stays behind the one that it was planned behind."""
    place = {name: float(k) for k, name in enumerate(order)}
    last, found = -1.0, []
    for batch in batches:
        last = place.get(batch.id, last)
        found.append((last, batch))
    return [batch for _, batch in sorted(found, key=lambda pair: pair[0])]


def _counts(ids: list[str]) -> dict[str, int]:
    return {i: ids.count(i) for i in dict.fromkeys(ids)}


def _bench(ready: list[tuple[float, str, int, str]], works: dict[str, BenchWork], hours: Hours, tasks: list[Task]) -> list[float]:
    """Bench work of all copies in the order they come off; copies of a part that come off together are done together."""
    bench = hours.done
    done: list[float] = []
    tested: set[str] = set()
    lots: dict[tuple[float, str], list[int]] = {}
    for at, part, number, _ in ready:
        lots.setdefault((at, part), []).append(number)
    for (at, part), numbers in lots.items():
        w = works.get(part, BenchWork(part, part))
        n, now = len(numbers), at
        keys = tuple(f"{part} {k}" for k in numbers)
        steps: list[tuple[Kind, str, float, float]] = []
        if w.support == "soluble":
            steps.append(("supports", f"bath, {w.name.lower()}", 5.0, w.bath_h))
        elif w.support == "break-away":
            steps.append(("supports", f"free {w.name.lower()}", BREAK_AWAY_MIN * n, 0.0))
        if w.inserts:
            steps.append(("inserts", f"{w.inserts * n} inserts", INSERT_MIN * w.inserts * n, 0.0))
        if w.glue_min > 0:
            steps.append(("glue", f"glue {w.name.lower()}", w.glue_min * n, w.cure_h))
        if w.test and part not in tested:
            tested.add(part)
            steps.append(("test", f"test {w.name.lower()}", TEST_MIN, 0.0))
        for kind, label, minutes, alone_h in steps:
            begin, end = hours.finish(max(now, bench), minutes / 60)
            tasks.append(Task(kind, "Bench", label, begin, end, "", keys))
            bench = now = end
            if alone_h > 0:
                if kind == "glue":
                    tasks.append(Task("cure", "Curing", f"cure {w.name.lower()}", end, end + alone_h, "", keys))
                now = end + alone_h
        done.append(now)
    return done
