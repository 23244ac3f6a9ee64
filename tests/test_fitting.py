"""What stands in the rotors' air, wires, access, aerials, landing room, sizes, budgets and prices: each by another method or by hand."""

import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import dunlin, redshank
from fravik.engine.evaluate import Engine
from fravik.engine.foresee.access import access
from fravik.engine.foresee.aerials import QUARTER_MM, nearest_metal, sky_covered
from fravik.engine.foresee.bodies import copies, corners, things
from fravik.engine.foresee.every import foresee
from fravik.engine.foresee.figures import ABOUT, figures
from fravik.engine.foresee.packed import sizes
from fravik.engine.foresee.shadow import shadows
from fravik.engine.foresee.standing import gives_mm, room_mm
from fravik.engine.foresee.wires import SLACK, wires
from fravik.engine.results import Evaluation
from fravik.engine.rotors import CHARGED, EMPTY, authority_rad_s2, full_thrusts_n, one_lost_rad_s2
from fravik.flight.blocked import air_speed_ratio, thrust_lost
from fravik.flight.seen import attitude_seen_m
from fravik.kinds.around import stations
from fravik.kinds.things import thing_moved, things_in_plan
from fravik.model.craft import Block
from fravik.model.paths import set_many
from fravik.model.project import Project, Target
from fravik.power.wire import BRIEFLY_A_MM2, SECTIONS_MM2, drop_v, gram_per_m, section_mm2
from fravik.study.sizeclass import CLASSES, class_of, fall_energy_j, fall_words


@pytest.fixture(scope="module")
def tern(result: Evaluation) -> Evaluation:
    return result


@pytest.fixture(scope="module")
def redshank_craft(engine: Engine) -> Evaluation:
    return engine.evaluate(redshank())


@pytest.fixture(scope="module")
def dunlin_craft(engine: Engine) -> Evaluation:
    return engine.evaluate(dunlin())


def told(engine: Engine, project: Project) -> set[str]:
    return {f.id for f in foresee(engine, engine.evaluate(project))}


def with_block(project: Project, **fields: Any) -> Project:
    c = project.components
    return set_many(project, (("components.blocks", (*c.blocks, Block(id="own", name="Own thing", **fields))),))


def test_far_below_a_plate_loses_its_share_of_the_disk_loading() -> None:
    # in the full wake the dynamic pressure is the disk loading T / A: a plate of C = 1 there takes S / A of T
    assert thrust_lost(0.2, 1e6, 50.0, 1.0) == pytest.approx(0.2, rel=1e-6)
    assert thrust_lost(0.2, -1e6, 50.0, 1.0) == pytest.approx(0.0, abs=1e-9)


@given(z=st.floats(-3.0, 3.0))
def test_the_air_speeds_up_as_rings_of_vortices_say(z: float) -> None:
    # the field of a tube of vortex rings from the disk down, by sums of rings on the axis: R^2 / 2 (R^2 + s^2)^-1.5 each
    rings = np.linspace(0.0, 4000.0, 400_001)
    s = rings - z
    along = np.trapezoid(0.5 / (1.0 + s**2) ** 1.5, rings)
    in_disk = np.trapezoid(0.5 / (1.0 + rings**2) ** 1.5, rings)
    assert air_speed_ratio(z, 1.0) == pytest.approx(along / in_disk, rel=1e-3, abs=1e-4)


def test_the_shadow_is_that_of_all_triangles_in_plan(engine: Engine, tern: Evaluation) -> None:
    # another library unites the triangles of every mesh that fall into the ring between motor and tip
    project = tern.project
    station, mine = stations(project)[1], shadows(engine, tern)[1]
    r, inner = project.components.propeller.diameter_mm / 2, project.components.motor.diameter_mm / 2
    hub = shapely.Point(*station.at_mm[:2])
    ring = hub.buffer(r, 64).difference(hub.buffer(inner, 64))
    covers = [shapely.box(*(t.centre_mm - t.size_mm / 2)[:2], *(t.centre_mm + t.size_mm / 2)[:2]) for t in things(tern)]
    for copy in copies(tern):
        flat = corners(engine, copy)[:, :, :2]
        near = flat[np.linalg.norm(flat - station.at_mm[:2], axis=2).min(axis=1) < r + 40.0]
        covers += [t for t in shapely.polygons(near) if t.area > 1e-9]
    blocked = shapely.union_all(covers, grid_size=1e-4).intersection(ring).area
    assert mine.blocked == pytest.approx(blocked / (math.pi * r**2), rel=0.01)
    assert 0 < mine.lost[0] < mine.lost[1] < mine.lost[2]


