"""The zone field adds up, follows the recipe, and gives the right mass, centre and inertia."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold

from fravik.engine.evaluate import Engine
from fravik.kinds import build_solid
from fravik.library import filament
from fravik.model.paths import set_many
from fravik.model.project import Printer, Project
from fravik.model.recipe import Recipe
from fravik.model.shapes import ArmShape
from fravik.printing.checks import recipe_problems
from fravik.printing.mass import MassProperties, combine, move, part_mass, zone_volumes
from fravik.printing.roads import fits_bed, print_figures, segment_seconds
from fravik.printing.zones import MOST_LAYERS, lay
from fravik.shape.build import ShapeInput

BOX = Manifold.cube((60.0, 20.0, 8.0))
ARM = build_solid(ShapeInput(ArmShape(pocket_count=2, pocket_length_mm=14.0), 112.0, None))


def recipe(**changes: object) -> Recipe:
    return Recipe(line_width_mm=0.5, layer_height_mm=0.2, **changes)  # type: ignore[arg-type]


@given(st.integers(1, 6), st.integers(0, 8), st.sampled_from(["flat", "on_side", "on_end"]))
def test_zones_fill_the_solid(walls: int, cover: int, lies: str) -> None:
    field = lay(ARM, recipe(walls=walls, cover_layers=cover, lies=lies))
    v = zone_volumes(field)
    assert v.wall_mm3 + v.cover_mm3 + v.core_mm3 == pytest.approx(ARM.volume(), rel=6e-3)
    assert min(v.wall_mm3, v.cover_mm3, v.core_mm3) >= -1e-6


def test_box_zones_by_hand() -> None:
    v = zone_volumes(lay(BOX, recipe(walls=2, cover_layers=5)))
    inner = 58.0 * 18.0
    assert v.core_mm3 == pytest.approx(inner * 6.0, rel=1e-6)
    assert v.cover_mm3 == pytest.approx(inner * 2.0, rel=1e-6)
    assert v.wall_mm3 == pytest.approx((60 * 20 - inner) * 8.0, rel=1e-6)


@pytest.mark.parametrize(("lies", "core"), [("flat", (56.0, 16.0, 6.0)), ("on_side", (56.0, 18.0, 4.0)), ("on_end", (58.0, 16.0, 4.0))])
def test_box_core_in_every_orientation(lies: str, core: tuple[float, float, float]) -> None:
    # walls of 2 mm all round each layer, covers of 1 mm at both ends of the stack
    v = zone_volumes(lay(BOX, recipe(walls=4, cover_layers=5, lies=lies)))
    assert v.core_mm3 == pytest.approx(math.prod(core), rel=0.03)


def test_no_cover_when_none_is_asked() -> None:
    assert zone_volumes(lay(BOX, recipe(cover_layers=0))).cover_mm3 == pytest.approx(0.0, abs=1e-6)


def test_walls_that_fill_the_part_leave_no_core() -> None:
    v = zone_volumes(lay(BOX, recipe(walls=40)))
    assert v.core_mm3 == 0.0
    assert v.wall_mm3 == pytest.approx(BOX.volume(), rel=1e-6)


def test_a_step_is_covered_where_it_is_exposed() -> None:
    step = Manifold.cube((40.0, 20.0, 4.0)) + Manifold.cube((20.0, 20.0, 8.0))
    v = zone_volumes(lay(step, recipe(walls=1, cover_layers=5)))
    low = zone_volumes(lay(Manifold.cube((40.0, 20.0, 4.0)), recipe(walls=1, cover_layers=5)))
    assert v.cover_mm3 > low.cover_mm3 - 20.0
    assert v.cover_mm3 == pytest.approx(2 * 39 * 19 * 1.0, rel=0.05)


def test_an_empty_solid_is_refused() -> None:
    with pytest.raises(ValueError, match="nothing is left"):
        lay(Manifold(), recipe())


def test_tall_prints_are_sampled_and_keep_their_volume() -> None:
    tall = Manifold.cube((20.0, 20.0, 300.0))
    field = lay(tall, recipe())
    assert field.layer_count == 1500
    assert len(field.heights_mm) <= 3 * MOST_LAYERS
    assert zone_volumes(field).core_mm3 < tall.volume()


@given(st.floats(0.0, 1.0), st.sampled_from(["flat", "on_side", "on_end"]))
def test_mass_centre_and_inertia_of_a_box(core_density: float, lies: str) -> None:
    field = lay(BOX, recipe(walls=40, core_density=core_density, lies=lies))
    m = part_mass(field, 1.27)
    assert m.mass_g == pytest.approx(BOX.volume() * 1.27e-3, rel=1e-6)
    assert m.com_mm == pytest.approx([30.0, 10.0, 4.0], abs=1e-6)
    expected = m.mass_g / 12 * np.diag([20**2 + 8**2, 60**2 + 8**2, 60**2 + 20**2])
    assert m.inertia_gmm2 == pytest.approx(expected, rel=1e-5, abs=1e-3)


@given(st.floats(0.0, 0.95))
def test_more_core_is_more_mass(core_density: float) -> None:
    masses = [part_mass(lay(ARM, recipe(core_density=i)), 1.0).mass_g for i in (core_density, core_density + 0.05)]
    assert masses[1] > masses[0]


@given(st.integers(1, 8))
def test_more_walls_are_more_mass(walls: int) -> None:
    masses = [part_mass(lay(ARM, recipe(walls=w, core_density=0.2)), 1.0).mass_g for w in (walls, walls + 1)]
    assert masses[1] > masses[0]


def test_mirrored_part_has_mirrored_mass() -> None:
    a, b = part_mass(lay(ARM, recipe()), 1.0), part_mass(lay(ARM.mirror((0, 1, 0)), recipe()), 1.0)
    assert a.mass_g == pytest.approx(b.mass_g, rel=1e-4)
    assert a.com_mm[1] == pytest.approx(-b.com_mm[1], abs=1e-3)


def test_combine_follows_the_parallel_axis_theorem() -> None:
    one = MassProperties(2.0, np.array([10.0, 0, 0]), np.zeros((3, 3)))
    two = MassProperties(2.0, np.array([-10.0, 0, 0]), np.zeros((3, 3)))
    both = combine([one, two])
    assert both.mass_g == 4
    assert both.com_mm == pytest.approx([0, 0, 0])
    assert both.inertia_gmm2 == pytest.approx(np.diag([0, 400.0, 400.0]))
    assert combine([]).mass_g == 0


@given(st.floats(-3, 3), st.floats(-50, 50))
def test_moving_a_body_keeps_its_principal_inertia(angle: float, shift: float) -> None:
    body = MassProperties(3.0, np.array([1.0, 2.0, 3.0]), np.diag([5.0, 7.0, 11.0]))
    t = np.eye(4)
    t[:2, :2] = [[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]]
    t[:3, 3] = shift
    moved = move(body, t)
    assert np.linalg.eigvalsh(moved.inertia_gmm2) == pytest.approx([5, 7, 11])
    assert moved.com_mm[2] == pytest.approx(3 + shift)


@given(st.floats(0.01, 200), st.floats(5, 300), st.floats(200, 10000), st.floats(0, 20))
def test_road_time_is_never_faster_than_its_speed(length: float, speed: float, accel: float, corner: float) -> None:
    t = float(segment_seconds(np.array(length), speed, accel, corner))
    assert t >= length / speed - 1e-9
    assert t <= length / max(min(corner, speed), 1e-3) + 2 * speed / accel + 1e3
    assert float(segment_seconds(np.array(2 * length), speed, accel, corner)) < 2 * t + 1e-9


def test_road_time_meets_at_the_peak_speed() -> None:
    ramp = 60.0**2 / 1500
    below, above = segment_seconds(np.array([ramp - 1e-9, ramp + 1e-9]), 60.0, 1500.0, 0.0)
    assert below == pytest.approx(above, rel=1e-6)


def test_grams_by_roads_are_grams_by_zones() -> None:
    plastic = filament("petg")
    for r in (recipe(), recipe(core_density=0.6, walls=5), recipe(lies="on_side")):
        field = lay(ARM, r)
        figures = print_figures(field, plastic, Printer())
        by_roads = figures.road_m * 1e3 * r.line_width_mm * r.layer_height_mm * plastic.density_g_cm3.typical * 1e-3
        assert figures.grams == pytest.approx(by_roads, rel=0.02)
        assert figures.grams == pytest.approx(part_mass(field, plastic.density_g_cm3.typical).mass_g, rel=1e-6)


def test_a_slower_printer_takes_longer() -> None:
    field, plastic = lay(ARM, recipe()), filament("petg")
    quick = print_figures(field, plastic, Printer())
    slow = print_figures(field, plastic, Printer(wall_speed_mm_s=30, cover_speed_mm_s=30, core_speed_mm_s=30))
    lazy = print_figures(field, plastic, Printer(acceleration_mm_s2=300))
    assert slow.minutes > quick.minutes
    assert lazy.minutes > quick.minutes
    assert quick.minutes == pytest.approx(quick.wall_min + quick.cover_min + quick.core_min + quick.travel_min)


def test_flow_limit_holds_fast_printers_back() -> None:
    field, plastic = lay(ARM, recipe()), filament("tpu")
    printer = Printer(wall_speed_mm_s=500, cover_speed_mm_s=500, core_speed_mm_s=500, acceleration_mm_s2=30000)
    figures = print_figures(field, plastic, printer)
    volume = figures.grams / plastic.density_g_cm3.typical * 1e3
    assert (figures.minutes - figures.travel_min) * 60 >= volume / plastic.flow_limit_mm3_s * 0.99


def test_bed_fit_turns_a_long_part_on_the_diagonal() -> None:
    printer = Printer(bed_x_mm=220, bed_y_mm=220)
    assert fits_bed(lay(Manifold.cube((210.0, 30.0, 5.0)), recipe()), printer) is None
    assert fits_bed(lay(Manifold.cube((265.0, 20.0, 5.0)), recipe()), printer) is None
    reason = fits_bed(lay(Manifold.cube((330.0, 20.0, 5.0)), recipe()), printer)
    assert reason is not None
    assert "the bed is 220 x 220" in reason
    tall = fits_bed(lay(Manifold.cube((20.0, 20.0, 300.0)), recipe()), printer)
    assert tall is not None
    assert "reaches 240" in tall


@pytest.mark.parametrize(
    ("edits", "says"),
    [
        ({"parts.arm.recipe.filament": "wood"}, "no filament 'wood'"),
        ({"parts.arm.recipe.filament": "pa_cf"}, "hardened"),
        ({"parts.arm.recipe.filament": "abs"}, "warm chamber"),
        ({"parts.arm.recipe.filament": "tpu"}, "bends far too much"),
        ({"parts.arm.recipe.layer_height_mm": 0.4}, "over 80 %"),
        ({"parts.arm.recipe.line_width_mm": 1.0}, "lays lines of"),
        ({"parts.arm.recipe.filament": "pc"}, "on the shelf"),
        ({"spools.petg_grey.grams_left": 0.0}, "is empty"),
    ],
)
def test_recipes_that_cannot_work_say_so(project: Project, edits: dict[str, object], says: str) -> None:
    edited = set_many(project, tuple(edits.items()))
    assert any(says in p.message for p in recipe_problems(edited.part("arm"), edited, False))


def test_part_too_big_for_the_bed_is_called_out(engine: Engine, project: Project) -> None:
    small = set_many(project, (("printer.bed_x_mm", 90.0), ("printer.bed_y_mm", 90.0)))
    problems = engine.evaluate(small).problems
    assert any("the bed is 90 x 90" in p.message and p.path == "parts.arm.recipe.lies" for p in problems)
