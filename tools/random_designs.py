"""Random valid designs through the whole live tier: ``python -m tools.random_designs --count 5000``.

Each is a demo or a new craft with up to eight fields of any kind set to values anywhere in their ranges, extremes included. Those that
the checks refuse in plain words are counted apart; any other exception, and any figure that is not finite, is printed and fails.
"""

from __future__ import annotations

import argparse
import sys
import traceback
import typing
from collections import Counter
from collections.abc import Iterator
from multiprocessing import Pool
from typing import Any, Literal, get_args, get_origin

import numpy as np
from pydantic import BaseModel

from fravik.demo import DEMOS, tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.kinds.freely import freed
from fravik.kinds.newcraft import project_for
from fravik.kinds.newpart import part_for
from fravik.kinds.rearm import ARMS, rearmed
from fravik.library import adhesives, carbon_stocks, facing_stocks, filaments, stock_materials
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project
from fravik.model.recipe import Carbon, Facing
from fravik.shape.stations import ARRANGEMENTS, arrangement

SKIPPED = {"id", "name", "purpose", "schema_version", "colour", "start_date", "note", "mesh", "source", "kind", "run", "shell"}
NAMED = {"filament": filaments, "carbon.stock": carbon_stocks, "facing.stock": facing_stocks, "adhesive": adhesives,
         "material": stock_materials, "spar_material": stock_materials}  # fmt: skip


def fields_of(node: BaseModel, at: str = "") -> Iterator[tuple[str, Any, Any]]:
    """(path, annotation, limits) of every settable field below a node."""
    for name, info in type(node).model_fields.items():
        if name in SKIPPED:
            continue
        value, path = getattr(node, name), f"{at}{name}"
        if isinstance(value, BaseModel):
            yield from fields_of(value, path + ".")
        elif isinstance(value, tuple):
            for item in value:
                if isinstance(item, BaseModel) and hasattr(item, "id"):
                    yield from fields_of(item, f"{path}.{item.id}.")
        else:
            limits = {k: getattr(m, k) for m in info.metadata for k in ("ge", "le") if hasattr(m, k)}
            yield path, info.annotation, limits


def random_value(path: str, kind: Any, limits: dict[str, Any], rng: np.random.Generator) -> Any:
    """A value anywhere in a field's range; None when the field has none to try."""
    name = next((k for k in NAMED if path == k or path.endswith("." + k)), None)
    if name is not None:
        return str(rng.choice(list(NAMED[name]())))
    options = [a for a in get_args(kind) if a is not type(None)]
    if get_origin(kind) is Literal:
        return get_args(kind)[int(rng.integers(len(get_args(kind))))]
    if get_origin(kind) in (typing.Union, type(int | None)) and options:
        kind = options[0]
    if kind is bool:
        return bool(rng.integers(2))
    low, high = limits.get("ge"), limits.get("le")
    if low is None or high is None or kind not in (int, float):
        return None
    spot = rng.random()
    if spot < 0.12:
        value = low
    elif spot < 0.24:
        value = high
    elif low > 0 and high / low > 20 and spot < 0.6:
        value = float(np.exp(rng.uniform(np.log(low), np.log(high))))
    else:
        value = float(rng.uniform(low, high))
    return round(value) if kind is int else value


