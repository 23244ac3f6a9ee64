"""Demo projects, built by code from made-up scenarios."""

from .dunlin import dunlin
from .tern import tern

DEMOS = {"tern": tern, "dunlin": dunlin}

__all__ = ["DEMOS", "dunlin", "tern"]
