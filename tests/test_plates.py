"""The body's plates: cells, the block solver, holes, and what a maker expects of thickness and windows."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from manifold3d import Manifold

from fravik.engine.validate.plates import even_plate
from fravik.library import filament
from fravik.model.recipe import Facing, Recipe
from fravik.printing.zones import lay
from fravik.shape.stations import ARRANGEMENTS, Stand, in_plan
from fravik.structure.body import LEGS, STACK, STRAP, BodyPoints, body_points, condense, root_compliances, solve_body, tie_faces, used_slots
from fravik.structure.columns import factor
from fravik.structure.plate import PlateGrid, plate_grid, plate_tables, solve_plate
from fravik.structure.platecell import CORNERS
from fravik.structure.platesection import plate_sections

PETG = filament("petg")
FOUR = np.array([(-40.0, -30.0), (40.0, -30.0), (40.0, 30.0), (-40.0, 30.0)])


def printed(recipe: Recipe, hole_mm: float = 0.0, thickness: float = 3.2) -> tuple[PlateGrid, object]:
    solid = Manifold.cube((100.0, 80.0, thickness)).translate((-50.0, -40.0, 0.0))
    if hole_mm:
        solid -= Manifold.cylinder(20.0, hole_mm / 2, hole_mm / 2, 48).translate((0.0, 0.0, -5.0))
    tables = plate_tables(lay(solid, recipe))
    return plate_grid(lay(solid, recipe), tables), tables


def bolted() -> BodyPoints:
    bolts = [[(sx * 40.0 + dx, sy * 30.0 + dy) for dx in (-5.0, 5.0) for dy in (-5.0, 5.0)]
             for sx, sy in ((1, 1), (-1, 1), (-1, -1), (1, -1))]  # fmt: skip
    legs = [(sx * 21.2, sy * 21.2) for sx in (-1, 1) for sy in (-1, 1)]
    return body_points(ARRANGEMENTS["quad_x"].ways_rad, bolts, [], 7.0, 30.5, 3.2, 50.0, 36.0, 0.0, 30.0, legs)


def test_forces_in_the_plane_do_not_bend_and_forces_across_it_do_not_stretch() -> None:
    grid, section = even_plate(100.0, 80.0, 3.0, 10, 8)
    answer = solve_plate(grid, section, FOUR)
    assert answer.compliance == pytest.approx(answer.compliance.T)
    twist, shear = np.zeros(20), np.zeros(20)
    twist[2::5] = (1.0, -1.0, 1.0, -1.0)
    shear[0::5] = (1.0, 1.0, -1.0, -1.0)
    curvature, stretch = answer.strains(np.stack([twist, shear], axis=1))
    assert np.abs(curvature[..., 0]).max() > 0
    assert np.abs(stretch[..., 1]).max() > 0
    assert np.abs(curvature[..., 1]).max() == 0
    assert np.abs(stretch[..., 0]).max() == 0


def test_corner_forces_twist_a_plate_evenly() -> None:
    # the one exact solution of a free plate under corner forces: an even twist w,xy = P / (4 Dt)
    grid, section = even_plate(100.0, 80.0, 3.0, 10, 8)
    corners = np.array([(-50.0, -40.0), (50.0, -40.0), (50.0, 40.0), (-50.0, 40.0)])
    answer = solve_plate(grid, section, corners)
    force = np.zeros(20)
    force[2::5] = (1.0, -1.0, 1.0, -1.0)
    curvature, _ = answer.strains(force[:, None])
    # a force has a face, however small: next to the corners that is felt
    assert curvature[2, :, :, 0] == pytest.approx(np.full((10, 8), curvature[2, 0, 0, 0]), rel=1e-2)
    assert abs(curvature[2, 5, 4, 0]) == pytest.approx(1.0 / (2 * section.d_nmm[3]), rel=1e-2)
    assert np.abs(curvature[:2]).max() < 1e-2 * np.abs(curvature[2]).max()


@given(st.integers(9, 26), st.floats(0.8, 6.0))
def test_bending_under_a_round_face_does_not_hang_on_the_cells(cells: int, radius: float) -> None:
    # a square plate on simple edges: the moment under a force on a small face (Timoshenko), whatever the cells
    side = 120.0
    grid, section = even_plate(side, side, 3.0, cells, cells)
    rim = [(u, v) for u in grid.x_mm for v in grid.y_mm if max(abs(u), abs(v)) > side / 2 - 1e-9]
    answer = solve_plate(
        grid, section, np.array([*rim, (0.0, 0.0)]), 5 * np.arange(len(rim) + 1) + 2, np.array([0.3] * len(rim) + [radius])
    )
    force = np.zeros((5 * len(rim) + 5, 1))
    force[2::5, 0] = answer.stiffness[:, -1] / answer.stiffness[-1, -1]
    bend = answer.strains(force)[0][:2] + answer.under_faces(force)
    i, j = answer.face_cells[-1]
    moment = section.d_nmm[0] * (bend[0, i, j, 0] + 0.3 * bend[1, i, j, 0])
    assert moment == pytest.approx((1.3 * np.log(2 * side / (np.pi * radius)) + 0.435) / (4 * np.pi), rel=0.04)


@given(st.integers(8, 20), st.integers(8, 20), st.integers(0, 10_000))
def test_a_factored_plate_solves_what_it_was_given(nx: int, ny: int, seed: int) -> None:
    # the factor against a dense solution of the same plate put together node by node
    rng = np.random.default_rng(seed)
    cover = np.where(rng.random((nx, ny)) < 0.15, 0.0, rng.uniform(0.2, 1.0, (nx, ny)))
    root = rng.normal(size=(12, 12))
    cell = root @ root.T + 12 * np.eye(12)
    dense = np.zeros(((nx + 1) * (ny + 1), 3, (nx + 1) * (ny + 1), 3))
    for i in range(nx):
        for j in range(ny):
            at = [(i + c) * (ny + 1) + j + r for c, r in CORNERS]
            dense[np.ix_(at, range(3), at, range(3))] += cover[i, j] * cell.reshape(4, 3, 4, 3)
    flat = dense.reshape(3 * (nx + 1) * (ny + 1), -1)
    used = np.diag(flat) > 0
    load = np.where(used[:, None], rng.normal(size=(len(flat), 2)), 0.0)
    one = factor(cover, cell, 3)
    columns = load.reshape(nx + 1, -1, 2)
    u = one.back(one.halfway(columns)).reshape(len(flat), 2)
    # the pegs that hold a free plate are springs more on the diagonal: what they take is known from the answer
    left = load - flat @ u
    assert np.count_nonzero(np.abs(left[used]).max(axis=1) > 1e-6) <= 3
    half = one.halfway(columns).reshape(len(flat), 2)
    assert half.T @ half == pytest.approx(load.T @ u, rel=1e-9)


def test_an_even_pull_strains_evenly() -> None:
    grid, section = even_plate(100.0, 20.0, 3.0, 10, 2)
    ends = np.array([(sx * 50.0, y) for sx in (-1.0, 1.0) for y in (-10.0, 0.0, 10.0)])
    answer = solve_plate(grid, section, ends)
    pull = np.zeros((30, 1))
    pull[0:15:5, 0], pull[15:30:5, 0] = (-5.0, -10.0, -5.0), (5.0, 10.0, 5.0)
    curvature, stretch = answer.strains(pull)
    strain = 20.0 / (2000.0 * 60.0)
    assert stretch[0, :, :, 0] == pytest.approx(np.full((10, 2), strain), rel=1e-2)
    assert stretch[1, :, :, 0] == pytest.approx(np.full((10, 2), -0.3 * strain), rel=0.02)
    assert np.abs(curvature).max() < 1e-12


@given(st.sampled_from([(6, 6), (9, 7), (14, 10)]), st.integers(0, 40))
def test_the_block_solver_inverts_what_it_was_given(size: tuple[int, int], seed: int) -> None:
    rng = np.random.default_rng(seed)
    grid, section = even_plate(100.0, 80.0, 3.0, *size)
    cover = np.where(rng.random(size) < 0.1, 0.0, rng.uniform(0.3, 1.0, size))
    cover[:2, :2] = 1.0
    holed = PlateGrid(grid.x_mm, grid.y_mm, cover)
    answer = solve_plate(holed, section, FOUR)
    assume(np.linalg.cond(answer.compliance) < 1e7)  # not one that turns about a corner where two cells meet
    # free to float: rigid motions cost nothing, and loads in balance come back from what they do
    x, y = FOUR.T
    tilt, turn = np.zeros(20), np.zeros(20)
    tilt[2::5], tilt[3::5] = y, 1.0
    turn[0::5], turn[1::5] = -y, x
    assert np.abs(answer.stiffness @ np.stack([tilt, turn], axis=1)).max() < 1e-6 * np.abs(answer.stiffness).max() * 40
    twist = np.zeros(20)
    twist[2::5] = (1.0, -1.0, 1.0, -1.0)
    assert answer.stiffness @ (answer.compliance @ twist) == pytest.approx(twist, abs=1e-4)
    some = solve_plate(holed, section, FOUR, np.array([2, 7, 12, 17]))
    assert some.compliance == pytest.approx(answer.compliance[2::5, 2::5], rel=1e-6)


def test_strains_add_up_and_mirror() -> None:
    grid, section = even_plate(100.0, 80.0, 3.0, 10, 8)
    answer = solve_plate(grid, section, FOUR)
    rng = np.random.default_rng(3)
    a, b = rng.normal(size=(2, 20))
    both, _ = answer.strains(np.stack([a, b, 2 * a - b], axis=1))
    assert both[..., 2] == pytest.approx(2 * both[..., 0] - both[..., 1], abs=1e-12)
    lift = np.zeros((20, 1))
    # up at the front edge, down at the rear, with moments that balance it
    lift[2::5, 0] = (1.0, 1.0, -1.0, -1.0)
    lift[3::5, 0] = 30.0
    curvature, _ = answer.strains(lift)
    assert curvature[:2, :, :, 0] == pytest.approx(curvature[:2, ::-1, :, 0], abs=1e-9)


@pytest.mark.parametrize("lies", ["flat", "flat_over", "on_side", "on_other_side"])
def test_a_printed_plate_covers_its_outline(lies: str) -> None:
    grid, _ = printed(Recipe(lies=lies))
    assert grid.cover == pytest.approx(np.ones_like(grid.cover), abs=0.02)
    assert (grid.x_mm[0], grid.x_mm[-1], grid.y_mm[0], grid.y_mm[-1]) == pytest.approx((-50, 50, -40, 40), abs=0.3)


def test_a_hole_takes_its_area_and_softens() -> None:
    whole, _ = printed(Recipe())
    holed, tables = printed(Recipe(), 30.0)
    a, b = holed.cell_mm
    missing = (1.0 - holed.cover).sum() * a * b
    assert missing == pytest.approx(np.pi * 225, rel=0.1)
    section = plate_sections(tables, PETG, Recipe(), ("typical",), None)["typical"]  # type: ignore[arg-type]
    bend = np.zeros(20)
    bend[2::5] = (1.0, -1.0, 1.0, -1.0)
    give = [bend @ solve_plate(g, section, FOUR).compliance @ bend for g in (whole, holed)]
    assert give[1] > 1.05 * give[0]


def test_a_solid_plate_has_its_textbook_stiffness() -> None:
    _, tables = printed(Recipe(core_density=1.0, walls=2, cover_layers=40))
    s = plate_sections(tables, PETG, Recipe(core_density=1.0, walls=2, cover_layers=40), ("typical",), None)["typical"]  # type: ignore[arg-type]
    assert s.thickness_mm == pytest.approx(3.2, abs=0.01)
    assert s.d_nmm[0] / s.a_n_mm[0] == pytest.approx(3.2**2 / 12, rel=0.02)
    assert s.d_nmm[3] == pytest.approx(s.a_n_mm[3] * 3.2**2 / 12, rel=0.03)


def test_thickness_counts_as_its_cube_and_sheets_on_the_faces_most() -> None:
    def d(thickness: float, facing: Facing | None = None) -> float:
        _, tables = printed(Recipe(core_density=1.0), thickness=thickness)
        return plate_sections(tables, PETG, Recipe(core_density=1.0), ("typical",), facing)["typical"].d_nmm[0]  # type: ignore[arg-type]

    assert d(6.4) / d(3.2) == pytest.approx(8.0, rel=0.06)
    both = Facing(stock="plate_0p5", faces="both", start_mm=-50.0, end_mm=50.0)
    assert d(3.2, both) > 8 * d(3.2)
    assert d(3.2, both) > d(3.2, both.model_copy(update={"faces": "top"})) > d(3.2)


def test_what_goes_in_at_the_roots_comes_out_at_the_stack() -> None:
    grid, section = even_plate(100.0, 80.0, 3.0, 12, 10)
    points = bolted()
    answer = solve_plate(grid, section, points.xy_mm, used_slots(points), points.radii_mm)
    one = condense(answer, tie_faces(points, answer.slots))
    plates = {"bottom": one, "top": one}
    answer = solve_body(plates, points, 12.0, 50.0)
    push = np.zeros(24)
    push[2::6] = 1.0
    total = sum((answer.on_points[n] @ push)[2::5].sum() for n in plates)
    stack = sum((answer.on_points[n] @ push)[5 * p + 2] for n in plates for p in points.spots[STACK])
    # the plates float on the stack: what the tongues bring, the stack holes take
    assert total == pytest.approx(0.0, abs=1e-4)
    assert stack == pytest.approx(-4.0, rel=1e-3)
    for spot in (LEGS, STRAP):
        lifted = answer.spots[spot]
        assert sum(lifted[n][2::5].sum() for n in plates) == pytest.approx(0.0, abs=1e-3)
    assert answer.roots[0] == pytest.approx(answer.roots[0].T)


@given(st.floats(1.5, 5.0), st.floats(8.0, 30.0))
def test_thicker_plates_and_a_taller_gap_never_give_more(thickness: float, gap: float) -> None:
    points = bolted()

    def give(t: float, g: float) -> float:
        grid, section = even_plate(100.0, 80.0, t, 10, 8)
        answer = solve_plate(grid, section, points.xy_mm, used_slots(points), points.radii_mm)
        one = condense(answer, tie_faces(points, answer.slots))
        return float(solve_body({"bottom": one, "top": one}, points, g, 50.0).roots[0, 4, 4])

    assert give(1.2 * thickness, gap) < give(thickness, gap)
    assert give(thickness, gap) < 1.02 * give(thickness, 0.8 * gap)


def ring(degrees: tuple[float, ...]) -> BodyPoints:
    """Four bolts to each of some arms on a square plate."""
    around = tuple(math.radians(d) for d in degrees)
    local = [(-4.0, -5.0), (-4.0, 5.0), (-14.0, -5.0), (-14.0, 5.0)]
    return body_points(
        around,
        [in_plan(local, Stand(a, 46.0 * math.cos(a), 46.0 * math.sin(a))) for a in around],
        [],
        7.0,
        30.5,
        3.2,
        55.0,
        55.0,
        0.0,
        30.0,
        [(30.0 * math.cos(a), 30.0 * math.sin(a)) for a in around],
    )


def roots_of(points: BodyPoints) -> np.ndarray:
    grid, section = even_plate(110.0, 110.0, 3.0, 11, 11)
    answer = solve_plate(grid, section, points.xy_mm, used_slots(points), points.radii_mm)
    one = condense(answer, tie_faces(points, answer.slots))
    return solve_body({"bottom": one, "top": one}, points, 10.0, 46.0).roots


def test_roots_of_six_arms_are_mirror_images_across_the_craft_s_axes() -> None:
    roots = roots_of(ring((30.0, 90.0, 150.0, 210.0, 270.0, 330.0)))
    # across an upright plane through an arm its sideways force, its twist and its turning moment change sign
    mirror = np.diag([1.0, -1.0, 1.0, -1.0, 1.0, -1.0])
    for k, other in ((0, 2), (0, 5), (1, 4), (2, 3)):
        assert roots[other] == pytest.approx(mirror @ roots[k] @ mirror, rel=1e-6, abs=1e-9 * np.abs(roots).max())
    assert roots[0, 4, 4] != pytest.approx(roots[1, 4, 4], rel=1e-3)  # and those that are none differ


def test_four_arms_in_a_plus_on_a_square_stand_alike() -> None:
    roots = roots_of(ring((0.0, 90.0, 180.0, 270.0)))
    for k in range(1, 4):  # as near as the cells' own error, which is not the same along and across them
        assert roots[k] == pytest.approx(roots[0], rel=0.02, abs=1e-3 * np.abs(roots).max())


def test_the_order_of_the_arms_changes_nothing() -> None:
    there, back = ((20.0, 80.0, 160.0, 250.0, 300.0), (250.0, 20.0, 300.0, 160.0, 80.0))
    one, other = roots_of(ring(there)), roots_of(ring(back))
    for k, d in enumerate(there):
        assert other[back.index(d)] == pytest.approx(one[k], rel=1e-6, abs=1e-9 * np.abs(one).max())


def test_some_roots_alone_are_those_of_the_whole() -> None:
    points = ring((30.0, 90.0, 150.0, 210.0, 270.0, 330.0))
    grid, section = even_plate(110.0, 110.0, 3.0, 11, 11)
    answer = solve_plate(grid, section, points.xy_mm, used_slots(points), points.radii_mm)
    plates = {"bottom": condense(answer, tie_faces(points, answer.slots))}
    some = root_compliances(plates, points, 10.0, 46.0, (1, 3))
    whole = solve_body(plates, points, 10.0, 46.0).roots
    assert some == pytest.approx(whole[[1, 3]], rel=1e-9, abs=1e-12 * np.abs(whole).max())


@pytest.mark.parametrize("wide_mm", [120.0, 260.0, 410.0])
@pytest.mark.parametrize("lies", ["flat", "on_side", "on_other_side", "on_end"])
def test_the_cells_of_a_plate_tell_its_area_however_it_lies(wide_mm: float, lies: Any) -> None:
    # layers of a large plate on its side stand farther apart than its cells
    solid = Manifold.cube((wide_mm, wide_mm, 3.2), True) - Manifold.cylinder(20.0, 22.0, 22.0, 64, True).translate((15.0, -10.0, 0.0))
    field = lay(solid, Recipe(filament="petg", lies=lies))
    grid = plate_grid(field, plate_tables(field))
    area = float((grid.cover * np.prod(grid.cell_mm)).sum())
    assert area == pytest.approx(wide_mm**2 - math.pi * 22.0**2, rel=0.015)
    hole = grid.cover[np.searchsorted(grid.x_mm, 15.0) - 1, np.searchsorted(grid.y_mm, -10.0) - 1]
    assert hole == 0.0
