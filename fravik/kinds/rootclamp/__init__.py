"""The clamps that hold bar arms between the plates."""

from .kind import RootClamp

__all__ = ["RootClamp"]
