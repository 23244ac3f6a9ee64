"""What gets too hot: motors in hover and at full throttle, boards in flight and at a standstill on the bench.

Working assumptions: a board of which no limit is given stands BOARD_C; one that draws less than LEAST_W is not looked at; a wait on the
bench lasts up to BENCH_S.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from fravik.engine.drivetrain import RotorDrive
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds.around import stations
from fravik.kinds.drives import drives
from fravik.model.craft import Block
from fravik.model.material import Spread
from fravik.power.heat import BURNS_C, BURST_S, COOLING, WINDING_OHM, board_network, wash_m_s
from fravik.power.thermal import seconds_to, steady_c
from fravik.study.findings import Cure, Finding

from .drive import train_of

BOARD_C, LEAST_W, BENCH_S, SOON_S = 85.0, 1.5, 1200.0, 300.0


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing where the flight is not judged."""
    if result.scope.flight:
        return
    told = set()
    for r in sorted(train_of(engine, result).rotors, key=lambda r: -r.hottest_c.typical):
        if r.drive not in told:
            told.add(r.drive)
            yield from _motor(result, r)
    for block in result.project.components.blocks:
        yield from _board(result, block)


def _motor(result: Evaluation, r: RotorDrive) -> Iterable[Finding]:
    stands, hot = r.drive.motor.hottest_c, r.hottest_c
    if hot.high <= stands:
        return
    buzz = r.buzz_c is not None and r.buzz_c.typical > r.hover_c.typical + 5.0
    buzzes = f", {warm(r.buzz_c.typical)} with what the gyro's buzz makes the controller do" if buzz and r.buzz_c is not None else ""
    side = next(s.side for s in stations(result.project) if s.id == r.station)
    at, prop = f"{r.drive.path}.", r.drive.propeller
    smaller = round(prop.diameter_mm * 0.92, 1)
    yield Finding(
        f"heat.motor:{r.drive.path}", "grave" if hot.typical > stands else "likely", "Airframe", f"{at}motor.hottest_c",
        f"The {side} motor",
        "Its winding gets too hot: lacquer chars and magnets let go." if hot.typical > stands else "Its winding may get too hot.",
        f"{r.hover_c.typical:.0f} °C in long hover{buzzes}, {warm(r.burst_c.typical)} after {BURST_S:.0f} s of full throttle; "
        f"{warm(hot.low)} to {warm(hot.high)} with how well air gets to it. It stands {stands:.0f} °C.",
        ("Balance the propellers, or a lower filter in the tune. " if buzz else "") + "Feel the motors after ten seconds, propellers "
        "stopped: too hot to touch is too hot. A larger motor, fewer KV or a smaller propeller runs cooler.",
        (Cure(f"Propellers of {smaller:g} mm", ((f"{at}propeller.diameter_mm", smaller),)),), "power",
    )  # fmt: skip


def warm(celsius: float) -> str:
    """In words: what burns before is not told to the degree."""
    return f"over {BURNS_C:.0f} °C" if celsius >= BURNS_C else f"{celsius:.0f} °C"


def board_watts(result: Evaluation, block: Block) -> float:
    """What a component turns into heat in hover: all that it draws, and the controllers' losses where the motors' current goes through."""
    watts = block.power_w
    if block.feeds_motors:
        for d, r in zip(drives(result.project), result.power.rotors, strict=True):
            watts += d.motor.controller_loss * r.hover_w
            watts += (1 - WINDING_OHM) * d.motor.resistance_mohm * 1e-3 * r.hover_current_a**2
    return watts


def board_c(result: Evaluation, block: Block) -> Spread:
    """Temperature at which it settles in hover."""
    air = result.project.brief.service_temp_c
    wash = max(
        wash_m_s(r.hover_thrust_n, d.propeller.diameter_mm) for d, r in zip(drives(result.project), result.power.rotors, strict=True)
    )
    each = {c: float(steady_c(board_network(block, board_watts(result, block), wash, c), air)[0]) for c in COOLING}
    return Spread(each["high"], each["typical"], each["low"])


def bench_s(result: Evaluation, block: Block) -> float | None:
    """After how long at a standstill, drawing its own power, it reaches what it stands; None if not within a long wait."""
    air = result.project.brief.service_temp_c
    net = board_network(block, block.power_w, 0.0)
    return seconds_to(net, np.array([air]), air, 0, block.hottest_c or BOARD_C, BENCH_S)


def _board(result: Evaluation, block: Block) -> Iterable[Finding]:
    if board_watts(result, block) < LEAST_W or block.pack_cells > 0 or block.spread:
        return
    limit, hot, wait = block.hottest_c or BOARD_C, board_c(result, block), bench_s(result, block)
    path = f"components.blocks.{block.id}.hottest_c"
    basis = f"{limit:.0f} °C are taken as what it stands" if not block.hottest_c else f"it stands {limit:.0f} °C"
    opened = (Cure("In the propellers' air", ((f"components.blocks.{block.id}.closed_in", False),)),) if block.closed_in else ()
    if hot.high > limit:
        yield Finding(
            f"heat.board:{block.id}", "likely" if hot.typical > limit else "worth knowing", "Airframe", path, block.name,
            "In flight it gets too hot." if hot.typical > limit else "In flight it may get too hot.",
            f"{board_watts(result, block):.1f} W make it {hot.low:.0f} to {hot.high:.0f} °C in hover; {basis}.",
            "Vents on two sides of it, a plate of metal to spread the heat, or air of the propellers.", opened, "power",
        )  # fmt: skip
    elif wait is not None:
        yield Finding(
            f"heat.bench:{block.id}", "likely" if wait < SOON_S else "worth knowing", "Airframe", path, block.name,
            f"Switched on at a standstill it gets too hot after about {max(wait / 60, 0.5):.0f} min.",
            f"{block.power_w:.1f} W in still air; {basis}. In flight it stays at {hot.typical:.0f} °C.",
            "Set it to its least power on the bench, or put a fan beside it.", opened, "power",
        )  # fmt: skip
