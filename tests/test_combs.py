"""Arms with a honeycomb through them: its cells, what its sections are worth, strength, prints, what is refused, and the window."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given
from hypothesis import strategies as st

from fravik.engine.bare import bare_field
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation, Refused
from fravik.engine.ruler import WORST, probe_at, reserves_of
from fravik.engine.settle import settle
from fravik.kinds import kind_of
from fravik.model.paths import get_at, set_many
from fravik.model.project import Project
from fravik.model.shapes import ArmShape
from fravik.shape.arm import arm_plan, arm_solid
from fravik.shape.build import loose_pieces
from fravik.shape.comb import cell_mm2, comb_of
from fravik.structure.lattice import LEAST_SHARE, Lattice, latticed
from fravik.structure.rows import RowTables

AT = "parts.arm.shape."
CELLS = {"comb_cell_mm": 4.5, "comb_wall_mm": 2.4}


def bare(project: Project, lies: str = "flat", **shape: Any) -> Project:
    """Without what is glued on, and with an arm changed."""
    edits = (("parts.arm.carbon", None), ("parts.arm.facing", None), ("parts.arm.recipe.lies", lies))
    return set_many(project, (*edits, *((AT + k, v) for k, v in shape.items())))


@pytest.fixture(scope="module")
def combed(engine: Engine, project: Project) -> Evaluation:
    return engine.evaluate(bare(project, **CELLS))


def section_sums(tables: RowTables) -> dict[str, np.ndarray]:
    return {k: v.sum(axis=0) for k, v in tables.zone_sums.items()}


@given(cell=st.floats(2.5, 7.0), wall=st.floats(1.2, 4.0), rows=st.integers(2, 4), length=st.floats(80.0, 200.0))
def test_cells_are_holes_of_their_own_and_the_arm_stays_one_piece(cell: float, wall: float, rows: int, length: float) -> None:
    arm = ArmShape(root_width_mm=40.0, tip_width_mm=40.0, pad_diameter_mm=44.0, tongue_width_mm=44.0,
                   comb_cell_mm=cell, comb_wall_mm=wall, comb_rows=rows)  # fmt: skip
    comb = comb_of(arm, length)
    assert comb is not None
    plain = arm.model_copy(update={"comb_cell_mm": 0.0})
    gone = arm_plan(plain, length).area() - arm_plan(arm, length).area()
    assert gone == pytest.approx(len(comb.middles_mm) * cell_mm2(arm), rel=5e-3)
    solid = arm_solid(arm, length, None, None)
    assert loose_pieces(solid) == 1
    assert solid.genus() - arm_solid(plain, length, None, None).genus() == len(comb.middles_mm)
    # walls between cells are as thick as they are asked: the nearest middles stand a cell and a wall apart
    middles = np.array(comb.middles_mm)
    apart = np.linalg.norm(middles[:, None] - middles, axis=2) + 1e9 * np.eye(len(middles))
    assert apart.min() == pytest.approx(cell + wall)
    assert np.abs(middles[:, 1]).max() + cell / 2 == pytest.approx(comb.half_mm)


@pytest.mark.parametrize("lies", ["flat", "flat_over", "on_side", "on_other_side", "on_end"])
def test_a_band_counts_by_its_share_however_the_arm_lies(engine: Engine, project: Project, lies: str) -> None:
    solid = {"core_density": 1.0}
    q = set_many(bare(project, lies, **CELLS), tuple((f"parts.arm.recipe.{k}", v) for k, v in solid.items()))
    found = engine.evaluate(q)
    member, r = found.members["arm"].member, found.parts["arm"]
    lattice = member.form.lattice
    assert lattice is not None
    from fravik.structure.rows import row_tables

    plain = section_sums(row_tables(bare_field(r), member.path.line))
    banded, weighed = section_sums(member.tables), section_sums(member.tables.weighed_by or member.tables)
    at = member.positions_mm
    inside = (at > lattice.start_mm + 1) & (at < lattice.end_mm - 1)
    tall = plain["a"] / np.array([member.form.body.width_mm(float(x)) for x in at])
    taken = 2 * lattice.half_mm * tall
    assert banded["a"][~inside] == pytest.approx(plain["a"][~inside], rel=1e-6)
    assert banded["a"][inside] == pytest.approx(plain["a"][inside] - (1 - lattice.stiff) * taken[inside], rel=0.02)
    assert weighed["a"][inside] == pytest.approx(plain["a"][inside] - (1 - lattice.share) * taken[inside], rel=0.02)
    # sideways the band's middle counts for little
    lost = (1 - lattice.stiff) * tall * (2 * lattice.half_mm) ** 3 / 12
    assert banded["yy"][inside] == pytest.approx(plain["yy"][inside] - lost[inside], rel=0.02)


def test_sections_weigh_what_the_part_does(engine: Engine, project: Project) -> None:
    both = [engine.evaluate(bare(project, **s)) for s in ({}, CELLS)]
    part = [r.parts["arm"].mass.mass_g for r in both]
    chain = [r.members["arm"].answers["typical"].section.mass_t * 1e6 for r in both]
    assert chain[1] - chain[0] == pytest.approx(part[1] - part[0], abs=0.03 * part[0])


def test_a_honeycomb_softens_and_strains_its_walls(engine: Engine, project: Project) -> None:
    wide = {"root_width_mm": 22.0, "tip_width_mm": 22.0}
    gives, least = [], []
    for wall in (None, 4.0, 3.0, 2.4):
        cells = {} if wall is None else {"comb_cell_mm": 4.5, "comb_wall_mm": wall}
        q = set_many(bare(project, **wide, **cells), (("parts.arm.recipe.core_density", 1.0),))
        found = engine.evaluate(q).members["arm"]
        assert (found.member.form.lattice is None) == (wall is None)
        near = found.member.positions_mm
        there = (near > 15) & (near < 60)
        gives.append(float(found.answers["typical"].compliance[2, 2]))
        least.append(min(c.envelope()[there].min() for c in found.cases["typical"].values()))
    assert gives == sorted(gives)
    assert gives[-1] > 1.1 * gives[0]
    assert max(least[1:]) < 0.9 * least[0]


def test_ruler_probe_and_worst_points_of_a_combed_arm_agree(combed: Evaluation) -> None:
    found, case = combed.members["arm"], "full_throttle"
    assert reserves_of(combed, "arm", WORST) is not None
    at = int(np.argmin(found.cases["typical"][case].envelope()[8:20])) + 8
    probe = probe_at(combed, "arm", case, float(found.member.positions_mm[at]))
    assert probe is not None
    assert probe.reserve.min() == pytest.approx(found.cases["typical"][case].envelope()[at], rel=0.25)


def test_it_is_printed_with_its_cells(engine: Engine, combed: Evaluation) -> None:
    roads = settle(engine, combed.project).jobs["arm"]
    assert roads.grams == pytest.approx(combed.parts["arm"].mass.mass_g, rel=0.08)


@pytest.mark.parametrize(
    ("shape", "lies", "field", "words"),
    [
        ({"comb_cell_mm": 1.5}, "flat", "comb_cell_mm", "fill up"),
        ({"comb_cell_mm": 6.0, "comb_rows": 3}, "flat", "comb_rows", "rails"),
        ({"comb_cell_mm": 4.5, "comb_wall_mm": 0.8}, "flat", "comb_wall_mm", "two roads"),
        ({"comb_cell_mm": 5.5, "comb_wall_mm": 1.4}, "flat", "comb_wall_mm", "judged"),
        ({"comb_cell_mm": 4.5, "pocket_count": 1}, "flat", "pocket_count", "one or the other"),
        ({"comb_cell_mm": 4.5, "channel_width_mm": 6.0}, "flat", "channel_width_mm", "one or the other"),
        ({"comb_cell_mm": 4.5, "bar_height_mm": 3.0, "bar_way": "middle"}, "flat", "bar_way", "edges"),
        ({"comb_cell_mm": 4.5}, "free", "lies", "flat, on a side or upright"),
    ],
)
def test_what_it_cannot_be_is_told_at_its_field(
    engine: Engine, project: Project, shape: dict[str, Any], lies: str, field: str, words: str
) -> None:
    with pytest.raises(Refused) as refused:
        engine.evaluate(bare(project, lies, **shape))
    assert any(p.path.endswith(field) and words in p.message for p in refused.value.problems)


def test_carbon_over_it_is_refused(engine: Engine, project: Project) -> None:
    part = project.part("arm")
    carbon = kind_of(part.shape).first_carbon(part.shape, project)
    with pytest.raises(Refused) as refused:
        engine.evaluate(set_many(bare(project, **CELLS), (("parts.arm.carbon", carbon.model_dump()),)))
    assert any("honeycomb" in p.message for p in refused.value.problems)


def test_an_arm_that_is_bowed_carries_it_along_its_line(engine: Engine, project: Project) -> None:
    found = engine.evaluate(bare(project, bow_mm=12.0, **CELLS)).members["arm"].member
    assert found.form.lattice is not None
    assert 0 < found.form.lattice.start_mm < found.form.lattice.end_mm < found.path.length_mm


@given(share=st.floats(LEAST_SHARE, 0.99))
def test_a_honeycomb_is_worth_no_more_than_its_plastic(share: float) -> None:
    lattice = Lattice(10.0, 50.0, 5.0, share)
    # nor more than an even sheet with as much plastic can be at best (Hashin and Shtrikman's bound in the plane)
    assert lattice.stiff < share / (1 + 2 * (1 - share)) + 1e-9
    assert lattice.pulled_peak > 1.0


def test_sections_askew_are_not_made_up(engine: Engine, project: Project) -> None:
    found = engine.evaluate(set_many(bare(project, "free"), (("parts.arm.recipe.roll_deg", 30.0),)))
    with pytest.raises(ValueError, match="honeycomb"):
        latticed(found.members["arm"].member.tables, Lattice(20.0, 60.0, 5.0, 0.6))


def test_the_window_cuts_it_and_takes_it_back(qapp: Any, window: Any) -> None:
    session = window.session
    before = session.project
    session.edit_many((("parts.arm.carbon", None), ("parts.arm.facing", None), *((AT + k, v) for k, v in CELLS.items())))
    assert until(qapp, lambda: not session.busy)
    assert not session.stale
    assert get_at(session.project, AT + "comb_cell_mm") == 4.5
    assert session.result.members["arm"].member.form.lattice is not None
    while session.project != before:
        session.undo()
        assert until(qapp, lambda: not session.busy)
    assert session.result.members["arm"].member.form.lattice is None
