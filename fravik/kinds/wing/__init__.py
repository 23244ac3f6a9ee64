"""Panels of wings, tails and fins."""

from .kind import Wing

__all__ = ["Wing"]
