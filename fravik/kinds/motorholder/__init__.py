"""The blocks that hold motors on bar arms."""

from .kind import MotorHolder

__all__ = ["MotorHolder"]
