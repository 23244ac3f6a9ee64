"""However a part lies: the live figures weigh what every layer weighs, and sections are what the solid is where it is cut."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, Manifold

from fravik.engine.evaluate import Engine
from fravik.kinds import kind_of
from fravik.model.laying import Laying
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.model.recipe import Recipe
from fravik.printing import zones
from fravik.printing.layers import cut_layers
from fravik.printing.mass import part_mass, zone_volumes
from fravik.printing.zones import lay

WAYS = ("flat", "on_side", "on_end")


def lying(project: Project, part_id: str, lies: str, **more: Any) -> Project:
    """A part the other way up, without what is glued into the arm."""
    edits = {f"parts.{part_id}.recipe.lies": lies, "parts.arm.carbon": None, "parts.arm.facing": None, **more}
    return set_many(project, tuple(edits.items()))


def by_every_layer(solid: Manifold, recipe: Recipe) -> float:
    """Volume of plastic in all layers, mm3."""
    wall, cover, core = cut_layers(solid, recipe, Laying(first_layer_mm=recipe.layer_height_mm)).layers.zone_volumes_mm3()
    return wall + cover + core * recipe.core_density


@settings(max_examples=8)
@given(
    wide=st.floats(16.0, 60.0), deep=st.floats(12.0, 40.0), tall=st.floats(40.0, 120.0), taper=st.floats(0.3, 1.6),
    lean_mm=st.floats(0.0, 40.0), covers=st.integers(4, 8), walls=st.integers(1, 3),
)  # fmt: skip
def test_tall_prints_have_covers_as_thick_as_they_are(
    wide: float, deep: float, tall: float, taper: float, lean_mm: float, covers: int, walls: int
) -> None:
    """Slices of a tall print stand farther apart than its covers are thick: a leaning wall has no more cover for that."""
    foot = CrossSection.square((wide, deep), center=True)
    solid = Manifold.extrude(foot, tall, scale_top=(taper, taper)).warp_batch(
        lambda p: np.column_stack([p[:, 0] + lean_mm * p[:, 2] / tall, p[:, 1], p[:, 2]])
    )
    recipe = Recipe(core_density=0.3, cover_layers=covers, walls=walls, lies="flat")
    v = zone_volumes(lay(solid, recipe))
    assert v.wall_mm3 + v.cover_mm3 + v.core_mm3 * 0.3 == pytest.approx(by_every_layer(solid, recipe), rel=0.05)


@pytest.mark.parametrize("part_id", ["arm", "leg", "mount", "guard"])
@pytest.mark.parametrize("lies", WAYS)
def test_the_live_figures_weigh_what_every_layer_does(engine: Engine, project: Project, part_id: str, lies: str) -> None:
    result = engine.evaluate(lying(project, part_id, lies))
    row = result.parts[part_id]
    exact = by_every_layer(engine.solid(row.given), row.part.recipe) * row.filament.density_g_cm3.typical * 1e-3
    assert row.mass.mass_g == pytest.approx(exact, rel=0.025)


def loops_at(solid: Manifold, origin: np.ndarray, frame: np.ndarray) -> CrossSection:
    """The loop round a position that a plane across the axis cuts, by the kernel's own slice."""
    axes = frame[[1, 2, 0]]
    cut = solid.transform(np.column_stack([axes, -axes @ origin])).slice(0.0)
    return min(cut.decompose(), key=lambda c: float(np.abs(np.array(c.bounds()).reshape(2, 2).mean(axis=0)).max()))


@pytest.mark.parametrize(("part_id", "lies", "within"), [
    ("leg", "on_side", 0.07), ("leg", "on_end", 0.04), ("mount", "on_side", 0.05), ("mount", "on_end", 0.05), ("guard", "on_side", 0.05),
    ("guard", "on_end", 0.05),
])  # fmt: skip
def test_sections_are_what_the_solid_is_where_it_is_cut(engine: Engine, project: Project, part_id: str, lies: str, within: float) -> None:
    """Area of sections read off the slices, against the solid cut across its axis. A few sit in corners, where planes nearby differ."""
    full = {f"parts.{part_id}.recipe.core_density": 1.0}
    m = engine.evaluate(lying(project, part_id, lies, **full)).members[part_id]
    result = engine.evaluate(lying(project, part_id, lies, **full))
    row, line = result.parts[part_id], m.member.path.line
    told = m.answers["typical"].section.mass_per_mm_t * 1e9 / row.filament.density_g_cm3.typical
    solid = engine.solid(row.given)
    cut = np.array([loops_at(solid, o, f).area() for o, f in zip(line.origin_mm, line.frame, strict=True)])
    off = np.sort(np.abs(told / cut - 1))
    assert off[int(0.85 * len(off))] < within
    assert abs(float(np.median(told / cut)) - 1) < 0.02


@pytest.mark.parametrize("part_id", ["guard", "leg", "arm"])
def test_a_standing_part_bends_as_it_does_in_slices_without_number(project: Project, part_id: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Half as far between slices changes little of what a standing part tells."""
    standing = lying(project, part_id, "on_end")
    usual = Engine().evaluate(standing)
    monkeypatch.setattr(zones, "THIN_SHARE", zones.THIN_SHARE / 2)
    monkeypatch.setattr(zones, "MOST_LAYERS_THIN", 2 * zones.MOST_LAYERS_THIN)
    fine = Engine().evaluate(standing)
    a, b = (r.members[part_id] for r in (usual, fine))
    assert a.answers["typical"].freqs_hz[0] == pytest.approx(b.answers["typical"].freqs_hz[0], rel=0.02)
    assert a.worst_static()[1].reserve == pytest.approx(b.worst_static()[1].reserve, rel=0.06)
    assert usual.parts[part_id].mass.mass_g == pytest.approx(fine.parts[part_id].mass.mass_g, rel=0.01)


def test_what_does_not_bend_is_sliced_no_finer(engine: Engine, project: Project) -> None:
    """Only where sections are read off the slices are more of them worth their time."""
    for part in project.parts:
        field = engine.evaluate(lying(project, part.id, "on_end")).parts[part.id].field
        if not kind_of(part.shape).bends:
            assert len(field.heights_mm) <= 2 * zones.MOST_LAYERS
    thin = Manifold.cube((30.0, 2.0, 100.0))
    recipe = Recipe(lies="flat")
    assert len(lay(thin, recipe, bends=True).heights_mm) > 3 * len(lay(thin, recipe).heights_mm)
    assert zones.thin_mm(Manifold.cube((500.0, 500.0, 2.0))) == pytest.approx(2.0, rel=0.01)
    assert part_mass(lay(thin, recipe, bends=True), 1.0).mass_g == pytest.approx(part_mass(lay(thin, recipe), 1.0).mass_g, rel=0.02)
