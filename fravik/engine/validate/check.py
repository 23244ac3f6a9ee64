"""One line of the validation table, and the table as text and Markdown."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

# what makes the expected side independent of the code that is checked
Basis = Literal["exact solution", "published", "another method", "another library", "hand sum"]


@dataclass(frozen=True)
class Check:
    """One line of the validation table; ``error`` and ``within`` are relative. ``basis`` says what makes the expected side independent."""

    what: str
    against: str
    expected: float
    got: float
    within: float
    basis: Basis = "exact solution"

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
        return {"what": self.what, "against": self.against, "basis": self.basis, "expected": self.expected, "got": self.got,
                "error": self.error, "within": self.within, "pass": self.passed}  # fmt: skip


HEAD = ("what", "independent by", "expected", "got", "error", "within", "pass")


def _row(c: Check) -> tuple[str, ...]:
    bound = f"{c.within:.2%}" if c.within > 1e-6 else f"{c.within:g}"
    return (f"{c.what} ({c.against})", c.basis, f"{c.expected:.6g}", f"{c.got:.6g}", f"{c.error:.2%}", bound,
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
    text = (
        "Made by `fravik validate --write docs/validation.md`. Errors are relative. Every line runs the product's own path; its expected\n"
        "side never calls it and says what makes it independent: an exact solution, a published fit or value, another method, another\n"
        "library, or a sum by hand. The solid models behind *another method* ship as data (`fravik/library/data/solids.toml`, with meshes\n"
        "and date) and are remade by `tools/solids`."
    )
    return f"# Validation\n\n{text}\n\n{head}\n{rows}\n"
