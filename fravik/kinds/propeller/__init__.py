"""Propellers of the maker's own."""

from .kind import OwnPropeller

__all__ = ["OwnPropeller"]
