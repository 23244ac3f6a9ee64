"""Sections as printed, at the live tier's own resolution: torsion, shear, shear centre, EI with fill and with carbon."""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection, Manifold

from fravik.library import filament
from fravik.model.material import Filament, Spread
from fravik.model.recipe import Recipe
from fravik.printing.zones import lay
from fravik.structure.inserts import Insert
from fravik.structure.printed import PrintedMaterial, printed_material
from fravik.structure.rows import row_tables, straight_line
from fravik.structure.section import SectionBasis, SectionLine, section_basis, section_line

from .check import Check

E_MPA, NU = 2000.0, 0.3
G_MPA = E_MPA / (2 * (1 + NU))


def even_plastic() -> Filament:
    """A plastic that is the same in all directions."""
    e, g = Spread(E_MPA, E_MPA, E_MPA), Spread(G_MPA, G_MPA, G_MPA)
    return filament("petg").model_copy(update={
        "e_road_mpa": e, "e_cross_mpa": e, "e_layer_mpa": e, "g_plane_mpa": g, "g_layer_mpa": g, "poisson": NU,
    })  # fmt: skip


def printed_section(
    solid: Manifold, recipe: Recipe, f: Filament, inserts: tuple[Insert, ...] = ()
) -> tuple[SectionLine, SectionBasis, PrintedMaterial]:
    """The product's own path from a solid to section constants, at two positions of a bar along x."""
    tables = row_tables(lay(solid, recipe), straight_line(np.array([45.0, 50.0])))
    material = printed_material(f, recipe, "typical", np.ascontiguousarray(tables.frames[:1]))
    basis = section_basis(tables, material, inserts)
    return section_line(tables, material, 1.27e-9, inserts, basis), basis, material


def bar_of(section: CrossSection) -> Manifold:
    """A bar 100 mm long along x with a section drawn in y and z."""
    return section.extrude(100.0).rotate((90.0, 0.0, 90.0))


def box(y0: float, z0: float, y1: float, z1: float) -> CrossSection:
    """A rectangle in y and z."""
    return CrossSection([[(y0, z0), (y1, z0), (y1, z1), (y0, z1)]])


def rectangle_torsion(wide: float, thin: float) -> float:
    """Torsion constant of a rectangle by its exact series."""
    terms = sum(math.tanh(n * math.pi * wide / (2 * thin)) / n**5 for n in range(1, 60, 2))
    return wide * thin**3 / 3 * (1 - 192 * thin / (math.pi**5 * wide) * terms)


SOLID = Recipe(walls=40, core_density=1.0, line_width_mm=0.5, layer_height_mm=0.2)


def _torsion() -> list[Check]:
    f, out = even_plastic(), []
    for wide, thin in ((10.0, 10.0), (20.0, 10.0), (40.0, 10.0)):
        s, _, _ = printed_section(bar_of(box(-wide / 2, 0, wide / 2, thin)), SOLID, f)
        exact = rectangle_torsion(wide, thin)
        out.append(Check(f"torsion constant, rectangle 1:{wide / thin:g}", "exact series", exact, float(s.gj_nmm2[0]) / G_MPA, 0.01))
    b, h, t = 30.0, 8.0, 0.2
    s, _, _ = printed_section(bar_of(box(-b / 2, 0, b / 2, h) - box(-b / 2 + t, t, b / 2 - t, h - t)), SOLID, f)
    bm, hm = b - t, h - t
    # the closed-tube formula with the wall's own bending resistance added
    exact = 4 * (bm * hm) ** 2 / (2 * (bm + hm) / t) + 2 * (bm + hm) * t**3 / 3
    out.append(Check("torsion constant, thin tube", "closed tube formula", exact, float(s.gj_nmm2[0]) / G_MPA, 0.01))
    # thin walls: flange and web strips with end and junction corrections by the fitted Trayer-March formula
    flange, web, depth = (12.0, 1.0), 1.0, 15.0
    k1 = flange[0] * flange[1] ** 3 * (1 / 3 - 0.21 * flange[1] / flange[0] * (1 - flange[1] ** 4 / (12 * flange[0] ** 4)))
    k2 = (depth - 2 * flange[1]) * web**3 / 3
    diameter = flange[1] + web**2 / (4 * flange[1])
    exact = 2 * k1 + k2 + 2 * 0.15 * web / flange[1] * diameter**4
    beam = box(-6, 0, 6, 1) + box(-6, 14, 6, 15) + box(-0.5, 0.5, 0.5, 14.5)
    s, _, _ = printed_section(bar_of(beam), SOLID.model_copy(update={"layer_height_mm": 0.5}), f)
    out.append(Check("torsion constant, I-section", "Trayer-March formula", exact, float(s.gj_nmm2[0]) / G_MPA, 0.01, "published"))
    return out


def _shear() -> list[Check]:
    f = even_plastic()
    s, _, _ = printed_section(bar_of(box(-10, 0, 10, 8)), SOLID, f)
    ga = G_MPA * 160 * 5 / 6
    channel = box(0, 0, 16, 0.4) + box(0, 0, 0.4, 8) + box(15.6, 0, 16, 8)
    c, _, _ = printed_section(bar_of(channel), SOLID, f)
    b, h, t = 7.8, 15.6, 0.4
    # shear centre of a thin channel: 3 b^2 / (6 b + h) outside the web's middle line
    exact = 3 * b * b / (6 * b + h)
    angle = box(0, 0, 20, 2) + box(0, 0, 2, 20)
    a, _, _ = printed_section(bar_of(angle), SOLID, f)
    return [
        Check("shear stiffness of a rectangle, upwards", "5/6 G A", ga, float(s.ga_up_n[0]), 0.01),
        Check("shear stiffness of a rectangle, sideways", "5/6 G A", ga, float(s.ga_side_n[0]), 0.01),
        Check("shear centre of a thin channel", "3 b^2 / (6 b + h)", exact, t / 2 - float(c.z_s_mm[0]), 0.01),
        Check("principal axes of an equal angle", "45 degrees", math.pi / 4, abs(float(a.principal_rad[0])), 0.01),
    ]


