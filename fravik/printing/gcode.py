"""Read a ready-made G-code file as an open format: its roads, minutes by our own motion, grams and bounds.

Understood: G0, G1 (lines), G2, G3 (arcs in the plane, by centre or radius), G20, G21 (inch, mm), G90, G91, M82, M83 (absolute or
relative, with extrusion apart), G92 (set position), G28 (home), comments; everything else is passed over. A file that is too big, runs
out to wild coordinates or holds what is not a number is refused with its line.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from fravik.model.project import Printer

from .job import GivenUpError
from .zones import Floats

MOST_BYTES = 400_000_000
MOST_MOVES = 6_000_000
MOST_LINE = 4_000
WILD_MM = 5_000.0
CHORD_MM = 0.25
MOST_CHORDS = 20_000
FEED_MM_S = 25.0
FILAMENT_MM = 1.75

_WORD = re.compile(r"([A-Z])\s*([-+]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[Ee][-+]?[0-9]+)?|[A-Za-z#\[\-+][^\s]*)?")


class GcodeError(ValueError):
    """A G-code file that cannot be read; the message names the line and what is wrong with it."""


@dataclass(frozen=True)
class GcodeRoads:
    """All moves of a file: points (n + 1, 3) in mm, and of every move (n,) its speed in mm/s and the filament it feeds in mm."""

    points_mm: Floats
    speed_mm_s: Floats
    fed_mm: Floats
    lines: int
    passed_over: int

    @property
    def extruding(self) -> np.ndarray:
        """Which moves lay a road (n,): those that feed filament and get somewhere."""
        step = np.abs(np.diff(self.points_mm, axis=0)).max(axis=1)
        return np.asarray((self.fed_mm > 0) & (step > 1e-9))

    def tops_mm(self) -> Floats:
        """Heights at which roads are laid, lowest first."""
        return np.unique(np.round(self.points_mm[1:][self.extruding, 2], 3))

    def bounds_mm(self) -> tuple[Floats, Floats]:
        """Corners of the box that holds all roads. Raises GcodeError when there are none."""
        laid = self.extruding
        if not laid.any():
            raise GcodeError("The file lays no roads: no move feeds filament while it travels.")
        both = np.concatenate([self.points_mm[:-1][laid], self.points_mm[1:][laid]])
        return both.min(axis=0), both.max(axis=0)

    def volume_mm3(self, filament_mm: float = FILAMENT_MM) -> float:
        """Plastic fed less what is pulled back, from the filament's own diameter."""
        return max(0.0, float(self.fed_mm.sum())) * math.pi / 4 * filament_mm**2

    def grams(self, density_g_cm3: float, filament_mm: float = FILAMENT_MM) -> float:
        """Mass of what is fed."""
        return self.volume_mm3(filament_mm) * density_g_cm3 * 1e-3

    def minutes(self, printer: Printer) -> float:
        """Time by our motion: the file's speeds, the printer's accelerations and corner speed, a stop at every retraction."""
        from .motion import move_seconds  # compiled loops load only where time is counted

        if not len(self.speed_mm_s):
            return 0.0
        moving = np.abs(np.diff(self.points_mm, axis=0)).max(axis=1) > 1e-9
        points = np.concatenate([self.points_mm[:1], self.points_mm[1:][moving]])
        laid = self.extruding[moving]
        pulled = np.concatenate([[0], np.cumsum(~moving)])[:-1][moving]
        stop = np.concatenate([[True], np.diff(pulled) > 0])
        accel = np.where(laid, printer.acceleration_mm_s2, printer.travel_acceleration_mm_s2)
        took = move_seconds(points, self.speed_mm_s[moving], accel, stop, printer.corner_speed_mm_s)
        still = np.abs(self.fed_mm[~moving]) / np.maximum(self.speed_mm_s[~moving], 1.0)
        return float(took.sum() + still.sum()) / 60


def read_gcode(path: Path, progress: Callable[[int, int], None] | None = None, cancelled: Callable[[], bool] | None = None) -> GcodeRoads:
    """Read a file. Raises GcodeError (or GivenUpError), OSError when it cannot be opened."""
    size = path.stat().st_size
    if path.exists() and not path.is_file():
        raise GcodeError(f"{path.name} is a folder, a device or a pipe, not a file.")
    if size > MOST_BYTES:
        raise GcodeError(f"{path.name} is {size / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} MB are read.")
    with path.open("r", encoding="utf-8", errors="replace", newline=None) as f:
        return parse_gcode(f, progress, cancelled)


