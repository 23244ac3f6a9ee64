"""The window's loop looks for keys and presses between long pieces of work, and what works beside it stands back meanwhile."""

import sys
import threading
import time
from collections.abc import Callable
from typing import Any

from conftest import until, work
from PyQt6.QtCore import QEventLoop, QObject, QTimer

from fravik.app import loopturn
from fravik.app.aside import HAND_OVER_S, Aside, handing_over, undisturbed
from fravik.app.housekeeping import YOUNG, Pace
from fravik.app.turns import Turns

LONG_S = 0.03


def turn_for(seconds: float) -> None:
    loop = QEventLoop()
    QTimer.singleShot(round(1e3 * seconds), loop.quit)
    loop.exec()


def in_a_long_turn(deed: Callable[[], None], seconds: float) -> None:
    """Do something late in a turn of the loop, and let it turn on for a while."""

    def long() -> None:
        work(LONG_S)
        deed()

    QTimer.singleShot(0, long)
    turn_for(seconds)


def test_only_work_since_the_loop_last_looked_counts(qapp: Any) -> None:
    loopturn.watch()
    seen: list[tuple[float, bool]] = []
    worked: list[float] = []

    def long() -> None:
        began = time.thread_time()
        work(LONG_S)
        worked.append(time.thread_time() - began)
        seen.append((loopturn.spent_s(), loopturn.is_long()))

    QTimer.singleShot(0, long)
    QTimer.singleShot(120, lambda: seen.append((loopturn.spent_s(), loopturn.is_long())))
    turn_for(0.2)
    (spent, is_long), (later, later_long) = seen
    assert worked[0] <= spent < worked[0] + 0.02
    assert is_long
    assert later < loopturn.LONG_S
    assert not later_long


def test_steps_let_the_loop_look_first_and_go_on(qapp: Any) -> None:
    loopturn.watch()
    order: list[str] = []
    turns = Turns()

    def begin() -> None:
        turns.begin([lambda: order.append("step"), lambda: order.append("step")])
        turns._turn.start(0)  # due in this very turn of the loop
        QTimer.singleShot(0, lambda: order.append("other"))

    in_a_long_turn(begin, 0.2)
    assert sorted(order) == ["other", "step", "step"]
    assert not turns.busy


def test_the_first_step_that_is_wanted_now_never_waits(qapp: Any) -> None:
    loopturn.watch()
    done: list[bool] = []
    turns = Turns()

    def begin() -> None:
        turns.begin([lambda: done.append(True)], now=True)
        assert done == [True]

    in_a_long_turn(begin, 0.1)
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
        with handing_over():  # a call that lets go of the interpreter
            assert sys.getswitchinterval() == HAND_OVER_S
        assert sys.getswitchinterval() == within
    assert sys.getswitchinterval() == HAND_OVER_S


class Cycle:
    """Garbage that only a sweep finds; it notes the thread that swept."""

    swept: list[int] = []

    def __init__(self) -> None:
        self.own = self

    def __del__(self) -> None:
        self.swept.append(threading.get_ident())


def test_garbage_is_swept_on_the_window_s_thread_alone(qapp: Any) -> None:
    holder = QObject()
    Pace(holder)
    Cycle.swept.clear()
    held: list[list[int]] = []

    def litter() -> None:
        for _ in range(5):
            Cycle()
        held.extend([k] for k in range(2 * YOUNG))  # many more than would bring a sweep about on this thread

    beside = threading.Thread(target=litter)
    beside.start()
    beside.join()
    assert Cycle.swept == []
    held.extend([k] for k in range(2 * YOUNG))
    assert until(qapp, lambda: len(Cycle.swept) == 5, 10.0)
    assert set(Cycle.swept) == {threading.get_ident()}
    holder.deleteLater()
