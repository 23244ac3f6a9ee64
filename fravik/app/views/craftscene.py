"""The craft in 3D: its parts, what it carries, and its centre of mass."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache, partial
from typing import Any

import numpy as np

from fravik.app import theme
from fravik.app.widgets.scene import Actors, ball, poly, standing_at
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds import places_of
from fravik.kinds.whole import placed_components
from fravik.shape.meshbody import unit_surface

from .plan import part_colour

COM_RADIUS_MM = 4.5


def craft_drawn(plotter: Any, actors: Actors, result: Evaluation, engine: Engine) -> Iterator[None]:
    """Put the craft into a scene, one thing a step."""
    actors.begin()
    project = result.project
    for part in project.parts:
        given = result.parts[part.id].given
        m = engine.mesh(given)
        surface = cache(partial(poly, m.vertices_mm, m.faces))  # all copies show one
        look = {"color": part_colour(part.shape.kind), "opacity": 1.0, "pickable": True}
        for place in places_of(part, project):
            actors.put(plotter, f"part:{part.id}:{place.id}", given, surface, look, place.pose)
            yield
    c = theme.current()
    for item in placed_components(project):
        size = item.size_mm
        shape: Callable[[], Any] = {"upright": _bell, "lying": _roller}.get(item.form, _box)
        if item.form == "mesh":
            shape = partial(poly, *unit_surface(item.mesh))
        key: Any = (item.form, item.mesh)
        colour, opacity = c.unknown, 0.55 if item.kind == "block" else 0.85
        if item.kind == "prop":
            key, shape, colour, opacity, size = "disk", _disk, c.holds, 0.16, np.array([size[0], size[0], 1.0])
        elif item.kind == "motor":
            key, shape, colour, opacity, size = "motor", _bell, c.muted, 1.0, np.array([size[0], size[0], size[2]])
        look = {"color": colour, "opacity": opacity, "pickable": False}
        actors.put(plotter, item.id, key, shape, look, standing_at(item.centre_mm, size))
        yield
    look = {"color": c.fails, "opacity": 1.0, "pickable": False}
    actors.put(plotter, "com", "ball", ball, look, standing_at(result.craft.com_mm, COM_RADIUS_MM))
    actors.end(plotter)


@cache
def _disk() -> Any:
    import pyvista as pv

    return pv.Disc(inner=0, outer=0.5, normal=(0, 0, 1), c_res=48)


@cache
def _bell() -> Any:
    import pyvista as pv

    return pv.Cylinder(direction=(0, 0, 1), radius=0.5, height=1.0, resolution=28)


@cache
def _roller() -> Any:
    import pyvista as pv

    return pv.Cylinder(direction=(1, 0, 0), radius=0.5, height=1.0, resolution=36)


@cache
def _box() -> Any:
    import pyvista as pv

    return pv.Cube()
