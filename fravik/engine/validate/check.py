"""One line of the validation table, and the table as text and Markdown."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Check:
    """One line of the validation table; ``error`` and ``within`` are relative."""

    what: str
    against: str
    expected: float
    got: float
    within: float

    @property
    def error(self) -> float:
        """Relative error."""
        return abs(self.got - self.expected) / max(abs(self.expected), 1e-300)

    @property
    def passed(self) -> bool:
        """Whether the error is within what is asked."""
        return bool(math.isfinite(self.got) and self.error <= self.within)

    def as_data(self) -> dict[str, Any]:
        """As JSON-ready data."""
        return {"what": self.what, "against": self.against, "expected": self.expected, "got": self.got, "error": self.error,
                "within": self.within, "pass": self.passed}  # fmt: skip


HEAD = ("what", "expected", "got", "error", "within", "pass")


def _row(c: Check) -> tuple[str, ...]:
    bound = f"{c.within:.2%}" if c.within > 1e-6 else f"{c.within:g}"
    return (f"{c.what} ({c.against})", f"{c.expected:.6g}", f"{c.got:.6g}", f"{c.error:.2%}", bound,
            "yes" if c.passed else "NO")  # fmt: skip


def as_table(checks: list[Check]) -> str:
    """The table as aligned text."""
    rows = [HEAD, *(_row(c) for c in checks)]
    widths = [max(len(r[i]) for r in rows) for i in range(len(HEAD))]
    passed = sum(c.passed for c in checks)
    lines = ["  ".join(cell.ljust(w) for cell, w in zip(r, widths, strict=True)).rstrip() for r in rows]
    return "\n".join([*lines, f"{passed} of {len(checks)} within their bounds"])


def as_markdown(checks: list[Check]) -> str:
    """The table as Markdown for docs/."""
    rows = "\n".join("| " + " | ".join(_row(c)) + " |" for c in checks)
    head = "| " + " | ".join(HEAD) + " |\n|" + "---|" * len(HEAD)
    return f"# Validation\n\nMade by `fravik validate --write docs/validation.md`. Errors are relative.\n\n{head}\n{rows}\n"