class _Machine:
    """Where the nozzle is and how numbers are meant."""

    def __init__(self) -> None:
        self.at = [0.0, 0.0, 0.0, 0.0]  # x y z e
        self.shift = [0.0, 0.0, 0.0, 0.0]
        self.absolute, self.absolute_e, self.unit = True, True, 1.0
        self.speed = FEED_MM_S
        self.points: list[tuple[float, float, float]] = [(0.0, 0.0, 0.0)]
        self.speeds: list[float] = []
        self.fed: list[float] = []

    def go(self, words: dict[str, float], line: int) -> tuple[list[float], float]:
        """The target of a move and what it feeds; the position is not changed yet."""
        target = list(self.at)
        for i, letter in enumerate("XYZ"):
            if letter in words:
                value = words[letter] * self.unit
                target[i] = value + self.shift[i] if self.absolute else self.at[i] + value
                if not abs(target[i]) <= WILD_MM:
                    raise GcodeError(f"Line {line}: {letter}{words[letter]:g} runs {abs(target[i]):.3g} mm out; no printer reaches that.")
        fed = 0.0
        if "E" in words:
            value = words["E"] * self.unit
            to = value + self.shift[3] if self.absolute_e else self.at[3] + value
            fed, target[3] = to - self.at[3], to
            if not abs(fed) <= 1e5:
                raise GcodeError(f"Line {line}: E{words['E']:g} feeds {fed:.3g} mm in one move.")
        if "F" in words:
            if not 0 < words["F"] * self.unit < 1e7:
                raise GcodeError(f"Line {line}: F{words['F']:g} is no speed.")
            self.speed = words["F"] * self.unit / 60
        return target, fed

    def add(self, target: list[float], fed: float) -> None:
        """Make a straight move."""
        self.points.append((target[0], target[1], target[2]))
        self.speeds.append(self.speed)
        self.fed.append(fed)
        self.at = target

    def arc(self, target: list[float], fed: float, words: dict[str, float], clockwise: bool, line: int) -> None:
        """Make an arc in the plane as chords."""
        x0, y0 = self.at[:2]
        x1, y1 = target[:2]
        if "R" in words:
            r = words["R"] * self.unit
            d = math.hypot(x1 - x0, y1 - y0)
            if d < 1e-9 or abs(2 * r) < d - 1e-3:
                raise GcodeError(f"Line {line}: an arc of radius {r:g} mm cannot reach over {d:.3g} mm.")
            h = math.sqrt(max(0.0, r * r - d * d / 4))
            side = -1.0 if clockwise == (r > 0) else 1.0
            cx, cy = (x0 + x1) / 2 - side * h * (y1 - y0) / d, (y0 + y1) / 2 + side * h * (x1 - x0) / d
        elif "I" in words or "J" in words:
            cx, cy = x0 + words.get("I", 0.0) * self.unit, y0 + words.get("J", 0.0) * self.unit
        else:
            raise GcodeError(f"Line {line}: an arc needs I and J, or R.")
        radius = math.hypot(x0 - cx, y0 - cy)
        if not 0 < radius <= WILD_MM:
            raise GcodeError(f"Line {line}: an arc of radius {radius:.3g} mm.")
        a0, a1 = math.atan2(y0 - cy, x0 - cx), math.atan2(y1 - cy, x1 - cx)
        sweep = (a1 - a0) % (2 * math.pi)
        if clockwise:
            sweep -= 2 * math.pi
        if abs(sweep) < 1e-9 or (abs(abs(sweep) - 2 * math.pi) < 1e-9):
            sweep = -2 * math.pi if clockwise else 2 * math.pi
        count = min(MOST_CHORDS, max(2, math.ceil(abs(sweep) * radius / CHORD_MM)))
        z0, e0 = self.at[2], self.at[3]
        for i in range(1, count + 1):
            t = i / count
            a = a0 + sweep * t
            spot = [cx + radius * math.cos(a), cy + radius * math.sin(a)] if i < count else [x1, y1]
            self.add([*spot, z0 + (target[2] - z0) * t, e0 + fed * t], fed / count)


def parse_gcode(
    lines: Iterable[str], progress: Callable[[int, int], None] | None = None, cancelled: Callable[[], bool] | None = None
) -> GcodeRoads:
    """Read lines of G-code. Raises GcodeError with the number of the line, GivenUpError when ``cancelled`` says so."""
    m = _Machine()
    passed = number = 0
    for number, raw in enumerate(lines, start=1):
        if len(raw) > MOST_LINE:
            raise GcodeError(f"Line {number} is {len(raw)} characters long: this is no G-code.")
        if number % 20_000 == 0:
            if cancelled is not None and cancelled():
                raise GivenUpError
            if progress is not None:
                progress(number, 0)
        text = raw.split(";", 1)[0]
        if "(" in text:
            text = re.sub(r"\([^)]*\)", "", text)
        text = text.strip().upper()
        if not text or text == "%":
            continue
        words, command = _plain_move(text) or _words(text, number)
        if not _obey(m, command, words, number):
            passed += 1
        if len(m.speeds) > MOST_MOVES:
            raise GcodeError(f"Line {number}: over {MOST_MOVES} moves; at most that many are read.")
    if not m.speeds:
        raise GcodeError("There is no move in this file: is it G-code?")
    return GcodeRoads(np.array(m.points), np.array(m.speeds), np.array(m.fed), number, passed)


