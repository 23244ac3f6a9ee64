"""Demo projects, built by code from made-up scenarios."""

from .dunlin import dunlin
from .redshank import redshank
from .ruff import ruff
from .tern import tern
from .turnstone import turnstone
from .wheatear import wheatear
from .whimbrel import whimbrel
from .wren import wren

DEMOS = {"tern": tern, "dunlin": dunlin, "redshank": redshank, "wren": wren, "turnstone": turnstone, "whimbrel": whimbrel,
         "wheatear": wheatear, "ruff": ruff}  # fmt: skip

__all__ = ["DEMOS", "dunlin", "redshank", "ruff", "tern", "turnstone", "wheatear", "whimbrel", "wren"]
