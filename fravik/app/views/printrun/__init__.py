"""Print run: what lies on which batch, layer by layer, what will go wrong, and when it all comes off."""

from .view import PrintRunView

__all__ = ["PrintRunView"]