def _plain_move(text: str) -> tuple[dict[str, float], str] | None:
    """A straight move written the usual way, which nearly every line is; None sends a line to the careful reader."""
    head, *rest = text.split()
    if head not in ("G1", "G0") or not rest:
        return None
    try:
        words = {word[0]: float(word[1:]) for word in rest}
    except ValueError:
        return None
    return (words, head) if all(map(math.isfinite, words.values())) else None


def _words(text: str, number: int) -> tuple[dict[str, float], str]:
    """The words of a line by letter, and its command such as 'G1'."""
    command = ""
    words: dict[str, float] = {}
    if not ("A" <= text[0] <= "Z"):
        return words, command
    # only moves and settings are read to the letter; other commands may hold any text
    first = re.match(r"(?:N[0-9]+\s*)?([GM])\s*([0-9]+)(\.[0-9]+)?", text)
    if first is None or first.group(3):
        return words, command
    command = f"{first.group(1)}{int(first.group(2))}"
    if command not in _KNOWN:
        return words, command
    for letter, value in _WORD.findall(text[first.end() :].split("*", 1)[0]):
        if not value:
            if letter in "XYZ" and command in ("G28",):
                words[letter] = 0.0
                continue
            raise GcodeError(f"Line {number}: {letter} has no number.")
        try:
            words[letter] = float(value)
        except ValueError:
            raise GcodeError(f"Line {number}: {letter}{value} is not a number.") from None
        if not math.isfinite(words[letter]):
            raise GcodeError(f"Line {number}: {letter}{value} is not a number.")
    return words, command


_KNOWN = ("G0", "G1", "G2", "G3", "G20", "G21", "G28", "G90", "G91", "G92", "M82", "M83")


def _obey(m: _Machine, command: str, words: dict[str, float], number: int) -> bool:
    """Do what a line says; False when it is passed over."""
    if command in ("G0", "G1"):
        m.add(*m.go(words, number))
    elif command in ("G2", "G3"):
        target, fed = m.go(words, number)
        m.arc(target, fed, words, command == "G2", number)
    elif command in ("G20", "G21"):
        m.unit = 25.4 if command == "G20" else 1.0
    elif command in ("G90", "G91"):
        m.absolute = m.absolute_e = command == "G90"
    elif command in ("M82", "M83"):
        m.absolute_e = command == "M82"
    elif command == "G92":
        for i, letter in enumerate("XYZE"):
            if letter in words:
                m.shift[i] = m.at[i] - words[letter] * m.unit
    elif command == "G28":
        home = [0.0 if letter in words or not words else m.at[i] for i, letter in enumerate("XYZ")]
        m.shift[:3] = [0.0, 0.0, 0.0]
        m.add([*home, m.at[3]], 0.0)
    else:
        return False
    return True


@dataclass(frozen=True)
class Difference:
    """One figure of a file beside the plan's."""

    what: str
    file: float
    plan: float
    unit: str

    @property
    def off(self) -> float:
        """Relative difference."""
        return self.file / self.plan - 1 if self.plan else math.nan


def compared(roads: GcodeRoads, printer: Printer, density_g_cm3: float, minutes: float, grams: float, layers: int, tall_mm: float) -> tuple[
    Difference, ...
]:  # fmt: skip
    """A file beside the plan of a plate."""
    tops = roads.tops_mm()
    return (
        Difference("minutes", roads.minutes(printer), minutes, "min"),
        Difference("grams", roads.grams(density_g_cm3), grams, "g"),
        Difference("layers", float(len(tops)), float(layers), ""),
        Difference("height", float(tops.max(initial=0.0)), tall_mm, "mm"),
    )


def bounds_problem(roads: GcodeRoads, printer: Printer) -> str:
    """Where a file leaves the bed, empty when it stays on it."""
    low, high = roads.bounds_mm()
    bed = (printer.bed_x_mm, printer.bed_y_mm, printer.bed_z_mm)
    out = [f"{axis} {low[i]:.1f} to {high[i]:.1f} mm" for i, axis in enumerate("XYZ") if low[i] < -0.5 or high[i] > bed[i] + 0.5]
    return f"It leaves the bed of {printer.name}: {', '.join(out)}." if out else ""
