"""A craft as the air sees it, from its parts, places, drives and masses."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from fravik.flight.aero.aerofoils import Section, own_section
from fravik.flight.aero.flyer import BodyPlan, Flyer, RotorPlan
from fravik.flight.aero.strips import Flap, PanelPlan
from fravik.flight.mass import HUB_OVER_MM
from fravik.library.air import GRAVITY_M_S2
from fravik.model.project import Part, Project
from fravik.model.wing import Pusher, WingShape
from fravik.power.bem import RHO
from fravik.power.drive import Drive
from fravik.power.oblique import disk
from fravik.printing.mass import MassProperties
from fravik.shape.stations import Station
from fravik.shape.wing import outline_of

from .bodies import pivot_mm, tilt_of
from .geometry import panels, poses, stands, tip_mm, to_craft, wing_of

Floats = NDArray[np.float64]
ROOT_PARTS = 21  # of the way, at which the centre of mass is told
BODY_DRAG, UNDER_DRAG = 0.35, 0.9  # of the body's front and plan area: a rounded box ahead, a bluff one from below; working assumptions
FIN_DRAG = 0.012
STANDS_DRAG, FOLDED = 1.1, 0.1  # of a blade across the stream; of one that lies back
CHORD = 0.15  # mean chord of a blade over its radius
LIFT_GUESS, FAST, LEAST_TOP = 1.1, 2.6, 12.0
MM = 1e-3
# what each kind of surface does
DOES: dict[str, tuple[bool, bool, bool]] = {
    "aileron": (False, True, False), "elevator": (True, False, False), "elevon": (True, True, False), "flaperon": (False, True, True),
    "rudder": (False, False, False), "none": (False, False, False),
}  # fmt: skip


def section_of(s: WingShape) -> Section:
    """Raises ValueError where its own section is none."""
    return own_section(outline_of(s, s.root_chord_mm)) if s.section else Section(s.thickness, s.camber)


def plan_of(part: Part, project: Project) -> PanelPlan:
    """The left half of a panel."""
    s, at = wing_of(part), stands(project)[part.id]
    pitch, roll, hangs = DOES[s.surface]
    start, end = s.surface_from, s.surface_to
    if s.hand == "across":
        # of its span from end to end, the left half
        start, end = max(0.0, 2 * start - 1), max(2 * end - 1, 0.0)
    flap = (
        Flap(s.surface_share, start, end, math.radians(s.surface_deg), pitch, roll, hangs) if s.surface != "none" and end > start else None
    )
    root, tip = at.root_mm * MM, tip_mm(part, project) * MM
    tilts = any(part.id in t.wings for t in project.flying.tilts)
    return PanelPlan(
        part.id, (float(root[0]), float(root[1]), float(root[2])), (float(tip[0]), float(tip[1]), float(tip[2])), s.root_chord_mm * MM,
        s.tip_chord_mm * MM, at.angle_rad, at.angle_rad - math.radians(s.washout_deg), section_of(s), flap, tilts, not s.folded_in_hover,
    )  # fmt: skip


def surfaces_of(project: Project) -> tuple[tuple[tuple[PanelPlan, ...], ...], int]:
    """Chains of panels from the middle out, those that carry first, and how many these are; upright ones apart."""
    lifting = [p for p in panels(project) if wing_of(p).hand != "upright"]
    by_id = {p.id: p for p in lifting}
    chains: list[tuple[bool, tuple[PanelPlan, ...]]] = []
    for part in lifting:
        if wing_of(part).on in by_id:
            continue
        chain, last = [part], part
        while True:
            nxt = next((p for p in lifting if wing_of(p).on == last.id and p not in chain), None)
            if nxt is None:
                break
            chain.append(nxt)
            last = nxt
        plans = tuple(plan_of(p, project) for p in chain)
        chains.append((wing_of(part).role == "wing", (*_through(plans[0]), *plans)))
    chains.sort(key=lambda c: not c[0])
    return tuple(c for _, c in chains), sum(w for w, _ in chains)


def _through(first: PanelPlan) -> tuple[PanelPlan, ...]:
    """What the body carries on between roots that stand aside of it: the root's chord, to the middle."""
    x, y, z = first.root_m
    if y <= 1e-6:
        return ()
    return (replace(first, root_m=(x, 0.0, z), tip_m=first.root_m, tip_chord_m=first.root_chord_m, tip_rad=first.root_rad, flap=None),)


def rotors_of(project: Project, stations: Sequence[Station], drives: Sequence[Drive], volts: float) -> tuple[RotorPlan, ...]:
    """All rotors, those that hover first."""
    back, f = to_craft(project).T, project.flying
    most = max((t.most_deg for t in f.tilts), default=90.0)
    out = []
    for s, d in zip(stations, drives, strict=True):
        tilt, m, p = tilt_of(project, s.id), d.motor, d.propeller
        hub = s.at_mm + s.up * np.array([0.0, 0.0, m.height_mm + HUB_OVER_MM])
        one = disk(p.diameter_mm * MM, p.pitch_mm * MM, p.thrust_coefficient, p.figure_of_merit, volts, m.kv_rpm_per_v,
            m.resistance_mohm * MM,
                   m.no_load_a, m.controller_loss)  # fmt: skip
        base = math.pi / 2 if f.sits == "tail" else 0.0
        pivot = back @ pivot_mm(tilt, s) * MM if tilt is not None else None
        along = tilt.most_deg / most if tilt is not None else 0.0
        still = p.blades * (p.diameter_mm / 2 * MM) ** 2 * CHORD * STANDS_DRAG * (FOLDED if f.stopped_fold else 1.0)
        stops = s.id in f.stopped
        out.append(RotorPlan(s.id, back @ hub * MM, one, base, pivot, along, False, stops, still if stops else 0.0))
    return (*out, *(_pusher(p, volts) for p in f.pushers))