def test_a_board_under_a_rotor_is_told_and_a_bar_is_not(engine: Engine, tern: Evaluation) -> None:
    s = stations(tern.project)[0]
    under = {"x_mm": s.x_mm - 30.0, "y_mm": s.y_mm - 30.0, "z_mm": -30.0, "height_mm": 4.0, "mass_g": 5.0}
    assert "disks.shadow" in told(engine, with_block(tern.project, length_mm=55.0, width_mm=55.0, **under))
    assert "disks.shadow" not in told(engine, with_block(tern.project, length_mm=10.0, width_mm=8.0, **under))


def test_wires_stand_their_current_and_weigh_what_is_in_them() -> None:
    for amps in (0.3, 4.0, 12.0, 60.0):
        s = section_mm2(amps)
        assert amps <= BRIEFLY_A_MM2 * s
        thinner = [x for x in SECTIONS_MM2 if x < s]
        assert not thinner or amps > BRIEFLY_A_MM2 * thinner[-1]
    # a metre of 1 mm2 of copper is 8.96 g and 17.8 mohm; with its silicone it is thicker than the strand
    assert 8.96 < gram_per_m(1.0) < 14.0
    assert drop_v(1000.0, 10.0, 1.0) == pytest.approx(0.178)


def test_a_motors_wires_are_as_long_as_their_way_through_the_tube(engine: Engine, redshank_craft: Evaluation) -> None:
    every = wires(redshank_craft)
    layout, stack = redshank_craft.project.layout, redshank_craft.project.components.blocks[0]
    s = stations(redshank_craft.project)[0]
    way = math.hypot(s.radius_mm - layout.clamp_radius_mm, s.z_mm) + math.hypot(layout.clamp_radius_mm, stack.z_mm)
    assert {w.way for w in every[:-1]} == {"through its bore"}
    assert every[0].length_mm == pytest.approx(SLACK * way + 20.0, rel=0.01)
    assert len(every) == len(stations(redshank_craft.project)) + 1


def test_a_bundle_counted_too_light_is_told_with_its_weight(engine: Engine, redshank_craft: Evaluation) -> None:
    assert "wires.weight" not in told(engine, redshank_craft.project)
    light = set_many(redshank_craft.project, (("components.blocks.wiring.mass_g", 40.0),))
    (found,) = [f for f in foresee(engine, engine.evaluate(light)) if f.id == "wires.weight"]
    assert "wires.weight" not in told(engine, set_many(light, found.cures[0].edits))


def test_thin_long_leads_at_a_low_voltage_lose_what_is_told(engine: Engine, tern: Evaluation) -> None:
    assert "wires.loss" not in told(engine, tern.project)
    low = (
        ("layout.motor_to_motor_mm", 480.0),
        ("components.battery.cells", 1),
        ("components.motor.kv_rpm_per_v", 5200.0),
        ("components.motor.resistance_mohm", 12.0),
    )
    assert "wires.loss" in told(engine, set_many(tern.project, low))


def test_what_lies_over_a_pack_has_to_come_off(engine: Engine, tern: Evaluation) -> None:
    assert next(a for a in access(engine, tern) if a.thing == "battery").off == ()
    pack = tern.project.components.battery
    lid = {"x_mm": pack.x_mm, "length_mm": 120.0, "width_mm": 90.0, "height_mm": 2.0, "mass_g": 5.0}
    walls = with_block(tern.project, z_mm=pack.z_mm + pack.height_mm / 2 + 4.0, **lid)
    assert next(a for a in access(engine, engine.evaluate(walls)) if a.thing == "battery").off == ()  # it still slides out sideways
    buried = set_many(tern.project, (("components.battery.z_mm", -22.0),))
    found = next(a for a in access(engine, engine.evaluate(buried)) if a.thing == "battery")
    assert found.way != "upward"


