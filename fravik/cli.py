"""The command line: fravik demo | open | new | evaluate | foresee | report | export | run | gcode | validate."""

from __future__ import annotations

import argparse
import io
import json
import math
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from fravik import __version__
from fravik.engine.exportable import PAPERS
from fravik.store.fileproblem import FileProblem

if TYPE_CHECKING:  # the engine loads when a command needs it
    from fravik.engine.evaluate import Engine
    from fravik.engine.results import Evaluation
    from fravik.engine.settled import Settled


class CommandError(Exception):
    """Ends a command with one line on stderr and exit code 2."""


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
    opened.add_argument("file", type=Path)
    new = sub.add_parser("new", help="make a whole craft from a few wishes")
    new.add_argument("layout", nargs="?", help="see --list")
    new.add_argument("--list", action="store_true", help="name the layouts")
    for what in ("motor-to-motor-mm", "propeller-mm", "bed-mm"):
        new.add_argument(f"--{what}", type=_positive, metavar="N")
    new.add_argument("--payload-g", type=_positive, metavar="N", default=0.0)
    new.add_argument("--body-g", type=_positive, metavar="N", help="weight of a bought body that holds the arms: no plates are printed")
    new.add_argument(
        "--arms",
        choices=("printed", "bar", "frame"),
        default="printed",
        help="arms that are printed, of bought bar in printed clamps, or of one piece with the middle",
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


def _evaluate(args: argparse.Namespace) -> tuple[Any, Any]:
    from fravik.engine.evaluate import Engine
    from fravik.engine.results import Refused

    engine = Engine()
    try:
        tune = getattr(args, "tune", None)
        edits = [*(args.edits or ()), *([f"tune.house={tune}"] if tune else ())]
        result = engine.evaluate(load_project(args.file, args.demo, edits))
        return engine, _with_corridor(engine, result)
    except Refused as err:
        raise CommandError("; ".join(f"{p.path}: {p.message}" for p in err.problems)) from None


def _with_corridor(engine: Engine, result: Evaluation) -> Evaluation:
    """Where a target asks for the corridor, with it: a command waits for what the window shows later."""
    from fravik.engine.aloft import CORRIDOR, answered_aloft

    return answered_aloft(engine, result) if any(t.metric == CORRIDOR for t in result.project.targets) else result


def _aloft(engine: Engine, result: Evaluation) -> dict[str, Any]:
    from fravik.kinds.wing.geometry import goes_over

    if not goes_over(result.project):
        return {}
    from fravik.engine.wingtables import aloft_data  # compiled code loads only for crafts that fly on a wing

    return aloft_data(engine, result)


def _cards(args: argparse.Namespace) -> int:
    from fravik.kinds.wing.geometry import goes_over
    from fravik.store import write_files

    engine, result = _evaluate(args)
    if not goes_over(result.project):
        raise CommandError("This craft has neither a wing nor rotors that tilt: there is nothing to go over to.")
    from fravik.engine.cardfiles import card_files

    for path in write_files(args.output, card_files(engine, result, args.paper), replace=args.replace):
        print(path)
    return 0


def margin_table(result: Any) -> str:
    """The margins as a text table."""
    from fravik.study.words import limit_text, spread_text, value_text

    rows = [(m.name, value_text(m), limit_text(m), m.verdict, spread_text(m)) for m in result.margins]
    widths = [max(len(r[i]) for r in rows) if rows else 0 for i in range(5)]
    return "\n".join("  ".join(c.ljust(w) for c, w in zip(r, widths, strict=True)).rstrip() for r in rows)


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
        engine, result = _evaluate(args)
        if args.json:
            from fravik.engine.foresee import foresight
            from fravik.engine.tables import as_data

            print(json.dumps(as_data(result) | _aloft(engine, result) | foresight(engine, result), indent=1, allow_nan=False))
        else:
            print(f"{result.project.name}: {result.craft.mass_g:.0f} g")
            print(margin_table(result))
            for p in result.problems:
                print(f"note  {p.path}: {p.message}")
        return 0
    if args.command == "propeller":
        return _measured(args) if args.measured is not None else _propeller(args)
    if args.command == "cards":
        return _cards(args)
    if args.command == "foresee":
        return _foresee(args)
    if args.command == "report":
        return _report(args)
    if args.command == "export":
        return _export(args)
    if args.command == "run":
        return _print_run(args)
    if args.command == "gcode":
        return _gcode(args)
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


def _laid(args: argparse.Namespace, engine: Engine, result: Evaluation) -> Settled | None:
    """The print run for the sheet; none, and the reason said, where the layers cannot be laid."""
    from fravik.engine.settle import settle

    if args.quick:
        return None
    try:
        return settle(engine, result.project)
    except ValueError as err:
        print(f"The sheet tells no batches: {err}", file=sys.stderr)
        return None


def _report(args: argparse.Namespace) -> int:
    from fravik.engine.sheetcontent import sheet_of
    from fravik.plan.sheet import sheet_html, sheet_pdf
    from fravik.store import write_file

    kind = args.output.suffix.lower()
    if kind not in (".pdf", ".html", ".htm"):
        raise CommandError(f"A sheet is .html or .pdf, not {args.output.suffix or args.output.name!r}.")
    engine, result = _evaluate(args)
    sheet = sheet_of(engine, result, _laid(args, engine, result))
    write_file(args.output, sheet_pdf(sheet, args.paper) if kind == ".pdf" else sheet_html(sheet, args.paper), replace=args.replace)
    print(args.output)
    return 0


def _export(args: argparse.Namespace) -> int:
    from fravik.engine.export import export_all
    from fravik.engine.exportable import KINDS

    engine, result = _evaluate(args)
    unknown = [p for p in args.part or () if p not in result.parts]
    if unknown:
        raise CommandError(f"There is no part {unknown[0]!r}; there is {', '.join(result.parts)}.")
    wrong = [k for k in args.kind or () if k not in KINDS]
    if wrong:
        raise CommandError(f"There is no file kind {wrong[0]!r}; there is {', '.join(KINDS)}.")
    kinds, parts = tuple(args.kind) if args.kind else KINDS, tuple(args.part) if args.part else None
    settled = _laid(args, engine, result) if any(k.startswith("sheet") for k in kinds) else None
    for path in export_all(engine, result, args.output, kinds, parts, args.replace, settled, args.paper):
        print(path)
    return 0


def _foresee(args: argparse.Namespace) -> int:
    from fravik.engine.foresee import as_text, finding_rows, foresee, run_findings
    from fravik.engine.settle import settle
    from fravik.study.findings import ranked

    engine, result = _evaluate(args)
    found = foresee(engine, result)
    if args.run:
        found = ranked((*found, *run_findings(settle(engine, result.project))))
    rows = finding_rows(engine, result, found)
    print(json.dumps(rows, indent=1, allow_nan=False) if args.json else f"{result.project.name}\n{as_text(rows)}")
    return 0


def _new(args: argparse.Namespace) -> int:
    from fravik.kinds.newcraft import Wish, sized
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
    arms = {"printed": "arm", "bar": "bar_arm", "frame": "frame"}[args.arms]
    wish = Wish(args.layout, args.motor_to_motor_mm, args.propeller_mm, args.bed_mm, args.payload_g, arms=arms, body_g=args.body_g)
    try:
        project = set_at(sized(wish), "name", args.name)
    except (ValueError, EditError) as err:
        raise CommandError(str(err)) from None
    _written(args, project)
    return 0


def _written(args: argparse.Namespace, project: Any) -> None:
    from fravik.store import create, project_to_json, write_file

    if args.output.suffix.lower() == ".json":
        write_file(args.output, project_to_json(project), replace=args.replace)
    else:
        create(args.output, project).close()
    print(args.output)


def _propeller(args: argparse.Namespace) -> int:
    from fravik.engine.evaluate import Engine
    from fravik.engine.propeller import propellers, sight_of
    from fravik.engine.propellertables import propeller_data, propeller_text
    from fravik.engine.results import Refused

    project = load_project(args.file, args.demo, args.edits or [])
    every = [p for p in propellers(project) if args.part in (None, p.id)]
    if not every:
        raise CommandError("This craft has no such printed propeller." if args.part else "This craft has no printed propeller.")
    engine = Engine()
    try:
        found = [sight_of(engine, project, p.id) for p in every]
    except Refused as err:
        raise CommandError("; ".join(f"{p.path}: {p.message}" for p in err.problems)) from None
    if args.json:
        print(json.dumps({"propellers": [propeller_data(s) for s in found]}, indent=1, allow_nan=False))
    else:
        print("\n\n".join(propeller_text(s) for s in found))
    return 0


def _measured(args: argparse.Namespace) -> int:
    from fravik.kinds.measuring import measured_part, tip_to_tip_mm
    from fravik.kinds.newcraft import Wish, sized
    from fravik.shape.measured import blade_from
    from fravik.store.readings import read_readings

    if args.output is None:
        raise CommandError("Say where the blade goes: -o FILE, a .fravik file or .json.")
    readings = read_readings(args.measured)
    wide = args.diameter_mm or tip_to_tip_mm(readings)
    try:
        found = blade_from(readings, wide / 2)
        base = sized(Wish(propeller_mm=wide), args.measured.stem)
        project = base.model_copy(update={"parts": (*base.parts, measured_part(base, readings, wide))})
    except ValueError as err:
        raise CommandError(str(err)) from None
    _written(args, project)
    print(f"pitch {found.pitch_mm:.0f} mm at 70 % of the radius ({found.pitch_low_mm:.0f} to {found.pitch_high_mm:.0f})")
    for a in found.apart:
        print(f"reading {a.number} stands apart and is left out: {a.what} {a.off}")
    return 0


def _print_run(args: argparse.Namespace) -> int:
    from fravik.engine.exportable import RUN_KINDS
    from fravik.engine.exportrun import export_run
    from fravik.engine.runtables import run_as_data, run_as_text
    from fravik.engine.settle import settle

    wrong = [k for k in args.kind or () if k not in RUN_KINDS]
    if wrong:
        raise CommandError(f"There is no file kind {wrong[0]!r}; there is {', '.join(RUN_KINDS)}.")
    engine, result = _evaluate(args)
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


def _gcode(args: argparse.Namespace) -> int:
    from fravik.engine.gcoderead import read_beside
    from fravik.engine.runtables import reading_as_text
    from fravik.model.run import batch_id
    from fravik.printing.gcode import GcodeError

    engine, result = _evaluate(args)
    try:
        print(reading_as_text(read_beside(engine, result.project, args.gcode, batch_id(args.batch))))
    except GcodeError as err:
        raise CommandError(f"{args.gcode.name}: {err}") from None
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
