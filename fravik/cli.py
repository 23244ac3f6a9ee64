"""The command line: fravik demo | open | new | evaluate | foresee | report | export | run | gcode | validate."""

from __future__ import annotations

import argparse
import io
import json
import math
import sys
from pathlib import Path
from typing import NoReturn

from fravik import __version__
from fravik.commands.aloft import aloft_of, cards
from fravik.commands.base import CommandError, evaluated, margin_table, written
from fravik.commands.files import export, foreseen, gcode, print_run, report
from fravik.commands.propellers import measured, propeller
from fravik.engine.exportable import PAPERS
from fravik.store.fileproblem import FileProblem


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise CommandError(message)


def _counted(text: str) -> int:
    """A number from 1 on."""
    if not text.isascii() or not text.isdigit() or len(text) > 9 or int(text) < 1:
        raise argparse.ArgumentTypeError(f"{text[:20]!r} is no layer: they are counted from 1")
    return int(text)


def _positive(text: str) -> float:
    """A number over zero."""
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not 0.0 < value < 1e6:
        raise argparse.ArgumentTypeError(f"{text[:20]!r} is no number over zero")
    return value


def _parser() -> argparse.ArgumentParser:
    top = _Parser(prog="fravik", description="A workbench for printed drone airframes.")
    top.add_argument("--version", action="version", version=f"fravik {__version__}")
    sub = top.add_subparsers(dest="command", required=True, parser_class=_Parser)
    demo = sub.add_parser("demo", help="open the window on a demo craft")
    demo.add_argument("name", nargs="?", default="tern")
    opened = sub.add_parser("open", help="open the window on a project file")
    opened.add_argument("file", type=Path, help="a .fravik file, or a project as .json")
    new = sub.add_parser("new", help="make a whole craft from a few wishes")
    new.add_argument("layout", nargs="?", help="see --list")
    new.add_argument("--list", action="store_true", help="name the layouts")
    for what in ("motor-to-motor-mm", "propeller-mm", "bed-mm"):
        new.add_argument(f"--{what}", type=_positive, metavar="N")
    new.add_argument("--payload-g", type=_positive, metavar="N", default=0.0)
    new.add_argument("--body-g", type=_positive, metavar="N", help="weight of a bought body that holds the arms: no plates are printed")
    new.add_argument(
        "--arms",
        choices=("any", "printed", "bar", "frame"),
        default="any",
        help="arms that are printed, of bought bar in printed clamps, or of one piece with the middle; any: what fits",
    )
    new.add_argument("--name", default="New craft")
    new.add_argument("-o", "--output", type=Path, metavar="FILE", help="a .fravik file, or .json")
    new.add_argument("--replace", action="store_true", help="a .json file of the same name may be replaced")

    def source(name: str, text: str) -> argparse.ArgumentParser:
        p = sub.add_parser(name, help=text)
        p.add_argument("file", nargs="?", type=Path, help="a .fravik file, or a project as .json")
        p.add_argument("--demo", metavar="NAME")
        p.add_argument("--set", action="append", default=[], metavar="PATH=VALUE", dest="edits",
                       help="change a field before evaluating, e.g. parts.arm.shape.root_height_mm=11")  # fmt: skip
        return p

    ev = source("evaluate", "print the margins")
    ev.add_argument("--json", action="store_true")
    ev.add_argument("--tune", choices=("easy", "usual", "keen"), help="judge the controller's loop under a house tune")
    fs = source("foresee", "print what will go wrong, and the cures that were tried")
    fs.add_argument("--json", action="store_true")
    fs.add_argument("--run", action="store_true", help="lay all roads as well, and say what goes wrong in the print run")
    rep = source("report", "write the sheet that lies beside the printer (.html or .pdf)")
    rep.add_argument("-o", "--output", type=Path, default=Path("sheet.html"))
    ex = source("export", "write STL, 3MF, sheet, CSV and JSON into a folder")
    ex.add_argument("-o", "--output", type=Path, default=Path("out"))
    ex.add_argument("--part", action="append", metavar="ID", help="only this part's meshes (repeatable)")
    ex.add_argument("--kind", action="append", metavar="KIND")
    run = source("run", "lay all roads and plan the print run: batches, troubles, schedule")
    run.add_argument("--json", action="store_true")
    run.add_argument("-o", "--output", type=Path, help="also write batches, layers and schedule into this folder")
    run.add_argument("--kind", action="append", metavar="KIND")
    run.add_argument("--layer", type=_counted, metavar="N", help="the layer whose roads are written, counted from 1")
    for told in (rep, ex):
        told.add_argument("--paper", choices=PAPERS, default="a4")
        told.add_argument("--quick", action="store_true", help="lay no layers: the sheet then tells no batches")
    for writes in (rep, ex, run):
        writes.add_argument("--replace", action="store_true", help="files of the same name may be replaced")
    gc = source("gcode", "read a G-code file and set it beside a batch of the plan")
    gc.add_argument("--gcode", type=Path, required=True, metavar="FILE")
    gc.add_argument("--batch", "--plate", dest="batch", default="batch 1", metavar="BATCH")
    prop = source("propeller", "what a printed propeller lifts, and how fast it may spin; or make one from readings")
    prop.add_argument("--json", action="store_true")
    prop.add_argument("--part", metavar="ID", help="only this propeller")
    prop.add_argument("--measured", type=Path, metavar="CSV", help="readings along a blade, to draw one from")
    prop.add_argument("--diameter-mm", type=_positive, metavar="N", help="of the measured propeller, tip to tip")
    prop.add_argument("-o", "--output", type=Path, metavar="FILE", help="a .fravik file, or .json, with the blade that was measured")
    prop.add_argument("--replace", action="store_true", help="a .json file of the same name may be replaced")
    cards = source("cards", "write the step cards from bench to forward flight and back")
    cards.add_argument("-o", "--output", type=Path, default=Path("cards"), metavar="FOLDER")
    cards.add_argument("--paper", choices=PAPERS, default="a4")
    cards.add_argument("--replace", action="store_true", help="files of the same name may be replaced")
    val = sub.add_parser("validate", help="run the reference checks")
    val.add_argument("--json", action="store_true")
    val.add_argument("--write", type=Path, metavar="FILE", help="also write the table as Markdown")
    return top


