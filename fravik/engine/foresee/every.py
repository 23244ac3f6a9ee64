"""All findings of a design, from every source."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from fravik.engine.batchview import LIKELY
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.settled import GRAVE, Settled
from fravik.study.findings import Finding, Weight, ranked

from . import (
    access,
    aerials,
    aloft,
    balance,
    bay,
    compass,
    demands,
    disks,
    drive,
    heat,
    lens,
    pack,
    plugs,
    propeller,
    ring,
    shadow,
    shaken,
    standing,
    strength,
    warnings,
    wear,
    wind,
    wires,
)

Source = Callable[[Engine, Evaluation], Iterable[Finding]]
SOURCES: tuple[Source, ...] = (
    warnings.found, strength.found, demands.found, drive.found, pack.found, heat.found, balance.found, disks.found, bay.found, lens.found,
    standing.found, wind.found, balance.lost, compass.found, shadow.found, access.found, wires.found, aerials.found, plugs.found,
    ring.found, wear.found, shaken.found, propeller.found, aloft.found,
    aloft.over,
)  # fmt: skip

# those that take tenths of a second
LONG: tuple[Source, ...] = (ring.found, propeller.found, aloft.over)


def foresee(engine: Engine, result: Evaluation, way: bool = True) -> tuple[Finding, ...]:
    """What the live tier foresees of a design, heaviest first, without the ``way`` over if said; the same design is not gone through
    twice."""
    every = [k for k, source in enumerate(SOURCES) if way or source is not aloft.over]
    return ranked(f for k in every for f in from_source(engine, result, k))


def from_source(engine: Engine, result: Evaluation, number: int) -> tuple[Finding, ...]:
    """What one source tells: for who has other things to do between two of them."""
    return engine.memo.get("findings", (number, result.project), lambda: tuple(SOURCES[number](engine, result)))


def run_findings(settled: Settled) -> tuple[Finding, ...]:
    """What will go wrong in the print run as its roads are laid: with every part, and with the shelf."""
    out = [
        Finding(f"run:{p.path}:{k}", "likely", "Print run", p.path, "The shelf", p.message) for k, p in enumerate(settled.problems)
    ]  # fmt: skip
    names = {p.id: p.name for p in settled.project.parts}
    for part_id, job in settled.jobs.items():
        for t in job.troubles:
            weight: Weight = "grave" if t.weight >= GRAVE else "likely" if t.weight >= LIKELY else "worth knowing"
            out.append(Finding(f"print.{t.kind.replace(' ', '_')}:{part_id}", weight, "Print run", f"parts.{part_id}.laying",
                               names.get(part_id, part_id), f"{t.kind.capitalize()}: {t.text}.", "", t.cure))  # fmt: skip
    return ranked(out)


def weighty(found: Sequence[Finding], aside: Iterable[str] = ()) -> tuple[Finding, ...]:
    """Those that are grave or likely, and not set aside."""
    left = set(aside)
    return tuple(f for f in found if f.weight != "worth knowing" and f.id not in left)
