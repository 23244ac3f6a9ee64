"""The pack, or several of them, as motors and boards see it."""

from __future__ import annotations

from dataclasses import dataclass

from fravik.model.craft import Block, Components
from fravik.model.problem import Problem

ALIKE = 0.02  # packs whose charges differ by less are taken as equal


@dataclass(frozen=True)
class Supply:
    """Mean voltage in flight, charge and the usable share of it, and how many cells lie one behind the other."""

    volts: float
    capacity_mah: float
    usable: float
    cells: int


def more_packs(parts: Components) -> tuple[Block, ...]:
    """Components that are packs."""
    return tuple(b for b in parts.blocks if b.pack_cells > 0)


def supply(parts: Components) -> Supply:
    """All packs together.

    Those behind the battery share its current and give as much charge as the smallest of them; what lies beside that string adds its own.
    """
    b, more = parts.battery, more_packs(parts)
    behind = [p for p in more if p.pack_joined == "series"]
    cells = b.cells + sum(p.pack_cells for p in behind)
    charge = min([b.capacity_mah, *(p.pack_mah for p in behind)])
    charge += sum(p.pack_mah for p in more if p.pack_joined == "parallel")
    return Supply(cells * b.cell_volts, charge, b.usable, cells)


def pack_problems(parts: Components) -> list[Problem]:
    """Packs that must not be joined so, and strings whose smallest pack is emptied first."""
    out, cells = [], supply(parts).cells
    for p in more_packs(parts):
        at = f"components.blocks.{p.id}."
        if p.pack_joined == "parallel" and p.pack_cells != cells:
            out.append(Problem(at + "pack_cells", f"{p.name} has {p.pack_cells} cells beside {cells}: packs of unlike voltage side by side "
                               "drive current through each other and can burn. Give it as many cells."))  # fmt: skip
        elif p.pack_joined == "series" and abs(p.pack_mah - parts.battery.capacity_mah) > ALIKE * parts.battery.capacity_mah:
            out.append(Problem(at + "pack_mah", f"{p.name} holds {p.pack_mah:g} mAh behind {parts.battery.capacity_mah:g}: the smaller one "
                               "is empty first and is ruined if they are flown on. Only its charge is counted.", "warning"))  # fmt: skip
    return out
