"""A monkey at the window: seeded random presses, choices, typing, drags and edits, with a heartbeat that tells every stall.

``python -m tools.monkey --seconds 300 --seed 1`` needs a display. Dialogs are turned away, so that nothing outside its own folder is
written. Prints what it did, the longest stalls and where, faults, memory, and workers left behind.
"""

from __future__ import annotations

import argparse
import faulthandler
import json
import random
import re
import sys
import tempfile
import threading
import time
import traceback
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import psutil
from PyQt6.QtCore import QEventLoop, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QWidget,
)

from fravik.app.main import leave
from tools.pace import BOUNDS_PACE_MS, pace_about, reference_workload
from tools.windowbench import RANGES, RECIPE

BEAT_MS = 5
WATCH_S, LATE_S = 0.02, 0.1
WORTH_TELLING_MS = 50
MENU_MS = 60
PAUSE_S = 3.0
BETWEEN_S = 0.01  # between two keys, or two places of the mouse as it is dragged
STAGES = ("Brief", "Airframe", "Parts", "Propeller", "Vibration", "Print run")
TEXTS = ("12", "3.5", "0", "-4", "1e9", "abc", "", "7,5", "24.25")
LEFT = Qt.MouseButton.LeftButton


@dataclass(frozen=True)
class Gap:
    """A time in which the event loop stood still."""

    clock_ms: float
    ran_ms: float  # of these the window's thread ran: on a shared machine the clock also counts what others take
    doing: str
    action: int  # its number

    def ran_at(self, pace_ms: float) -> float:
        """What the thread would have run at the pace at which the bounds were set; ``pace_ms`` is that of its own hour."""
        return self.ran_ms * BOUNDS_PACE_MS / pace_ms


@dataclass
class Heartbeat:
    """Beats while the event loop turns; a long gap between beats is a stall. A watcher notes what the window's thread does in it."""

    gaps: list[Gap] = field(default_factory=list)
    paces_ms: list[float] = field(default_factory=list)  # the reference workload, done after each action
    doing: str = ""
    caught: Counter[str] = field(default_factory=Counter)

    def __post_init__(self) -> None:
        self.skip()
        self._timer = QTimer()
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._beat)
        self._timer.start(BEAT_MS)
        self._main = threading.get_ident()
        threading.Thread(target=self._watch, daemon=True).start()

    def _watch(self) -> None:
        head = f"0x{self._main:016x} "
        with tempfile.TemporaryFile("w+") as f:
            while True:
                time.sleep(WATCH_S)
                if time.perf_counter() - self._last < LATE_S:
                    continue
                # written without taking hold of a frame: that would keep its painters alive beyond their paint
                f.seek(0)
                f.truncate()
                faulthandler.dump_traceback(f)
                f.seek(0)
                threads = f.read().split("\n\n")
                mine = next((t for t in threads if head in t.splitlines()[0]), "").splitlines()[1:]
                beside = next((t for t in threads if head not in t.splitlines()[0] and "in evaluate\n" in t), "").splitlines()[1:]
                where = " < ".join(ours(mine)[:3]) or (mine[0].strip() if mine else "")
                self.caught[where + (f", beside it {' < '.join(ours(beside)[:2])}" if beside else "")] += 1

    def _beat(self) -> None:
        now, ran = time.perf_counter(), time.thread_time()
        self.gaps.append(Gap((now - self._last) * 1e3 - BEAT_MS, (ran - self._ran) * 1e3, self.doing, len(self.paces_ms)))
        self._last, self._ran = now, ran

    def skip(self) -> None:
        """Start anew: what came until now was no stall of the window."""
        self._last, self._ran = time.perf_counter(), time.thread_time()

    def worst(self, count: int = 12) -> list[Gap]:
        """The longest stalls."""
        return sorted(self.gaps, key=lambda g: g.clock_ms, reverse=True)[:count]

    def goes(self) -> list[tuple[float, Gap]]:
        """How long the thread ran in one go in ms, read at the bounds' pace; the longest first."""
        if not self.paces_ms:
            return []
        about = pace_about(np.array(self.paces_ms))
        return sorted(((g.ran_at(about[min(g.action, len(about) - 1)]), g) for g in self.gaps), key=lambda x: x[0], reverse=True)


