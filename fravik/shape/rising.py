"""Parts that rise from their plan and only ever get smaller upwards, sliced straight from the plan.

A slice of such a part is its plan cut by a line, or, on its side, what stands over a line across its plan; no solid is made, which
spares the live answer a third of its time on an arm. Equal to slices of the solid, which tests hold it to.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from manifold3d import CrossSection, FillRule
from numpy.typing import NDArray

from .outline import boundary_edges, rectangle

Floats = NDArray[np.float64]
FAR_MM = 2000.0
ALIKE_MM = 1e-4  # slices whose ends differ by less share one
THIN_CUTS = 16


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

    def profiles(self, left_mm: Floats, right_mm: Floats) -> Floats:
        """What stands over stretches of x, (n,) to (n,): outlines (n, 6, 2) in x and z, counter-clockwise, corners doubled where a knee
        of the face lies beyond the stretch."""
        x = np.stack([left_mm, right_mm, right_mm, *(np.clip(k, left_mm, right_mm) for k in (self.end_mm, 0.0)), left_mm], axis=1)
        z = self.root_mm + np.clip(x / self.end_mm, 0.0, 1.0) * (self.tip_mm - self.root_mm)
        z[:, :2] = 0.0
        return np.stack([x, z], axis=2)

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

    def is_empty(self) -> bool:
        """Whether nothing is left of it."""
        return self.base.is_empty()

    @property
    def pieces(self) -> int:
        """How many separate pieces it is: as many as its plan."""
        return len(self.base.decompose()) if not self.base.is_empty() else 0

    def box(self) -> tuple[float, ...]:
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

    def thin_mm(self) -> float:
        """How thin it is, by its volume over half its surface, read off a few slices."""
        rise = float(self.box()[5]) / THIN_CUTS
        cuts = self.slices(np.asarray(rise * (np.arange(THIN_CUTS) + 0.5), dtype=np.float64))
        kept = list({id(c): c for c in cuts}.values())
        start, end, owner = boundary_edges(kept)
        length = dict(zip(map(id, kept), np.bincount(owner, np.hypot(*(end - start).T), len(kept)), strict=True))
        surface = 2 * self.base.area() + rise * sum(length[id(c)] for c in cuts)
        return float(2 * rise * sum(c.area() for c in cuts) / max(surface, 1e-9))

    @staticmethod
    def lies(rotation: Floats) -> bool:
        """Whether the plan tells the slices of what lies so: as it stands, or over on a side."""
        return bool(rotation[0, 0] == 1.0 and (rotation[2, 2] == 1.0 or abs(rotation[2, 1]) == 1.0))

    def turned(self, rotation: Floats) -> Rising | OnSide:
        """The same lain so (3, 3); see ``lies``."""
        return self if rotation[2, 2] == 1.0 else OnSide(self, rotation)


@dataclass(frozen=True)
class OnSide:
    """A rising part that lies on a side: ``rotation`` (3, 3) turns it a quarter about its own x."""

    part: Rising
    rotation: Floats

    def is_empty(self) -> bool:
        """Whether nothing is left of it."""
        return self.part.is_empty()

    @property
    def pieces(self) -> int:
        """How many separate pieces it is."""
        return self.part.pieces

    def box(self) -> tuple[float, ...]:
        """Corners of the box around it."""
        ends = np.array(self.part.box()).reshape(2, 3) @ self.rotation.T
        return (*ends.min(axis=0), *ends.max(axis=0))

    def thin_mm(self) -> float:
        """How thin it is."""
        return self.part.thin_mm()

    def slices(self, heights_mm: Floats) -> list[CrossSection]:
        """Slices at heights, lowest first; neighbours that are alike share one."""
        across = heights_mm * self.rotation[2, 1]
        owners, outlines = [], []
        for plan, slope in self.part.bodies:
            at, left, right = _stretches(plan, across)
            owners.append(at)
            outlines.append(slope.profiles(left, right))
        every, order = np.concatenate(outlines), np.argsort(np.concatenate(owners), kind="stable")
        # the slice's own axes are the part's x and, one way or the other, its z: turned over, outlines run the other way
        every = every[order] @ self.rotation[:2, ::2].T
        if self.rotation[1, 2] < 0:
            every = every[:, ::-1]
        first = np.searchsorted(np.concatenate(owners)[order], np.arange(len(across) + 1))
        out: list[CrossSection] = []
        last = every[:0]
        for a, b in pairwise(first):
            own = every[a:b]
            if not out or len(own) != len(last) or (len(own) and np.abs(own - last).max() >= ALIKE_MM):
                out.append(CrossSection(list(own), FillRule.Positive) if len(own) else CrossSection())
                last = own
            else:
                out.append(out[-1])
        return out


def _stretches(plan: CrossSection, across_mm: Floats) -> tuple[NDArray[np.int64], Floats, Floats]:
    """Where lines of one y each, (n,), run inside a plan: which line (m,), and from which x to which (m,)."""
    start, end, _ = boundary_edges([plan])
    edge, line = np.nonzero((start[:, 1, None] <= across_mm) != (end[:, 1, None] <= across_mm))
    p, q = start[edge], end[edge]
    x = p[:, 0] + (across_mm[line] - p[:, 1]) / (q[:, 1] - p[:, 1]) * (q[:, 0] - p[:, 0])
    order = np.lexsort((x, line))  # a closed outline is crossed in and out by turns
    return line[order][::2], x[order][::2], x[order][1::2]