def _pusher(p: Pusher, volts: float) -> RotorPlan:
    one = disk(p.diameter_mm * MM, p.pitch_mm * MM, p.thrust_coefficient, p.figure_of_merit, volts, p.kv_rpm_per_v, p.resistance_mohm * MM,
               p.no_load_a)  # fmt: skip
    return RotorPlan(p.id, np.array([p.x_mm, p.y_mm, p.z_mm]) * MM, one, math.pi / 2, pusher=True)


def com_through(project: Project, craft: MassProperties, stations: Sequence[Station], drives: Sequence[Drive], part_g: dict[str,
    MassProperties],
                slide: bool = True) -> Floats:  # fmt: skip
    """(ROOT_PARTS, 2) centre of mass x, z in m, aeroplane axes, over even parts of the way: tilting rotors with their pods, wings that
    tilt along
    and the sliding battery move."""
    f, back = project.flying, to_craft(project).T
    com = back @ craft.com_mm
    out = np.tile(com[[0, 2]], (ROOT_PARTS, 1))
    for k, over in enumerate(np.linspace(0.0, 1.0, ROOT_PARTS)):
        for s, d in zip(stations, drives, strict=True):
            t = tilt_of(project, s.id)
            if t is None:
                continue
            motor, prop = t.pivot_under_mm + d.motor.height_mm / 2, t.pivot_under_mm + d.motor.height_mm + HUB_OVER_MM
            for grams, ahead, up in ((d.motor.mass_g, t.pivot_back_mm, motor), (d.propeller.mass_g, t.pivot_back_mm, prop),
                                     (t.pod_g, 0.0, t.pod_over_mm)):  # fmt: skip
                out[k] += grams / craft.mass_g * _turned(ahead, up, math.radians(t.most_deg) * over)
        for t in f.tilts:
            axis = _axis_mm(project, t.id, stations)
            for w in t.wings:
                part = next((p for p in panels(project) if p.id == w), None)
                if part is None or axis is None or w not in part_g:
                    continue
                for pose in poses(part, project):
                    middle = back @ (pose[:3, :3] @ part_g[w].com_mm + pose[:3, 3]) - axis
                    # drawn as it flies ahead: in hover it stands upright
                    turn = math.radians(t.most_deg)
                    out[k] += part_g[w].mass_g / craft.mass_g * _turned(float(middle[0]), float(middle[2]), -turn * (1 - over))
        if slide:
            out[k, 0] += project.components.battery.mass_g / craft.mass_g * f.slide_mm * over
    return out * MM


def _axis_mm(project: Project, tilt_id: str, stations: Sequence[Station]) -> Floats | None:
    t = next(t for t in project.flying.tilts if t.id == tilt_id)
    mine = [pivot_mm(t, s) for s in stations if s.id in t.rotors]
    return np.asarray(to_craft(project).T @ np.mean(mine, axis=0)) if mine else None


def _turned(ahead: float, up: float, turn: float) -> Floats:
    """How far a spot moves as it turns ahead about its axis."""
    c, s = math.cos(turn), math.sin(turn)
    return np.array([ahead * c + up * s - ahead, -ahead * s + up * c - up])


def body_of(project: Project) -> BodyPlan:
    """The body's drag areas with those of fins, arms and gear."""
    f = project.flying
    front = math.pi / 4 * f.body_width_mm * f.body_height_mm * MM**2
    under = f.body_length_mm * f.body_width_mm * MM**2
    fins = sum(wing_of(p).area_mm2 for p in panels(project) if wing_of(p).hand == "upright") * MM**2
    return BodyPlan(BODY_DRAG * front + f.gear_cm2 * 1e-4 + FIN_DRAG * fins, UNDER_DRAG * under, f.body_x_mm * MM, 0.0)


def flyer_of(project: Project, craft: MassProperties, stations: Sequence[Station], drives: Sequence[Drive], volts: float,
             part_g: dict[str, MassProperties]) -> Flyer:  # fmt: skip
    """Put together. Raises ValueError where a section is none."""
    f = project.flying
    chains, wings = surfaces_of(project)
    rotors = rotors_of(project, stations, drives, volts)
    mass = craft.mass_g * 1e-3
    own = to_craft(project).T @ craft.inertia_gmm2 @ to_craft(project) * 1e-9
    area = sum(wing_of(p).area_mm2 * (2 if wing_of(p).hand == "pair" else 1) for p in panels(project) if wing_of(p).role == "wing") * MM**2
    slow = math.sqrt(2 * mass * GRAVITY_M_S2 / (RHO * max(area, 1e-4) * LIFT_GUESS))
    top = max(FAST * slow, 1.35 * f.cruise_m_s, LEAST_TOP) if area > 0 else 20.0
    return Flyer(
        chains, rotors, body_of(project), mass, float(craft.inertia_gmm2[1, 1]) * 1e-9, com_through(project, craft, stations, drives,
            part_g),
        f.sits == "tail", math.radians(max((t.most_deg for t in f.tilts), default=90.0)), math.radians(f.vectoring_deg),
        math.radians(f.most_lean_deg), math.radians(f.flaps_hover_deg), min(top, 60.0), None, wings, float(own[0, 0]), float(own[2, 2]),
    )  # fmt: skip
