"""The stage Wing."""

from .view import WingView

__all__ = ["WingView"]
