"""Ways to a stiffer, tougher or lighter arm."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from fravik.library import carbon_stocks
from fravik.model.paths import EditError, set_many
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon, Place
from fravik.model.shapes import ArmShape

from ..around import arm_length_mm
from ..base import Edits, Step
from ..ladders import printed_otherwise, root_fillets

Problems = Callable[[Part, ArmShape, Project], list[Problem]]


def arm_ladders(part: Part, shape: ArmShape, project: Project, problems: Problems) -> Iterator[list[Step]]:
    """Taller, wider, with carbon, with larger fillets, printed otherwise."""
    recipe, at = part.recipe, f"parts.{part.id}."
    yield [
        Step("height", f"{part.name} {shape.root_height_mm:g} → {shape.root_height_mm + d:g} mm tall", (
            (at + "shape.root_height_mm", shape.root_height_mm + d),
            (at + "shape.tip_height_mm", shape.tip_height_mm + d),
        )) for d in (0.5, 1.0, 2.0, 3.0, 4.5, 6.0)
    ]  # fmt: skip
    yield [
        Step("width", f"{part.name} {d:g} mm wider", (
            (at + "shape.root_width_mm", shape.root_width_mm + d),
            (at + "shape.tip_width_mm", min(shape.tip_width_mm + d, shape.pad_diameter_mm)),
            (at + "shape.tongue_width_mm", max(shape.tongue_width_mm, shape.root_width_mm + d)),
        )) for d in (1.0, 2.0, 4.0, 6.0)
    ]  # fmt: skip
    for n in (1, 2):
        yield _carbon_ladder(project, part, shape, n, problems)
    yield root_fillets(part, shape.root_fillet_mm)
    yield [
        Step("pad fillet", f"{part.name}: pad fillet {shape.pad_fillet_mm:g} → {r:g} mm", ((at + "shape.pad_fillet_mm", r),))
        for r in (4.0, 6.0, 9.0) if r > shape.pad_fillet_mm
    ]  # fmt: skip
    if recipe.pattern in ("grid", "lines") and recipe.core_angle_deg > 10:
        yield [Step("core angle", f"{part.name}: core lines along the arm", ((at + "recipe.core_angle_deg", 0.0),))]
    yield from printed_otherwise(part, project)


def _carbon_ladder(project: Project, part: Part, shape: ArmShape, count: int, problems: Problems) -> list[Step]:
    """Profiles that fit, thin to thick: a tube or rod inside, square tubes inside, strips in slots; three of each kind at most."""
    length = arm_length_mm(shape, project, part)
    end = math.floor(length - shape.bolt_circle_mm / 2 - shape.bolt_hole_mm - 1)
    out: list[tuple[float, Step]] = []
    for forms in (("tube", "rod"), ("square",), ("strip",)):
        fitting = []
        for stock in carbon_stocks().values():
            if stock.form not in forms or stock.outer_mm < 2:
                continue
            if part.carbon and part.carbon.stock == stock.id and part.carbon.count == count:
                continue
            place: Place = "slot" if stock.form == "strip" else "inside"
            carbon = Carbon(stock=stock.id, count=count, start_mm=-shape.tongue_length_mm, end_mm=end, place=place)
            edits: Edits = ((f"parts.{part.id}.carbon", carbon),)
            if shape.pocket_count:
                edits = (*edits, (f"parts.{part.id}.shape.pocket_count", 0))
            try:
                tried = set_many(project, edits)
            except EditError:
                continue
            changed = tried.part(part.id)
            assert changed.shape.kind == "arm"
            if any(p.severity == "error" for p in problems(changed, changed.shape, tried)):
                continue
            title = f"{part.name}: {count} × {stock.name[0].lower()}{stock.name[1:]} glued in"
            fitting.append((stock.price_per_m, Step("carbon", title, edits)))
        fitting.sort(key=lambda pair: pair[0])
        out += [fitting[k] for k in sorted({0, len(fitting) // 2, len(fitting) - 1}) if fitting]
    return [s for _, s in sorted(out, key=lambda pair: pair[0])]
