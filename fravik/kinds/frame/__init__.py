"""Frame plates: middle and arms in one piece."""

from .kind import Frame, FrameArm

__all__ = ["Frame", "FrameArm"]
