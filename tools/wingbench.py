"""What a craft that flies on a wing costs: its lifting line, its map, and all that an edit asks."""

from __future__ import annotations

import time

import numpy as np

TIMES = 5


def wings() -> dict[str, float]:
    """The lifting line of a wing and its tail, the map of 40 by 30 points, the wing's figures after an edit; medians."""
    from fravik.demo import wheatear
    from fravik.engine.evaluate import Engine
    from fravik.engine.wing import flyer, wing_sight
    from fravik.flight.aero.alone import loaded
    from fravik.flight.aero.corridor import corridor
    from fravik.model.paths import set_at

    engine = Engine()
    result = engine.evaluate(wheatear())
    wing_sight(engine.memo, result)
    f = flyer(engine.memo, result)
    corridor(f, 4, 3)  # compiled
    line, maps, figures, edits = [], [], [], []
    for k in range(TIMES):
        start = time.perf_counter()
        loaded(f, 12.0, 0.05 + 0.002 * k)
        line.append((time.perf_counter() - start) * 1e3)
        start = time.perf_counter()
        corridor(f)
        maps.append(time.perf_counter() - start)
        craft = set_at(wheatear(), "parts.inner.shape.x_mm", 70.0 + k)
        start = time.perf_counter()
        other = engine.evaluate(craft)
        edits.append((time.perf_counter() - start) * 1e3)
        engine.memo.turn()
        start = time.perf_counter()
        wing_sight(Engine().memo, other)
        figures.append((time.perf_counter() - start) * 1e3)
    return {"lifting line of wing and tail, median ms": float(np.median(line)), "map of 40 x 30 points, median s": float(np.median(maps)),
            "all figures of a wing, new, median ms": float(np.median(figures)),
            "an edit of a craft that flies on a wing, to its margins, median ms": float(np.median(edits))}  # fmt: skip


if __name__ == "__main__":
    for name, value in wings().items():
        print(f"{value:10.3f}  {name}")
