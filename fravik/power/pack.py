"""The pack, or several of them, as motors and boards see it: its rest voltage over what was drawn, its resistance, its age and its cold.

Under a current I it gives U = E(s) - I R with the rest voltage E at the share s of charge that is left. What sorts of cells there are and
how they age are working assumptions, shipped as data (``cells.toml``).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.library.load import cell_sort
from fravik.model.cell import CellSort
from fravik.model.craft import Battery, Block, Components
from fravik.model.material import Corner, Spread
from fravik.model.problem import Problem

Floats = NDArray[np.float64]
ALIKE = 0.02  # packs whose charges differ by less are taken as equal
USUAL_C = 20.0  # degrees, of figures of cells
LEAST_LEFT = 0.05
COLD_CHARGE = 0.006  # of charge that a degree below 20 withholds: a working assumption
MEASURED = 0.15  # how far a resistance as measured is trusted
MADE = 0.03  # charge of a new pack over its label


@dataclass(frozen=True)
class Supply:
    """All packs together: charge as labelled and the usable share of it, cells one behind the other, what age left of the charge, the
    resistance of the whole, and when it is time to land."""

    capacity_mah: float
    usable: float
    cells: int
    sort: CellSort
    left: Spread
    ohm: Spread
    stop_v: float

    @property
    def volts(self) -> float:
        """At rest, half of the usable charge drawn."""
        return float(self.rest_v(self.to_use() / 2))

    def to_use(self, corner: Corner = "typical") -> float:
        """The usable share of the label, over what it really holds."""
        return min(self.usable * self.capacity_mah * 3.6 / max(self.charge_as(corner), 1e-9), 1.0)

    def rest_v(self, drawn: float | Floats) -> float | Floats:
        """Rest voltage of the string over the share of its charge that was drawn."""
        return np.interp(1.0 - np.asarray(drawn), self.sort.charge_left, self.sort.rest_v) * self.cells

    def charge_as(self, corner: Corner) -> float:
        """Charge that it really holds, ampere seconds; ``low`` holds least."""
        made = {"low": 1 - MADE, "typical": 1.0, "high": 1 + MADE}[corner]
        return self.capacity_mah * 3.6 * self.left.at(corner) * made

    def ohm_at(self, corner: Corner) -> float:
        """Its resistance; the ``low`` pack is the worse one."""
        return {"low": self.ohm.high, "typical": self.ohm.typical, "high": self.ohm.low}[corner]


def more_packs(parts: Components) -> tuple[Block, ...]:
    """Components that are packs."""
    return tuple(b for b in parts.blocks if b.pack_cells > 0)


def left_of(battery: Battery, sort: CellSort) -> Spread:
    """Share of its charge that age left, and that the cold lets out."""
    stored = max(battery.age_months - battery.full_months, 0.0)
    cold = COLD_CHARGE * max(USUAL_C - battery.start_c, 0.0)

    def left(corner: Corner) -> float:
        lost = battery.cycles * sort.fade_a_cycle.at(corner) + stored * sort.fade_a_month.at(corner)
        lost += battery.full_months * sort.fade_a_month_full.at(corner)
        return max(math.exp(-lost) - cold, LEAST_LEFT)

    return Spread(left("high"), left("typical"), left("low"))


def cell_mohm(battery: Battery, sort: CellSort, charge_mah: float) -> Spread:
    """Resistance of one cell of so much charge, as it is at take-off: as measured, or of such cells new and aged since."""
    cold = 2.0 ** (max(USUAL_C - battery.start_c, 0.0) / sort.cold_doubles_c)
    if battery.resistance_mohm > 0:
        own = battery.resistance_mohm * battery.capacity_mah / max(charge_mah, 1e-9) * cold
        return Spread(own * (1 - MEASURED), own, own * (1 + MEASURED))
    stored = max(battery.age_months - battery.full_months, 0.0)

    def grown(corner: Corner) -> float:
        lost = battery.cycles * sort.fade_a_cycle.at(corner) + stored * sort.fade_a_month.at(corner)
        lost += battery.full_months * sort.fade_a_month_full.at(corner)
        more = sort.growth_over_fade.at(corner) * lost + sort.growth_a_month_full.at(corner) * battery.full_months
        return sort.mohm_ah.at(corner) / (charge_mah * 1e-3) * (1.0 + more) * cold

    return Spread(grown("low"), grown("typical"), grown("high"))


def supply(parts: Components) -> Supply:
    """All packs together.

    Those behind the battery share its current and give as much charge as the smallest of them; what lies beside that string adds its own.
    All are taken to be as old and as cold as the battery.
    """
    b, more = parts.battery, more_packs(parts)
    sort = cell_sort(b.cell_kind)
    behind = [p for p in more if p.pack_joined == "series"]
    beside = [p for p in more if p.pack_joined == "parallel"]
    cells = b.cells + sum(p.pack_cells for p in behind)
    charge = min([b.capacity_mah, *(p.pack_mah for p in behind)]) + sum(p.pack_mah for p in beside)
    strings = [[(b.cells, b.capacity_mah), *((p.pack_cells, p.pack_mah) for p in behind)], *([(p.pack_cells, p.pack_mah)] for p in beside)]

    def ohm(corner: Corner) -> float:
        each = [sum(n * cell_mohm(b, sort, mah).at(corner) for n, mah in s) * 1e-3 for s in strings]
        return 1.0 / sum(1.0 / max(e, 1e-9) for e in each)

    return Supply(charge, b.usable, cells, sort, left_of(b, sort), Spread(ohm("low"), ohm("typical"), ohm("high")), cells * b.stop_cell_v)


def pack_problems(parts: Components) -> list[Problem]:
    """Packs that must not be joined so, strings whose smallest pack is emptied first, and ages that contradict each other."""
    out, cells, own = [], supply(parts).cells, parts.battery
    for p in more_packs(parts):
        at = f"components.blocks.{p.id}."
        if p.pack_joined == "parallel" and p.pack_cells != cells:
            out.append(Problem(at + "pack_cells", f"{p.name} has {p.pack_cells} cells beside {cells}: packs of unlike voltage side by side "
                               "drive current through each other and can burn. Give it as many cells."))  # fmt: skip
        elif p.pack_joined == "series" and abs(p.pack_mah - own.capacity_mah) > ALIKE * own.capacity_mah:
            out.append(Problem(at + "pack_mah", f"{p.name} holds {p.pack_mah:g} mAh behind {own.capacity_mah:g}: the smaller one "
                               "is empty first and is ruined if they are flown on. Only its charge is counted.", "warning"))  # fmt: skip
    if own.full_months > own.age_months:
        out.append(Problem("components.battery.full_months", f"It cannot have rested full for {own.full_months:g} months at an age of "
                           f"{own.age_months:g}: the longer one is counted.", "warning"))  # fmt: skip
    if own.stop_cell_v < cell_sort(own.cell_kind).least_v:
        out.append(Problem("components.battery.stop_cell_v", f"Such cells are ruined below {cell_sort(own.cell_kind).least_v:g} V: land "
                           "before.", "warning"))  # fmt: skip
    return out