@pytest.mark.parametrize(("gap", "there"), [(QUARTER_MM - 3.0, True), (QUARTER_MM + 3.0, False)])
def test_an_aerial_is_told_within_a_quarter_of_the_wave(engine: Engine, tern: Evaluation, gap: float, there: bool) -> None:
    pack = tern.project.components.battery
    z = pack.z_mm + pack.height_mm / 2 + gap + 2.0
    project = with_block(tern.project, x_mm=pack.x_mm, z_mm=z, length_mm=4.0, width_mm=4.0, height_mm=4.0, is_aerial=True, mass_g=1.0)
    assert ("aerial.near:own" in told(engine, project)) is there
    if there:
        name, far = nearest_metal(engine, engine.evaluate(project), project.components.blocks[-1])
        assert (name, far) == ("the battery", pytest.approx(gap, abs=1e-3))


def test_the_sky_over_a_receiver_beside_a_pack(engine: Engine, tern: Evaluation) -> None:
    pack = tern.project.components.battery
    top = pack.z_mm + pack.height_mm / 2

    def at(x_mm: float, z_mm: float) -> Project:
        return with_block(tern.project, x_mm=x_mm, z_mm=z_mm, length_mm=10.0, width_mm=10.0, height_mm=4.0, finds_place=True, mass_g=1.0)

    high, beside = at(pack.x_mm, top + 4.0), at(pack.x_mm - pack.length_mm / 2 - 6.0, top - 18.0)
    assert "aerial.sky:own" not in told(engine, high)
    assert "aerial.sky:own" in told(engine, beside)
    # by rays even over the cap of the sphere, against the box of the pack
    block = beside.components.blocks[-1]
    eye = np.array([block.x_mm, block.y_mm, block.z_mm + 2.5])
    rng = np.random.default_rng(2)
    up, turn = rng.uniform(0.5, 1.0, 40_000), rng.uniform(0, 2 * np.pi, 40_000)
    ray = np.stack([np.sqrt(1 - up**2) * np.cos(turn), np.sqrt(1 - up**2) * np.sin(turn), up], axis=1)
    half, middle = np.array([pack.length_mm, pack.width_mm, pack.height_mm]) / 2, np.array([pack.x_mm, 0.0, pack.z_mm])
    a, b = (middle - half - eye) / ray, (middle + half - eye) / ray
    enter, leave = np.minimum(a, b).max(axis=1), np.maximum(a, b).min(axis=1)
    rays = float(((enter <= leave) & (leave > 0)).mean())
    assert sky_covered(engine, engine.evaluate(beside), block) == pytest.approx(rays, abs=0.02)


def test_a_landing_takes_room_from_propellers_and_hung_things(engine: Engine, dunlin_craft: Evaluation) -> None:
    feet, tips = gives_mm(dunlin_craft)
    rest = room_mm(engine, dunlin_craft)[0] + feet + tips
    assert feet > 0
    assert tips > 0
    assert rest > 50
    harder = engine.evaluate(set_many(dunlin_craft.project, (("brief.landing_m_s", 2 * dunlin_craft.project.brief.landing_m_s),)))
    assert gives_mm(harder)[0] > 1.3 * feet
    hung = min(things(dunlin_craft), key=lambda t: t.centre_mm[2] - t.size_mm[2] / 2)
    room = room_mm(engine, dunlin_craft)[1]
    lower = set_many(dunlin_craft.project, ((f"{hung.path}.z_mm", hung.centre_mm[2] - room - 0.3 * feet),))
    assert f"standing.thing_down:{hung.id}" in told(engine, lower)
    assert f"standing.thing_down:{hung.id}" not in told(engine, dunlin_craft.project)


def test_what_the_eye_tells_falls_with_the_root_of_the_area() -> None:
    assert attitude_seen_m(4e4) == pytest.approx(2 * attitude_seen_m(1e4))
    # 1.4 pairs are 2.8 lines of one minute of arc: 100 mm fill them at 123 m
    assert attitude_seen_m(1e4) == pytest.approx(0.1 / (2.8 * math.pi / 180 / 60), rel=1e-9)


