"""Frame plates: middle and arms in one piece, judged as a plate with arms of one piece with it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from conftest import until
from hypothesis import given
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import DEMOS, tern, wren
from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee
from fravik.engine.onit import what_is_on_it
from fravik.engine.results import Evaluation, Refused
from fravik.engine.ruler import WORST, reserves_of
from fravik.engine.settle import settle
from fravik.engine.swing import mode_swing
from fravik.kinds import build_solid, places, shape_input
from fravik.kinds.armschoice import ANY, with_arms
from fravik.kinds.around import bottom_plate_mm
from fravik.kinds.framing import owner_of, pieces_of, told_apart
from fravik.kinds.newcraft import Wish, sized
from fravik.kinds.rearm import rearmed
from fravik.model.paths import set_many
from fravik.model.project import OwnCase, Project
from fravik.shape.stations import ARRANGEMENTS
from fravik.structure.loadcases import own_key
from fravik.structure.plateface import FACE, face_loads
from fravik.study.levers import find_levers


@pytest.fixture(scope="module")
def found(engine: Engine) -> Evaluation:
    return engine.evaluate(wren())


def changed(engine: Engine, **edits: Any) -> Evaluation:
    return engine.evaluate(set_many(wren(), tuple((f"parts.frame.shape.{k}", v) for k, v in edits.items())))


def test_a_frame_is_one_part_and_judged_in_pieces(found: Evaluation) -> None:
    assert "frame" in found.parts
    assert set(found.pieces_of("frame")) == {"frame/arm", "frame/middle"}
    assert "frame/arm" in found.members
    assert "frame/middle" in found.plates
    assert all(m.value is not None and "not judged" not in m.detail for m in found.margins)
    # the pieces weigh together what is printed, and the craft that swings what flies
    arm, middle = found.pieces["frame/arm"], found.pieces["frame/middle"]
    assert 4 * arm.mass.mass_g + middle.mass.mass_g == pytest.approx(found.parts["frame"].mass.mass_g)
    assert found.whole is not None
    craft = found.whole.craft
    assert float(craft.rigid[:, 0] @ craft.m @ craft.rigid[:, 0]) * 1e6 == pytest.approx(found.craft.mass_g, rel=1e-6)


@pytest.mark.parametrize("name", list(DEMOS))
def test_softer_plastic_never_rings_higher(engine: Engine, name: str) -> None:
    whole = engine.evaluate(DEMOS[name]()).whole
    assert whole is not None
    low, typical, high = whole.free.corners_hz
    assert (low < typical).all()
    assert (typical < high).all()


def test_thicker_wider_and_barred_frames_are_stiffer(engine: Engine, found: Evaluation) -> None:
    def sag(r: Evaluation) -> float:
        return next(float(m.value) for m in r.margins if m.metric == "tip_sag_mm" and m.value is not None)

    for edits in ({"thickness_mm": 4.0}, {"root_width_mm": 14.0, "tip_width_mm": 12.0}, {"bar_height_mm": 3.0}):
        assert sag(changed(engine, **edits)) < sag(found)
    assert sag(changed(engine, pocket_count=2, pocket_length_mm=6.0, pocket_width_mm=4.0)) > sag(found)


@pytest.mark.parametrize("kind", [k for k in ARRANGEMENTS if k != "free"])
def test_every_layout_has_a_frame_in_one_closed_piece(kind: Any) -> None:
    made = sized(Wish(kind, motor_to_motor_mm=240.0, arms="frame"))
    solid = build_solid(shape_input(made.part("frame"), made))
    assert len(solid.decompose()) == 1
    assert solid.volume() > 0
    arms = len(ARRANGEMENTS[kind].arms)
    assert pieces_of(made.part("frame"), made)[0].count == arms
    assert [p.part_id for p in places(told_apart(made))].count("frame/arm") == arms


@given(st.floats(20, 80), st.floats(20, 80), st.floats(6, 16), st.floats(1.5, 8), st.floats(0, 6), st.integers(0, 3))
def test_any_frame_is_whole_or_refused_in_words(length: float, width: float, root: float, thick: float, bars: float, windows: int) -> None:
    edits = {"length_mm": length, "width_mm": width, "root_width_mm": root, "tip_width_mm": min(root, 12.0), "thickness_mm": thick,
             "bar_height_mm": bars, "pocket_count": windows, "pocket_length_mm": 5.0, "pocket_width_mm": 3.0}  # fmt: skip
    made = set_many(wren(), tuple((f"parts.frame.shape.{k}", v) for k, v in edits.items()))
    engine = Engine()
    errors = [p for p in engine.problems(made) if p.severity == "error"]
    if errors:
        assert all(p.path.startswith(("parts.", "layout.")) and p.message for p in errors)
        assert not [p for p in errors if "tongue" in p.path or "/" in p.path]
        return
    assert len(build_solid(shape_input(made.part("frame"), made)).decompose()) == 1


def test_frames_are_taken_for_arms_and_plates_and_back(engine: Engine) -> None:
    printed = sized(Wish("hexa_x", motor_to_motor_mm=300.0))
    framed = rearmed(printed, "frame")
    assert {p.shape.kind for p in framed.parts} == {"frame", "leg"}
    assert engine.evaluate(framed).whole is not None
    back = rearmed(framed, "arm")
    assert sorted(p.shape.kind for p in back.parts) == sorted(p.shape.kind for p in printed.parts)
    assert back.components.battery.z_mm == pytest.approx(printed.components.battery.z_mm)
    bars = rearmed(framed, "bar_arm")
    assert {p.shape.kind for p in bars.parts} == {"bar_arm", "root_clamp", "motor_holder", "plate", "leg"}
    assert engine.evaluate(bars).whole is not None


def test_what_hangs_under_the_body_goes_along_with_its_underside(engine: Engine) -> None:
    framed = rearmed(tern(), "frame")
    assert framed.part("frame").shape.thickness_mm != tern().part("bottom").shape.thickness_mm  # type: ignore[union-attr]
    assert not [f for f in foresee(engine, engine.evaluate(framed)) if "camera" in f.where.lower() and f.weight == "grave"]

    def under_mm(craft: Project) -> float:
        return next(b.z_mm for b in craft.components.blocks if b.id == "camera") + bottom_plate_mm(craft)

    assert under_mm(framed) == pytest.approx(under_mm(tern()))
    assert under_mm(rearmed(framed, "arm")) == pytest.approx(under_mm(tern()))


def test_a_frames_rotors_and_guards_stand_under_it_in_the_tree(engine: Engine, found: Evaluation) -> None:
    frame = what_is_on_it(found)[0]
    assert {"Rotor × 4", "Propeller guard × 4"} <= {n.title for n in frame.children}


def test_a_case_of_ones_own_on_a_frames_arm(engine: Engine) -> None:
    case = OwnCase(id="hang", name="hung up", part="frame/arm", position_mm=39.0, force_z_n=3.0)
    result = engine.evaluate(set_many(wren(), (("brief.own_cases", (case,)),)))
    assert own_key(case) in result.members["frame/arm"].cases["typical"]


def test_a_middle_too_small_for_its_roots_is_refused(engine: Engine) -> None:
    with pytest.raises(Refused, match="inside the arms' roots"):
        changed(engine, length_mm=24.0, width_mm=24.0, stack_pitch_mm=10.0, window_length_mm=0.0)


def test_the_run_prints_it_as_one(engine: Engine) -> None:
    settled = settle(engine, wren())
    assert set(settled.jobs) == {"frame", "guard", "leg", "mount"}
    assert not settled.batches.left_out


def test_the_greenhouse_craft_teaches_and_leads_home(engine: Engine, found: Evaluation) -> None:
    made = wren()
    assert not found.problems
    verdicts = {m.metric: m.verdict for m in found.margins}
    assert list(verdicts.values()).count("fails") >= 2
    for _ in range(8):
        scores = engine.scores(made)
        assert scores is not None
        if all(m.verdict == "holds" for m in scores.margins):
            return
        made = set_many(made, find_levers(made, scores, engine.scores, parts=("frame",))[0].edits)
    pytest.fail("the ways out did not lead home")


def test_the_tree_and_the_swing_know_the_frame(engine: Engine, found: Evaluation) -> None:
    frame = next(n for n in what_is_on_it(found) if n.part_id == "frame")
    assert frame.verdict == "fails"
    assert "Lowest mode" in frame.why
    swing = mode_swing(engine, found, 0)
    assert np.isfinite(swing.motion_mm).all()
    assert np.abs(swing.motion_mm).max() > 0
    assert owner_of(found.whole.modes[0].part_id) == "frame"  # type: ignore[union-attr]


def test_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "one.json"
    assert main(["new", "quad_x", "--bed-mm", "150", "--arms", "frame", "-o", str(file)]) == 0
    assert main(["evaluate", str(file), "--json"]) == 0
    told = capsys.readouterr().out
    assert '"frame/arm"' in told


def test_faces_over_an_edge_still_tell_how_a_block_moves() -> None:
    """Whatever of a face lies on the plate, a plate that moves as one block moves it so."""
    x, y = np.linspace(0, 60, 11), np.linspace(0, 40, 9)
    there = np.ones((10, 8), dtype=bool)
    there[8:, 6:] = False
    points = np.array([(30.0, 20.0), (0.5, 20.0), (0.2, 0.3), (48.0, 30.0), (59.0, 3.0)])
    loads = face_loads(x, y, there, points, np.full(5, 4.0), np.arange(25))
    nodes = np.stack(np.meshgrid(x, y, indexing="ij"), axis=-1)
    for k, (a, b, c) in enumerate(np.eye(3)):
        # w = a + b y - c x, its slopes at every node
        w = a + b * nodes[..., 1] - c * nodes[..., 0]
        u = np.stack([w, np.full_like(w, b), np.full_like(w, c)], axis=-1).reshape(len(x), -1)
        seen = np.einsum("ij,ijk->k", u, loads.bending).reshape(5, 3)
        want = np.stack([a + b * points[:, 1] - c * points[:, 0], np.full(5, b), np.full(5, c)], axis=1)
        assert seen == pytest.approx(want, abs=1e-9), k
    assert len(FACE) == 17


def test_parts_view_reads_a_frame_piece_by_piece(qapp: Any) -> None:
    from fravik.app.window import MainWindow

    window = MainWindow(wren())
    window.show()
    window.show_stage("Parts")
    view = window.view("Parts")
    view.open_part("frame")
    assert [b.text() for b in view.piece_picks.buttons] == ["Arm", "Middle"]
    arm = view.verdict.text()
    view.piece_picks.buttons[1].click()
    assert view.read_id == "frame/middle"
    assert view.verdict.text() != arm
    assert until(qapp, lambda: view.ruler_card.title.text() == "Along the plate")
    view.open_part("frame/arm")
    assert until(qapp, lambda: view.ruler_card.title.text() == "Along the arm")
    view.open_part("guard")
    assert view.piece_picks.buttons == []
    view.open_part("frame")
    field = view.controls.forms["shape"].fields["parts.frame.shape.thickness_mm"]
    field.commit(4.0)
    assert until(qapp, lambda: window.session.project.part("frame").shape.thickness_mm == 4.0)
    assert window.session.result is not None
    assert reserves_of(window.session.result, "frame", WORST) is not None
    view.add_part("arm")
    assert {p.shape.kind for p in window.session.project.parts} >= {"arm", "plate"}
    window.close()


def test_projects_with_frames_are_kept(tmp_path: Path) -> None:
    from fravik.store import create, open_file

    create(tmp_path / "w.fravik", wren()).close()
    file, project = open_file(tmp_path / "w.fravik")
    file.close()
    assert project == wren()


@pytest.mark.parametrize("kind", ["quad_x", "plus", "tri", "side_by_side"])
def test_a_toy_of_60_mm_is_a_frame(engine: Engine, kind: Any) -> None:
    toy = sized(Wish(kind, motor_to_motor_mm=60.0, arms="frame"))
    result = engine.evaluate(toy)
    assert result.craft.mass_g < 50.0
    assert result.whole is not None
    assert toy.components.propeller.diameter_mm >= 25.0
    with pytest.raises(ValueError, match="A frame plate"):
        with_arms(Wish(kind, motor_to_motor_mm=60.0))
    # who leaves the arms open gets it
    served, made = with_arms(Wish(kind, motor_to_motor_mm=60.0, arms=ANY))
    assert (served.arms, made) == ("frame", toy)
