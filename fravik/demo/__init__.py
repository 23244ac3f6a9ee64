"""Demo projects, built by code from made-up scenarios."""

from .dunlin import dunlin
from .redshank import redshank
from .tern import tern

DEMOS = {"tern": tern, "dunlin": dunlin, "redshank": redshank}

__all__ = ["DEMOS", "dunlin", "redshank", "tern"]
