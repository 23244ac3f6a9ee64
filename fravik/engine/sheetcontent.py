"""What the sheet says of an evaluated craft, and of its print run when its layers are laid."""

from __future__ import annotations

import numpy as np

from fravik.kinds import kind_of
from fravik.library import adhesive, carbon_stock, facing_stock
from fravik.model.joint import FIXING_LABELS
from fravik.model.laying import EDGE_LABELS, PAUSE_LABELS, START_LABELS, SUPPORT_LABELS
from fravik.model.recipe import LIES_LABELS, PLACE_LABELS
from fravik.plan.drawing import draw, png
from fravik.plan.sheet import BatchCard, Finding, Moment, PartCard, Sheet, Target
from fravik.printing.job import PrintJob
from fravik.shape.build import Floats, Mesh
from fravik.shape.meshfile import laid_on_bed
from fravik.study.findings import ranked
from fravik.study.words import clock, limit_text, moment, value_text

from .batchview import BatchView, batches
from .evaluate import Engine
from .foresee import foresee, run_findings
from .results import Evaluation, PartResult
from .settled import Settled, settled_margins
from .sliceloops import apart
from .sliceloops import loops as slice_loops

PICTURE_PX = (522, 342)  # at 225 dots an inch on paper
SCALE_SPREAD = 0.02  # kitchen and letter scales, and roads a little over or under their width
LEAST_WASTE_G = 0.05
NOT_LAID = "Not known yet: the layers of this design are not laid."


def plate_meshes(engine: Engine, result: Evaluation) -> list[Mesh]:
    """Each part's surface as it lies on the bed."""
    return [laid_on_bed(engine.mesh(r.given), r.field.rotation) for r in result.parts.values()]


def sheet_of(engine: Engine, result: Evaluation, settled: Settled | None = None) -> Sheet:
    """The sheet's content; ``settled`` is the print run of the same design."""
    project = result.project
    aside = {s.id: s.reason for s in project.set_aside}
    found = tuple(
        Finding(f.weight, f.where, f"{f.what} {f.why}".strip(), _kept(aside[f.id]) if f.id in aside else "")
        for f in ranked((*foresee(engine, result), *(run_findings(settled) if settled is not None else ())))
        if f.weight != "worth knowing"
    )
    margins = settled_margins(result, settled) if settled is not None else result.margins
    cards = tuple(
        _part(r, mesh, settled.jobs.get(r.part.id) if settled is not None else None)
        for r, mesh in zip(result.parts.values(), plate_meshes(engine, result), strict=True)
    )
    run = batches(settled) if settled is not None else ()
    return Sheet(
        project.name, project.brief.purpose, _summary(result, settled), cards,
        tuple(Target(m.name, value_text(m), limit_text(m), m.verdict, m.detail) for m in margins), found,
        tuple(_batch(b) for b in run), _moments(settled) if settled is not None else (),
        (*settled.schedule.notes, *(p.message for p in settled.problems)) if settled is not None else (),
        NOT_LAID if settled is None else "" if run else "Nothing is left to print.",
    )  # fmt: skip


def _kept(reason: str) -> str:
    return f"Set aside: {reason or 'no reason given'}."


def _summary(result: Evaluation, settled: Settled | None) -> str:
    jobs = settled.jobs if settled is not None else {}
    made = sum(_grams(r, jobs.get(k)) * r.part.count for k, r in result.parts.items())
    count = sum(r.part.count for r in result.parts.values())
    text = f"{count} pieces to make, {made:.0f} g with all that is glued in"
    if settled is None or not settled.batches.batches:
        return text
    ready = moment(settled.project.run.start_hour, settled.schedule.ready_h)
    return f"{text} · {clock(settled.minutes)} of printing in {len(settled.batches.batches)} batches · ready {ready}"


def _grams(r: PartResult, job: PrintJob | None) -> float:
    """Of one copy with what is glued in: by its roads, where they are laid."""
    return job.grams + r.bonded.grams if job is not None else r.grams


def _part(r: PartResult, mesh: Mesh, job: PrintJob | None) -> PartCard:
    part, printed = r.part, r.printed
    grams, each = _grams(r, job), " each" if part.count > 1 else ""
    size = " × ".join(f"{v:.0f}" for v in r.field.high_mm - r.field.low_mm)
    figures = f"{grams:.1f} g{each}"
    if printed:
        figures += f" · {clock(job.minutes if job is not None else r.figures.minutes)}{each} · {size} mm on the bed"
    picture = png(draw(mesh, *PICTURE_PX, part.recipe.layer_height_mm if printed else 0.0))
    facts = _facts(r, job) if printed else _cut(r)
    return PartCard(part.name, part.count, figures, facts, picture, _to_set(r), _look_at(r, job, grams), r.bed_problem or "")


def _cut(r: PartResult) -> tuple[tuple[str, str], ...]:
    size = " × ".join(f"{v:.1f}" for v in r.field.high_mm - r.field.low_mm)
    return ("Cut from", r.filament.name), ("Cut to", f"{size} mm")


