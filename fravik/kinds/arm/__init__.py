"""Arms."""

from .kind import Arm

__all__ = ["Arm"]
