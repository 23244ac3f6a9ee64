"""What keeps an arm from being made, or from fitting its layout and motor."""

from __future__ import annotations

import math

from fravik.library import screw
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import ArmShape
from fravik.shape.arm import arm_body, channel_spans, pocket_spans, tongue_bolts
from fravik.shape.comb import comb_of
from fravik.shape.stations import arrangement, tongue_room_mm
from fravik.structure.lattice import LEAST_SHARE

from ..around import LEAST_ARM_MM, arm_length_mm, arm_shape, arms_by_slot, motor_radius_mm, stands, wanted_length_mm
from ..drives import circle_faults, drives_on, ends_of

ALIKE_MM = 0.5
LEAST_CELL_MM = 2.0
LEAST_OPEN_MM, LEAST_FLOOR_MM = 3.0, 0.8
STEEPEST = 0.7  # slope of a bowed middle line, at which sections across it still tell its bending


def arm_problems(a: ArmShape, part: Part, project: Project, at: str) -> list[Problem]:
    """Contradictions of body, pad, tongue and root joint, with each other and with the layout."""
    out: list[Problem] = []
    length = arm_length_mm(a, project, part)

    def bad(field: str, text: str, severity: str = "error") -> None:
        out.append(Problem(at + field, text, severity))  # type: ignore[arg-type]

    wanted = wanted_length_mm(project, a, part)
    if a.length_mm is None and wanted < LEAST_ARM_MM:
        wider = "move its station farther out" if project.layout.kind == "free" else "widen motor to motor"
        left = f"{wanted:.0f} mm" if wanted > 0 else "no room"
        bad("length_mm", f"The layout leaves {left} for the arm; {wider} or shrink the plate edge radius.")
    alone = sum(p.shape.kind == part.shape.kind for p in project.parts) == 1
    own = arrangement(project.layout).radii_mm
    if own:
        out += _own_stations(a, part, [own[k] for k, p in enumerate(arms_by_slot(project)) if p.id == part.id], wanted, at)
    elif a.length_mm is not None and alone and abs(a.length_mm - wanted) > ALIKE_MM:
        span = 2 * motor_radius_mm(project)
        bad("length_mm", f"Arms of {a.length_mm:g} mm put the motors {span:.0f} mm apart; the layout says "
            f"{project.layout.motor_to_motor_mm:g}. Clear the length to follow the layout.", "warning")  # fmt: skip
    first = arm_shape(project)
    if first is not None and abs(first.root_height_mm - a.root_height_mm) > 1e-6:
        bad("root_height_mm", f"The plates lie on all arms: this one is {a.root_height_mm:g} mm tall at its root, the first "
            f"{first.root_height_mm:g}. Make them alike there; the rest may differ.")  # fmt: skip
    if a.root_width_mm > a.tongue_width_mm:
        bad("root_width_mm", f"Root width {a.root_width_mm:g} mm is wider than the tongue, {a.tongue_width_mm:g} mm: "
            "widen the tongue or narrow the root.")  # fmt: skip
    if a.tip_width_mm > a.pad_diameter_mm:
        bad("tip_width_mm", f"Tip width {a.tip_width_mm:g} mm is wider than the motor pad, {a.pad_diameter_mm:g} mm.")
    if a.pad_diameter_mm / 2 + a.root_fillet_mm + 5 > length:
        bad("pad_diameter_mm", f"The pad ({a.pad_diameter_mm:g} mm) and root fillet leave no arm in {length:.0f} mm of length.")
    edge = (a.pad_diameter_mm - a.bolt_circle_mm - a.bolt_hole_mm) / 2
    if edge < 0.8:
        bad("bolt_circle_mm", f"Only {edge:.1f} mm of pad is left outside the motor screws; at least 0.8 is needed: "
            "a larger pad or a smaller circle.")  # fmt: skip
    inner = (a.bolt_circle_mm - a.bolt_hole_mm - a.shaft_hole_mm) / 2
    if inner < 0.6:
        bad("shaft_hole_mm", f"The shaft hole leaves {inner:.1f} mm to the motor screws; at least 0.6 is needed.")
    out += circle_faults(drives_on(project, ends_of(part, project)), a.bolt_circle_mm, at + "bolt_circle_mm", "pad")
    need = a.tongue_bolt_rows * 2.2 * a.tongue_bolt_mm + a.tongue_bolt_mm
    if need > a.tongue_length_mm:
        bad("tongue_bolt_rows", f"{a.tongue_bolt_rows} rows of {a.tongue_bolt_mm:g} mm bolts need {need:.0f} mm of tongue; "
            f"it has {a.tongue_length_mm:g}.")  # fmt: skip
    if tongue_bolts(a)[1][1] < a.tongue_bolt_mm / 2 + 1.0:
        bad("tongue_bolt_mm", f"Two {a.tongue_bolt_mm:g} mm bolts do not fit side by side in a tongue {a.tongue_width_mm:g} mm wide.")
    if a.tongue_length_mm > project.layout.clamp_radius_mm - 6:
        bad("tongue_length_mm", f"Tongues of {a.tongue_length_mm:g} mm meet in the middle: the plate edge is only "
            f"{project.layout.clamp_radius_mm:g} mm from the centre.")  # fmt: skip
    elif a.tongue_width_mm > tongue_room_mm(stands(project), a.tongue_length_mm) + 1e-9:
        bad("tongue_width_mm", "Neighbouring tongues overlap near the centre: shorten or narrow them, or widen the plate edge.")
    out += _pockets(a, part, length, at)
    out += _comb(a, part, length, at)
    out += _channel(a, part, length, at)
    out += _bow(a, part, length, at)
    if a.bar_way == "edges" and a.bar_height_mm > 0 and 2 * a.bar_width_mm >= min(a.root_width_mm, a.tip_width_mm):
        bad("bar_width_mm", f"Two bars of {a.bar_width_mm:g} mm fill the arm; raise the arm instead or thin the bars.")
    return out + _root(a, part)


