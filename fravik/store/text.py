"""A project as JSON text and back."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from fravik.model.base import explain, text_problem
from fravik.model.project import SCHEMA_VERSION, Project

from .fileproblem import FileProblem
from .ids import with_plain_ids
from .reading import text_of

MOST_JSON_BYTES = 100_000_000


def read_json_file(path: Path) -> Project:
    """A project from a JSON file. Raises FileProblem."""
    try:
        return project_from_json(text_of(path, MOST_JSON_BYTES, "craft"))
    except ValueError as err:
        raise FileProblem(f"{path.name}: {err}", "file.unreadable") from None


def project_to_json(project: Project) -> str:
    """The whole project as indented JSON."""
    return project.model_dump_json(indent=1)


def project_from_json(text: str) -> Project:
    """Read a project. Raises ValueError with a plain sentence for anything that is not one."""
    try:
        data = json.loads(text.removeprefix("\ufeff"))
    except RecursionError:
        raise ValueError("This JSON is nested deeper than any project.") from None
    except ValueError as err:
        raise ValueError(f"This is not JSON: {err}.") from None
    if not isinstance(data, dict):
        raise ValueError("This JSON is not a project: it should be an object with name, parts and targets.")
    version = data.get("schema_version", 1)
    if isinstance(version, int) and version > SCHEMA_VERSION:
        raise ValueError(f"This project was written by a newer Fravik (format {version}; this one reads up to {SCHEMA_VERSION}).")
    if version == 1:
        data = _from_first_format(data)
    elif version in (2, 3):
        # format 2 knew nothing of layings, print runs and shells, format 3 nothing of own places, blades and wings: each takes its default
        data = {**data, "schema_version": SCHEMA_VERSION}
    wrong = text_problem(data)
    if wrong:
        raise ValueError(f"The project cannot be kept: {wrong}")
    data = with_plain_ids(data)
    data = _with_present_words(_without_typed_voltage(_with_one_motor_equation(_with_two_mode_targets(data))))
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


# what fields and their values were called before each had one word
WORDS_BEFORE = {
    "recipe": {"skin_layers": "cover_layers", "infill": "core_density", "infill_angle_deg": "core_angle_deg"},
    "laying": {"outer_first": "outline_first", "seam": "starts", "brim_mm": "hem_mm"},
    "facing": {"sheet": "stock"},
    "printer": {"skin_speed_mm_s": "cover_speed_mm_s", "infill_speed_mm_s": "core_speed_mm_s", "plate_change_min": "bed_change_min"},
    "run": {"most_on_plate": "most_in_batch"},
    "record": {"plate": "batch"},
    "own_case": {"station_mm": "position_mm"},
}
EDGE_WORDS = {"skirt": "ring", "brim": "hem"}


def _with_present_words(data: dict[str, Any]) -> dict[str, Any]:
    """Fields by their present names, in brief, parts, printers and the run."""
    out = dict(data)
    parts = data.get("parts")
    if isinstance(parts, list):
        out["parts"] = [
            {**p, **{k: _renamed(p[k], WORDS_BEFORE[k]) for k in ("recipe", "laying", "facing") if k in p}} if isinstance(p, dict) else p
            for p in parts
        ]
    if "printer" in data:
        out["printer"] = _renamed(data["printer"], WORDS_BEFORE["printer"])
    if isinstance(data.get("more_printers"), list):
        out["more_printers"] = [_renamed(p, WORDS_BEFORE["printer"]) for p in data["more_printers"]]
    brief = data.get("brief")
    if isinstance(brief, dict) and isinstance(brief.get("own_cases"), list):
        out["brief"] = {**brief, "own_cases": [_renamed(c, WORDS_BEFORE["own_case"]) for c in brief["own_cases"]]}
    if isinstance(data.get("run"), dict):
        out["run"] = run = _renamed(data["run"], WORDS_BEFORE["run"])
        if isinstance(run.get("records"), list):
            run["records"] = [_renamed(r, WORDS_BEFORE["record"]) for r in run["records"]]
    return out


def _renamed(held: Any, words: dict[str, str]) -> Any:
    if not isinstance(held, dict):
        return held
    out = {words.get(k, k): v for k, v in held.items()}
    if isinstance(out.get("edge"), str):
        out["edge"] = EDGE_WORDS.get(out["edge"], out["edge"])
    return out


def _with_one_motor_equation(data: dict[str, Any]) -> dict[str, Any]:
    """Once a motor had a loaded speed and an efficiency that could contradict each other; resistance and no-load current replace both."""
    components = data.get("components")
    motor = components.get("motor") if isinstance(components, dict) else None
    if not isinstance(components, dict) or not isinstance(motor, dict) or not {"loaded_speed", "efficiency"} & set(motor):
        return data
    kept = {k: v for k, v in motor.items() if k not in ("loaded_speed", "efficiency")}
    return {**data, "components": {**components, "motor": kept}}


def _without_typed_voltage(data: dict[str, Any]) -> dict[str, Any]:
    """Once a cell's voltage in flight was typed; the pack's own sag gives it now."""
    components = data.get("components")
    pack = components.get("battery") if isinstance(components, dict) else None
    if not isinstance(components, dict) or not isinstance(pack, dict) or "cell_volts" not in pack:
        return data
    kept = {k: v for k, v in pack.items() if k != "cell_volts"}
    return {**data, "components": {**components, "battery": kept}}
