"""Findings, print run and all that is written for printer and bench."""

from __future__ import annotations

import argparse
import json
import sys
from typing import TYPE_CHECKING

from .base import CommandError, evaluated

if TYPE_CHECKING:  # the engine loads when a command needs it
    from fravik.engine.evaluate import Engine
    from fravik.engine.results import Evaluation
    from fravik.engine.settled import Settled


def laid(args: argparse.Namespace, engine: Engine, result: Evaluation) -> Settled | None:
    """The print run for the sheet; none, and the reason said, where the layers cannot be laid."""
    from fravik.engine.settle import settle

    if args.quick:
        return None
    try:
        return settle(engine, result.project)
    except ValueError as err:
        print(f"The sheet tells no batches: {err}", file=sys.stderr)
        return None


def report(args: argparse.Namespace) -> int:
    """Write the sheet."""
    from fravik.engine.sheetcontent import sheet_of
    from fravik.plan.sheet import sheet_html, sheet_pdf
    from fravik.store import write_file

    kind = args.output.suffix.lower()
    if kind not in (".pdf", ".html", ".htm"):
        raise CommandError(f"A sheet is .html or .pdf, not {args.output.suffix or args.output.name!r}.")
    engine, result = evaluated(args)
    sheet = sheet_of(engine, result, laid(args, engine, result))
    write_file(args.output, sheet_pdf(sheet, args.paper) if kind == ".pdf" else sheet_html(sheet, args.paper), replace=args.replace)
    print(args.output)
    return 0


def export(args: argparse.Namespace) -> int:
    """Write meshes, sheet and tables into a folder."""
    from fravik.engine.export import export_all
    from fravik.engine.exportable import KINDS

    engine, result = evaluated(args)
    unknown = [p for p in args.part or () if p not in result.parts]
    if unknown:
        raise CommandError(f"There is no part {unknown[0]!r}; there is {', '.join(result.parts)}.")
    wrong = [k for k in args.kind or () if k not in KINDS]
    if wrong:
        raise CommandError(f"There is no file kind {wrong[0]!r}; there is {', '.join(KINDS)}.")
    kinds, parts = tuple(args.kind) if args.kind else KINDS, tuple(args.part) if args.part else None
    settled = laid(args, engine, result) if any(k.startswith("sheet") for k in kinds) else None
    for path in export_all(engine, result, args.output, kinds, parts, args.replace, settled, args.paper):
        print(path)
    return 0


def foreseen(args: argparse.Namespace) -> int:
    """Print what will go wrong."""
    from fravik.engine.foresee import as_text, finding_rows, foresee, run_findings
    from fravik.engine.settle import settle
    from fravik.study.findings import ranked

    engine, result = evaluated(args)
    found = foresee(engine, result)
    if args.run:
        found = ranked((*found, *run_findings(settle(engine, result.project))))
    rows = finding_rows(engine, result, found)
    print(json.dumps(rows, indent=1, allow_nan=False) if args.json else f"{result.project.name}\n{as_text(rows)}")
    return 0


def print_run(args: argparse.Namespace) -> int:
    """Lay all roads, print the plan, and write its files if asked."""
    from fravik.engine.exportable import RUN_KINDS
    from fravik.engine.exportrun import export_run
    from fravik.engine.runtables import run_as_data, run_as_text
    from fravik.engine.settle import settle

    wrong = [k for k in args.kind or () if k not in RUN_KINDS]
    if wrong:
        raise CommandError(f"There is no file kind {wrong[0]!r}; there is {', '.join(RUN_KINDS)}.")
    engine, result = evaluated(args)
    try:
        settled = settle(engine, result.project)
        print(json.dumps(run_as_data(settled), indent=1, allow_nan=False) if args.json else run_as_text(settled))
        if args.output:
            kinds = tuple(args.kind) if args.kind else RUN_KINDS
            for path in export_run(engine, result, settled, args.output, kinds, args.layer - 1 if args.layer else None, args.replace):
                print(path, file=sys.stderr if args.json else sys.stdout)
    except (ValueError, IndexError) as err:
        raise CommandError(str(err)) from None
    return 0


def gcode(args: argparse.Namespace) -> int:
    """Set a G-code file beside a batch."""
    from fravik.engine.gcoderead import read_beside
    from fravik.engine.runtables import reading_as_text
    from fravik.model.run import batch_id
    from fravik.printing.gcode import GcodeError

    engine, result = evaluated(args)
    try:
        print(reading_as_text(read_beside(engine, result.project, args.gcode, batch_id(args.batch))))
    except GcodeError as err:
        raise CommandError(f"{args.gcode.name}: {err}") from None
    return 0
