"""The parts table: one row a part with recipe, grams, minutes and cost; as CSV too."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.library import carbon_stock
from fravik.model.project import Part
from fravik.model.recipe import LIES_LABELS

from .csvtext import csv_text


@dataclass(frozen=True)
class SheetRow:
    """One part on the sheet. Grams and minutes are of one copy."""

    part: Part
    grams: float
    minutes: float
    cost: float
    size_mm: tuple[float, float, float]
    bed_problem: str | None
    material: str
    printed: bool = True

    def settings(self) -> tuple[tuple[str, str], ...]:
        """The recipe in words, for people and for file metadata; for what is cut, from what and how large."""
        r = self.part.recipe
        if not self.printed:
            return ("Cut from", self.material), ("Cut to", " × ".join(f"{v:.1f}" for v in self.size_mm) + " mm")
        rows = [
            ("Filament", self.material),
            ("Lies on the bed", LIES_LABELS[r.lies]),
            ("Layer height", f"{r.layer_height_mm:g} mm"),
            ("Line width", f"{r.line_width_mm:g} mm"),
            ("Walls", f"{r.walls}"),
            ("Covers", f"{r.cover_layers} layers"),
            ("Core", f"{r.core_density:.0%} {r.pattern}"),
        ]
        if self.part.carbon is not None:
            c = self.part.carbon
            rows.append(("Carbon", f"{c.count} x {carbon_stock(c.stock).name}, {c.end_mm - c.start_mm:g} mm long"))
        return tuple(rows)


def parts_csv(rows: list[SheetRow]) -> str:
    """The parts table as CSV text."""
    head = ("id", "name", "count", "filament", "lies", "layer_height_mm", "line_width_mm", "walls", "cover_layers",
            "core_percent", "pattern", "carbon", "mass_g_each", "minutes_each", "mass_g_all", "minutes_all", "cost_each")  # fmt: skip
    body = []
    for row in rows:
        p, r = row.part, row.part.recipe
        how = (r.lies, r.layer_height_mm, r.line_width_mm, r.walls, r.cover_layers, round(100 * r.core_density, 1), r.pattern)
        body.append((
            p.id, p.name, p.count, r.filament, *(how if row.printed else ("cut", *[""] * (len(how) - 1))),
            f"{p.carbon.count}x{p.carbon.stock}" if p.carbon else "",
            round(row.grams, 2), round(row.minutes, 1), round(row.grams * p.count, 2), round(row.minutes * p.count, 1),
            round(row.cost, 2),
        ))  # fmt: skip
    return csv_text([head, *body])
