"""Ladders that kinds of part share: of fillets, and of how a part is printed."""

from __future__ import annotations

from collections.abc import Iterator

from fravik.library import filaments_of
from fravik.model.project import Part, Project

from .base import Step


def thicker(part: Part, field: str, now_mm: float, by_mm: tuple[float, ...], how: str = "thick") -> list[Step]:
    """Steps that raise one field."""
    return [
        Step("height", f"{part.name} {now_mm:g} → {now_mm + d:g} mm {how}", ((f"parts.{part.id}.shape.{field}", now_mm + d),))
        for d in by_mm
    ]


def root_fillets(part: Part, now_mm: float) -> list[Step]:
    """Steps to a larger root fillet."""
    at = f"parts.{part.id}.shape.root_fillet_mm"
    return [Step("fillet", f"{part.name}: root fillet {now_mm:g} → {r:g} mm", ((at, r),)) for r in (2.0, 3.0, 4.0, 6.0, 9.0) if r > now_mm]


def printed_otherwise(part: Part, project: Project) -> Iterator[list[Step]]:
    """Walls, core, how it lies, and the filaments on the shelf."""
    recipe, at = part.recipe, f"parts.{part.id}."
    yield [
        Step("walls", f"{part.name}: walls {recipe.walls} → {recipe.walls + n}", ((at + "recipe.walls", recipe.walls + n),))
        for n in (1, 2, 3, 5)
    ]
    yield [
        Step("core", f"{part.name}: core {recipe.core_density:.0%} → {f:.0%}", ((at + "recipe.core_density", f),))
        for f in (0.4, 0.6, 0.8, 1.0) if f > recipe.core_density + 0.05
    ]  # fmt: skip
    if recipe.walls > 2 or recipe.core_density > 0.12:
        yield [Step("lighter print", f"{part.name}: {max(2, recipe.walls - 1)} walls, {max(0.1, recipe.core_density - d):.0%} core", (
            (at + "recipe.walls", max(2, recipe.walls - 1)), (at + "recipe.core_density", max(0.1, round(recipe.core_density - d, 2))),
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
