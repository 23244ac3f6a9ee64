"""Joints, screws and the two-plate body: trends a maker relies on, and that the answers are used."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.engine.body import solve_pair
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.library import filament
from fravik.model.joint import JOINT_FIELDS, JOINT_LABELS, Joint
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.model.recipe import Recipe
from fravik.structure.attachments import slipping
from fravik.structure.failure import JOINT
from fravik.structure.fasteners import screw_hold
from fravik.structure.joints import RootGeometry, bolt_forces, joint_springs, joint_use, slip_travel_mm

Run = Callable[[dict[str, Any]], Evaluation]
PETG = filament("petg")
ROOT = RootGeometry(20.0, 12.0, 28.0, 30.0, ((-7.0, -9.0), (-7.0, 9.0), (-21.0, -9.0), (-21.0, 9.0)), 3.2)


@pytest.mark.parametrize("kind", sorted(JOINT_LABELS))
def test_every_joint_has_springs_and_bears_loads(kind: str) -> None:
    joint = Joint(kind=kind)  # type: ignore[arg-type]
    springs = joint_springs(joint, ROOT, PETG, "typical", Recipe())
    assert (springs.stiffness > 0).all()
    forces = np.array([[5.0], [20.0], [-10.0], [100.0], [-900.0], [1500.0]])
    one, two = (joint_use(joint, ROOT, PETG, "typical", Recipe(), k * forces) for k in (1.0, 2.0))
    assert two.broken == pytest.approx(2 * one.broken)
    assert two.slipping == pytest.approx(2 * one.slipping)
    assert all(f in Joint.model_fields for f in JOINT_FIELDS[kind])


@given(st.floats(1.0, 12.0), st.sampled_from(["heat_set", "tapped", "captive"]))
def test_longer_threads_hold_more_until_the_screw_gives(engaged: float, fixing: str) -> None:
    a, b = (screw_hold(Joint(fixing=fixing, engaged_mm=e), PETG, "typical", Recipe(), True) for e in (engaged, 1.3 * engaged))  # type: ignore[arg-type]
    assert b.pull_n >= a.pull_n
    assert b.torque_nmm >= a.torque_nmm
    assert a.preload_n == pytest.approx(0.6 * a.pull_n)


def test_screws_hold_in_the_order_makers_know() -> None:
    def pull(fixing: str) -> float:
        return screw_hold(Joint(fixing=fixing, engaged_mm=3.0), PETG, "typical", Recipe(), True).pull_n  # type: ignore[arg-type]

    assert pull("tapped") < pull("heat_set") < pull("captive")
    along = screw_hold(Joint(fixing="heat_set", engaged_mm=3.0), PETG, "typical", Recipe(), False).pull_n
    assert along > screw_hold(Joint(fixing="heat_set", engaged_mm=3.0), PETG, "typical", Recipe(), True).pull_n


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(-3000, 3000))
def test_bolt_group_is_in_balance_and_mirrors(pull: float, side: float, moment: float) -> None:
    p, s, m = (np.array([v]) for v in (pull, side, moment))
    mirrored = tuple((x, -y) for x, y in ROOT.bolts_mm)
    assert bolt_forces(ROOT.bolts_mm, p, s, m) == pytest.approx(bolt_forces(mirrored, p, -s, -m))
    assert bolt_forces(ROOT.bolts_mm, p, s, m)[0] >= np.hypot(pull, side) / 4 - 1e-9


def test_one_plate_gives_more_than_two() -> None:
    both, one = (joint_springs(Joint(plates=p), ROOT, PETG, "typical", Recipe()).stiffness for p in ("both", "one"))  # type: ignore[arg-type]
    assert (both[[2, 3, 4]] > one[[2, 3, 4]]).all()


@pytest.mark.parametrize(
    ("edits", "sign"),
    [
        ({"parts.arm.joint.kind": "one_piece"}, -1),
        ({"parts.arm.joint.plates": "one"}, 1),
        ({"parts.arm.joint.kind": "hinge", "parts.arm.shape.tongue_width_mm": 22.0}, 1),
        ({"parts.bottom.shape.thickness_mm": 5.0}, -1),
        ({"parts.top.facing.stock": "plate_0p5", "parts.bottom.facing.stock": "plate_0p5"}, -1),
    ],
)
def test_what_the_root_stands_on_shows_in_the_sag(with_edits: Run, result: Evaluation, edits: dict[str, Any], sign: int) -> None:
    def sag(r: Evaluation) -> float:
        return float(next(m.value for m in r.margins if m.id == "sag"))  # type: ignore[arg-type]

    assert (sag(with_edits(edits)) - sag(result)) * sign > 0


def test_a_weak_latch_breaks_first_and_says_so(with_edits: Run) -> None:
    hinge = {"parts.arm.joint.kind": "hinge", "parts.arm.shape.tongue_width_mm": 22.0, "parts.arm.joint.latch_strength_n": 20.0}
    strike = with_edits(hinge).members["arm"].cases["typical"]["arm_strike"]
    assert strike.kind == "joint"
    assert strike.detail == "latch"
    assert strike.values[JOINT, 0] < 1


def test_a_loose_tongue_slips_and_a_tight_one_holds(with_edits: Run) -> None:
    loose, tight = (with_edits({"parts.arm.joint.tightness": t}).members["arm"] for t in (0.05, 0.9))
    combo = loose.combos["typical"]["transport"]
    assert slipping(loose.bases["typical"], combo) > 10 * slipping(tight.bases["typical"], combo)
    assert slip_travel_mm(Joint(), ROOT, 110.0) > 0.2 * 110 / 18
    assert slip_travel_mm(Joint(kind="glued"), ROOT, 110.0) == 0.0


def test_the_pair_is_far_stiffer_than_its_plates(engine: Engine, project: Project) -> None:
    parts = engine.evaluate(project).parts
    body = solve_pair(engine.memo, project, parts)
    assert body is not None
    bend, twist = body.stiffer()
    assert bend > 10
    assert twist > 4
    root = body.answer.roots[0]
    assert root == pytest.approx(root.T)
    assert (np.linalg.eigvalsh(root) > -1e-9).all()


def test_a_larger_window_softens_the_body(engine: Engine, project: Project) -> None:
    def give(edits: tuple[tuple[str, Any], ...]) -> float:
        p = set_many(project, edits)
        body = solve_pair(engine.memo, p, engine.evaluate(p).parts)
        assert body is not None
        return float(body.answer.roots[0, 4, 4])

    wide = tuple((f"parts.{k}.shape.window_{d}_mm", v) for k in ("top", "bottom") for d, v in (("length", 60.0), ("width", 24.0)))
    assert give(wide) > 1.02 * give(())


def test_plates_are_judged_in_every_case(result: Evaluation) -> None:
    assert set(result.plates) == {"bottom", "top"}
    for plate in result.plates.values():
        cases = plate.cases["typical"]
        assert {"hover", "pull_up", "hard_landing", "strap_pull", "transport", "flat_drop"} <= set(cases)
        for name, c in cases.items():
            assert (c.values > 0).all(), name
            assert plate.cases["low"][name].reserve <= c.reserve * 1.2
    assert result.plates["top"].cases["typical"]["strap_pull"].reserve < result.plates["bottom"].cases["typical"]["strap_pull"].reserve


def test_plates_break_in_proportion_to_their_load(with_edits: Run) -> None:
    soft, hard = (with_edits({"brief.strap_pull_n": f}).plates["top"].cases["typical"]["strap_pull"].reserve for f in (40.0, 80.0))
    assert soft == pytest.approx(2 * hard, rel=1e-6)


def test_a_craft_without_plates_stands_on_its_joints(project: Project) -> None:
    bare = project.model_copy(update={"parts": tuple(p for p in project.parts if p.shape.kind != "plate")})
    engine = Engine()
    assert solve_pair(engine.memo, bare, engine.evaluate(bare).parts) is None
    one = project.model_copy(update={"parts": tuple(p for p in project.parts if p.id != "top")})
    sag = [float(next(m.value for m in Engine().evaluate(p).margins if m.id == "sag")) for p in (bare, project, one)]  # type: ignore[arg-type]
    assert sag[0] < sag[1] < sag[2]
