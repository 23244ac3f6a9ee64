"""Parts are true closed solids whose parameters do what they say."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import CrossSection, Error, Manifold

from fravik.demo import tern
from fravik.kinds import build_solid, places_of, rising_of, shape_for, shape_input, shape_problems
from fravik.kinds.around import arm_length_mm, motor_radius_mm
from fravik.kinds.newcraft import project_for
from fravik.kinds.newpart import part_for
from fravik.library import carbon_stock
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.model.recipe import Carbon
from fravik.model.shapes import ArmShape, GuardShape, LegShape, MountShape, PlateShape
from fravik.printing.orientation import print_from_part
from fravik.printing.zones import thin_mm
from fravik.shape.arm import BOLTED, RootForm, arm_body, arm_plan, pocket_spans, tongue_bolts
from fravik.shape.build import ShapeInput, fine_mesh_of, loose_pieces, mesh_of
from fravik.shape.inlay import profile_places
from fravik.shape.outline import boundary_edges, disc, fillet_inner, rectangle, rounded_rectangle, segments_for

PLAIN = ArmShape(pocket_count=0, bar_height_mm=0.0, shaft_hole_mm=0.0, root_height_mm=8.0, tip_height_mm=8.0)


def arm(shape: ArmShape, carbon: Carbon | None = None) -> Manifold:
    return build_solid(ShapeInput(shape, 112.0, carbon))


def closed(solid: Manifold) -> bool:
    """Every edge of the surface is used once in each direction."""
    faces = mesh_of(solid).faces
    edges = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
    there = {tuple(e) for e in edges}
    return len(there) == len(edges) and all((b, a) in there for a, b in there)


def test_disc_has_the_exact_area() -> None:
    assert disc(3, 4, 10).area() == pytest.approx(math.pi * 25, rel=1e-9)


def test_segments_grow_with_radius() -> None:
    assert segments_for(0.0) == 8
    assert segments_for(1.0) < segments_for(10.0) <= segments_for(50.0) <= 96


def test_rounded_rectangle_area() -> None:
    got = rounded_rectangle(0, 0, 30, 20, 4.0).area()
    assert got == pytest.approx(600 - (4 - math.pi) * 16, rel=2e-3)
    assert rounded_rectangle(0, 0, 30, 20, 0.0).area() == pytest.approx(600)


@given(st.floats(0.5, 8.0))
def test_fillet_fills_exactly_the_corner(radius: float) -> None:
    cross = rectangle(-20, -5, 20, 5) + rectangle(-5, -20, 5, 20)
    extra = fillet_inner(cross, radius).area() - cross.area()
    assert extra == pytest.approx(4 * (1 - math.pi / 4) * radius**2, rel=0.15, abs=0.02)


@pytest.mark.parametrize(
    "shape",
    [
        PLAIN,
        ArmShape(root_height_mm=12, tip_height_mm=7),
        ArmShape(root_height_mm=7, tip_height_mm=12),
        ArmShape(pocket_count=3, pocket_length_mm=14.0),
        ArmShape(bar_height_mm=4.0),
        ArmShape(bar_height_mm=4.0, pocket_count=2, root_height_mm=11, tip_height_mm=6),
        ArmShape(root_fillet_mm=9, pad_fillet_mm=12),
    ],
)
def test_arm_is_one_closed_solid(shape: ArmShape) -> None:
    solid = arm(shape)
    assert solid.status() == Error.NoError
    assert len(solid.decompose()) == 1
    assert closed(solid)


def test_arm_has_as_many_holes_as_asked() -> None:
    # four motor screws and two pairs of tongue bolts; a shaft hole and pockets add one each
    assert arm(PLAIN).genus() == 8
    assert arm(PLAIN.model_copy(update={"shaft_hole_mm": 6.0})).genus() == 9
    assert arm(PLAIN.model_copy(update={"pocket_count": 3, "pocket_length_mm": 12.0})).genus() == 11
    assert arm(PLAIN.model_copy(update={"tongue_bolt_rows": 1})).genus() == 6


def test_arm_box_follows_its_parameters() -> None:
    box = arm(PLAIN).bounding_box()
    assert box[0] == pytest.approx(-PLAIN.tongue_length_mm)
    assert box[3] == pytest.approx(112 + PLAIN.pad_diameter_mm / 2, abs=0.06)
    assert box[2] == pytest.approx(0)
    assert box[5] == pytest.approx(8)


def test_bars_stand_on_the_arm() -> None:
    plain, barred = arm(PLAIN), arm(PLAIN.model_copy(update={"bar_height_mm": 3.0, "bar_width_mm": 2.0}))
    assert barred.bounding_box()[5] == pytest.approx(11.0)
    length = 112 - PLAIN.pad_diameter_mm / 2 - 1
    assert barred.volume() - plain.volume() == pytest.approx(2 * 2.0 * 3.0 * length, rel=0.02)


def test_taper_changes_the_height_along_the_arm() -> None:
    solid = arm(PLAIN.model_copy(update={"root_height_mm": 12.0, "tip_height_mm": 6.0}))
    end = 112 - PLAIN.pad_diameter_mm / 2
    for x in (2.0, end / 2, end - 1):
        top = solid.trim_by_plane((1, 0, 0), x - 0.01).trim_by_plane((-1, 0, 0), -x - 0.01).bounding_box()[5]
        assert top == pytest.approx(12 - 6 * x / end, abs=0.02)


@given(st.floats(0.3, 9.0), st.floats(0.3, 9.0))
def test_a_larger_fillet_is_more_plastic(a: float, b: float) -> None:
    small, large = sorted((a, b))
    plans = [arm_plan(PLAIN.model_copy(update={"root_fillet_mm": r}), 112.0).area() for r in (small, large)]
    assert plans[1] >= plans[0] - 0.05


def test_a_bore_takes_out_its_cylinder() -> None:
    carbon = Carbon(stock="tube_4x2p5", start_mm=0.0, end_mm=80.0, adhesive_gap_mm=0.15)
    taken = arm(PLAIN).volume() - arm(PLAIN, carbon).volume()
    assert taken == pytest.approx(math.pi * 2.15**2 * 80, rel=5e-3)


def test_two_strips_lie_in_both_faces() -> None:
    carbon = Carbon(stock="strip_6x1", count=2, place="slot", start_mm=4.0, end_mm=80.0, adhesive_gap_mm=0.1)
    taken = arm(PLAIN).volume() - arm(PLAIN, carbon).volume()
    assert taken == pytest.approx(2 * 76 * 6.2 * 1.1, rel=5e-3)
    assert profile_places(arm_body(PLAIN, 112.0), carbon, carbon_stock("strip_6x1"), 40.0) == [(0.0, 0.5), (0.0, 7.5)]


def test_a_profile_on_the_face_takes_nothing_out() -> None:
    carbon = Carbon(stock="strip_6x1", count=2, place="face", start_mm=4.0, end_mm=80.0)
    assert arm(PLAIN, carbon).volume() == pytest.approx(arm(PLAIN).volume())
    assert profile_places(arm_body(PLAIN, 112.0), carbon, carbon_stock("strip_6x1"), 40.0) == [
        (0.0, -0.65),
        (0.0, 8.65),
    ]  # the glue lies between


def test_a_square_tube_gets_a_square_bore() -> None:
    carbon = Carbon(stock="square_4x2p5", start_mm=0.0, end_mm=60.0, adhesive_gap_mm=0.1)
    assert arm(PLAIN).volume() - arm(PLAIN, carbon).volume() == pytest.approx(60 * 4.2**2, rel=5e-3)


@pytest.mark.parametrize(
    "root", [RootForm("dovetail", 5.0), RootForm("hinge", 4.0), RootForm("clamp", 5.0, 20.0), RootForm("one_piece"), BOLTED]
)
def test_every_root_is_one_closed_solid(root: RootForm) -> None:
    solid = build_solid(ShapeInput(PLAIN, 112.0, None, root))
    assert closed(solid)
    assert len(solid.decompose()) == 1
    assert solid.genus() == {"bolted": 8, "hinge": 5, "clamp": 4}.get(root.kind, 4)


def test_mirrored_arm_is_the_same_arm() -> None:
    solid = arm(ArmShape(pocket_count=2))
    mirrored = solid.mirror((0, 1, 0))
    assert (solid - mirrored).volume() < 1e-3 * solid.volume()


def test_leg_and_plate_are_closed(project: Project) -> None:
    for part in project.parts:
        solid = build_solid(shape_input(part, project))
        assert closed(solid)
        assert len(solid.decompose()) == 1


def test_plate_has_a_hole_for_every_bolt(project: Project) -> None:
    plate = next(p for p in project.parts if isinstance(p.shape, PlateShape))
    # sixteen arm bolts, four stack holes and the window
    assert build_solid(shape_input(plate, project)).genus() == 21


def test_plate_holes_follow_the_arms_bolts(project: Project) -> None:
    plate = next(p for p in project.parts if isinstance(p.shape, PlateShape))
    moved = set_many(project, (("parts.arm.shape.tongue_bolt_rows", 1),))
    assert len(shape_input(plate, moved).holes) == 8
    bolt = tongue_bolts(project.part("arm").shape)[0]  # type: ignore[arg-type]
    radii = {round(math.hypot(x, y), 3) for x, y, _ in shape_input(plate, project).holes}
    assert round(math.hypot(project.layout.clamp_radius_mm + bolt[0], bolt[1]), 3) in radii


def test_arm_length_follows_the_layout_unless_set(project: Project) -> None:
    shape = project.part("arm").shape
    assert isinstance(shape, ArmShape)
    assert arm_length_mm(shape, project) == pytest.approx(110.0)
    assert motor_radius_mm(project) == pytest.approx(160.0)
    longer = set_many(project, (("parts.arm.shape.length_mm", 130.0),))
    assert motor_radius_mm(longer) == pytest.approx(180.0)
    warnings = shape_problems(longer.part("arm"), longer)
    assert [w.severity for w in warnings] == ["warning"]
    assert "put the motors 360 mm apart" in warnings[0].message


def test_arms_stand_at_the_motors(project: Project) -> None:
    places = [p.pose for p in places_of(project.part("arm"), project)]
    tips = [t[:3, :3] @ np.array([110.0, 0, 0]) + t[:3, 3] for t in places]
    assert len(tips) == 4
    for tip in tips:
        assert abs(tip[0]) == pytest.approx(160 / math.sqrt(2))
        assert abs(tip[1]) == pytest.approx(160 / math.sqrt(2))


@pytest.mark.parametrize("part_id", ["arm", "leg", "top", "bottom", "guard", "mount"])
def test_placements_are_rigid(project: Project, part_id: str) -> None:
    for t in (p.pose for p in places_of(project.part(part_id), project)):
        assert t[:3, :3] @ t[:3, :3].T == pytest.approx(np.eye(3), abs=1e-12)
        assert np.linalg.det(t[:3, :3]) == pytest.approx(1.0)


def test_legs_reach_below_the_plates(project: Project) -> None:
    leg = project.part("leg")
    assert isinstance(leg.shape, LegShape)
    for t in (p.pose for p in places_of(leg, project)):
        toe = t[:3, :3] @ np.array([leg.shape.length_mm, 0.0, leg.shape.thickness_mm / 2]) + t[:3, 3]
        assert toe[2] < -55


def test_two_arm_parts_share_the_four_corners(project: Project) -> None:
    front = project.part("arm").model_copy(update={"id": "front", "count": 2})
    rear = project.part("arm").model_copy(update={"id": "rear", "count": 2})
    both = project.model_copy(update={"parts": (front, rear)})
    angles = [math.degrees(math.atan2(t[1, 0], t[0, 0])) % 360 for p in both.parts for t in (q.pose for q in places_of(p, both))]
    assert sorted(round(a) for a in angles) == [45, 135, 225, 315]


def test_fine_mesh_is_the_same_surface() -> None:
    solid = arm(PLAIN)
    fine = fine_mesh_of(solid, 3.0)
    tri = fine.vertices_mm[fine.faces]
    volume = np.einsum("ij,ij->i", tri[:, 0], np.cross(tri[:, 1], tri[:, 2])).sum() / 6
    assert volume == pytest.approx(solid.volume(), rel=1e-6)
    assert np.linalg.norm(tri[:, 0] - tri[:, 1], axis=1).max() < 7.0


def test_pockets_spread_evenly() -> None:
    spans = pocket_spans(ArmShape(pocket_count=3, pocket_length_mm=10.0), 112.0)
    gaps = [b[0] - a[1] for a, b in itertools.pairwise(spans)]
    assert len(spans) == 3
    assert gaps[0] == pytest.approx(gaps[1])


CONTRADICTIONS = [
    ({"root_width_mm": 40.0}, "root_width_mm", "wider than the tongue"),
    ({"tip_width_mm": 36.0}, "tip_width_mm", "wider than the motor pad"),
    ({"pad_diameter_mm": 22.0}, "bolt_circle_mm", "left outside the motor screws"),
    ({"shaft_hole_mm": 16.0}, "shaft_hole_mm", "leaves"),
    ({"tongue_length_mm": 60.0}, "tongue_length_mm", "meet in the middle"),
    ({"tongue_width_mm": 60.0}, "tongue_width_mm", "overlap near the centre"),
    ({"tongue_bolt_rows": 3, "tongue_bolt_mm": 6.0}, "tongue_bolt_rows", "need"),
    ({"pocket_count": 2, "pocket_width_mm": 30.0}, "pocket_width_mm", "cut the arm in two"),
    ({"pocket_count": 2, "pocket_width_mm": 17.5, "pocket_corner_mm": 1.0}, "pocket_width_mm", "rails"),
    ({"pocket_count": 6}, "pocket_length_mm", "run into each other"),
    ({"pocket_count": 1, "pocket_length_mm": 110.0}, "pocket_length_mm", "do not fit"),
    ({"pocket_count": 1, "pocket_corner_mm": 8.0}, "pocket_corner_mm", "at most half"),
    ({"bar_height_mm": 3.0, "bar_width_mm": 12.0}, "bar_width_mm", "fill the arm"),
]


@pytest.mark.parametrize(("changes", "field", "says"), CONTRADICTIONS)
def test_contradictions_are_named_at_their_field(changes: dict[str, float], field: str, says: str) -> None:
    edited = set_many(tern(), tuple((f"parts.arm.shape.{k}", v) for k, v in changes.items()))
    found = {p.path.rsplit(".", 1)[-1]: p.message for p in shape_problems(edited.part("arm"), edited) if p.severity == "error"}
    assert field in found
    assert says in found[field]


@pytest.mark.parametrize(
    ("carbon", "field", "says"),
    [
        ({"stock": "tube_10x8"}, "stock", "needs a part"),
        ({"stock": "beam"}, "stock", "no carbon profile"),
        ({"stock": "rod_3", "start_mm": 50.0, "end_mm": 52.0}, "end_mm", "at least 10 mm"),
        ({"stock": "rod_3", "start_mm": -60.0}, "start_mm", "outside the part"),
        ({"stock": "rod_3", "end_mm": 112.0}, "end_mm", "motor mount"),
        ({"stock": "tube_8x6", "count": 2}, "count", "do not fit"),
        ({"stock": "strip_6x1", "count": 2, "place": "slot"}, "count", "even height"),
        ({"stock": "rod_3", "place": "face"}, "place", "does not bond to a flat face"),
        ({"stock": "rod_3", "adhesive": "spit"}, "adhesive", "no adhesive"),
    ],
)
def test_carbon_that_does_not_fit_is_refused(carbon: dict[str, object], field: str, says: str) -> None:
    edited = set_many(tern(), tuple((f"parts.arm.carbon.{k}", v) for k, v in carbon.items()))
    found = {p.path.rsplit(".", 1)[-1]: p.message for p in shape_problems(edited.part("arm"), edited)}
    assert says in found[field]


def test_carbon_and_pockets_exclude_each_other() -> None:
    edited = set_many(
        tern(), (("parts.arm.carbon.stock", "rod_3"), ("parts.arm.shape.pocket_count", 2), ("parts.arm.shape.pocket_length_mm", 10.0))
    )
    assert any("drop the pockets or the carbon" in p.message for p in shape_problems(edited.part("arm"), edited))


@pytest.mark.parametrize(
    ("part", "changes", "says"),
    [
        ("leg", {"root_width_mm": 40.0}, "wider than the flange"),
        ("leg", {"root_width_mm": 30.0}, "no shoulder"),
        ("leg", {"thickness_mm": 4.0}, "under 0.8 mm each side"),
        ("top", {"corner_mm": 60.0}, "more than half"),
        ("top", {"window_length_mm": 100.0}, "under 8 mm of plate"),
        ("top", {"window_length_mm": 40.0, "window_width_mm": 40.0}, "swallows the stack holes"),
        ("top", {"stack_pitch_mm": 60.0, "width_mm": 60.0}, "stack holes need"),
        ("guard", {"radius_mm": 80.0}, "to the propeller's tip"),
        ("guard", {"hub_diameter_mm": 22.0}, "left outside the motor screws"),
        ("guard", {"hub_thickness_mm": 12.0}, "thicker than the ring"),
        ("mount", {"root_width_mm": 60.0}, "wider than the tongue"),
        ("mount", {"length_mm": 10.0}, "leave no blade"),
        ("mount", {"tongue_length_mm": 8.0}, "too short for its bolts"),
    ],
)
def test_leg_and_plate_contradictions(part: str, changes: dict[str, float], says: str) -> None:
    edited = set_many(tern(), tuple((f"parts.{part}.shape.{k}", v) for k, v in changes.items()))
    assert any(says in p.message for p in shape_problems(edited.part(part), edited))


@pytest.mark.parametrize(
    ("span", "propeller", "motor", "battery"),
    [(320, 178, 45, 335), (220, 127, 33, 220), (150, 76, 10, 80), (110, 50, 5, 30), (450, 254, 90, 700), (600, 330, 150, 1500)],
)
def test_defaults_suit_the_layout(span: float, propeller: float, motor: float, battery: float) -> None:
    made = project_for("new", span, propeller, motor, battery)
    assert [p for part in made.parts for p in shape_problems(part, made) if p.severity == "error"] == []
    for part in made.parts:
        solid = build_solid(shape_input(part, made))
        assert len(solid.decompose()) == 1
        assert shape_for(part.shape, made) == part.shape


def test_larger_craft_get_larger_arms() -> None:
    small, large = (project_for("n", s, 0.55 * s, s / 8, s).part("arm").shape for s in (160.0, 400.0))
    assert isinstance(small, ArmShape)
    assert isinstance(large, ArmShape)
    assert large.root_height_mm > small.root_height_mm
    assert large.root_width_mm > small.root_width_mm


def test_every_shape_field_has_a_reason() -> None:
    for cls in (ArmShape, LegShape, PlateShape, GuardShape, MountShape):
        for name, info in cls.model_fields.items():
            if name not in ("kind", "place"):
                assert info.json_schema_extra["why"], name  # type: ignore[index,call-overload]


@pytest.mark.parametrize(
    ("joint", "field", "says"),
    [
        ({"kind": "clamp", "tube_mm": 11.0}, "tube_mm", "under 1.2 mm"),
        ({"kind": "clamp", "tube_mm": 6.0, "clamp_length_mm": 60.0}, "clamp_length_mm", "longer than the tongue"),
        ({"kind": "hinge", "pin_mm": 4.0}, "kind", "as long as it is wide"),
        ({"kind": "bolted", "screw": "M5"}, "screw", "needs a hole"),
        ({"kind": "bolted", "screw": "M2"}, "screw", "rattles"),
        ({"kind": "bolted", "fixing": "tapped", "engaged_mm": 20.0}, "engaged_mm", "longer than the tongue is high"),
    ],
)
def test_joints_that_do_not_fit_say_so(joint: dict[str, object], field: str, says: str) -> None:
    edited = set_many(tern(), tuple((f"parts.arm.joint.{k}", v) for k, v in joint.items()))
    found = {p.path.rsplit(".", 1)[-1]: p.message for p in shape_problems(edited.part("arm"), edited)}
    assert says in found[field]


@given(st.floats(40.0, 200.0), st.floats(2.0, 8.0), st.floats(1.0, 20.0))
def test_any_guard_is_one_closed_solid(span: float, width: float, corner: float) -> None:
    solid = build_solid(ShapeInput(GuardShape(span_deg=span, width_mm=width, corner_mm=corner), 98.0, None))
    assert closed(solid)
    assert len(solid.decompose()) == 1
    assert loose_pieces(solid) == 1


def test_loose_pieces_are_counted_and_cavities_are_not() -> None:
    two = Manifold.cube((5.0, 5.0, 5.0)) + Manifold.cube((5.0, 5.0, 5.0)).translate((9.0, 0.0, 0.0))
    assert loose_pieces(two) == 2
    hollow = Manifold.cube((9.0, 9.0, 9.0), True) - Manifold.cube((5.0, 5.0, 5.0), True)
    assert loose_pieces(hollow) == 1


@pytest.mark.parametrize("kind", ["guard", "mount", "leg"])
def test_added_parts_suit_the_craft(project: Project, kind: str) -> None:
    new = part_for(kind, project)
    both = project.model_copy(update={"parts": (*project.parts, new)})
    assert new.id not in {p.id for p in project.parts}
    assert [p for p in shape_problems(new, both) if p.severity == "error"] == []
    assert loose_pieces(build_solid(shape_input(new, both))) == 1


def test_the_demo_has_no_problems(project: Project) -> None:
    assert [p for part in project.parts for p in shape_problems(part, project)] == []


joints = st.sampled_from(["bolted", "one_piece", "hinge"])
ways = st.sampled_from(["flat", "on_side", "on_other_side"])


@given(st.floats(8.0, 15.0), st.floats(7.0, 13.0), st.sampled_from([0.0, 3.0]), st.integers(0, 3), joints, ways)
def test_slices_from_the_plan_are_slices_of_the_solid(root: float, tip: float, bars: float, pockets: int, joint: str, lies: str) -> None:
    project, shape = tern(), "parts.arm.shape."
    heights_asked = ((shape + "root_height_mm", root), (shape + "tip_height_mm", tip), (shape + "bar_height_mm", bars))
    cut = ((shape + "pocket_length_mm", 12.0), (shape + "pocket_count", pockets))
    laid = tuple((f"parts.{part_id}.recipe.lies", lies) for part_id in ("arm", "bottom"))
    project = set_many(project, (*heights_asked, *cut, *laid, ("parts.arm.joint.kind", joint)))
    for part_id in ("arm", "bottom"):
        part = project.part(part_id)
        given_shape = shape_input(part, project)
        solid, rising = build_solid(given_shape), rising_of(given_shape, part.recipe)
        assert rising is not None
        assert rising.pieces == loose_pieces(solid)
        # a slope counts once in plan and once in height
        assert rising.thin_mm() == pytest.approx(thin_mm(solid), rel=0.05)
        stood = solid.transform(np.hstack([print_from_part(part.recipe), np.zeros((3, 1))]))
        box = stood.bounding_box()
        assert rising.box() == pytest.approx(box, abs=1e-4)
        heights = np.linspace(box[2] + 0.05, box[5] - 0.05, 15)
        for h, cut_there in zip(heights, rising.slices(heights), strict=True):
            exact = stood.slice(float(h))
            # facets of the solid's top are a few hundredths of a millimetre off the plane in which they lie
            assert (cut_there - exact).area() + (exact - cut_there).area() < 2e-4 * exact.area() + 2e-5 * exact_rim(exact)


def exact_rim(section: CrossSection) -> float:
    """Length round a section."""
    start, end, _ = boundary_edges([section])
    return float(np.hypot(*(end - start).T).sum())


def test_alike_slices_of_what_lies_on_its_side_are_one(project: Project) -> None:
    part = project.part("bottom")
    recipe = part.recipe.model_copy(update={"lies": "on_side"})
    rising = rising_of(shape_input(part, project), recipe)
    assert rising is not None
    low, high = rising.box()[2], rising.box()[5]
    cuts = rising.slices(np.linspace(low + 0.5, high - 0.5, 200))
    assert len({id(c) for c in cuts}) < len(cuts)
    assert all(c.is_empty() for c in rising.slices(np.array([low - 1.0, high + 1.0])))


@pytest.mark.parametrize("lies", ["on_end", "flat_over", "free"])
def test_what_lies_otherwise_is_sliced_as_a_solid(project: Project, lies: str) -> None:
    part = project.part("arm")
    assert rising_of(shape_input(part, project), part.recipe.model_copy(update={"lies": lies, "pitch_deg": 20.0})) is None


def test_parts_with_bores_are_sliced_as_solids() -> None:
    project = set_many(tern(), (("parts.arm.carbon", {"stock": "rod_2"}),))
    for part in (project.part("arm"), project.part("leg")):
        assert rising_of(shape_input(part, project), part.recipe) is None
