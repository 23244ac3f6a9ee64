"""What keeps an arm of bar from being bought, held, or fitting its layout."""

from __future__ import annotations

from fravik.library import filaments_of, screw, stock_materials
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.shapes import BarArmShape
from fravik.shape.arm import tongue_bolts
from fravik.shape.bararm import HOLLOW_FORMS
from fravik.shape.stations import tongue_room_mm
from fravik.structure.fasteners import screw_hold

from ..around import LEAST_ARM_MM, arm_length_mm, arm_shape, stands, wanted_length_mm
from .beam import pinched

FORM_WORDS = {"tube": "round tube", "square_tube": "square tube", "rod": "round rod", "square_rod": "square rod", "channel": "channel"}
LEAST_CORE_MM = 0.5
LEAST_PLASTIC_MM = 2.0
PINCH_SHARE = 0.8  # of what the wall bears: beyond it a little more torque splits the bar


def bar_problems(s: BarArmShape, part: Part, project: Project, clamp: Part | None, holder: Part | None) -> list[Problem]:
    """Contradictions of the bar, its clamps and the layout."""
    at, out = f"parts.{part.id}.shape.", []

    def bad(field: str, text: str, severity: str = "error") -> None:
        out.append(Problem(at + field, text, severity))  # type: ignore[arg-type]

    material = stock_materials().get(s.material)
    if material is None or s.form not in material.forms:
        sold = [m.name for m in stock_materials().values() if s.form in m.forms]
        bad("material", f"{material.name if material else s.material} is not sold as {FORM_WORDS[s.form]}; {', '.join(sold)} is.")
    if s.form in HOLLOW_FORMS and s.outer_mm - 2 * s.wall_mm < LEAST_CORE_MM:
        bad("wall_mm", f"A wall of {s.wall_mm:g} mm leaves nothing hollow in {s.outer_mm:g} mm: take a rod, or a thinner wall.")
    length = arm_length_mm(s, project, part)
    if s.length_mm is None and wanted_length_mm(project, s, part) < LEAST_ARM_MM:
        bad("length_mm", "The layout leaves no room for the arm; widen motor to motor or shrink the plate edge radius.")
    if s.holder_grip_mm / 2 + LEAST_ARM_MM > length:
        bad("holder_grip_mm", f"A motor holder of {s.holder_grip_mm:g} mm reaches back to the plates on an arm of {length:.0f} mm.")
    first = arm_shape(project)
    if first is not None and abs(first.root_height_mm - s.root_height_mm) > 1e-6:
        bad("root_height_mm", f"The plates lie on all arms: this one's clamp is {s.root_height_mm:g} mm tall, the first arm's root "
            f"{first.root_height_mm:g}. Make them alike.")  # fmt: skip
    over = (s.root_height_mm - s.outer_mm) / 2
    if over < LEAST_PLASTIC_MM:
        bad("root_height_mm", f"The clamp leaves {over:.1f} mm of plastic over the bar; at least {LEAST_PLASTIC_MM:g} are needed: "
            f"{s.outer_mm + 2 * LEAST_PLASTIC_MM:g} mm tall.")  # fmt: skip
    beside = tongue_bolts(s)[1][1] - s.tongue_bolt_mm / 2 - s.outer_mm / 2
    if beside < 1.0:
        bad("tongue_width_mm", f"The clamp's bolts come within {beside:.1f} mm of the bar: make the clamp "
            f"{s.tongue_width_mm + 2 * (1.0 - beside):.0f} mm wide.")  # fmt: skip
    if s.tongue_length_mm > project.layout.clamp_radius_mm - 6:
        bad("tongue_length_mm", f"Bars held over {s.tongue_length_mm:g} mm meet in the middle: the plate edge is only "
            f"{project.layout.clamp_radius_mm:g} mm from the centre.")  # fmt: skip
    elif s.tongue_width_mm > tongue_room_mm(stands(project), s.tongue_length_mm) + 1e-9:
        bad("tongue_width_mm", "Neighbouring clamps overlap near the centre: shorten or narrow them, or widen the plate edge.")
    if clamp is None:
        bad("tongue_length_mm", "No root clamp holds this bar: add one with the + in Parts.")
    if holder is None:
        bad("holder_grip_mm", "No motor holder sits on this bar: add one with the + in Parts.")
    if material is not None and clamp is not None:
        out += _pinch(s, part, project, clamp)
    return out


def _pinch(s: BarArmShape, part: Part, project: Project, clamp: Part) -> list[Problem]:
    plastic = filaments_of(project).get(clamp.recipe.filament)
    if plastic is None:
        return []  # said at the clamp's filament
    hold = screw_hold(part.joint, plastic, "typical", clamp.recipe, True)
    share = pinched(s, part.joint, hold.preload_n)
    if share < PINCH_SHARE:
        return []
    right = part.joint.tightness * PINCH_SHARE / share
    text = (f"At {part.joint.tightness:.0%} of what {part.joint.clamp_screws} {screw(part.joint.screw).id} screws could give, the clamp "
            f"pinches the wall to {share:.1f} times what it bears: tighten to {right:.0%}, or take a thicker wall, a longer clamp or a "
            "plug in the bar.")  # fmt: skip
    return [Problem(f"parts.{part.id}.joint.tightness", text, "warning")]
