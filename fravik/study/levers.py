"""Ways out: small changes to the design, each found by trying it, with its price in grams, minutes and money.

Every kind of lever is a short ladder of steps. The first step that brings the failing targets right is kept; when none
does, the step that helps most. Nothing is interpolated: every figure shown comes from an evaluation of that design.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from fravik.library import carbon_stocks, filaments_of, sheets
from fravik.model.paths import EditError, set_many
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon, Facing, Place
from fravik.model.shapes import ArmShape, GuardShape, LegShape, MountShape, PlateShape
from fravik.shape.checks import shape_problems

from .margins import Margin, Scores

Edits = tuple[tuple[str, Any], ...]
PRICE_WEIGHT = 0.02
CURE_WEIGHT = 0.6
LEAST_GAIN = 0.05
HARM_WEIGHT = 1.0
# to lose ground on one open target for another counts twice
SETBACK_WEIGHT = 2.0


@dataclass(frozen=True)
class Step:
    """One candidate change."""

    kind: str
    title: str
    edits: Edits


@dataclass(frozen=True)
class Lever:
    """A change that was tried: what it does to every margin and what it costs."""

    kind: str
    title: str
    edits: Edits
    scores: Scores
    grams: float
    minutes: float
    cost: float
    cures: tuple[str, ...]
    harms: tuple[str, ...]
    gain: float

    @property
    def price(self) -> float:
        """One figure to sort by: a gram, half an hour and one unit of money weigh alike; what is saved counts too."""
        return self.grams + self.minutes / 30.0 + self.cost


def open_margins(scores: Scores) -> list[Margin]:
    """Margins that call for a way out: failing ones, else tight ones."""
    failing = [m for m in scores.margins if m.verdict == "fails"]
    return failing or [m for m in scores.margins if m.verdict == "tight"]


def ladders(project: Project, part: Part) -> Iterator[list[Step]]:
    """Ladders of steps for one part, one list per kind of lever, smallest step first."""
    shape, recipe, at = part.shape, part.recipe, f"parts.{part.id}."
    if isinstance(shape, ArmShape):
        yield [
            Step("height", f"{part.name} {shape.root_height_mm:g} → {shape.root_height_mm + d:g} mm tall", (
                (at + "shape.root_height_mm", shape.root_height_mm + d),
                (at + "shape.tip_height_mm", shape.tip_height_mm + d),
            )) for d in (0.5, 1.0, 2.0, 3.0, 4.5, 6.0)
        ]  # fmt: skip
        yield [
            Step("width", f"{part.name} {d:g} mm wider", (
                (at + "shape.root_width_mm", shape.root_width_mm + d),
                (at + "shape.tip_width_mm", min(shape.tip_width_mm + d, shape.pad_diameter_mm)),
                (at + "shape.tongue_width_mm", max(shape.tongue_width_mm, shape.root_width_mm + d)),
            )) for d in (1.0, 2.0, 4.0, 6.0)
        ]  # fmt: skip
        for n in (1, 2):
            yield _carbon_ladder(project, part, shape, n)
    if isinstance(shape, PlateShape):
        yield [
            Step("plate", f"{part.name} {shape.thickness_mm:g} → {shape.thickness_mm + d:g} mm thick",
                 ((at + "shape.thickness_mm", round(shape.thickness_mm + d, 2)),)) for d in (0.6, 1.2, 2.0, 3.0)
        ]  # fmt: skip
        yield [
            Step("facing", f"{part.name} faced with {sheets()[s].name[0].lower()}{sheets()[s].name[1:]}",
                 ((at + "facing", Facing(sheet=s, faces="both", cover=0.8)),)) for s in ("glass_2", "plate_0p5") if part.facing is None
        ]  # fmt: skip
    if isinstance(shape, LegShape):
        yield [
            Step("height", f"{part.name} {shape.thickness_mm:g} → {shape.thickness_mm + d:g} mm thick",
                 ((at + "shape.thickness_mm", shape.thickness_mm + d),)) for d in (1.0, 2.0, 3.0)
        ]  # fmt: skip
    if isinstance(shape, MountShape):
        yield [
            Step("height", f"{part.name} {shape.thickness_mm:g} → {shape.thickness_mm + d:g} mm thick",
                 ((at + "shape.thickness_mm", shape.thickness_mm + d),)) for d in (1.0, 2.0, 3.0, 4.5)
        ]  # fmt: skip
        yield [
            Step("width", f"{part.name} {d:g} mm wider", (
                (at + "shape.root_width_mm", shape.root_width_mm + d), (at + "shape.tip_width_mm", shape.tip_width_mm + d),
                (at + "shape.pad_width_mm", max(shape.pad_width_mm, shape.tip_width_mm + d)),
                (at + "shape.tongue_width_mm", max(shape.tongue_width_mm, shape.root_width_mm + d)),
            )) for d in (2.0, 4.0, 8.0)
        ]  # fmt: skip
        yield [
            Step("length", f"{part.name} {shape.length_mm:g} → {shape.length_mm - d:g} mm long",
                 ((at + "shape.length_mm", shape.length_mm - d),)) for d in (2.0, 4.0, 7.0) if shape.length_mm - d > 12.0
        ]  # fmt: skip
    if isinstance(shape, GuardShape):
        yield [
            Step("height", f"{part.name} {shape.height_mm:g} → {shape.height_mm + d:g} mm tall",
                 ((at + "shape.height_mm", shape.height_mm + d),)) for d in (1.0, 2.0, 4.0)
        ]  # fmt: skip
        yield [
            Step("width", f"{part.name} {shape.width_mm:g} → {shape.width_mm + d:g} mm wide",
                 ((at + "shape.width_mm", shape.width_mm + d),)) for d in (-1.0, -0.5, 0.5, 1.0, 2.0) if shape.width_mm + d >= 1.2
        ]  # fmt: skip
        yield [
            Step("arc", f"{part.name}: arc {shape.span_deg:g} → {shape.span_deg + d:g}°", ((at + "shape.span_deg", shape.span_deg + d),))
            for d in (-10.0, 10.0, -25.0, 25.0) if 40.0 <= shape.span_deg + d <= 200.0
        ]  # fmt: skip
    if isinstance(shape, ArmShape | LegShape):
        yield [
            Step("fillet", f"{part.name}: root fillet {shape.root_fillet_mm:g} → {r:g} mm", ((at + "shape.root_fillet_mm", r),))
            for r in (2.0, 3.0, 4.0, 6.0, 9.0) if r > shape.root_fillet_mm
        ]  # fmt: skip
        if isinstance(shape, ArmShape):
            yield [
                Step("pad fillet", f"{part.name}: pad fillet {shape.pad_fillet_mm:g} → {r:g} mm", ((at + "shape.pad_fillet_mm", r),))
                for r in (4.0, 6.0, 9.0) if r > shape.pad_fillet_mm
            ]  # fmt: skip
            if recipe.pattern in ("grid", "lines") and recipe.infill_angle_deg > 10:
                yield [Step("infill angle", f"{part.name}: infill lines along the arm", ((at + "recipe.infill_angle_deg", 0.0),))]
        yield [
            Step("walls", f"{part.name}: walls {recipe.walls} → {recipe.walls + n}", ((at + "recipe.walls", recipe.walls + n),))
            for n in (1, 2, 3, 5)
        ]
        yield [
            Step("infill", f"{part.name}: infill {recipe.infill:.0%} → {f:.0%}", ((at + "recipe.infill", f),))
            for f in (0.4, 0.6, 0.8, 1.0) if f > recipe.infill + 0.05
        ]  # fmt: skip
        if recipe.walls > 2 or recipe.infill > 0.12:
            yield [Step("lighter print", f"{part.name}: {max(2, recipe.walls - 1)} walls, {max(0.1, recipe.infill - d):.0%} infill", (
                (at + "recipe.walls", max(2, recipe.walls - 1)), (at + "recipe.infill", max(0.1, round(recipe.infill - d, 2))),
            )) for d in (0.05, 0.15)]  # fmt: skip
        yield [
            Step("orientation", f"{part.name}: print it {'on its side' if lies == 'on_side' else 'flat'}", ((at + "recipe.lies", lies),))
            for lies in ("flat", "on_side") if lies != recipe.lies
        ]  # fmt: skip
        for spool in project.spools:
            kind = filaments_of(project).get(spool.filament)
            if kind is None or spool.filament == recipe.filament or kind.flexible:
                continue
            if (kind.abrasive and not project.printer.hardened_nozzle) or (kind.needs_enclosure and not project.printer.enclosed):
                continue
            yield [Step("filament", f"{part.name} in {kind.name}", ((at + "recipe.filament", spool.filament),))]


def _carbon_ladder(project: Project, part: Part, shape: ArmShape, count: int) -> list[Step]:
    """Profiles that fit, thin to thick: a tube or rod inside, square tubes inside, strips in slots; three of each kind at most."""
    length = shape.length_mm or max(25.0, project.layout.motor_to_motor_mm / 2 - project.layout.clamp_radius_mm)
    end = math.floor(length - shape.bolt_circle_mm / 2 - shape.bolt_hole_mm - 1)
    out: list[tuple[float, Step]] = []
    for forms in (("tube", "rod"), ("square",), ("strip",)):
        fitting = []
        for stock in carbon_stocks().values():
            if stock.form not in forms or stock.outer_mm < 2:
                continue
            if part.carbon and part.carbon.stock == stock.id and part.carbon.count == count:
                continue
            place: Place = "slot" if stock.form == "strip" else "inside"
            carbon = Carbon(stock=stock.id, count=count, start_mm=-shape.tongue_length_mm, end_mm=end, place=place)
            edits: Edits = ((f"parts.{part.id}.carbon", carbon),)
            if shape.pocket_count:
                edits = (*edits, (f"parts.{part.id}.shape.pocket_count", 0))
            try:
                tried = set_many(project, edits)
            except EditError:
                continue
            if any(p.severity == "error" for p in shape_problems(tried.part(part.id), tried)):
                continue
            title = f"{part.name}: {count} × {stock.name[0].lower()}{stock.name[1:]} glued in"
            fitting.append((stock.price_per_m, Step("carbon", title, edits)))
        fitting.sort(key=lambda pair: pair[0])
        out += [fitting[k] for k in sorted({0, len(fitting) // 2, len(fitting) - 1}) if fitting]
    return [s for _, s in sorted(out, key=lambda pair: pair[0])]


def _closeness(m: Margin) -> float:
    """How much of the way a margin still has to go; 0 when it holds."""
    return 0.0 if m.verdict == "holds" else max(0.0, -m.safe_headroom)


def weigh(base: Scores, step: Step, scores: Scores) -> Lever | None:
    """A tried step as a lever, or None when it moves no open margin the right way."""
    before = {m.id: m for m in base.margins}
    wanted = {m.id for m in open_margins(base)}
    rank = {"holds": 0, "tight": 1, "not known yet": 2, "fails": 3}
    gain, cures, harms = 0.0, [], []
    for m in scores.margins:
        old = before[m.id]
        if m.id in wanted:
            start = max(_closeness(old), 1e-9)
            nearer = (start - min(_closeness(m), 2 * start)) / start
            gain += nearer if nearer >= 0 else SETBACK_WEIGHT * nearer
        if rank[m.verdict] < rank[old.verdict]:
            cures.append(m.id)
        elif rank[m.verdict] > rank[old.verdict]:
            harms.append(m.id)
    if gain <= LEAST_GAIN:
        return None
    return Lever(step.kind, step.title, step.edits, scores, scores.grams - base.grams, scores.minutes - base.minutes,
                 scores.cost - base.cost, tuple(cures), tuple(harms), gain)  # fmt: skip


def find_levers(
    project: Project,
    base: Scores,
    evaluate: Callable[[Project], Scores | None],
    *,
    parts: tuple[str, ...] | None = None,
    progress: Callable[[int, int], None] | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> list[Lever]:
    """Try every ladder and return the levers that help, best first: help to the open targets less price and harm.

    ``evaluate`` returns None for a design that cannot be built.
    """
    if not open_margins(base):
        return []
    chosen = [p for p in project.parts if p.id in parts] if parts is not None else [p for p in project.parts if _may_help(p, base)]
    rows = [ladder for p in chosen for ladder in ladders(project, p)]
    wanted = {m.id for m in open_margins(base)}
    found: list[Lever] = []
    for i, ladder in enumerate(rows):
        best: Lever | None = None
        for step in ladder:
            if cancelled is not None and cancelled():
                return _ranked(found)
            try:
                scores = evaluate(set_many(project, step.edits))
            except EditError:
                continue
            lever = weigh(base, step, scores) if scores is not None else None
            if lever is None:
                continue
            if best is None or _worth(lever) > _worth(best):
                best = lever
            if wanted <= set(lever.cures) and not lever.harms:
                break
        if best is not None:
            found.append(best)
        if progress is not None:
            progress(i + 1, len(rows))
    return _ranked(found)


def _may_help(part: Part, base: Scores) -> bool:
    """Mounts and guards only answer for what is named after them; searching them for any other target is time for nothing."""
    if not isinstance(part.shape, MountShape | GuardShape):
        return True
    return any(part.name.lower() in m.detail.lower() for m in open_margins(base))


def _worth(lever: Lever) -> float:
    """Share of the way that the open targets come, one for each that is cured, less the price and a penalty for harm."""
    return lever.gain + CURE_WEIGHT * len(lever.cures) - PRICE_WEIGHT * lever.price - HARM_WEIGHT * len(lever.harms)


def _ranked(found: list[Lever]) -> list[Lever]:
    unique: dict[str, Lever] = {}
    for lever in sorted(found, key=lambda v: -_worth(v)):
        unique.setdefault(lever.title, lever)
    kinds: dict[str, int] = {}
    first: list[Lever] = []
    rest: list[Lever] = []
    for lever in unique.values():
        kinds[lever.kind] = kinds.get(lever.kind, 0) + 1
        (first if kinds[lever.kind] == 1 else rest).append(lever)
    return first + rest
