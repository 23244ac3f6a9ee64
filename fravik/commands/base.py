"""What commands share: which project, evaluated, and where it is written."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import TYPE_CHECKING, Any

from fravik.store.fileproblem import FileProblem

if TYPE_CHECKING:  # the engine loads when a command needs it
    from fravik.engine.evaluate import Engine
    from fravik.engine.results import Evaluation


class CommandError(Exception):
    """Ends a command with one line on stderr and exit code 2."""


def load_project(file: Path | None, demo: str | None, edits: list[str]) -> Any:
    """The project a command is about, with edits applied. Raises CommandError."""
    from fravik.demo import DEMOS
    from fravik.model.paths import EditError, set_at
    from fravik.store import open_file, read_json_file

    if (file is None) == (demo is None):
        raise CommandError("Name either a project file or --demo NAME.")
    if demo is not None:
        if demo not in DEMOS:
            raise CommandError(f"There is no demo {demo!r}; there is {', '.join(DEMOS)}.")
        project = DEMOS[demo]()
    else:
        assert file is not None
        try:
            project = read_json_file(file) if file.suffix.lower() == ".json" else open_file(file)[1]
        except FileProblem as err:
            raise CommandError(str(err)) from None
    for edit in edits:
        path, sign, text = edit.partition("=")
        if not sign:
            raise CommandError(f"--set needs PATH=VALUE, got {edit!r}.")
        try:
            value: Any = json.loads(text)
        except (ValueError, RecursionError):
            value = text
        try:
            project = set_at(project, path.strip(), value)
        except EditError as err:
            raise CommandError(f"{path}: {err}") from None
    return project


def evaluated(args: argparse.Namespace) -> tuple[Any, Any]:
    """The engine and the project a command is about, evaluated. Raises CommandError."""
    from fravik.engine.evaluate import Engine
    from fravik.engine.results import Refused

    engine = Engine()
    try:
        tune = getattr(args, "tune", None)
        edits = [*(args.edits or ()), *([f"tune.house={tune}"] if tune else ())]
        result = engine.evaluate(load_project(args.file, args.demo, edits))
        return engine, with_corridor(engine, result)
    except Refused as err:
        raise CommandError("; ".join(f"{p.path}: {p.message}" for p in err.problems)) from None


def with_corridor(engine: Engine, result: Evaluation) -> Evaluation:
    """Where a target asks for the corridor, with it: a command waits for what the window shows later."""
    from fravik.engine.aloft import CORRIDOR, answered_aloft

    return answered_aloft(engine, result) if any(t.metric == CORRIDOR for t in result.project.targets) else result


def margin_table(result: Any) -> str:
    """The margins as a text table."""
    from fravik.study.words import limit_text, spread_text, value_text

    rows = [(m.name, value_text(m), limit_text(m), m.verdict, spread_text(m)) for m in result.margins]
    widths = [max(len(r[i]) for r in rows) if rows else 0 for i in range(5)]
    return "\n".join("  ".join(c.ljust(w) for c, w in zip(r, widths, strict=True)).rstrip() for r in rows)


def written(args: argparse.Namespace, project: Any) -> None:
    """Write a project where the command says, and print where."""
    from fravik.store import create, project_to_json, write_file

    if args.output.suffix.lower() == ".json":
        write_file(args.output, project_to_json(project), replace=args.replace)
    else:
        create(args.output, project).close()
    print(args.output)
