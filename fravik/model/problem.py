"""A problem tied to a field: what is wrong, where, and what to do."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Problem:
    """``path`` names the field; an *error* stops the part from being evaluated, a *warning* does not."""

    path: str
    message: str
    severity: Literal["error", "warning"] = "error"
