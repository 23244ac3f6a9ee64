"""Small steps on the window's own thread: in their order, with the loop turning between them, replaced, stopped or hurried."""

from __future__ import annotations

import itertools
import time
from collections.abc import Iterator
from functools import partial
from typing import Any

from conftest import until
from PyQt6 import sip
from PyQt6.QtCore import QObject, QTimer

from fravik.app.turns import TURN_S, Turns, later


def slow(done: list[int], n: int) -> None:
    time.sleep(0.7 * TURN_S)
    done.append(n)


def test_steps_come_in_their_order_and_the_loop_turns_between_them(qapp: Any) -> None:
    turns, done, beats = Turns(), [], []  # type: ignore[var-annotated]
    beat = QTimer()
    beat.timeout.connect(lambda: beats.append(len(done)))
    beat.start(0)
    turns.begin([partial(slow, done, n) for n in range(10)])
    assert not done
    assert turns.busy
    assert until(qapp, lambda: not turns.busy)
    assert done == list(range(10))
    assert len({b for b in beats if 0 < b < 10}) >= 3  # it has been seen half done


def test_what_begins_anew_drops_the_rest_and_what_is_hurried_is_done(qapp: Any) -> None:
    done: list[int] = []
    left: list[str] = []

    def drawing() -> Iterator[None]:
        try:
            for n in range(100, 200):
                slow(done, n)
                yield
        finally:
            left.append("put away")

    turns = Turns()
    turns.begin(drawing(), now=True)
    assert 0 < len(done) < 5
    turns.begin([partial(done.append, n) for n in range(3)])
    assert left == ["put away"]
    turns.finish()
    assert done[-3:] == [0, 1, 2]
    turns.begin([partial(done.append, 9)])
    turns.stop()
    until(qapp, lambda: False, 0.05)
    assert 9 not in done
    assert not turns.busy


def test_a_step_may_begin_other_steps(qapp: Any) -> None:
    turns, done = Turns(), []  # type: ignore[var-annotated]
    turns.begin([lambda: turns.begin([partial(done.append, "second")]), partial(done.append, "never")])
    assert until(qapp, lambda: not turns.busy)
    assert done == ["second"]


def test_two_sequences_leave_the_window_a_rest_between_their_turns(qapp: Any) -> None:
    ends: list[tuple[str, float, float]] = []

    def step(name: str) -> None:
        began = time.perf_counter()
        time.sleep(0.012)  # longer than a turn
        ends.append((name, began, time.perf_counter()))

    both = {name: Turns() for name in "ab"}
    for name, turns in both.items():
        turns.begin([lambda name=name: step(name) for _ in range(4)])
    assert until(qapp, lambda: len(ends) == 8 and not any(t.busy for t in both.values()))
    assert {name for name, *_ in ends[:3]} == {"a", "b"}  # neither waits for all of the other
    assert all(later[1] - earlier[2] >= 0.003 for earlier, later in itertools.pairwise(ends))


def test_what_is_put_off_comes_once_and_goes_with_its_owner(qapp: Any) -> None:
    stays, goes, done = QObject(), QObject(), list[str]()
    later(stays, 5, lambda: done.append("came"))
    later(goes, 5, lambda: done.append("of one that is gone"))
    sip.delete(goes)
    assert done == []
    assert until(qapp, lambda: bool(done))
    time.sleep(0.02)
    qapp.processEvents()
    assert done == ["came"]