def test_the_packed_box_holds_all_parts_and_no_disk(engine: Engine, tern: Evaluation) -> None:
    size = sizes(engine, tern)
    assert size is not None
    points = np.concatenate([corners(engine, c).reshape(-1, 3) for c in copies(tern)])
    assert size.packed_mm[0] >= np.ptp(points[:, :2], axis=0).max() - 1e-4
    assert size.packed_mm[0] < np.ptp(points[:, :2], axis=0).max() + tern.project.components.propeller.diameter_mm
    assert size.largest == "Arm"


def test_authority_of_a_full_an_empty_and_a_limping_craft(tern: Evaluation, dunlin_craft: Evaluation) -> None:
    assert full_thrusts_n(tern, CHARGED).min() > full_thrusts_n(tern).min() > full_thrusts_n(tern, EMPTY).min()
    for axis, rate in authority_rad_s2(tern).items():
        assert authority_rad_s2(tern, CHARGED)[axis] >= rate - 1e-6
    assert set(one_lost_rad_s2(tern).values()) == {0.0}  # a quad comes down
    left = one_lost_rad_s2(dunlin_craft)  # of a coaxial pair the other still lifts
    assert 0 < left["roll"] < authority_rad_s2(dunlin_craft)["roll"]


def test_groups_add_up_to_the_craft_and_prices_to_its_cost(engine: Engine, tern: Evaluation) -> None:
    asked = ("made_mass_g", "drive_mass_g", "battery_mass_g", "equipment_mass_g", "craft_cost", "material_cost")
    project = tern.project.model_copy(update={"targets": tuple(Target(id=m, metric=m, limit=1e5) for m in asked)})
    found = {m.metric: m for m in engine.evaluate(project).margins}
    assert sum(found[m].value or 0.0 for m in asked[:4]) == pytest.approx(tern.craft.mass_g, rel=1e-6)
    c = project.components
    bought = 4 * (c.motor.price + c.propeller.price) + c.battery.price + sum(b.price for b in c.blocks)
    assert found["craft_cost"].value == pytest.approx(bought + (found["material_cost"].value or 0.0))


def test_a_missing_price_breaks_a_ceiling_but_never_keeps_one(engine: Engine, tern: Evaluation) -> None:
    def cost(limit: float) -> Any:
        target = (Target(id="cost", metric="craft_cost", limit=limit),)
        project = set_many(tern.project, (("components.blocks.camera.price", 0.0),)).model_copy(update={"targets": target})
        return engine.evaluate(project).margins[0]

    keeps, breaks = cost(1000.0), cost(100.0)
    assert keeps.verdict == "not known yet"
    assert "thermal camera" in keeps.detail
    assert (breaks.verdict, breaks.detail.startswith("at least")) == ("fails", True)


def test_a_print_time_is_not_known_while_a_part_fits_no_bed(engine: Engine, tern: Evaluation) -> None:
    small = set_many(tern.project, (("printer.bed_x_mm", 120.0), ("printer.bed_y_mm", 100.0)))
    time = next(m for m in engine.evaluate(small).margins if m.metric == "print_minutes")
    assert time.verdict == "not known yet"
    (found,) = [f for f in foresee(engine, engine.evaluate(small)) if f.id == "demands.bed:arm"]
    assert "demands.bed:arm" not in told(engine, set_many(small, found.cures[0].edits))
    assert "demands.bed:arm" not in told(engine, tern.project)


def test_budgets_beyond_the_whole_are_told(engine: Engine, tern: Evaluation) -> None:
    groups = ("made_mass_g", "drive_mass_g", "battery_mass_g", "equipment_mass_g")

    def told_of(each: float) -> bool:
        targets = (*(Target(id=m, metric=m, limit=each) for m in groups), Target(id="all", metric="flying_mass_g", limit=1200.0))
        return "demands.budgets" in told(engine, tern.project.model_copy(update={"targets": targets}))

    assert told_of(301.0)
    assert not told_of(299.0)


