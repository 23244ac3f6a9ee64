"""Targets to margins, and the levers that move them."""
