"""Section coordinate files: plain text, a name, then x and y over the chord, one point a line, from the trailing edge over the top and
back."""

from __future__ import annotations

from pathlib import Path

from fravik.model.wing import LEAST_SECTION, Coordinate

from .fileproblem import FileProblem

MOST_BYTES, MOST_POINTS = 200_000, 400


def read_section(path: Path) -> tuple[Coordinate, ...]:
    """The outline. Raises FileProblem with what is wrong, and in which line."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise FileProblem(f"{path.name} is too large for a section's outline.")
        lines = path.read_text(encoding="utf-8", errors="replace").splitlines()
    except OSError as err:
        raise FileProblem(f"{path.name} cannot be read: {err.strerror or err}.") from None
    out: list[Coordinate] = []
    for n, line in enumerate(lines, start=1):
        words = line.replace(",", " ").replace(";", " ").split()
        if not words or (n == 1 and not _number(words[0])):
            continue
        if len(words) != 2 or not (_number(words[0]) and _number(words[1])):
            raise FileProblem(f"{path.name}, line {n}: {line.strip()[:40]!r} is not a point x y over the chord.")
        x, y = float(words[0]), float(words[1])
        if not (-0.05 <= x <= 1.05 and -0.5 <= y <= 0.5):
            raise FileProblem(f"{path.name}, line {n}: the point {x:g} {y:g} lies off the chord: points go from 0 to 1.")
        out.append(Coordinate(x=x, y=y))
    if not LEAST_SECTION <= len(out) <= MOST_POINTS:
        raise FileProblem(f"{path.name} holds {len(out)} points; {LEAST_SECTION} to {MOST_POINTS} make a section.")
    return tuple(out)


def _number(word: str) -> bool:
    try:
        value = float(word)
    except ValueError:
        return False
    return value == value and abs(value) < 1e9
