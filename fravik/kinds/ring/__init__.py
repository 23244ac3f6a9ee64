"""Rings between a shaft and a hub."""

from .kind import Ring

__all__ = ["Ring"]
