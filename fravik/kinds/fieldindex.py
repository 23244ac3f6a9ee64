"""Every figure that a maker can set, by what it is called and where its editor stands."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from fravik.model.base import Frozen, label_of
from fravik.model.joint import JOINT_FIELDS
from fravik.model.project import Project

from .drives import drive_title
from .registry import kind_of

# of the brief, what has editors of other kinds
NOT_FIELDS = ("id", "own_cases", "purpose", "stations")


@dataclass(frozen=True)
class FieldPlace:
    """What a field is called, what it belongs to, and the stage and path that lead to it."""

    title: str
    of: str
    stage: str
    path: str


def field_places(project: Project) -> tuple[FieldPlace, ...]:
    """All of a project, in the order of the stages."""
    return tuple(_every(project))


def _every(project: Project) -> Iterator[FieldPlace]:
    yield from _of(project.brief, "The brief", "Brief", "brief")
    yield from _of(project.printer, "Printer", "Brief", "printer")
    c = project.components
    yield from _of(project.layout, "Layout", "Airframe", "layout")
    for name, model in (("motor", c.motor), ("propeller", c.propeller), ("battery", c.battery)):
        yield from _of(model, name.capitalize(), "Airframe", f"components.{name}")
    for drive in c.other_drives:
        for name, of in (("motor", drive.motor), ("propeller", drive.propeller)):
            yield from _of(of, drive_title(project, drive), "Airframe", f"components.other_drives.{drive.id}.{name}")
    for block in c.blocks:
        yield from _of(block, block.name, "Airframe", f"components.blocks.{block.id}")
    for part in project.parts:
        yield from _of(part.recipe, part.name, "Parts", f"parts.{part.id}.recipe")
        yield from _of(part.shape, part.name, "Parts", f"parts.{part.id}.shape")
        if kind_of(part.shape).root_page:
            for field in ("kind", *JOINT_FIELDS[part.joint.kind]):
                yield FieldPlace(label_of(type(part.joint), field), part.name, "Parts", f"parts.{part.id}.joint.{field}")
        yield from _of(part.laying, part.name, "Print run", f"parts.{part.id}.laying")
    yield from _of(project.run, "The run", "Print run", "run")


def _of(model: Frozen, of: str, stage: str, at: str) -> Iterator[FieldPlace]:
    for name, info in type(model).model_fields.items():
        extra = info.json_schema_extra
        if name not in NOT_FIELDS and isinstance(extra, dict) and extra.get("label"):
            yield FieldPlace(str(extra["label"]), of, stage, f"{at}.{name}")
