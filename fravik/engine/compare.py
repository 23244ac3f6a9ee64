"""The same part made otherwise: orientations side by side, plastics against each other, and the part cut from carbon plate.

Every figure is a full evaluation of the craft with that one change; a choice that cannot be built says why.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from fravik.kinds import kind_of
from fravik.library import facing_stock, filaments_of
from fravik.model.material import CORNERS
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project
from fravik.model.recipe import LIES_LABELS
from fravik.printing.overhang import support_need
from fravik.printing.zones import lay
from fravik.structure.loadcases import case_name

from .evaluate import Engine
from .loopneed import LoopNeed, loop_need
from .results import Evaluation, MemberResult, PlateResult, Refused
from .ruler import WORST, judged, reserves_of

Edits = tuple[tuple[str, Any], ...]
FILAMENT = ".recipe.filament"


@dataclass(frozen=True)
class Choice:
    """One way to make a part: its name, the edits that make it, and how its figures differ. ``refused`` says why it cannot be built;
    ``loop`` is told of other plastics."""

    name: str
    edits: Edits
    reserve: float = 0.0
    kind: str = ""
    case: str = ""
    flex: float = 0.0
    flex_low: float = 0.0
    flex_high: float = 0.0
    crash: float = 0.0
    crash_low: float = 0.0
    crash_high: float = 0.0
    support_cm3: float = 0.0
    height_mm: float = 0.0
    minutes: float = 0.0
    grams: float = 0.0
    cost: float = 0.0
    refused: str = ""
    loop: LoopNeed | None = None


@dataclass(frozen=True)
class Axes:
    """What a part's plastics are drawn against: names with units, and whether more is better."""

    crash: str
    flex: str
    flex_rises: bool


def axes_of(project: Project, part_id: str) -> Axes:
    """The two figures the schools argue about, for this kind of part."""
    weighed = kind_of(project.part(part_id).shape).weighed
    return Axes(weighed.crash, weighed.flex, True)


def _crash(found: MemberResult | PlateResult) -> tuple[float, float, float]:
    """Low, typical, high of the crash figure: the strike speed of an arm, the bump of a guard, else the drop height."""
    out = []
    for corner in CORNERS:
        b = found.breaks[corner]
        struck = [b[n].speed_m_s for n in ("arm_strike", "first_blow") if isinstance(found, MemberResult) and n in b]
        if struck:
            out.append(min(struck))
        elif "guard_bump" in b:
            out.append(b["guard_bump"].speed_m_s)
        else:
            out.append(b["flat_drop"].height_m if "flat_drop" in b else 0.0)
    return min(out), out[1], max(out)


def _flex(found: MemberResult | PlateResult) -> tuple[float, float, float]:
    """Low, typical, high of the stiffness figure that ``axes_of`` names."""
    if isinstance(found, PlateResult):
        middle = float(np.median(found.ei_nmm2)) / 1e6
        return middle, middle, middle
    weighed = kind_of(found.member.shape).weighed
    out = {corner: weighed.of(answer) for corner, answer in found.answers.items()}
    return min(out.values()), out["typical"], max(out.values())


def sag_text(result: Evaluation, part_id: str) -> str:
    """How far the part gives under its own telling load."""
    m = next((result.members[k] for k in result.pieces_of(part_id) if k in result.members), None)
    if m is None:
        return ""
    return kind_of(m.member.shape).gives(m.answers["typical"], m.combos["typical"])


