"""Body plates."""

from .kind import Plate

__all__ = ["Plate"]
