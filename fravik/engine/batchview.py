"""One batch as it is looked at: its layers from the bed up, each copy's layer at a height, time by feature, and the troubles on it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fravik.library import filament_of
from fravik.model.project import Printer
from fravik.plan.place import Batch, Copy, Place
from fravik.plan.stops import stops_of
from fravik.printing.job import PrintJob
from fravik.printing.layerroads import CHANGE, FEATURES, WAIT
from fravik.printing.trouble import Trouble
from fravik.printing.zones import Floats
from fravik.study.margins import Verdict
from fravik.study.words import clock, moment, several

from .settled import GRAVE, Settled

# kinds of road that are told apart, in the order they are drawn; the rest of the time is 'travel and lifts'
SHOWN = ("outline", "wall", "gap", "cover", "bridge", "core", "support", "cap", "hem")
TRAVELS = "travel and lifts"
KINDS_OF_TIME = (*SHOWN, TRAVELS)
LIKELY = 0.45  # troubles of this weight and more are seen on the part by most


@dataclass(frozen=True)
class Pin:
    """A trouble of one part on the batch, numbered by weight, with the copies it concerns and its place on the bed for each."""

    number: int
    part_id: str
    part_name: str
    trouble: Trouble
    places_mm: tuple[tuple[float, float, float], ...]


@dataclass(frozen=True)
class BatchView:
    """A batch with the jobs of its copies."""

    settled: Settled
    batch: Batch

    @cached_property
    def parts(self) -> tuple[str, ...]:
        """Ids of the parts on the batch."""
        return tuple(dict.fromkeys(c.part_id for c in self.batch.copies))

    def job(self, part_id: str) -> PrintJob:
        """The job of a part."""
        return self.settled.jobs[part_id]

    @cached_property
    def tops_mm(self) -> Floats:
        """Heights at which a layer of any copy ends (n,), lowest first."""
        every = [np.round(self.job(p).layers.top_mm, 3) for p in self.parts]
        return np.unique(np.concatenate(every)) if every else np.zeros(0)

    def layer_of(self, part_id: str, index: int) -> int:
        """Number of a part's last layer at or below the batch's layer ``index``; -1 when it has none yet."""
        top = self.tops_mm[index] + 1e-6
        return int(np.searchsorted(np.round(self.job(part_id).layers.top_mm, 3), top, side="right")) - 1

    def growing(self, part_id: str, index: int) -> bool:
        """Whether the part has a layer of its own that ends at the batch's layer ``index``."""
        k = self.layer_of(part_id, index)
        return k >= 0 and abs(float(self.job(part_id).layers.top_mm[k]) - float(self.tops_mm[index])) < 2e-3

    def copies(self) -> tuple[Copy, ...]:
        """All copies."""
        return self.batch.copies

    def name_of(self, copy: Copy) -> str:
        """What a copy is called: its part's name, and its number where there are more of it here."""
        alone = sum(c.part_id == copy.part_id for c in self.batch.copies) == 1
        name = self.settled.project.part(copy.part_id).name.lower()
        return name if alone else f"{name} {copy.number}"

    @cached_property
    def minutes_by_feature(self) -> tuple[tuple[str, float], ...]:
        """Minutes of every kind of road on the batch, then 'travel and lifts', then 'warm-up'; they add up to the batch's minutes."""
        total = np.zeros(len(FEATURES))
        for c in self.batch.copies:
            seconds = self.job(c.part_id).seconds.sum(axis=0)
            seconds[[CHANGE, WAIT]] = 0.0
            total += seconds
        warm = next(p.start_up_min for p in self.settled.project.printers if p.id == self.batch.printer_id)
        # jobs are timed on the first printer; on another that moves otherwise each feature keeps its share
        total *= min(1.0, (self.batch.minutes - warm) * 60 / max(float(total.sum()), 1e-9))
        named = dict(zip(FEATURES, total / 60, strict=True))
        out = [(n, named[n]) for n in SHOWN if named[n] >= 0.5]
        rest = self.batch.minutes - warm - sum(t for _, t in out)
        return (*out, (TRAVELS, max(0.0, rest)), ("warm-up", warm))

    @cached_property
    def layer_minutes(self) -> Floats:
        """(n, kinds) minutes of each layer of the batch by KINDS_OF_TIME; with the warm-up they add up to the batch's minutes."""
        every = np.zeros((len(self.tops_mm), len(FEATURES)))
        for part in self.parts:
            count, job = sum(c.part_id == part for c in self.batch.copies), self.job(part)
            at = np.searchsorted(self.tops_mm, np.round(job.layers.top_mm, 3))
            np.add.at(every, np.minimum(at, len(self.tops_mm) - 1), count * job.seconds / 60)
        columns = [FEATURES.index(n) for n in SHOWN]
        rest = [k for k, n in enumerate(FEATURES) if n not in SHOWN]
        shown, travels = every[:, columns], every[:, rest].sum(axis=1)
        warm = self.printer.start_up_min
        shown = shown * min(1.0, (self.batch.minutes - warm) / max(float(shown.sum()), 1e-9))
        left = max(self.batch.minutes - warm - float(shown.sum()), 0.0)
        return np.column_stack([shown, travels * left / max(float(travels.sum()), 1e-9)])

    @property
    def printer(self) -> Printer:
        """The printer that it is on."""
        return next(p for p in self.settled.project.printers if p.id == self.batch.printer_id)

    @cached_property
    def title(self) -> str:
        """What is on it, as 'Four arms' or 'Four legs, camera mount'."""
        named = self.settled.project
        told = [several(sum(c.part_id == p for c in self.batch.copies), named.part(p).name) for p in self.parts]
        text = ", ".join(told)
        return text[:1].upper() + text[1:]

    @cached_property
    def words(self) -> tuple[str, str, str]:
        """How long and heavy it is, when it comes off, and of what and where it is printed."""
        ends = [t.end_h for t in self.settled.schedule.tasks if t.batch_id == self.batch.id]
        off = f"off {moment(self.settled.project.run.start_hour, max(ends)).removeprefix('day 1, ')}" if ends else "not planned"
        return (f"{clock(self.batch.minutes)} · {self.batch.grams:.0f} g", off, f"{self.batch.filament.name} · {self.printer.name}")

    @cached_property
    def foreseen(self) -> tuple[Verdict, str]:
        """The worst that is foreseen on it."""
        if self.batch.warnings:
            return "tight", self.batch.warnings[0]
        if not self.pins or self.pins[0].trouble.weight < LIKELY:
            return "holds", "little foreseen" if self.pins else "nothing foreseen"
        worst = self.pins[0].trouble
        return ("fails" if worst.weight >= GRAVE else "tight"), worst.kind

    def share_done(self, index: int) -> float:
        """Share of the batch's road time spent when layer ``index`` is finished."""
        done = total = 0.0
        for part in self.parts:
            n = sum(c.part_id == part for c in self.batch.copies)
            seconds = self.job(part).seconds.sum(axis=1)
            done += n * float(seconds[: self.layer_of(part, index) + 1].sum())
            total += n * float(seconds.sum())
        return done / total if total > 0 else 0.0

    def describe(self, index: int) -> str:
        """A layer in words: number, height, share of the time, lifts."""
        lifts = 0
        for part in self.parts:
            if self.growing(part, index):
                n = sum(c.part_id == part for c in self.batch.copies)
                lifts += n * int(self.job(part).lifts[self.layer_of(part, index)])
        return (f"layer {index + 1} of {len(self.tops_mm)} · {self.tops_mm[index]:.2f} mm · {self.share_done(index):.0%} of time · "
                f"{lifts} lift{'s' if lifts != 1 else ''}")  # fmt: skip

    @cached_property
    def pins(self) -> tuple[Pin, ...]:
        """All troubles of the batch's parts, gravest first."""
        found = [(t, part) for part in self.parts for t in self.job(part).troubles]
        found.sort(key=lambda f: -f[0].weight)
        out = []
        for i, (t, part) in enumerate(found, start=1):
            at = np.array([t.place_mm[:2]])
            places = []
            for c in self.batch.copies:
                if c.part_id == part:
                    x, y = c.place.put(at)[0]
                    places.append((float(x), float(y), float(t.place_mm[2])))
            out.append(Pin(i, part, self.settled.project.part(part).name, t, tuple(places)))
        return tuple(out)

    def index_at(self, height_mm: float) -> int:
        """The batch's layer that ends nearest to a height."""
        return int(np.abs(self.tops_mm - height_mm).argmin()) if len(self.tops_mm) else 0


