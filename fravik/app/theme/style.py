"""Faces and the style sheet."""

from __future__ import annotations

import re
import sys
import traceback
from functools import cache
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QFontDatabase
from PyQt6.QtWidgets import QApplication

from fravik.app.housekeeping import one_heap

from .palette import DARK, LIGHT, mode

_FACE = "B612"
# the window's text as it was drawn, and how far it follows a system whose own is larger
USUAL_PT, LARGEST_PT = 9.0, 12.0
_text_pt = USUAL_PT


def make_app(arguments: list[str]) -> QApplication:
    """The application with our faces and colours; siblings of the 3D surface stay ordinary widgets, which paint faster."""
    one_heap()
    QApplication.setAttribute(Qt.ApplicationAttribute.AA_DontCreateNativeWidgetSiblings)
    # without a hook of our own, a fault in a slot would end the process and the maker's session with it
    sys.excepthook = traceback.print_exception
    app = QApplication(arguments)
    app.setApplicationName("Fravik")
    load_fonts()
    follow_system(app)
    apply(app)
    return app


def follow_system(app: QApplication) -> None:
    """Text as much larger than usual as the system's own is; before anything is shown, and before the text face takes its place."""
    global _text_pt
    _text_pt = min(max(app.font().pointSizeF(), USUAL_PT), LARGEST_PT)


def larger() -> float:
    """How many times as large as usual text is, and what is as high as it."""
    return _text_pt / USUAL_PT


def sized(px: float) -> int:
    """As many pixels, for what holds text."""
    return round(px * larger())


def load_fonts() -> None:
    """Register the bundled faces."""
    folder = resources.files("fravik.app.theme").joinpath("fonts")
    for item in folder.iterdir():
        if item.name.endswith(".otf"):
            QFontDatabase.addApplicationFontFromData(item.read_bytes())


def sans(size: float = 9.0, bold: bool = False) -> QFont:
    """The text face."""
    font = QFont(_FACE)
    font.setPointSizeF(size * larger())
    font.setBold(bold)
    return font


def face_file() -> str:
    """Path of the bundled text face, for pictures drawn outside the tool kit."""
    return str(Path(__file__).parent / "fonts" / "B612-Regular.otf")


def style_sheet() -> str:
    """The style sheet of the palette in force."""
    return _sheet(mode(), _text_pt)


def style_sheet_alone(kinds: tuple[str, ...]) -> str:
    """What of the style sheet matters to a widget of these kinds, its own and those it is derived from, that holds no other."""
    return _part(mode(), _text_pt, kinds)


@cache
def _part(of: str, text_pt: float, kinds: tuple[str, ...]) -> str:
    rules = re.findall(r"[^{}]+{[^{}]*}", _sheet(of, text_pt))
    return "".join(r for r in rules if r.lstrip().startswith("*") or any(re.search(rf"\b{k}\b", r.split("{")[0]) for k in kinds))


