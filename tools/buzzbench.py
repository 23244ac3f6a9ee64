"""How long *will it buzz* takes on the Tern demo: the drive, the loop, what every spot feels, and what wears."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

import numpy as np

TIMES = 5


def buzz() -> dict[str, float]:
    """Each on a design that is new to it, the craft itself already put together; median ms."""
    from fravik.demo import tern
    from fravik.engine.drivetrain import drive_of
    from fravik.engine.evaluate import Engine
    from fravik.engine.fatigue import lives
    from fravik.engine.ring import craft_of, ring_of
    from fravik.engine.speedmap import harmless, speed_map
    from fravik.engine.spots import response_rows
    from fravik.model.paths import set_many

    engine = Engine()
    asked: dict[str, Callable[[Any], Any]] = {
        "drive from full to empty, with its heat": drive_of,
        "the loop on all axes, all states of flight": lambda r: [a.verdict for a in ring_of(r, None, craft_of(r)).axes],  # type: ignore[union-attr]
        "what every spot feels": response_rows,
        "the map of speeds": lambda r: (speed_map(r, "gyro"), harmless(r)),
        "hours until parts crack": lives,
    }
    took: dict[str, list[float]] = {name: [] for name in asked}
    for k in range(TIMES):
        result = engine.evaluate(set_many(tern(), (("parts.arm.shape.tip_width_mm", 15.0 + 0.1 * k),)))
        assert result.whole is not None
        result.whole.shake  # noqa: B018  put together once for all of them
        for name, ask in asked.items():
            start = time.perf_counter()
            ask(result)
            took[name].append((time.perf_counter() - start) * 1e3)
    return {f"{name}, median ms": float(np.median(each)) for name, each in took.items()}


def blades() -> dict[str, float]:
    """A printed propeller's air, 40 rings at 20 speeds, and all that is told of one that is new; median ms."""
    from fravik.demo import turnstone
    from fravik.engine.evaluate import Engine
    from fravik.engine.propeller import sight_of
    from fravik.model.blade import PropellerShape
    from fravik.model.paths import set_many
    from fravik.power.drawn import flown

    engine, rpm = Engine(), np.linspace(1000.0, 12000.0, 20)
    flown(PropellerShape(), rpm)  # compiled, and its sections read
    air, told = [], []
    for k in range(TIMES):
        start = time.perf_counter()
        flown(PropellerShape(), rpm)
        air.append((time.perf_counter() - start) * 1e3)
        craft = set_many(turnstone(), (("parts.wide.shape.camber", 0.03 + 0.002 * k),))
        start = time.perf_counter()
        sight_of(engine, craft, "wide")
        told.append((time.perf_counter() - start) * 1e3)
    return {"blade elements, 40 rings at 20 speeds, median ms": float(np.median(air)),
            "a printed propeller, new, all that is told of it, median ms": float(np.median(told))}  # fmt: skip
