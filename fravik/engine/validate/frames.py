"""A frame plate, arms as beams on its middle as a plate, against the whole of it as one plate of fine cells."""

from __future__ import annotations

import numpy as np
import shapely

from fravik.kinds.framing import arm_of, middle_of, told_apart
from fravik.kinds.newcraft import Wish, sized
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.printing.zones import Floats
from fravik.shape.build import ShapeInput
from fravik.shape.frameplate import frame_plan
from fravik.structure.plate import LEAST_COVER, PlateGrid, solve_plate

from ..body import solve_pair
from ..evaluate import Engine
from ..members import solve
from ..results import PartResult
from .check import Check
from .plates import even_plate
from .sections import even_plastic

FINE_MM, SPOTS, SEAT_MM = 2.0, 4, 2.5


def _frame(span_mm: float, thickness_mm: float, middle_mm: float, window_mm: float) -> Project:
    """A plus frame whose arms and middle lie along the cells' edges, solid and of a plastic that is the same in all directions."""
    made = sized(Wish("plus", motor_to_motor_mm=span_mm, arms="frame"))
    shape = {"thickness_mm": thickness_mm, "length_mm": middle_mm, "width_mm": middle_mm, "root_width_mm": 20.0, "tip_width_mm": 20.0,
             "window_length_mm": window_mm, "window_width_mm": window_mm}  # fmt: skip
    recipe = {"filament": "even", "walls": 40, "core_density": 1.0, "line_width_mm": 1.0}
    edits = [(f"parts.frame.shape.{k}", v) for k, v in shape.items()] + [(f"parts.frame.recipe.{k}", v) for k, v in recipe.items()]
    even = made.model_copy(update={"filaments": (even_plastic().model_copy(update={"id": "even"}),)})
    return set_many(even, (*edits, ("layout.clamp_radius_mm", middle_mm / 2 - 6.0)))


def _by_the_product(engine: Engine, project: Project, parts: dict[str, PartResult]) -> Floats:
    """Compliance (2,) up and sideways at an arm's end, the frame held at its stack."""
    built = told_apart(project)
    body = solve_pair(engine.memo, built, parts)
    assert body is not None
    one = solve(engine.memo, parts["frame/arm"], built, body.root["frame/arm"], "frames").answers["typical"]
    return np.array([one.compliance[2, 2], one.compliance[1, 1]])


def _by_fine_cells(given: ShapeInput) -> Floats:
    """The same from the frame's outline alone, cut into cells."""
    arm, middle = arm_of(given.shape), middle_of(given.shape)  # type: ignore[arg-type]
    loops = [np.asarray(p) for p in frame_plan(middle, arm, given.length_mm, given.stands).to_polygons()]
    area = shapely.from_wkt("POLYGON EMPTY")
    for p in sorted((shapely.Polygon(q) for q in loops), key=lambda q: -q.area):
        area = area.symmetric_difference(p)
    shapely.prepare(area)
    n = 2 * int(np.ceil(float(np.abs(np.concatenate(loops)).max()) / FINE_MM))
    edge = np.asarray((np.arange(n + 1) - n / 2) * FINE_MM, dtype=np.float64)
    spot = (edge[:-1, None] + (np.arange(SPOTS) + 0.5) / SPOTS * FINE_MM).ravel()
    there = shapely.contains_xy(area, *np.meshgrid(spot, spot, indexing="ij")).reshape(n, SPOTS, n, SPOTS).mean(axis=(1, 3))
    p = middle.stack_pitch_mm / 2
    points = np.array([*((x * p, y * p) for x in (-1, 1) for y in (-1, 1)), (given.stands[0].x_mm + given.length_mm, 0.0)])
    slots = np.array([5 * i + d for i in range(4) for d in range(3)] + [20, 21, 22])
    grid = PlateGrid(edge, edge, np.asarray(np.where(there < LEAST_COVER, 0.0, there), dtype=np.float64))
    radii: Floats = np.array([SEAT_MM] * 4 + [arm.pad_diameter_mm / 2])
    answer = solve_plate(grid, even_plate(1.0, 1.0, middle.thickness_mm, 1, 1)[1], points, slots, radii)
    give = np.linalg.inv(answer.stiffness[-3:, -3:])
    return np.array([give[2, 2], give[1, 1]])


def _frames() -> list[Check]:
    out = []
    for span, thick, middle, window in ((220.0, 4.0, 80.0, 8.0), (320.0, 6.0, 112.0, 0.0), (180.0, 3.0, 64.0, 12.0)):
        project = _frame(span, thick, middle, window)
        engine = Engine()
        result = engine.evaluate(project)
        fine, ours = _by_fine_cells(result.parts["frame"].given), _by_the_product(engine, project, result.pieces)
        for k, way in enumerate(("up", "sideways")):
            what = f"frame {span:g} mm across, {thick:g} mm thick: give of an arm's end {way}"
            against = f"one plate, cells of {FINE_MM:g} mm"
            out.append(Check(what, against, float(fine[k]), float(ours[k]), 0.08, "another method"))
    return out


GROUPS = (_frames,)
