"""What will go wrong on the bed: what hangs, falls, lifts, comes out too thin or too small, with its place and what curing it costs.

Thresholds are judgement, stated in docs/printing.md: a nozzle that snags pushes with ``SNAG_N``, a first layer holds on with
``HOLD_MPA``; holes print smaller by the shift of a bent road (half its volume on each side of its middle line: w^2 / (4 r) on the
diameter) and by ``SHRINK_MM`` for cooling and squeeze.
"""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection, JoinType

from fravik.library import screws
from fravik.model.laying import Laying
from fravik.model.material import Filament
from fravik.model.project import Printer
from fravik.shape.outline import pieces_of

from .layers import Cut
from .mass import moments
from .patterns import loop_area_mm2
from .supports import Supports, slenderest
from .trouble import Trouble
from .walls import opened
from .zones import Floats, region_of

SNAG_N = 1.5
HOLD_MPA = 0.25
LEAST_HOLD = 1.5
SLENDER = 10.0
LIFT_INDEX = 0.35
CHAMBER_SHARE = 0.4
HEM_SHARE = 0.45
BRIDGE_MM = 25.0
REACH_MM = 1.2
SHRINK_MM = 0.10
DRAG_MM = 0.10
MOST_OF_A_KIND = 3
SUPPORT_SHARE = 0.2  # plastic of a support column over its volume


def foot_hold(foot: CrossSection, tall_mm: float) -> float:
    """How much harder than a snagging nozzle pulls the first layer holds on, along its weakest way.

    The foot is taken as an elastic section under the moment of ``SNAG_N`` at the top: HOLD_MPA times its least section modulus, over
    that moment.
    """
    if foot.is_empty():
        return 0.0
    area, su, sv, iuu, ivv, iuv = moments(region_of([foot]))[:, 0]
    middle = np.array([su, sv]) / area
    second = np.array([[iuu, iuv], [iuv, ivv]]) - area * np.outer(middle, middle)
    values, ways = np.linalg.eigh(second)
    points = np.concatenate([np.asarray(p, dtype=np.float64) for p in foot.to_polygons()]) - middle
    moduli = [values[i] / max(float(np.abs(points @ ways[:, i]).max()), 1e-9) for i in range(2)]
    return HOLD_MPA * min(moduli) / (SNAG_N * max(tall_mm, 1e-9))


def loose_risk(cut: Cut, laying: Laying) -> str:
    """Why a part may come loose from the bed, as 'stands 60 mm tall on a foot of 40 mm²'; empty when it holds."""
    foot, tall = _foot(cut, laying), float(cut.layers.top_mm[-1])
    return "" if foot_hold(foot, tall) >= LEAST_HOLD else f"stands {tall:.0f} mm tall on a foot of {foot.area():.0f} mm²"


def _foot(cut: Cut, laying: Laying) -> CrossSection:
    foot = cut.divided.outer[0]
    return foot.offset(laying.hem_mm, JoinType.Round, 2.0, 32) if laying.edge == "hem" else foot


def examine(
    cut: Cut, hanging: list[CrossSection], held: Supports, breaks: Floats, laying: Laying, filament: Filament, printer: Printer
) -> tuple[Trouble, ...]:
    """Everything that may go wrong with one copy printed alone, gravest first. ``breaks`` (n,) counts the starts of every layer's path."""
    found = [
        *_loose(cut, laying, filament), *_lifting(cut, laying, filament, printer), *_hanging(cut, hanging, held, laying, filament),
        *_pillars(cut, held, laying), *_thin(cut), *_holes(cut), *_one_path(cut, breaks, filament),
    ]  # fmt: skip
    return tuple(sorted(found, key=lambda t: -t.weight))


def _middle(region: CrossSection) -> tuple[float, float]:
    u0, v0, u1, v1 = region.bounds()
    return (u0 + u1) / 2, (v0 + v1) / 2


def _loose(cut: Cut, laying: Laying, filament: Filament) -> list[Trouble]:
    foot, tall = cut.divided.outer[0], float(cut.layers.top_mm[-1])
    hold = foot_hold(_foot(cut, laying), tall)
    if hold >= LEAST_HOLD:
        return []
    wider = foot.offset(laying.hem_mm, JoinType.Round, 2.0, 32)
    grams = (wider.area() - foot.area()) * float(cut.layers.height_mm[0]) * filament.density_g_cm3.typical * 1e-3
    better = foot_hold(wider, tall)
    cure = "Widen the hem, lay the part down, or add a foot to cut off."
    if laying.edge != "hem":
        cure = f"A hem of {laying.hem_mm:g} mm takes the hold from {hold:.1f} to {better:.1f} for {grams:.1f} g."
    text = f"Stands {tall:.0f} mm tall on {foot.area():.0f} mm²: holds only {hold:.1f} times a snag at the top"
    if hold < 1:
        text = f"Stands {tall:.0f} mm tall on {foot.area():.0f} mm²: a snag at the top pulls {1 / max(hold, 1e-3):.1f} times what it holds"
    return [Trouble("comes loose", min(1.0, 1.1 - hold / LEAST_HOLD / 2), text, cure, (*_middle(foot), 0.0), 0)]


