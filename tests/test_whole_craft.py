"""The craft as one structure: condensing, joining, freedom in the air, names of modes, and what the engine makes of it."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.demo import dunlin
from fravik.engine.evaluate import Engine
from fravik.engine.results import SHAKES, Evaluation
from fravik.engine.swing import mode_swing
from fravik.engine.tables import as_data
from fravik.engine.validate.whole import bar, point, pose
from fravik.kinds import places, places_of, shape_problems
from fravik.kinds.around import arms_by_slot, stations
from fravik.kinds.newcraft import Wish, relaid, sized
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.printing.mass import MassProperties
from fravik.structure.beams import BeamLine
from fravik.structure.cases import on_few_feet
from fravik.structure.craft.assemble import Carried, Craft, Placed, Spring, assemble
from fravik.structure.craft.body import averaged, shared
from fravik.structure.craft.element import SuperElement, condense, without_idle
from fravik.structure.craft.free import free_modes, push, relieve, seen_from
from fravik.structure.craft.naming import _patterns
from fravik.structure.faults import StructureFault
from fravik.structure.member import LOADS
from fravik.study.levers import find_levers

PIECES = 8


def line(length: float = 100.0, wide: float = 16.0, high: float = 9.0, e: float = 2000.0) -> BeamLine:
    one = np.ones(PIECES)
    a, i, j = wide * high, wide * high**3 / 12, high * wide**3 / 12
    return BeamLine(np.linspace(0, length, PIECES + 1), e * a * one, e * i * one, e * j * one, 0.3 * e * (i + j) * one,
                    0.3 * e * a * one, 0.3 * e * a * one, 1.2e-9 * a * one, 1.2e-9 * (i + j) * one)  # fmt: skip


@pytest.fixture(scope="module")
def arm() -> SuperElement:
    return condense(bar(line()))


def star(
    arms: list[SuperElement], turn_rad: float = 0.0, order: list[int] | None = None, mirrored: bool = False, fused: bool = True
) -> Craft:
    """A hub with arms all round, each with a rotor at its end; ``order`` is in what order they are put in."""
    n = len(arms)
    flip = np.diag([1.0, -1.0 if mirrored else 1.0, 1.0, 1.0])
    at = [flip @ pose(2 * math.pi * k / n + 0.3 + turn_rad, 40.0) for k in range(n)]
    tight = np.stack([1e8 * np.eye(6)] * 3)
    placed, springs = [Placed("hub", point(), np.eye(4))], []
    for k in order or range(n):
        placed.append(Placed(f"arm_{k}", arms[k], at[k], ("base", ("hub", "at")) if fused else None))
        if not fused:
            springs.append(Spring((f"arm_{k}", "base"), ("hub", "at"), np.zeros(3), tight))
    c, s = math.cos(turn_rad), math.sin(turn_rad)
    whole = flip[:3, :3] @ np.array([[c, -s, 0], [s, c, 0], [0, 0, 1.0]])
    bodies = [Carried(("hub", "at"), 4e-4, whole @ np.diag([0.2, 0.3, 0.4]) @ whole.T, whole @ np.array([2.0, 1.0, 4.0]))]
    bodies += [Carried((f"arm_{k}", "end"), 5e-5, 4e-3 * np.eye(3), (at[k] @ np.array([100.0, 0.0, 12.0, 1.0]))[:3]) for k in range(n)]
    return assemble(placed, springs, bodies)


@settings(max_examples=8)
@given(st.floats(0.0, 6.28), st.permutations(range(5)), st.booleans())
def test_turning_mirroring_or_renumbering_changes_no_mode(arm: SuperElement, turn: float, order: list[int], mirrored: bool) -> None:
    plain = free_modes(star([arm] * 5), 12)
    other = free_modes(star([arm] * 5, turn, list(order), mirrored), 12)
    assert other.corners_hz == pytest.approx(plain.corners_hz, rel=1e-6)


def test_two_kinds_of_arm_that_are_alike_are_one_kind(arm: SuperElement) -> None:
    again = condense(bar(line()))
    one, two = (free_modes(star(arms), 10).freqs_hz for arms in ([arm] * 4, [arm, again] * 2))
    assert two == pytest.approx(one, rel=1e-9)


def test_fused_is_the_end_of_a_stiff_joint(arm: SuperElement) -> None:
    fused, joined = (free_modes(star([arm] * 4, fused=f), 10).freqs_hz for f in (True, False))
    assert joined == pytest.approx(fused, rel=1e-3)
    assert (joined <= fused * (1 + 1e-9)).all()


@given(st.floats(0.2, 20.0), st.floats(-30.0, 30.0), st.floats(-30.0, 30.0))
@settings(max_examples=8)
def test_weight_on_the_hub_never_raises_a_mode(arm: SuperElement, grams: float, x: float, y: float) -> None:
    craft = star([arm] * 4)
    heavier = assemble([h.placed for h in craft.places.values()], (), [])
    heavier.m[:] = craft.m
    move = heavier.motion(("hub", "at"), np.array([x, y, 0.0]))[:3]
    heavier.m[:] += grams * 1e-6 * move.T @ move
    before, after = free_modes(craft, 10).freqs_hz, free_modes(heavier, 10).freqs_hz
    assert (after[:10] <= before[:10] * (1 + 1e-9)).all()


@settings(max_examples=10)
@given(st.lists(st.floats(-20.0, 20.0), min_size=24, max_size=24))
def test_a_free_craft_needs_no_hold_and_obeys_newton(arm: SuperElement, forces: list[float]) -> None:
    craft = star([arm] * 4)
    acts = np.array(forces).reshape(4, 6)
    load = np.sum([push(craft, (f"arm_{k}", "end"), f) for k, f in enumerate(acts)], axis=0)[:, None]
    given_ = relieve(craft, load, ("hub", "at"))
    assert np.abs(given_.left).max() <= 1e-9 * max(np.abs(load).max(), 1.0)
    # momentum about the origin: forces and their moments against the whole craft's inertia
    ends = [craft.port_mm((f"arm_{k}", "end")) for k in range(4)]
    total = np.concatenate([acts[:, :3].sum(axis=0), (acts[:, 3:] + np.cross(ends, acts[:, :3])).sum(axis=0)])
    assert (craft.rigid.T @ craft.m @ craft.rigid) @ given_.acceleration[:, 0] == pytest.approx(total, rel=1e-9, abs=1e-9)
    assert np.abs(craft.motion(("hub", "at")) @ given_.q[1]).max() < 1e-3 * max(np.abs(given_.q[1]).max(), 1e-12)


def test_even_thrust_bends_all_arms_alike(arm: SuperElement) -> None:
    craft = star([arm] * 6)
    craft.m[:] = 0.0
    # the hub's mass in the middle, so that nothing pitches
    hub = craft.motion(("hub", "at"))
    craft.m[:] += hub.T @ np.diag([4e-4] * 3 + [0.3] * 3) @ hub
    load = np.sum([push(craft, (f"arm_{k}", "end"), np.array([0, 0, 5.0, 0, 0, 0])) for k in range(6)], axis=0)[:, None]
    q = relieve(craft, load, ("hub", "at")).q
    rise = [float(seen_from(craft, q[1], ("hub", "at"), (f"arm_{k}", "end"))[2, 0]) for k in range(6)]
    i = 16 * 9**3 / 12
    assert rise == pytest.approx([5.0 * (100.0**3 / (3 * 2000 * i) + 100.0 / (0.3 * 2000 * 16 * 9))] * 6, rel=1e-6)


def test_a_piece_on_nothing_is_told(arm: SuperElement) -> None:
    craft = assemble([Placed("one", arm, np.eye(4)), Placed("two", arm, pose(1.0, 300.0))])
    with pytest.raises(StructureFault, match="hangs on nothing"):
        free_modes(craft, 4)


def test_idle_coordinates_follow_exactly(arm: SuperElement) -> None:
    whole = bar(line())
    bare = SuperElement(whole.k, np.zeros_like(whole.m), whole.rigid, whole.ports, whole.nodes_mm, whole.recovery)
    short = without_idle(bare)
    assert short.size == 12
    assert short.k[1] == pytest.approx(arm.k[1][:12, :12], rel=1e-6, abs=1e-6 * float(np.abs(arm.k[1]).max()))
    assert short.k[0] @ short.rigid == pytest.approx(np.zeros((12, 6)), abs=1e-4)


def test_the_mean_of_two_gives_is_between_them_and_stays_free(arm: SuperElement) -> None:
    soft, seat = arm.k[0][:12, :12], np.eye(12)[:6]
    mean = averaged([soft, 2.0 * soft], seat)
    assert mean @ arm.rigid[:12] == pytest.approx(np.zeros((12, 6)), abs=1e-6 * float(np.abs(soft).max()))
    held = slice(6, 12)
    expected = (np.linalg.inv(soft[held, held]) + np.linalg.inv(2.0 * soft[held, held])) / 2
    assert np.linalg.inv(mean[held, held]) == pytest.approx(expected, rel=1e-6, abs=1e-12)


@settings(max_examples=20)
@given(st.floats(1.0, 500.0), st.floats(-20.0, 20.0), st.floats(-20.0, 20.0), st.floats(5.0, 60.0))
def test_a_body_spread_over_carriers_keeps_its_weight_and_its_middle(grams: float, x: float, y: float, size: float) -> None:
    box = MassProperties(grams, np.array([x, y, 3.0]), grams / 12 * np.diag([size**2, size**2, 2 * size**2]))
    carriers = [
        (("hub", f"p{k}"), np.array([sx * 40.0, sy * 40.0, 3.0])) for k, (sx, sy) in enumerate([(1, 1), (-1, 1), (-1, -1), (1, -1)])
    ]
    carriers.append((("hub", "mid"), np.array([0.0, 0.0, 3.0])))
    got = shared(box, carriers)
    mass = sum(b.mass_t for b in got)
    assert mass == pytest.approx(grams * 1e-6)
    middle = sum(b.mass_t * b.at_mm for b in got) / mass
    assert middle[:2] == pytest.approx([x, y], abs=0.5)


@pytest.mark.parametrize(
    ("amounts", "said"),
    [
        ([1, 1, 1, 1], "all alike"),
        ([1, -1, 1, -1], "neighbours against each other"),
        ([1, -1, -1, 1], "front against rear"),
        ([1, 1, -1, -1], "left against right"),
        ([1, 0, 0, 0], "unevenly"),
    ],
)
def test_how_copies_go_together_is_named(amounts: list[float], said: str) -> None:
    around = np.radians([45.0, 135.0, 225.0, 315.0])
    assert _patterns(np.array(amounts, dtype=float)[:, None], around) == [said]


# what the engine makes of it


def test_the_craft_weighs_what_it_weighs_and_bends_only_when_bent(result: Evaluation) -> None:
    craft = result.whole.craft  # type: ignore[union-attr]
    mass = craft.rigid.T @ craft.m @ craft.rigid
    assert mass[0, 0] * 1e6 == pytest.approx(result.craft.mass_g, rel=1e-6)
    com = np.array([mass[1, 5], mass[2, 3], mass[0, 4]]) / mass[0, 0]
    assert com == pytest.approx(result.craft.com_mm, abs=1.0)
    stiff = float(np.abs(craft.k).max())
    assert np.abs(craft.k @ craft.rigid).max() < 1e-6 * stiff


def test_craft_and_parts_stand_side_by_side_in_the_data(result: Evaluation) -> None:
    modes = as_data(result)["modes"]
    whole = [m for m in modes if m["of"] == "craft"]
    assert [m["freq_hz"] for m in whole] == sorted(m["freq_hz"] for m in whole)
    assert {m["of"] for m in modes} == {"craft", *result.members}
    assert all(m["low"] <= m["freq_hz"] <= m["high"] for m in whole)


def test_an_arm_that_carries_a_guard_rings_lower_on_the_craft_than_alone(result: Evaluation) -> None:
    alone = result.members["arm"].answers["typical"].freqs_hz[0]
    lowest = result.whole.lowest  # type: ignore[union-attr]
    assert lowest.part_id == "arm"
    assert lowest.freq_hz < alone
    # without guards the neighbours swing against each other as a held arm does: the body stands still between them
    bare = result.project.model_copy(update={"parts": tuple(p for p in result.project.parts if p.id != "guard")})
    found = Engine().evaluate(bare)
    assert found.whole is not None
    first = next(m for m in found.whole.modes if m.movement.together == "neighbours against each other")
    assert first.freq_hz == pytest.approx(found.members["arm"].answers["typical"].freqs_hz[0], rel=0.04)


def test_a_mode_counts_only_against_what_can_drive_it(result: Evaluation) -> None:
    by_name = {(m.part_id, m.name, m.freq_hz): m for m in result.whole.modes}  # type: ignore[union-attr]
    for met in result.meetings:
        mode = by_name[met.mode.part_id, met.mode.name, met.mode.freq_hz]
        share = mode.sideways if met.order.way == "sideways" else mode.along
        assert share >= SHAKES


def test_stiffer_arms_raise_the_lowest_mode_and_lower_the_rise(with_edits: Callable[..., Evaluation], result: Evaluation) -> None:
    tall = with_edits({"parts.arm.shape.root_height_mm": 16.0, "parts.arm.shape.tip_height_mm": 14.0})
    assert tall.whole is not None
    assert result.whole is not None
    assert tall.whole.lowest.freq_hz > 1.2 * result.whole.lowest.freq_hz
    for corner in ("low", "typical", "high"):
        assert tall.whole.worst_rise(corner)[0] < result.whole.worst_rise(corner)[0]


def test_no_plates_no_whole(project: Project, engine: Engine) -> None:
    bare = project.model_copy(update={"parts": tuple(p for p in project.parts if p.shape.kind != "plate")})
    found = engine.evaluate(bare)
    assert found.whole is None
    assert {m.part_id for m in found.modes} == set(found.members)
    assert all(v.value is not None for v in found.margins if v.id in ("sag", "modes", "floor"))
    swing = mode_swing(engine, found, 1)
    assert swing.motion_mm.shape == swing.mesh.vertices_mm.shape


@pytest.mark.parametrize("layout", ["plus", "hexa_x", "octa_x", "swept"])
def test_every_layout_is_one_structure(layout: Any, engine: Engine) -> None:
    made = sized(Wish(layout=layout, motor_to_motor_mm=450.0))
    found = engine.evaluate(made)
    assert found.whole is not None
    mass = found.whole.craft.rigid.T @ found.whole.craft.m @ found.whole.craft.rigid
    assert mass[0, 0] * 1e6 == pytest.approx(found.craft.mass_g, rel=1e-6)
    assert found.whole.free.rigid_hz.max() < 1e-2 * found.whole.free.freqs_hz[0]
    assert found.whole.rise_mm.shape == (3, len(stations(made)))
    # low is softer than high
    assert (found.whole.rise_mm[0] > found.whole.rise_mm[2]).all()


def test_the_whole_craft_swings(result: Evaluation, engine: Engine) -> None:
    swing = mode_swing(engine, result, 0)
    far = np.linalg.norm(swing.motion_mm, axis=1)
    assert np.isfinite(far).all()
    span = 2 * max(s.radius_mm for s in stations(result.project))
    assert far.max() == pytest.approx(0.06 * span)
    # neighbours go against each other: as much up as down at the arms' ends, and the middle all but still
    at = swing.mesh.vertices_mm
    ends = [swing.motion_mm[np.linalg.norm(at[:, :2] - (s.x_mm, s.y_mm), axis=1) < 12.0, 2].mean() for s in stations(result.project)]
    assert ends[0] * ends[1] < 0
    assert ends[0] * ends[2] > 0
    middle = np.linalg.norm(at[:, :2], axis=1) < 20.0
    assert far[middle].max() < 0.3 * far.max()


def test_a_heavier_guard_is_felt_by_the_arm_that_carries_it(project: Project, engine: Engine, result: Evaluation) -> None:
    heavy = engine.evaluate(set_many(project, (("parts.guard.shape.height_mm", 16.0), ("parts.guard.shape.width_mm", 6.0))))
    assert heavy.whole is not None
    assert heavy.whole.lowest.freq_hz < result.whole.lowest.freq_hz  # type: ignore[union-attr]


# arms of several kinds


def split(project: Project, first: int) -> Project:
    """The same craft with its arms as two parts that are alike."""
    arm = project.part("arm")
    mine, other = (
        arm.model_copy(update={"count": first}),
        arm.model_copy(update={"id": "rear", "name": "Rear arm", "count": arm.count - first}),
    )
    return project.model_copy(update={"parts": tuple(q for p in project.parts for q in ((mine, other) if p.id == "arm" else (p,)))})


def test_splitting_one_kind_of_arm_into_two_changes_nothing(project: Project, result: Evaluation) -> None:
    # in the order of the layout: front left, rear left, rear right, front right. One kind of arm is judged on one root, as all are alike
    # but for how the plates' cells fall under them
    found = Engine().evaluate(split(project, 1))
    for one, two in zip(result.margins, found.margins, strict=True):
        if one.metric not in ("print_minutes",):
            assert two.value == pytest.approx(one.value, rel=1e-3), one.metric
            assert (two.low, two.high) == (pytest.approx(one.low, rel=1e-3), pytest.approx(one.high, rel=1e-3)), one.metric
    assert found.whole is not None
    assert found.whole.free.freqs_hz[:12] == pytest.approx(result.whole.free.freqs_hz[:12], rel=1e-3)  # type: ignore[union-attr]
    assert set(found.members) == {*result.members, "rear"}


def test_two_kinds_of_arm_stand_at_their_own_places(project: Project) -> None:
    two = split(project, 2)
    longer = set_many(two, (("parts.rear.shape.length_mm", 130.0), ("parts.rear.shape.tip_height_mm", 8.0)))
    at = {s.id: s for s in stations(longer)}
    assert at["rear_right"].radius_mm == pytest.approx(180.0)
    assert at["front_left"].radius_mm == pytest.approx(160.0)
    assert at["rear_right"].z_mm == 8.0
    found = Engine().evaluate(longer)
    alone = {k: found.members[k].answers["typical"].freqs_hz[0] for k in ("arm", "rear")}
    assert alone["rear"] < alone["arm"]
    assert all(m.value is not None for m in found.margins)
    data = as_data(found)
    assert [p["part"] for p in data["places"]].count("rear") == 2
    # the plates are drilled for each where it stands
    assert len(found.parts["bottom"].given.holes) == 16


def test_arms_of_two_heights_at_the_root_are_refused(project: Project) -> None:
    bad = set_many(split(project, 2), (("parts.rear.shape.root_height_mm", 14.0),))
    assert [p.path for p in shape_problems(bad.part("rear"), bad) if p.severity == "error"] == ["parts.rear.shape.root_height_mm"]


def test_copies_stand_where_their_part_says(project: Project) -> None:
    two = set_many(split(project, 2), (("parts.rear.at", ("rear_left", "rear_right")), ("parts.arm.at", ("front_right", "front_left"))))
    assert [p.follows for p in places_of(two.part("rear"), two)] == ["rear_left", "rear_right"]
    assert [p.id for p in arms_by_slot(two)] == ["arm", "rear", "rear", "arm"]
    # who names none takes what is left
    left = set_many(split(project, 2), (("parts.rear.at", ("front_left", "rear_right")),))
    assert [p.follows for p in places_of(left.part("arm"), left)] == ["rear_left", "front_right"]
    # guards go with the arm that stands at theirs
    guard = set_many(project, (("parts.guard.at", ("rear_left", "rear_right")),))
    assert {p.follows for p in places_of(guard.part("guard"), guard)} == {"rear_left", "rear_right"}
    found = Engine().evaluate(guard)
    assert found.craft.com_mm[0] < Engine().evaluate(project).craft.com_mm[0]
    for at, says in ((("tail",), "There is no station tail"), (("front_left",), "both stand at front left")):
        bad = set_many(two, (("parts.rear.at", at),))
        assert any(says in p.message for p in shape_problems(bad.part("rear"), bad))


def test_another_layout_forgets_stations_that_it_has_not(project: Project) -> None:
    named = set_many(project, (("parts.arm.at", ("front_left", "front_right", "rear_left", "rear_right")),))
    assert set_many(named, relaid(named, "swept")).part("arm").at == named.part("arm").at
    assert set_many(named, relaid(named, "hexa_x")).part("arm").at == ()


def test_the_marsh_craft_teaches_and_leads_home(engine: Engine) -> None:
    made = dunlin()
    result = engine.evaluate(made)
    assert not [p for p in result.problems if p.severity == "error"]
    verdicts = {m.metric: m.verdict for m in result.margins}
    assert list(verdicts.values()).count("fails") >= 2
    assert "not known yet" not in verdicts.values()
    assert {p.part_id for p in places(made)} == {p.id for p in made.parts}
    for _ in range(8):
        scores = engine.scores(made)
        assert scores is not None
        if all(m.verdict == "holds" for m in scores.margins):
            return
        made = set_many(made, find_levers(made, scores, engine.scores, parts=("front", "tail"))[0].edits)
    pytest.fail("the ways out did not lead home")


# feet


@settings(max_examples=30)
@given(st.floats(0.2, 5.0), st.floats(15.0, 120.0), st.floats(0.3, 1.5), st.integers(3, 6), st.floats(1.0, 300.0))
def test_a_foot_is_hit_by_what_resists_above_it(kg: float, out_mm: float, spread: float, feet: int, k: float) -> None:
    a = 2 * np.pi * np.arange(feet) / feet
    toes = np.stack([out_mm * np.cos(a), out_mm * np.sin(a), np.full(feet, -60.0)], axis=1)
    inertia = kg * 1e3 * (spread * 80.0) ** 2 * np.diag([1.0, 1.2, 2.0])
    two, one = on_few_feet(kg * 1e3, np.zeros(3), inertia, toes, k)
    assert (two > 0).all()
    assert one.max() <= math.sqrt(k * 1e3 * kg) * (1 + 1e-9)  # no more than the whole craft on one spring
    # far from the middle a foot only turns the craft: it is hit less than one under the mass centre would be
    near, far = (on_few_feet(kg * 1e3, np.zeros(3), inertia, toes * s, k)[1].max() for s in (0.1, 1.0))
    assert far < near


def test_one_foot_governs_the_legs(result: Evaluation) -> None:
    cases = result.members["leg"].cases["typical"]
    assert cases["one_foot"].reserve < cases["two_feet"].reserve < cases["hard_landing"].reserve
    assert result.members["leg"].worst_static()[0] == "one_foot"
    three = Engine().evaluate(set_many(result.project, (("parts.leg.count", 2),)))
    assert "one_foot" not in three.members["leg"].cases["typical"]


def test_a_pole_meets_every_kind_of_arm_where_its_own_stand() -> None:
    y6 = Engine().evaluate(dunlin())
    front, tail = (y6.members[k].combos["typical"]["arm_strike"] for k in ("front", "tail"))
    # the front arms stand aslant and are bent aside; the tail, flown backwards, is pushed along itself and not aside
    fx, fy = LOADS.index("fx"), LOADS.index("fy")
    assert abs(front[fy]) > 0.5 * abs(front[fx])
    assert tail[fx] < 0
    assert abs(tail[fy]) < 1e-6 * abs(tail[fx])


@pytest.mark.parametrize(("first_hz", "told"), [(200.0, True), (40.0, False)])
def test_what_rounding_leaves_of_rigid_motions_is_small_or_modes_are_not_told(first_hz: float, told: bool) -> None:
    """A rigid motion that rounding has made unstable, by as much as 10.7 Hz: far below the first mode it does no harm."""
    square = np.array([-4500.0, 0.0, 0.0, 0.0, 0.0, 0.0, *((2 * np.pi * hz) ** 2 for hz in (first_hz, 2 * first_hz))])
    craft = Craft(np.stack([np.diag(square)] * 3), np.eye(8), np.eye(8, 6), {})
    if not told:
        with pytest.raises(StructureFault, match="cannot be told"):
            free_modes(craft, 2)
        return
    assert free_modes(craft, 2).freqs_hz == pytest.approx([first_hz, 2 * first_hz], rel=1e-6)
