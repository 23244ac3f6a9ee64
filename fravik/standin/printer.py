"""A simulated printer: takes a batch, warms up, prints layer by layer at a chosen pace, and can go wrong.

Its hidden truth, drawn from a seed, is how much slower it is than planned and how much lighter it lays than asked.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Phase = Literal["idle", "warming", "printing", "waiting", "done", "stopped"]
Fault = Literal["clog", "spool empty", "comes loose", "power loss"]

ROOM_C = 23.0
NOZZLE_LAG_S, BED_LAG_S = 45.0, 90.0
WEAK_NOTE = "stopped and went on at {top:.1f} mm: that layer is weak, do not fly it"


@dataclass(frozen=True)
class CopyTask:
    """One copy on the batch: its key, part, grams as planned and height."""

    key: str
    part_id: str
    grams: float
    tall_mm: float


@dataclass(frozen=True)
class BatchTask:
    """A batch as the printer gets it: seconds (n,) and tops (n,) of its layers, temperatures, the plan's minutes, and the layers after
    which it pauses with what for."""

    batch_id: str
    printer_id: str
    copies: tuple[CopyTask, ...]
    layer_s: Floats
    tops_mm: Floats
    warm_s: float
    nozzle_c: float
    bed_c: float
    planned_min: float
    pauses: tuple[tuple[int, str], ...] = ()


@dataclass(frozen=True)
class Truth:
    """What the machine really does: time over plan, plastic over plan, and scatter of both from copy to copy."""

    time_ratio: float
    grams_ratio: float
    scatter: float = 0.006


@dataclass(frozen=True)
class State:
    """What the printer says of itself."""

    phase: Phase
    layer: int
    layers: int
    nozzle_c: float
    bed_c: float
    minutes_left: float
    note: str


@dataclass(frozen=True)
class Outcome:
    """How one copy came off: whether it is good, what it really weighs, and what happened to it."""

    copy: CopyTask
    good: bool
    grams: float
    note: str


def truth_from(seed: int) -> Truth:
    """A machine's hidden truth: 1 to 12 % slower than planned, 4 % light to 1 % heavy."""
    rng = np.random.default_rng(seed)
    return Truth(float(rng.uniform(1.01, 1.12)), float(rng.uniform(0.96, 1.01)))


