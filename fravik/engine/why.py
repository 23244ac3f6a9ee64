"""Why a part's governing reserve is what it is, in plain words, and what would cure it."""

from __future__ import annotations

import numpy as np

from fravik.kinds import kind_of
from fravik.model.recipe import LIES_LABELS
from fravik.structure.loadcases import CASES, CRASH_CASES, case_name
from fravik.structure.notches import Raiser, cure_radius_mm
from fravik.structure.stressbasis import section_forces

from .copies import worst_copies
from .results import Evaluation, MemberResult
from .ruler import Shown, judged

WHERE = {
    "road pull": "the roads of the wall are pulled apart along their length",
    "road-to-road": "neighbouring roads are pulled or sheared apart in their layer",
    "layer split": "layers are pulled apart: the bond between them carries the load",
    "layer shear": "layers slide on one another",
    "core crush": "the core gives way",
    "wall buckling": "a thin face buckles under pressure",
    "carbon": "the carbon itself is at its limit",
    "bond line": "the glue line shears",
    "bearing": "the screws press into their holes",
    "bolt tear-out": "a screw tears out to the edge",
    "joint": "the root joint gives",
}
DO = {
    "road pull": "more walls, more height, or a stronger plastic",
    "road-to-road": "more walls, more height, or a tougher plastic",
    "layer split": "turn the part so that its layers run along the load",
    "layer shear": "more walls or covers, or layers turned across the shear",
    "core crush": "a denser core or more cover",
    "wall buckling": "another wall or cover, or a closer core",
    "carbon": "a larger profile",
    "bond line": "a longer bond, a stronger glue, or carbon that ends elsewhere",
    "bearing": "more or larger bolts, or a higher root",
    "bolt tear-out": "bolts farther from the edge, or more of them",
    "joint": "a tighter, larger or different joint",
}

WHERE_CUT = {
    "road pull": "it is pulled or pressed to its limit along its grain",
    "road-to-road": "it is pulled or sheared across its grain",
    "layer split": "it splits along its grain",
    "layer shear": "it shears along its grain",
}
DO_CUT = {
    "road pull": "a thicker or stronger bar or plate",
    "road-to-road": "a thicker wall, or a material with fibres across too",
    "layer split": "a thicker wall, or a material with fibres across too",
    "layer shear": "a thicker wall, or a material with fibres across too",
    "bearing": "more or larger bolts, or a longer clamp",
    "joint": "a longer clamp, more or larger screws, or a firmer plastic round it",
}


def _where(shown: Shown) -> str:
    return WHERE[shown.kind] if shown.printed else WHERE_CUT.get(shown.kind, WHERE[shown.kind])


def _do(shown: Shown) -> str:
    return DO[shown.kind] if shown.printed else DO_CUT.get(shown.kind, DO[shown.kind])


def case_words(result: Evaluation, shown: Shown) -> str:
    """'In a hard landing', 'In an arm strike at 3.0 m/s', 'In the case "tow"'."""
    case, name = shown.case, case_name(shown.case, result.project.brief.own_cases)
    if case not in CASES:
        return f"In the case \u201c{name}\u201d"
    article = "an" if name[0] in "aeio" else "a"
    text = name if case in ("hover", "transport", "full_throttle") else f"{article} {name}"
    speed = f" at {1 / shown.factor:.1f} m/s" if case in CRASH_CASES else ""
    return f"In {text}{speed}"


def wanted_reserve(result: Evaluation, case: str) -> float:
    """The reserve a case should have: what the brief asks for, and in a crash at its target's speed just 1."""
    if case in CRASH_CASES:
        return 1.0
    return max((m.limit for m in result.margins if m.metric == "least_reserve"), default=1.0)


def _station(m: MemberResult, position_mm: float) -> int:
    return int(np.argmin(np.abs(m.member.positions_mm - position_mm)))


def nominal_mix(m: MemberResult, shown: Shown) -> tuple[float, float, float]:
    """Nominal strains at the outside of the section from pull, upward and sideways bending at the position and case shown."""
    f = section_forces(m.bases["typical"], m.combos["typical"][shown.case][:, None])
    s, i = m.answers["typical"].section, _station(m, shown.position_mm)
    left, right, low, high = m.member.tables.extents[:, i]
    up, side = (high - low) / 2, (right - left) / 2
    return (
        abs(float(f.n[i, 0] / s.ea_n[i])), abs(float(f.m_y[i, 0] / s.ei_up_nmm2[i])) * float(up),
        abs(float(f.m_z[i, 0] / s.ei_side_nmm2[i])) * float(side),
    )  # fmt: skip


