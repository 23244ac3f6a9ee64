"""Plates with ribs and with grids of holes: ribs against sections of the printed solid, holes against cells that are fine enough."""

from __future__ import annotations

import numpy as np

from fravik.model.shapes import PlateShape
from fravik.printing.zones import lay
from fravik.shape.plate import plate_solid, rib_pitches_mm
from fravik.structure.plate import PlateGrid, plate_tables, solve_plate
from fravik.structure.platesection import Ribs, plate_sections

from .check import Check
from .plates import even_plate
from .sections import SOLID, even_plastic, printed_section


def _ribs() -> list[Check]:
    """EI of a whole plate with ribs along it: the plate's own with smeared ribs, and the section cut across the printed solid."""
    out = []
    plastic = even_plastic().model_copy(update={"poisson": 0.0})
    for height, pitch in ((4.0, 20.0), (8.0, 20.0), (8.0, 40.0)):
        plate = PlateShape(length_mm=160.0, width_mm=120.0, thickness_mm=3.0, corner_mm=1.0, stack_pitch_mm=30.5, window_length_mm=0.0,
                           rib_height_mm=height, rib_pitch_mm=pitch, rib_width_mm=3.0, rib_ways="along", place="top")  # fmt: skip
        cut, _, _ = printed_section(plate_solid(plate, ()), SOLID, plastic)
        bare = lay(plate_solid(plate.model_copy(update={"rib_height_mm": 0.0}), ()), SOLID)
        ribs = Ribs(3.0, height, rib_pitches_mm(plate), 1.0)
        smeared = plate_sections(plate_tables(bare), plastic, SOLID, ("typical",), None, ribs)["typical"]
        what = f"plate 3 mm with ribs {height:g} mm every {pitch:g} mm, EI along them"
        out.append(Check(what, "section across the solid", float(cut.ei_up_nmm2[0]), smeared.d_nmm[0] * 120.0, 0.03, "another method"))
    return out


def _give(grid: PlateGrid, thickness: float) -> tuple[float, float]:
    """How far a strip's ends turn against one another under a moment, and part under a pull."""
    _, section = even_plate(1.0, 1.0, thickness, 1, 1)
    x, wide = grid.x_mm, (grid.y_mm[-1] - grid.y_mm[0]) / 2
    ends = [(at, y) for at in (x[0] + 5.0, x[-1] - 5.0) for y in np.linspace(-0.8, 0.8, 5) * wide]
    answer = solve_plate(grid, section, np.array(ends), radii_mm=2.0)
    way = np.repeat([1.0, -1.0], 5) / 5
    turn, pull = np.zeros(len(answer.compliance)), np.zeros(len(answer.compliance))
    turn[4::5], pull[0::5] = way, way
    return float(turn @ answer.compliance @ turn), float(pull @ answer.compliance @ pull)


def _holes() -> list[Check]:
    """A strip with a grid of round holes, by cells that see them, against cells that do not and the law for fine holes."""
    out, long, wide, fine = [], 120.0, 40.0, 0.5
    whole = _give(even_plate(long, wide, 3.0, round(long / fine), round(wide / fine))[0], 3.0)
    for hole, pitch in ((3.0, 10.0), (5.0, 10.0)):
        small, _ = even_plate(long, wide, 3.0, round(long / fine), round(wide / fine))
        spots = [(x, y) for x in np.arange(-5, 5.5) * pitch for y in np.arange(-1.5, 2.0) * pitch]
        mid_x, mid_y = ((e[:-1] + e[1:]) / 2 for e in (small.x_mm, small.y_mm))
        there = np.ones(small.cover.shape)
        for x, y in spots:
            there[np.hypot(mid_x[:, None] - x, mid_y[None] - y) < hole / 2] = 0.0
        seen = PlateGrid(small.x_mm, small.y_mm, there)
        coarse, _ = even_plate(long, wide, 3.0, 20, 8)
        cover = there.reshape(20, len(mid_x) // 20, 8, len(mid_y) // 8).mean(axis=(1, 3))
        share = 1.0 - float(there[np.abs(mid_x) < 50].mean())
        law = PlateGrid(coarse.x_mm, coarse.y_mm, cover, holed=share)
        plain, holed, told = _give(coarse, 3.0), _give(seen, 3.0), _give(law, 3.0)
        for k, what in enumerate(("bent", "pulled")):
            expected = holed[k] / whole[k]
            out.append(Check(f"holes {hole:g} mm every {pitch:g} mm, plate {what}: give over that without", "cells of 0.5 mm", expected,
                             told[k] / plain[k], 0.07, "another method"))  # fmt: skip
    return out


GROUPS = (_ribs, _holes)
