"""G-code of others: read by its plain rules, timed and weighed by hand sums, and refused plainly when it is hostile."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.model.project import Printer
from fravik.printing.gcode import GcodeError, GcodeRoads, bounds_problem, compared, parse_gcode, read_gcode
from fravik.printing.job import GivenUpError

SQUARE = """
; a square of 20 mm, one road
G21
G90
M83
G28
G1 Z0.2 F600
G0 X10 Y10 F6000
G1 X30 Y10 E1.0 F1800 ; first side
G1 X30 Y30 E1.0
G1 X10 Y30 E1.0
G1 X10 Y10 E1.0
G1 E-0.8 F1500
"""


def parse(text: str) -> GcodeRoads:
    return parse_gcode(text.splitlines())


def test_a_square() -> None:
    roads = parse(SQUARE)
    assert roads.extruding.sum() == 4
    assert roads.tops_mm().tolist() == [0.2]
    low, high = roads.bounds_mm()
    assert low.tolist() == [10, 10, 0.2]
    assert high.tolist() == [30, 30, 0.2]
    assert roads.volume_mm3() == pytest.approx(3.2 * math.pi / 4 * 1.75**2)
    assert roads.grams(1.24) == pytest.approx(3.2 * math.pi / 4 * 1.75**2 * 1.24e-3)


def test_minutes_of_one_line_by_hand() -> None:
    printer = Printer(acceleration_mm_s2=1000.0)
    roads = parse("G1 X60 E3 F1800")
    assert roads.minutes(printer) * 60 == pytest.approx(2 * 30 / 1000 + (60 - 0.9) / 30, rel=1e-9)


@pytest.mark.parametrize("mode", ["M83", "M82"])
def test_relative_and_absolute_extrusion_agree(mode: str) -> None:
    e = (1.0, 1.0, 1.0) if mode == "M83" else (1.0, 2.0, 3.0)
    roads = parse(f"{mode}\n" + "\n".join(f"G1 X{10 * (i + 1)} E{e[i]}" for i in range(3)))
    assert roads.fed_mm.tolist() == pytest.approx([1.0, 1.0, 1.0])


def test_relative_moves_offsets_inches_and_home() -> None:
    roads = parse("G91\nG1 X10 E1\nG1 X10 E1\nG90\nG92 X0 E0\nM82\nG1 X5 E2\nG20\nG1 X1\nG21\nG28 X\nG1 Y7")
    assert roads.points_mm[:, 0].tolist() == pytest.approx([0, 10, 20, 25, 45.4, 0, 0])
    assert roads.fed_mm.tolist() == pytest.approx([1, 1, 2, 0, 0, 0])


@pytest.mark.parametrize(("word", "sign"), [("G3", 1.0), ("G2", -1.0)])
def test_arcs_by_centre(word: str, sign: float) -> None:
    roads = parse(f"G1 X10 Y0\n{word} X-10 Y0 I-10 J0 E5")
    arc = roads.points_mm[1:]
    assert np.hypot(*arc[:, :2].T) == pytest.approx(10.0)
    assert sign * arc[len(arc) // 2, 1] == pytest.approx(10.0, abs=0.1)
    assert np.hypot(*np.diff(arc[:, :2], axis=0).T).sum() == pytest.approx(math.pi * 10, rel=1e-3)
    assert roads.fed_mm.sum() == pytest.approx(5.0)


def test_arcs_by_radius_and_full_circle() -> None:
    short = parse("G1 X10 Y0\nG3 X0 Y10 R10")
    assert np.hypot(*short.points_mm[1:, :2].T) == pytest.approx(10.0, abs=1e-6)
    long = parse("G1 X10 Y0\nG3 X0 Y10 R-10")
    assert np.hypot(*np.diff(long.points_mm[1:, :2], axis=0).T).sum() == pytest.approx(1.5 * math.pi * 10, rel=1e-2)
    full = parse("G1 X10 Y0\nG2 X10 Y0 I-10 J0 E3")
    assert np.hypot(*np.diff(full.points_mm[1:, :2], axis=0).T).sum() == pytest.approx(2 * math.pi * 10, rel=1e-3)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("G1 X1e9 E1", "no printer reaches"),
        ("G1 Xnan", "not a number"),
        ("G1 X", "has no number"),
        ("G1 XINF E1", "not a number"),
        ("G1 X1 F0", "no speed"),
        ("G1 E1e9", "feeds"),
        ("G2 X5 Y5", "needs I and J"),
        ("G1 X10\nG2 X40 Y0 R2", "cannot reach"),
        ("hello\nworld", "no move"),
        ("", "no move"),
        ("G1 X" + "1" * 9000, "characters long"),
    ],
)
def test_hostile_files_get_a_plain_answer(text: str, says: str) -> None:
    with pytest.raises(GcodeError, match=says):
        parse(text)


@given(st.text(alphabet="GMXYZEFIJR0123456789.-+ ;()\nNaT*%#", max_size=400))
def test_no_text_breaks_the_reader(text: str) -> None:
    try:
        roads = parse(text)
    except GcodeError:
        return
    assert np.isfinite(roads.points_mm).all()
    assert np.isfinite(roads.minutes(Printer()))


def test_text_commands_are_passed_over() -> None:
    roads = parse("M117 Printing part 3 of 4: XYZ\nM104 S240\nT0\nG1 X5 E1\nM73 P10 R55")
    assert roads.passed_over == 4
    assert roads.extruding.sum() == 1


def test_too_many_moves_and_giving_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("fravik.printing.gcode.MOST_MOVES", 100)
    with pytest.raises(GcodeError, match="over 100 moves"):
        parse("G91\n" + "G1 X0.1 E0.1\n" * 200)
    monkeypatch.undo()
    with pytest.raises(GivenUpError):
        parse_gcode(["G1 X1"] * 20_001, cancelled=lambda: True)


def test_files_on_disk(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "square.gcode"
    path.write_bytes(SQUARE.encode() + b"\n; \xff\xfe odd bytes\n")
    assert read_gcode(path).extruding.sum() == 4
    monkeypatch.setattr("fravik.printing.gcode.MOST_BYTES", 10)
    with pytest.raises(GcodeError, match="MB"):
        read_gcode(path)
    with pytest.raises(OSError, match="nowhere"):
        read_gcode(tmp_path / "nowhere.gcode")


def test_beside_the_plan_and_off_the_bed() -> None:
    roads = parse(SQUARE)
    rows = {d.what: d for d in compared(roads, Printer(), 1.24, 0.1, 0.01, 1, 0.2)}
    assert rows["layers"].off == 0
    assert rows["height"].off == 0
    assert rows["grams"].off == pytest.approx(roads.grams(1.24) / 0.01 - 1)
    assert bounds_problem(roads, Printer()) == ""
    assert "leaves the bed" in bounds_problem(parse("G1 X-30 E1\nG1 X400 E5"), Printer())
    with pytest.raises(GcodeError, match="no roads"):
        parse("G1 X5").bounds_mm()
