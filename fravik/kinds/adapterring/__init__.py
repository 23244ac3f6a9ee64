"""Rings between a shaft and a hub."""

from .kind import AdapterRing

__all__ = ["AdapterRing"]