def ours(stack: list[str]) -> list[str]:
    """The product's own places in a stack, innermost first."""
    return [re.sub(r'.*/(\w+)\.py", line \d+ in (\w+)', r"\1.\2", x) for x in stack if "/fravik/" in x]


def told(err: BaseException) -> str:
    """An error and where it was raised, innermost first."""
    places = [f"{Path(f.filename).stem}.{f.name}:{f.lineno}" for f in traceback.extract_tb(err.__traceback__)]
    return f"{type(err).__name__}: {err}, in {' < '.join(places[::-1])}"


class Monkey:
    """Does one thing after another to a window."""

    def __init__(self, window: Any, seed: int, folder: Path) -> None:
        self.window, self.rng, self.folder = window, random.Random(seed), folder
        self.heart = Heartbeat()
        self.done: dict[str, int] = {}
        self._menus = QTimer()
        self._menus.timeout.connect(self._leave_menu)
        self._menus.start(MENU_MS)
        self._deeds = (
            (24, self._edit), (8, self._recipe), (8, self._stage), (12, self._press), (8, self._choose), (10, self._type),
            (10, self._mouse), (6, self._wheel), (4, self._slide), (6, self._undo), (3, self._tile), (1, self._export), (1, self._theme),
            (1, self._resize),
        )  # fmt: skip

    def _leave_menu(self) -> None:
        """A menu that a press has opened holds everything up until something is chosen, or nothing."""
        menu = QApplication.activePopupWidget()
        if menu is None:
            return
        choices = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator()] if isinstance(menu, QMenu) else []
        menu.close()
        if choices and self.rng.random() < 0.5:
            self.rng.choice(choices).trigger()

    def act(self) -> str:
        """Do something; returns what."""
        deed = self.rng.choices([d for _, d in self._deeds], [w for w, _ in self._deeds])[0]
        name = deed.__name__.strip("_")
        self.heart.doing = f"{name} in {self.window.stage}"
        what = deed()
        self.heart.doing = f"{name} {what} in {self.window.stage}"
        self.done[name] = self.done.get(name, 0) + 1
        return self.heart.doing

    def see_first(self, name: str) -> None:
        """Press a stage that has not been seen yet."""
        self.heart.doing = f"{name} for the first time"
        QTest.mouseClick(self.window.rail.buttons[name], LEFT)
        while self.window.stage != name:
            rest(BETWEEN_S)
        rest(1.0)

    def _edit(self) -> str:
        name = self.rng.choice(list(RANGES))
        low, high, digits = RANGES[name]
        value = round(self.rng.uniform(low, high), digits) if digits else self.rng.randint(int(low), int(high))
        arms = [p.id for p in self.window.session.project.parts if p.shape.kind == "arm"]
        if arms:
            self.window.session.edit(f"parts.{arms[0]}.shape.{name}", value)
        return name

    def _recipe(self) -> str:
        part = self.rng.choice(self.window.session.project.parts)
        name = self.rng.choice(list(RECIPE))
        self.window.session.edit(f"parts.{part.id}.recipe.{name}", self.rng.choice(RECIPE[name]))
        return f"{part.id} {name}"

    def _stage(self) -> str:
        name = self.rng.choice(STAGES)
        self.window.ask_stage(name)
        return name

    def _some(self, kind: Any) -> Any:
        found = [w for w in self.window.findChildren(kind) if w.isVisible() and w.isEnabled() and w.width() > 4]
        return self.rng.choice(found) if found else None

    def _press(self) -> str:
        button = self._some(QAbstractButton)
        if button is not None:
            QTest.mouseClick(button, LEFT)
        return button.text()[:20] if button is not None else ""

    def _choose(self) -> str:
        box = self._some(QComboBox)
        if box is not None and box.count():
            i = self.rng.randrange(box.count())
            box.setCurrentIndex(i)
            box.activated.emit(i)
        return box.currentText()[:20] if box is not None else ""

    def _type(self) -> str:
        line, text = self._some(QLineEdit), self.rng.choice(TEXTS)
        if line is not None and not line.isReadOnly():
            line.selectAll()
            for key in text:
                QTest.keyClicks(line, key)
                rest(BETWEEN_S)
            QTest.keyClick(line, Qt.Key.Key_Return)
        return text

    def _place(self) -> tuple[QWidget, QPoint] | None:
        at = QPoint(self.rng.randrange(max(self.window.width(), 1)), self.rng.randrange(max(self.window.height(), 1)))
        widget = self.window.childAt(at)
        if widget is None or isinstance(widget, QAbstractButton | QMenu):
            return None
        return widget, widget.mapFrom(self.window, at)

    def _mouse(self) -> str:
        found = self._place()
        if found is None:
            return ""
        widget, at = found
        to = at + QPoint(self.rng.randint(-120, 120), self.rng.randint(-80, 80))
        QTest.mousePress(widget, LEFT, pos=at)
        for k in range(1, 5):
            spot = QPointF(at + (to - at) * k / 4)
            move = QMouseEvent(
                QMouseEvent.Type.MouseMove, spot, widget.mapToGlobal(spot), Qt.MouseButton.NoButton, LEFT, Qt.KeyboardModifier(0)
            )
            QApplication.sendEvent(widget, move)
            rest(BETWEEN_S)
        QTest.mouseRelease(widget, LEFT, pos=to)
        return type(widget).__name__

    def _wheel(self) -> str:
        found = self._place()
        if found is None:
            return ""
        widget, at = found
        turn = QPoint(0, self.rng.choice((-120, 120)))
        none, held = Qt.MouseButton.NoButton, Qt.KeyboardModifier(0)
        where = widget.mapToGlobal(QPointF(at))
        QApplication.sendEvent(widget, QWheelEvent(QPointF(at), where, QPoint(), turn, none, held, Qt.ScrollPhase.NoScrollPhase, False))
        return type(widget).__name__

    def _slide(self) -> str:
        slider = self._some(QAbstractSlider)
        if slider is not None:
            slider.setValue(self.rng.randint(slider.minimum(), max(slider.maximum(), slider.minimum())))
        return type(slider).__name__

    def _undo(self) -> str:
        (self.window.session.undo if self.rng.random() < 0.6 else self.window.session.redo)()
        return ""

    def _tile(self) -> str:
        tiles = self.window.strip.tiles
        if tiles:
            QTest.mouseClick(self.rng.choice(tiles), LEFT)
        return ""

    def _export(self) -> str:
        self.window.export_to(self.folder / f"export {self.rng.randrange(10**6)}")
        return ""

    def _theme(self) -> str:
        self.window.toggle_theme()
        return ""

    def _resize(self) -> str:
        self.window.resize(self.rng.randint(1000, 1500), self.rng.randint(640, 900))
        return ""


