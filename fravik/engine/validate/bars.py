"""Arms of bought bar: their sections by the product's own path, the ring that a clamp presses, and a bar in its bore."""

from __future__ import annotations

import math

import numpy as np

from fravik.kinds import build_solid
from fravik.kinds.asking import CUT
from fravik.library import stock_material
from fravik.model.shapes import BarArmShape
from fravik.printing.mass import part_mass
from fravik.printing.zones import lay
from fravik.shape.build import ShapeInput
from fravik.structure.joints import ring_moment
from fravik.structure.printed import printed_material
from fravik.structure.rows import row_tables, straight_line
from fravik.structure.section import SectionLine, section_basis, section_line

from .check import Check
from .sections import rectangle_torsion

LONG_MM = 140.0


def _section(bar: BarArmShape) -> tuple[SectionLine, float]:
    """Section constants in the middle of a bar as the product cuts and reads it, and its grams."""
    f = stock_material(bar.material)
    field = lay(build_solid(ShapeInput(bar, LONG_MM, None)), CUT, fine=True)
    tables = row_tables(field, straight_line(np.array([60.0, 65.0])))
    material = printed_material(f, CUT, "typical", np.ascontiguousarray(tables.frames[:1]))
    line = section_line(tables, material, f.density_g_cm3.typical * 1e-9, (), section_basis(tables, material, ()))
    return line, part_mass(field, f.density_g_cm3.typical).mass_g


def _sections() -> list[Check]:
    out = []
    for outer, wall in ((8.0, 1.0), (12.0, 1.0), (16.0, 1.0), (25.0, 1.5)):
        bar = BarArmShape(outer_mm=outer, wall_mm=wall)
        f, (s, grams) = stock_material(bar.material), _section(bar)
        second = math.pi / 64 * (outer**4 - (outer - 2 * wall) ** 4)
        area = math.pi / 4 * (outer**2 - (outer - 2 * wall) ** 2)
        long = LONG_MM + bar.tongue_length_mm + bar.holder_grip_mm / 2
        name = f"tube {outer:g} x {wall:g}"
        out += [
            Check(f"{name}, EI up", "pi/64 (D^4 - d^4)", f.e_road_mpa.typical * second, float(s.ei_up_nmm2[0]), 0.02),
            Check(f"{name}, EI sideways", "pi/64 (D^4 - d^4)", f.e_road_mpa.typical * second, float(s.ei_side_nmm2[0]), 0.02),
            Check(f"{name}, GJ", "pi/32 (D^4 - d^4)", f.g_plane_mpa.typical * 2 * second, float(s.gj_nmm2[0]), 0.03),
            Check(f"{name}, grams", "area x length", area * long * f.density_g_cm3.typical * 1e-3, grams, 0.01),
        ]
    square = BarArmShape(form="square_rod", material="aluminium", outer_mm=10.0)
    s, _ = _section(square)
    metal = stock_material("aluminium")
    out.append(Check("square rod, EI up", "a^4/12", metal.e_road_mpa.typical * 1e4 / 12, float(s.ei_up_nmm2[0]), 0.01))
    out.append(
        Check("square rod, GJ", "exact series", metal.g_plane_mpa.typical * rectangle_torsion(10.0, 10.0), float(s.gj_nmm2[0]), 0.02)
    )
    channel = BarArmShape(form="channel", material="aluminium", outer_mm=20.0, wall_mm=1.5)
    s, _ = _section(channel)
    # web over two legs, by areas about their middles
    pieces = ((20.0, 1.5, 9.25), (1.5, 18.5, -0.75), (1.5, 18.5, -0.75))
    middle = sum(b * h * z for b, h, z in pieces) / sum(b * h for b, h, _ in pieces)
    second = sum(b * h**3 / 12 + b * h * (z - middle) ** 2 for b, h, z in pieces)
    out.append(Check("channel, EI up", "three rectangles", metal.e_road_mpa.typical * second, float(s.ei_up_nmm2[0]), 0.02, "hand sum"))
    # open thin walls twist as strips, a third of length times thickness cubed; their corners, left out, hold a little more
    strips = (20.0 + 2 * 18.5) * 1.5**3 / 3
    out.append(Check("channel, GJ", "thin strips", metal.g_plane_mpa.typical * strips, float(s.gj_nmm2[0]), 0.1, "published"))
    return out


def _ring() -> list[Check]:
    """The moment of a ring under cos(n a) of pressure is p r^2 / (n^2 - 1) (Timoshenko); |cos a| is a sum of those."""
    series = sum((-1) ** (k + 1) * 4 / math.pi / (4 * k * k - 1) / ((2 * k) ** 2 - 1) * (-1) ** k for k in range(1, 40))
    half = abs(series) / (math.pi / 2)
    return [
        Check("ring pressed along two lines, moment", "Timoshenko 1/pi", 1 / math.pi, ring_moment(math.radians(0.3)), 0.01),
        Check("ring pressed by two half shells, moment", "Fourier series", half, ring_moment(math.pi / 2), 0.01),
    ]


GROUPS = (_sections, _ring)