def _own_stations(a: ArmShape, part: Part, radii_mm: list[float], wanted_mm: float, at: str) -> list[Problem]:
    """An arm is as long as the maker's stations leave it, and all its copies alike."""
    if radii_mm and max(radii_mm) - min(radii_mm) > ALIKE_MM:
        return [Problem(at + "length_mm", f"{part.name} would reach stations {min(radii_mm):.0f} and {max(radii_mm):.0f} mm from the "
                        "middle: give the farther ones an arm of their own, or move the stations.")]  # fmt: skip
    if a.length_mm is not None and abs(a.length_mm - wanted_mm) > ALIKE_MM:
        return [Problem(at + "length_mm", f"{part.name} is {a.length_mm:g} mm long; its station wants {wanted_mm:.0f}. Clear the length to "
                        "follow the station.")]  # fmt: skip
    return []


def _root(a: ArmShape, part: Part) -> list[Problem]:
    """What the root joint needs of the arm."""
    j, at = part.joint, f"parts.{part.id}.joint."
    out: list[Problem] = []
    if j.kind == "clamp":
        room = min(a.root_height_mm, a.tongue_width_mm) - 2 * 1.2
        if j.tube_mm > room:
            out.append(Problem(at + "tube_mm", f"A {j.tube_mm:g} mm tube leaves under 1.2 mm of plastic in a root {a.root_height_mm:g} mm "
                               f"high; at most {max(room, 0):.1f} mm."))  # fmt: skip
        if j.clamp_length_mm > a.tongue_length_mm:
            out.append(Problem(at + "clamp_length_mm", f"The clamp is longer than the tongue, {a.tongue_length_mm:g} mm."))
    elif j.kind == "hinge":
        if j.pin_mm > a.tongue_width_mm - 5:
            out.append(Problem(at + "pin_mm", f"A {j.pin_mm:g} mm pin leaves under 2.5 mm of plastic beside it; widen the tongue."))
        if a.tongue_width_mm > a.tongue_length_mm:
            out.append(Problem(at + "kind", "The hinge knuckle is as long as it is wide: lengthen the tongue or narrow it."))
        if j.pin_span_mm > a.root_height_mm + 12:
            out.append(Problem(at + "pin_span_mm", "The bearings lie farther apart than root and plates are high.", "warning"))
    elif j.kind == "bolted":
        size = screw(j.screw).clearance_mm
        if a.tongue_bolt_mm < size - 0.25:
            out.append(
                Problem(at + "screw", f"An {j.screw} screw needs a hole of {size:g} mm; the tongue's are {a.tongue_bolt_mm:g}.", "warning")
            )
        elif a.tongue_bolt_mm > size + 0.8:
            out.append(Problem(at + "screw", f"An {j.screw} screw rattles in a hole of {a.tongue_bolt_mm:g} mm.", "warning"))
    if j.kind in ("bolted", "dovetail") and j.fixing != "through" and j.engaged_mm > a.root_height_mm:
        out.append(Problem(at + "engaged_mm", f"The thread is longer than the tongue is high, {a.root_height_mm:g} mm."))
    return out


