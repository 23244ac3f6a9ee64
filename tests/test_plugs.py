"""Plugs and round things: room for a plug and the bend of its wire against plain geometry, and rounds against exact solids."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import trimesh
from conftest import until
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.engine.evaluate import Engine
from fravik.engine.foresee import foresee, tried
from fravik.engine.foresee.bodies import disks, things
from fravik.engine.foresee.disks import REACH_MM, nearest, tightest
from fravik.engine.foresee.plugs import SIDES, free_mm
from fravik.engine.results import Evaluation
from fravik.flight.mass import placed_components
from fravik.kinds.imported.kind import imported_part
from fravik.kinds.things import mesh_edits
from fravik.model.craft import Block, Components
from fravik.model.paths import EditError, set_many
from fravik.model.project import Project
from fravik.shape.clash import bounds
from fravik.store import create, open_file, project_to_json
from fravik.store.meshes import set_apart

With = Callable[..., Evaluation]
ROUND_SHORT = 0.002  # of its area, by which a round of 64 sides falls short


def with_lamps(project: Project, gap_mm: float, side: str = "front", room_mm: float = 20.0) -> Project:
    """Two boxes far over the craft, one before the other at a gap; the one behind is plugged in at a side."""
    back = Block(id="lamp", name="Lamp", length_mm=20, width_mm=20, height_mm=20, z_mm=250, plug_side=side, plug_room_mm=room_mm)  # type: ignore[arg-type]
    front = Block(id="wall", name="Wall", length_mm=20, width_mm=40, height_mm=40, x_mm=20 + gap_mm, z_mm=250)
    return set_many(project, (("components.blocks", (*project.components.blocks, back, front)),))


def told(engine: Engine, project: Project) -> Any:
    return next((f for f in foresee(engine, engine.evaluate(project)) if f.id == "fit.plug:lamp"), None)


def test_a_plug_that_has_its_room_is_let_be_and_one_that_narrowly_has_not_is_told(engine: Engine, project: Project) -> None:
    assert told(engine, with_lamps(project, 20.1)) is None
    found = told(engine, with_lamps(project, 18.5))
    assert "the wall is in the way" in found.what
    assert "18 mm are free" in found.why or "19 mm are free" in found.why
    assert told(engine, with_lamps(project, 5.0, side="back")) is None
    assert told(engine, with_lamps(project, 5.0, side="none")) is None


def test_each_side_that_is_offered_is_free(engine: Engine, project: Project) -> None:
    result = engine.evaluate(with_lamps(project, 6.0))
    found = next(f for f in foresee(engine, result) if f.id == "fit.plug:lamp")
    assert {c.edits[0][1] for c in found.cures} == set(SIDES) - {"front"}
    for cure in found.cures:
        assert told(engine, set_many(result.project, cure.edits)) is None
    assert all(t.brings == () for t in tried(engine, result, found))


@settings(max_examples=10)
@given(st.floats(0.5, 40.0), st.sampled_from(["upright", "lying", "box"]))
def test_the_room_that_is_free_is_the_gap(engine: Engine, project: Project, gap: float, form: str) -> None:
    craft = set_many(with_lamps(project, gap, room_mm=30.0), (("components.blocks.wall.form", form),))
    if form == "upright":  # as thick as its width, and its middle where it was
        gap -= 10.0
    result = engine.evaluate(craft)
    every = things(result)
    free, _ = free_mm(engine, result, every, next(t for t in every if t.id == "lamp"), "front")
    assert free == pytest.approx(min(max(gap, 0.0), 30.0), abs=0.06)


@pytest.mark.parametrize("form", ["upright", "lying"])
def test_a_round_weighs_turns_and_fills_as_a_solid_one(form: str) -> None:
    block = Block(id="tank", mass_g=120.0, length_mm=80, width_mm=30, height_mm=50, x_mm=7, y_mm=-3, z_mm=11, form=form)  # type: ignore[arg-type]
    one = next(x for x in placed_components(Components(blocks=(block,)), [], []) if x.id == "tank")
    long = 80.0 if form == "lying" else 50.0
    solid = trimesh.creation.cylinder(15.0, long, sections=512)
    if form == "lying":
        solid.apply_transform(trimesh.transformations.rotation_matrix(math.pi / 2, [0, 1, 0]))
    solid.density = 120.0 / solid.volume
    np.testing.assert_allclose(one.mass.inertia_gmm2, solid.moment_inertia, rtol=1e-3, atol=1.0)
    np.testing.assert_allclose(one.size_mm, solid.extents, rtol=1e-3)
    np.testing.assert_allclose(one.mass.com_mm, [7, -3, 11])


def test_a_round_goes_in_where_its_box_would_not(engine: Engine, project: Project) -> None:
    tube = Block(id="tube", name="Tube", length_mm=60, width_mm=20, height_mm=20, z_mm=250, form="lying")
    corner = Block(id="corner", name="Corner", length_mm=60, width_mm=10, height_mm=10, y_mm=13, z_mm=263)
    craft = set_many(project, (("components.blocks", (*project.components.blocks, tube, corner)),))
    ids = {f.id for f in foresee(engine, engine.evaluate(craft))}
    assert not {i for i in ids if i.startswith("fit.clash") and "tube" in i}
    square = set_many(craft, (("components.blocks.tube.form", "box"),))
    assert {i for i in foresee_ids(engine, square) if i.startswith("fit.clash") and "tube" in i}
    body = next(t for t in things(engine.evaluate(craft)) if t.id == "tube").body
    assert body.volume() == pytest.approx(math.pi * 100 * 60, rel=ROUND_SHORT)
    np.testing.assert_allclose(bounds(body), [[-30, -10, 240], [30, 10, 260]], atol=0.05)


def foresee_ids(engine: Engine, project: Project) -> set[str]:
    return {f.id for f in foresee(engine, engine.evaluate(project))}


def test_the_tightest_places_are_where_the_gaps_are(engine: Engine, with_edits: With) -> None:
    for wide in (320.0, 260.0):
        result = with_edits({"layout.motor_to_motor_mm": wide})
        every = tightest(engine, result)
        two = every[0]
        assert two.gap_mm == pytest.approx(result.clearances.prop_to_prop_mm, abs=1e-6)
        assert math.dist(two.from_mm, two.to_mm) == pytest.approx(abs(two.gap_mm), abs=1e-6)
        gaps = nearest(engine, result)
        if gaps:
            assert every[1].gap_mm == min(gaps.values()) < REACH_MM
    # an end lies on a disk's rim or under it
    radius = result.project.components.propeller.diameter_mm / 2
    middles = [bounds(d)[:, :2].mean(axis=0) for _, d in disks(result)]
    for t in every:
        assert min(abs(math.dist(t.from_mm, m) - radius) if math.dist(t.from_mm, m) > radius else 0.0 for m in middles) < 1e-6


def test_form_and_plug_are_chosen_in_the_window(window: Any, qapp: Any) -> None:
    window.show_stage("Airframe")
    view = window.view("Airframe")
    view.reveal("components.blocks.camera.form")
    view.reveals.finish()
    fields = view.blocks.forms["camera"].fields
    for name, value in (("form", "upright"), ("plug_side", "down")):
        box = fields[f"components.blocks.camera.{name}"].box
        box.setCurrentIndex(box.findData(value))
        box.activated.emit(box.currentIndex())
    camera = next(b for b in window.session.project.components.blocks if b.id == "camera")
    assert (camera.form, camera.plug_side) == ("upright", "down")
    assert until(qapp, lambda: bool(view.plan._tight))
    assert view.plan.grab().width() > 100


def wedge(path: Any) -> trimesh.Trimesh:
    """Half a box, cut along its diagonal: 40 × 30 × 20 mm, written as a file."""
    points = np.array([[0, 0, 0], [40, 0, 0], [0, 30, 0], [0, 0, 20], [40, 0, 20], [0, 30, 20]], dtype=float)
    faces = [[0, 2, 1], [3, 4, 5], [0, 1, 4], [0, 4, 3], [1, 2, 5], [1, 5, 4], [2, 0, 3], [2, 3, 5]]
    solid = trimesh.Trimesh(points, faces)
    solid.export(str(path))
    return solid


def test_a_thing_in_the_form_of_a_mesh_weighs_and_fits_as_one(engine: Engine, project: Project, tmp_path: Any) -> None:
    solid = wedge(tmp_path / "wedge.stl")
    read = imported_part(tmp_path / "wedge.stl", project)
    bare = Block(id="gauge", name="Gauge", mass_g=90.0, x_mm=5, y_mm=6, z_mm=250)
    craft = set_many(set_many(project, (("components.blocks", (*project.components.blocks, bare)),)), mesh_edits("gauge", read))
    block = next(b for b in craft.components.blocks if b.id == "gauge")
    assert (block.form, block.length_mm, block.width_mm, block.height_mm) == ("mesh", 40.0, 30.0, 20.0)
    one = next(x for x in placed_components(craft.components, [], []) if x.id == "gauge")
    solid.density = 90.0 / solid.volume
    np.testing.assert_allclose(one.mass.inertia_gmm2, solid.moment_inertia, rtol=1e-5, atol=1e-2)
    np.testing.assert_allclose(one.mass.com_mm, np.array([5, 6, 250]) + solid.center_mass - solid.bounds.mean(axis=0), atol=1e-4)
    body = next(t for t in things(engine.evaluate(craft)) if t.id == "gauge").body
    assert body.volume() == pytest.approx(solid.volume, rel=1e-5)
    # what stands in the corner that is cut off does not run into it
    corner = Block(id="corner", name="Corner", length_mm=8, width_mm=8, height_mm=8, x_mm=5 + 15, y_mm=6 + 10, z_mm=250)
    both = set_many(craft, (("components.blocks", (*craft.components.blocks, corner)),))
    clashes = {i for i in foresee_ids(engine, both) if i.startswith("fit.clash") and "gauge" in i}
    assert not clashes
    square = set_many(both, (("components.blocks.gauge.form", "box"),))
    assert {i for i in foresee_ids(engine, square) if i.startswith("fit.clash") and "gauge" in i}
    # stretched by its edges, and kept apart from the text of the file
    tall = set_many(craft, (("components.blocks.gauge.height_mm", 40.0),))
    assert next(t for t in things(engine.evaluate(tall)) if t.id == "gauge").body.volume() == pytest.approx(2 * solid.volume, rel=1e-5)
    path = tmp_path / "gauge.fravik"
    create(path, tall).close()
    handle, again = open_file(path)
    handle.close()
    assert again == tall
    assert block.mesh not in project_to_json(set_apart(tall)[0])


def test_a_thing_without_a_mesh_cannot_take_its_form_and_a_damaged_one_is_said(engine: Engine, project: Project) -> None:
    with pytest.raises(EditError, match="no mesh yet"):
        set_many(project, (("components.blocks.camera.form", "mesh"),))
    broken = set_many(project, (("components.blocks.camera.mesh", "xx"), ("components.blocks.camera.form", "mesh")))
    told = [p for p in engine.evaluate(broken).problems if p.path == "components.blocks.camera.form"]
    assert "taken as its box" in told[0].message


def test_a_mesh_is_read_for_a_component_in_the_window(window: Any, qapp: Any, tmp_path: Any) -> None:
    wedge(tmp_path / "wedge.stl")
    window.show_stage("Airframe")
    forms = window.view("Airframe").blocks
    assert forms.read_mesh("camera", tmp_path / "wedge.stl") is None
    camera = next(b for b in window.session.project.components.blocks if b.id == "camera")
    assert (camera.form, camera.length_mm) == ("mesh", 40.0)
    assert "not closed" in (forms.read_mesh("camera", torn(tmp_path)) or "")
    assert until(qapp, lambda: window.session.result is not None)


def torn(folder: Any) -> Any:
    """The same without one of its faces."""
    solid = wedge(folder / "whole.stl")
    solid.update_faces(np.arange(len(solid.faces)) > 0)
    solid.export(str(folder / "torn.stl"))
    return folder / "torn.stl"
