"""Paper and ink: colours, faces and the style sheet, light and dark."""

from .palette import DARK, LIGHT, Palette, current, mode, on_change, set_mode, verdict_colour
from .style import apply, dress, face_file, load_fonts, make_app, mono, sans

__all__ = [
    "DARK", "LIGHT", "Palette", "apply", "current", "dress", "face_file", "load_fonts", "make_app", "mode", "mono", "on_change", "sans",
    "set_mode", "verdict_colour",
]  # fmt: skip