def _channel(a: ArmShape, part: Part, length: float, at: str) -> list[Problem]:
    """What the channel leaves of the arm, and what is in its way."""
    if a.channel_width_mm <= 0:
        return []
    out: list[Problem] = []
    spans, body = channel_spans(a, length), arm_body(a, length)
    end = spans[-1][1]
    if end <= spans[0][0] + a.tongue_length_mm or any(x1 - x0 < LEAST_OPEN_MM for x0, x1 in spans):
        return [Problem(at + "channel_ribs", f"{a.channel_ribs} ribs leave no channel between them in an arm of {length:.0f} mm: fewer "
                        "ribs, or no channel.")]  # fmt: skip
    side = (min(body.width_mm(0.0), body.width_mm(end)) - a.channel_width_mm) / 2
    if side < 2 * part.recipe.line_width_mm:
        out.append(Problem(at + "channel_width_mm", f"The channel leaves sides of {side:.1f} mm; two roads need "
                           f"{2 * part.recipe.line_width_mm:.1f}: a narrower channel or a wider arm."))  # fmt: skip
    floor = min(body.height_mm(0.0), body.height_mm(end)) - a.channel_depth_mm
    if floor < LEAST_FLOOR_MM:
        out.append(Problem(at + "channel_depth_mm", f"The channel leaves {floor:.1f} mm over it; at least {LEAST_FLOOR_MM:g} are needed: a "
                           "shallower channel or a taller arm."))  # fmt: skip
    inner = tongue_bolts(a)[1][1] - a.tongue_bolt_mm / 2
    if part.joint.kind == "bolted" and a.channel_width_mm / 2 > inner - LEAST_FLOOR_MM:
        out.append(Problem(at + "channel_width_mm", f"The channel runs into the tongue's bolts; at most {2 * (inner - LEAST_FLOOR_MM):.1f} "
                           "mm wide, or a wider tongue."))  # fmt: skip
    if part.joint.kind in ("clamp", "hinge"):
        out.append(Problem(at + "channel_width_mm", "The channel runs through the root's bore: take another joint, or no channel."))
    if a.pocket_count and not out:
        out.append(Problem(at + "pocket_count", "Pockets would cut through the floor of the channel: take one or the other."))
    if (part.carbon is not None and part.carbon.place == "inside") or (part.facing is not None and part.facing.faces != "top"):
        out.append(Problem(f"parts.{part.id}.{'carbon.place' if part.carbon is not None else 'facing.faces'}",
                           "The channel takes the room below: glue carbon on the top face, or leave the channel out."))  # fmt: skip
    return out


def _bow(a: ArmShape, part: Part, length: float, at: str) -> list[Problem]:
    """How far an arm may be bowed, and what does not follow it."""
    if not a.bow_mm:
        return []
    out, end = [], max(length - a.pad_diameter_mm / 2, 1.0)
    steep = math.pi * abs(a.bow_mm) / end
    if steep > STEEPEST:
        out.append(Problem(at + "bow_mm", f"It leaves its own direction by {math.degrees(math.atan(steep)):.0f}°; at most "
                           f"{STEEPEST * end / math.pi:.0f} mm of bow are judged on {length:.0f} mm."))  # fmt: skip
    for glued, field in ((part.carbon, "carbon"), (part.facing, "facing")):
        if glued is not None:
            out.append(Problem(f"parts.{part.id}.{field}.stock", "Carbon and sheets run straight and do not follow a bowed arm: leave "
                                                                 "the bow "
                               "or what is glued on."))  # fmt: skip
    return out


