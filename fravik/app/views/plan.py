"""The craft in plan, drawn to scale: parts, propeller disks, components, centre of mass and clearances."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from concurrent.futures import Future
from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QMouseEvent, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QTransform
from PyQt6.QtWidgets import QWidget

from fravik.app import theme
from fravik.app.session import Session
from fravik.engine.evaluate import Engine
from fravik.engine.foresee.disks import NEIGHBOUR_MM, Tight, tightest
from fravik.engine.results import Evaluation
from fravik.kinds import KINDS, places_of
from fravik.kinds.around import arm_ends, stands, stations
from fravik.kinds.drives import drives
from fravik.kinds.inplan import Picked, StationPicked, ThingPicked, copy_picked, station_at, thing_at
from fravik.kinds.whole import placed_components
from fravik.kinds.wing.geometry import wing_reach_mm
from fravik.model.paths import EditError
from fravik.model.project import Part, Project
from fravik.power.drive import Drive
from fravik.shape.stations import Station, widest

from .held import Held, held

GRIP_PX = 9.0
CLICK_PX = 4  # a press that goes no farther is a click
# a gap's figure: how high it is, and where it may stand under the gap or over it, the nearest first
LABEL_PX, DOWN_PX = 13.0, (3.0, -17.0, 8.0, -22.0, 14.0, -27.0, 20.0, -32.0, 26.0, 32.0)
# gaps that are drawn: from a disk to something beside it, and from disk to disk over a disk's width
TOLD_MM, TOLD_SHARE = 12.0, 0.3


def part_colour(kind: str) -> str:
    """Colour of a kind of part in pictures of the whole craft."""
    return str(getattr(theme.current(), KINDS[kind].shade))


def _ground() -> QColor:
    """What stands behind words, so that they are read over lines."""
    ground = QColor(theme.current().card)
    ground.setAlpha(200)
    return ground


@dataclass(frozen=True, eq=False)
class Outline:
    """What a copy of a part, by its number from 0, covers in plan: in mm, and as it was last drawn."""

    part_id: str
    kind: str
    number: int
    path: QPainterPath


def outlines(engine: Engine, result: Evaluation) -> list[tuple[Part, int, list[np.ndarray]]]:
    """Each copy of each part with its number and what it covers in plan: loops (n, 2) in mm, in the order they are drawn."""
    return [
        (part, number, engine.outline(result.parts[part.id].given, place.pose))
        for part in sorted(result.project.parts, key=lambda q: KINDS[q.shape.kind].plan_layer)
        for number, place in enumerate(places_of(part, result.project))
    ]


def paths_of(engine: Engine, result: Evaluation) -> list[Outline]:
    """The same as paths."""
    out: list[Outline] = []
    for part, number, loops in outlines(engine, result):
        path = QPainterPath()
        for loop in loops:
            path.addPolygon(QPolygonF([QPointF(x, y) for x, y in loop.tolist()]))
            path.closeSubpath()
        out.append(Outline(part.id, part.shape.kind, number, path))
    return out


class PlanView(QWidget):
    """Forward is up. What is clicked is opened; a motor, a bought thing or a copy that may stand where its maker puts it is dragged there,
    with its mirror image unless Shift is held."""

    part_clicked = pyqtSignal(str)
    thing_clicked = pyqtSignal(str)  # where its fields are
    refused = pyqtSignal(str)  # why something cannot stand where it was put

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setMinimumSize(180, 180)
        self.setAccessibleName("The craft in plan")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("Click to open; drag motors, legs, battery and components to where they should be, with Shift one side alone")
        self.alike: Callable[[], bool] = lambda: True  # whether a station takes its mirror image along
        self._hits: list[Outline] = []  # on the screen
        self._to_mm, self._to_screen = QTransform(), QTransform()
        self._scale = 1.0
        self._held: Held | None = None
        self._pressed, self._alone = QPointF(), False
        self._tight: tuple[Tight, ...] = ()
        self._made_for: Evaluation | None = None
        # the design whose parts were asked for last, that whose parts are there, and that whose parts are drawn
        self._there: Evaluation | None = None
        self._drawn: Evaluation | None = None
        self._made: list[Outline] = []
        # the parts as they were painted last: of which outlines, and for which size, palette and scale
        self._picture = QPixmap()
        self._picture_of: list[Outline] | None = None
        self._picture_for: object = None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pressed = event.position()
        what = self._picked(event.position())
        if what is not None:
            at = self._to_mm.map(event.position())
            self._held = held(self.session.project, what, at.x(), at.y())
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def _picked(self, at: QPointF) -> Picked | None:
        """What would be dragged from a point of the screen."""
        project, mm = self.session.project, self._to_mm.map(at)
        what: Picked | None = station_at(project, mm.x(), mm.y(), GRIP_PX / self._scale) or thing_at(project, mm.x(), mm.y())
        hit = self._hit(at)
        return what or (copy_picked(project, hit.part_id, hit.number) if hit is not None and self.ready else None)

    def _hit(self, at: QPointF) -> Outline | None:
        return next((h for h in reversed(self._hits) if h.path.contains(at)), None)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is not None and (self._held.began or (event.position() - self._pressed).manhattanLength() > CLICK_PX):
            at = self._to_mm.map(event.position())
            self._held = self._held.at(at.x(), at.y())
            self._alone = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, None
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        if held is None or not held.began:
            self._open(held.what if held is not None else None, event.position())
        else:
            alone = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._move(held, self.alike() and not alone)
        self.update()

    def _move(self, held: Held, alike: bool) -> None:
        try:
            edits = held.edits(self.session.project, alike)
        except EditError as err:
            self.refused.emit(err.message)
            return
        if edits:
            wrong = self.session.edit_many(edits, held.label)
            if wrong:
                self.refused.emit(wrong)

    def _open(self, what: Picked | None, at: QPointF) -> None:
        """Open what was clicked: a bought thing's fields, or the part that lies there."""
        hit = self._hit(at)
        if isinstance(what, ThingPicked):
            self.thing_clicked.emit("components.battery" if what.thing.id == "battery" else f"components.blocks.{what.thing.id}")
        elif hit is not None:
            self.part_clicked.emit(hit.part_id)

    @property
    def ready(self) -> bool:
        """Whether the parts are drawn as they are now."""
        return self._drawn is not None and self._drawn is self.session.result

    def _outlines(self, result: Evaluation) -> list[Outline]:
        """Each copy of each part in plan, in mm, in the order they are drawn; those of the result before until they are worked out."""
        if self._made_for is not result:
            self._made_for = result
            engine = self.session.engine
            self.session.aside.ask(lambda: paths_of(engine, result), lambda answer: self._take(result, answer))
            self.session.aside.ask(lambda: tightest(engine, result), lambda answer: self._take_tight(result, answer))
        return self._made

    def _take(self, result: Evaluation, answer: Future[list[Outline]]) -> None:
        if self._made_for is result:
            self._made, self._there = answer.result(), result
            self.update()

    def _take_tight(self, result: Evaluation, answer: Future[tuple[Tight, ...]]) -> None:
        if self._made_for is result:
            self._tight = answer.result()
            self.update()

    def paintEvent(self, event: object) -> None:
        result = None if self.session.stale else self.session.result
        project = result.project if result is not None else self.session.project
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        motors = stations(project)
        if not motors:
            return
        props = [d.propeller.diameter_mm for d in drives(project)]
        prop = max(props)
        reach = max(max(abs(m.x_mm), abs(m.y_mm)) + d / 2 for m, d in zip(motors, props, strict=True))
        reach = max(reach, wing_reach_mm(project))
        k = (min(self.width(), self.height()) - 30) / (2 * reach)
        # mm forward and left to the screen's right and down
        self._scale, to_screen = k, QTransform(0.0, -k, -k, 0.0, self.width() / 2, self.height() / 2)
        self._to_mm, self._to_screen = to_screen.inverted()[0], to_screen
        c = theme.current()
        p.setPen(QPen(QColor(c.rule), 1, Qt.PenStyle.DashLine))
        for m, d in zip(motors, props, strict=True):
            p.drawEllipse(self._at(m.x_mm, m.y_mm), k * d / 2, k * d / 2)
        if result is not None:
            self._parts(p, result)
            self._goods(p, result)
        else:
            self._hits, self._picture_of = [], None
            self._sketch(p, project)
        for m, d in zip(motors, props, strict=True):
            self._turn(p, self._at(m.x_mm, m.y_mm), k * d / 2, m.spin, 0.72 if m.up > 0 else 0.56)
        if result is not None:
            written = self._thrusts(p, result, 0.28 * k * min(props) / 2)
            around = [QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r) for at, r in self._motors(motors, drives(project))]
            self._tightest(p, prop, [*written, *around])
        if self._held is not None:
            self._ghost(p, k * prop / 2)
        p.setFont(theme.sans(7.5))
        p.setPen(QColor(c.muted))
        p.drawText(QRectF(0, 2, self.width(), 14), Qt.AlignmentFlag.AlignHCenter, "forward")

    def _motors(self, ends: Sequence[Station], each: Sequence[Drive]) -> list[tuple[QPointF, float]]:
        """Where each motor is drawn, and how far out."""
        return [(self._at(m.x_mm, m.y_mm), self._scale * d.motor.diameter_mm / 2) for m, d in zip(ends, each, strict=True)]

    def _at(self, x_mm: float, y_mm: float) -> QPointF:
        """A place of the craft on the screen."""
        return self._to_screen.map(QPointF(x_mm, y_mm))

    def _parts(self, p: QPainter, result: Evaluation) -> None:
        self._drawn = self._there
        made, sharp = self._outlines(result), self.devicePixelRatioF()
        drawn_for = (self.size(), sharp, theme.mode(), self._to_screen)
        if self._picture_of is not made or self._picture_for != drawn_for:
            self._picture_of, self._picture_for = made, drawn_for
            self._hits = [replace(o, path=self._to_screen.map(o.path)) for o in made]
            self._picture = QPixmap(self.size() * sharp)
            self._picture.setDevicePixelRatio(sharp)
            self._picture.fill(Qt.GlobalColor.transparent)
            self._fill_picture()
        p.drawPixmap(0, 0, self._picture)

    def _fill_picture(self) -> None:
        inner = QPainter(self._picture)
        inner.setRenderHint(QPainter.RenderHint.Antialiasing)
        for hit in self._hits:
            colour = QColor(part_colour(hit.kind))
            colour.setAlpha(220 if hit.kind != "plate" else 170)
            inner.setPen(QPen(colour, 0.5))
            inner.setBrush(colour)
            inner.drawPath(hit.path)
        inner.end()

    def _goods(self, p: QPainter, result: Evaluation) -> None:
        """What is bought, the centre of mass, and how far the motors stand apart."""
        c, k = theme.current(), self._scale
        p.setBrush(Qt.BrushStyle.NoBrush)
        for item in placed_components(result.project):
            x, y = item.centre_mm[:2]
            if item.kind == "motor":
                p.setPen(QPen(QColor(c.ink), 1))
                p.drawEllipse(self._at(x, y), k * item.size_mm[0] / 2, k * item.size_mm[0] / 2)
            elif item.kind != "prop":
                half_x, half_y = item.size_mm[0] / 2, item.size_mm[1] / 2
                p.setPen(QPen(QColor(c.muted), 1, Qt.PenStyle.DotLine))
                outline = QRectF(self._at(x + half_x, y + half_y), self._at(x - half_x, y - half_y))
                p.drawEllipse(outline) if item.form == "upright" else p.drawRect(outline)
        com = result.craft.com_mm
        where = self._at(com[0], com[1])
        p.setPen(QPen(QColor(c.fails), 1.6))
        p.setBrush(QColor(c.card))
        p.drawEllipse(where, 5, 5)
        p.drawLine(where - QPointF(9, 0), where + QPointF(9, 0))
        p.drawLine(where - QPointF(0, 9), where + QPointF(0, 9))
        a, b, span = widest(stations(result.project))
        across = f"{span:.0f}" == f"{result.project.layout.motor_to_motor_mm:.0f}"
        words = f"{span:.0f} mm from motor to motor" if across else f"farthest motors {span:.0f} mm apart"  # three have none across
        self._dimension(p, self._at(a.x_mm, a.y_mm), self._at(b.x_mm, b.y_mm), words)

    def _sketch(self, p: QPainter, project: Project) -> None:
        """Arms as lines, for a craft that cannot be evaluated as it stands: its stations can still be moved."""
        c = theme.current()
        p.setPen(QPen(QColor(c.wall), 3.0, cap=Qt.PenCapStyle.RoundCap))
        for stand, m in zip(stands(project), arm_ends(project), strict=False):
            p.drawLine(self._at(stand.x_mm, stand.y_mm), self._at(m.x_mm, m.y_mm))
        p.setPen(QPen(QColor(c.ink), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for at, r in self._motors(stations(project), drives(project)):
            p.drawEllipse(at, r, r)

    def _thrusts(self, p: QPainter, result: Evaluation, below: float) -> list[QRectF]:
        """Each rotor's thrust in hover, under its motor; where they are written."""
        thrusts: dict[tuple[float, float], list[str]] = {}
        for m, newton in zip(stations(result.project), result.allocation.hover_n.tolist(), strict=True):
            thrusts.setdefault((m.x_mm, m.y_mm), []).append(f"{newton:.2f}")
        p.setPen(QColor(theme.current().ink))
        p.setFont(theme.sans(7.5))
        metrics, middles = QFontMetricsF(p.font()), [self._at(x, y) for x, y in thrusts]
        line, written, ground = metrics.height(), [], _ground()
        for middle, texts in zip(middles, thrusts.values(), strict=True):
            room = min((abs(m.x() - middle.x()) for m in middles if m != middle and abs(m.y() - middle.y()) < 2 * line), default=math.inf)
            text = f"{' + '.join(texts)} N"
            if metrics.horizontalAdvance(text) + 4 > room:
                text = "\n".join(texts)
            room_for = QRectF(middle.x() - 60, middle.y() + below, 120, 2 * line)
            box = p.boundingRect(room_for, Qt.AlignmentFlag.AlignHCenter, text)
            p.fillRect(box.adjusted(-1, 1, 1, -1), ground)  # an arm may run under it
            p.drawText(room_for, Qt.AlignmentFlag.AlignHCenter, text)
            written.append(box)
        return written

    def _ghost(self, p: QPainter, radius: float) -> None:
        """What is held, where it would come to stand."""
        held = self._held
        assert held is not None
        colour = QColor(theme.current().accent)
        p.setPen(QPen(colour, 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setFont(theme.sans(8))
        middle = self._at(held.x_mm, held.y_mm)
        self._ring(p, held, middle, radius)
        if held.paired and self.alike() and not self._alone and held.y_mm:
            self._ring(p, held, self._at(held.x_mm, -held.y_mm), radius)
        metrics = QFontMetricsF(p.font())
        box = QRectF(middle.x() + 8, middle.y() - 8 - metrics.height(), metrics.horizontalAdvance(held.text) + 6, metrics.height())
        box.moveLeft(max(min(box.left(), self.width() - box.width()), 0.0))
        box.moveTop(max(box.top(), 0.0))
        p.fillRect(box, QColor(theme.current().card))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, held.text)

    def _ring(self, p: QPainter, held: Held, middle: QPointF, radius: float) -> None:
        """How large it is: a box as a box, a station by its propeller, anything else by its middle."""
        long, wide = held.what.size_mm
        if long > 0:
            half = QPointF(wide, long) * self._scale / 2
            p.drawRect(QRectF(middle - half, middle + half))
            return
        if isinstance(held.what, StationPicked):
            p.drawEllipse(middle, radius, radius)
        p.drawEllipse(middle, 4, 4)

    def _turn(self, p: QPainter, middle: QPointF, radius: float, spin: int, share: float) -> None:
        """Which way a propeller turns, as an arrow at a share of its radius."""
        c, r = theme.current(), share * radius
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(c.accent), 1.4))
        p.drawArc(QRectF(middle.x() - r, middle.y() - r, 2 * r, 2 * r), 35 * 16, 110 * 16)
        # counter-clockwise on the screen, whose left is the craft's left, is counter-clockwise seen from above
        end = math.radians(145.0 if spin > 0 else 35.0)
        tip, along = middle + r * QPointF(math.cos(end), -math.sin(end)), spin * QPointF(-math.sin(end), -math.cos(end))
        across = QPointF(-along.y(), along.x())
        p.setBrush(QColor(c.accent))
        p.drawPolygon(QPolygonF([tip + 5.0 * along, tip - 2.0 * along + 3.2 * across, tip - 2.0 * along - 3.2 * across]))
        p.setBrush(Qt.BrushStyle.NoBrush)

    def _tightest(self, p: QPainter, wide_mm: float, written: list[QRectF]) -> None:
        """Where the propellers are nearest to each other, and to anything else; told beside what is written already."""
        c = theme.current()
        p.setFont(theme.sans(7.5))
        for k, t in enumerate(self._tight):
            if t.gap_mm > (TOLD_MM if k else TOLD_SHARE * wide_mm):
                continue
            a, b = self._at(*t.from_mm), self._at(*t.to_mm)
            colour = QColor(c.fails if t.gap_mm <= 0 else c.tight if t.gap_mm < NEIGHBOUR_MM else c.muted)
            p.setPen(QPen(colour, 1.6))
            p.drawLine(a, b)
            for end in (a, b):
                p.drawEllipse(end, 1.5, 1.5)
            text = f"{t.gap_mm:.0f} mm"
            box = self._beside((a + b) / 2, QFontMetricsF(p.font()).horizontalAdvance(text) + 4, written)
            written.append(box)
            p.fillRect(box, _ground())
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _beside(self, at: QPointF, wide: float, written: list[QRectF]) -> QRectF:
        """Room for a short text just under a point, or as near to it as nothing else is written."""
        boxes = [QRectF(at.x() - wide / 2, at.y() + down, wide, LABEL_PX) for down in DOWN_PX]
        for box in boxes:
            box.moveLeft(min(max(box.left(), 0.0), self.width() - wide))
            box.moveTop(min(max(box.top(), 0.0), self.height() - LABEL_PX))
        return next((b for b in boxes if not any(b.intersects(w) for w in written)), boxes[0])

    def _dimension(self, p: QPainter, a: QPointF, b: QPointF, words: str) -> None:
        c = theme.current()
        p.setPen(QPen(QColor(c.ink), 0.8, Qt.PenStyle.DashDotLine))
        p.drawLine(a, b)
        p.setFont(theme.sans(8))
        p.setPen(QColor(c.ink))
        # at the foot, where no rotor stands
        foot = QRectF(0, self.height() - 15, self.width() - 4, 14)
        p.drawText(foot, Qt.AlignmentFlag.AlignRight, words)
