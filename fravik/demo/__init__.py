"""Demo projects, built by code from made-up scenarios."""

from .tern import tern

DEMOS = {"tern": tern}

__all__ = ["DEMOS", "tern"]
