"""Arms of bought bar."""

from .kind import BarArm

__all__ = ["BarArm"]
