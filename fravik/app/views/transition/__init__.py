"""The stage Transition."""

from .view import TransitionView

__all__ = ["TransitionView"]