@cache
def _sheet(of: str, text_pt: float) -> str:
    p = DARK if of == "dark" else LIGHT
    small, heading, title = (text_pt * part / USUAL_PT for part in (8, 10, 11))
    folder = Path(__file__).parent.as_posix()
    return f"""
* {{ font-family: "B612"; font-size: {text_pt:g}pt; color: {p.ink}; }}
QDialog {{ background: {p.paper}; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
QLabel {{ background: transparent; }}
QLabel#title {{ font-size: {title:g}pt; font-weight: bold; }}
QLabel#heading {{ font-size: {heading:g}pt; font-weight: bold; }}
QLabel#bold {{ font-weight: bold; }}
QLabel#muted {{ color: {p.muted}; }}
QLabel#small {{ color: {p.muted}; font-size: {small:g}pt; }}
QLabel#figureMuted {{ color: {p.muted}; }}
QLabel#problem {{ color: {p.fails}; font-size: {small:g}pt; }}
QLabel#caution {{ color: {p.tight}; font-size: {small:g}pt; }}
QLineEdit, QComboBox, QPlainTextEdit {{ background: {p.sunk}; border: 1px solid {p.rule}; border-radius: 4px; padding: 2px 6px;
  selection-background-color: {p.accent}; selection-color: {p.card}; }}
QLineEdit[wrong="true"] {{ border: 1px solid {p.fails}; }}
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border: 1px solid {p.accent}; }}
QComboBox::drop-down {{ border: none; width: 18px; }}
QComboBox::down-arrow {{ image: url("{folder}/chevron-{of}.svg"); width: 10px; height: 10px; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {p.rule}; border-radius: 3px; background: {p.sunk}; }}
QCheckBox::indicator:checked {{ background: {p.accent}; border-color: {p.accent}; image: url("{folder}/tick-{of}.svg"); }}
QCheckBox::indicator:focus {{ border-color: {p.accent}; }}
QComboBox QAbstractItemView {{ background: {p.card}; border: 1px solid {p.rule}; selection-background-color: {p.accent};
  selection-color: {p.card}; outline: none; }}
QTreeWidget {{ background: {p.card}; border: none; outline: none; }}
QTreeWidget::item {{ padding: 1px 0; border: none; }}
QTreeWidget::item:hover {{ background: {p.sunk}; }}
QTreeWidget::item:selected {{ background: {p.sunk}; color: {p.ink}; }}
QTreeWidget::branch {{ background: transparent; border-image: none; image: none; }}
QPushButton {{ background: {p.sunk}; border: 1px solid {p.rule}; border-radius: 4px; padding: 3px 10px; }}
QPushButton:hover {{ border-color: {p.accent}; }}
QPushButton:focus {{ border: 1px solid {p.accent}; }}
QPushButton:checked {{ background: {p.ink}; color: {p.card}; border-color: {p.ink}; }}
QPushButton:disabled {{ color: {p.muted}; border-color: {p.rule}; }}
QPushButton#strong {{ background: {p.accent}; color: {p.card}; border-color: {p.accent}; }}
QPushButton#pin {{ padding: 0; }}
QPushButton#quiet {{ background: transparent; border: none; padding: 2px 6px; color: {p.muted}; }}
QPushButton#quiet:hover {{ color: {p.ink}; }}
QToolButton {{ background: {p.sunk}; border: 1px solid {p.rule}; border-radius: 3px; padding: 0 3px; }}
QToolButton:hover {{ border-color: {p.accent}; }}
QToolButton:checked {{ background: {p.card}; border: 2px solid {p.accent}; }}
QToolButton#fold, QToolButton#fold:checked {{ background: transparent; border: none; }}
QToolButton#fold:focus {{ border: 1px solid {p.accent}; }}
QTabWidget::pane {{ border: none; }}
QListWidget, QTextBrowser {{ background: {p.card}; border: 1px solid {p.rule}; border-radius: 4px; padding: 4px; }}
QListWidget::item {{ padding: 2px 4px; }}
QListWidget::item:selected {{ background: {p.accent}; color: {p.card}; }}
QTabBar {{ background: transparent; }}
QTabWidget#near QTabBar::tab {{ padding-left: 5px; padding-right: 5px; }}
QTabBar::tab {{ background: transparent; color: {p.muted}; padding: 4px 8px; border-bottom: 2px solid transparent; }}
QTabBar::tab:selected {{ color: {p.ink}; border-bottom: 2px solid {p.accent}; }}
QTabBar::tab:focus {{ color: {p.accent}; }}
QScrollBar:vertical {{ background: transparent; width: 8px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {p.rule}; border-radius: 4px; min-height: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar:horizontal {{ background: transparent; height: 8px; }}
QScrollBar::handle:horizontal {{ background: {p.rule}; border-radius: 4px; }}
QMenuBar, QMenu {{ background: {p.card}; border: none; }}
QMenu {{ border: 1px solid {p.rule}; }}
QMenuBar::item:selected, QMenu::item:selected {{ background: {p.accent}; color: {p.card}; }}
QMenu::item:disabled {{ color: {p.muted}; }}
QToolTip {{ background: {p.ink}; color: {p.card}; border: none; padding: 4px; }}
QProgressBar {{ background: {p.sunk}; border: 1px solid {p.rule}; border-radius: 3px; height: 6px; text-align: center; }}
QProgressBar::chunk {{ background: {p.accent}; border-radius: 2px; }}
QTableWidget {{ background: transparent; border: none; gridline-color: {p.rule}; alternate-background-color: {p.sunk}; }}
QTableWidget::item:selected {{ background: {p.allowed}; color: {p.ink}; }}
QHeaderView, QHeaderView::section, QTableCornerButton::section {{ background: {p.card}; color: {p.muted}; border: none; }}
QHeaderView::section {{ background: transparent; color: {p.muted}; border: none; border-bottom: 1px solid {p.rule}; padding: 2px 6px; }}
QSplitter::handle {{ background: transparent; }}
"""


def apply(app: QApplication) -> None:
    """The text face for everything."""
    app.setFont(sans())
