"""Speed of the print run: plane sections against another library, roads of all parts, a thousand layers. Run apart for its memory."""

from __future__ import annotations

import json
import resource
import sys
import time

import numpy as np
import trimesh
from manifold3d import CrossSection, Manifold

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.settle import settle
from fravik.kinds import build_solid, shape_input
from fravik.library import filament
from fravik.model.laying import Laying
from fravik.model.paths import set_at
from fravik.model.recipe import Recipe
from fravik.printing.layers import layer_tops, stand
from fravik.printing.layroads import print_job
from fravik.printing.zones import slices_at
from fravik.shape.build import mesh_of


def plane_sections() -> dict[str, float]:
    """All layers' outlines of one mesh at the same heights, by our kernel and by trimesh, the best of several runs each."""
    project = tern()
    part = project.part("guard")
    solid = stand(build_solid(shape_input(part, project)).refine_to_length(3.0), part.recipe)
    tops = layer_tops(solid, part.recipe, part.laying)
    heights = tops - np.diff(tops, prepend=0.0) / 2
    mesh = mesh_of(solid)
    body = trimesh.Trimesh(mesh.vertices_mm, mesh.faces, process=False)
    ours, theirs = [], []
    for _ in range(5):
        start = time.perf_counter()
        cuts = [solid.slice(float(h)) for h in heights]
        ours.append(time.perf_counter() - start)
        start = time.perf_counter()
        sections = body.section_multiplane([0, 0, 0], [0, 0, 1], heights)
        theirs.append(time.perf_counter() - start)
    shared = []
    for _ in range(5):
        start = time.perf_counter()
        slices_at(solid, heights)
        shared.append(time.perf_counter() - start)
    around = sum(float(np.hypot(*(np.roll(p, -1, axis=0) - p).T).sum()) for c in cuts for p in map(np.asarray, c.to_polygons()))
    lines, _, _ = trimesh.intersections.mesh_multiplane(body, [0, 0, 0], [0, 0, 1], heights)
    other = sum(float(np.hypot(*(line[:, 1] - line[:, 0]).T).sum()) for line in lines)
    assert len(sections) == len(cuts)
    assert abs(around / other - 1) < 0.01, "the two do not cut the same thing"
    return {
        "plane sections, triangles": float(len(mesh.faces)), "plane sections, heights": float(len(heights)),
        "plane sections, ours, ms": min(ours) * 1e3, "plane sections, ours with like layers shared, ms": min(shared) * 1e3,
        "plane sections, trimesh, ms": min(theirs) * 1e3, "plane sections, times as fast as trimesh": min(theirs) / min(ours),
    }  # fmt: skip


def settled_tier() -> dict[str, float]:
    """From a design to its settled figures: everything new, then after an edit of the arm."""
    print_job(Manifold.cube((10, 10, 1)), Recipe(), Laying(), filament("petg"), tern().printer)  # the compiled loops are loaded once
    engine, project = Engine(), tern()
    start = time.perf_counter()
    settle(engine, project)
    whole = time.perf_counter() - start
    start = time.perf_counter()
    settle(engine, set_at(project, "parts.arm.shape.root_height_mm", 13.0))
    return {"settled tier, all of Tern new, s": whole, "settled tier, after an edit of the arm, s": time.perf_counter() - start}


def thousand_layers() -> dict[str, float]:
    """A twisted pod of which no two of its thousand layers are alike."""
    hull = CrossSection.hull_points([(30, 0), (12, 22), (-20, 18), (-30, -4), (-8, -22), (22, -16)]).offset(4.0)
    pod = Manifold.extrude(hull, 200.0, 240, 50.0, (0.7, 0.8))
    told = []
    start = time.perf_counter()
    job = print_job(pod, Recipe(core_density=0.12), Laying(), filament("petg"), tern().printer, progress=lambda a, b: told.append(a))
    took = time.perf_counter() - start
    assert job.layers.count == 1000
    assert len(told) > 10
    return {"a part of 1000 unlike layers, s": took, "its roads, km": job.metres() / 1e3}


def main() -> int:
    """Print the figures as JSON."""
    found = {**plane_sections(), **settled_tier()}
    found["memory of slicing and roads at its peak, MB"] = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e3
    found.update(thousand_layers())
    print(json.dumps(found))
    return 0


if __name__ == "__main__":
    sys.exit(main())
