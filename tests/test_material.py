"""Filament in service, core constants, laminates and wall buckling."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from pydantic import ValidationError

from fravik.engine.evaluate import Engine
from fravik.library import core_table, filament, filament_of, filaments
from fravik.model.material import Spread
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.model.recipe import Recipe
from fravik.structure.bond import Welding
from fravik.structure.buckling import between_lines_mpa, plate_mpa, wrinkling_mpa
from fravik.structure.cells import CELLS, PATTERNS
from fravik.structure.homogenise import Cell, homogenise, peak_stress
from fravik.structure.printed import angle_ply, core_ratios, hashin_shtrikman_upper, plane_stiffness, printed_material
from fravik.structure.service import Service, heat_left, in_service, service_of

PETG = filament("petg")


@given(st.sampled_from(PATTERNS), st.floats(0.0, 1.0), st.floats(0.0, 1.0))
@example("concentric", 1.0, 0.875)  # what the solid begins to tie together holds as much as it is stiff, not all there is
@example("concentric", 0.801, 0.85)
def test_core_constants_rise_with_density(pattern: str, a: float, b: float) -> None:
    low, high = (core_ratios(pattern, p) for p in sorted((a, b)))
    assert (high[0][:6] >= low[0][:6] - 1e-9).all()
    carries = low[0][:6] > 1e-6  # a way in which the core carries nothing is never what breaks
    assert (high[1] >= low[1] - 1e-9)[carries].all()
    assert (high[0][:6] <= 1 + 1e-9).all()


@pytest.mark.parametrize("pattern", PATTERNS)
def test_core_ends_at_nothing_and_at_solid(pattern: str) -> None:
    nothing, solid = core_ratios(pattern, 0.0), core_ratios(pattern, 1.0)
    assert nothing[0][:6] == pytest.approx(np.zeros(6))
    assert solid[0][:6] == pytest.approx(np.ones(6))
    assert solid[1] == pytest.approx(np.ones(6))


@pytest.mark.parametrize("pattern", PATTERNS)
@pytest.mark.parametrize("density", [0.05, 0.2, 0.5, 0.8])
def test_cells_have_the_density_they_are_asked_for(pattern: str, density: float) -> None:
    assert CELLS[pattern](density).density == pytest.approx(density, abs=2e-3)


def test_a_solid_cell_is_its_solid() -> None:
    e = np.linspace(0, 1, 4)
    found = homogenise(Cell(e, e, e, np.ones((3, 3, 3))))
    assert np.linalg.inv(found.stiffness)[0, 0] == pytest.approx(1.0)
    pull = np.array([1.0, 0, 0, 0, 0, 0])
    assert peak_stress(found, pull) == pytest.approx(1.0)
    with pytest.raises(ValueError, match="empty"):
        homogenise(Cell(e, e, e, np.zeros((3, 3, 3))))


def test_stacked_layers_follow_the_rule_of_mixtures() -> None:
    e = np.linspace(0, 1, 5)
    solid = np.ones((4, 4, 4))
    solid[:, :, 2:] = 0.0
    found = homogenise(Cell(e, e, e, solid))
    assert found.stiffness[0, 0] == pytest.approx(0.5 / (1 - 0.36**2), rel=1e-6)


def test_hashin_shtrikman_limits() -> None:
    assert hashin_shtrikman_upper(0.0, 0.36) == 0.0
    assert hashin_shtrikman_upper(1.0, 0.36) == pytest.approx(1.0)
    for d, e in zip(core_table()["solved_density"], core_table()["solved_gyroid_elastic"], strict=True):
        assert e[0] <= hashin_shtrikman_upper(float(d), 0.36)


def test_angle_ply_limits() -> None:
    along, across = (angle_ply(2000.0, 1500.0, 600.0, 0.36, a) for a in (0.0, 90.0))
    assert (along.e_mpa, across.e_mpa, along.g_mpa) == (pytest.approx(2000), pytest.approx(1500), pytest.approx(600))
    even = angle_ply(2000.0, 2000.0, 2000 / 2.72, 0.36, 45.0)
    assert even.e_mpa == pytest.approx(2000)
    # pulled, an even laminate's plies see the pull at 45 degrees: half along, half across, half in shear
    ply = even.to_ply @ np.array([1.0, 0.0, 0.0])
    assert ply[0] == pytest.approx([0.5, 0.5, -0.5])
    assert plane_stiffness(2000.0, 1500.0, 600.0, 0.3, 30.0) == pytest.approx(plane_stiffness(2000.0, 1500.0, 600.0, 0.3, 30.0).T)


@pytest.mark.parametrize("kind", sorted(filaments()))
def test_pulling_across_layers_is_never_stiffer_or_stronger(kind: str) -> None:
    f = filament(kind)
    along, across = (printed_material(f, Recipe(lies=lies), "typical") for lies in ("flat", "on_end"))
    assert across.e_mpa[0, 0] <= along.e_mpa[0, 0]
    assert along.strengths.layer_mpa < along.strengths.road_mpa


@pytest.mark.parametrize("lies", ["flat", "on_side", "on_end", "free"])
def test_corners_of_the_spread_are_ordered(lies: str) -> None:
    low, typ, high = (printed_material(PETG, Recipe(lies=lies, pitch_deg=40.0), c) for c in ("low", "typical", "high"))
    assert (low.e_mpa < typ.e_mpa).all()
    assert (typ.e_mpa < high.e_mpa).all()
    assert low.strengths.layer_mpa < typ.strengths.layer_mpa < high.strengths.layer_mpa


@given(st.sampled_from(sorted(filaments())), st.floats(-30, 120), st.floats(0.1, 30))
def test_warmer_is_never_stiffer(kind: str, temp: float, more: float) -> None:
    f = filament(kind)
    assert heat_left(temp + more, f.glass_transition_c, f.soft_share) <= heat_left(temp, f.glass_transition_c, f.soft_share) + 1e-12


def test_room_conditions_change_nothing() -> None:
    for f in filaments().values():
        assert in_service(f, Service()).e_road_mpa.typical == pytest.approx(f.e_road_mpa.typical)


def test_heat_moisture_cold_and_wet_spools_do_what_they_do() -> None:
    pla, nylon = filament("pla"), filament("pa12")
    assert in_service(pla, Service(temp_c=70.0)).e_road_mpa.typical < 0.15 * pla.e_road_mpa.typical
    assert in_service(nylon, Service(temp_c=70.0)).e_road_mpa.typical > 0.15 * nylon.e_road_mpa.typical
    wet = in_service(nylon, Service(damp=1.0))
    assert wet.e_road_mpa.typical == pytest.approx(0.6 * nylon.e_road_mpa.typical)
    assert wet.ductility_road.typical > nylon.ductility_road.typical
    assert in_service(pla, Service(temp_c=-20.0)).ductility_road.typical < pla.ductility_road.typical
    damp_spool = in_service(nylon, Service(welding=Welding(dried=False)))
    assert damp_spool.s_layer_mpa.typical < nylon.s_layer_mpa.typical
    assert damp_spool.s_road_mpa.typical == nylon.s_road_mpa.typical


def test_a_dark_spool_in_the_sun_is_called_out(engine: Engine, project: Project) -> None:
    sunny = set_many(project, (("brief.sun", True), ("brief.service_temp_c", 34.0), ("parts.arm.recipe.filament", "pla"),
                               ("spools.pla_sand.shade", "dark")))  # fmt: skip
    arm = sunny.part("arm")
    assert service_of(sunny, arm).temp_c == pytest.approx(64.0)
    result = engine.evaluate(sunny)
    assert any("in the sun" in p.message and p.path == "parts.arm.recipe.filament" for p in result.problems)
    light = engine.evaluate(set_many(sunny, (("spools.pla_sand.shade", "light"),)))
    assert light.members["arm"].answers["typical"].freqs_hz[0] > result.members["arm"].answers["typical"].freqs_hz[0]


def test_a_spool_of_ones_own_is_used(engine: Engine, project: Project) -> None:
    mine = PETG.model_copy(update={"id": "mine", "name": "My PETG", "e_road_mpa": Spread(2400.0, 2600.0, 2800.0), "copied_from": "petg"})
    own = project.model_copy(update={"filaments": (mine,)})
    assert filament_of(own, "mine").name == "My PETG"
    stiffer = engine.evaluate(set_many(own, (("parts.arm.recipe.filament", "mine"),)))
    plain = engine.evaluate(project)
    assert stiffer.members["arm"].answers["typical"].freqs_hz[0] > plain.members["arm"].answers["typical"].freqs_hz[0]
    assert Project.model_validate_json(own.model_dump_json()) == own
    with pytest.raises(ValidationError, match="rise in this order"):
        type(PETG).model_validate({**PETG.model_dump(), "e_road_mpa": (2000.0, 1500.0, 2500.0)})


def test_faces_buckle_by_the_textbook() -> None:
    assert wrinkling_mpa(1000.0, 1000.0, 1000.0) == pytest.approx(500.0)
    assert between_lines_mpa(2000.0, 0.0, 1.0, 10.0) == pytest.approx(40.0)
    assert plate_mpa(2000.0, 0.3, 1.0, 20.0) == pytest.approx(3.615 * 2000 / 400, rel=1e-3)


def test_a_thin_hollow_arm_buckles_and_core_holds_it(engine: Engine, project: Project) -> None:
    def reserve(core_density: float) -> float:
        thin = set_many(project, (("parts.arm.recipe.walls", 1), ("parts.arm.recipe.cover_layers", 1),
                                  ("parts.arm.recipe.core_density", core_density),
                                  ("parts.arm.shape.root_width_mm", 28.0), ("parts.arm.shape.tip_width_mm", 28.0)))  # fmt: skip
        from fravik.structure.failure import BUCKLE

        return float(engine.evaluate(thin).members["arm"].cases["typical"]["hard_landing"].values[BUCKLE].min())

    assert reserve(0.3) > 2 * reserve(0.0)
