"""Demo projects, built by code from made-up scenarios."""

from .dunlin import dunlin
from .redshank import redshank
from .tern import tern
from .turnstone import turnstone
from .wren import wren

DEMOS = {"tern": tern, "dunlin": dunlin, "redshank": redshank, "wren": wren, "turnstone": turnstone}

__all__ = ["DEMOS", "dunlin", "redshank", "tern", "turnstone", "wren"]
