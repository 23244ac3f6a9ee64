"""The step cards as files."""

from __future__ import annotations

from fravik.plan.fieldcards import Card, cards_html, cards_pdf

from .evaluate import Engine
from .export import craft_stem
from .results import Evaluation
from .stepcards import GENERAL, step_cards
from .transition import transition_sight

WORDS = {"done": "done", "next": "next", "open": "open", "stopped": "stopped", "barred": "barred"}


def card_files(engine: Engine, result: Evaluation, paper: str = "a4") -> dict[str, str | bytes]:
    """HTML and PDF; nothing for a craft that goes over to nothing."""
    s = transition_sight(engine, result)
    if s is None:
        return {}
    project = result.project
    cards = [Card(k + 1, c.title, c.enter, c.do, c.watch, c.stop, WORDS[c.standing], c.barred, c.note)
             for k, c in enumerate(step_cards(s, project.flying.steps, project.components.battery.cells))]  # fmt: skip
    stem = craft_stem(project.name)
    return {
        f"{stem}-cards.html": cards_html(project.name, GENERAL, cards),
        f"{stem}-cards.pdf": cards_pdf(project.name, GENERAL, cards, paper),
    }
