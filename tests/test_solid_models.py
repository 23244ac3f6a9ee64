"""Physics that solid models corrected: pockets, flatwise fillets, plates, guards, flanges, cores, impacts, motors."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cache

import numpy as np
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.validate import solids
from fravik.kinds import kind_of
from fravik.kinds.arm.beam import arm_form, arm_raisers
from fravik.kinds.whole import placed_components
from fravik.library import carbon_stock, carbon_stocks, filament
from fravik.model.craft import Components, Motor, Propeller
from fravik.model.joint import Joint
from fravik.model.paths import set_many
from fravik.model.project import Part
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import ArmShape, GuardShape
from fravik.power.drive import alike
from fravik.power.momentum import drive_problems, power_figures
from fravik.power.motor import full_speed_rpm, motor_at
from fravik.power.propeller import propeller_inertia_gmm2
from fravik.printing.patterns import core_roads, phase_of
from fravik.printing.zones import lay
from fravik.shape.arm import arm_body, arm_solid
from fravik.shape.guard import guard_line
from fravik.shape.inlay import profile_places
from fravik.structure.body import root_compliances
from fravik.structure.cells import PATTERNS
from fravik.structure.impact import drop_peaks
from fravik.structure.inserts import facing_inserts
from fravik.structure.member import build_member, member_basis, member_chain, solve_member
from fravik.structure.notches import LAYER_SENSITIVITY
from fravik.structure.printed import plan_share, printed_material
from fravik.structure.raisers import flatwise_share, shoulder_flatwise, shoulder_tension


@pytest.mark.parametrize("group", solids.GROUPS, ids=lambda g: g.__name__.strip("_"))
def test_parts_agree_with_their_solid_models(group: Callable[[], list[solids.Check]]) -> None:
    checks = group()
    assert checks
    for check in checks:
        assert check.passed, f"{check.what}: {check.got:.4g} for {check.expected:.4g}"


# pockets


@cache
def solved(pockets: int, long: float, wide: float, high: float, lies: str) -> tuple[np.ndarray, ...]:
    shape = ArmShape(length_mm=110.0, root_width_mm=20.0, tip_width_mm=18.0, root_height_mm=high, tip_height_mm=high, pocket_count=pockets,
                     pocket_length_mm=long, pocket_width_mm=wide, pocket_corner_mm=min(2.0, wide / 2, long / 2))  # fmt: skip
    # solid: in a sparse part the pocket's own walls would add plastic
    recipe, f = Recipe(filament="pla", walls=40, core_density=1.0, lies=lies), filament("pla")  # type: ignore[arg-type]
    member = build_member(arm_form(Part(id="arm", shape=shape), shape, 110.0), lay(arm_solid(shape, 110.0, None, None), recipe))
    chain = member_chain(member, member_basis(member, f, recipe), f, recipe)
    answer = solve_member(member, chain, f, recipe, Joint(), None)["typical"]
    s = answer.section
    at = np.linspace(2.0, 108.0, 107)
    line = [np.interp(at, s.positions_mm, v) for v in (s.gj_nmm2, s.ga_up_n, s.ga_side_n)]
    return (*line, np.diag(answer.compliance))


@settings(max_examples=12)
@given(st.integers(1, 3), st.floats(6.0, 20.0), st.floats(3.0, 12.0), st.floats(6.0, 14.0), st.sampled_from(["flat", "on_side"]))
def test_cutting_material_away_never_stiffens(pockets: int, long: float, wide: float, high: float, lies: str) -> None:
    long, wide, high = round(long), round(wide), round(high)
    whole, cut = solved(0, 18.0, 7.0, high, lies), solved(pockets, long, wide, high, lies)
    for before, after in zip(whole[:3], cut[:3], strict=True):
        # stations lie elsewhere in the two: a cut arm is held against the stiffest place of the whole one within 8 mm
        most = np.array([before[max(0, i - 8) : i + 9].max() for i in range(len(before))])
        assert (after <= most * 1.01).all()
    assert (cut[3] >= whole[3] * 0.995).all()
    assert cut[3][3] > whole[3][3]


def test_motor_holes_do_not_stiffen_the_pad(result: Evaluation) -> None:
    s = result.members["arm"].answers["typical"].section
    pad = s.positions_mm > result.members["arm"].member.length_mm - 14.0
    body = s.positions_mm < 60.0
    assert s.gj_nmm2[pad].max() < 4 * s.gj_nmm2[body].max()


# raisers


@given(st.floats(0.3, 12.0), st.floats(10.0, 40.0), st.floats(1.1, 2.5), st.floats(2.0, 30.0))
def test_flatwise_factors_fall_with_the_fillet_and_rise_with_thickness(radius: float, narrow: float, ratio: float, thick: float) -> None:
    here = shoulder_flatwise(radius, narrow, narrow * ratio, thick)
    assert here >= 1.0
    assert shoulder_flatwise(radius * 1.25, narrow, narrow * ratio, thick) <= here * 1.01
    assert shoulder_flatwise(radius, narrow, narrow * ratio, thick * 1.5) >= here * 0.99
    # a thick bar's face is pulled at most as a bar in tension is, but for the table's own scatter
    assert here <= 1.12 * shoulder_tension(radius, narrow, narrow * ratio) + 0.05


def test_holes_bent_flatwise_lie_between_thin_and_thick_plates() -> None:
    assert flatwise_share(1e-6, 10.0) == pytest.approx(1.0, abs=0.02)
    assert flatwise_share(1e3, 1.0) == pytest.approx(0.395, abs=0.01)


def test_layers_feel_notches_that_a_tough_plastic_blunts() -> None:
    shape = tern().part("arm").shape
    tough, brittle = (arm_raisers(shape, 110.0, q)[0] for q in (0.2, 0.95))
    assert tough.layer > 1.2
    assert brittle.layer == pytest.approx(1.0, abs=0.01)
    assert tough.up * tough.layer >= 1 + 0.2 * LAYER_SENSITIVITY


# plates


def test_the_sag_whisker_spans_both_ways_that_tongues_bear(engine: Engine, result: Evaluation) -> None:
    from fravik.engine.body import solve_pair

    body = solve_pair(engine.memo, tern(), result.parts)
    assert body is not None
    up = {c: body.root["arm"][c][2, 2] for c in ("low", "typical", "high")}
    assert up["low"] > up["typical"] > up["high"]
    at = {n: p.condensed for n, p in body.plates.items()}
    each = {
        how: root_compliances({n: c(how, "typical") for n, c in at.items()}, body.points, body.gap_mm, body.radius_mm, (0,))[0]
        for how in ("washers", "bonded")
    }
    assert each["washers"][2, 2] > 1.3 * each["bonded"][2, 2]
    assert up["typical"] == pytest.approx((each["washers"][2, 2] + each["bonded"][2, 2]) / 2)


def test_every_corner_of_a_pair_takes_each_plate_s_own(engine: Engine) -> None:
    # a stiff top over a soft bottom: the high corner must not be the top's alone
    from fravik.engine.body import solve_pair

    craft = set_many(tern(), (("parts.top.recipe.filament", "tpu"),))
    soft = solve_pair(engine.memo, craft, engine.evaluate(craft).parts)
    both = solve_pair(engine.memo, tern(), engine.evaluate(tern()).parts)
    assert soft is not None
    assert both is not None
    for corner in ("low", "typical", "high"):
        assert soft.root["arm"][corner][2, 2] > 1.5 * both.root["arm"][corner][2, 2]


def test_finer_cells_change_the_root_little(monkeypatch: pytest.MonkeyPatch) -> None:
    coarse = Engine().evaluate(tern()).margins[1]
    monkeypatch.setattr("fravik.structure.plate.CELL_MM", 3.0)
    fine = Engine().evaluate(tern()).margins[1]
    assert coarse.metric == "tip_sag_mm"
    assert coarse.value == pytest.approx(fine.value, rel=0.03)
    assert coarse.low < fine.value < coarse.high  # type: ignore[operator]


# propeller and motor


def test_one_law_of_blade_mass() -> None:
    craft = set_many(tern(), (("components.propeller.gyration", 0.5), ("components.propeller.mass_g", 12.0)))
    prop = craft.components.propeller
    inertia = propeller_inertia_gmm2(prop)
    assert inertia[2, 2] == pytest.approx(12.0 * (0.5 * 88.9) ** 2)
    flown = next(p for p in placed_components(craft) if p.kind == "prop")
    assert np.allclose(flown.mass.inertia_gmm2, inertia)
    with_prop, without = (
        kind_of(craft.part("arm").shape).tip(craft.part("arm"), craft.part("arm").shape, c)
        for c in (craft, set_many(craft, (("components.propeller.mass_g", 0.3),)))
    )
    assert with_prop is not None
    assert without is not None
    gained = (with_prop.inertia_t_mm2 - without.inertia_t_mm2)[2, 2] * 1e6
    assert gained == pytest.approx(11.7 * (0.5 * 88.9) ** 2, rel=1e-6)


@given(st.floats(100, 3000), st.floats(5, 400), st.floats(0.05, 2.0), st.floats(3, 50), st.floats(1e-9, 1e-6))
def test_a_motor_s_figures_are_of_one_equation(kv: float, milliohm: float, idle_a: float, volts: float, q: float) -> None:
    motor = Motor(kv_rpm_per_v=kv, resistance_mohm=milliohm, no_load_a=idle_a)
    rpm = full_speed_rpm(motor, volts, q)
    if rpm == 0:
        return
    w = rpm * 2 * math.pi / 60
    point = motor_at(motor, rpm, q * w * w)
    assert point.volts == pytest.approx(volts, rel=1e-9)
    heat = point.current_a**2 * milliohm * 1e-3 + idle_a * w * 60 / (2 * math.pi * kv)
    assert point.volts * point.current_a == pytest.approx(q * w**3 + heat, rel=1e-9)


def test_motor_figures_that_contradict_each_other_are_told() -> None:
    for motor, field in ((Motor(resistance_mohm=1500.0, no_load_a=0.3), "resistance_mohm"),
                         (Motor(resistance_mohm=2000.0, no_load_a=5.0), "no_load_a"),
                         (Motor(kv_rpm_per_v=150.0), "kv_rpm_per_v")):  # fmt: skip
        parts = Components(motor=motor, propeller=Propeller())
        found = drive_problems(power_figures(900.0, parts, alike(parts, 4)), alike(parts, 4))
        assert any(p.path.endswith(field) for p in found), field
    usual = tern().components
    assert not drive_problems(power_figures(900.0, usual, alike(usual, 4)), alike(usual, 4))


# impact


def marched(body_g: float, tips_g: float, ground: float, arms: float, restitution: float) -> tuple[float, float]:
    """Greatest pushes of ground and arms in small steps of time: the ground's lies between a spring and what it gives back of it."""
    body, tips = body_g * 1e-6, tips_g * 1e-6
    step = 0.004 / math.sqrt(ground / body + arms / tips + arms / body)
    x = y = contact = bend = 0.0
    v = w = 1000.0
    free_s = math.inf
    for n in range(400_000):
        pull, least, most = arms * (y - x), restitution**2 * ground * x, ground * x
        push = 0.0 if free_s < math.inf else most if v > 0 else least if v < 0 else min(max(pull, least), most)
        before, v, w = v, v + step * (pull - push) / body, w - step * pull / tips
        if free_s == math.inf and before * v < 0:
            v = 0.0
        x, y = x + step * v, y + step * w
        contact, bend = max(contact, push), max(bend, abs(y - x))
        if free_s == math.inf and n > 9 and x <= 0:
            free_s = n * step
        if n * step > free_s + 2 * math.pi / math.sqrt(arms * (1 / body + 1 / tips)):
            break
    return contact, arms * bend


