"""What is on the craft, as a tree: what stands on what, how it is held, and whether it holds."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from fravik.kinds import kind_of, places_of
from fravik.kinds.around import plate_gap_mm
from fravik.kinds.boughtbody import bought_body
from fravik.kinds.carried import on_mounts
from fravik.kinds.drives import drives, on_arms
from fravik.kinds.whole import placed_components
from fravik.model.joint import FIXING_LABELS, JOINT_LABELS
from fravik.model.material import CORNERS
from fravik.model.project import Part
from fravik.power.drive import USUAL, Drive
from fravik.study.margins import RANK, Verdict, judge

from .copies import copy_reserves
from .results import Evaluation


@dataclass(frozen=True)
class Node:
    """One thing, or all copies of a part: its name, what stands under it in small, the part that opens, whether it holds and why, the path
    of its fields, and what stands on it."""

    title: str
    under: str = ""
    part_id: str = ""
    verdict: Verdict | None = None
    why: str = ""
    path: str = ""
    children: tuple[Node, ...] = ()


def what_is_on_it(result: Evaluation) -> tuple[Node, ...]:
    """The plates with what stands on them, the arms with what they carry, and what else there is."""
    project = result.project
    parts = {
        where: [p for p in project.parts if kind_of(p.shape).seat == where]
        for where in ("root", "plate", "rotor", "body", "between", "loose", "shaft")
    }
    carried = on_mounts(project, parts["plate"])
    goods = [b for b in placed_components(project) if b.kind in ("battery", "block") and b.id not in carried.values()]
    gap = plate_gap_mm(project)
    low = [Node(b.name, _grams(b.mass.mass_g), path=_path(b.id)) for b in goods if b.centre_mm[2] <= gap / 2]
    high = [Node(b.name, _grams(b.mass.mass_g), path=_path(b.id)) for b in goods if b.centre_mm[2] > gap / 2]
    names = {b.id: b.name for b in project.components.blocks}
    hung = [_part(result, p, (Node(names[carried[p.id]], "carried by it", path=_path(carried[p.id])),) if p.id in carried else ())
            for p in parts["plate"]]  # fmt: skip
    around = _around_rotors(result, (*parts["root"], *parts["body"]), (*parts["between"], *parts["rotor"]))
    out: list[Node] = []
    plates = parts["body"]
    tops = [p for p in plates if places_of(p, project)[0].at_mm[2] > 0] if len(plates) > 1 else []
    under = next((p for p in plates if p not in tops), plates[0] if plates else None)
    over = tops[0] if tops else under
    for p in plates:
        mine = (*((*hung, *low) if p is under else ()), *(high if p is over else ()))
        out.append(_part(result, p, (*mine, *around.pop(p.id, ()))))
    holds = bought_body(project)
    if holds is not None:
        more = tuple(n for n in (*low, *high) if n.title != holds.name)
        out.append(Node(holds.name, f"{holds.mass_g:.0f} g, holds the arms", children=(*hung, *more)))
    elif not plates:
        out += [*hung, *low, *high]
    out += [_part(result, p, around.pop(p.id, ())) for p in parts["root"]]
    return (*out, *around.pop("", ()), *(_part(result, p) for p in (*parts["loose"], *parts["shaft"])))


def _around_rotors(result: Evaluation, arms: Sequence[Part], beside: Sequence[Part]) -> dict[str, tuple[Node, ...]]:
    """By the part that carries them, the rotors and what else stands at their stations; under no name what stands at none of them."""
    project = result.project
    there, every = on_arms(project), drives(project)
    ends = {p.id: {x.follows for x in places_of(p, project) if x.follows in there} for p in arms}
    carries = {p.id for p in arms if any(kind_of(result.pieces[k].part.shape).carries_rotor for k in result.pieces_of(p.id))}
    whole = next((k for k in carries if not ends[k]), None)
    if whole is not None:  # a frame has the ends that no arm has
        ends[whole] = set(there) - set().union(*ends.values())
    out: dict[str, tuple[Node, ...]] = {}
    for arm_id, mine in ends.items():
        turn = Counter(every[k] for end in there if end in mine for k in there[end])
        out[arm_id] = tuple(
            Node(f"Rotor × {n}", f"{d.propeller.diameter_mm:.0f} × {d.propeller.pitch_mm:.0f} mm", path=_drive_path(d))
            for d, n in turn.items()
        )
    for q in beside:
        at = [x.follows for x in places_of(q, project)]
        many = {arm_id: n for arm_id, mine in ends.items() if (n := sum(end in mine for end in at))}
        for arm_id, n in (many or {"": q.count}).items():
            out[arm_id] = (*out.get(arm_id, ()), _part(result, q, many=n))
    return out


def _part(result: Evaluation, part: Part, children: tuple[Node, ...] = (), many: int = 0) -> Node:
    """``many`` of its copies, or all of them."""
    count = many or part.count
    verdict, why = part_verdict(result, part.id)
    return Node(
        f"{part.name} × {count}" if count > 1 else part.name, _held(result, part), part.id, verdict, why, f"parts.{part.id}", children
    )


def _held(result: Evaluation, part: Part) -> str:
    """How it is fixed, or what it is made of."""
    kind, j = kind_of(part.shape), part.joint
    if kind.root_page == "joint":
        screws = f", {j.screw}" if j.kind in ("bolted", "clamp", "dovetail") else ""
        return JOINT_LABELS[j.kind] + screws
    if kind.root_page == "clamp":
        return f"In a clamp, {j.clamp_screws} × {j.screw}"
    if kind.root_page == "screws":
        return f"{j.screw}, {FIXING_LABELS[j.fixing].lower()}"
    row = result.parts[part.id]
    return f"{row.filament.name}, {row.grams:.0f} g"


def _drive_path(drive: Drive) -> str:
    return drive.path if drive.path != USUAL else f"{USUAL}.propeller"


def _path(block_id: str) -> str:
    return "components.battery" if block_id == "battery" else f"components.blocks.{block_id}"


def _grams(grams: float) -> str:
    return f"{grams:.0f} g"


def part_verdict(result: Evaluation, part_id: str) -> tuple[Verdict | None, str]:
    """The worst that a part is answerable for: its own least reserve against the target on reserves, and every target that names it; with
    why. None where nothing of it is judged."""
    found: list[tuple[Verdict, str]] = []
    mine = result.pieces_of(part_id)
    judged = [x for k in mine for x in (result.members.get(k) or result.plates.get(k),) if x is not None]
    names = {result.pieces[k].part.name.lower() for k in mine}
    for m in result.margins:
        if m.metric == "least_reserve" and judged:
            reserves = [min(x.worst_static(c)[1].reserve for x in judged) for c in CORNERS]
            own = f"{m.name}: {reserves[CORNERS.index('typical')]:.2f} of its own"
            each = "; ".join(t for t in (copy_reserves(result, k) for k in mine) if t)
            found.append((judge(min(reserves), max(reserves), m.limit, "at least"), f"{own} ({each})" if each else own))
        elif m.detail.split(":")[0].split(";")[0].strip() in names:
            found.append((m.verdict, f"{m.name} {m.verdict}"))
    if not found:
        return None, ""
    worst = max((v for v, _ in found), key=lambda v: RANK[v])
    return worst, "; ".join(text for v, text in found if v == worst)