def _comb(a: ArmShape, part: Part, length: float, at: str) -> list[Problem]:
    """What the honeycomb leaves of the arm, what is in its way, and what it can be judged by."""
    if a.comb_cell_mm <= 0:
        return []
    rail = part.recipe.line_width_mm * 2
    comb = comb_of(a, length)

    def bad(field: str, text: str) -> list[Problem]:
        return [Problem(at + field, text)]

    if a.comb_cell_mm < LEAST_CELL_MM:
        return bad("comb_cell_mm", f"Cells of {a.comb_cell_mm:g} mm fill up in printing: {LEAST_CELL_MM:g} mm or more.")
    if comb is None:
        return bad("comb_cell_mm", f"No two columns of cells fit between root and pad of an arm of {length:.0f} mm: smaller cells.")
    in_way = {"pocket_count": a.pocket_count > 0, "channel_width_mm": a.channel_width_mm > 0}
    for field, there in in_way.items():
        if there:
            return bad(field, "The honeycomb takes the arm's middle: take one or the other.")
    if a.bar_height_mm > 0 and a.bar_way == "middle":
        return bad("bar_way", "A bar along the middle would stand on the honeycomb: along the edges, or no honeycomb.")
    if part.carbon is not None or part.facing is not None:
        return bad("comb_cell_mm", "Carbon and facings are not judged over a honeycomb: take one or the other.")
    if a.comb_wall_mm < rail:
        return bad("comb_wall_mm", f"Walls of {a.comb_wall_mm:g} mm between cells: two roads need {rail:.1f}.")
    side = (arm_body(a, length).width_mm(comb.end_mm) - 2 * comb.half_mm) / 2
    if side < rail:
        return bad("comb_rows", f"{a.comb_rows} rows of cells are {2 * comb.half_mm:.1f} mm wide and leave rails of {max(side, 0):.1f} mm; "
                   f"two roads need {rail:.1f}: fewer rows, smaller cells or a wider arm.")  # fmt: skip
    if comb.share < LEAST_SHARE:
        return bad("comb_wall_mm", f"Walls of {a.comb_wall_mm:g} mm leave {comb.share:.0%} of plastic in the honeycomb. It can be judged "
                   f"from {LEAST_SHARE:.0%} on: thicker walls or smaller cells.")  # fmt: skip
    if part.recipe.lies == "free":
        return [Problem(f"parts.{part.id}.recipe.lies", "A honeycomb is judged in arms that lie flat, on a side or upright: lay it so, or "
                        "take pockets in rows.")]  # fmt: skip
    return []


def _pockets(a: ArmShape, part: Part, length: float, at: str) -> list[Problem]:
    out: list[Problem] = []
    spans = pocket_spans(a, length)
    if not spans:
        return out
    rail = part.recipe.line_width_mm * 2
    end = max(s[1] for s in spans)
    there = arm_body(a, length).width_mm(end)
    side = (there - a.pockets_mm) / 2
    if side <= 0:
        out.append(Problem(at + "pocket_width_mm", f"Pockets {a.pockets_mm:g} mm wide cut the arm in two where it is "
                           f"{there:.1f} mm wide: narrow the pockets."))  # fmt: skip
    elif a.pocket_rows > 1 and a.pocket_web_mm < rail:
        out.append(Problem(at + "pocket_web_mm", f"Webs of {a.pocket_web_mm:g} mm between rows of pockets: two roads need {rail:.1f}."))
    elif side < rail:
        out.append(Problem(at + "pocket_width_mm", f"The pockets leave rails of {side:.1f} mm; two roads need {rail:.1f}."))
    lo, hi = a.root_fillet_mm + 2.0, length - a.pad_diameter_mm / 2 - 2.0
    if spans[0][0] < lo or spans[-1][1] > hi:
        out.append(Problem(at + "pocket_length_mm", f"{a.pocket_count} pockets of {a.pocket_length_mm:g} mm do not fit between "
                           f"{lo:.0f} and {hi:.0f} mm."))  # fmt: skip
    elif len(spans) > 1 and spans[1][0] - spans[0][1] < 2.0:
        out.append(Problem(at + "pocket_length_mm", f"The pockets run into each other ({spans[1][0] - spans[0][1]:.1f} mm between "
                           "them; 2 are needed): shorten them or use fewer."))  # fmt: skip
    if a.pocket_corner_mm > min(a.pocket_length_mm, a.pocket_width_mm) / 2 + 1e-9:
        out.append(Problem(at + "pocket_corner_mm", f"A corner of {a.pocket_corner_mm:g} mm does not fit a pocket "
                           f"{min(a.pocket_length_mm, a.pocket_width_mm):g} mm across; at most half of it."))  # fmt: skip
    return out