@settings(max_examples=12)
@given(st.floats(200, 2000), st.floats(20, 400), st.floats(5, 500), st.floats(2, 200), st.floats(0.3, 0.95))
@example(200.0, 79.0, 53.0, 7.0, 0.6875)  # stopped going up while its tips swing back: it is pulled down at once
def test_a_fall_on_ground_that_springs_back_as_marched_in_time(
    body: float, tips: float, ground: float, arms: float, restitution: float
) -> None:
    found, (contact_n, tips_n) = drop_peaks(body, tips, ground, arms, restitution), marched(body, tips, ground, arms, restitution)
    assert found.contact_n == pytest.approx(contact_n, rel=0.01)
    assert found.tips_n == pytest.approx(tips_n, rel=0.015)


@given(st.floats(200, 2000), st.floats(20, 400), st.floats(5, 500), st.floats(2, 200), st.floats(0, 1))
def test_ground_that_springs_back_lets_no_arm_off(body: float, tips: float, ground: float, arms: float, restitution: float) -> None:
    dead, lively = drop_peaks(body, tips, ground, arms, 0.0), drop_peaks(body, tips, ground, arms, restitution)
    assert lively.tips_n >= dead.tips_n * 0.995 or tips > 0.5 * body


def test_the_arm_s_own_mass_falls_too(result: Evaluation, engine: Engine) -> None:
    heavy = engine.evaluate(set_many(tern(), (("parts.arm.recipe.core_density", 1.0), ("brief.ground_restitution", 0.0))))
    light = engine.evaluate(set_many(tern(), (("brief.ground_restitution", 0.0),)))
    i = 2  # fz
    assert abs(heavy.members["arm"].combos["typical"]["flat_drop"][i]) > abs(light.members["arm"].combos["typical"]["flat_drop"][i])


