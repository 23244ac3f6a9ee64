"""What stands in tools/ still finds what it asks the product for."""

from __future__ import annotations

import ast
import importlib
from pathlib import Path

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
