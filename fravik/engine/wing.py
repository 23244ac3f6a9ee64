"""The wing of a craft: what it carries, how slow it flies, how steady it is, and whether spar, folds and hinges hold."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.flight.aero.alone import Alone, Loaded, alone, loaded
from fravik.flight.aero.flyer import Flyer
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.kinds.wing.flyer import flyer_of
from fravik.kinds.wing.geometry import panels, stands, wing_of
from fravik.model.project import Part
from fravik.printing.zones import Floats
from fravik.study.margins import Verdict

from .memo import Memo
from .results import Evaluation
from .spars import SparSight, spar_sight
from .winghinges import HingeSight, hinges_of
from .wingjoints import FoldSight, JointSight, folds_of, joints_of, loose_tubes

STEADY_PCT = 4.0  # static margin under which the nose hardly comes back
FASTEST = 1.4  # times cruise, up to which divergence, reversal and flutter are to keep away


@dataclass(frozen=True, eq=False)
class WingSight:
    """All that is known of the wing. ``loose`` are panels whose tube does not go into the next one's."""

    flyer: Flyer
    alone: Alone
    carries: Loaded
    spar: SparSight
    folds: tuple[FoldSight, ...]
    joints: tuple[JointSight, ...]
    hinges: tuple[HingeSight, ...]
    loose: tuple[tuple[Part, Part, float], ...]
    hover_w: float
    energy_wh: float

    @property
    def static_margin_pct(self) -> float:
        """Of the mean chord."""
        return 100 * self.alone.static_margin

    @property
    def steady(self) -> Verdict:
        """Whether its nose comes back by itself."""
        return "fails" if self.static_margin_pct < 0 else "tight" if self.static_margin_pct < STEADY_PCT else "holds"

    @property
    def fastest_m_s(self) -> float:
        """Up to which nothing may twist off, turn round or flutter."""
        return FASTEST * self.alone.cruise_m_s

    @property
    def cruise_min(self) -> float:
        """On the usable charge, without the ways out and back."""
        return 60 * self.energy_wh / self.alone.cruise_w if self.alone.cruise_w > 0 else math.nan

    @property
    def range_km(self) -> float:
        """At the speed that takes least a metre."""
        _, joules = self.alone.best_range
        return 3.6 * self.energy_wh / joules if joules > 0 else math.nan


def flyer(memo: Memo, result: Evaluation) -> Flyer:
    """The craft as the air sees it. Raises ValueError where a section is none."""
    key = (result.project, result.craft.com_mm.tobytes(), result.craft.mass_g)
    masses = {k: r.mass for k, r in result.parts.items()}

    def make() -> Flyer:
        return flyer_of(result.project, result.craft, stations(result.project), drives(result.project), result.power.full_volts, masses)

    return memo.get("flyer", key, make)


def wing_sight(memo: Memo, result: Evaluation) -> WingSight | None:
    """None for a craft without a wing."""
    mine = [p for p in panels(result.project) if wing_of(p).role == "wing" and wing_of(p).hand != "upright"]
    if not mine:
        return None
    f = flyer(memo, result)
    return memo.get("wing", (result.project, f.mass_kg, f.com_m.tobytes()), lambda: _sight(memo, result, f))


def _sight(memo: Memo, result: Evaluation, f: Flyer) -> WingSight:
    a = alone(f, result.project.flying.cruise_m_s)
    carries = loaded(f, a.cruise_m_s, a.cruise_rad, 0.0 if math.isnan(a.cruise_surface_rad) else a.cruise_surface_rad)
    spar = spar_sight(memo, result, f, a, carries)
    return WingSight(
        f, a, carries, spar, folds_of(result, spar), joints_of(result, spar), hinges_of(result, a, FASTEST * a.cruise_m_s),
        loose_tubes(result), result.power.hover_power_w, result.power.energy_wh,
    )  # fmt: skip


def spots_mm(result: Evaluation) -> dict[str, Floats]:
    """Where each panel's root stands, aeroplane axes."""
    return {k: s.root_mm for k, s in stands(result.project).items()}


__all__ = ["FoldSight", "HingeSight", "JointSight", "SparSight", "WingSight", "flyer", "spots_mm", "wing_sight"]
