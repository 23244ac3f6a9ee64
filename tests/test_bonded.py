"""Carbon and facings: stiffness entering from the ends, glue, grams and money, and what does not fit."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import tern
from fravik.engine.compare import carbon_twin
from fravik.engine.evaluate import Engine
from fravik.engine.notes import carbon_notes, joint_notes, pair_note, twin_note
from fravik.engine.results import Evaluation
from fravik.library import adhesive, adhesives, carbon_stock, carbon_stocks, facing_stock, facing_stocks, filament
from fravik.model.paths import set_many
from fravik.model.recipe import Carbon, Facing
from fravik.model.shapes import ArmShape
from fravik.shape.arm import arm_body
from fravik.shape.checks_bonded import carbon_problems, facing_problems
from fravik.shape.inlay import carbon_room, profile_places, profile_size_mm
from fravik.structure.bonded import Bonded, bonded
from fravik.structure.failure import BOND, FIBRE
from fravik.structure.inserts import carbon_inserts, entry_length_mm, profile_area_mm2

SHARED = Engine()
BASE = tern()
EVEN = {"parts.arm.shape.tip_height_mm": 12.0, "parts.arm.shape.root_height_mm": 12.0}
PETG = filament("petg")


def run(edits: dict[str, Any]) -> Evaluation:
    return SHARED.evaluate(set_many(BASE, tuple(edits.items())))


def arm_with(carbon: Carbon | None = None, facing: Facing | None = None) -> Any:
    return BASE.part("arm").model_copy(update={"carbon": carbon, "facing": facing})


def glued(part: Any) -> Bonded:
    return bonded(part, arm_body(part.shape, 110.0), 0.0)


@pytest.mark.parametrize("stock", sorted(carbon_stocks()))
def test_profiles_weigh_what_their_section_says(stock: str) -> None:
    s = carbon_stock(stock)
    c = Carbon(stock=stock, start_mm=0.0, end_mm=80.0)
    found = glued(arm_with(c))
    assert found.carbon_g == pytest.approx(profile_area_mm2(s) * 80.0 * s.density_g_cm3 * 1e-3)
    assert found.price > s.price_per_m * 0.08 * 0.999
    assert found.handwork_min >= 8
    two = glued(arm_with(c.model_copy(update={"count": 2})))
    assert two.carbon_g == pytest.approx(2 * found.carbon_g)
    assert two.handwork_min == pytest.approx(2 * found.handwork_min)
    assert two.cure_h == found.cure_h


def test_tubes_and_squares_have_their_textbook_second_moments() -> None:
    x = np.array([40.0])
    for stock, expected in (("tube_6x4", math.pi / 64 * (6**4 - 4**4)), ("rod_3", math.pi / 64 * 3**4), ("strip_6x1", 6 * 1 / 12)):
        one = carbon_inserts(Carbon(stock=stock, start_mm=0.0, end_mm=80.0), [(np.zeros(1), np.full(1, 6.0))], x, PETG, "typical")[0]
        assert one.own_up_mm4[0] == pytest.approx(expected)
    strip = carbon_inserts(Carbon(stock="strip_6x1", start_mm=0.0, end_mm=80.0), [(np.zeros(1), np.full(1, 6.0))], x, PETG, "typical")[0]
    assert strip.own_side_mm4[0] == pytest.approx(6**3 / 12)


@given(st.floats(0.05, 1.0), st.floats(1.1, 4.0))
def test_thicker_and_softer_glue_lets_the_load_in_later(gap: float, times: float) -> None:
    base = entry_length_mm(130000.0, 20.0, gap, 900.0, 18.0)
    assert entry_length_mm(130000.0, 20.0, gap * times, 900.0, 18.0) == pytest.approx(base * math.sqrt(times))
    assert entry_length_mm(130000.0, 20.0, gap, 900.0 / times, 18.0) == pytest.approx(base * math.sqrt(times))
    assert entry_length_mm(130000.0, 20.0, gap, 900.0, 18.0 * times) < base


@given(st.sampled_from(["inside", "slot", "face"]), st.floats(0.05, 0.5))
def test_stiffness_enters_from_both_ends_and_stays_out_beyond(place: str, gap: float) -> None:
    x = np.linspace(-10.0, 110.0, 61)
    c = Carbon(stock="strip_6x1", place=place, start_mm=10.0, end_mm=90.0, adhesive_gap_mm=gap)  # type: ignore[arg-type]
    one = carbon_inserts(c, [(np.zeros(61), np.full(61, 1.0))], x, PETG, "typical")[0]
    assert (one.share[(x <= 10) | (x >= 90)] == 0).all()
    assert (np.diff(one.share[(x > 10) & (x < 50)]) >= 0).all()
    assert one.share == pytest.approx(one.share[::-1], abs=1e-9)
    assert 0 < one.share.max() < 1


def test_the_bond_is_as_strong_as_the_weaker_of_glue_and_layer() -> None:
    x = np.array([40.0])
    strong = Carbon(stock="rod_3", start_mm=0.0, end_mm=80.0, bond_strength_mpa=29.0)
    weak = strong.model_copy(update={"bond_strength_mpa": 2.0})
    at = [(np.zeros(1), np.full(1, 6.0))]
    assert carbon_inserts(strong, at, x, PETG, "typical")[0].bond_mpa == pytest.approx(PETG.t_layer_mpa.typical)
    assert carbon_inserts(weak, at, x, PETG, "typical")[0].bond_mpa == pytest.approx(2.0)
    for glue in adhesives():
        got = carbon_inserts(strong.model_copy(update={"bond_strength_mpa": None, "adhesive": glue}), at, x, PETG, "low")[0].bond_mpa
        assert got == pytest.approx(min(adhesive(glue).strength_mpa.low, PETG.t_layer_mpa.low))


def test_carbon_carries_where_it_lies_and_weakens_where_it_stops() -> None:
    bare, strip = run(EVEN), run({**EVEN, "parts.arm.carbon": Carbon(stock="strip_6x1", count=2, place="slot", start_mm=4.0, end_mm=84.0)})
    a, b = (r.members["arm"] for r in (bare, strip))
    middle = np.interp(45.0, b.member.positions_mm, b.answers["typical"].section.ei_up_nmm2)
    assert middle > 4 * np.interp(45.0, a.member.positions_mm, a.answers["typical"].section.ei_up_nmm2)
    assert any("carbon ends" in r.name for r in b.bases["typical"].raisers)
    values = b.cases["typical"]["hard_landing"].values
    assert values[FIBRE].min() < 99
    assert values[BOND].min() < 99
    assert (a.cases["typical"]["hard_landing"].values[[FIBRE, BOND]] == 99).all()
    assert strip.parts["arm"].bonded.carbon_g > 0
    assert strip.craft.mass_g > bare.craft.mass_g
    notes = " ".join(carbon_notes(strip, "arm"))
    assert "enters over" in notes
    assert "of glue" in notes


def test_a_stronger_glue_only_helps_the_bond() -> None:
    made = {**EVEN, "parts.arm.carbon": Carbon(stock="strip_6x1", count=2, place="face", start_mm=4.0, end_mm=84.0, bond_strength_mpa=3.0)}
    weak, strong = run(made), run({**made, "parts.arm.carbon.bond_strength_mpa": 6.0})
    a, b = (r.members["arm"].cases["typical"]["hard_landing"].values for r in (weak, strong))
    assert b[BOND].min() == pytest.approx(2 * a[BOND].min(), rel=0.02)
    assert b[FIBRE].min() == pytest.approx(a[FIBRE].min(), rel=1e-6)


@pytest.mark.parametrize(
    ("carbon", "field"),
    [
        (Carbon(stock="lead_9"), "stock"), (Carbon(adhesive="jam"), "adhesive"), (Carbon(start_mm=40.0, end_mm=45.0), "end_mm"),
        (Carbon(start_mm=-110.0), "start_mm"), (Carbon(stock="rod_3", start_mm=0.0, end_mm=109.0), "end_mm"),
        (Carbon(stock="tube_12x10", start_mm=2.0, end_mm=85.0), "stock"),
        (Carbon(stock="rod_3", place="face", start_mm=2.0, end_mm=85.0), "place"),
        (Carbon(stock="tube_8x6", count=2, start_mm=2.0, end_mm=85.0), "count"),
        (Carbon(stock="strip_6x1", count=2, place="face", start_mm=2.0, end_mm=85.0), "count"),
        (Carbon(stock="rod_3", adhesive="cyanoacrylate", adhesive_gap_mm=0.6, start_mm=2.0, end_mm=85.0), "adhesive_gap_mm"),
    ],
)  # fmt: skip
def test_carbon_that_does_not_fit_says_so_at_its_field(carbon: Carbon, field: str) -> None:
    part = arm_with(carbon)
    assert isinstance(part.shape, ArmShape)
    found = carbon_problems(arm_body(part.shape, 110.0), part)
    assert any(p.path == f"parts.arm.carbon.{field}" for p in found), [p.message for p in found]


@pytest.mark.parametrize(
    ("facing", "field"),
    [
        (Facing(stock="tin"), "stock"), (Facing(adhesive="jam"), "adhesive"), (Facing(start_mm=50.0, end_mm=52.0), "end_mm"),
        (Facing(start_mm=-90.0), "start_mm"), (Facing(end_mm=130.0), "end_mm"),
    ],
)  # fmt: skip
def test_sheets_that_do_not_fit_say_so_at_their_field(facing: Facing, field: str) -> None:
    part = arm_with(facing=facing)
    found = facing_problems(arm_body(part.shape, 110.0), part)
    assert any(p.path == f"parts.arm.facing.{field}" for p in found), [p.message for p in found]


@pytest.mark.parametrize("place", ["inside", "slot", "face"])
def test_room_for_carbon_is_its_profile_and_its_glue(place: str) -> None:
    shape = ArmShape(root_height_mm=12.0, tip_height_mm=12.0)
    c = Carbon(stock="strip_6x1", place=place, start_mm=0.0, end_mm=80.0, adhesive_gap_mm=0.2)  # type: ignore[arg-type]
    stock = carbon_stock("strip_6x1")
    room = carbon_room(arm_body(shape, 110.0), c, stock).volume()
    if place == "face":
        assert room == 0
    else:
        assert room >= 80.0 * 6.4 * 1.4 - 1e-6
    for y, z in profile_places(arm_body(shape, 110.0), c, stock, 40.0):
        assert abs(y) < 10
        assert (0 < z < 12) == (place != "face")
    assert profile_size_mm(stock) == (6.0, 1.0)
    assert arm_body(shape, 110.0).height_mm(50.0) == 12.0
    assert arm_body(shape, 110.0).width_mm(0.0) == shape.root_width_mm


@pytest.mark.parametrize("kind", sorted(facing_stocks()))
def test_sheets_stiffen_most_when_they_are_stiffest(kind: str) -> None:
    made = {**EVEN, "parts.arm.shape.bar_height_mm": 0.0}
    flat = run({**made, "parts.arm.facing": Facing(stock=kind, start_mm=2.0, end_mm=84.0)})
    bare = run(made)
    a, b = (float(np.median(r.members["arm"].answers["typical"].section.ei_up_nmm2)) for r in (bare, flat))
    s = facing_stock(kind)
    # two thin faces at half the height: E t b h^2 / 2 on top of the bare arm, at most
    width = 0.9 * 20.0
    most = s.modulus_mpa.typical * s.thickness_mm * width * (12.0 + s.thickness_mm) ** 2 / 2
    assert a < b < a + 1.15 * most
    assert flat.parts["arm"].bonded.handwork_min >= 2 * s.handwork_min


def test_the_twin_cut_from_plate_is_compared_honestly(result: Evaluation) -> None:
    twin = carbon_twin(result, "bottom")
    assert twin is not None
    printed = result.parts["bottom"]
    assert twin.grams == pytest.approx(twin.mass_ratio * printed.grams)
    assert 0.5 < twin.mass_ratio < 1.6
    assert twin.ei_ratio > 2
    assert "dust" in twin_note(result, "bottom")
    assert carbon_twin(result, "guard") is None
    assert carbon_twin(result, "nothing") is None


def test_notes_speak_of_play_grip_and_screws(result: Evaluation) -> None:
    bolted = " ".join(joint_notes(result, "arm"))
    assert "N·m/rad" in bolted
    assert "Grip used" in bolted
    assert "One M3 holds" in bolted
    hinge = run({"parts.arm.joint.kind": "hinge", "parts.arm.shape.tongue_width_mm": 22.0})
    assert "Free play at the tip" in " ".join(joint_notes(hinge, "arm"))
    loose = run({"parts.arm.joint.tightness": 0.02})
    assert "the tip travels" in " ".join(joint_notes(loose, "arm"))
    assert joint_notes(result, "bottom") == []
    assert "as stiff bent" in pair_note(SHARED, result, "bottom")
    assert pair_note(SHARED, result, "arm") == ""