def test_the_first_blow_is_judged_at_screws_pad_and_root(result: Evaluation) -> None:
    arm = result.members["arm"]
    blow = arm.cases["typical"]["first_blow"]
    assert "first_blow" in arm.breaks["typical"]
    kinds = {k: i for i, k in enumerate(("road pull", "road-to-road", "layer split", "layer shear", "core crush", "wall buckling", "carbon",
                                         "bond line", "bearing", "bolt tear-out", "joint"))}  # fmt: skip
    for kind in ("bearing", "bolt tear-out", "joint"):
        assert blow.values[kinds[kind], -1] < 99, kind
    assert blow.values[kinds["bearing"], 0] < 99
    small = set_many(tern(), (("parts.arm.shape.pad_diameter_mm", 24.2),))
    thin = Engine().evaluate(small).members["arm"].cases["typical"]["first_blow"]
    assert thin.values[kinds["bolt tear-out"], -1] < blow.values[kinds["bolt tear-out"], -1]


# cores


@pytest.mark.parametrize("pattern", ["grid", "triangles", "cubic"])
@pytest.mark.parametrize("core_density", [0.2, 0.4, 0.6])
def test_cores_cover_what_their_roads_cover(pattern: str, core_density: float) -> None:
    field = CrossSection.square((60.0, 60.0), True)
    inner = shapely.box(-25, -25, 25, 25)
    shares = []
    for layer in range(0, 24, 3):
        roads = core_roads(field, pattern, core_density, 0.45, 17.0, phase_of(pattern, core_density, 0.45, layer, 0.2 * (layer + 0.5)))
        laid = shapely.union_all([shapely.LineString(r).buffer(0.225, cap_style="flat") for r in roads])
        shares.append(laid.intersection(inner).area / inner.area)
    assert plan_share(pattern, core_density) == pytest.approx(float(np.mean(shares)), abs=0.02)


