"""Decks on standoffs."""

from .kind import Deck

__all__ = ["Deck"]
