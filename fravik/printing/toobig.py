"""What to do with a part that no bed takes as it lies: turn it, split it with a joint, or find a larger printer."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from fravik.model.project import Printer

EDGE_MM = 4.0
WAYS = (("lying flat", (0, 1, 2)), ("on its side", (0, 2, 1)), ("standing on its end", (1, 2, 0)))


def rectangle_fits(x_mm: float, y_mm: float, bed_x_mm: float, bed_y_mm: float) -> bool:
    """Whether a rectangle fits a bed, turned by whatever angle helps, with an edge kept free."""
    angle = np.linspace(0.0, np.pi / 2, 91)
    x, y = x_mm + EDGE_MM, y_mm + EDGE_MM
    wide, deep = x * np.cos(angle) + y * np.sin(angle), x * np.sin(angle) + y * np.cos(angle)
    return bool(np.any((wide <= bed_x_mm) & (deep <= bed_y_mm)))


def ways_to_fit(size_mm: tuple[float, float, float], printers: Sequence[Printer]) -> list[str]:
    """Ways to lie, by printer, in which a part of this size (along its own axes) fits a printer."""
    out = []
    for words, axes in WAYS:
        a, b, tall = (size_mm[i] for i in axes)
        for p in printers:
            if tall <= p.bed_z_mm and rectangle_fits(a, b, p.bed_x_mm, p.bed_y_mm):
                out.append(f"{words} on {p.name}")
    return out


def offer(size_mm: tuple[float, float, float], printers: Sequence[Printer]) -> str:
    """What to do with a part that is too big, in words."""
    fits = ways_to_fit(size_mm, printers)
    if fits:
        return f"It fits {fits[0]}" + (f", or {fits[1]}" if len(fits) > 1 else "") + ": turn it in Parts, On the bed."
    longest = max(size_mm)
    room = max((math.hypot(p.bed_x_mm, p.bed_y_mm) * 0.9 for p in printers), default=0.0)
    pieces = max(2, math.ceil(longest / room)) if room > 0 else 2
    split = f"Split it into {pieces} pieces of at most {longest / pieces:.0f} mm with a bolted or glued joint"
    return f"No way to lie fits. {split}, or use a bed of {longest + EDGE_MM:.0f} mm."
