"""Roads lie where the zones say, weigh what the zones weigh, and take the time that moves take."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, Manifold

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.kinds import build_solid, shape_input
from fravik.library import filament
from fravik.model.laying import Laying
from fravik.model.project import Printer
from fravik.model.recipe import Recipe
from fravik.printing.hatch import hatch
from fravik.printing.job import GivenUpError, PrintJob
from fravik.printing.layerroads import CORE, COVER, GAP, OUTLINE, WALL
from fravik.printing.layers import cut_layers, layer_tops, stand
from fravik.printing.layroads import print_job
from fravik.printing.medial import middle_roads
from fravik.printing.motion import move_seconds
from fravik.printing.patterns import core_roads, polygons_of
from fravik.printing.walls import loop_length_mm, wall_roads
from fravik.printing.zones import lay

PETG, PRINTER = filament("petg"), Printer()
PATTERNS = ("lines", "grid", "triangles", "honeycomb", "gyroid", "cubic", "concentric")
TERN = tern()
SOLIDS = {p.id: build_solid(shape_input(p, TERN)) for p in TERN.parts}
BOX = Manifold.cube((60.0, 24.0, 6.0))


def recipe(**changes: object) -> Recipe:
    return Recipe(**{"line_width_mm": 0.45, "layer_height_mm": 0.2, "core_density": 0.2, **changes})  # type: ignore[arg-type]


def job(solid: Manifold = BOX, laying: Laying | None = None, printer: Printer = PRINTER, **changes: object) -> PrintJob:
    return print_job(solid, recipe(**changes), laying or Laying(edge="none"), PETG, printer)


def blob(points: list[tuple[float, float]]) -> CrossSection:
    """A region like those of parts: a rounded hull with a hole."""
    hull = CrossSection.hull_points(points).offset(3.0)
    u0, v0, u1, v1 = hull.bounds()
    return hull - CrossSection.circle(2.0, 24).translate(((u0 + u1) / 2, (v0 + v1) / 2))


spots = st.tuples(st.floats(-25, 25), st.floats(-25, 25))
regions = st.lists(spots, min_size=3, max_size=7, unique=True).map(blob).filter(lambda c: c.area() > 120)


@pytest.mark.parametrize("part", list(SOLIDS))
def test_grams_by_roads_are_grams_by_zones(part: str) -> None:
    p = TERN.part(part)
    made = print_job(SOLIDS[part], p.recipe, p.laying, PETG, TERN.printer)
    assert made.grams == pytest.approx(made.zone_grams, rel=0.02)
    areas = np.array([sum(s.area_mm2()[[OUTLINE, WALL, GAP, COVER, CORE, 4]]) for s in made.layer_roads])[made.roads_of_layer]
    core = made.layers.core.areas_mm2()
    zones = made.layers.outer.areas_mm2() - (1 - p.recipe.core_density) * core
    assert float(areas.sum()) == pytest.approx(float(zones.sum()), rel=0.03)
    # layer by layer a pattern has its densest and its emptiest heights; walls and covers do not
    solid = core < 1e-6
    assert np.allclose(areas[solid], zones[solid], rtol=0.03)


def test_layers_are_the_zones_that_sections_read(engine: Engine) -> None:
    for part in TERN.parts:
        field = lay(SOLIDS[part.id], part.recipe)
        layers = cut_layers(SOLIDS[part.id], part.recipe, part.laying).layers
        wall, cover, core = layers.zone_volumes_mm3()
        sampled = [float(r.areas_mm2().sum()) * field.pitch_mm for r in (field.outer, field.inner, field.core)]
        # a height that is no whole number of layers is printed to the nearest
        rounding = 0.51 * part.recipe.layer_height_mm * float(field.outer.areas_mm2().max())
        assert wall + cover + core == pytest.approx(sampled[0], rel=0.01, abs=rounding)
        assert core == pytest.approx(sampled[2], rel=0.03, abs=0.01 * sampled[0])


@given(regions, st.sampled_from(PATTERNS), st.floats(0.08, 0.9), st.floats(0, 90), st.integers(0, 31))
def test_core_stays_inside(region: CrossSection, pattern: str, density: float, angle: float, phase: int) -> None:
    area = shapely.buffer(polygons_of(region), 1e-3)
    roads = core_roads(region, pattern, density, 0.45, angle, phase)
    assert roads
    # a step whose two ends are inside may cut across a notch smaller than itself
    outside = sum(float(shapely.length(shapely.difference(shapely.LineString(r), area))) for r in roads)
    total = sum(float(np.hypot(*np.diff(r, axis=0).T).sum()) for r in roads)
    assert outside < 1e-3 * total + 0.3
    points = np.concatenate(roads)
    assert shapely.contains_xy(area, points[:, 0], points[:, 1]).all()


@given(regions, st.integers(1, 6), st.floats(0.3, 0.8))
def test_walls_never_cross(region: CrossSection, walls: int, width: float) -> None:
    made = wall_roads(region, walls, width)
    rings = [shapely.LinearRing(p) for level in made.loops for p in level]
    area = shapely.buffer(polygons_of(region), 1e-6)
    assert all(shapely.covers(area, r) and r.is_simple for r in rings)
    for i, a in enumerate(rings):
        assert not any(shapely.intersects(a, b) for b in rings[i + 1 :])


@given(regions, st.integers(1, 5))
@example(blob([(0.0, 3.0), (0.0, -10.320282297952929), (1.0, 0.0), (-2.836867119258539, 0.0)]), 2)  # its hairs all round touch
def test_walls_fill_their_band(region: CrossSection, walls: int) -> None:
    w = 0.45
    made = wall_roads(region, walls, w)
    laid = sum(loop_length_mm(p) * b for level, b in zip(made.loops, made.widths_mm, strict=True) for p in level)
    laid += sum(float(np.hypot(*np.diff(p, axis=0).T).sum()) * b for p, b in made.gaps)
    band = region.area() - sum(p.area() for p in region.offset(-walls * w).decompose())
    assert laid == pytest.approx(band, rel=0.03, abs=0.5)
    assert all(0.7 * w < b < 1.25 * w for b in made.widths_mm)


@settings(max_examples=20)
@given(
    regions,
    st.sampled_from(("lines", "grid", "triangles", "cubic")),
    st.floats(0.1, 1.0),
    st.integers(1, 5),
    st.integers(0, 4),
    st.floats(0.35, 0.6),
)
def test_area_by_roads_is_area_by_zones(
    region: CrossSection, pattern: str, core_density: float, walls: int, covers: int, width: float
) -> None:
    made = job(
        Manifold.extrude(region, 4.0), pattern=pattern, core_density=core_density, walls=walls, cover_layers=covers, line_width_mm=width
    )
    roads = np.array([s.area_mm2()[:6].sum() for s in made.layer_roads])[made.roads_of_layer]
    core = made.layers.core.areas_mm2()
    zones = made.layers.outer.areas_mm2() - (1 - core_density) * core
    # along the rim of a core lines end at one place or another, and tips stay empty: a tenth of a road's width all round
    rim = sum(float(np.hypot(*(np.roll(p, -1, axis=0) - p).T).sum()) for p in region.to_polygons())
    assert abs(float(roads.sum() - zones.sum())) < 0.02 * float(zones.sum()) + 0.1 * width * rim * len(roads)


@pytest.mark.parametrize("thick", [0.3, 0.45, 0.6, 0.72, 0.8, 1.0, 1.3, 1.6, 2.1])
def test_thin_blade_is_all_road(thick: float) -> None:
    made = job(Manifold.cube((40.0, thick, 4.0)), walls=3)
    assert made.grams == pytest.approx(40 * thick * 4 * 1.27e-3, rel=0.06)
    kinds = set(np.concatenate([s.kind for s in made.layer_roads]).tolist())
    assert (OUTLINE in kinds) == (thick >= 1.6 * 0.45)
    assert (GAP in kinds) == (thick < 1.6 * 0.45 or thick - 0.9 > 0.4 * 0.45)


def test_middle_of_a_blade_is_its_middle() -> None:
    (road, width), *rest = middle_roads(CrossSection.square((30.0, 0.6), True), 0.45, 0.45)
    assert not rest
    assert np.abs(road[:, 1]).max() < 0.02
    assert np.ptp(road[:, 0]) == pytest.approx(30.0, abs=0.6)
    assert width == pytest.approx(0.6, rel=0.02)


def test_a_wider_region_needs_more_hatch() -> None:
    square = CrossSection.square((20.0, 20.0), True)
    for angle in (0.0, 0.7, math.pi / 2):
        lines = hatch(square, angle, 0.4)
        assert float(np.hypot(*(lines[:, 1] - lines[:, 0]).T).sum()) * 0.4 == pytest.approx(400.0, rel=0.02)


def test_moving_the_solid_changes_nothing() -> None:
    here, there = job(), job(BOX.translate((311.3, -47.7, 12.2)))
    assert there.minutes == pytest.approx(here.minutes, rel=1e-6)
    assert there.grams == pytest.approx(here.grams, rel=1e-6)


def test_turning_the_part_with_its_pattern_changes_nothing() -> None:
    here = job(core_angle_deg=0.0, pattern="grid")
    turned = job(BOX.rotate((0.0, 0.0, 90.0)), core_angle_deg=90.0, pattern="grid")
    assert turned.grams == pytest.approx(here.grams, rel=1e-3)
    assert turned.minutes == pytest.approx(here.minutes, rel=0.02)


@given(st.floats(5, 200), st.floats(200, 8000), st.floats(0, 30), st.integers(2, 30))
def test_moves_obey_the_machine(speed: float, accel: float, corner: float, count: int) -> None:
    rng = np.random.default_rng(count)
    points = rng.uniform(0, 30, (count + 1, 2))
    length = np.hypot(*np.diff(points, axis=0).T)
    took = move_seconds(points, np.full(count, speed), np.full(count, accel), np.zeros(count, dtype=bool), corner)
    assert (took >= length / speed - 1e-9).all()
    stopped = move_seconds(points, np.full(count, speed), np.full(count, accel), np.ones(count, dtype=bool), corner)
    alone = [move_seconds(p, np.array([speed]), np.array([accel]), np.zeros(1, dtype=bool), corner)[0]
             for p in np.stack([points[:-1], points[1:]], axis=1)]  # fmt: skip
    assert stopped == pytest.approx(alone)
    assert took.sum() <= stopped.sum() + 1e-9


def test_straight_points_cost_nothing() -> None:
    line = np.column_stack([np.linspace(0, 50, 2), np.zeros(2)])
    fine = np.column_stack([np.linspace(0, 50, 101), np.zeros(101)])
    one = move_seconds(line, np.full(1, 60.0), np.full(1, 1000.0), np.zeros(1, dtype=bool), 8.0).sum()
    many = move_seconds(fine, np.full(100, 60.0), np.full(100, 1000.0), np.zeros(100, dtype=bool), 8.0).sum()
    assert many == pytest.approx(one, rel=1e-9)


def test_first_layer_apart_and_last_layer_close() -> None:
    tops = layer_tops(stand(BOX, recipe()), recipe(), Laying(first_layer_mm=0.3))
    assert tops[0] == pytest.approx(0.3)
    assert np.diff(tops) == pytest.approx(0.2)
    assert abs(tops[-1] - 6.0) <= 0.1 + 1e-9


def test_adaptive_layers_are_thin_on_slopes_only() -> None:
    cone = Manifold.cylinder(10.0, 12.0, 4.0, 64)
    both = cone + Manifold.cylinder(10.0, 4.0, 4.0, 64).translate((0, 0, 9.99))
    tops = layer_tops(stand(both, recipe()), recipe(), Laying(adaptive=True))
    thick = np.diff(tops)
    slope, straight = thick[tops[1:] < 9.0], thick[tops[:-1] > 10.2][:-1]
    assert slope.mean() < 0.8 * straight.mean()
    assert thick.max() <= 0.2 + 1e-9
    assert thick.min() >= 0.1 - 1e-9
    assert job(both, Laying(adaptive=True)).layers.count > job(both).layers.count


def test_seam_at_the_back() -> None:
    made = job(laying=Laying(edge="none", starts="back"))
    outer = [points for points, kind, _ in made.roads_of(10).roads() if kind == OUTLINE]
    assert outer
    for points in outer:
        assert points[0, 1] == pytest.approx(points[:, 1].max())


def test_wall_order() -> None:
    for first in (True, False):
        kinds = [int(k) for k in job(laying=Laying(edge="none", outline_first=first)).roads_of(10).kind if k in (OUTLINE, WALL)]
        assert kinds.index(OUTLINE) == (0 if first else len(kinds) - 1)


def test_small_layers_wait_to_set() -> None:
    pin = Manifold.cylinder(6.0, 1.5, 1.5, 32)
    made = job(pin)
    assert made.seconds.sum(axis=1).min() >= PETG.min_layer_s - 1e-9
    assert made.minutes_by_feature()["waiting to set"] > 0
    assert "waiting to set" not in job(Manifold.cube((80.0, 60.0, 1.0))).minutes_by_feature()


def test_flow_limit_slows_wide_roads() -> None:
    fast = Printer(wall_speed_mm_s=300.0, cover_speed_mm_s=300.0, core_speed_mm_s=300.0, acceleration_mm_s2=20000.0,
                   wall_acceleration_mm_s2=20000.0)  # fmt: skip
    big = Manifold.cube((150.0, 100.0, 1.0))
    made = job(big, printer=fast, cover_layers=5)
    laid = float(made.road_mm3.sum())
    assert laid / (made.seconds[:, :9].sum()) < PETG.flow_limit_mm3_s
    assert made.minutes < job(big, cover_layers=5).minutes


def test_work_can_be_given_up_and_tells_how_far_it_is() -> None:
    seen: list[tuple[int, int]] = []
    print_job(BOX, recipe(), Laying(), PETG, PRINTER, progress=lambda a, b: seen.append((a, b)))
    assert seen[-1][0] == seen[-1][1]
    with pytest.raises(GivenUpError):
        print_job(BOX, recipe(), Laying(), PETG, PRINTER, cancelled=lambda: True)


def test_nothing_and_too_much_are_refused() -> None:
    with pytest.raises(ValueError, match="empty"):
        job(Manifold())
    with pytest.raises(ValueError, match="layers"):
        job(Manifold.cube((1.0, 1.0, 9e4)))


def test_supports_stand_under_what_hangs() -> None:
    table = Manifold.cube((40.0, 30.0, 2.0)).translate((0, 0, 12)) + Manifold.cube((6.0, 30.0, 12.5))
    bare = job(table)
    assert bare.hanging_mm2.max() > 900
    assert bare.waste_grams == pytest.approx(0.0)
    for kind in ("pillars", "walls"):
        held = job(table, Laying(edge="none", support=kind))
        assert held.waste_grams > 0.2
        assert held.grams == pytest.approx(bare.grams, rel=1e-6)
        by_layer = held.road_mm3[:, 6] + held.road_mm3[:, 7]
        assert by_layer[:50].min() > 0
        assert by_layer[62:].max() == 0
    soluble = job(table, Laying(edge="none", support="walls", soluble=True))
    assert soluble.road_mm3[59, 7] > 0
    assert held.road_mm3[59, 7] == 0


def test_brim_and_skirt() -> None:
    skirt, brim = job(laying=Laying(edge="ring")), job(laying=Laying(edge="hem", hem_mm=4.5))
    assert brim.waste_grams > 3 * skirt.waste_grams > 0
    assert brim.road_mm3[1:, 8].max() == 0