def governing_raiser(m: MemberResult, shown: Shown) -> Raiser | None:
    """The raiser that counts most at the position and under the case shown."""
    at, mix = _station(m, shown.position_mm), nominal_mix(m, shown)
    here = [r for r in m.bases["typical"].raisers if r.under(*mix) > 1.02 and r.over(m.member.path.arc_mm)[at]]
    return max(here, key=lambda r: r.under(*mix)) if here else None


def cure(m: MemberResult, shown: Shown, wanted: float) -> str:
    """What radius would lift the reserve at the weakest spot, when a fillet or corner governs there."""
    raiser = governing_raiser(m, shown)
    if raiser is None or not raiser.field or shown.kind in ("bearing", "bolt tear-out", "joint", "carbon", "bond line"):
        return ""
    if shown.reserve >= wanted:
        return ""
    q, shape, kind = m.answers["typical"].material.notch_sensitivity, m.member.shape, kind_of(m.member.shape)

    def raisers_at(radius_mm: float) -> list[Raiser]:
        return kind.raisers(shape.model_copy(update={raiser.field: radius_mm}), m.member.length_mm, q)

    r = cure_radius_mm(raisers_at, raiser, shown.reserve, wanted, nominal_mix(m, shown))
    words = raiser.name.rsplit(" ", 2)[0]
    if r is None:
        return f"No larger {words} alone lifts it to {wanted:g}; try {_do(shown)}."
    return f"A {words} of about {r:g} mm would lift it to {wanted:g}."


def why(result: Evaluation, part_id: str, shown: Shown) -> str:
    """One or two sentences on the governing reserve of a part, and what lifts it to what the brief asks for."""
    wanted = wanted_reserve(result, shown.case)
    found, part = judged(result, part_id), result.part(part_id)
    if found is None or part is None:
        return ""
    what = shown.detail or _where(shown)
    if shown.detail:
        what = _joint_words(shown.detail) if shown.kind == "joint" else shown.detail
    on = worst_copies(result, part_id, shown.case)
    case = f"{case_words(result, shown)} ({on})" if on else case_words(result, shown)
    text = f"{case} {what} at {shown.position_mm:.0f} mm: reserve {shown.reserve:.2f}."
    if isinstance(found, MemberResult):
        text += " " + _forces(found, shown)
        raiser = governing_raiser(found, shown)
        if raiser is not None and shown.kind not in ("bearing", "bolt tear-out", "joint", "bond line"):
            text += f" The {raiser.name} raises the stress ×{raiser.under(*nominal_mix(found, shown)):.2f}."
    if shown.printed and shown.kind in ("layer split", "layer shear"):
        text += f" It lies {LIES_LABELS[part.part.recipe.lies].lower()}; the layer bond holds {part.filament.s_layer_mpa.typical:.0f} MPa."
    if shown.reserve < wanted:
        fix = cure(found, shown, wanted) if isinstance(found, MemberResult) else ""
        text += " " + (fix or f"Try {_do(shown)}.")
    return text


def _joint_words(detail: str) -> str:
    return detail if detail.startswith("the ") else f"the {detail} gives"


def _forces(m: MemberResult, shown: Shown) -> str:
    combo = m.combos["typical"][shown.case] / shown.factor
    f = section_forces(m.bases["typical"], combo[:, None])
    i = _station(m, shown.position_mm)
    parts = []
    up, side, twist = abs(float(f.m_y[i, 0])) / 1e3, abs(float(f.m_z[i, 0])) / 1e3, abs(float(f.t[i, 0])) / 1e3
    most = max(up, side, twist, 1e-9)
    names = kind_of(m.member.shape).bending
    for size, name in ((up, f"bends {names[0]}"), (side, f"bends {names[1]}"), (twist, "twists")):
        if size > 0.3 * most and size > 0.005:
            parts.append(f"{name} with {size:.2f} N·m")
    return ("There it " + " and ".join(parts) + ".") if parts else ""
