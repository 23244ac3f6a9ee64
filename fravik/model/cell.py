"""A sort of lithium cell as data."""

from __future__ import annotations

from itertools import pairwise

from pydantic import model_validator

from .base import Frozen
from .material import Spread


class CellSort(Frozen):
    """Rest voltage over the share of charge that is left, and how such cells give way to current, age and cold.

    ``mohm_ah`` is a new cell's resistance at 20 degrees times its charge, ``usual_c`` and ``briefly_c`` the current over charge that it
    gives for a flight and for seconds. Charge fades a cycle, a month, and a month rested full; resistance grows by ``growth_over_fade``
    times what faded and by more a month rested full, and doubles with every ``cold_doubles_c`` degrees below 20.
    """

    id: str
    name: str
    basis: str
    charge_left: tuple[float, ...]
    rest_v: tuple[float, ...]
    mohm_ah: Spread
    usual_c: Spread
    briefly_c: float
    fade_a_cycle: Spread
    fade_a_month: Spread
    fade_a_month_full: Spread
    growth_over_fade: Spread
    growth_a_month_full: Spread
    cold_doubles_c: float
    least_v: float

    @model_validator(mode="after")
    def _rising(self) -> CellSort:
        for name, every in (("charge_left", self.charge_left), ("rest_v", self.rest_v)):
            if len(every) < 2 or any(b <= a for a, b in pairwise(every)):
                raise ValueError(f"{name} must rise")
        if len(self.charge_left) != len(self.rest_v) or self.charge_left[0] != 0.0 or self.charge_left[-1] != 1.0:
            raise ValueError("rest voltages run from empty to full")
        return self
