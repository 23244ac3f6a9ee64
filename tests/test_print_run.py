"""The Print run view in the real window: settle, scrub, pins, laying, the run, drags, and the simulated printer."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from conftest import until
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QImage, QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel

from fravik.app.views.printrun import bedpicture
from fravik.app.views.printrun.bedpicture import BedPicture, Sight
from fravik.demo import tern
from fravik.engine.batchview import batch_of
from fravik.study.words import value_text


@pytest.fixture(scope="module")
def window(qapp: Any) -> Iterator[Any]:
    from fravik.app import theme
    from fravik.app.window import MainWindow

    theme.set_mode("light")
    theme.apply(qapp)
    made = MainWindow(tern())
    made.show()
    made.show_stage("Print run")
    assert until(qapp, lambda: made.settler.fresh, 60.0)
    qapp.processEvents()
    yield made
    made.close()
    qapp.processEvents()


@pytest.fixture
def view(window: Any, qapp: Any) -> Iterator[Any]:
    """The view on the untouched demo; edits are taken back afterwards."""
    shown = window.view("Print run")
    shown.open_batch("batch 1")
    shown.tabs.setCurrentIndex(0)
    yield shown
    while window.session.can_undo:
        window.session.undo()
    assert until(qapp, lambda: window.settler.fresh, 60.0)


def settle(window: Any, qapp: Any) -> None:
    window.settler.ask()
    assert until(qapp, lambda: window.settler.fresh, 60.0)


def test_brief_and_tiles_tell_the_same_figures_once_settled(window: Any, view: Any) -> None:
    window.show_stage("Brief")
    told = window.view("Brief").target_fields
    assert any(tile.margin.source == "settled" for tile in window.strip.tiles)
    for tile in window.strip.tiles:
        assert told[tile.margin.id][2].text() == value_text(tile.margin)
        assert told[tile.margin.id][1].accessibleName() == tile.margin.verdict
    window.show_stage("Print run")


def drag(widget: Any, start: QPointF, end: QPointF) -> None:
    """Press, move and release the left button, as the display would send it."""
    left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
    for kind, at, button, held in (
        (QEvent.Type.MouseButtonPress, start, left, left), (QEvent.Type.MouseMove, (start + end) / 2, none, left),
        (QEvent.Type.MouseMove, end, none, left), (QEvent.Type.MouseButtonRelease, end, left, none),
    ):  # fmt: skip
        event = QMouseEvent(kind, at, widget.mapToGlobal(at), button, held, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(widget, event)


def texts(widget: Any) -> str:
    return "\n".join(x.text() for x in widget.findChildren(QLabel))


def test_margins_come_from_the_roads_once_settled(window: Any, view: Any, qapp: Any) -> None:
    tile = next(t for t in window.strip.tiles if t.margin.metric == "print_minutes")
    assert tile.margin.source == "settled"
    assert tile.margin.value == pytest.approx(window.settler.settled.minutes)
    window.session.edit("parts.arm.recipe.core_density", 0.3)
    assert tile.margin.source == "live"
    before = tile.margin.value
    settle(window, qapp)
    assert tile.margin.source == "settled"
    assert tile.margin.value == pytest.approx(before, rel=0.2)
    assert window.rail.buttons["Print run"].verdict in ("holds", "tight")


def test_batches_and_their_words(window: Any, view: Any, qapp: Any) -> None:
    batches = {p.id: p for p in window.settler.settled.batches.batches}
    begins = {t.batch_id: t.start_h for t in window.settler.settled.schedule.tasks if t.kind == "print"}
    assert list(view.batches.cards) == sorted(batches, key=lambda k: begins[k])
    for key, card in view.batches.cards.items():
        QTest.mouseClick(card, Qt.MouseButton.LeftButton)
        assert view.batch_id == key
        assert card.isChecked()
        assert batches[key].filament.name in view.what.text()
        assert view.bed_card.title.text() == card.batch.title
        minutes = view.batch.layer_minutes
        assert minutes.sum() + view.batch.printer.start_up_min == pytest.approx(batches[key].minutes, rel=1e-6)
        assert sum(t for _, t in view.batch.minutes_by_feature) == pytest.approx(batches[key].minutes, abs=1.5)
        assert card.accessibleName()
    assert view.batches.cards["batch 1"].batch.title == "Four arms"


def test_a_batch_is_pulled_and_stepped_to_another_place(window: Any, view: Any, qapp: Any) -> None:
    before = list(view.batches.cards)
    first, third = (view.batches.cards[k] for k in (before[0], before[2]))
    down = QPointF(third.rect().center()) + QPointF(third.pos() - first.pos()) + QPointF(0, 20)
    drag(first, QPointF(first.rect().center()), down)
    settle(window, qapp)
    assert list(view.batches.cards) == [before[1], before[2], before[0], *before[3:]]
    begins = {t.batch_id: t.start_h for t in window.settler.settled.schedule.tasks if t.kind == "print"}
    assert begins[before[1]] < begins[before[2]] < begins[before[0]]
    card = view.batches.cards[before[0]]
    QTest.keyClick(card, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    settle(window, qapp)
    assert list(view.batches.cards)[:3] == [before[1], before[0], before[2]]
    QTest.mouseClick(view.reset, Qt.MouseButton.LeftButton)
    settle(window, qapp)
    assert list(view.batches.cards) == before


def test_a_batch_is_dropped_on_another_printer_or_put_there_by_its_menu(window: Any, view: Any, qapp: Any) -> None:
    assert not view.batches.printers  # one printer: no choice
    view.run_page.add_printer()
    settle(window, qapp)
    there = window.session.project.more_printers[0].id
    card = next(c for c in view.batches.cards.values() if c.batch.title == "Four arms")
    here, other = card.batch.printer.id, next(q for q in view.batches.printers if q != card.batch.printer.id)
    slip = view.batches.printers[other]
    assert until(qapp, lambda: slip.y() > 0)
    until(qapp, lambda: False, 0.2)  # what holds it is laid out, too
    drag(card, QPointF(card.rect().center()), QPointF(card.mapFromGlobal(slip.mapToGlobal(slip.rect().center()))))
    settle(window, qapp)
    arms = next(c for c in view.batches.cards.values() if c.batch.title == "Four arms")
    assert arms.batch.printer.id == other
    assert there in (here, other)
    back = next(a for a in arms.actions() if a.isEnabled())
    back.trigger()
    settle(window, qapp)
    assert next(c for c in view.batches.cards.values() if c.batch.title == "Four arms").batch.printer.id == here
    QTest.mouseClick(view.reset, Qt.MouseButton.LeftButton)
    assert not window.session.project.run.on_printer
    window.session.edit("more_printers", ())
    settle(window, qapp)


def test_the_ruler_shows_steps_and_drags_the_layers(view: Any, qapp: Any) -> None:
    ruler, tops = view.ruler, view.batch.tops_mm
    ruler.grab()
    for share in (0.25, 0.7):
        at = QPoint(ruler.width() // 2, round(ruler._y(share * tops[-1])))
        QTest.mouseClick(ruler, Qt.MouseButton.LeftButton, pos=at)
        assert tops[view.picture.index] == pytest.approx(share * tops[-1], abs=0.25)
    drag(ruler, QPointF(ruler.width() / 2, ruler._y(2.0)), QPointF(ruler.width() / 2, ruler._y(5.0)))
    assert tops[view.picture.index] == pytest.approx(5.0, abs=0.25)
    ruler.setFocus()
    here = view.picture.index
    QTest.keyClick(ruler, Qt.Key.Key_PageDown)
    assert view.picture.index == here - 10
    assert "layer" in ruler.accessibleDescription()
    assert "outline" in ruler.accessibleDescription()
    box, number = ruler._pins[0]
    QTest.mouseClick(ruler, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert view.picked_pin == number
    QTest.mouseClick(ruler, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert view.picked_pin == 0


def test_scrub_by_ruler_keys_wheel_and_play(view: Any, qapp: Any) -> None:
    last = len(view.batch.tops_mm) - 1
    view.ruler.stepped.emit(3)
    assert view.picture.index == 3
    assert "layer 4 of" in view.where.text()
    view.picture.setFocus()
    QTest.keyClick(view.picture, Qt.Key.Key_Up)
    assert view.picture.index == 4
    QTest.keyClick(view.picture, Qt.Key.Key_End)
    assert view.picture.index == view.ruler.index == last
    QTest.keyClick(view.picture, Qt.Key.Key_Home)
    assert view.picture.index == 0
    middle = QPointF(view.picture.rect().center())
    wheel = QWheelEvent(middle, view.picture.mapToGlobal(middle), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton,
                        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
    QApplication.sendEvent(view.picture, wheel)
    assert view.picture.index == 1
    QTest.keyClick(view.picture, Qt.Key.Key_Space)
    assert until(qapp, lambda: view.picture.index > 4, 5.0)
    QTest.mouseClick(view.play_button, Qt.MouseButton.LeftButton)
    stopped = view.picture.index
    until(qapp, lambda: False, 0.3)
    assert view.picture.index == stopped


def test_picture_turns_and_draws_what_is_printed(view: Any, qapp: Any) -> None:
    def ink() -> np.ndarray:
        image = view.picture.grab().toImage()
        raw = image.constBits().asarray(image.sizeInBytes())
        return np.frombuffer(raw, dtype=np.uint8).copy()

    view.show_layer(0)
    low = ink()
    view.show_layer(40)
    high = ink()
    assert (low != high).mean() > 0.01
    turn = view.picture.turn_deg
    at = QPointF(view.picture.rect().center())
    drag(view.picture, at, at + QPointF(60, 0))
    assert view.picture.turn_deg > turn + 10
    QTest.keyClick(view.picture, Qt.Key.Key_Right)
    assert (ink() != high).mean() > 0.01
    view.picture.from_above()
    assert view.picture.tilt_deg == 90.0
    view.picture.home()


def test_roads_stroked_a_length_at_a_time_make_the_picture_of_those_stroked_at_once(view: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    def drawn() -> tuple[np.ndarray, int]:
        sight = Sight(turn_deg=30.0, tilt_deg=50.0, zoom=6.0, aside_x=0.0, aside_y=0.0, width=700.0, height=500.0)
        image = QImage(700, 500, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        steps = sum(1 for _ in BedPicture(view.picture.batch, 4, sight, 0, {}).steps(painter))
        painter.end()
        shown = image.constBits()
        assert shown is not None
        return np.frombuffer(shown.asarray(image.sizeInBytes()), np.uint8).reshape(500, 700, 4)[..., :3].astype(int), steps

    lengths, many = drawn()
    monkeypatch.setattr(bedpicture, "LENGTH_A_STEP", 10**9)
    whole, few = drawn()
    assert many > 3 * few
    assert whole.std() > 20  # there is something on it
    # the rim of a stroke is blended twice where two lengths meet
    differ = np.abs(lengths - whole).max(axis=2)
    assert differ.max() <= 40
    assert (differ > 8).mean() < 0.01


def test_pins_and_their_list(view: Any, qapp: Any) -> None:
    assert view.batch.pins
    first = view.batch.pins[0]
    assert first.trouble.text in texts(view.troubles)
    assert first.trouble.cure in texts(view.troubles)
    QTest.mouseClick(view.troubles.buttons[1], Qt.MouseButton.LeftButton)
    assert view.picked_pin == view.picture.picked_pin == 1
    assert view.batch.tops_mm[view.picture.index] == pytest.approx(first.trouble.place_mm[2], abs=0.21)
    view.picture.grab()
    box, number = next((b, n) for b, n in view.picture._pins if n != 1)
    QTest.mouseClick(view.picture, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert view.picked_pin == number
    view.show_pin(number)
    assert view.picked_pin == 0


def test_a_brim_changes_the_plate(window: Any, view: Any, qapp: Any) -> None:
    grams = view.batch.batch.grams
    kinds = {p.trouble.kind for p in view.batch.pins}
    assert "corner lifts" in kinds
    view.tabs.setCurrentWidget(view.laying)
    view.laying.show_part("arm")
    field = view.laying.form.fields["parts.arm.laying.edge"]
    field.box.setCurrentIndex(field.box.findData("hem"))
    field.box.activated.emit(field.box.currentIndex())
    assert window.session.project.part("arm").laying.edge == "hem"
    settle(window, qapp)
    assert view.batch.batch.grams > grams + 0.5
    assert "corner lifts" not in {p.trouble.kind for p in view.batch.pins}


def test_the_run_hours_spares_and_printers(window: Any, view: Any, qapp: Any) -> None:
    ready = window.settler.settled.schedule.ready_h
    view.run_page.add_printer()
    assert len(window.session.project.printers) == 2
    settle(window, qapp)
    assert window.settler.settled.schedule.ready_h < ready
    assert len({p.printer_id for p in window.settler.settled.batches.batches}) == 2
    view.run_page.drop_printer("printer2")
    view.run_page.set_spares("leg", 2)
    settle(window, qapp)
    keys = [c.key for p in window.settler.settled.batches.batches for c in p.copies]
    assert "leg 6" in keys
    assert "breaks first" in view.run_page.advice.text()
    view.run_page.refresh()
    view.run_page.follow_button.click()
    assert {s.id: s.count for s in window.session.project.run.spares}["arm"] >= 1
    assert not view.run_page.follow_button.isVisible()
    window.session.edit("run.deadline_h", 5.0)
    settle(window, qapp)
    assert "late" in view.schedule_card.note.text()
    assert window.rail.buttons["Print run"].verdict == "fails"


def test_drag_a_plate_later(window: Any, view: Any, qapp: Any) -> None:
    view.bars.grab()
    box, task = next((b, t) for b, t in view.bars._boxes if t.kind == "print" and t.batch_id == "batch 2")
    by = view.bars._x(8.5) - view.bars._x(task.start_h)
    drag(view.bars, box.center(), box.center() + QPointF(by, 0.0))
    assert window.session.project.run.wishes[0].start_h == pytest.approx(8.5, abs=0.3)
    settle(window, qapp)
    again = next(t for t in window.settler.settled.schedule.tasks if t.kind == "print" and t.batch_id == "batch 2")
    assert again.start_h >= 8.0 > task.start_h
    QTest.mouseClick(view.bars, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert view.batch_id == "batch 2"
    assert view.reset.isVisible()
    QTest.mouseClick(view.reset, Qt.MouseButton.LeftButton)
    assert not window.session.project.run.wishes


def test_an_edit_ends_the_laying_of_the_design_before_it(window: Any, view: Any, qapp: Any) -> None:
    settler = window.settler
    assert settler.auto
    window.session.edit("parts.leg.recipe.core_density", 0.45)
    settler.ask()
    assert settler.busy is not None
    window.session.edit("parts.leg.recipe.core_density", 0.4)
    assert settler.busy is None
    assert not settler.fresh
    assert not settler.message
    assert until(qapp, lambda: settler.fresh, 60.0)
    assert settler.settled.project == window.session.project
    window.session.edit("parts.leg.recipe.core_density", 0.35)
    settler.ask()
    window.session.undo()  # the design on show is laid already: nothing is under way for the one that was left
    assert settler.busy is None
    assert settler.fresh


def test_records_outlive_their_part_and_a_second_plate_is_weighed(window: Any, view: Any, qapp: Any) -> None:
    page = view.standin
    view.tabs.setCurrentWidget(page)
    for batches in (1, 2):
        page.start()
        page._timer.stop()
        page.pass_time(1e6)
        for key in list(page.weigh_buttons):
            page.weigh(key)
        page.keep()
        assert len({r.batch for r in window.session.project.run.records}) == batches
        settle(window, qapp)
    kept = tuple(p for p in window.session.project.parts if p.id != "arm")
    window.session.edit("parts", kept)  # the last layers still hold the arm, the craft does not
    view.refresh()
    assert "arm" in texts(page)


def test_work_can_be_stopped(window: Any, view: Any, qapp: Any) -> None:
    window.session.edit("parts.arm.recipe.layer_height_mm", 0.06)
    window.settler.ask()
    assert view.stop_button.isVisible()
    QTest.mouseClick(view.stop_button, Qt.MouseButton.LeftButton)
    assert window.settler.busy is None
    assert "Given up" in view.state.text()
    assert view.stop_button.text() == "Lay the layers"
    window.session.undo()
    QTest.mouseClick(view.stop_button, Qt.MouseButton.LeftButton)
    assert until(qapp, lambda: window.settler.fresh, 60.0)


def test_a_contradiction_keeps_the_last_layers(window: Any, view: Any) -> None:
    settled = window.settler.settled
    window.session.edit_many((("parts.arm.shape.pocket_count", 2), ("parts.arm.shape.pocket_width_mm", 40.0)))
    assert window.session.stale
    window.settler.ask()
    view.refresh()
    assert window.settler.settled is settled
    assert "last good" in view.state.text()


def test_the_simulated_printer_prints_weighs_and_teaches(window: Any, view: Any, qapp: Any) -> None:
    page = view.standin
    view.tabs.setCurrentWidget(page)
    planned = view.batch.batch.minutes
    minutes = window.settler.settled.minutes
    QTest.mouseClick(page.start_button, Qt.MouseButton.LeftButton)
    page._timer.stop()
    page.pass_time(120.0)
    assert page.printer().state().phase == "warming"
    page.pass_time(3600.0)
    assert page.printer().state().phase == "printing"
    assert page.printer().state().nozzle_c == pytest.approx(240.0, abs=1.0)
    assert not page.start_button.isEnabled()
    QTest.mouseClick(page.fault_buttons["power loss"], Qt.MouseButton.LeftButton)
    assert page.printer().state().phase == "waiting"
    QTest.mouseClick(page.go_button, Qt.MouseButton.LeftButton)
    page._timer.stop()
    QTest.mouseClick(page.fault_buttons["comes loose"], Qt.MouseButton.LeftButton)
    page.pass_time(1e6)
    outcomes = page.printer().outcomes()
    lost = [o for o in outcomes if not o.good]
    assert lost
    assert "weak" in next(o for o in outcomes if o.good).note
    for key in list(page.weigh_buttons):
        page.weigh(key)
    QTest.mouseClick(page.keep_button, Qt.MouseButton.LeftButton)
    records = window.session.project.run.records
    assert len(records) == 4
    settle(window, qapp)
    arms = [c for p in window.settler.settled.batches.batches for c in p.copies if c.part_id == "arm"]
    assert len(arms) == len(lost), "what failed is planned again, what is good is not"
    assert "of the planned time" in texts(page)
    ratio = page.printer().elapsed_s / 60 / planned
    left = sum(p.minutes for p in window.settler.settled.batches.batches)
    changes = 8.0 * len(window.settler.settled.batches.batches)
    assert window.settler.settled.minutes == pytest.approx(left * ratio + changes, rel=1e-3)
    assert window.settler.settled.minutes < minutes
    assert value_text(next(t for t in window.strip.tiles if t.margin.metric == "print_minutes").margin)


def test_every_widget_has_a_name(view: Any) -> None:
    for widget in (view.picture, view.ruler, view.scrubber.key, view.bars, view.standin.bar, view.laying.box):
        assert widget.accessibleName()
    assert view.bars.accessibleDescription()
    assert view.picture.accessibleDescription()


def test_dark_and_empty(window: Any, view: Any, qapp: Any) -> None:
    window.toggle_theme()
    view.picture.grab()
    view.bars.grab()
    window.toggle_theme()
    view.picture.show_batch(None)
    view.bars.show_schedule(None, window.session.project.run, "")
    view.troubles.show_batch(None, (), 0)
    view.picture.grab()
    view.bars.grab()
    assert batch_of(window.settler.settled, "no such batch") is not None


def test_the_run_is_exported_and_a_gcode_file_is_set_beside_it(window: Any, view: Any, qapp: Any, tmp_path: Any) -> None:
    assert window.export_run_to(tmp_path)
    assert until(qapp, lambda: "Exported" in window.notice, 60.0)
    names = {p.name for p in tmp_path.iterdir()}
    assert {"batch-1.3mf", "schedule.ics", "schedule.csv", "arm-layers.svg"} <= names
    blocked = tmp_path / "a file"
    blocked.write_text("in the way")
    assert window.export_run_to(blocked)
    assert until(qapp, lambda: "not exported" in window.banner_text.text(), 60.0)
    assert window.settler.fresh
    path = tmp_path / "other.gcode"
    path.write_text("M83\nG1 X10 Y10 Z0.2\nG1 X60 E2\nG1 Y50 E2\nG1 X-40 E3\n")
    dialog = window.open_gcode(path)
    assert until(qapp, lambda: dialog.reading is not None, 60.0)
    assert "leaves the bed" in dialog.notes.text()
    assert dialog.reading.against == "batch 1"
    dialog.picture.grab()
    dialog.done(0)
    path.write_text("G1 X1e30 E1\n")
    dialog = window.open_gcode(path)
    assert until(qapp, lambda: "no printer" in dialog.state.text(), 60.0)
    assert "Error" not in dialog.state.text()
    dialog.done(0)
