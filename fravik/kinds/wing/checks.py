"""What contradicts itself in a panel, and in how the craft flies."""

from __future__ import annotations

from fravik.library import stock_materials
from fravik.model.problem import Problem
from fravik.model.project import Project
from fravik.model.wing import WingShape
from fravik.shape.wing import TUBE_ROOM_MM, chord_at, outline_of, thick_mm

SKIN_MM = 1.1
STEEPEST = 3.0


def panel_problems(s: WingShape, part_id: str, project: Project) -> list[Problem]:
    """Each at its field."""
    at, out = f"parts.{part_id}.shape.", list[Problem]()
    if s.section:
        from fravik.flight.aero.aerofoils import own_section  # tables load only for crafts that fly

        try:
            own_section(outline_of(s, s.root_chord_mm))
        except ValueError as err:
            return [Problem(at + "section", f"Its own section cannot be used: {err}.")]
    if s.surface != "none" and s.surface_to <= s.surface_from:
        out.append(Problem(at + "surface_to", "The surface ends before it begins."))
    for d, where, name in ((s.spar_mm, s.spar_at, "spar_mm"), (s.rear_spar_mm, s.rear_spar_at, "rear_spar_mm")):
        if d <= 0:
            continue
        room = min(thick_mm(s, t, where) for t in (0.0, 0.5, 1.0))
        if d + TUBE_ROOM_MM + 2 * SKIN_MM > room:
            out.append(Problem(at + name, f"The tube of {d:g} mm does not go into the panel: at its thinnest there are {room:.1f} mm, "
                                          f"which "
                               f"leaves a tube of {max(room - TUBE_ROOM_MM - 2 * SKIN_MM, 0.0):.1f} mm."))  # fmt: skip
    if s.spar_mm > 0 and s.rear_spar_mm > 0:
        apart = (s.rear_spar_at - s.spar_at) * min(chord_at(s, t) for t in (0.0, 0.5, 1.0))
        if apart < (s.spar_mm + s.rear_spar_mm) / 2 + 2:
            out.append(Problem(at + "rear_spar_at", "The two tubes run into each other."))
    if s.spar_mm > 0 and 2 * s.spar_wall_mm >= s.spar_mm:
        out.append(Problem(at + "spar_wall_mm", "The tube has no bore left."))
    if s.spar_material not in stock_materials():
        out.append(Problem(at + "spar_material", f"There is no bar of {s.spar_material!r}; known: {', '.join(stock_materials())}."))
    if s.surface != "none" and s.spar_mm > 0 and 1 - s.surface_share < s.spar_at + s.spar_mm / (2 * s.tip_chord_mm):
        out.append(Problem(at + "surface_share", "The surface's hinge lies before the spar."))
    out += _hinge_problems(s, at)
    if s.folds and s.fold_pin_mm + 2 * SKIN_MM > thick_mm(s, 0.0, s.spar_at):
        out.append(Problem(at + "fold_pin_mm", "The fold's pin is thicker than the panel leaves room for."))
    ratio = max(s.root_chord_mm, s.tip_chord_mm) / min(s.root_chord_mm, s.tip_chord_mm)
    if ratio > STEEPEST:
        out.append(Problem(at + "tip_chord_mm", f"Root and tip chord differ {ratio:.1f} times: the lifting line is not to be trusted "
                                                f"beyond "
                           f"{STEEPEST:g}.", "warning"))  # fmt: skip
    if abs(s.sweep_mm) > 0.6 * s.length_mm:
        out.append(Problem(at + "sweep_mm", "Swept more than a lifting line can tell: its figures are rough.", "warning"))
    if s.role == "wing" and s.hand == "upright":
        out.append(Problem(at + "role", "A wing that stands upright carries nothing: make it a fin."))
    if s.on:
        host = next((p for p in project.parts if p.id == s.on), None)
        if host is None or not isinstance(host.shape, WingShape) or host.id == part_id:
            out.append(Problem(at + "on", f"There is no panel {s.on!r} to join on to."))
        elif s.hand != "pair":
            out.append(Problem(at + "hand", "Only a pair joins on to another panel's tips."))
        elif s.role == "wing" and host.shape.role != "wing":
            out.append(Problem(at + "on", f"{host.name}, which it joins on to, is no wing but a {host.shape.role}: what carries needs a "
                               "wing for its root."))  # fmt: skip
        elif s.spar_mm > 0 and s.joint_mm > seat_mm(host.shape):
            out.append(Problem(at + "joint_mm", f"Its tube goes {s.joint_mm:g} mm into {host.name.lower()}, which has "
                                                f"{seat_mm(host.shape):g}: "
                               "so much is counted.", "warning"))  # fmt: skip
        elif _loops(part_id, project):
            out.append(Problem(at + "on", "Panels join on to each other in a ring."))
    return out


