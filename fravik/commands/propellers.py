"""Printed propellers: what they lift, and blades from readings."""

from __future__ import annotations

import argparse
import json

from .base import CommandError, load_project, written


def propeller(args: argparse.Namespace) -> int:
    """Print what every printed propeller lifts and how fast it may spin."""
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


def measured(args: argparse.Namespace) -> int:
    """Write a craft with a blade drawn from readings."""
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
    written(args, project)
    print(f"pitch {found.pitch_mm:.0f} mm at 70 % of the radius ({found.pitch_low_mm:.0f} to {found.pitch_high_mm:.0f})")
    for a in found.apart:
        print(f"reading {a.number} stands apart and is left out: {a.what} {a.off}")
    return 0