def test_every_size_has_one_class_and_falls_as_hard_as_it_is_heavy() -> None:
    assert [class_of(c.up_to_mm).name for c in CLASSES] == [c.name for c in CLASSES]
    assert class_of(CLASSES[0].up_to_mm + 1).name == CLASSES[1].name
    assert fall_energy_j(1000.0) == pytest.approx(98.0665)
    assert "bruises" in fall_words(90.0)
    assert "kill" in fall_words(2000.0)


@given(x=st.floats(-90, 90), y=st.floats(5, 40), alike=st.booleans())
def test_a_thing_takes_its_twin_along_mirrored(x: float, y: float, alike: bool) -> None:
    a = Block(id="left", y_mm=30.0, x_mm=10.0)
    project = Project()
    project = set_many(project, (("components.blocks", (a, a.model_copy(update={"id": "right", "y_mm": -30.0}))),))
    after = set_many(project, thing_moved(project, "left", x, y, alike)).components.blocks
    assert (after[0].x_mm, after[0].y_mm) == (x, y)
    assert (after[1].x_mm, after[1].y_mm) == ((x, -y) if alike else (10.0, -30.0))


def test_the_smallest_thing_is_picked_first(tern: Evaluation) -> None:
    every = things_in_plan(tern.project)
    assert [t.length_mm * t.width_mm for t in every] == sorted(t.length_mm * t.width_mm for t in every)
    assert "wiring" not in {t.id for t in every}
    battery = next(t for t in every if t.id == "battery")
    assert battery.covers(battery.x_mm + 10, 3.0)
    assert not battery.covers(battery.x_mm + 60, 3.0)


def test_airframe_says_what_its_sources_found(engine: Engine, tern: Evaluation) -> None:
    lines = figures(engine, tern)
    assert set(lines) == set(ABOUT)
    turning = authority_rad_s2(tern)
    assert lines["Roll, pitch, yaw"] == " ".join(f"{v:.0f}" for v in turning.values()) + " rad/s²"
    worst = max(s.blocked for s in shadows(engine, tern))
    assert lines["Blocked disk"].startswith(f"{worst:.0%}")
    assert lines["Wires"].startswith(f"{sum(w.mass_g for w in wires(tern)):.0f} g")
    rest, landing = (float(w) for w in lines["Propeller to ground"].replace(" mm,", "").replace(" landing", "").split())
    assert rest - landing == pytest.approx(sum(gives_mm(tern)), abs=1.0)
    no_rotor_judged = set_many(tern.project, (("parts.arm.count", 3),))
    assert "Wires" not in figures(engine, engine.evaluate(no_rotor_judged))


def test_folded_arms_pack_smaller_and_their_box_is_that_of_turned_points(engine: Engine, project: Project) -> None:
    assert sizes(engine, engine.evaluate(project)).folded_mm is None  # type: ignore[union-attr]
    hinged = set_many(
        project, (("parts.arm.joint.kind", "hinge"), ("parts.arm.joint.pin_mm", 4.0), ("parts.arm.shape.tongue_width_mm", 20.0))
    )
    result = engine.evaluate(hinged)
    size = sizes(engine, result)
    assert size is not None
    assert size.folded_mm is not None
    assert size.folded_mm[0] < size.packed_mm[0]
    assert size.folded_mm[2] == pytest.approx(size.packed_mm[2], abs=1e-6)  # they turn level
    # by hand: each arm turned about its pin to look straight back, its points one by one
    pin = result.project.part("arm").shape
    x = min(-pin.tongue_length_mm + pin.tongue_width_mm / 2, 0.0)  # type: ignore[union-attr]
    wide = 0.0
    for c in copies(result):
        if c.part_id != "arm":
            continue
        at = c.pose[:3, :3] @ np.array([x, 0.0, 0.0]) + c.pose[:3, 3]
        for point in corners(engine, c).reshape(-1, 3)[::7]:
            far = math.hypot(point[0] - at[0], point[1] - at[1])
            heading = math.atan2(c.pose[1, 0], c.pose[0, 0])
            angle = math.atan2(point[1] - at[1], point[0] - at[0]) - heading + math.pi
            wide = max(wide, abs(at[1] + far * math.sin(angle)))
    assert size.folded_mm[1] >= 2 * wide - 1e-6 or size.folded_mm[0] >= 2 * wide - 1e-6
