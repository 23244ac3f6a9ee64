"""Findings as data and as lines of text."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.rotors import CHARGED, EMPTY, authority_rad_s2, one_lost_rad_s2
from fravik.study.findings import Finding

from .access import access
from .bay import gaps
from .cures import tried
from .disks import nearest, rest_mm
from .every import foresee
from .lens import cameras, free_deg, sight
from .packed import sizes
from .shadow import shadows
from .standing import room_mm
from .wind import held_m_s
from .wires import wires


def finding_rows(engine: Engine, result: Evaluation, every: Iterable[Finding], with_cures: bool = True) -> list[dict[str, Any]]:
    """One row a finding, its cures tried, and whether the maker has set it aside and why."""
    reasons = {s.id: s.reason for s in result.project.set_aside}
    return [
        {
            "id": f.id, "weight": f.weight, "stage": f.stage, "where": f.where, "path": f.path, "what": f.what, "why": f.why,
            "advice": f.advice, "set_aside": reasons.get(f.id),
            "cures": [
                {"title": t.cure.title, "edits": dict(t.cure.edits), "grams": t.grams, "minutes": t.minutes,
                 "cost": t.cost, "harms": list(t.harms), "brings": list(t.brings)}
                for t in (tried(engine, result, f) if with_cures else ())
            ],
        }
        for f in every
    ]  # fmt: skip


def foresight(engine: Engine, result: Evaluation) -> dict[str, Any]:
    """All that is foreseen of a design as JSON-ready data, each cure tried; ``gap_mm`` is below nothing where two run into each other."""
    flies = not result.scope.flight
    clear, size = result.clearances, sizes(engine, result)
    disk_room, thing_room = room_mm(engine, result)
    return {
        "findings": finding_rows(engine, result, foresee(engine, result)),
        "clearances": {
            "disk_to_disk_mm": _finite(clear.prop_to_prop_mm),
            "disk_to_ground_mm": _finite(rest_mm(engine, result)),
            "disk_to_ground_landing_mm": _finite(disk_room),
            "thing_to_ground_landing_mm": _finite(thing_room),
            "nearest_to_a_disk_mm": nearest(engine, result),
        },
        "bay": gaps(engine, result),
        "lens": [
            {"camera": c.id, "covered": sight(engine, result, c)[0], "tilt_free_deg": free_deg(engine, result, c)} for c in cameras(result)
        ],
        "wind_m_s": dict(zip(("low", "usual", "high"), held_m_s(engine, result), strict=True)) if flies and result.parts else None,
        "authority": _authority(result) if flies else [],
        "disk_shadow": [{"rotor": s.station, "blocked": s.blocked, "lost": list(s.lost)} for s in shadows(engine, result)],
        "wires": [asdict(w) for w in wires(result)],
        "access": [asdict(a) for a in access(engine, result)],
        "size": asdict(size) if size is not None else None,
    }


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _authority(result: Evaluation) -> list[dict[str, Any]]:
    usual, lost = authority_rad_s2(result), one_lost_rad_s2(result)
    full, empty = (authority_rad_s2(result, drawn) for drawn in (CHARGED, EMPTY))
    return [{"axis": a, "rad_s2": usual[a], "full_rad_s2": full[a], "empty_rad_s2": empty[a], "one_lost_rad_s2": lost[a]} for a in usual]


def as_text(rows: list[dict[str, Any]]) -> str:
    """The same as lines."""
    lines = []
    for row in rows:
        aside = f" (set aside: {row['set_aside'] or 'no reason given'})" if row["set_aside"] is not None else ""
        lines.append(f"{row['weight']:13}  {row['where']}: {row['what']}{aside}")
        lines += [f"{'':15}{row[k]}" for k in ("why", "advice") if row[k]]
        for c in row["cures"]:
            price = f"{c['grams']:+.1f} g, {c['minutes']:+.0f} min, {c['cost']:+.2f}"
            costs = "; ".join([f"{m} gets worse" for m in c["harms"]] + [f"brings: {b}" for b in c["brings"]])
            lines.append(f"{'':15}cure: {c['title']} ({price}){f'. {costs}' if costs else ''}")
    return "\n".join(lines) or "Nothing that this design shows."
