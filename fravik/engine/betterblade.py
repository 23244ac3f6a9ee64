"""A better blade for hover: pitch and chord tried over a grid by blade elements alone, the best of them made, spun and flown."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.kinds.printedblades import drawn, hover_n
from fravik.model.blade import PropellerShape
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project
from fravik.power.drawn import cruise_power_w, flown, turning_at

from .compare import Edits
from .evaluate import Engine
from .propeller import PropellerSight, sight_of
from .propellerways import Wanted, always
from .results import Refused

PITCHES, CHORDS = (0.75, 0.85, 0.93, 1.0, 1.08, 1.18, 1.3), (0.75, 0.87, 1.0, 1.15, 1.3)
MOST_TRIED, GAIN = 3, 1.01


@dataclass(frozen=True)
class Better:
    """A blade that hovers longer, or cruises on less power, and may spin as fast as its motor turns it."""

    title: str
    edits: Edits
    endurance_min: float
    hover_rpm: float
    grams: float
    power_w: float


def better_blades(engine: Engine, project: Project, sight: PropellerSight, wanted_still: Wanted = always) -> tuple[Better, ...]:
    """For the cruise that is asked for, or else for hover; the best first, none where what is drawn is as good as any that was tried."""
    part = sight.part
    shape = drawn(part)
    wanted, found, now = hover_n(project), [], power_w(shape, hover_n(project))
    for pitch in PITCHES:
        for chord in CHORDS:
            if (pitch, chord) == (1.0, 1.0) or not wanted_still():
                continue
            try:
                other = scaled(shape, pitch, chord)
                found.append((power_w(other, wanted), pitch, chord, other))
            except ValueError:
                continue  # outside of what a blade can be
    out = []
    for draws, pitch, chord, other in sorted(found, key=lambda f: f[0])[:MOST_TRIED]:
        if not wanted_still():
            break
        edits: Edits = ((f"parts.{part.id}.shape", other),)
        try:
            there = sight_of(engine, set_many(project, edits), part.id)
        except (EditError, Refused):
            continue
        better = draws * GAIN < now if shape.cruise_m_s > 0 else there.printed.endurance_min > GAIN * sight.printed.endurance_min
        if better and (there.verdict == "holds" or there.verdict == sight.verdict):
            out.append(Better(_title(shape, pitch, chord), edits, there.printed.endurance_min, there.printed.hover_rpm, there.grams, draws))
    return tuple(sorted(out, key=lambda b: b.power_w if shape.cruise_m_s > 0 else -b.endurance_min))


def _title(shape: PropellerShape, pitch: float, chord: float) -> str:
    words = [f"pitch {shape.pitch_mm:.0f} → {pitch * shape.pitch_mm:.0f} mm"] if pitch != 1.0 else []
    words += [f"chord {chord - 1:+.0%}"] if chord != 1.0 else []
    text = ", ".join(words)
    return text[0].upper() + text[1:]


def scaled(shape: PropellerShape, pitch: float, chord: float) -> PropellerShape:
    """The same blade, steeper and broader by these factors, as thick over its chord. Raises ValueError where that is no blade."""
    stations = tuple(
        type(s)(radius_mm=s.radius_mm, chord_mm=round(chord * s.chord_mm, 2), ahead_mm=round(chord * s.ahead_mm, 2),
                thickness_mm=round(chord * s.thickness_mm, 2),
                angle_deg=round(float(np.degrees(np.arctan(pitch * np.tan(np.radians(s.angle_deg))))), 2))
        for s in shape.stations
    )  # fmt: skip
    made = {**shape.model_dump(), "pitch_mm": round(pitch * shape.pitch_mm, 1), "chord_share": round(chord * shape.chord_share, 4),
            "stations": stations, "readings": shape.readings}  # fmt: skip
    return PropellerShape(**made)


def power_w(shape: PropellerShape, thrust_n: float) -> float:
    """At the shaft: in the cruise that is asked for, or standing, to push so hard; infinite where it cannot."""
    if shape.cruise_m_s > 0:
        return cruise_power_w(shape, shape.cruise_m_s, shape.cruise_n)
    rpm = np.array([turning_at(shape, thrust_n) * 60 / (2 * np.pi)])
    there = flown(shape, rpm)
    short = float(there.thrust_n[0]) < 0.98 * thrust_n
    return math.inf if short else float(there.power_w[0])
