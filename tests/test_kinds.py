"""A kind of part that the product has never seen goes through all of it: nothing outside the kinds asks what a part is."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal

import numpy as np
import pytest
from conftest import until
from manifold3d import Manifold

import fravik
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.kinds import KINDS, PartKind, Posed, Start, Step, places_of, register, withdraw
from fravik.kinds.ladders import thicker
from fravik.kinds.newpart import addable, part_for
from fravik.library import filament
from fravik.model.base import Frozen, quantity
from fravik.model.paths import set_many
from fravik.model.problem import Problem
from fravik.model.project import OwnCase, Part, Project
from fravik.shape.build import ShapeInput
from fravik.shape.stations import Floats
from fravik.store import create, open_file
from fravik.structure.cases import CraftLoads, Touchdown, load
from fravik.structure.form import BeamForm, beyond_fillet
from fravik.structure.joints import RootGeometry
from fravik.structure.loadcases import own_key
from fravik.structure.member import MemberAnswer
from fravik.structure.path import straight_path
from fravik.study.levers import find_levers


class TailShape(Frozen):
    """A plain square bar that sticks out behind."""

    kind: Literal["tail"] = "tail"
    length_mm: float = quantity(60.0, 10.0, 200.0, "mm", "Length", "behind the plates", step=1)
    side_mm: float = quantity(10.0, 2.0, 40.0, "mm", "Side", "of the square", step=0.5)


class Tail(PartKind[Any]):
    """Made up for this test."""

    kind = "tail"
    shape_type = TailShape
    starts = {"tail": Start("tail", "Tail boom", 1)}
    groups = (("Bar", ("length_mm", "side_mm")),)
    bends = True
    along = "0 at the plates, {long} mm at the end"

    def given(self, part: Part, shape: Any, project: Project) -> ShapeInput:
        return ShapeInput(shape, shape.length_mm, None)

    def solid(self, given: ShapeInput, shape: Any) -> Manifold:
        return Manifold.cube((shape.length_mm, shape.side_mm, shape.side_mm)).translate((0.0, -shape.side_mm / 2, 0.0))

    def posed(self, part: Part, shape: Any, project: Project) -> list[Posed]:
        m = np.diag([-1.0, -1.0, 1.0, 1.0])
        m[0, 3] = -60.0
        return [Posed(m)] * part.count

    def problems(self, part: Part, shape: Any, project: Project) -> list[Problem]:
        at = f"parts.{part.id}.shape.side_mm"
        return [Problem(at, "The bar is thicker than long.")] if shape.side_mm > shape.length_mm else []

    def default(self, project: Project, shape: Any = None, start: str = "") -> Any:
        return TailShape()

    def form(self, part: Part, shape: Any, length_mm: float) -> BeamForm:
        path = straight_path(length_mm, ())
        root = RootGeometry(shape.side_mm, shape.side_mm, 1.0, shape.side_mm)
        return BeamForm(shape, length_mm, path, beyond_fillet(path, 0.0, length_mm), root, lambda q: [], "one piece")

    def cases(self, loads: CraftLoads, shape: Any, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        return {"hard_landing": load(az=-9806.65 * (1 + down.body_g * loads.landing_m_s)), "transport": load(fz=-loads.transport_n)}

    def ladders(self, part: Part, shape: Any, project: Project) -> Iterator[list[Step]]:
        yield thicker(part, "side_mm", shape.side_mm, (2.0, 6.0))


@pytest.fixture
def tail() -> Iterator[Project]:
    """The demo with a tail boom, for as long as there are such things."""
    kind = Tail()
    register(kind)
    try:
        project = tern()
        new = part_for("tail", project)
        yield set_many(project, (("parts", (*project.parts, new)),))
    finally:
        withdraw(kind)


def test_it_is_weighed_where_it_stands_and_printed(tail: Project) -> None:
    engine = Engine()
    before, after = engine.evaluate(tern()), engine.evaluate(tail)
    grams = after.parts["tail"].grams
    solid = 60.0 * 10.0 * 10.0 * filament("petg").density_g_cm3.typical * 1e-3
    assert 0.3 * solid < grams < solid
    assert after.craft.mass_g - before.craft.mass_g == pytest.approx(grams)
    moment = before.craft.mass_g * before.craft.com_mm[0] + grams * (-60.0 - 30.0)
    assert after.craft.com_mm[0] == pytest.approx(moment / after.craft.mass_g, abs=0.01)
    assert after.parts["tail"].figures.minutes > 1
    assert [p.follows for p in places_of(tail.part("tail"), tail)] == [None]


def test_it_bends_as_its_closed_form_says_and_is_judged(tail: Project) -> None:
    own = OwnCase(id="pull", name="pull", part="tail", position_mm=60.0, force_x_n=0.0, force_z_n=1.0)
    solid = set_many(tail, (("parts.tail.recipe.walls", 20), ("parts.tail.recipe.core_density", 1.0), ("parts.tail.shape.length_mm", 150.0),
                            ("brief.own_cases", (own,))))  # fmt: skip
    found = Engine().evaluate(solid).members["tail"]
    answer = found.answers["typical"]
    ei = float(answer.section.ei_up_nmm2[0])
    root = answer.springs.stiffness
    by_hand = 150.0**3 / (3 * ei) + 150.0**2 / root[4] + 1 / root[2]  # a slender bar hardly shears
    assert float(answer.compliance[2, 2]) == pytest.approx(by_hand, rel=0.02)
    assert set(found.cases["typical"]) == {"hard_landing", "transport", own_key(own)}
    half = Engine().evaluate(set_many(solid, (("brief.transport_n", solid.brief.transport_n / 2),))).members["tail"]
    assert half.cases["typical"]["transport"].reserve == pytest.approx(2 * found.cases["typical"]["transport"].reserve, rel=1e-6)


def test_what_contradicts_itself_is_said_and_ways_out_are_found(tail: Project) -> None:
    engine = Engine()
    wrong = set_many(tail, (("parts.tail.shape.side_mm", 30.0), ("parts.tail.shape.length_mm", 20.0)))
    assert any(p.path == "parts.tail.shape.side_mm" and "thicker than long" in p.message for p in engine.problems(wrong))
    weak = set_many(tail, (("parts.tail.shape.side_mm", 3.0), ("parts.tail.shape.length_mm", 150.0)))
    base = engine.scores(weak)
    assert base is not None
    reserve = next(m for m in base.margins if m.metric == "least_reserve")
    assert reserve.verdict == "fails"
    assert "tail boom" in reserve.detail
    ways = find_levers(weak, base, engine.scores, parts=("tail",))
    assert ways
    assert ways[0].edits == (("parts.tail.shape.side_mm", 9.0),)


def test_it_is_kept_in_the_file_and_refused_once_nobody_knows_it(tail: Project, tmp_path: Path) -> None:
    create(tmp_path / "tail.fravik", tail).close()
    file, again = open_file(tmp_path / "tail.fravik")
    file.close()
    assert again == tail
    dumped = tail.model_dump()
    withdraw(KINDS["tail"])
    try:
        with pytest.raises(ValueError, match="tail"):
            Project.model_validate(dumped)
    finally:
        register(Tail())


def test_the_window_adds_edits_and_shows_it(tail: Project, window: Any, qapp: Any) -> None:
    assert addable()["tail"] == "Tail boom"
    view = window.view("Parts")
    view.add_part("tail")
    assert view.title.text() == "Tail boom"
    assert until(qapp, lambda: "Along the tail" in view.ruler_card.title.text())
    assert {"parts.tail.shape.length_mm", "parts.tail.shape.side_mm"} == set(view.controls.forms["shape"].fields)
    assert window.session.edit("parts.tail.shape.side_mm", 14.0) is None
    assert until(qapp, lambda: view.scene.plotter is not None and not view.scene._dirty)
    for page in (1, 3, 0):
        view.show_page(page)
        assert until(qapp, lambda: not view.bed_page.stepper.busy and not view.plastics_page.stepper.busy)
    assert window.fault == ""
    for stage in ("Airframe", "Vibration", "Print run", "Brief"):
        window.show_stage(stage)
        qapp.processEvents()
    window.session.undo()
    window.session.undo()
    assert "tail" not in {p.id for p in window.session.project.parts}


def test_nothing_outside_the_kinds_asks_for_the_class_of_a_shape() -> None:
    home = Path(fravik.__file__).parent
    asks = re.compile(r"isinstance\([^)]*Shape\b|case \w+Shape\(|\btype\(\w*shape\)")
    found = [
        f"{path.relative_to(home)}:{n}"
        for path in sorted(home.rglob("*.py"))
        if path.relative_to(home).parts[0] != "kinds"
        for n, line in enumerate(path.read_text().splitlines(), 1)
        if asks.search(line)
    ]
    assert found == []