def weigh_choice(engine: Engine, project: Project, part_id: str, name: str, edits: Edits) -> Choice:
    """Evaluate one way to make a part."""
    try:
        changed = set_many(project, edits)
        result = engine.evaluate(changed)
    except EditError as err:
        return Choice(name, edits, refused=err.message)
    except Refused as err:
        return Choice(name, edits, refused=err.problems[0].message)
    found, part = judged(result, part_id), result.parts[part_id]
    shown = reserves_of(result, part_id, WORST)
    if found is None or shown is None:
        return Choice(name, edits, refused="This part is not judged.")
    need = support_need(engine.mesh(part.given), part.field.rotation)
    flex, crash = _flex(found), _crash(found)
    return Choice(
        name, edits, shown.reserve, shown.kind, case_name(shown.case, project.brief.own_cases),
        flex[1], flex[0], flex[2], crash[1], crash[0], crash[2], need.columns_cm3,
        float(part.field.high_mm[2] - part.field.low_mm[2]), part.figures.minutes, part.grams, part.cost,
        loop=loop_need(result, part_id) if any(path.endswith(FILAMENT) for path, _ in edits) else None,
    )  # fmt: skip


def orientations(project: Project, part_id: str) -> list[tuple[str, Edits]]:
    """The sensible ways for a part to lie, the present one first."""
    recipe = project.part(part_id).recipe
    at = f"parts.{part_id}.recipe."
    names = ["flat", "flat_over", "on_side", "on_other_side", "on_end", "on_other_end"]
    out: list[tuple[str, Edits]] = []
    if recipe.lies == "free":
        out.append((f"Turned {recipe.roll_deg:g}° and {recipe.pitch_deg:g}°", ()))
    out += [(LIES_LABELS[n], ((at + "lies", n),)) for n in names]
    tilted: Edits = ((at + "lies", "free"), (at + "roll_deg", 45.0), (at + "pitch_deg", 0.0))
    out.append(("On its edge, 45°", tilted))
    return out


def plastics(project: Project, part_id: str) -> list[tuple[str, Edits]]:
    """Every filament the project knows, as an edit of the part."""
    return [(f.name, ((f"parts.{part_id}{FILAMENT}", k),)) for k, f in filaments_of(project).items()]


@dataclass(frozen=True)
class PlateTwin:
    """The same outline cut from carbon plate of the thickness that weighs nearest: ratios to the printed part."""

    thickness_mm: float
    grams: float
    ei_ratio: float
    mass_ratio: float
    toughness: str


def carbon_twin(result: Evaluation, part_id: str) -> PlateTwin | None:
    """The part's outline cut from woven carbon plate, laminate modulus and all. None for parts that are not flat bars or plates."""
    part, found = result.parts.get(part_id), judged(result, part_id)
    if part is None or found is None or not kind_of(part.part.shape).has_flat_twin:
        return None
    stock = facing_stock("plate_1")
    flat = part.part.recipe.model_copy(update={"lies": "flat", "walls": 40, "core_density": 1.0, "filament": ""})
    solid = lay(_solid_of(part), flat)
    area = float(np.median(solid.outer.areas_mm2()))
    tall = float(solid.high_mm[2] - solid.low_mm[2])
    if isinstance(found, MemberResult):
        s = found.answers["typical"].section
        body = s.positions_mm < 0.8 * s.positions_mm[-1]
        ei = float(np.median(s.ei_up_nmm2[body]))
        box = found.member.tables.extents
        width = float(np.median((box[1] - box[0])[body]))
    else:
        ei, width = float(np.median(found.ei_nmm2)), float(np.median(found.answer.grid.cover.sum(axis=1))) * found.answer.grid.cell_mm[1]
    sizes = (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0)
    weights = [area * t * stock.density_g_cm3 * 1e-3 for t in sizes]
    k = int(np.argmin([abs(w - part.grams) for w in weights]))
    t = min(sizes[k], max(tall, 1.0))
    grams = area * t * stock.density_g_cm3 * 1e-3
    words = "breaks without bending first; splinters cut, and its dust is conductive"
    return PlateTwin(t, grams, stock.modulus_mpa.typical * width * t**3 / 12 / max(ei, 1e-9), grams / max(part.grams, 1e-9), words)


def _solid_of(part: Any) -> Any:
    from fravik.kinds import build_solid

    return build_solid(part.given)
