"""Parts: how a part is shaped and printed, and what that makes of its strength."""

from .view import PartsView

__all__ = ["PartsView"]