def _run(args: argparse.Namespace) -> int:
    if args.command in ("demo", "open"):
        from fravik.demo import DEMOS

        if args.command == "demo" and args.name not in DEMOS:
            raise CommandError(f"There is no demo {args.name!r}; there is {', '.join(DEMOS)}.")
        from fravik.app.main import run

        return run(demo=args.name if args.command == "demo" else None, file=getattr(args, "file", None))
    if args.command == "new":
        return _new(args)
    if args.command == "evaluate":
        engine, result = evaluated(args)
        if args.json:
            from fravik.engine.foresee import foresight
            from fravik.engine.tables import as_data

            print(json.dumps(as_data(result) | aloft_of(engine, result) | foresight(engine, result), indent=1, allow_nan=False))
        else:
            print(f"{result.project.name}: {result.craft.mass_g:.0f} g")
            print(margin_table(result))
            for p in result.problems:
                print(f"note  {p.path}: {p.message}")
        return 0
    if args.command == "propeller":
        return measured(args) if args.measured is not None else propeller(args)
    if args.command == "cards":
        return cards(args)
    if args.command == "foresee":
        return foreseen(args)
    if args.command == "report":
        return report(args)
    if args.command == "export":
        return export(args)
    if args.command == "run":
        return print_run(args)
    if args.command == "gcode":
        return gcode(args)
    from fravik.engine.validate import as_markdown, as_table, run_checks

    checks = run_checks()
    if args.json:
        print(json.dumps([c.as_data() for c in checks], indent=1))
    else:
        print(as_table(checks))
    if args.write:
        from fravik.store import write_file

        write_file(args.write, as_markdown(checks))
    return 0 if all(c.passed for c in checks) else 1


def _new(args: argparse.Namespace) -> int:
    from fravik.engine.evaluate import Engine
    from fravik.engine.firstdesign import grown_words, made_to_hold
    from fravik.kinds.armschoice import ANY, WHY, with_arms
    from fravik.kinds.newcraft import Wish, off_bed
    from fravik.model.paths import EditError, set_at
    from fravik.shape.stations import ARRANGEMENTS

    if args.list:
        for key, a in ARRANGEMENTS.items():
            print(f"{key:12} {a.name}: {a.about}")
        return 0
    if args.layout not in ARRANGEMENTS:
        raise CommandError(f"There is no layout {args.layout or ''!r}; there is {', '.join(ARRANGEMENTS)}.")
    if args.output is None:
        raise CommandError("Name the file to write with -o FILE.")
    arms = {"any": ANY, "printed": "arm", "bar": "bar_arm", "frame": "frame"}[args.arms]
    wish = Wish(args.layout, args.motor_to_motor_mm, args.propeller_mm, args.bed_mm, args.payload_g, arms=arms, body_g=args.body_g)
    try:
        served, made = with_arms(wish)
        proportioned = set_at(made, "name", args.name)
    except (ValueError, EditError) as err:
        raise CommandError(str(err)) from None
    project = made_to_hold(proportioned, Engine())
    written(args, project)
    chosen = WHY.get(served.arms, "") if args.arms == "any" else ""
    for words in (chosen, grown_words(proportioned, project), off_bed(project)):
        if words:
            print(words, file=sys.stderr)
    return 0


def main(argv: list[str] | None = None) -> int:
    """Run a command; errors are one line on stderr and exit code 2."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")  # a terminal that only knows ASCII still shows the rest
    try:
        return _run(_parser().parse_args(argv))
    except CommandError as err:
        print(f"fravik: {' '.join(str(err).split())}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 2
    except FileProblem as err:
        print(f"fravik: {err}", file=sys.stderr)
        return 2
    except OSError as err:
        print(f"fravik: {err.strerror or err}{f': {err.filename}' if err.filename else ''}", file=sys.stderr)
        return 2
    except Exception as err:  # a fault is still one line, with its kind for the report
        print(f"fravik: this should not have happened ({type(err).__name__}: {' '.join(str(err).split())})", file=sys.stderr)
        return 2


if __name__ == "__main__":
    sys.exit(main())