def _boxes(width: float, height: float, y_in: float, z_in: float, e: tuple[float, ...], walls_on: str) -> tuple[float, float]:
    """EI of wall box, cover and core by transformed-section sums. Walls stand at the sides or lie on top and bottom."""
    if walls_on == "sides":
        pieces = [
            (width, height, e[0]),
            (width - 2 * y_in, height, e[1] - e[0]),
            (width - 2 * y_in, height - 2 * z_in, e[2] - e[1]),
        ]
    else:
        pieces = [
            (width, height, e[0]),
            (width, height - 2 * z_in, e[1] - e[0]),
            (width - 2 * y_in, height - 2 * z_in, e[2] - e[1]),
        ]
    return sum(k * b * h**3 / 12 for b, h, k in pieces), sum(k * h * b**3 / 12 for b, h, k in pieces)


def _ei() -> list[Check]:
    plastic, out = filament("petg"), []
    solid = Manifold.cube((100.0, 20.0, 8.0)).translate((0.0, -10.0, 0.0))
    for lies, core_density, walls, cover in (("flat", 0.0, 3, 4), ("flat", 0.3, 3, 4), ("on_side", 0.3, 2, 5), ("flat", 1.0, 4, 3)):
        recipe = Recipe(lies=lies, core_density=core_density, walls=walls, cover_layers=cover, line_width_mm=0.5, layer_height_mm=0.2)
        s, _, m = printed_section(solid, recipe, plastic)
        e = tuple(float(v) for v in m.e_mpa[:, 0])
        y, z = (walls * 0.5, cover * 0.2) if lies == "flat" else (cover * 0.2, walls * 0.5)
        up, side = _boxes(20.0, 8.0, y, z, e, "sides" if lies == "flat" else "faces")
        name = f"{core_density:.0%} core, {walls} walls, {lies.replace('_', ' ')}"
        out.append(Check(f"EI up, {name}", "transformed section", up, float(s.ei_up_nmm2[0]), 0.01, "hand sum"))
        out.append(Check(f"EI side, {name}", "transformed section", side, float(s.ei_side_nmm2[0]), 0.01, "hand sum"))
    return out


def _profile(round_: bool, y: float, z: float, width: float, height: float, hollow: float) -> Insert:
    two = np.ones(2)
    area = (width * height - hollow**2) * (math.pi / 4 if round_ else 1.0)
    return Insert("made up", "carbon", "round" if round_ else "box", y * two, z * two, width * two, height * two, hollow, area * two, two,
                  120000.0, 4000.0, 900.0, 8.0, 10 * two, 5.0, 1.55, 0.0, 100.0)  # fmt: skip


def _carbon() -> list[Check]:
    f, out = even_plastic(), []
    bore = Manifold.cylinder(200.0, 2.0, 2.0, 256).rotate((0.0, 90.0, 0.0)).translate((-50.0, 0.0, 4.0))
    solid = Manifold.cube((100.0, 20.0, 8.0)).translate((0.0, -10.0, 0.0))
    tube = _profile(True, 0.0, 4.0, 4.0, 4.0, 2.4)
    s, _, _ = printed_section(solid - bore, SOLID, f, (tube,))
    i = math.pi / 64 * (4.0**4 - 2.4**4)
    exact = E_MPA * (20 * 8**3 / 12 - math.pi / 64 * 4.0**4) + 120000.0 * i
    out.append(Check("EI up, solid with a carbon tube", "transformed section", exact, float(s.ei_up_nmm2[0]), 0.01, "hand sum"))
    strip = _profile(False, 0.0, 8.5, 6.0, 1.0, 0.0)
    s, _, _ = printed_section(solid, SOLID, f, (strip,))
    a1, e2, a2 = 160.0, 120000.0, 6.0
    centre = (E_MPA * a1 * 4.0 + e2 * a2 * 8.5) / (E_MPA * a1 + e2 * a2)
    exact = E_MPA * (20 * 8**3 / 12 + a1 * (4 - centre) ** 2) + e2 * (0.5 + a2 * (8.5 - centre) ** 2)
    out.append(Check("EI up, solid with a strip on top", "transformed section", exact, float(s.ei_up_nmm2[0]), 0.01, "hand sum"))
    return out


def _two_moduli() -> list[Check]:
    plastic = filament("petg")
    s, _, m = printed_section(Manifold.cube((100.0, 20.0, 8.0)).translate((0.0, -10.0, 0.0)), SOLID, plastic)
    gy, gz = float(m.g_v_mpa[0, 0]), float(m.g_r_mpa[0, 0])
    # orthotropic rectangle: scale the width by the root of the moduli, then the isotropic series (Lekhnitskii)
    stretch = math.sqrt(gz / gy)
    exact = gy * rectangle_torsion(20.0 * stretch, 8.0) / stretch
    return [Check("GJ, solid bar with two shear moduli", "orthotropic series", exact, float(s.gj_nmm2[0]), 0.01)]


GROUPS = (_torsion, _shear, _ei, _carbon, _two_moduli)
