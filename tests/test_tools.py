"""What stands in tools/ still finds what it asks the product for."""

from __future__ import annotations

import ast
import importlib
from pathlib import Path

import numpy as np
import pytest

TOOLS = sorted((Path(__file__).parents[1] / "tools").rglob("*.py"))


@pytest.mark.parametrize("path", TOOLS, ids=lambda p: p.stem)
def test_what_a_tool_imports_is_there(path: Path) -> None:
    missing = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module and node.module.split(".")[0] in ("fravik", "tools"):
            module = importlib.import_module(node.module)
            for name in (a.name for a in node.names):
                if not hasattr(module, name):
                    try:
                        importlib.import_module(f"{node.module}.{name}")
                    except ImportError:
                        missing.append(f"{node.module}.{name}")
    assert missing == []


def test_random_designs_are_evaluated_or_refused_in_words() -> None:
    """A few of what the campaign runs by the thousand: every figure is finite, and nothing else comes out."""
    from tools.random_designs import try_designs

    seen, wrong = try_designs(41, 8)
    assert wrong == []
    assert seen["evaluated"] == 8


def test_times_are_read_at_one_pace_of_the_machine() -> None:
    from tools.pace import BOUNDS_PACE_MS, at_bounds_pace

    # half the pace in the second half of a run: the same work takes twice as long, and one workload stumbled
    paces = np.repeat([BOUNDS_PACE_MS, 2 * BOUNDS_PACE_MS], 10)
    times = paces * 4.0
    paces[3] *= 5
    assert at_bounds_pace(times, paces) == pytest.approx(4.0 * BOUNDS_PACE_MS)


@pytest.mark.parametrize("craft", ["tern", "redshank"])
def test_edits_for_the_speed_table_each_change_the_design(craft: str) -> None:
    from fravik.demo import DEMOS
    from fravik.model.paths import get_at, set_at
    from tools import windowbench

    project = DEMOS[craft]()
    for path, value in windowbench.edits_to_make(project, *{"tern": windowbench.TERN, "redshank": windowbench.REDSHANK}[craft], 12):
        assert get_at(project, path) != value
        project = set_at(project, path, value)
