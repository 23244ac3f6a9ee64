"""The print run as the maker sets it: printers, hours, gaps, spares, the order asked for, and what came off."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import BeforeValidator

from .base import Frozen, Slug, choice, quantity

Outcome = Literal["good", "failed"]


class Spare(Frozen):
    """Copies of a part printed beyond those the craft carries."""

    id: Slug
    count: int = quantity(1, 0, 20, "", "Spares", "printed with the rest", step=1)


def batch_id(name: str) -> str:
    """A batch's id; files up to format 8 called them plates."""
    return re.sub(r"^plate (?=\d+$)", "batch ", name)


class BatchWish(Frozen):
    """When the maker wants a batch to begin."""

    id: Annotated[str, BeforeValidator(batch_id)]
    start_h: float = quantity(0.0, 0.0, 2000.0, "h", "Not before", "hours from the start of the run", step=0.5)


class PartOnPrinter(Frozen):
    """On which printer the maker wants the copies of a part."""

    id: Slug
    printer: Slug


class PrintRecord(Frozen):
    """One copy that came off a bed, as weighed."""

    id: str
    part: str
    printer: str = ""
    batch: str = ""
    outcome: Outcome = "good"
    planned_min: float = quantity(0.0, 0.0, 1e5, "min", "Planned", "of its whole batch")
    real_min: float = quantity(0.0, 0.0, 1e5, "min", "Real", "of its whole batch")
    planned_g: float = quantity(0.0, 0.0, 1e5, "g", "Planned", "one copy, plastic alone")
    weighed_g: float | None = quantity(None, 0.0, 1e5, "g", "Weighed", "one copy as it came off the bed, supports removed")
    note: str = choice("", "What happened")


class PrintRun(Frozen):
    """How the run is to be done."""

    start_hour: float = quantity(9.0, 0.0, 24.0, "h", "Starts at", "hour of the first day", step=0.5)
    start_date: str = choice("2031-05-06", "First day", "year-month-day; the demo's is made up")
    attended_from: float = quantity(8.0, 0.0, 24.0, "h", "Someone is there from", "beds are changed in these hours only", step=0.5)
    attended_to: float = quantity(22.0, 0.0, 24.0, "h", "to", "beds are changed in these hours only", step=0.5)
    deadline_h: float = quantity(48.0, 1.0, 2000.0, "h", "Test flight after", "hours from the start of the run", step=1)
    gap_mm: float = quantity(5.0, 1.0, 40.0, "mm", "Gap between parts", "room for a blade and for hems", step=1)
    purge_mm: float = quantity(0.0, 0.0, 120.0, "mm", "Purge strip", "kept free along the front of the bed", step=5)
    most_in_batch: int = quantity(4, 1, 40, "", "Most copies on a bed", "one that comes loose can take its batch with it", step=1)
    done_h: float = quantity(0.0, 0.0, 5000.0, "h", "Spent so far", "hours into the run; what is left is planned from here", step=1)
    night: bool = choice(True, "Print through the night", "unattended printers can burn: follow their makers and local rules")
    spares: tuple[Spare, ...] = ()
    order: tuple[str, ...] = ()  # batches as the maker put them, by id
    wishes: tuple[BatchWish, ...] = ()
    on_printer: tuple[PartOnPrinter, ...] = ()
    records: tuple[PrintRecord, ...] = ()
