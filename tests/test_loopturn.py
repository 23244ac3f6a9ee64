"""The window's loop looks for keys and presses between long pieces of work, and what works beside it stands back meanwhile."""

import sys
import time
from typing import Any

from PyQt6.QtCore import QEventLoop, QTimer

from fravik.app import loopturn
from fravik.app.aside import HAND_OVER_S, Aside, undisturbed
from fravik.app.turns import Turns

LONG_S = 0.03


def work(seconds: float) -> None:
    """Of the thread's own time: sleeping would not count."""
    end = time.thread_time() + seconds
    while time.thread_time() < end:
        sum(range(500))


def turn_for(seconds: float) -> None:
    loop = QEventLoop()
    QTimer.singleShot(round(1e3 * seconds), loop.quit)
    loop.exec()


def test_only_work_since_the_loop_last_looked_counts(qapp: Any) -> None:
    loopturn.watch()
    seen: list[tuple[float, bool]] = []

    def long() -> None:
        work(LONG_S)
        seen.append((loopturn.spent_s(), loopturn.is_long()))

    QTimer.singleShot(0, long)
    QTimer.singleShot(120, lambda: seen.append((loopturn.spent_s(), loopturn.is_long())))
    turn_for(0.2)
    (spent, is_long), (later, later_long) = seen
    assert LONG_S <= spent < LONG_S + 0.02
    assert is_long
    assert later < loopturn.LONG_S
    assert not later_long


def test_steps_let_the_loop_look_first_and_go_on(qapp: Any) -> None:
    loopturn.watch()
    order: list[str] = []
    turns = Turns()

    def long() -> None:
        work(LONG_S)
        turns.begin([lambda: order.append("step"), lambda: order.append("step")])
        turns._turn.start(0)  # due in this very turn of the loop
        QTimer.singleShot(0, lambda: order.append("other"))

    QTimer.singleShot(0, long)
    turn_for(0.2)
    assert sorted(order) == ["other", "step", "step"]
    assert not turns.busy


def test_the_first_step_that_is_wanted_now_never_waits(qapp: Any) -> None:
    loopturn.watch()
    done: list[bool] = []
    turns = Turns()

    def long() -> None:
        work(LONG_S)
        turns.begin([lambda: done.append(True)], now=True)
        assert done == [True]

    QTimer.singleShot(0, long)
    turn_for(0.1)
    assert done == [True]


def test_answers_that_come_in_a_long_turn_are_told_later_in_their_order(qapp: Any) -> None:
    aside, told = Aside(), list[int]()
    try:

        def long() -> None:
            for k in range(5):
                aside.ask(lambda k=k: k, lambda f: told.append(f.result()))  # type: ignore[misc]
            work(LONG_S)

        QTimer.singleShot(0, long)
        turn_for(0.3)
        assert told == [0, 1, 2, 3, 4]
    finally:
        aside.close()


def test_the_window_is_undisturbed_only_while_it_says_so(qapp: Any) -> None:
    aside = Aside()
    aside.close()
    assert sys.getswitchinterval() == HAND_OVER_S
    with undisturbed():
        within = sys.getswitchinterval()
        with undisturbed():
            pass
        assert sys.getswitchinterval() == within > 10 * HAND_OVER_S
    assert sys.getswitchinterval() == HAND_OVER_S
