"""A batch on its bed in space, drawn layer on layer: what is printed so far as stacked slices, the current layer road by road."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF
from pyqtgraph.functions import arrayToQPath

from fravik.app import theme
from fravik.engine.batchview import BatchView
from fravik.engine.settled import GRAVE
from fravik.engine.sliceloops import loops, slice_of
from fravik.plan.place import Place
from fravik.printing.job import PrintJob
from fravik.printing.layerroads import CAP, ROAD_NAMES, STEP_LINES, SUPPORT
from fravik.printing.zones import Floats

from .colours import feature_colour, mixed

LEAST_SLICES, MOST_SLICES = 10, 130
ALL_SLICES = 400  # of one picture: a bed full of parts would take half a second to draw
SLICES_A_STEP = 12
LENGTH_A_STEP = 60  # points of a path that is stroked: wide strokes take long where the picture is drawn large
PIN = 8.5
Loops = dict[tuple[str, int], tuple[Floats, Floats]]


@dataclass(frozen=True)
class Sight:
    """From where a bed is seen, and in what size: turn and tilt in degrees, nearness, and how far it is pushed aside in px."""

    turn_deg: float
    tilt_deg: float
    zoom: float
    aside_x: float
    aside_y: float
    width: float
    height: float


class BedPicture:
    """Draws one state of one batch from one place; ``outlines`` remembers those of layers from one picture to the next."""

    def __init__(self, batch: BatchView, index: int, sight: Sight, picked_pin: int, outlines: Loops) -> None:
        self.batch, self.index, self.sight, self.picked_pin, self._loops = batch, index, sight, picked_pin, outlines
        self.pins: list[tuple[QRectF, int]] = []
        self.bed = (batch.printer.bed_x_mm, batch.printer.bed_y_mm)
        self._fit(*self.bed)

    def nearest(self) -> float:
        """The nearness at which all that is on the bed fills the picture."""
        sizes = [self.batch.job(p).layers.high_mm - self.batch.job(p).layers.low_mm for p in self.batch.parts]
        self._fit(*self.bed)
        whole = self._frame[0]
        self._fit(max(float(s[0]) for s in sizes), max(float(s[1]) for s in sizes))
        return 0.85 * self._frame[0] / whole

    def _fit(self, wide: float, deep: float) -> None:
        """Scale and middle so that the bed fills the picture."""
        a, t = math.radians(self.sight.turn_deg), math.radians(self.sight.tilt_deg)
        c, s = abs(math.cos(a)), abs(math.sin(a))
        across, up = wide * c + deep * s, (wide * s + deep * c) * math.sin(t)
        tall = self._tall() * math.cos(t)
        k = min((self.sight.width - 24) / across, (self.sight.height - 58) / max(up + tall, 1.0)) * self.sight.zoom
        self._frame = (k, math.cos(a), math.sin(a), math.sin(t), math.cos(t))
        # what stands on the back of the bed may reach over it
        self._drop = k * max(0.0, tall - 0.12 * up) / 2

    def _tall(self) -> float:
        """Height of the tallest copy, at least that of a pin."""
        return max((float(self.batch.job(q).layers.top_mm[-1]) for q in self.batch.parts), default=0.0)

    def _at(self, points: Floats, z: float, wide: float, deep: float) -> tuple[Floats, Floats]:
        """Screen places (n,), (n,) of bed points (n, 2) at a height."""
        k, c, s, st, ct = self._frame
        x, y = points[:, 0] - wide / 2, points[:, 1] - deep / 2
        u, v = x * c - y * s, x * s + y * c
        return (self.sight.width / 2 + self.sight.aside_x + k * u,
                self.sight.height / 2 + 2 + self._drop + self.sight.aside_y - k * (v * st + z * ct))  # fmt: skip

    def steps(self, p: QPainter) -> Iterator[None]:
        """Draw it, a piece a step."""
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        bed = self.bed
        self._bed(p, *bed, self.batch.settled.project.run.purge_mm)
        if not len(self.batch.tops_mm):
            return
        back_first = sorted(self.batch.copies(), key=lambda q: -(q.place.x_mm * self._frame[2] + q.place.y_mm * self._frame[1]))
        for copy in back_first:
            top = self.batch.layer_of(copy.part_id, self.index)
            if top < 0:
                continue
            yield from self._slices(p, copy.part_id, copy.place, top, bed)
            if self.batch.growing(copy.part_id, self.index):
                yield from self._roads(p, copy.part_id, copy.place, top, bed)
            if self.sight.zoom < 1.4:
                height = float(self.batch.job(copy.part_id).layers.top_mm[top])
                middle = self._at(np.array([[copy.place.x_mm, copy.place.y_mm]]), height, *bed)
                p.setFont(theme.sans(7.5))
                p.setPen(QColor(theme.current().ink))
                p.drawText(QRectF(middle[0][0] - 60, middle[1][0] - 7, 120, 14), Qt.AlignmentFlag.AlignCenter, self.batch.name_of(copy))
        self._draw_pins(p, bed)

    def _bed(self, p: QPainter, wide: float, deep: float, purge: float) -> None:
        c = theme.current()

        def patch(x0: float, y0: float, x1: float, y1: float) -> QPolygonF:
            xs, ys = self._at(np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]), 0.0, wide, deep)
            return QPolygonF([QPointF(float(x), float(y)) for x, y in zip(xs, ys, strict=True)])

        p.setPen(QPen(QColor(c.muted), 1.2))
        p.setBrush(QColor(c.sunk))
        p.drawPolygon(patch(0, 0, wide, deep))
        p.setPen(QPen(QColor(c.rule), 0.7))
        for n, along in ((int(wide // 20), True), (int(deep // 20), False)):
            for i in range(1, n + 1):
                ends = np.array([[20 * i, 0], [20 * i, deep]] if along else [[0, 20 * i], [wide, 20 * i]], dtype=float)
                xs, ys = self._at(ends, 0.0, wide, deep)
                p.drawLine(QPointF(xs[0], ys[0]), QPointF(xs[1], ys[1]))
        if purge > 0:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QBrush(QColor(c.rule), Qt.BrushStyle.BDiagPattern))
            p.drawPolygon(patch(0, 0, wide, purge))
        p.setFont(theme.sans(7.5))
        p.setPen(QColor(c.muted))
        xs, ys = self._at(np.array([[wide / 2, -4.0]]), 0.0, wide, deep)
        p.drawText(QRectF(xs[0] - 70, ys[0], 140, 14), Qt.AlignmentFlag.AlignHCenter, f"front · {wide:.0f} × {deep:.0f} mm")

    def _outline(self, part_id: str, layer: int) -> tuple[Floats, Floats]:
        """Boundary points of a layer in its own axes (n, 2), and which are joined to the next (n,)."""
        job = self.batch.job(part_id)
        key = (part_id, slice_of(job, layer))
        if key not in self._loops:
            self._loops[key] = loops(job, layer)
        return self._loops[key]

    def _slices(self, p: QPainter, part_id: str, place: Place, top: int, bed: tuple[float, float]) -> Iterator[None]:
        """The body printed so far as a stack of slices, the sides a shade darker."""
        c, job = theme.current(), self.batch.job(part_id)
        # slices a pixel or two apart look solid
        apart = self._frame[0] * self._frame[4] * float(job.layers.top_mm[top]) / 1.8
        most = max(min(MOST_SLICES, ALL_SLICES // len(self.batch.copies())), LEAST_SLICES)
        count = min(max(LEAST_SLICES, int(apart)), most, top + 1)
        layers = sorted({round(i) for i in np.linspace(0, top, count)})
        face, edge = mixed(c.card, c.cover, 0.28), mixed(c.muted, c.cover, 0.35)
        for n, k in enumerate(layers):
            if n % SLICES_A_STEP == SLICES_A_STEP - 1:
                yield
            points, joined = self._outline(part_id, k)
            if len(points) == 0:
                continue
            x, y = self._at(place.put(points), float(job.layers.top_mm[k]), *bed)
            yield from self._support(p, job, k, place, bed)
            path = arrayToQPath(x, y, joined.astype(np.int32), finiteCheck=False)
            path.setFillRule(Qt.FillRule.OddEvenFill)
            p.setBrush(face)
            p.setPen(QPen(edge, 0.7))
            p.drawPath(path)

    def _support(self, p: QPainter, job: PrintJob, layer: int, place: Place, bed: tuple[float, float]) -> Iterator[None]:
        """Supports of a layer below, as thin lines."""
        if float(job.road_mm3[layer, [SUPPORT, CAP]].sum()) <= 0:
            return
        roads = job.roads_of(layer)
        owner = np.repeat(roads.kind, np.diff(roads.first))
        mine = (owner == SUPPORT) | (owner == CAP)
        joined = np.ones(len(owner), dtype=np.int32)
        joined[roads.first[1:] - 1] = 0
        x, y = self._at(place.put(np.asarray(roads.points_mm, dtype=np.float64)), float(job.layers.top_mm[layer]), *bed)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(feature_colour("support"), 1.0))
        yield from _drawn_in_lengths(p, x[mine], y[mine], joined[mine])

    def _roads(self, p: QPainter, part_id: str, place: Place, layer: int, bed: tuple[float, float]) -> Iterator[None]:
        """The current layer's roads at their width, by what they are."""
        job = self.batch.job(part_id)
        roads, top = job.roads_of(layer), float(job.layers.top_mm[layer])
        if roads.count == 0:
            return
        x, y = self._at(place.put(np.asarray(roads.points_mm, dtype=np.float64)), top, *bed)
        joined = np.ones(len(x), dtype=np.int32)
        joined[roads.first[1:] - 1] = 0
        owner = np.repeat(roads.kind, np.diff(roads.first))
        wide = self._frame[0] * float(np.median(roads.width_mm)) * (0.45 + 0.5 * self._frame[3])
        self._breaks(p, x, y, roads.starts(STEP_LINES * job.layers.recipe.line_width_mm))
        for kind in np.unique(owner)[::-1]:
            mine = owner == kind
            pen = QPen(feature_colour(ROAD_NAMES[kind]), max(0.8, wide))
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(pen)
            yield from _drawn_in_lengths(p, x[mine], y[mine], joined[mine])
            yield

    def _breaks(self, p: QPainter, x: Floats, y: Floats, at: np.ndarray) -> None:
        """Where the path starts anew, while a trouble about its breaks is read."""
        if not any(q.number == self.picked_pin and q.trouble.kind == "broken path" for q in self.batch.pins):
            return
        p.setPen(QPen(QColor(theme.current().fails), 1.4))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for i in at:
            p.drawEllipse(QPointF(float(x[i]), float(y[i])), 4.0, 4.0)

    def _draw_pins(self, p: QPainter, bed: tuple[float, float]) -> None:
        c = theme.current()
        p.setFont(theme.sans(7.5, True))
        taken: list[QPointF] = []
        for pin in reversed(self.batch.pins):
            picked = pin.number == self.picked_pin
            for x, y, z in pin.places_mm if picked else pin.places_mm[:1]:
                xs, ys = self._at(np.array([[x, y]]), z, *bed)
                foot = QPointF(float(xs[0]), float(ys[0]))
                head = foot - QPointF(0, min(22.0, max(0.0, foot.y() - 12.0)))
                while any(max(abs(head.x() - t.x()), abs(head.y() - t.y())) < 2 * PIN + 1 for t in taken):
                    head += QPointF(2 * PIN + 2, 0)
                taken.append(head)
                colour = QColor(c.fails if pin.trouble.weight >= GRAVE else c.tight)
                p.setPen(QPen(colour, 1.4))
                p.drawLine(foot, head)
                p.setBrush(colour if picked else QColor(c.card))
                p.drawRect(QRectF(head.x() - PIN, head.y() - PIN, 2 * PIN, 2 * PIN))
                p.setPen(QColor(c.card if picked else c.ink))
                box = QRectF(head.x() - PIN, head.y() - PIN, 2 * PIN, 2 * PIN)
                p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(pin.number))
                self.pins.append((box, pin.number))


def _drawn_in_lengths(p: QPainter, x: Floats, y: Floats, joined: np.ndarray) -> Iterator[None]:
    """Strokes a long path a length a step: all of a wide layer's roads in one take as long as many turns of the window."""
    for start in range(0, len(x), LENGTH_A_STEP):
        if start:
            yield
        run = slice(start, start + LENGTH_A_STEP + 1)  # each ends where the next begins
        p.drawPath(arrayToQPath(x[run], y[run], joined[run], finiteCheck=False))
