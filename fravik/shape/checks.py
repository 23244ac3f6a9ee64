"""Contradictions between fields of a part: each named at its field, with what to do."""

from __future__ import annotations

from fravik.library import carbon_stocks
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape, LegShape, PlateShape

from .arm import arm_height_mm, arm_width_mm, bore_places, pocket_spans, tongue_bolts
from .build import arm_length_mm


def shape_problems(part: Part, project: Project) -> list[Problem]:
    """All contradictions in one part's geometry and carbon."""
    at = f"parts.{part.id}.shape."
    shape = part.shape
    if isinstance(shape, ArmShape):
        return _arm(shape, part, project, at)
    if isinstance(shape, LegShape):
        return _leg(shape, at)
    return _plate(shape, at)


def _arm(a: ArmShape, part: Part, project: Project, at: str) -> list[Problem]:
    out: list[Problem] = []
    length = arm_length_mm(a, project.layout)

    def bad(field: str, text: str, severity: str = "error") -> None:
        out.append(Problem(at + field, text, severity))  # type: ignore[arg-type]

    wanted = project.layout.motor_to_motor_mm / 2 - project.layout.clamp_radius_mm
    if a.length_mm is None and wanted < 25.0:
        bad("length_mm", f"The layout leaves {wanted:.0f} mm for the arm; widen motor to motor or shrink the plate edge radius.")
    if a.length_mm is not None and abs(a.length_mm - wanted) > 0.5:
        span = 2 * (a.length_mm + project.layout.clamp_radius_mm)
        bad("length_mm", f"Arms of {a.length_mm:g} mm put the motors {span:.0f} mm apart; the layout says "
            f"{project.layout.motor_to_motor_mm:g}. Clear the length to follow the layout.", "warning")  # fmt: skip
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
    motor = project.components.motor
    if abs(a.bolt_circle_mm - motor.mount_circle_mm) > 0.6:
        bad("bolt_circle_mm", f"The pad is drilled for {a.bolt_circle_mm:g} mm; the motor has {motor.mount_circle_mm:g}.", "warning")
    need = a.tongue_bolt_rows * 2.2 * a.tongue_bolt_mm + a.tongue_bolt_mm
    if need > a.tongue_length_mm:
        bad("tongue_bolt_rows", f"{a.tongue_bolt_rows} rows of {a.tongue_bolt_mm:g} mm bolts need {need:.0f} mm of tongue; "
            f"it has {a.tongue_length_mm:g}.")  # fmt: skip
    if tongue_bolts(a)[1][1] < a.tongue_bolt_mm / 2 + 1.0:
        bad("tongue_bolt_mm", f"Two {a.tongue_bolt_mm:g} mm bolts do not fit side by side in a tongue {a.tongue_width_mm:g} mm wide.")
    if a.tongue_length_mm > project.layout.clamp_radius_mm - 6:
        bad("tongue_length_mm", f"Tongues of {a.tongue_length_mm:g} mm meet in the middle: the plate edge is only "
            f"{project.layout.clamp_radius_mm:g} mm from the centre.")  # fmt: skip
    elif a.tongue_width_mm / 2 > project.layout.clamp_radius_mm - a.tongue_length_mm:
        bad("tongue_width_mm", "Neighbouring tongues overlap near the centre: shorten or narrow them, or widen the plate edge.")
    out += _pockets(a, part, length, at)
    if a.bar_height_mm > 0 and 2 * a.bar_width_mm >= min(a.root_width_mm, a.tip_width_mm):
        bad("bar_width_mm", f"Two bars of {a.bar_width_mm:g} mm fill the arm; raise the arm instead or thin the bars.")
    if part.carbon is not None:
        out += _carbon(a, part, length)
    return out


def _pockets(a: ArmShape, part: Part, length: float, at: str) -> list[Problem]:
    out: list[Problem] = []
    spans = pocket_spans(a, length)
    if not spans:
        return out
    rail = part.recipe.line_width_mm * 2
    end = max(s[1] for s in spans)
    side = (arm_width_mm(a, length, end) - a.pocket_width_mm) / 2
    if side <= 0:
        out.append(Problem(at + "pocket_width_mm", f"Pockets {a.pocket_width_mm:g} mm wide cut the arm in two where it is "
                           f"{arm_width_mm(a, length, end):.1f} mm wide: narrow the pockets."))  # fmt: skip
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


