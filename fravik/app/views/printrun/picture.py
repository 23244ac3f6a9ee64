"""The plate in space, drawn layer on layer: what is printed so far as stacked slices, the current layer road by road."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget
from pyqtgraph.functions import arrayToQPath

from fravik.app import theme
from fravik.engine.plateview import PlateView
from fravik.engine.settled import GRAVE
from fravik.plan.place import Place
from fravik.printing.job import PrintJob
from fravik.printing.layerroads import INTERFACE, ROAD_NAMES, STEP_LINES, SUPPORT
from fravik.printing.zones import Floats

from .colours import feature_colour, mixed
from .loops import loops, slice_of

LEAST_SLICES, MOST_SLICES = 10, 130
ALL_SLICES = 400  # of one picture: a bed full of parts would take half a second to draw
PIN = 8.5
# turn, tilt and nearness of the usual view
USUAL = (-17.0, 36.0, 1.0)


class PlatePicture(QWidget):
    """Drag turns the plate, the wheel steps through layers, Ctrl and the wheel come nearer; a click on a pin names its trouble."""

    stepped = pyqtSignal(int)
    pin_clicked = pyqtSignal(int)
    play_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.plate: PlateView | None = None
        self.index = 0
        self.picked_pin = 0
        self.turn_deg, self.tilt_deg, self.zoom = USUAL
        self._look = QPointF()
        self._drag: QPointF | None = None
        self._moved = False
        self._frame: tuple[float, float, float, float, float] = (1.0, 0.0, 0.0, 1.0, 1.0)
        self._drop = 0.0
        self._loops: dict[tuple[str, int], tuple[Floats, Floats]] = {}
        self._pins: list[tuple[QRectF, int]] = []
        self._drawn: QPixmap | None = None
        self._drawn_of: PlateView | None = None
        self._shows: tuple[object, ...] = ()
        self.setMinimumSize(240, 150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The bed, layer by layer: up and down step, space plays, left and right turn it")

    def show_plate(self, plate: PlateView | None) -> None:
        """Show a plate; the same height is kept when it has one."""
        if plate is not self.plate:
            self._loops.clear()
            self.plate = plate
        self.show_layer(min(self.index, len(plate.tops_mm) - 1) if plate is not None else 0)

    def show_layer(self, index: int) -> None:
        """Show the plate as it is when this layer is done."""
        self.index = max(0, index)
        if self.plate is not None and len(self.plate.tops_mm):
            self.index = min(self.index, len(self.plate.tops_mm) - 1)
            self.setAccessibleDescription(self.plate.describe(self.index))
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        way = 1 if event.angleDelta().y() > 0 else -1
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom = min(12.0, max(0.6, self.zoom * 1.15**way))
            self.update()
        else:
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self.stepped.emit(self.index + way * times)
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_PageUp: 10, Qt.Key.Key_PageDown: -10, Qt.Key.Key_Home: -10**6,
                 Qt.Key.Key_End: 10**6}  # fmt: skip
        key = Qt.Key(event.key())
        if key in steps:
            self.stepped.emit(max(0, self.index + steps[key]))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.turn_deg += 5.0 if key == Qt.Key.Key_Right else -5.0
            self.update()
        elif key == Qt.Key.Key_Space:
            self.play_asked.emit()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._drag, self._moved = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        step = event.position() - self._drag
        if not self._moved and abs(step.x()) + abs(step.y()) < 4:
            return
        self._moved, self._drag = True, event.position()
        if event.buttons() & Qt.MouseButton.RightButton or event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._look += step
        else:
            self.turn_deg += 0.4 * step.x()
            self.tilt_deg = min(90.0, max(12.0, self.tilt_deg + 0.4 * step.y()))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and not self._moved:
            hit = next((n for box, n in self._pins if box.contains(event.position())), 0)
            if hit:
                self.pin_clicked.emit(hit)
        self._drag = None

    def home(self) -> None:
        """The whole plate, from the usual side."""
        (self.turn_deg, self.tilt_deg, self.zoom), self._look = USUAL, QPointF()
        self.update()

    def come_near(self) -> None:
        """As near as the whole of what is on the plate allows."""
        self.home()
        if self.plate is None or not self.plate.copies():
            return
        printer = next(q for q in self.plate.settled.project.printers if q.id == self.plate.plate.printer_id)
        sizes = [self.plate.job(p).layers.high_mm - self.plate.job(p).layers.low_mm for p in self.plate.parts]
        self._fit(printer.bed_x_mm, printer.bed_y_mm)
        whole = self._frame[0]
        self._fit(max(float(s[0]) for s in sizes), max(float(s[1]) for s in sizes))
        self.zoom = min(12.0, max(1.0, 0.85 * self._frame[0] / whole))

    def from_above(self) -> None:
        """The plate seen square on."""
        self.turn_deg, self.tilt_deg, self._look = 0.0, 90.0, QPointF()
        self.update()

    def _fit(self, wide: float, deep: float) -> None:
        """Scale and middle so that the bed fills the widget."""
        a, t = math.radians(self.turn_deg), math.radians(self.tilt_deg)
        c, s = abs(math.cos(a)), abs(math.sin(a))
        across, up = wide * c + deep * s, (wide * s + deep * c) * math.sin(t)
        tall = self._tall() * math.cos(t)
        k = min((self.width() - 24) / across, (self.height() - 58) / max(up + tall, 1.0)) * self.zoom
        self._frame = (k, math.cos(a), math.sin(a), math.sin(t), math.cos(t))
        # what stands on the back of the bed may reach over it
        self._drop = k * max(0.0, tall - 0.12 * up) / 2

    def _tall(self) -> float:
        """Height of the tallest copy, at least that of a pin."""
        return max((float(self.plate.job(q).layers.top_mm[-1]) for q in self.plate.parts), default=0.0) if self.plate is not None else 0.0

    def _at(self, points: Floats, z: float, wide: float, deep: float) -> tuple[Floats, Floats]:
        """Screen places (n,), (n,) of bed points (n, 2) at a height."""
        k, c, s, st, ct = self._frame
        x, y = points[:, 0] - wide / 2, points[:, 1] - deep / 2
        u, v = x * c - y * s, x * s + y * c
        return (self.width() / 2 + self._look.x() + k * u,
                self.height() / 2 + 2 + self._drop + self._look.y() - k * (v * st + z * ct))  # fmt: skip

    def paintEvent(self, event: object) -> None:
        # what shows the same as last time is not drawn anew: a plate of four tall parts takes a tenth of a second
        shows = (self.index, self.turn_deg, self.tilt_deg, self.zoom, self._look.x(), self._look.y(), self.size(),
                 self.devicePixelRatioF(), self.picked_pin, theme.current())  # fmt: skip
        if self._drawn is None or self._drawn_of is not self.plate or self._shows != shows:
            ratio = self.devicePixelRatioF()
            self._drawn = QPixmap(math.ceil(self.width() * ratio), math.ceil(self.height() * ratio))
            self._drawn.setDevicePixelRatio(ratio)
            self._drawn.fill(Qt.GlobalColor.transparent)
            painter = QPainter(self._drawn)
            self._paint(painter)
            painter.end()
            self._shows, self._drawn_of = shows, self.plate
        QPainter(self).drawPixmap(0, 0, self._drawn)

    def _paint(self, p: QPainter) -> None:
        c = theme.current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._pins = []
        if self.plate is None:
            return
        printer = next(q for q in self.plate.settled.project.printers if q.id == self.plate.plate.printer_id)
        bed = (printer.bed_x_mm, printer.bed_y_mm)
        self._fit(*bed)
        self._bed(p, *bed, self.plate.settled.project.run.purge_mm)
        if not len(self.plate.tops_mm):
            return
        back_first = sorted(self.plate.copies(), key=lambda q: -(q.place.x_mm * self._frame[2] + q.place.y_mm * self._frame[1]))
        for copy in back_first:
            top = self.plate.layer_of(copy.part_id, self.index)
            if top < 0:
                continue
            self._slices(p, copy.part_id, copy.place, top, bed)
            if self.plate.growing(copy.part_id, self.index):
                self._roads(p, copy.part_id, copy.place, top, bed)
            middle = self._at(np.array([[copy.place.x_mm, copy.place.y_mm]]), float(self.plate.job(copy.part_id).layers.top_mm[top]), *bed)
            if self.zoom < 1.4:
                p.setFont(theme.sans(7.5))
                p.setPen(QColor(c.ink))
                p.drawText(QRectF(middle[0][0] - 60, middle[1][0] - 7, 120, 14), Qt.AlignmentFlag.AlignCenter, self.plate.name_of(copy))
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
        assert self.plate is not None
        job = self.plate.job(part_id)
        key = (part_id, slice_of(job, layer))
        if key not in self._loops:
            self._loops[key] = loops(job, layer)
        return self._loops[key]

    def _slices(self, p: QPainter, part_id: str, place: Place, top: int, bed: tuple[float, float]) -> None:
        """The body printed so far as a stack of slices, the sides a shade darker."""
        assert self.plate is not None
        c, job = theme.current(), self.plate.job(part_id)
        # slices a pixel or two apart look solid
        apart = self._frame[0] * self._frame[4] * float(job.layers.top_mm[top]) / 1.8
        most = max(min(MOST_SLICES, ALL_SLICES // len(self.plate.copies())), LEAST_SLICES)
        count = min(max(LEAST_SLICES, int(apart)), most, top + 1)
        layers = sorted({round(i) for i in np.linspace(0, top, count)})
        face, edge = mixed(c.card, c.skin, 0.28), mixed(c.muted, c.skin, 0.35)
        for k in layers:
            points, joined = self._outline(part_id, k)
            if len(points) == 0:
                continue
            x, y = self._at(place.put(points), float(job.layers.top_mm[k]), *bed)
            self._support(p, job, k, place, bed)
            path = arrayToQPath(x, y, joined.astype(np.int32), finiteCheck=False)
            path.setFillRule(Qt.FillRule.OddEvenFill)
            p.setBrush(face)
            p.setPen(QPen(edge, 0.7))
            p.drawPath(path)

    def _support(self, p: QPainter, job: PrintJob, layer: int, place: Place, bed: tuple[float, float]) -> None:
        """Supports of a layer below, as thin lines."""
        if float(job.road_mm3[layer, [SUPPORT, INTERFACE]].sum()) <= 0:
            return
        sheet = job.sheet(layer)
        owner = np.repeat(sheet.kind, np.diff(sheet.first))
        mine = (owner == SUPPORT) | (owner == INTERFACE)
        joined = np.ones(len(owner), dtype=np.int32)
        joined[sheet.first[1:] - 1] = 0
        x, y = self._at(place.put(np.asarray(sheet.points_mm, dtype=np.float64)), float(job.layers.top_mm[layer]), *bed)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(feature_colour("support"), 1.0))
        p.drawPath(arrayToQPath(x[mine], y[mine], joined[mine], finiteCheck=False))

    def _roads(self, p: QPainter, part_id: str, place: Place, layer: int, bed: tuple[float, float]) -> None:
        """The current layer's roads at their width, by what they are."""
        assert self.plate is not None
        job = self.plate.job(part_id)
        sheet, top = job.sheet(layer), float(job.layers.top_mm[layer])
        if sheet.count == 0:
            return
        x, y = self._at(place.put(np.asarray(sheet.points_mm, dtype=np.float64)), top, *bed)
        joined = np.ones(len(x), dtype=np.int32)
        joined[sheet.first[1:] - 1] = 0
        owner = np.repeat(sheet.kind, np.diff(sheet.first))
        wide = self._frame[0] * float(np.median(sheet.width_mm)) * (0.45 + 0.5 * self._frame[3])
        self._breaks(p, x, y, sheet.starts(STEP_LINES * job.layers.recipe.line_width_mm))
        for kind in np.unique(owner)[::-1]:
            mine = owner == kind
            path: QPainterPath = arrayToQPath(x[mine], y[mine], joined[mine], finiteCheck=False)
            pen = QPen(feature_colour(ROAD_NAMES[kind]), max(0.8, wide))
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(pen)
            p.drawPath(path)

    def _breaks(self, p: QPainter, x: Floats, y: Floats, at: np.ndarray) -> None:
        """Where the path starts anew, while a trouble about its breaks is read."""
        assert self.plate is not None
        if not any(q.number == self.picked_pin and q.trouble.kind == "broken path" for q in self.plate.pins):
            return
        p.setPen(QPen(QColor(theme.current().fails), 1.4))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for i in at:
            p.drawEllipse(QPointF(float(x[i]), float(y[i])), 4.0, 4.0)

    def _draw_pins(self, p: QPainter, bed: tuple[float, float]) -> None:
        assert self.plate is not None
        c = theme.current()
        p.setFont(theme.sans(7.5, True))
        taken: list[QPointF] = []
        for pin in reversed(self.plate.pins):
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
                self._pins.append((box, pin.number))
