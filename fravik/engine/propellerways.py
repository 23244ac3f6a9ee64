"""Other ways to make a printed propeller, each spun before it is told: how it lies, and what would let it turn faster."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from fravik.kinds.printedblades import drawn
from fravik.library import filaments_of
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project
from fravik.power.layersteps import drag_factor
from fravik.printing.checks import recipe_problems
from fravik.printing.overhang import support_need

from .compare import Edits, orientations
from .evaluate import Engine
from .propeller import PropellerSight
from .results import Refused
from .spun import LetsGo, Verdict, lets_go, spun

MOST = 4
Wanted = Callable[[], bool]


def always() -> bool:
    """For who waits to the end."""
    return True


@dataclass(frozen=True)
class SpunWay:
    """One way to make it: how fast it may turn, whether its motor may turn it so fast as it can, and what it costs;
    ``refused`` why it cannot be made."""

    title: str
    edits: Edits
    allowed_rpm: float = 0.0
    verdict: Verdict = "fails"
    grams: float = 0.0
    minutes: float = 0.0
    support_cm3: float = 0.0
    price: float = 0.0
    drag: float = 1.0
    refused: str = ""


def way_of(engine: Engine, project: Project, sight: PropellerSight, title: str, edits: Edits) -> SpunWay:
    """Make and spin it."""
    try:
        changed = set_many(project, edits)
        made = engine.part(changed.part(sight.part.id), changed)
        gone: LetsGo = lets_go(spun(engine.memo, made), sight.printed.most_rpm)
    except EditError as err:
        return SpunWay(title, edits, refused=err.message)
    except Refused as err:
        return SpunWay(title, edits, refused=err.problems[0].message)
    need = support_need(engine.mesh(made.given), made.field.rotation)
    rough = drag_factor(drawn(made.part), made.part.recipe).typical
    verdict = gone.verdict(sight.printed.most_rpm)
    return SpunWay(title, edits, gone.allowed, verdict, made.grams, made.figures.minutes, need.columns_cm3, made.cost, rough)


def lies_of(engine: Engine, project: Project, sight: PropellerSight, wanted: Wanted = always) -> tuple[SpunWay, ...]:
    """Every sensible way for it to lie; those that were spun until nobody wants to know any more."""
    ways = (w for w in orientations(project, sight.part.id) if wanted())
    return tuple(way_of(engine, project, sight, name, edits) for name, edits in ways)


def ways_out(engine: Engine, project: Project, sight: PropellerSight, wanted: Wanted = always) -> tuple[SpunWay, ...]:
    """Changes that let it turn faster than it may, the cheapest of those that are enough first."""
    tried = [way_of(engine, project, sight, title, edits) for title, edits in _changes(project, sight) if wanted()]
    now, most = sight.lets_go.allowed, sight.printed.most_rpm
    better = [w for w in tried if not w.refused and w.allowed_rpm > 1.01 * now]
    return tuple(sorted(better, key=lambda w: (w.allowed_rpm < most, w.minutes if w.allowed_rpm >= most else -w.allowed_rpm))[:MOST])


def _changes(project: Project, sight: PropellerSight) -> list[tuple[str, Edits]]:
    part, at = sight.part, f"parts.{sight.part.id}."
    shape = drawn(part)
    out = [
        (name, edits) for name, edits in orientations(project, part.id) if edits and edits[0][1] != part.recipe.lies and "other" not in name
    ]
    for more in (0.5, 1.0):
        if shape.root_swell + more <= 3.0:
            out.append(
                (
                    f"Root {shape.root_swell:g} → {shape.root_swell + more:g} times thick",
                    ((at + "shape.root_swell", shape.root_swell + more),),
                )
            )
    longer = round(1.6 * shape.root_fillet_mm, 1)
    if longer <= 30.0:
        out.append((f"Root over {longer:g} mm", ((at + "shape.root_fillet_mm", longer),)))
    for key, f in filaments_of(project).items():
        changed = part.model_copy(update={"recipe": part.recipe.model_copy(update={"filament": key})})
        ready = not any(p.path.endswith("filament") for p in recipe_problems(changed, project, False))
        if key != part.recipe.filament and ready and not f.flexible:
            out.append((f"In {f.name}", ((at + "recipe.filament", key),)))
    return out