def random_design(rng: np.random.Generator) -> Project | None:
    """A changed craft, or None when the model refuses the change."""
    spot, layout = rng.random(), str(rng.choice(list(ARRANGEMENTS)))
    new = project_for("new", float(rng.uniform(120, 700)), float(rng.uniform(60, 330)), 30.0, 200.0, layout)  # type: ignore[arg-type]
    base = tern() if spot < 0.25 else DEMOS[str(rng.choice(list(DEMOS)))]() if spot < 0.65 else new
    if rng.random() < 0.3:
        base = rearmed(base, str(rng.choice(list(ARMS))))
    if rng.random() < 0.15 and not arrangement(base.layout).coaxial and base.layout.kind != "free":
        base = set_many(base, freed(base))
    parts = list(base.parts)
    if rng.random() < 0.15:
        parts.pop(int(rng.integers(len(parts))))
    if rng.random() < 0.15:
        parts.append(
            part_for(str(rng.choice(["arm", "bottom", "top", "leg", "guard", "mount"])), base.model_copy(update={"parts": tuple(parts)}))
        )
    if rng.random() < 0.2 and parts:
        k = int(rng.integers(len(parts)))
        if parts[k].shape.kind in ("arm", "leg", "plate", "mount"):
            parts[k] = parts[k].model_copy(update={"facing": Facing(), "carbon": Carbon(stock="rod_2") if rng.random() < 0.5 else None})
    base = base.model_copy(update={"parts": tuple(parts)})
    plates = [k for k, m in stock_materials().items() if "plate" in m.forms]
    if rng.random() < 0.15 and parts:
        k = int(rng.integers(len(parts)))
        base = set_many(base, ((f"parts.{parts[k].id}.cut_from", str(rng.choice(plates))),))
    every = list(fields_of(base))
    edits = []
    for i in rng.choice(len(every), int(rng.integers(1, 9)), replace=False):
        value = random_value(*every[int(i)], rng)
        if value is not None:
            edits.append((every[int(i)][0], value))
    try:
        return set_many(base, tuple(edits))
    except EditError:
        return None


def not_finite(result: Evaluation) -> list[str]:
    """Names of figures that are not finite."""
    out = [m.name for m in result.margins for v in (m.value, m.low, m.high) if v is not None and not np.isfinite(v)]
    for what, of in (("power", result.power), *(("rotor", r) for r in result.power.rotors)):
        out += [f"{what} {k}" for k, v in vars(of).items() if isinstance(v, float) and not np.isfinite(v)]
    for k, m in result.members.items():
        for corner, answer in m.answers.items():
            if not (np.isfinite(answer.freqs_hz).all() and np.isfinite(answer.tip).all()):
                out.append(f"{k} answer at {corner}")
            if not all(np.isfinite(c.values).all() for c in m.copies[corner].values()):
                out.append(f"{k} reserves at {corner}")
    for k, p in result.plates.items():
        if not all(np.isfinite(c.values).all() for cs in p.cases.values() for c in cs.values()):
            out.append(f"{k} reserves")
    if result.whole is not None:
        felt = result.whole.shake.map
        out += [f"shake {n}" for n in ("gyro_dps", "gyro_g", "camera_px") if not np.isfinite(getattr(felt, n)).all()]
    if result.whole is not None and not (np.isfinite(result.whole.free.corners_hz).all() and np.isfinite(result.whole.rise_mm).all()):
        out.append("craft modes")
    if not (np.isfinite(result.craft.inertia_gmm2).all() and np.isfinite(result.craft.com_mm).all()):
        out.append("craft mass")
    return out


def try_designs(seed: int, count: int) -> tuple[Counter[str], list[str]]:
    """Outcomes, and what went wrong with its seed."""
    engine, seen, wrong = Engine(), Counter[str](), []
    tried = 0
    while seen["evaluated"] + seen["failed"] < count:
        here = np.random.default_rng((seed, tried))
        tried += 1
        project = random_design(here)
        if project is None:
            seen["not a craft"] += 1
            continue
        try:
            bad = not_finite(engine.evaluate(project))
        except Refused:
            seen["refused in words"] += 1
            continue
        except Exception as err:  # this is what the run is for
            bad = [f"{type(err).__name__}: {err} at {traceback.extract_tb(err.__traceback__)[-1]}"]
        seen["failed" if bad else "evaluated"] += 1
        wrong += [f"seed {seed}, design {tried - 1}: {b}" for b in bad]
    return seen, wrong


def main() -> int:
    """Run the designs and print what became of them."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=5000)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--processes", type=int, default=2)
    args = parser.parse_args()
    pieces = 8 * args.processes
    each = -(-args.count // pieces)
    total, wrong = Counter[str](), list[str]()
    with Pool(args.processes) as pool:
        for seen, bad in pool.starmap(try_designs, [(args.seed + k, each) for k in range(pieces)], chunksize=1):
            total += seen
            wrong += bad
    print(dict(total))
    print("\n".join(wrong[:40]))
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