def _lifting(cut: Cut, laying: Laying, filament: Filament, printer: Printer) -> list[Trouble]:
    foot = cut.divided.outer[0]
    points = np.concatenate([np.asarray(p, dtype=np.float64) for p in foot.to_polygons()])
    middle = np.array(_middle(foot))
    away = np.hypot(*(points - middle).T)
    reach = float(away.max())
    index = filament.warp * 2 * reach / 100.0 * (CHAMBER_SHARE if printer.enclosed else 1.0)
    shown = index * (HEM_SHARE if laying.edge == "hem" else 1.0)
    if shown < LIFT_INDEX:
        return []
    corner = points[int(away.argmax())]
    ways = []
    if laying.edge != "hem":
        wider = foot.offset(laying.hem_mm, JoinType.Round, 2.0, 32)
        grams = (wider.area() - foot.area()) * float(cut.layers.height_mm[0]) * filament.density_g_cm3.typical * 1e-3
        ways.append(f"a hem of {laying.hem_mm:g} mm leaves {HEM_SHARE:.0%} of it for {grams:.1f} g")
    if not printer.enclosed:
        ways.append(f"a closed chamber {CHAMBER_SHARE:.0%}")
    ways.append("round corners and a clean, warm bed help")
    cure = ", ".join(ways)
    text = f"{filament.name} pulls at corners {reach:.0f} mm from the middle: lifting {shown:.2f} where {LIFT_INDEX:g} is safe"
    at = (float(corner[0]), float(corner[1]), 0.0)
    return [Trouble("corner lifts", min(0.9, 0.4 + 0.4 * shown), text, cure[0].upper() + cure[1:] + ".", at, 0)]


def _hanging(cut: Cut, hanging: list[CrossSection], held: Supports, laying: Laying, filament: Filament) -> list[Trouble]:
    outer, tops, w = cut.divided.outer, cut.layers.top_mm, cut.layers.recipe.line_width_mm
    found: list[Trouble] = []
    for k, region in enumerate(hanging):
        if region.is_empty():
            continue
        below = held.body[k - 1] + held.interface[k - 1] + (held.interface[k - 2] if k > 1 else CrossSection())
        bare = region - below.offset(1.5, JoinType.Round, 2.0, 16) if not below.is_empty() else region
        for piece in pieces_of(bare):
            if piece.area() < 4 * w * w:
                continue
            found += _piece(piece, outer[k - 1], k, float(tops[k]), laying, filament)
    out: list[Trouble] = []
    for kind in ("island", "bridge", "overhang"):
        same = sorted((t for t in found if t.kind == kind), key=lambda t: -t.weight)
        out += same[:MOST_OF_A_KIND]
    return out


def _piece(piece: CrossSection, under: CrossSection, k: int, top: float, laying: Laying, filament: Filament) -> list[Trouble]:
    """What one hanging piece is: an island, a bridge between places that carry it, or an overhang held on one side."""
    u0, v0, u1, v1 = piece.bounds()
    at = ((u0 + u1) / 2, (v0 + v1) / 2, top)
    grams = piece.area() * top * SUPPORT_SHARE * filament.density_g_cm3.typical * 1e-3
    cure = "Supports do not reach it: turn the part"
    if laying.support == "none":
        cure = f"Turn the part, or print supports under it, up to {grams:.1f} g"
    held = piece.offset(0.6, JoinType.Round, 2.0, 16) ^ under
    if held.is_empty():
        return [Trouble("island", 1.0, f"{piece.area():.0f} mm² begin in the air at {top:.1f} mm", cure + ".", at, k)]
    wide = _widest_mm(piece)
    points = [p for loop in held.to_polygons() for p in loop]
    around = CrossSection.hull_points([(float(a), float(b)) for a, b in points])
    if (piece - around).area() < 0.25 * piece.area():
        if wide <= BRIDGE_MM / 3:
            return []
        weight = min(0.9, 0.3 + 0.5 * wide / BRIDGE_MM)
        return [Trouble("bridge", weight, f"A bridge of {wide:.0f} mm at {top:.1f} mm sags" if wide < BRIDGE_MM else
                        f"A bridge of {wide:.0f} mm at {top:.1f} mm will not hold", cure + ".", at, k)]  # fmt: skip
    if wide < REACH_MM:
        return []
    return [Trouble("overhang", min(0.85, 0.3 + 0.1 * wide), f"Reaches out {wide:.1f} mm over nothing at {top:.1f} mm", cure + ".", at, k)]


def _widest_mm(region: CrossSection) -> float:
    """The width at which nothing of the region is left when it is drawn in: how far it is across at its widest."""
    low, high = 0.0, 2.0
    while not region.offset(-high / 2, JoinType.Miter, 2.0).is_empty():
        low, high = high, 2 * high
    for _ in range(8):
        mid = (low + high) / 2
        if region.offset(-mid / 2, JoinType.Miter, 2.0).is_empty():
            high = mid
        else:
            low = mid
    return high


