"""A new craft: a layout picked by its picture, and a few wishes; all else follows and is said before it is made."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from fravik.app import theme
from fravik.app.widgets.basics import answers, label
from fravik.kinds import is_printed, printed_parts
from fravik.kinds.armschoice import ANY, SHORT, WHY, with_arms
from fravik.kinds.newcraft import UNNAMED, Wish, off_bed
from fravik.kinds.newreasons import follows
from fravik.model.craft import LayoutKind
from fravik.model.project import Project
from fravik.shape.stations import ARRANGEMENTS, Arrangement

# field of a wish, its title and its unit; left empty, it tells what it comes to and why
QUESTIONS = (
    ("motor_to_motor_mm", "Motor to motor", "mm"),
    ("propeller_mm", "Propeller diameter", "mm"),
    ("bed_mm", "Side of the bed", "mm"),
    ("payload_g", "Payload", "g"),
    ("motor_g", "One motor", "g"),
    ("battery_g", "Battery", "g"),
    ("body_g", "A body you have", "g"),
)
PICTURE_PX, COLUMNS = 64, 4
BODY = 0.3  # of the way to a rotor


def layout_picture(a: Arrangement, size_px: int, ratio: float = 1.0) -> QPixmap:
    """A layout seen from above, forward up: arms, and each rotor's disk with the way it turns."""
    c, picture = theme.current(), QPixmap(round(size_px * ratio), round(size_px * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    p = QPainter(picture)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    disk = 0.45 * min(a.apart, 1.0)
    reach = size_px / 2 / (1 + disk) - 1.5
    middle = QPointF(size_px / 2, size_px / 2)
    for k, (bearing, stand) in enumerate(zip(a.ends_rad, a.stands(BODY, [1.0] * len(a.arms)), strict=True)):
        end = middle + reach * QPointF(-math.sin(bearing), -math.cos(bearing))
        p.setPen(QPen(QColor(c.wall), 3.0, cap=Qt.PenCapStyle.RoundCap))
        if a.ways_deg:
            p.drawLine(middle, middle + reach * QPointF(0.0, -stand.x_mm))
            p.drawLine(middle + reach * QPointF(0.0, -stand.x_mm), end)
        else:
            p.drawLine(middle, end)
        r = reach * disk
        p.setPen(QPen(QColor(c.muted), 1.0))
        p.drawEllipse(end, r, r)
        if a.coaxial:
            p.drawEllipse(end, 0.72 * r, 0.72 * r)
        if a.arms[k][0] in a.tilting:
            # the axis it tilts about, through its disk
            out = QPointF(-math.sin(stand.azimuth_rad), -math.cos(stand.azimuth_rad))
            p.setPen(QPen(QColor(c.tight), 1.6, Qt.PenStyle.DotLine))
            p.drawLine(end - 1.25 * r * out, end + 1.25 * r * out)
        p.setPen(QPen(QColor(c.accent), 1.6))
        turns = 1 if k % 2 and len(a.arms) % 2 == 0 else -1
        box = QRectF(end.x() - r, end.y() - r, 2 * r, 2 * r)
        p.drawArc(box, 60 * 16, 60 * 16)
        tip = end + r * QPointF(math.cos(math.radians(120 if turns > 0 else 60)), -math.sin(math.radians(120 if turns > 0 else 60)))
        p.drawLine(tip, tip + QPointF(3.2 * turns, -2.6))
        p.drawLine(tip, tip + QPointF(3.2 * turns, 1.6))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(c.core))
    p.drawEllipse(middle, 0.24 * reach, 0.24 * reach)
    p.end()
    return picture


class NewCraftDialog(QDialog):
    """One screen: layout, wishes, and what comes of them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("New craft")
        self.project: Project | None = None
        self.served = Wish()  # what was wished for, with the arms that serve it
        column = QVBoxLayout(self)
        column.setSpacing(10)
        across = QHBoxLayout()
        across.setSpacing(18)
        across.addLayout(self._layouts())
        across.addLayout(self._wishes(), 1)
        column.addLayout(across)
        self.summary = label("", "", wrap=True)
        self.summary.setMinimumHeight(52)
        self.summary.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self.summary)
        self.message = label("", "problem", wrap=True)
        column.addWidget(self.message)
        self.buttons = answers(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        for role, text in ((QDialogButtonBox.StandardButton.Ok, "Make it"), (QDialogButtonBox.StandardButton.Cancel, "Cancel")):
            button = self.buttons.button(role)
            assert button is not None
            button.setText(text)
            button.setIcon(QIcon())
        self.buttons.accepted.connect(self._make)
        self.buttons.rejected.connect(self.reject)
        column.addWidget(self.buttons)
        self.setMinimumWidth(760)
        self._look()

    def _layouts(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(6)
        self.layouts = QButtonGroup(self)
        self.kinds: list[LayoutKind] = list(ARRANGEMENTS)
        for i, kind in enumerate(self.kinds):
            a, button = ARRANGEMENTS[kind], QToolButton()
            button.setText(a.name)
            button.setToolTip(a.about)
            button.setAccessibleName(f"{a.name}: {a.about}")
            button.setCheckable(True)
            button.setChecked(i == 0)
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setIcon(QIcon(layout_picture(a, PICTURE_PX, self.devicePixelRatioF())))
            button.setIconSize(QSize(PICTURE_PX, PICTURE_PX))
            button.setFixedSize(104, 96)
            self.layouts.addButton(button, i)
            grid.addWidget(button, i // COLUMNS, i % COLUMNS)
        self.layouts.idClicked.connect(lambda _: self._look())
        return grid

    def _wishes(self) -> QVBoxLayout:
        column = QVBoxLayout()
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        self.edits: dict[str, QLineEdit] = {}
        for row, (key, title, unit) in enumerate((("name", "Name", ""), *QUESTIONS)):
            edit = QLineEdit()
            edit.setAccessibleName(title)
            edit.textChanged.connect(lambda _: self._look())
            self.edits[key] = edit
            grid.addWidget(label(title), row, 0)
            grid.addWidget(edit, row, 1)
            grid.addWidget(label(unit, "small"), row, 2)
        self.edits["name"].setPlaceholderText(UNNAMED)
        self.arms = QComboBox()
        self.arms.setAccessibleName("Arms")
        self.arms.addItem("As fits", ANY)
        self.arms.addItem("Printed", "arm")
        self.arms.addItem("Carbon tube in printed clamps", "bar_arm")
        self.arms.addItem("One piece with the middle", "frame")
        self.arms.currentIndexChanged.connect(lambda _: self._look())
        grid.addWidget(label("Arms"), grid.rowCount(), 0)
        grid.addWidget(self.arms, grid.rowCount() - 1, 1)
        column.addLayout(grid)
        column.addWidget(
            label(
                "What is left empty follows from the rest. Parts are then made stout enough for its landings and its stiffness. "
                "Change anything afterwards.",
                "small",
                wrap=True,
            )
        )
        column.addStretch(1)
        return column

    def kind(self) -> LayoutKind:
        """The layout that is picked."""
        return self.kinds[self.layouts.checkedId()]

    @property
    def _arms_open(self) -> bool:
        return bool(self.arms.currentData() == ANY)

    def wish(self) -> Wish:
        """What is asked for. Raises ValueError with what is wrong with a figure."""
        figures: dict[str, float] = {}
        for key, title, _ in QUESTIONS:
            text = self.edits[key].text().strip().replace(",", ".")
            if not text:
                continue
            try:
                value = float(text)
            except ValueError:
                value = -1.0
            if not 0 < value < 1e5:
                raise ValueError(f"{title} needs a number above zero; {self.edits[key].text()!r} is not one.")
            figures[key] = value
        return Wish(self.kind(), arms=str(self.arms.currentData()), **figures)

    def _try(self) -> Project | None:
        try:
            self.served, made = with_arms(self.wish(), self.edits["name"].text().strip() or UNNAMED)
        except ValueError as err:
            self.message.setText(str(err))
            return None
        self.message.setText("")
        return made

    def _look(self) -> None:
        """Say what the wishes lead to."""
        a, made = ARRANGEMENTS[self.kind()], self._try()
        self._tell_what_follows(made)
        self.arms.setItemText(0, f"As fits: {SHORT[self.served.arms]}" if made is not None and self._arms_open else "As fits")
        if made is None:
            self.summary.setText("")
            return
        c = made.components
        parts, cut = (", ".join(f"{p.count} × {p.name.lower()}" if p.count > 1 else p.name.lower() for p in some)
                      for some in (printed_parts(made), [p for p in made.parts if not is_printed(p)]))  # fmt: skip
        self.summary.setText(
            f"{a.name}: {a.about}.\n{made.layout.motor_to_motor_mm:.0f} mm from motor to motor, {a.rotors} propellers of "
            f"{c.propeller.diameter_mm:.0f} mm, motors of {c.motor.mass_g:g} g at {c.motor.kv_rpm_per_v:.0f} rpm/V, a pack of "
            f"{c.battery.cells} cells and {c.battery.mass_g:g} g. To print: {parts}."
            + (f" To cut: {cut}." if cut else "")
            + (f" {WHY[self.served.arms]}" if self._arms_open and self.served.arms in WHY else "")
        )
        self.message.setText(off_bed(made))

    def _tell_what_follows(self, made: Project | None) -> None:
        """In each field that is left empty: what it comes to and why."""
        found = follows(self.served, made) if made is not None else {}
        for key, _, unit in QUESTIONS:
            told = found.get(key)
            figure = f"{told.value:g}: " if told is not None and told.value is not None else ""
            self.edits[key].setPlaceholderText(figure + told.short if told is not None else "")
            self.edits[key].setToolTip(f"{figure.replace(':', f' {unit}:')}{told.whole}" if told is not None else "")

    def _make(self) -> None:
        self.project = self._try()
        if self.project is not None:
            self.accept()
