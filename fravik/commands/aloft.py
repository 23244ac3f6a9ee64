"""Crafts that fly on wings: what evaluate adds, and the step cards."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from .base import CommandError, evaluated

if TYPE_CHECKING:  # the engine loads when a command needs it
    from fravik.engine.evaluate import Engine
    from fravik.engine.results import Evaluation


def aloft_of(engine: Engine, result: Evaluation) -> dict[str, Any]:
    """``wing``, ``tilt`` and ``transition`` of a craft that has them, else nothing."""
    from fravik.kinds.wing.geometry import goes_over

    if not goes_over(result.project):
        return {}
    from fravik.engine.wingtables import aloft_data  # compiled code loads only for crafts that fly on a wing

    return aloft_data(engine, result)


def cards(args: argparse.Namespace) -> int:
    """Write the step cards into a folder."""
    from fravik.kinds.wing.geometry import goes_over
    from fravik.store import write_files

    engine, result = evaluated(args)
    if not goes_over(result.project):
        raise CommandError("This craft has neither a wing nor rotors that tilt: there is nothing to go over to.")
    from fravik.engine.cardfiles import card_files

    for path in write_files(args.output, card_files(engine, result, args.paper), replace=args.replace):
        print(path)
    return 0
