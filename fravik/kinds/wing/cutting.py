"""A panel cut in two across its span, so that each half goes under the printer's gantry."""

from __future__ import annotations

from fravik.model.project import Part, Project
from fravik.model.wing import WingShape
from fravik.shape.wing import chord_at

from .geometry import wing_of

ROOM_MM = 4.0  # of the printer's height, left over


def cut_at(project: Project, part_id: str, share: float) -> tuple[Part, ...]:
    """All parts of the craft with one panel cut at a share of its span; what joined on to its tip joins on to the new half's. Raises
    ValueError
    for one across the middle or upright."""
    part = project.part(part_id)
    s = wing_of(part)
    if s.hand != "pair":
        raise ValueError("only a panel that stands left and right is cut")
    taken = {p.id for p in project.parts}
    new_id = next(n for n in (f"{part_id[:34]}_{k}" for k in range(2, 99)) if n not in taken)
    middle = round(chord_at(s, share), 1)
    inner = s.model_copy(update={"length_mm": round(s.length_mm * share, 1), "tip_chord_mm": middle, "sweep_mm": s.sweep_mm * share,
                                 "washout_deg": s.washout_deg * share, **_surface(s, 0.0, share)})  # fmt: skip
    outer = s.model_copy(update={
        "on": part_id, "length_mm": round(s.length_mm * (1 - share), 1), "root_chord_mm": middle, "sweep_mm": s.sweep_mm * (1 - share),
        "washout_deg": s.washout_deg * (1 - share), "incidence_deg": 0.0, "folds": False, **_surface(s, share, 1.0),
    })  # fmt: skip
    out: list[Part] = []
    for p in project.parts:
        if p.id == part_id:
            out += [
                p.model_copy(update={"shape": inner}),
                p.model_copy(update={"id": new_id, "name": f"{p.name}, outer half", "shape": outer}),
            ]
        elif isinstance(p.shape, WingShape) and p.shape.on == part_id:
            out.append(p.model_copy(update={"shape": p.shape.model_copy(update={"on": new_id})}))
        else:
            out.append(p)
    return tuple(out)


def _surface(s: WingShape, start: float, end: float) -> dict[str, object]:
    """What of its surface lies on a piece."""
    low, high = max(s.surface_from, start), min(s.surface_to, end)
    if s.surface == "none" or high - low < 0.02:
        return {"surface": "none"}
    return {
        "surface_from": round(max((low - start) / (end - start), 0.0), 3),
        "surface_to": round(min((high - start) / (end - start), 1.0), 3),
    }


def share_for(s: WingShape, tall_mm: float) -> float:
    """Where to cut so that the inner half stands just under a height, no farther out than the middle."""
    return min((tall_mm - ROOM_MM) / s.length_mm, 0.5) if s.length_mm > 0 else 0.5