@given(st.sampled_from(PATTERNS), st.floats(0.0, 0.99))
def test_cover_rises_to_solid(pattern: str, core_density: float) -> None:
    assert plan_share(pattern, core_density) <= plan_share(pattern, core_density + 0.01) <= 1.0
    assert plan_share(pattern, core_density) <= core_density + 1e-12
    assert plan_share(pattern, 1.0) == pytest.approx(1.0)


@given(st.floats(0.05, 0.8), st.floats(0.0, 90.0), st.floats(0.01, 3.0))
def test_covers_never_soften_a_core(core_density: float, angle: float, covers: float) -> None:
    recipe = Recipe(pattern="grid", core_density=round(core_density, 2), core_angle_deg=round(angle))
    free, held = (printed_material(filament("pla"), recipe, "typical", covers=c) for c in (0.0, covers))
    assert held.e_mpa[2, 0] >= free.e_mpa[2, 0] * (1 - 1e-9)
    assert held.e_mpa[2, 0] <= filament("pla").e_road_mpa.typical


# guards, flanges, glue


def test_guard_stations_stand_where_bending_peaks() -> None:
    g, r = GuardShape(span_deg=110.0, width_mm=4.5), 97.0
    line = guard_line(g, r, 12.0)
    middle = (line[1:] + line[:-1]) / 2
    loaded = np.array([r, 0.0, 0.0])
    assert np.linalg.norm(middle - loaded, axis=1).min() < 1.0
    assert np.allclose(line[len(line) // 2], loaded, atol=1e-6)


def test_glue_lifts_what_it_holds() -> None:
    shape = tern().part("arm").shape
    assert isinstance(shape, ArmShape)
    name = next(k for k, c in carbon_stocks().items() if c.form == "strip")
    thin, thick = (Carbon(stock=name, place="face", adhesive_gap_mm=g, count=2) for g in (0.1, 0.6))
    low, high = (profile_places(arm_body(shape, 110.0), c, carbon_stock(name), 40.0) for c in (thin, thick))
    assert low[0][1] - high[0][1] == pytest.approx(0.5)
    assert high[1][1] - low[1][1] == pytest.approx(0.5)
    extents = np.array([[-10.0], [10.0], [0.0], [12.0]])
    sheets = [Facing(adhesive_gap_mm=g, faces="top") for g in (0.1, 0.6)]
    a, b = (facing_inserts(s, extents, np.array([40.0]), filament("pla"), "typical")[0] for s in sheets)
    assert float(b.z_mm[0] - a.z_mm[0]) == pytest.approx(0.5)
