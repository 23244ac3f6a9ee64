"""The Propeller stage."""

from .view import PropellerView

__all__ = ["PropellerView"]
