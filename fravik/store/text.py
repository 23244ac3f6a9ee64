"""A project as JSON text and back."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from fravik.model.base import explain
from fravik.model.project import SCHEMA_VERSION, Project


def project_to_json(project: Project) -> str:
    """The whole project as indented JSON."""
    return project.model_dump_json(indent=1)


def project_from_json(text: str) -> Project:
    """Read a project. Raises ValueError with a plain sentence for anything that is not one."""
    try:
        data = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as err:
        raise ValueError(f"This is not JSON: {err}.") from None
    if not isinstance(data, dict):
        raise ValueError("This JSON is not a project: it should be an object with name, parts and targets.")
    version = data.get("schema_version", 1)
    if isinstance(version, int) and version > SCHEMA_VERSION:
        raise ValueError(f"This project was written by a newer Fravik (format {version}; this one reads up to {SCHEMA_VERSION}).")
    if version == 1:
        data = _from_first_format(data)
    elif version == 2:
        # format 2 knew nothing of layings, print runs and shells: each takes its default
        data = {**data, "schema_version": SCHEMA_VERSION}
    data = _with_one_motor_equation(_with_two_mode_targets(data))
    try:
        return Project.model_validate(data)
    except ValidationError as err:
        path, message = explain(err)[0]
        raise ValueError(f"The project does not hold together at {path or 'its top'}: {message}") from None


def _from_first_format(data: dict[str, Any]) -> dict[str, Any]:
    """Format 1 had no joints and facings, and its strips always lay in slots."""
    parts = []
    for part in data.get("parts") or ():
        carbon = part.get("carbon") if isinstance(part, dict) else None
        if isinstance(carbon, dict) and str(carbon.get("stock", "")).startswith("strip"):
            part = {**part, "carbon": {**carbon, "place": "slot"}}
        parts.append(part)
    return {**data, "schema_version": SCHEMA_VERSION, "parts": parts} if "parts" in data else {**data, "schema_version": SCHEMA_VERSION}


def _with_two_mode_targets(data: dict[str, Any]) -> dict[str, Any]:
    """Once one target asked whether the lowest arm mode lay outside 1/rev. It is two now: every mode clear, and a floor on the lowest."""
    targets = data.get("targets")
    if not isinstance(targets, list) or not any(isinstance(t, dict) and t.get("metric") == "first_mode_hz" for t in targets):
        return data
    taken = {t.get("id") for t in targets if isinstance(t, dict)}
    out: list[Any] = []
    for t in targets:
        if not (isinstance(t, dict) and t.get("metric") == "first_mode_hz"):
            out.append(t)
            continue
        floor = next(i for i in ("floor", *(f"floor{n}" for n in range(2, 999))) if i not in taken)
        taken.add(floor)
        out += [{**t, "metric": "modes_clear_pct"}, {"id": floor, "metric": "mode_floor_hz", "limit": 2.5}]
    return {**data, "targets": out}


def _with_one_motor_equation(data: dict[str, Any]) -> dict[str, Any]:
    """Once a motor had a loaded speed and an efficiency that could contradict each other; resistance and no-load current replace both."""
    components = data.get("components")
    motor = components.get("motor") if isinstance(components, dict) else None
    if not isinstance(components, dict) or not isinstance(motor, dict) or not {"loaded_speed", "efficiency"} & set(motor):
        return data
    kept = {k: v for k, v in motor.items() if k not in ("loaded_speed", "efficiency")}
    return {**data, "components": {**components, "motor": kept}}