@dataclass
class SimulatedPrinter:
    """One machine. Time passes only when ``advance`` is called."""

    seed: int = 1
    truth: Truth = field(init=False)
    phase: Phase = "idle"
    task: BatchTask | None = None
    elapsed_s: float = 0.0
    layer: int = 0
    note: str = ""
    _left_s: float = 0.0
    _nozzle: float = ROOM_C
    _bed: float = ROOM_C
    _lost: dict[str, str] = field(default_factory=dict)
    _marks: list[str] = field(default_factory=list)
    _clogged: bool = False
    _asked: bool = False

    def __post_init__(self) -> None:
        self.truth = truth_from(self.seed)
        self._rng = np.random.default_rng(self.seed + 1000)

    def start(self, task: BatchTask) -> None:
        """Take a batch. Raises ValueError when one is under way."""
        if self.phase in ("warming", "printing", "waiting"):
            raise ValueError("A batch is under way; stop it or let it finish first.")
        self.task, self.phase, self.elapsed_s, self.layer = task, "warming", 0.0, 0
        self.note, self._left_s, self._lost, self._marks, self._clogged = "warming up", task.warm_s, {}, [], False
        self._asked = False

    def advance(self, seconds: float) -> None:
        """Let time pass."""
        left = max(0.0, seconds)
        while left > 0 and self.phase in ("warming", "printing") and self.task is not None:
            step = min(left, self._left_s)
            self._warm(step)
            left -= step
            self._left_s -= step
            self.elapsed_s += step
            if self._left_s <= 1e-9:
                self._next()
        self._warm(left)

    def _warm(self, seconds: float) -> None:
        hot = self.phase in ("warming", "printing", "waiting") and self.task is not None
        aims = (self.task.nozzle_c, self.task.bed_c) if hot and self.task is not None else (ROOM_C, ROOM_C)
        self._nozzle += (aims[0] - self._nozzle) * -math.expm1(-seconds / NOZZLE_LAG_S)
        self._bed += (aims[1] - self._bed) * -math.expm1(-seconds / BED_LAG_S)

    def _next(self) -> None:
        assert self.task is not None
        if self.phase == "warming":
            self.phase, self.note = "printing", "printing"
        else:
            self.layer += 1
            due = next((words for k, words in self.task.pauses if k == self.layer - 1), "")
            if due and self.layer < len(self.task.layer_s):
                self.phase, self.note, self._asked = "waiting", f"paused: {due}", True
        if self.layer >= len(self.task.layer_s):
            self.phase = "done"
            self.note = "done" if not self._lost else f"done, {len(self._lost)} lost"
            return
        self._left_s = float(self.task.layer_s[self.layer]) * self.truth.time_ratio

    def go_wrong(self, fault: Fault) -> None:
        """Make something happen now. Does nothing when no batch is under way."""
        if self.task is None or self.phase not in ("printing", "waiting"):
            return
        top = self._top_mm()
        if fault == "clog":
            self._clogged, self._asked = True, False
            for c in self._growing():
                self._lost.setdefault(c.key, f"nozzle clogged at {top:.1f} mm")
            self.phase, self.note = "stopped", f"clogged at {top:.1f} mm"
        elif fault == "spool empty":
            self._asked = False
            self.phase, self.note = "waiting", f"out of filament at {top:.1f} mm: load a spool and go on"
        elif fault == "power loss":
            self._asked = False
            self.phase, self.note = "waiting", f"power lost at {top:.1f} mm: go on, or give the batch up"
            self._nozzle, self._bed = self._nozzle * 0.8, self._bed * 0.8
        else:
            growing = [c for c in self._growing() if c.key not in self._lost]
            if growing:
                first = max(growing, key=lambda c: c.tall_mm)
                self._lost[first.key] = f"came loose at {top:.1f} mm"
                for other in growing:
                    if other is not first and self._rng.random() < 0.25:
                        self._lost[other.key] = f"knocked over by {first.key} at {top:.1f} mm"
                self.note = f"{first.key} came loose at {top:.1f} mm"

    def go_on(self) -> None:
        """Carry on after a wait: what was growing keeps a weak layer there, unless the pause was asked for and somebody was at hand."""
        if self.phase == "waiting":
            if not self._asked:
                self._marks.append(WEAK_NOTE.format(top=self._top_mm()))
            self._asked = False
            self.phase, self.note = "printing", "printing"

    def give_up(self) -> None:
        """Stop the batch: copies that were not whole yet are lost."""
        if self.task is None or self.phase not in ("warming", "printing", "waiting"):
            return
        for c in self._growing():
            self._lost.setdefault(c.key, f"given up at {self._top_mm():.1f} mm")
        self.phase, self.note = "stopped", "given up"

    def _top_mm(self) -> float:
        assert self.task is not None
        return float(self.task.tops_mm[min(self.layer, len(self.task.tops_mm) - 1)])

    def _growing(self) -> list[CopyTask]:
        """Copies that are not whole yet."""
        assert self.task is not None
        done = float(self.task.tops_mm[self.layer - 1]) if self.layer > 0 else 0.0
        return [c for c in self.task.copies if c.tall_mm > done + 1e-6]

    def state(self) -> State:
        """What the printer says of itself."""
        layers = len(self.task.layer_s) if self.task is not None else 0
        left = 0.0
        if self.task is not None and self.phase in ("warming", "printing", "waiting"):
            ahead = self.task.layer_s[self.layer + (self.phase != "warming") :]
            # it counts on its own speed being as planned, as real ones do
            left = self._left_s / self.truth.time_ratio + float(np.sum(ahead))
        return State(self.phase, min(self.layer, layers), layers, self._nozzle, self._bed, left / 60, self.note)

    def outcomes(self) -> tuple[Outcome, ...]:
        """How every copy came off; empty while the batch is under way."""
        if self.task is None or self.phase not in ("done", "stopped"):
            return ()
        rng = np.random.default_rng(self.seed + 7)
        out = []
        for c in self.task.copies:
            real = c.grams * self.truth.grams_ratio * float(1 + self.truth.scatter * rng.standard_normal())
            lost = self._lost.get(c.key, "")
            note = lost or "; ".join(dict.fromkeys(self._marks))
            out.append(Outcome(c, not lost, real, note))
        return tuple(out)


class SimulatedScale:
    """A kitchen scale: a tenth of a gram, with a little drift."""

    def __init__(self, seed: int = 3, step_g: float = 0.1) -> None:
        rng = np.random.default_rng(seed)
        self._step = step_g
        self._gain = float(1 + 0.002 * rng.standard_normal())

    def read_g(self, true_g: float) -> float:
        """What it shows."""
        return round(true_g * self._gain / self._step) * self._step