def _carbon(a: ArmShape, part: Part, length: float) -> list[Problem]:
    c = part.carbon
    assert isinstance(c, Carbon)
    at = f"parts.{part.id}.carbon."
    stocks = carbon_stocks()
    if c.stock not in stocks:
        return [Problem(at + "stock", f"There is no carbon profile {c.stock!r} in the stock list.")]
    s, gap = stocks[c.stock], c.adhesive_gap_mm
    out: list[Problem] = []
    if c.end_mm - c.start_mm < 10:
        return [Problem(at + "end_mm", "The carbon must be at least 10 mm long: its end lies before or near its start.")]
    if c.start_mm < -a.tongue_length_mm:
        out.append(Problem(at + "start_mm", f"The carbon starts outside the tongue, which begins at {-a.tongue_length_mm:g} mm."))
    far = length - a.shaft_hole_mm / 2 - 1 if s.form != "strip" else length - a.bolt_circle_mm / 2 - a.bolt_hole_mm
    if c.end_mm > far:
        out.append(Problem(at + "end_mm", f"The carbon runs into the motor mount; end it by {far:.0f} mm."))
    wall = 2 * part.recipe.line_width_mm
    low = min(arm_height_mm(a, length, max(c.start_mm, 0)), arm_height_mm(a, length, c.end_mm))
    narrow = min(a.root_width_mm, arm_width_mm(a, length, c.end_mm))
    if s.form == "strip":
        if s.outer_mm + 2 * gap + 2 * wall > narrow:
            out.append(Problem(at + "stock", f"A strip {s.outer_mm:g} mm wide leaves no wall beside it in an arm {narrow:.1f} mm wide."))
        if c.count * (s.thickness_mm + gap) > 0.6 * low:
            out.append(Problem(at + "stock", f"The strips fill over 60 % of an arm {low:.1f} mm high; use thinner stock."))
        if c.count == 2 and abs(a.root_height_mm - a.tip_height_mm) > 0.3:
            out.append(
                Problem(
                    at + "count", "A strip on the top face needs an arm of even height; make root and tip height equal or use one strip."
                )
            )
    else:
        bore = s.outer_mm + 2 * gap
        if bore + 2 * wall > low:
            out.append(Problem(at + "stock", f"A {s.outer_mm:g} mm profile needs an arm {bore + 2 * wall:.1f} mm high; "
                               f"this one is {low:.1f} mm at its lowest. Raise the arm or take thinner stock."))  # fmt: skip
        if max(abs(y) for y, _ in bore_places(a, c, s, length)) + bore / 2 + wall > narrow / 2:
            out.append(Problem(at + "count", f"{c.count} bores of {bore:.1f} mm do not fit an arm {narrow:.1f} mm wide."))
    if s.form != "strip" and c.start_mm > -a.tongue_length_mm:
        out.append(
            Problem(
                at + "start_mm",
                f"The bore is closed at both ends: pause the print to lay the profile in, or start it at {-a.tongue_length_mm:g} mm "
                "to push it in from the back.",
                "warning",
            )
        )
    for x0, x1 in pocket_spans(a, length):
        if x1 > c.start_mm and x0 < c.end_mm:
            for y, _ in bore_places(a, c, s, length):
                if abs(y) - s.outer_mm / 2 - gap - wall < a.pocket_width_mm / 2:
                    out.append(Problem(at + "stock", "The carbon runs through the lightening pockets: drop the pockets or the carbon."))
                    return out
    half = s.outer_mm / 2 + gap
    for x, y in tongue_bolts(a):
        clash = any(abs(y - by) < a.tongue_bolt_mm / 2 + half + 0.4 for by, _ in bore_places(a, c, s, length))
        if clash and x > c.start_mm:
            out.append(Problem(at + "start_mm", f"The profile runs into a tongue bolt at {x:.0f} mm: start it later, widen the tongue "
                               "or use thinner stock."))  # fmt: skip
            break
    return out


def _leg(s: LegShape, at: str) -> list[Problem]:
    out: list[Problem] = []
    if s.root_width_mm > s.flange_width_mm:
        out.append(Problem(at + "root_width_mm", f"Root width {s.root_width_mm:g} mm is wider than the flange, {s.flange_width_mm:g} mm."))
    elif (s.flange_width_mm - s.root_width_mm) / 2 < s.flange_bolt_mm + 0.8:
        out.append(Problem(at + "flange_width_mm", "The flange leaves no shoulder for its bolts beside the blade: widen the flange "
                           "or narrow the root."))  # fmt: skip
    if s.thickness_mm < s.flange_bolt_mm + 1.6:
        out.append(Problem(at + "flange_bolt_mm", f"A {s.flange_bolt_mm:g} mm hole leaves under 0.8 mm each side in a leg "
                           f"{s.thickness_mm:g} mm thick."))  # fmt: skip
    return out


def _plate(s: PlateShape, at: str) -> list[Problem]:
    out: list[Problem] = []
    short = min(s.length_mm, s.width_mm)
    if s.corner_mm > short / 2:
        out.append(Problem(at + "corner_mm", f"A corner of {s.corner_mm:g} mm is more than half the plate ({short:g} mm)."))
    if s.stack_pitch_mm + s.stack_hole_mm + 4 > short:
        out.append(
            Problem(at + "stack_pitch_mm", f"The stack holes need a plate at least {s.stack_pitch_mm + s.stack_hole_mm + 4:.0f} mm wide.")
        )
    for field, size, limit in (("window_length_mm", s.window_length_mm, s.length_mm), ("window_width_mm", s.window_width_mm, s.width_mm)):
        if size > limit - 16:
            out.append(Problem(at + field, f"The window leaves under 8 mm of plate at the edge; at most {limit - 16:.0f} mm."))
    if s.window_length_mm > 0 and s.window_width_mm > 0:
        reach = s.stack_pitch_mm - s.stack_hole_mm - 3
        if s.window_length_mm > reach and s.window_width_mm > reach:
            out.append(Problem(at + "window_length_mm", f"The window swallows the stack holes; keep one side under {reach:.0f} mm."))
    return out
