"""The page of each stage, made on first need. Those that bring in what takes long to fetch import it only then."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from fravik.app.views.airframe import AirframeView
from fravik.app.views.brief import BriefView
from fravik.app.views.parts import PartsView
from fravik.app.views.vibration import VibrationView

if TYPE_CHECKING:
    from fravik.app.window import MainWindow

# what is to be fetched before the page is made, so that it can be fetched beside the window
COME_FROM = {"Propeller": "fravik.app.views.propeller", "Wing": "fravik.app.views.wing", "Transition": "fravik.app.views.transition",
             "Print run": "fravik.app.views.printrun"}  # fmt: skip


def stage_page(window: MainWindow, name: str) -> QWidget:
    """A stage's page for the window's craft. Raises KeyError for a stage that there is not."""
    session = window.session
    if name == "Brief":
        return BriefView(session, window.settler)
    if name == "Airframe":
        airframe = AirframeView(session)
        airframe.part_clicked.connect(window.open_part)
        return airframe
    if name == "Parts":
        return PartsView(session, window.settler)
    if name == "Vibration":
        return VibrationView(session)
    return _fetched_page(window, name)


def _fetched_page(window: MainWindow, name: str) -> QWidget:
    if name == "Propeller":
        from fravik.app.views.propeller import PropellerView

        return PropellerView(window.session)
    if name == "Wing":
        from fravik.app.views.wing import WingView

        return WingView(window.session)
    if name == "Transition":
        from fravik.app.views.transition import TransitionView

        return TransitionView(window.session)
    if name == "Print run":
        from fravik.app.views.printrun import PrintRunView

        run = PrintRunView(window.session, window.settler)
        run.export_asked.connect(window.ask_export_run)
        run.gcode_asked.connect(window.ask_gcode)
        return run
    raise KeyError(name)
