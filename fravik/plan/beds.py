"""Which copies go on which batch of which printer, what each batch takes, and which mixes are risky."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from fravik.model.laying import Pause
from fravik.model.material import Filament
from fravik.model.project import Printer
from fravik.model.run import PrintRun
from fravik.printing.toobig import offer

from .nest import Bed, Outline, other_hand
from .place import Batch, Batches, Copy
from .stops import stops_of

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Lot:
    """One kind of part to be printed: how many, its outline about its own middle, and its layers.

    ``layer_s`` (n,) is the time of each layer of one copy without the layer change and without waiting; ``tops_mm`` (n,) where each
    ends. ``risk`` says in words why it may come loose, empty when it stands well. ``size_mm`` is along the part's own axes;
    ``elsewhere_s`` holds the layers' times on printers that move otherwise.
    """

    part_id: str
    name: str
    count: int
    outline: Outline
    tops_mm: Floats
    layer_s: Floats
    grams: float
    filament: Filament
    tall_mm: float
    risk: str
    first: bool = False
    size_mm: tuple[float, float, float] | None = None
    elsewhere_s: dict[str, Floats] = field(default_factory=dict)
    pauses: tuple[Pause, ...] = ()
    mirrored: frozenset[int] = frozenset()  # numbers of the copies that are the other hand

    def seconds_on(self, printer_id: str) -> Floats:
        """Time of each layer of one copy on a printer (n,)."""
        return self.elsewhere_s.get(printer_id, self.layer_s)


def layer_seconds(lots: list[Lot], counts: list[int], printer: Printer, min_layer_s: float) -> tuple[Floats, Floats]:
    """Heights (n,) at which a layer of any copy ends, and the seconds of each: all copies' roads, hops between copies, one change per
    layer, and waiting only when all copies together are quicker than a layer needs to set."""
    tops = np.unique(np.round(np.concatenate([lot.tops_mm for lot in lots]), 2))
    busy, copies = np.zeros(len(tops)), np.zeros(len(tops))
    for lot, n in zip(lots, counts, strict=True):
        at = np.searchsorted(tops, np.round(lot.tops_mm, 2))
        np.add.at(busy, at, n * lot.seconds_on(printer.id))
        np.add.at(copies, at, float(n))
    span = 0.5 * min(printer.bed_x_mm, printer.bed_y_mm) / max(1.0, math.sqrt(sum(counts)))
    hop = span / printer.travel_speed_mm_s + printer.travel_speed_mm_s / printer.travel_acceleration_mm_s2
    busy += np.maximum(0.0, copies - 1) * hop + printer.layer_change_s
    return tops, np.maximum(busy, min_layer_s)


def batch_seconds(lots: list[Lot], counts: list[int], printer: Printer, min_layer_s: float) -> float:
    """Seconds of a batch printed layer by layer."""
    return float(layer_seconds(lots, counts, printer, min_layer_s)[1].sum())


def refusal(lot: Lot, printer: Printer) -> str:
    """Why a printer cannot take a part, empty when it can."""
    f = lot.filament
    if f.abrasive and not printer.hardened_nozzle:
        return f"{printer.name}: {f.name} is abrasive and its nozzle is soft"
    if f.nozzle_c > printer.max_nozzle_c:
        return f"{printer.name}: {f.name} wants {f.nozzle_c:.0f} °C, its nozzle stands {printer.max_nozzle_c:.0f} °C"
    if lot.tall_mm > printer.bed_z_mm:
        return f"{printer.name}: {lot.name.lower()} stands {lot.tall_mm:.0f} mm tall, it reaches {printer.bed_z_mm:.0f} mm"
    return ""


def arrange(lots: list[Lot], printers: tuple[Printer, ...], run: PrintRun) -> Batches:
    """Spread all copies over batches.

    A batch holds one filament. Parts wanted first open their own batches first; within a filament large outlines go first. Each copy
    goes on the first batch that has room for it, batches are shared out so that all printers are busy about as long. A part goes on the
    printer that the maker wants for it, if that one takes it.
    """
    wanted, notes = _wanted(lots, printers, run)
    batches: list[Batch] = []
    left: list[tuple[str, str]] = []
    load = {p.id: 0.0 for p in printers}
    for early in (True, False):
        chosen = [lot for lot in lots if lot.first == early]
        for name in dict.fromkeys(lot.filament.id for lot in chosen):
            group = sorted((lot for lot in chosen if lot.filament.id == name), key=lambda lot: -_size(lot))
            queue = [(lot, k + 1) for lot in group for k in range(lot.count)]
            while queue:
                made, queue, why = _fill(queue, printers, run, load, wanted, len(batches) + 1)
                if made is None and wanted.pop(queue[0][0].part_id, None) is not None:
                    notes.append(f"{queue[0][0].name} does not go where it was put: {why}.")
                    continue
                if made is None:
                    left.append((queue[0][0].part_id, why))
                    gone = queue[0][0].part_id
                    queue = [q for q in queue if q[0].part_id != gone]
                    continue
                batches.append(made)
                load[made.printer_id] += made.minutes
    return Batches(tuple(batches), tuple(left), tuple(notes))


def _wanted(lots: list[Lot], printers: tuple[Printer, ...], run: PrintRun) -> tuple[dict[str, str], list[str]]:
    """Printers wanted for parts, by part, less those that cannot take them; and what is to be said of these."""
    wanted, notes = {}, []
    by_id = {p.id: p for p in printers}
    wishes = {w.id: w.printer for w in run.on_printer if w.printer in by_id}
    for lot in lots:
        if lot.part_id in wishes:
            why = refusal(lot, by_id[wishes[lot.part_id]])
            if why:
                notes.append(f"{lot.name} does not go where it was put: {why}.")
            else:
                wanted[lot.part_id] = wishes[lot.part_id]
    return wanted, notes


def _size(lot: Lot) -> float:
    points = np.concatenate(lot.outline.loops)
    return float(np.prod(points.max(axis=0) - points.min(axis=0)))


def _fill(
    queue: list[tuple[Lot, int]], printers: tuple[Printer, ...], run: PrintRun, load: dict[str, float], wanted: dict[str, str], number: int
) -> tuple[Batch | None, list[tuple[Lot, int]], str]:
    """Fill one batch from the front of the queue: the batch (None when nothing fits anywhere), what is left, and why not."""
    first = queue[0][0]
    able = [p for p in printers if not refusal(first, p) and wanted.get(first.part_id, p.id) == p.id]
    if not able:
        return None, queue, "; ".join(refusal(first, p) for p in printers)
    for printer in sorted(able, key=lambda p: load[p.id]):
        bed = Bed(printer.bed_x_mm, printer.bed_y_mm, run.gap_mm, run.purge_mm)
        copies: list[Copy] = []
        taken: list[Lot] = []
        rest: list[tuple[Lot, int]] = []
        full: set[str] = set()
        for lot, k in queue:
            elsewhere = wanted.get(lot.part_id, printer.id) != printer.id
            if len(copies) >= run.most_in_batch or lot.part_id in full or elsewhere or refusal(lot, printer):
                rest.append((lot, k))
                continue
            place = bed.put(lot.outline if k not in lot.mirrored else other_hand(lot.outline))
            if place is None:
                full.add(lot.part_id)
                rest.append((lot, k))
                continue
            copies.append(Copy(lot.part_id, k, replace(place, mirrored=k in lot.mirrored)))
            taken.append(lot)
        if copies:
            kinds = list({id(lot): lot for lot in taken}.values())
            counts = [sum(t is lot for t in taken) for lot in kinds]
            tops, seconds = layer_seconds(kinds, counts, printer, first.filament.min_layer_s)
            grams = sum(lot.grams * n for lot, n in zip(kinds, counts, strict=True))
            placed = _centred(copies, taken, printer, run)
            minutes = printer.start_up_min + float(seconds.sum()) / 60
            stops = stops_of([p for lot in kinds for p in lot.pauses], tops, seconds, printer.start_up_min)
            batch = Batch(f"batch {number}", printer.id, first.filament, placed, minutes, grams, _mixes(kinds, counts), stops)
            return batch, rest, ""
    size = np.ptp(np.concatenate(first.outline.loops), axis=0)
    beds = ", ".join(f"{p.name} {p.bed_x_mm:.0f} × {p.bed_y_mm:.0f}" for p in able)
    advice = f". {offer(first.size_mm, able)}" if first.size_mm is not None else ""
    return None, queue, f"{first.name} needs {size[0]:.0f} × {size[1]:.0f} mm; beds: {beds}{advice}"


def _centred(copies: list[Copy], lots: list[Lot], printer: Printer, run: PrintRun) -> tuple[Copy, ...]:
    """The copies moved together to the middle of what the purge strip leaves of the bed, where it is warmest."""
    points = np.concatenate([c.place.put(loop) for c, lot in zip(copies, lots, strict=True) for loop in lot.outline.loops])
    low, high = points.min(axis=0), points.max(axis=0)
    room_low, room_high = np.array([0.0, run.purge_mm]), np.array([printer.bed_x_mm, printer.bed_y_mm])
    u, v = (room_low + room_high) / 2 - (low + high) / 2
    return tuple(Copy(c.part_id, c.number, replace(c.place, x_mm=c.place.x_mm + float(u), y_mm=c.place.y_mm + float(v))) for c in copies)


def _mixes(lots: list[Lot], counts: list[int]) -> tuple[str, ...]:
    """A part that may come loose should not take others with it."""
    out = []
    total = sum(counts)
    for lot, n in zip(lots, counts, strict=True):
        if lot.risk and total > 1:
            others = total - 1
            out.append(f"{lot.name} {lot.risk}: if it comes loose, {others} other{'s' if others > 1 else ''} may go with it. "
                       f"Print {'them' if n > 1 else 'it'} alone, or one on a bed.")  # fmt: skip
    return tuple(out)