def turn_away_dialogs() -> None:
    """Every dialog is answered with no, at once."""
    for name in ("getOpenFileName", "getSaveFileName"):
        setattr(QFileDialog, name, lambda *_a, **_k: ("", ""))
    QFileDialog.getExistingDirectory = lambda *_a, **_k: ""  # type: ignore[method-assign]
    for name in ("warning", "information", "critical", "question"):
        setattr(QMessageBox, name, lambda *_a, **_k: QMessageBox.StandardButton.No)
    QDialog.exec = lambda *_a: 0  # type: ignore[method-assign,assignment]
    QMenu.exec = lambda *_a, **_k: None  # type: ignore[method-assign,assignment]


def memory_mb() -> float:
    """This process's own memory."""
    return float(psutil.Process().memory_info().rss) / 1e6


def rest(seconds: float) -> None:
    """Let the window turn, as between two actions."""
    loop = QEventLoop()
    QTimer.singleShot(round(seconds * 1e3), loop.quit)
    loop.exec()


def in_loop(deed: Callable[[], object]) -> None:
    """Do something as its user does: while the window's loop turns, so that nothing is waited for within it."""
    loop, wrong = QEventLoop(), list[Exception]()

    def run() -> None:
        try:
            deed()
        except Exception as err:
            wrong.append(err)
        finally:
            loop.quit()

    QTimer.singleShot(0, run)
    loop.exec()
    if wrong:
        raise wrong[0]