def alone(settled: Settled, part_id: str) -> BatchView:
    """One copy of a part in the middle of the first printer's bed. Raises KeyError when the part has no layers."""
    job, printer = settled.jobs[part_id], settled.project.printer
    part = settled.project.part(part_id)
    plastic = filament_of(settled.project, part.recipe.filament)
    copy = Copy(part_id, 1, Place(printer.bed_x_mm / 2, printer.bed_y_mm / 2, 0.0))
    stops = stops_of(part.laying.pauses, job.layers.top_mm, job.seconds.sum(axis=1), printer.start_up_min)
    batch = Batch(part_id, printer.id, plastic, (copy,), job.minutes + printer.start_up_min, job.grams + job.waste_grams, (), stops)
    return BatchView(settled, batch)


def batches(settled: Settled) -> tuple[BatchView, ...]:
    """All batches in the order they print: by when each begins."""
    begins = {t.batch_id: t.start_h for t in settled.schedule.tasks if t.kind == "print"}
    return tuple(BatchView(settled, p) for p in sorted(settled.batches.batches, key=lambda p: begins.get(p.id, 0.0)))


def batch_of(settled: Settled, batch_id: str) -> BatchView | None:
    """A batch by its id, the first when there is none of that name, None when there are none."""
    batches = settled.batches.batches
    if not batches:
        return None
    return BatchView(settled, next((p for p in batches if p.id == batch_id), batches[0]))
