"""Counts of which no more than one figure is known."""

from __future__ import annotations

import math

MANY = 100_000.0


def about(count: float) -> str:
    """A count with one figure that counts: 4000, 4,000; beyond all use just that it is more."""
    if not math.isfinite(count) or count >= MANY:
        return f"over {MANY:,.0f}"
    return f"{float(f'{max(count, 0.0):.1g}'):,.0f}"
