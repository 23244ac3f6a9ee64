"""Which motor and propeller every rotor has."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np

from fravik.flight.mass import HUB_OVER_MM
from fravik.model.craft import OtherDrive
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.power.blades import resolved
from fravik.power.drive import USUAL, Drive, alike
from fravik.power.propeller import propeller_inertia_gmm2
from fravik.printing.mass import MassProperties, combine
from fravik.structure.beams import TipBody

from .around import KEPT, arm_ends, arms_by_slot, stations
from .printedblades import in_place_of, printed_on

BELOW = "_below"
SAME_MM = 1.0  # rotors that stand so far back alike
CIRCLE_MM = 0.6  # so far bolt circles may differ


@lru_cache(maxsize=KEPT)
def drives(project: Project) -> tuple[Drive, ...]:
    """One for each rotor, in the order of their stations."""
    c = project.components
    usual = Drive(c.motor, resolved(c.propeller))
    other = {rotor: Drive(d.motor, resolved(d.propeller), f"{USUAL}.other_drives.{d.id}") for d in c.other_drives for rotor in d.at}
    printed = printed_on(project)
    out = []
    for s in stations(project):
        drive = other.get(s.id, usual)
        if s.id in printed:
            drive = Drive(drive.motor, in_place_of(drive.propeller, printed[s.id], project), drive.path)
        out.append(drive)
    return tuple(out)


def unlike(project: Project) -> tuple[Drive, ...]:
    """The drives that there are, each once, the usual one first where any rotor has it."""
    found = dict.fromkeys(drives(project))
    return tuple(sorted(found, key=lambda d: d.path != USUAL))


def on_arms(project: Project) -> dict[str, tuple[int, ...]]:
    """The numbers of the rotors at each arm's end, by the end's station."""
    every = stations(project)
    return {e.id: tuple(k for k, s in enumerate(every) if s.id.removesuffix(BELOW) == e.id) for e in arm_ends(project)}


def in_pairs(project: Project) -> tuple[bool, ...]:
    """Whether each rotor shares its arm's end with another, in the order of their stations."""
    shared = {k for there in on_arms(project).values() if len(there) > 1 for k in there}
    return tuple(k in shared for k in range(len(stations(project))))


def heaviest_at(project: Project, ends: Iterable[str | None]) -> tuple[Drive, ...]:
    """Of some arms' ends the drives of the one whose rotors weigh most, the upper rotor's first; the usual where no rotor is there."""
    rotors, every = on_arms(project), drives(project)
    there = [tuple(every[k] for k in rotors[e]) for e in dict.fromkeys(ends) if e in rotors]
    return max(there, key=lambda pair: sum(d.mass_g for d in pair), default=alike(project.components, 1))


def drive_faults(project: Project) -> list[Problem]:
    """Drives that name rotors that the craft has not, or none."""
    out, ids = [], {s.id for s in stations(project)}
    for d in project.components.other_drives:
        gone = [r for r in d.at if r not in ids]
        if gone:
            out.append(Problem(f"{USUAL}.other_drives.{d.id}.at", f"There is no rotor {gone[0].replace('_', ' ')} in this layout: it "
                               "has no place there.", "warning"))  # fmt: skip
        elif not d.at:
            out.append(Problem(f"{USUAL}.other_drives.{d.id}.at", "This drive is on no rotor: pick the rotors that have it.", "warning"))
    return out


def rotor_body(pair: tuple[Drive, ...], face_mm: float, under_mm: float = 0.0) -> TipBody:
    """Motor and propeller on a seat at a height, and those on the seat under it where two rotors share an arm's end."""
    bodies = []
    for drive, face, up in zip(pair, (face_mm, under_mm), (1, -1), strict=False):
        motor = drive.motor
        r, h = motor.diameter_mm / 2, motor.height_mm
        side = motor.mass_g * (3 * r * r + h * h) / 12
        own = np.diag([side, side, motor.mass_g * r * r / 2])
        bodies += [MassProperties(motor.mass_g, np.array([0.0, 0.0, face + up * h / 2]), own),
                   MassProperties(drive.propeller.mass_g, np.array([0.0, 0.0, face + up * (h + HUB_OVER_MM)]),
                                  propeller_inertia_gmm2(drive.propeller))]  # fmt: skip
    all_of_it = combine(bodies)
    return TipBody(all_of_it.mass_g * 1e-6, all_of_it.inertia_gmm2 * 1e-6, all_of_it.com_mm)


def ends_of(part: Part, project: Project) -> tuple[str, ...]:
    """The stations that the copies of an arm reach."""
    return tuple(e.id for e, arm in zip(arm_ends(project), arms_by_slot(project), strict=False) if arm.id == part.id)


def arm_drives(part: Part, project: Project) -> tuple[Drive, ...]:
    """What an arm carries: the heaviest that any of its copies does, the upper rotor's first."""
    return heaviest_at(project, ends_of(part, project))


def drives_on(project: Project, ends: Iterable[str | None]) -> tuple[Drive, ...]:
    """The drives that stand at some arms' ends, each once; the usual one where no rotor is there."""
    rotors, every = on_arms(project), drives(project)
    found = tuple(dict.fromkeys(every[k] for e in ends if e in rotors for k in rotors[e]))
    return found or alike(project.components, 1)


def circle_faults(drives: Iterable[Drive], circle_mm: float, path: str, what: str) -> list[Problem]:
    """Motors that do not fit a bolt circle."""
    wrong = next((d.motor for d in drives if abs(d.motor.mount_circle_mm - circle_mm) > CIRCLE_MM), None)
    if wrong is None:
        return []
    return [Problem(path, f"The {what} is drilled for {circle_mm:g} mm; the motor has {wrong.mount_circle_mm:g}.", "warning")]


def new_drive(project: Project) -> OtherDrive:
    """Another drive like the usual one: on the lower rotors of pairs, or else on those farthest back; on none where all have another."""
    free = [s for s, d in zip(stations(project), drives(project), strict=True) if d.path == USUAL]
    lower = [s for s in free if s.up < 0]
    back = min((s.x_mm for s in free), default=0.0)
    rear = lower or [s for s in free if s.x_mm <= back + SAME_MM]
    taken, c = {d.id for d in project.components.other_drives}, project.components
    name = next(n for n in (f"drive{i}" for i in range(1, 999)) if n not in taken)
    return OtherDrive(id=name, at=tuple(s.id for s in rear), motor=c.motor, propeller=c.propeller)


def rotors_named(project: Project, ids: Sequence[str]) -> str:
    """Some rotors in words: one by its station, all the lower ones of pairs as such."""
    every = {s.id: s for s in stations(project)}
    there = [every[i] for i in ids if i in every]
    if not there:
        return "no rotor"
    if len(there) > 1 and all(s.up < 0 for s in there) and len(there) == sum(s.up < 0 for s in every.values()):
        return "the lower rotors"
    return f"{there[0].side}{f' and {there[1].side}' if len(there) == 2 else ' and others' if len(there) > 2 else ''}"


def drive_title(project: Project, drive: OtherDrive) -> str:
    """What it is called: by the rotors that have it."""
    return f"Drive of {rotors_named(project, drive.at)}"