def main() -> int:
    """Play, and print what came of it."""
    parser = argparse.ArgumentParser(prog="monkey")
    parser.add_argument("--seconds", type=float, default=60.0)
    parser.add_argument("--actions", type=int, default=0, help="stop after so many")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--json", action="store_true", help="print the stalls alone, for scripts")
    parser.add_argument("--demo", default="tern")
    parser.add_argument("--pause", type=float, default=0.12, help="seconds between actions")
    args = parser.parse_args()
    from fravik.app import theme
    from fravik.app.shots import ready, wait_for
    from fravik.app.window import MainWindow
    from fravik.demo import DEMOS

    app = theme.make_app(sys.argv[:1])
    faults: list[str] = []
    sys.excepthook = lambda _kind, err, _trace: faults.append(told(err))
    turn_away_dialogs()
    with tempfile.TemporaryDirectory() as folder:
        window = MainWindow(DEMOS[args.demo](), keep_in=Path(folder) / "kept")
        window.show()
        wait_for(app, window, lambda: ready(window))
        rest(PAUSE_S)
        monkey, work = Monkey(window, args.seed, Path(folder)), reference_workload()
        for name in STAGES:
            in_loop(partial(monkey.see_first, name))
            monkey.heart.paces_ms.append(work())
            monkey.heart.skip()
        start, memory, count = time.monotonic(), memory_mb(), 0
        while time.monotonic() - start < args.seconds and (not args.actions or count < args.actions):
            try:
                in_loop(monkey.act)
            except Exception as err:
                faults.append(f"{monkey.heart.doing}: {told(err)}")
            rest(args.pause)
            count += 1
            monkey.heart.paces_ms.append(work())
            monkey.heart.skip()
        rest(PAUSE_S)  # as its user would now and then: what is not needed any more is let go of when nothing happens
        grown = memory_mb() / memory
        closing = time.monotonic()
        window.close()
        rest(0.1)
        closed = time.monotonic() - closing
        left = psutil.Process().children(recursive=True)
    goes = monkey.heart.goes()
    if args.json:
        print(json.dumps({
            "stalls": [g.clock_ms for g in monkey.heart.gaps if g.clock_ms > WORTH_TELLING_MS],
            "goes": [ms for ms, _ in goes if ms > WORTH_TELLING_MS] or [ms for ms, _ in goes[:1]],
            "grown": grown,
        }))  # fmt: skip
        return 1 if faults or left else 0
    print(f"seed {args.seed}: {count} actions in {time.monotonic() - start:.0f} s, {len(faults)} faults, closed in {closed:.1f} s, "
          f"{len(left)} workers left, memory {memory:.0f} MB, times {grown:.2f}")  # fmt: skip
    for fault in sorted(set(faults)):
        print(f"  fault {fault}")
    for gap in monkey.heart.worst():
        print(f"  stall {gap.clock_ms:6.0f} ms, {gap.ran_ms:4.0f} of them at work  {gap.doing}")
    for ms, gap in goes[:12]:
        print(f"  at work {ms:4.0f} ms at the bounds' pace  {gap.doing}")
    for where, times in monkey.heart.caught.most_common(20):
        print(f"  over {LATE_S * 1e3:.0f} ms, seen {times:4d} times in {where}")
    over = [sum(g.clock_ms > limit for g in monkey.heart.gaps) for limit in (50, 100, 200, 500)]
    print("  stalls over 50, 100, 200, 500 ms:", *over, flush=True)
    return 1 if faults or left else 0


if __name__ == "__main__":
    leave(main())
