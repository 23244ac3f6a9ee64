"""Propeller guards."""

from .kind import Guard

__all__ = ["Guard"]
