"""Compile what is compiled at first use, so that neither the first look at a wing nor each process of a test run waits for it. What is
compiled is kept beside its source and only made again when that changes.

    .venv/bin/python -m tools.compile_once
"""

from __future__ import annotations

from fravik.demo import turnstone, wheatear
from fravik.engine.evaluate import Engine
from fravik.engine.transition import transition_sight
from fravik.engine.wing import wing_sight


def main() -> None:
    engine = Engine()
    result = engine.evaluate(wheatear())
    wing_sight(engine.memo, result)
    transition_sight(engine, result)
    engine.evaluate(turnstone())


if __name__ == "__main__":
    main()
