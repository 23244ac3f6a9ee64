"""The edges that a drawing would show, against solids whose edges are known and against the 3D library's own search."""

from __future__ import annotations

import numpy as np
import pytest
import pyvista as pv
from manifold3d import CrossSection, Manifold

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.shape.build import Mesh, mesh_of
from fravik.shape.edges import SHARP_DEG, sharp_edges


def _length(ends: np.ndarray) -> float:
    return float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())


def test_a_box_has_twelve_and_no_diagonals() -> None:
    ends = sharp_edges(mesh_of(Manifold.cube((3.0, 4.0, 5.0))))
    assert len(ends) == 12
    assert _length(ends) == pytest.approx(4 * (3 + 4 + 5))


def test_a_disc_shows_its_rims_and_not_its_facets() -> None:
    count, radius = 64, 10.0
    ends = sharp_edges(mesh_of(Manifold.extrude(CrossSection.circle(radius, count), 3.0)))
    assert len(ends) == 2 * count
    assert _length(ends) == pytest.approx(2 * count * 2 * radius * np.sin(np.pi / count))


def _library_length(mesh: Mesh) -> float:
    cells = np.hstack([np.full((len(mesh.faces), 1), 3), mesh.faces]).ravel()
    found = pv.PolyData(mesh.vertices_mm, cells).extract_feature_edges(
        SHARP_DEG, boundary_edges=False, non_manifold_edges=False, manifold_edges=False
    )
    return _length(found.points[found.lines.reshape(-1, 3)[:, 1:]])


@pytest.mark.parametrize("part_id", ["arm", "top", "leg", "guard"])
def test_the_same_as_the_library_finds(part_id: str) -> None:
    engine, project = Engine(), tern()
    mesh = engine.mesh(engine.evaluate(project).parts[part_id].given)
    ours = _length(sharp_edges(mesh))
    assert ours > 50
    # the library works in single precision
    assert ours == pytest.approx(_library_length(mesh), rel=1e-4)
