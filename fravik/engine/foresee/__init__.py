"""What will go wrong: every source of findings asked, and their cures tried."""

from .cures import tried
from .every import LONG, SOURCES, foresee, from_source, run_findings, weighty
from .told import as_text, finding_rows, foresight

__all__ = ["LONG", "SOURCES", "as_text", "finding_rows", "foresee", "foresight", "from_source", "run_findings", "tried", "weighty"]