def _facts(r: PartResult, job: PrintJob | None) -> tuple[tuple[str, str], ...]:
    recipe, laying = r.part.recipe, r.part.laying
    lies = f"Turned {recipe.roll_deg:g}° and {recipe.pitch_deg:g}°" if recipe.lies == "free" else LIES_LABELS[recipe.lies]
    layers = f"{job.layers.count} of " if job is not None else ""
    edge = f"{EDGE_LABELS[laying.edge]}, {laying.hem_mm:g} mm" if laying.edge == "hem" else EDGE_LABELS[laying.edge]
    support = SUPPORT_LABELS[laying.support]
    if laying.support != "none":
        support += f" below {laying.support_angle_deg:g}°, {'soluble cap' if laying.soluble else 'to break away'}"
    rows = [
        ("Filament", r.filament.name), ("Lies", lies), ("Layers", f"{layers}{recipe.layer_height_mm:g} mm"),
        ("Walls", f"{recipe.walls}, {recipe.line_width_mm:g} mm wide"), ("Covers", f"{recipe.cover_layers} layers"),
        ("Core", f"{recipe.core_density:.0%} {recipe.pattern}"), ("Around it", edge), ("Supports", support),
        ("Outlines start", START_LABELS[laying.starts].lower()),
    ]  # fmt: skip
    if laying.first_layer_mm != recipe.layer_height_mm:
        rows.insert(3, ("First layer", f"{laying.first_layer_mm:g} mm"))
    if job is not None and job.waste_grams >= LEAST_WASTE_G:
        rows.append(("Cut off", f"{job.waste_grams:.1f} g"))
    if laying.outline_first:
        rows.append(("Order", "outline before its walls"))
    if laying.pauses:
        rows.append(("Pauses", "; ".join(f"{p.height_mm:g} mm, {PAUSE_LABELS[p.why].lower()}" for p in laying.pauses)))
    if recipe.fan is not None:
        rows.append(("Fan", f"{recipe.fan:.0%}"))
    return tuple(rows)


def _to_set(r: PartResult) -> tuple[str, ...]:
    """What goes into each copy, or onto it."""
    part, out = r.part, []
    joint, holes = part.joint, kind_of(part.shape).screw_holes(part.shape)
    if joint.kind in ("bolted", "dovetail") and holes and joint.fixing != "through":
        what = FIXING_LABELS[joint.fixing].lower()
        out.append(f"{holes} × {joint.screw}: {what}, {joint.engaged_mm:g} mm deep")
    if part.carbon is not None:
        c = part.carbon
        out.append(f"{c.count} × {carbon_stock(c.stock).name}, {c.end_mm - c.start_mm:g} mm long, from {c.start_mm:g} mm "
                   f"({PLACE_LABELS[c.place].lower()}), {adhesive(c.adhesive).name.lower()}")  # fmt: skip
    if part.facing is not None:
        f = part.facing
        faces = "top and bottom" if f.faces == "both" else f.faces
        out.append(f"{facing_stock(f.stock).name} on {faces}, {f.start_mm:g} to {f.end_mm:g} mm, {adhesive(f.adhesive).name.lower()}")
    if out and r.bonded.cure_h:
        out.append(f"Leave to cure {r.bonded.cure_h:g} h")
    return tuple(out)


def _look_at(r: PartResult, job: PrintJob | None, grams: float) -> tuple[str, ...]:
    """What tells a good copy from a bad one: its weight, its size, and where it is likely to have gone wrong."""
    density = r.filament.density_g_cm3
    up = grams * (density.high / density.typical - 1 + SCALE_SPREAD)
    down = grams * (1 - density.low / density.typical + SCALE_SPREAD)
    out = [f"Weighs {grams - down:.1f} to {grams + up:.1f} g{', glued in and all' if r.bonded.grams else ''}"]
    if not r.printed:
        return (*out, "No edge is frayed, no layer open; the cut edges are sealed")
    if r.part.laying.edge == "hem":
        out.append("Hem cut off flush")
    if r.part.laying.support != "none":
        bath = f": {r.part.laying.bath_h:g} h in the bath" if r.part.laying.soluble else ""
        out.append(f"Supports out, no root left{bath}")
    out += [f"{t.kind[:1].upper()}{t.kind[1:]}: {t.text}" for t in (job.troubles if job is not None else ())]
    return tuple(dict.fromkeys(out))


def _batch(b: BatchView) -> BatchCard:
    loops: list[Floats] = []
    for copy in b.copies():
        job = b.job(copy.part_id)
        loops += [copy.place.put(x) for x in apart(*slice_loops(job, job.layers.count // 2))]
    figures, off, where = b.words
    first = f"{b.batch.id[:1].upper()}{b.batch.id[1:]} · {figures} · {off}"
    told = b.foreseen[1] if b.foreseen[0] != "holds" else ""
    stops = [f"Pauses: {'; '.join(s.words for s in b.batch.stops)}"] if b.batch.stops else []
    lines = (first, where, *stops, *([f"Watch: {told}"] if told else []))
    return BatchCard(b.batch.id, b.title, lines, (b.printer.bed_x_mm, b.printer.bed_y_mm), tuple(np.round(x, 2) for x in loops))


def _moments(settled: Settled) -> tuple[Moment, ...]:
    start = settled.project.run.start_hour
    titles = {b.batch.id: b.title for b in batches(settled)}
    out = []
    for t in sorted(settled.schedule.tasks, key=lambda t: (t.start_h, t.row)):
        named = titles.get(t.batch_id, "") if t.kind in ("print", "change") else ""
        what = f"{t.kind}: {named}" if named else t.label if t.kind in t.label else f"{t.kind}: {t.label}"
        out.append(Moment(moment(start, t.start_h), clock((t.end_h - t.start_h) * 60), t.row, what[:1].upper() + what[1:]))
    return tuple(out)
