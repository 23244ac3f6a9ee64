"""What the Parts view tells of a part in words."""

from __future__ import annotations

from fravik.engine.results import PartResult
from fravik.model.recipe import LIES_LABELS
from fravik.printing.job import PrintJob
from fravik.study.words import clock, money


def lies_text(shown: PartResult) -> str:
    """How it lies on the bed, or what it is cut from."""
    recipe = shown.part.recipe
    if not shown.printed:
        return f"cut from {shown.filament.name.lower()}"
    if recipe.lies == "free":
        return f"turned {recipe.roll_deg:g}° and {recipe.pitch_deg:g}°"
    return LIES_LABELS[recipe.lies].lower()


def total_text(shown: PartResult, job: PrintJob | None, currency: str) -> str:
    """Grams, minutes and price of one copy: from its roads when they are laid, else counted, and marked so."""
    grams = job.grams + shown.bonded.grams if job is not None else shown.grams
    minutes = clock(job.minutes) if job is not None else f"≈{clock(shown.figures.minutes)}"
    takes = minutes if shown.printed else "cut, not printed"
    by_hand = f" · {shown.bonded.handwork_min:.0f} min by hand" if shown.bonded.handwork_min else ""
    return f"{grams:.1f} g each · {takes} · {money(shown.cost, currency)}{by_hand}"
