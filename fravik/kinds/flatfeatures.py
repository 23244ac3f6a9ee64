"""What contradicts itself among the features of a flat part, and how they are begun."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from manifold3d import CrossSection

from fravik.model.features import FEATURE_LABELS, MOST_FEATURES, STANDS, FeatureKind, PlateFeature
from fravik.model.problem import Problem
from fravik.shape.features import pieces, plan_of

LEAST_WEB_MM = 1.0
TOUCHES_MM2 = 0.5


def feature_problems(features: Sequence[PlateFeature], at: str, is_cut: bool) -> list[Problem]:
    """Each at its field."""
    out: list[Problem] = []
    ids = [f.id for f in features]
    if len(set(ids)) != len(ids):
        out.append(Problem(at + "features", "Two features have the same id."))
    if len(features) > MOST_FEATURES:
        out.append(Problem(at + "features", f"There are {len(features)} features; {MOST_FEATURES} are the most."))
    for f in features:
        here = f"{at}features.{f.id}."
        if f.kind in STANDS and is_cut:
            out.append(Problem(here + "height_mm", f"{told(f)} stands on a plate that is cut from flat stock: leave it out, or print the "
                               "part."))  # fmt: skip
        if f.kind == "arc" and f.radius_mm <= f.width_mm / 2:
            out.append(Problem(here + "radius_mm", f"{told(f)} is wider than its radius: a disc does that."))
        if f.kind == "windows" and f.hole_mm + LEAST_WEB_MM > f.pitch_mm:
            out.append(Problem(here + "pitch_mm", f"{told(f)}: windows of {f.hole_mm:g} mm every {f.pitch_mm:g} mm leave under "
                               f"{LEAST_WEB_MM:g} mm between them."))  # fmt: skip
        if f.kind == "holes" and f.radius_mm <= 0 and f.count > 1 and f.hole_mm + LEAST_WEB_MM > f.pitch_mm:
            out.append(Problem(here + "pitch_mm", f"{told(f)} run into one another: {f.hole_mm:g} mm every {f.pitch_mm:g} mm."))
        if f.kind == "boss" and f.hole_mm > 0 and f.hole_mm + 2 * LEAST_WEB_MM > f.width_mm:
            out.append(Problem(here + "hole_mm", f"{told(f)} has under {LEAST_WEB_MM:g} mm of wall round its hole."))
    return out


def apart(whole: CrossSection, at: str) -> list[Problem]:
    """What falls off."""
    count = pieces(whole)
    if count <= 1:
        return []
    return [Problem(at + "features", f"It falls into {count} pieces: what is added has to reach the rest, and no cut may part it.")]


def cut_into(features: Sequence[PlateFeature], kept: CrossSection, at: str, what: str) -> list[Problem]:
    """Cuts that run into what is judged without them."""
    out = []
    for f in features:
        if f.kind in ("cutout", "holes", "windows") and (plan_of(f) ^ kept).area() > TOUCHES_MM2:
            out.append(
                Problem(f"{at}features.{f.id}.x_mm", f"{told(f)} cuts into {what}, which would be judged as if it did not: move it.")
            )
    return out


def told(f: PlateFeature) -> str:
    """What it is called."""
    return f.name or FEATURE_LABELS[f.kind]


def begun(kind: FeatureKind, features: Sequence[PlateFeature], long_mm: float, wide_mm: float) -> PlateFeature:
    """One more, of a size that suits the part, where it shows."""
    taken = {f.id for f in features}
    new = next(n for n in (f"{kind}{k}" for k in range(1, 999)) if n not in taken)
    small = round(min(long_mm, wide_mm) / 6, 1)
    thin = max(small / 2, 3.0)
    usual: dict[str, dict[str, Any]] = {
        "disc": {"x_mm": round(long_mm / 2, 1), "width_mm": max(2 * small, 4.0)},
        "strip": {"length_mm": round(0.6 * long_mm), "width_mm": max(small, 3.0), "y_mm": round(wide_mm / 2, 1), "mirror": "sides"},
        "arc": {"radius_mm": round(long_mm / 2), "width_mm": thin, "span_deg": 60.0},
        "cutout": {"length_mm": max(2 * small, 4.0), "width_mm": max(small, 3.0), "corner_mm": max(small / 4, 0.5),
                   "x_mm": round(long_mm / 4, 1), "mirror": "ends"},
        "holes": {"count": 3, "pitch_mm": max(small, 6.0), "y_mm": round(0.3 * wide_mm, 1), "mirror": "sides"},
        "windows": {"length_mm": round(0.3 * long_mm), "width_mm": round(0.4 * wide_mm), "hole_mm": thin, "pitch_mm": thin + 2.0,
                    "x_mm": round(0.28 * long_mm, 1), "mirror": "ends"},
        "rib": {"length_mm": round(0.7 * long_mm), "width_mm": 2.4, "height_mm": 4.0, "y_mm": round(0.3 * wide_mm, 1), "mirror": "sides"},
        "boss": {"width_mm": 8.0, "height_mm": 4.0, "hole_mm": 3.2, "x_mm": round(0.35 * long_mm, 1), "mirror": "ends"},
    }  # fmt: skip
    return PlateFeature(id=new, kind=kind, **usual[kind])
