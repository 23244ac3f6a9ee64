"""What the groups of things on a craft weigh, and what all of it costs."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

from fravik.kinds.drives import drives
from fravik.kinds.whole import placed_components
from fravik.model.project import Metric, Project
from fravik.power.pack import more_packs

from .results import PartResult

Found = tuple[tuple[float, float, float] | None, str]  # low, typical and high, or nothing yet; and what governs, or why not
# which group a bought thing is counted in, by its kind
GROUPS: dict[str, Metric] = {"flying": "equipment_mass_g", 
    "motor": "drive_mass_g", "prop": "drive_mass_g", "battery": "battery_mass_g", "block": "equipment_mass_g",
}  # fmt: skip
COST_SPREAD = 0.03  # of filament: what is purged and trimmed


def bought_prices(project: Project) -> list[tuple[str, int, float]]:
    """(name, how many, price of one) of all that is bought; 0 where the price is not known."""
    c, count = project.components, Counter(drives(project))
    rotors = [(name, n, one.price) for d, n in count.items() for name, one in (("motor", d.motor), ("propeller", d.propeller))]
    return [*rotors, ("battery", 1, c.battery.price), *((b.name.lower(), 1, b.price) for b in c.blocks)]


def budgets(project: Project, parts: Mapping[str, PartResult], spread_g: float, material: float) -> dict[Metric, Found]:
    """The weight of each group as (low, typical, high) in g, and the cost of the craft.

    ``spread_g`` is what the made parts may weigh more or less, ``material`` what they cost. While a price is missing the sum is a lower
    bound, which can break a limit but never keep one: it is given with what it lacks.
    """
    weights: dict[Metric, float] = dict.fromkeys(GROUPS.values(), 0.0)
    packs = {b.id for b in more_packs(project.components)}
    for x in placed_components(project):
        weights["battery_mass_g" if x.id in packs else GROUPS[x.kind]] += x.mass.mass_g
    out: dict[Metric, Found] = {metric: ((w, w, w), "") for metric, w in weights.items()}
    made = sum(r.grams * r.part.count for r in parts.values())
    out["made_mass_g"] = (made - spread_g, made, made + spread_g), ""
    every = bought_prices(project)
    bought = sum(n * each for _, n, each in every)
    missing = list(dict.fromkeys(name for name, _, each in every if each <= 0.0))
    low, high = bought + material * (1 - COST_SPREAD), bought + material * (1 + COST_SPREAD)
    limit = min((t.limit for t in project.targets if t.metric == "craft_cost"), default=0.0)
    lacks = f"without the price of {', '.join(missing)}"
    if not missing or low > limit:
        out["craft_cost"] = (low, bought + material, high), f"at least: {lacks}" if missing else ""
    else:
        out["craft_cost"] = None, f"{bought + material:.0f} {lacks}"
    return out
