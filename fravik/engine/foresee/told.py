"""Findings as data and as lines of text."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.rotors import authority_rad_s2
from fravik.study.findings import Finding

from .bay import gaps
from .cures import tried
from .disks import nearest
from .every import foresee
from .lens import cameras, free_deg, sight
from .wind import held_m_s


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
    clear = result.clearances
    return {
        "findings": finding_rows(engine, result, foresee(engine, result)),
        "clearances": {
            "disk_to_disk_mm": clear.prop_to_prop_mm if math.isfinite(clear.prop_to_prop_mm) else None,
            "disk_to_ground_mm": clear.prop_to_ground_mm,
            "nearest_to_a_disk_mm": nearest(engine, result),
        },
        "bay": gaps(engine, result),
        "lens": [
            {"camera": c.id, "covered": sight(engine, result, c)[0], "tilt_free_deg": free_deg(engine, result, c)} for c in cameras(result)
        ],
        "wind_m_s": dict(zip(("low", "usual", "high"), held_m_s(engine, result), strict=True)) if flies and result.parts else None,
        "authority": [{"axis": axis, "rad_s2": rate} for axis, rate in authority_rad_s2(result).items()] if flies else [],
    }


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