def seat_mm(host: WingShape) -> float:
    """How long a tube may be in it."""
    return host.length_mm / 2 if host.hand == "across" else host.length_mm


def _hinge_problems(s: WingShape, at: str) -> list[Problem]:
    """A gap that cuts through what it should not."""
    if s.surface == "none":
        return []
    out, t = list[Problem](), (s.surface_from + s.surface_to) / 2
    chord, thick = chord_at(s, t), thick_mm(s, t, 1 - s.surface_share)
    if s.hinge_left_mm > thick / 2:
        out.append(
            Problem(at + "hinge_left_mm", f"More is left over the hinge than half of what the panel is thick there, {thick:.1f} mm.")
        )
    back = max(((w + d / (2 * chord)) for d, w in ((s.spar_mm, s.spar_at), (s.rear_spar_mm, s.rear_spar_at)) if d > 0), default=0.0)
    if 1 - s.surface_share - s.hinge_gap_mm / (2 * chord) < back:
        out.append(Problem(at + "hinge_gap_mm", "The hinge's gap cuts into a tube."))
    if s.hinge_gap_mm > s.surface_share * chord / 2:
        out.append(Problem(at + "hinge_gap_mm", "The hinge's gap takes more than half of the surface."))
    return out


def _loops(part_id: str, project: Project) -> bool:
    by_id = {p.id: p.shape for p in project.parts if isinstance(p.shape, WingShape)}
    seen, at = set[str](), part_id
    while at in by_id and by_id[at].on:
        if at in seen:
            return True
        seen.add(at)
        at = by_id[at].on
    return False


def flying_problems(project: Project, stations: set[str]) -> list[Problem]:
    """Tilts, stopped rotors and wings along that are not there; tilts whose axis lies outside of the craft."""
    out, f = list[Problem](), project.flying
    wings = {p.id for p in project.parts if isinstance(p.shape, WingShape)}
    for t in f.tilts:
        at = f"flying.tilts.{t.id}."
        if not t.rotors:
            out.append(Problem(at + "rotors", "It tilts no rotor: name their stations."))
        for r in t.rotors:
            if r not in stations:
                out.append(Problem(at + "rotors", f"There is no rotor {r!r}; there are {', '.join(sorted(stations))}."))
        for w in t.wings:
            if w not in wings:
                out.append(Problem(at + "wings", f"There is no panel {w!r} to tilt along."))
        reach = project.layout.motor_to_motor_mm / 2
        if abs(t.pivot_back_mm) > reach or abs(t.pivot_under_mm) > reach:
            out.append(Problem(at + "pivot_under_mm", "Its axis lies outside of the craft."))
    if f.tilts and f.sits == "tail":
        out.append(Problem("flying.sits", "A craft that stands on its tail goes over as a whole: its rotors do not tilt."))
    for r in f.stopped:
        if r not in stations:
            out.append(Problem("flying.stopped", f"There is no rotor {r!r} to stop; there are {', '.join(sorted(stations))}."))
        if any(r in t.rotors for t in f.tilts):
            out.append(Problem("flying.stopped", f"The rotor {r} tilts, so that it does not stop in cruise."))
    return out