def _pillars(cut: Cut, held: Supports, laying: Laying) -> list[Trouble]:
    worst = slenderest(held, cut.layers.top_mm, laying)
    if worst is None or worst[0] < SLENDER:
        return []
    cure = "Use walls instead of pillars" if laying.support == "pillars" else "Turn the part so that it hangs nearer to the bed"
    return [Trouble("pillar falls", min(0.95, 0.5 + 0.02 * worst[0]), f"A support stands {worst[0]:.0f} times as tall as it is wide",
                    cure + ".", worst[1], int(np.searchsorted(cut.layers.top_mm, worst[1][2])))]  # fmt: skip


def _thin(cut: Cut) -> list[Trouble]:
    w, tops = cut.layers.recipe.line_width_mm, cut.layers.top_mm
    seen: dict[int, tuple[float, tuple[float, float]]] = {}
    worst: tuple[float, int, tuple[float, float]] | None = None
    for k, outer in enumerate(cut.divided.outer):
        if id(outer) in seen:
            continue
        thin = outer - opened(outer, 2 * w * 0.98)
        pieces = [p for p in pieces_of(thin) if p.area() > 4 * w * w]
        if not pieces:
            seen[id(outer)] = (0.0, (0.0, 0.0))
            continue
        big = max(pieces, key=lambda p: p.area())
        seen[id(outer)] = (sum(p.area() for p in pieces), _middle(big))
        if worst is None or seen[id(outer)][0] > worst[0]:
            worst = (seen[id(outer)][0], k, _middle(big))
    if worst is None:
        return []
    return [Trouble("under two lines", 0.45, f"{worst[0]:.0f} mm² of the layer at {tops[worst[1]]:.1f} mm are thinner than two lines",
                    f"Make it {2 * w:.2f} mm thick, or the lines narrower.", (*worst[2], float(tops[worst[1]])), worst[1])]  # fmt: skip


def hole_prints_mm(diameter_mm: float, line_width_mm: float) -> float:
    """Diameter at which an upright hole comes out."""
    bent = (diameter_mm + line_width_mm) / 2
    return diameter_mm - line_width_mm**2 / (4 * bent) - SHRINK_MM


def _holes(cut: Cut) -> list[Trouble]:
    """Round holes through which a screw drags once they are printed."""
    w, tops = cut.layers.recipe.line_width_mm, cut.layers.top_mm
    sizes: dict[float, tuple[int, tuple[float, float], int]] = {}
    seen: set[int] = set()
    for k, outer in enumerate(cut.divided.outer):
        if id(outer) in seen:
            continue
        seen.add(id(outer))
        for loop in outer.to_polygons():
            p = np.asarray(loop, dtype=np.float64)
            area = loop_area_mm2(p)
            around = float(np.hypot(*(np.roll(p, -1, axis=0) - p).T).sum())
            if area >= 0 or -area > 200 or 4 * math.pi * -area < 0.955 * around**2:
                continue
            size = round(2 * math.sqrt(-area / math.pi), 1)
            n, at, layer = sizes.get(size, (0, (float(p[:, 0].mean()), float(p[:, 1].mean())), k))
            sizes[size] = (n + (layer == k), at, layer)
    out = []
    for size, (n, at, k) in sorted(sizes.items()):
        screw = max((s for s in screws().values() if s.diameter_mm <= size), key=lambda s: s.diameter_mm, default=None)
        printed = hole_prints_mm(size, w)
        if screw is None or printed - screw.diameter_mm >= DRAG_MM or size - screw.diameter_mm > 0.6:
            continue
        want = math.ceil((screw.diameter_mm + DRAG_MM + size - printed) * 10) / 10
        tight = "drags" if printed > screw.diameter_mm else "does not pass"
        out.append(Trouble("small hole", 0.35 if printed > screw.diameter_mm else 0.6, f"{n} hole{'s' if n > 1 else ''} of {size:g} mm "
                           f"print{'s' if n == 1 else ''} about {printed:.2f} mm: an {screw.id} screw {tight}",
                           f"Draw {want:.1f} mm, or run a drill through.", (*at, float(tops[k])), k))  # fmt: skip
    return out


def _one_path(cut: Cut, breaks: Floats, filament: Filament) -> list[Trouble]:
    """A foaming filament oozes: wherever its path breaks it leaves a blob and a hole."""
    if filament.expansion <= 1.05 or float(breaks.max(initial=0)) <= 1:
        return []
    k = int(breaks.argmax())
    total = int(breaks.sum() - len(breaks))
    pieces = len(cut.divided.outer[k].decompose())
    where = f"; {pieces} separate islands in it" if pieces > 1 else ""
    cure = "No core, ribs cut as slits from the outside rather than drawn as walls, and one wall make one path per layer."
    top = float(cut.layers.top_mm[k])
    text = f"The path breaks {total} times; {int(breaks[k]) - 1} in the layer at {top:.1f} mm{where}"
    return [Trouble("broken path", min(0.9, 0.3 + 0.004 * total), text, cure, (*_middle(cut.divided.outer[k]), top), k)]
