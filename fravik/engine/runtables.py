"""The print run as plain data and as text, for scripts and the command line."""

from __future__ import annotations

from typing import Any

from fravik.study.words import clock

from .batchview import BatchView
from .gcoderead import GcodeReading
from .settled import Settled


def run_as_data(settled: Settled) -> dict[str, Any]:
    """Parts, batches, troubles and schedule as JSON-ready data."""
    views = [BatchView(settled, p) for p in settled.batches.batches]
    return {
        "project": settled.project.name,
        "minutes": settled.minutes,
        "parts": [
            {"id": k, "layers": j.layers.count, "minutes": j.minutes, "grams": j.grams, "waste_g": j.waste_grams,
             "zone_grams": j.zone_grams, "road_m": j.metres(), "lifts": int(j.lifts.sum()), "minutes_by_feature": j.minutes_by_feature()}
            for k, j in settled.jobs.items()
        ],
        "batches": [
            {"id": v.batch.id, "printer": v.batch.printer_id, "filament": v.batch.filament.id, "minutes": v.batch.minutes,
             "grams": v.batch.grams, "warnings": list(v.batch.warnings),
             "pauses": [{"height_mm": s.height_mm, "after_min": s.after_min, "why": list(s.why)} for s in v.batch.stops],
             "copies": [{"copy": c.key, "x_mm": c.place.x_mm, "y_mm": c.place.y_mm, "turn_deg": c.place.turn_deg} for c in v.batch.copies]}
            for v in views
        ],
        "troubles": [
            {"batch": v.batch.id, "part": p.part_id, "kind": p.trouble.kind, "weight": p.trouble.weight, "text": p.trouble.text,
             "cure": p.trouble.cure, "layer": p.trouble.layer + 1, "place_mm": list(p.trouble.place_mm)}
            for v in views for p in v.pins
        ],
        "left_out": [{"part": k, "why": why} for k, why in settled.batches.left_out],
        "schedule": [
            {"row": t.row, "kind": t.kind, "label": t.label, "start_h": t.start_h, "end_h": t.end_h, "batch": t.batch_id}
            for t in settled.schedule.tasks
        ],
        "ready_h": settled.schedule.ready_h, "deadline_h": settled.schedule.deadline_h,
        "notes": [*settled.schedule.notes, *(p.message for p in settled.problems)],
    }  # fmt: skip


def run_as_text(settled: Settled) -> str:
    """Batches with what goes wrong on them, then the schedule."""
    out = [f"{settled.project.name}: {clock(settled.minutes)} on {len(settled.batches.batches)} batches"]
    for batch in settled.batches.batches:
        view = BatchView(settled, batch)
        out.append(f"{batch.id}  {batch.printer_id}  {batch.filament.name}  {clock(batch.minutes)}  {batch.grams:.0f} g  "
                   + ", ".join(c.key for c in batch.copies))  # fmt: skip
        out += [f"  pauses after {clock(s.after_min)}: {s.words}" for s in batch.stops]
        out += [f"  {w}" for w in batch.warnings]
        out += [f"  {p.part_name}: {p.trouble.kind}. {p.trouble.text}. {p.trouble.cure}" for p in view.pins]
    out += [f"left out  {k}: {why}" for k, why in settled.batches.left_out]
    for t in settled.schedule.tasks:
        out.append(f"{t.start_h:6.2f} to {t.end_h:6.2f} h  {t.row}  {t.kind}  {t.label}")
    s = settled.schedule
    out.append(f"ready after {s.ready_h:.1f} h; wanted after {s.deadline_h:.1f} h")
    out += [f"note  {n}" for n in (*s.notes, *(p.message for p in settled.problems))]
    return "\n".join(out)


def reading_as_text(r: GcodeReading) -> str:
    """A G-code file in a few lines."""
    out = [f"{r.name}: {clock(r.minutes)}, {r.grams:.1f} g, {len(r.roads.tops_mm())} layers, {r.bounds}"]
    out += [r.off_bed] if r.off_bed else []
    for d in r.rows:
        out.append(f"{d.what:8s}  file {d.file:.1f}  {r.against} {d.plan:.1f} {d.unit}  {d.off:+.0%}")
    if r.roads.passed_over:
        out.append(f"{r.roads.passed_over} lines hold other commands and were passed over")
    return "\n".join(out)
