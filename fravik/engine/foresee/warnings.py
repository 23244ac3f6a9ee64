"""Warnings of every room at their fields, as findings."""

from __future__ import annotations

from collections.abc import Iterable

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.model.project import Project
from fravik.study.findings import Finding

STAGE_OF = {"parts": "Parts", "layout": "Airframe", "components": "Airframe", "brief": "Brief", "targets": "Brief", "spools": "Print run",
            "printer": "Print run", "more_printers": "Print run", "run": "Print run"}  # fmt: skip


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """One finding a warning. What is outside the model weighs as much as anything: its figures are not known."""
    outside = {(p.path, p.message) for p in result.scope.problems}
    seen: dict[str, int] = {}
    for p in result.problems:
        if p.severity != "warning":
            continue
        seen[p.path] = seen.get(p.path, 0) + 1
        not_judged = (p.path, p.message) in outside
        name = f"{'scope' if not_judged else 'warning'}:{p.path}:{seen[p.path]}"
        yield Finding(name, "likely", STAGE_OF.get(p.path.split(".")[0], "Airframe"), p.path, where(result.project, p.path),
                      p.message, "Not judged." if not_judged else "")  # fmt: skip


def where(project: Project, path: str) -> str:
    """What a field belongs to, in words."""
    root, _, rest = path.partition(".")
    if root == "parts":
        named = next((p.name for p in project.parts if p.id == rest.split(".")[0]), "")
        return named or "The parts"
    if path.startswith("components.blocks."):
        return next((b.name for b in project.components.blocks if b.id == path.split(".")[2]), "A component")
    if root == "components":
        return {"motor": "The motor", "propeller": "The propeller", "battery": "The battery"}.get(rest.split(".")[0], "The components")
    return {"layout": "The layout", "brief": "The brief", "targets": "The brief", "spools": "The shelf"}.get(root, "The printer")
