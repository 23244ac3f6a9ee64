"""Landing legs."""

from .kind import Leg

__all__ = ["Leg"]
