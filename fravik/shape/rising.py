"""Parts that rise from their plan and only ever get smaller upwards, sliced straight from the plan.

A slice of such a part is its plan cut by a line; no solid is made, which spares the live answer a third of its time on an arm.
Equal to slices of the solid, which tests hold it to.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from manifold3d import CrossSection
from numpy.typing import NDArray

from .outline import rectangle

Floats = NDArray[np.float64]
FAR_MM = 2000.0


@dataclass(frozen=True)
class Slope:
    """A top face: height at x = 0 and before, straight to another at ``end_mm``, level from there on."""

    root_mm: float
    tip_mm: float
    end_mm: float

    def top_mm(self, plan: CrossSection) -> float:
        """Height of the highest point over a plan."""
        u0, _, u1, _ = plan.bounds()
        ends = np.clip(np.array([u0, u1]) / self.end_mm, 0.0, 1.0)
        return float((self.root_mm + ends * (self.tip_mm - self.root_mm)).max())

    def above(self, plan: CrossSection, z_mm: float) -> CrossSection:
        """What of a plan stands higher than z."""
        low, high = sorted((self.root_mm, self.tip_mm))
        if z_mm < low:
            return plan
        if z_mm >= high:
            return CrossSection()
        x = self.end_mm * (self.root_mm - z_mm) / (self.root_mm - self.tip_mm)
        side = rectangle(-FAR_MM, -FAR_MM, x, FAR_MM) if self.root_mm > self.tip_mm else rectangle(x, -FAR_MM, FAR_MM, FAR_MM)
        return plan ^ side


@dataclass(frozen=True)
class Rising:
    """One or two plans, each with its top face, standing on z = 0 side by side or in one another."""

    bodies: tuple[tuple[CrossSection, Slope], ...]

    @cached_property
    def base(self) -> CrossSection:
        """The whole plan: every slice lies within it."""
        out = self.bodies[0][0]
        for plan, _ in self.bodies[1:]:
            out = out + plan
        return out

    @property
    def pieces(self) -> int:
        """How many separate pieces it is: as many as its plan."""
        return len(self.base.decompose()) if not self.base.is_empty() else 0

    def box(self) -> tuple[float, float, float, float, float, float]:
        """Corners of the box around it."""
        u0, v0, u1, v1 = self.base.bounds()
        return u0, v0, 0.0, u1, v1, max(s.top_mm(plan) for plan, s in self.bodies)

    def slices(self, heights_mm: Floats) -> list[CrossSection]:
        """Slices at heights, lowest first; heights below every slope share one."""
        level = min(min(s.root_mm, s.tip_mm) for _, s in self.bodies)
        whole = self.base.simplify(0.003)
        out: list[CrossSection] = []
        last: tuple[bool, ...] = ()
        for z in heights_mm:
            if z < level:
                out.append(whole)
                continue
            # between slopes every slice is alike: one object stands for them all
            state = tuple(z >= h for _, s in self.bodies for h in sorted((s.root_mm, s.tip_mm)))
            sloping = any(min(s.root_mm, s.tip_mm) <= z < max(s.root_mm, s.tip_mm) for _, s in self.bodies)
            if out and state == last and not sloping:
                out.append(out[-1])
                continue
            last = state
            cut = CrossSection()
            for plan, slope in self.bodies:
                cut = cut + slope.above(plan, float(z))
            out.append(cut.simplify(0.003))
        return out
