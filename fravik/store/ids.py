"""Ids as they must be: of small letters, figures and _ alone. Old files let them be any text; what goes by them follows."""

from __future__ import annotations

import re
from typing import Any

_SLUG = re.compile(r"[a-z0-9_]{1,40}")
_LISTS = ("parts", "targets", "spools", "more_printers")


def slug(text: str, taken: set[str]) -> str:
    """An id made of a text, like no other of its kind."""
    stem = re.sub(r"[^a-z0-9_]+", "_", text.lower()).strip("_")[:36] or "unnamed"
    found, k = stem, 2
    while found in taken:
        found, k = f"{stem}_{k}", k + 1
    return found


def _renamed(items: Any) -> tuple[list[Any], dict[str, str]]:
    """A list with plain ids, and what became of those that were not."""
    if not isinstance(items, list):
        return items, {}
    ids = [i.get("id") for i in items if isinstance(i, dict)]
    taken = {i for i in ids if isinstance(i, str) and _SLUG.fullmatch(i)}
    names: dict[str, str] = {}
    out = []
    for item in items:
        old = item.get("id") if isinstance(item, dict) else None
        if isinstance(old, str) and not _SLUG.fullmatch(old):
            if old not in names:
                names[old] = slug(old, taken)
                taken.add(names[old])
            item = {**item, "id": names[old]}
        out.append(item)
    return out, names


def _follow(items: Any, key: str, names: dict[str, str]) -> Any:
    if not names or not isinstance(items, list):
        return items
    return [{**i, key: names.get(str(i[key]), i[key])} if isinstance(i, dict) and key in i else i for i in items]


def with_plain_ids(data: dict[str, Any]) -> dict[str, Any]:
    """The project's raw data with plain ids, and everything that goes by a part or a printer following."""
    out = dict(data)
    names: dict[str, dict[str, str]] = {}
    for key in _LISTS:
        if key in out:
            out[key], names[key] = _renamed(out[key])
    first = out.get("printer")
    if isinstance(first, dict):
        (renamed,), more = _renamed([first])
        out["printer"] = renamed
        names["more_printers"] = {**names.get("more_printers", {}), **more}
    for owner, key in (("brief", "own_cases"), ("components", "blocks")):
        if isinstance(out.get(owner), dict) and key in out[owner]:
            out[owner] = {**out[owner], key: _renamed(out[owner][key])[0]}
    parts, printers = names.get("parts", {}), names.get("more_printers", {})
    brief, run = out.get("brief"), out.get("run")
    if isinstance(brief, dict) and parts:
        out["brief"] = {**brief, "own_cases": _follow(brief.get("own_cases"), "part", parts)} if "own_cases" in brief else brief
    if isinstance(run, dict) and (parts or printers):
        records = _follow(_follow(run.get("records"), "part", parts), "printer", printers)
        new = {"records": records, "spares": _follow(run.get("spares"), "id", parts)}
        out["run"] = {**run, **{k: v for k, v in new.items() if k in run}}
    return out
