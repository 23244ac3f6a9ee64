"""Reference checks: what the core computes against closed forms, exact series, published fits and fine models.

Every check runs the same code as the product. The expected side never calls it.
"""

from . import (
    bars,
    beams,
    cores,
    craft,
    drivetrain,
    fit,
    flight,
    frames,
    joints,
    loop,
    notches,
    plates,
    propellers,
    response,
    roads,
    sections,
    solids,
    stiffened,
    webs,
    whole,
    wingparts,
    wings,
)
from .check import Check, as_markdown, as_table

MODULES = (
    beams,
    sections,
    bars,
    cores,
    notches,
    joints,
    plates,
    stiffened,
    frames,
    craft,
    whole,
    response,
    loop,
    drivetrain,
    propellers,
    wings,
    wingparts,
    flight,
    fit,
    roads,
    solids,
    webs,
)
GROUPS = tuple(group for module in MODULES for group in module.GROUPS)


def run_checks() -> list[Check]:
    """All reference checks."""
    return [check for group in GROUPS for check in group()]


__all__ = ["Check", "as_markdown", "as_table", "run_checks"]
