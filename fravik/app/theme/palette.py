"""The two palettes. Verdicts and zones keep their hue in both."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from PyQt6.QtCore import QObject, pyqtSignal


@dataclass(frozen=True)
class Palette:
    """Colours by what they mean, as #rrggbb."""

    paper: str
    card: str
    sunk: str
    ink: str
    rule: str
    muted: str
    rail: str
    rail_text: str
    rail_muted: str
    rail_pick: str
    accent: str
    holds: str
    tight: str
    fails: str
    unknown: str
    allowed: str
    denied: str
    wall: str
    cover: str
    core: str
    core_line: str
    carbon: str
    glass: str
    adhesive: str
    reserve: tuple[str, str, str, str, str]
    warm_card: str
    warm_rule: str


LIGHT = Palette(
    paper="#f5f1e8", card="#fffdf7", sunk="#f4efe4", ink="#1d2b2f", rule="#d5ccb9", muted="#626b69", rail="#1d2b2f",
    rail_text="#e9e4d8", rail_muted="#8d9a99", rail_pick="#f5f1e8", accent="#234f7d", holds="#1c7c72", tight="#b0760a",
    fails="#c8442b", unknown="#7c8684", allowed="#c3dfd8", denied="#d8d2c5", wall="#234f7d", cover="#7fa9cf", core="#e4d3a4",
    core_line="#b99c4f", carbon="#2a2a2a", glass="#b9d9c0", adhesive="#d99a2b",
    reserve=("#c8442b", "#d98c45", "#d9b35c", "#9fc0a0", "#4f9d92"), warm_card="#f6e6da", warm_rule="#e0bfa9",
)  # fmt: skip
DARK = Palette(
    paper="#162024", card="#1e2b30", sunk="#25343a", ink="#ece6d8", rule="#3b4a4f", muted="#9fa9a5", rail="#0f181b",
    rail_text="#d9d4c7", rail_muted="#7c8a8a", rail_pick="#26363c", accent="#8db8e0", holds="#4fb8a9", tight="#e0a63c",
    fails="#ee7559", unknown="#98a2a0", allowed="#28564f", denied="#3a464a", wall="#5b8fc7", cover="#a9c8e4", core="#8d7f57",
    core_line="#cdb271", carbon="#0b0b0b", glass="#6f9c7c", adhesive="#e5ae4c",
    reserve=("#ee7559", "#e29c58", "#dcbb6d", "#a8c9a9", "#5fb3a6"), warm_card="#33291f", warm_rule="#5d4836",
)  # fmt: skip


class _Switch(QObject):
    """Tells widgets of a switch; a widget that is gone is no longer told."""

    thrown = pyqtSignal()


_state: dict[str, Palette] = {"palette": LIGHT}
_switch = _Switch()


def current() -> Palette:
    """The palette in force."""
    return _state["palette"]


def mode() -> Literal["light", "dark"]:
    """Which palette is in force."""
    return "light" if current() is LIGHT else "dark"


def set_mode(name: str) -> None:
    """Switch palettes and tell every listener."""
    _state["palette"] = DARK if name == "dark" else LIGHT
    _switch.thrown.emit()


def on_change(call: Callable[[], None]) -> None:
    """Call a widget's method after every switch."""
    _switch.thrown.connect(call)


def verdict_colour(verdict: str) -> str:
    """Colour of a verdict."""
    p = current()
    return {"holds": p.holds, "tight": p.tight, "fails": p.fails}.get(verdict, p.unknown)
