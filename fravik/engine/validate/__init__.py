"""Reference checks: what the core computes against closed forms, exact series, published fits and fine models.

Every check runs the same code as the product. The expected side never calls it.
"""

from . import bars, beams, craft, flight, infill, joints, notches, plates, roads, sections, solids, whole
from .check import Check, as_markdown, as_table

GROUPS = (*beams.GROUPS, *sections.GROUPS, *bars.GROUPS, *infill.GROUPS, *notches.GROUPS, *joints.GROUPS, *plates.GROUPS, *craft.GROUPS,
          *whole.GROUPS, *flight.GROUPS, *roads.GROUPS, *solids.GROUPS)  # fmt: skip


def run_checks() -> list[Check]:
    """All reference checks."""
    return [check for group in GROUPS for check in group()]


__all__ = ["Check", "as_markdown", "as_table", "run_checks"]
