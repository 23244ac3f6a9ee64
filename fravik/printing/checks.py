"""Recipes that cannot work on this printer or contradict themselves, each named at its field."""

from __future__ import annotations

from fravik.library import filaments_of
from fravik.model.problem import Problem
from fravik.model.project import Part, Project

# as these lie, hardly anything pulls one layer off the next
LEVEL = ("flat", "flat_over")


def recipe_problems(part: Part, project: Project, may_flex: bool) -> list[Problem]:
    """All problems of one part's recipe; ``may_flex`` is whether it may be of a plastic that bends far."""
    r, printer, at = part.recipe, project.printer, f"parts.{part.id}.recipe."
    table = filaments_of(project)
    if r.filament not in table:
        return [Problem(at + "filament", f"There is no filament {r.filament!r}; choose one of {', '.join(table)}.")]
    f = table[r.filament]
    out: list[Problem] = []
    if f.abrasive and not printer.hardened_nozzle:
        out.append(Problem(at + "filament", f"{f.name} wears out a soft nozzle: fit a hardened one first.", "warning"))
    if f.needs_enclosure and not printer.enclosed:
        out.append(Problem(at + "filament", f"{f.name} warps without a warm chamber; this printer is open.", "warning"))
    if f.flexible and not may_flex:
        out.append(Problem(at + "filament", f"{f.name} bends far too much to carry load: use it for guards and bumpers only.", "warning"))
    if r.layer_height_mm > 0.8 * printer.nozzle_mm:
        out.append(Problem(at + "layer_height_mm", f"Layers of {r.layer_height_mm:g} mm are over 80 % of the "
                           f"{printer.nozzle_mm:g} mm nozzle and will not bond.", "warning"))  # fmt: skip
    if not 0.75 * printer.nozzle_mm <= r.line_width_mm <= 2.0 * printer.nozzle_mm:
        out.append(Problem(at + "line_width_mm", f"A {printer.nozzle_mm:g} mm nozzle lays lines of {0.75 * printer.nozzle_mm:.2f} to "
                           f"{2 * printer.nozzle_mm:.2f} mm.", "warning"))  # fmt: skip
    left = sum(s.grams_left for s in project.spools if s.filament == r.filament)
    if not any(s.filament == r.filament for s in project.spools):
        out.append(Problem(at + "filament", f"There is no {f.name} on the shelf; price is the table's.", "warning"))
    elif left <= 0:
        out.append(Problem(at + "filament", f"The {f.name} spool is empty.", "warning"))
    return out


def pause_problems(part: Part, tall_mm: float) -> list[Problem]:
    """What is to be known of its pauses, for a part that stands so tall as it lies."""
    out, at = [], f"parts.{part.id}.laying.pauses."
    for p in part.laying.pauses:
        if p.height_mm >= tall_mm - part.recipe.layer_height_mm:
            out.append(Problem(f"{at}{p.id}.height_mm", f"{part.name} is {tall_mm:.1f} mm tall as it lies: the pause at {p.height_mm:g} mm "
                               "never comes.", "warning"))  # fmt: skip
        elif part.recipe.lies not in LEVEL:
            out.append(Problem(f"{at}{p.id}.height_mm", f"{part.name} stands, so layers carry its load: those over the pause at "
                               f"{p.height_mm:g} mm bond less, by how much is not judged.", "warning"))  # fmt: skip
    return out
