"""How the flight controller's rate loop is tuned, in physical terms."""

from __future__ import annotations

from typing import Literal

from .base import Frozen, choice, quantity

House = Literal["easy", "usual", "keen", "own"]
HOUSE_LABELS: dict[str, str] = {"easy": "Easy", "usual": "Usual", "keen": "Keen", "own": "My own"}


class Tune(Frozen):
    """The rate loop. Those below the delay count for a tune of the maker's own; house tunes bring theirs."""

    house: House = choice("usual", "Tune", "easy follows slower, keen faster than the brief's loop crossover")
    delay_ms: float = quantity(2.0, 0.2, 20.0, "ms", "Delay", "from the gyro's reading to the motor's voltage", step=0.5)
    follows: float = quantity(1.0, 0.1, 4.0, "×", "Follows up to", "times the brief's loop crossover; yaw to a third of that", step=0.05)
    lead: float = quantity(0.5, 0.0, 1.5, "", "Lead", "share of the motors' lag that the controller makes up for", step=0.1)
    lowpass: float = quantity(6.0, 1.5, 40.0, "×", "Gyro filter", "where it begins to smooth, times what it follows", step=0.5)
    notches: int = quantity(0, 0, 3, "", "Notches", "that follow the motors' turns, at once, twice and three times them", step=1)
    notch_q: float = quantity(4.0, 0.5, 30.0, "", "Notch, narrowness", "its middle over its width", step=0.5)
    evens: bool = choice(True, "Evens out thrust", "gains follow throttle and charge, so that a command always turns the craft alike")


# working assumptions, said with every answer: what a careful, a common and an eager maker fly
HOUSE: dict[str, Tune] = {
    "easy": Tune(house="easy", follows=0.6, lead=0.5, lowpass=6.0),
    "usual": Tune(house="usual"),
    "keen": Tune(house="keen", follows=1.5, lead=0.8, lowpass=7.0, notches=1),
}


def in_force(tune: Tune) -> Tune:
    """The figures that count: the house's with the maker's own delay, or all of his own."""
    return tune if tune.house == "own" else HOUSE[tune.house].model_copy(update={"delay_ms": tune.delay_ms})
