"""Wings as strips along their span: what the lifting line and the balance work on."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.power.polars import polars, section_moments, section_polars

from .aerofoils import Section, flap_effect

Floats = NDArray[np.float64]
WING_STRIPS, TAIL_STRIPS = 12, 5


@dataclass(frozen=True)
class Flap:
    """A surface from ``start`` to ``end`` of its panel's span: its share of the chord and its most travel. ``pitch`` is how it answers to
    nose up (a tail's trailing edge goes up), ``hangs`` whether it can be hung down in hover."""

    share: float
    start: float
    end: float
    most_rad: float
    pitch: bool
    roll: bool
    hangs: bool


@dataclass(frozen=True)
class PanelPlan:
    """A panel of the left half: leading edges of root and tip (3,) m in aeroplane axes, chords, angles over the body's line (rad)."""

    id: str
    root_m: tuple[float, float, float]
    tip_m: tuple[float, float, float]
    root_chord_m: float
    tip_chord_m: float
    root_rad: float
    tip_rad: float
    section: Section
    flap: Flap | None = None
    tilts: bool = False
    hover: bool = True


@dataclass(frozen=True, eq=False)
class Strips:
    """n strips of the left half; the right half mirrors them. ``quarter_m`` (n, 3) are their middles on the quarter-chord line, ``edges_m``
    (n + 1 a surface) its ends; ``surface`` and ``panel`` say whose they are. ``flap_*`` (n,) are per radian, ``pitch``, ``roll`` and
    ``hangs`` how much of the strip moves; ``hover`` is 0 where the panel is folded in hover."""

    quarter_m: Floats
    inner_m: Floats
    outer_m: Floats
    chord_m: Floats
    width_m: Floats
    angle_rad: Floats
    sweep_cos: Floats
    surface: NDArray[np.int64]
    panel: NDArray[np.int64]
    lift: Floats
    drag: Floats
    moment: Floats
    log_re: Floats
    stall_rad: Floats
    no_lift_rad: Floats
    own_moment: Floats
    flap_turn: Floats
    flap_moment: Floats
    flap_share: Floats
    flap_most_rad: Floats
    pitch: Floats
    roll: Floats
    hangs: Floats
    tilts: Floats
    hover: Floats
    influence: Floats

    @property
    def area_m2(self) -> Floats:
        """(n,) of each strip, one half of the craft."""
        return self.chord_m * self.width_m


def strips_of(surfaces: Sequence[Sequence[PanelPlan]], counts: Sequence[int] | None = None) -> Strips:
    """Surfaces, each a chain of panels from its root to its tip, as strips that crowd towards the tip."""
    rows: list[dict[str, object]] = []
    for k, chain in enumerate(surfaces):
        n = counts[k] if counts is not None else (WING_STRIPS if k == 0 else TAIL_STRIPS)
        rows += _chain(k, chain, n)
    names = sorted({p.id for chain in surfaces for p in chain})

    def col(name: str) -> Floats:
        return np.array([r[name] for r in rows], dtype=np.float64)

    section: list[Section] = [r["section"] for r in rows]  # type: ignore[misc]
    lift, drag, stall, log_re = _tables(section)
    moment = section_moments(np.array([s.thickness for s in section]), np.array([s.camber for s in section]))
    inner, outer = col("inner"), col("outer")
    surface = np.array([r["surface"] for r in rows], dtype=np.int64)
    quarter = col("quarter")
    return Strips(
        quarter, inner, outer, col("chord"), col("width"), col("angle"), col("sweep_cos"), surface,
        np.array([names.index(str(r["panel"])) for r in rows], dtype=np.int64), lift, drag, moment, log_re, stall,
        np.array([s.no_lift_rad for s in section]), np.array([s.moment for s in section]), col("flap_turn"), col("flap_moment"),
        col("flap_share"), col("flap_most"), col("pitch"), col("roll"), col("hangs"), col("tilts"), col("hover"),
        influence(quarter, inner, outer, surface),
    )  # fmt: skip


def _tables(sections: Sequence[Section]) -> tuple[Floats, Floats, Floats, Floats]:
    kinds = list(dict.fromkeys((s.thickness, s.camber) for s in sections))
    each = [section_polars(np.array([t]), c) for t, c in kinds]
    at = [kinds.index((s.thickness, s.camber)) for s in sections]
    lift, drag = (np.concatenate([getattr(p, name) for p in each])[at] for name in ("lift", "drag"))
    stall = np.radians(np.concatenate([p.stall_deg for p in each])[at])
    return lift, drag, stall, polars().log_re


def _chain(surface: int, chain: Sequence[PanelPlan], count: int) -> list[dict[str, object]]:
    """Cut by the sine of equal angles, as the load of a wing falls off."""
    spans = [math.hypot(p.tip_m[1] - p.root_m[1], p.tip_m[2] - p.root_m[2]) for p in chain]
    ends = np.concatenate([[0.0], np.cumsum(spans)])
    whole = float(ends[-1])
    edges = whole * np.sin(np.pi / 2 * np.arange(count + 1) / count)
    middles = whole * np.sin(np.pi / 2 * (np.arange(count) + 0.5) / count)
    out = []
    for k in range(count):
        a, m, b = _spot(chain, ends, edges[k]), _spot(chain, ends, middles[k]), _spot(chain, ends, edges[k + 1])
        p: PanelPlan = m["panel"]  # type: ignore[assignment]
        i = chain.index(p)
        low, high = (edges[k] - ends[i]) / spans[i], (edges[k + 1] - ends[i]) / spans[i]
        flap = p.flap
        part = 0.0 if flap is None else max(0.0, min(high, flap.end) - max(low, flap.start)) / max(high - low, 1e-9)
        turn, nose = flap_effect(flap.share) if flap is not None else (0.0, 0.0)
        line = b["quarter"] - a["quarter"]  # type: ignore[operator]
        out.append({
            "surface": surface, "panel": p.id, "section": p.section, "inner": a["quarter"], "outer": b["quarter"], "quarter": m["quarter"],
            "chord": m["chord"], "angle": m["angle"], "width": float(edges[k + 1] - edges[k]),
            "sweep_cos": float(math.hypot(line[1], line[2]) / np.linalg.norm(line)), "tilts": float(p.tilts), "hover": float(p.hover),
            "flap_turn": turn, "flap_moment": nose, "flap_share": flap.share if flap else 0.0, "flap_most": flap.most_rad if flap else 0.0,
            "pitch": part * bool(flap and flap.pitch), "roll": part * bool(flap and flap.roll), "hangs": part * bool(flap and flap.hangs),
        })  # fmt: skip
    return out


def _spot(chain: Sequence[PanelPlan], ends: Floats, at: float) -> dict[str, object]:
    i = min(int(np.searchsorted(ends, at, side="right")) - 1, len(chain) - 1)
    p = chain[i]
    t = (at - ends[i]) / max(ends[i + 1] - ends[i], 1e-12)
    chord = p.root_chord_m + t * (p.tip_chord_m - p.root_chord_m)
    lead = np.array(p.root_m) + t * (np.array(p.tip_m) - np.array(p.root_m))
    return {"panel": p, "chord": chord, "angle": p.root_rad + t * (p.tip_rad - p.root_rad),
            "quarter": lead - np.array([chord / 4, 0.0, 0.0])}  # fmt: skip


def influence(quarter_m: Floats, inner_m: Floats, outer_m: Floats, surface: NDArray[np.int64]) -> Floats:
    """(n, n): upward velocity at each strip's quarter chord for one m2/s round each strip and its mirror image, their vortices trailing
    straight back. A surface's own bound vortices are left out: its sections know of them."""
    mirror = np.array([1.0, -1.0, 1.0])
    out = np.zeros((len(quarter_m),) * 2)
    other = (surface[:, None] != surface[None, :]).astype(np.float64)
    for flip, sign in ((np.ones(3), 1.0), (mirror, -1.0)):
        a, b = inner_m * flip, outer_m * flip
        # from the outer end in, back from the inner one; the mirror image the other way round
        out += sign * (_leg(quarter_m, a) - _leg(quarter_m, b)) + sign * other * _bound(quarter_m, b, a)
    return out


def _leg(at: Floats, start: Floats) -> Floats:
    """(n, m): upward velocity of vortices of one m2/s that begin at ``start`` (m, 3) and go straight back for ever."""
    r = at[:, None, :] - start[None, :, :]
    far = np.linalg.norm(r, axis=2)
    return -r[..., 1] / (4 * np.pi * np.maximum(far * (far + r[..., 0]), 1e-12))


def _bound(at: Floats, start: Floats, end: Floats) -> Floats:
    """(n, m): upward velocity of straight vortices of one m2/s from start to end (m, 3)."""
    r1, r2 = at[:, None, :] - start[None], at[:, None, :] - end[None]
    n1, n2 = np.linalg.norm(r1, axis=2), np.linalg.norm(r2, axis=2)
    cross = r1[..., 0] * r2[..., 1] - r1[..., 1] * r2[..., 0]
    return (n1 + n2) * cross / (4 * np.pi * np.maximum(n1 * n2 * (n1 * n2 + (r1 * r2).sum(axis=2)), 1e-12))
