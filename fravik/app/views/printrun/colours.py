"""Colours of roads by what they are, and their key."""

from __future__ import annotations

from PyQt6.QtGui import QColor

from fravik.app import theme


def mixed(a: str, b: str, share: float) -> QColor:
    """A colour between two."""
    x, y = QColor(a), QColor(b)
    return QColor.fromRgbF(*(p + (q - p) * share for p, q in zip(x.getRgbF()[:3], y.getRgbF()[:3], strict=True)))


def feature_colour(name: str) -> QColor:
    """The colour of a kind of road or of other time."""
    c = theme.current()
    return {
        "outline": QColor(c.wall),
        "wall": mixed(c.wall, c.cover, 0.55),
        "gap": QColor(c.adhesive),
        "cover": QColor(c.cover),
        "bridge": QColor(c.fails),
        "core": QColor(c.core_line),
        "support": QColor(c.glass),
        "cap": mixed(c.glass, c.holds, 0.6),
        "hem": QColor(c.muted),
        "travel and lifts": QColor(c.rule),
        "warm-up": mixed(c.rule, c.muted, 0.5),
    }.get(name, QColor(c.muted))
