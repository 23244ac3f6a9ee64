"""Paper and ink: colours, faces and the style sheet, light and dark."""

from .dressing import Plain, dress, dress_first, dress_in_turns, dresses, dressing, hold, put_off, wears
from .palette import DARK, LIGHT, Palette, current, mode, on_change, set_mode, verdict_colour
from .style import apply, face_file, larger, load_fonts, make_app, sans, sized

__all__ = [
    "DARK",
    "LIGHT",
    "Palette",
    "Plain",
    "apply",
    "current",
    "dress",
    "dress_first",
    "dress_in_turns",
    "dresses",
    "dressing",
    "face_file",
    "hold",
    "larger",
    "load_fonts",
    "make_app",
    "mode",
    "on_change",
    "put_off",
    "sans",
    "set_mode",
    "sized",
    "verdict_colour",
    "wears",
]  # fmt: skip
