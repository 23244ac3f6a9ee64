"""Forced response of a free craft, and its damping: against the whole frame solved at each frequency, and against complex modes."""

from __future__ import annotations

import math

import numpy as np
from scipy.integrate import solve_ivp
from scipy.linalg import eig

from fravik.power.pulse import harmonic
from fravik.printing.zones import Floats
from fravik.structure.craft.assemble import Carried, Craft, Placed, assemble
from fravik.structure.craft.element import condense
from fravik.structure.craft.free import free_modes
from fravik.structure.craft.response import Shaken, acceleration, modal_loss
from fravik.structure.softmount import SoftMount

from .check import Check
from .whole import LENGTH, PIECES, _by_hand, _line, bar, star

LOSS = 0.04


def _oscillator() -> list[Check]:
    """Two equal masses on a spring with hysteretic damping, pushed on one: a motion as a whole and one mode, by hand."""
    m, hz, push = 2e-4, 60.0, 3.0
    w0 = 2 * math.pi * hz
    k = m * w0**2 / 2  # the pair's mode is at sqrt(2 k / m)
    out = []
    shape = np.array([1.0, -1.0]) / math.sqrt(2 * m)
    seen = np.zeros((1, 6, 1))
    seen[0, 0, 0] = shape[1]
    pushed = np.zeros((1, 3, 1))
    pushed[0, 0, 0] = shape[0]
    along = np.zeros((1, 6, 6))
    along[0, 0, 0] = 1.0
    body = np.diag([2 * m, 1.0, 1.0, 1.0, 1.0, 1.0])
    shaken = Shaken(np.array([w0]), np.array([LOSS]), pushed, seen, along[:, :3], along, body)
    for share in (0.6, 1.0, 1.7):
        w = share * w0
        matrix = np.array(
            [[k * (1 + 1j * LOSS) - m * w * w, -k * (1 + 1j * LOSS)], [-k * (1 + 1j * LOSS), k * (1 + 1j * LOSS) - m * w * w]]
        )
        exact = abs(-w * w * np.linalg.solve(matrix, [push, 0.0])[1])
        got = acceleration(shaken, np.array([w]), np.array([[1.0, 0.0, 0.0]], dtype=complex), np.array([push]))
        out.append(Check(f"two masses on a spring, pushed at {share:g} of their ring", "two equations by hand", exact,
                         float(abs(got[0, 0, 0, 0])), 1e-6, "hand sum"))  # fmt: skip
    return out


def _craft() -> list[Check]:
    """A four-arm craft shaken by one rotor, seen at the hub and at the next rotor: its modes against the frame node by node."""
    arms = 4
    craft = star(condense(bar(_line(LENGTH, PIECES)), 12), arms)
    k, m, _ = _by_hand(arms)
    modes = free_modes(craft, 40)
    ports = [("hub", "at"), ("arm_1", "end")]
    pushed, seen = craft.motion(("arm_0", "end"))[None, :3], np.stack([craft.motion(p) for p in ports])
    rigid = craft.rigid
    shaken = Shaken(2 * math.pi * modes.freqs_hz, np.full(len(modes.freqs_hz), LOSS), pushed @ modes.shapes, seen @ modes.shapes,
                    pushed @ rigid, seen @ rigid, rigid.T @ craft.m @ rigid)  # fmt: skip
    first, second = 6 + 6 * PIECES, 6 + 6 * (PIECES + 1) + 6 * PIECES
    out = []
    for name, hz in (
        ("below its modes", 0.5 * modes.freqs_hz[0]),
        ("on the first", modes.freqs_hz[0]),
        ("between two", 150.0),
        ("high", 300.0),
    ):
        w = 2 * math.pi * hz
        load = np.zeros(len(k))
        load[first + 2], load[first] = 1.0, 0.5
        whole = -w * w * np.linalg.solve(k * (1 + 1j * LOSS) - w * w * m, load)
        got = acceleration(shaken, np.array([w]), np.array([[0.5, 0.0, 1.0]], dtype=complex), np.array([1.0]))[0, :, :, 0]
        for what, exact, ours in (
            ("hub's turn", whole[3:6], got[0, 3:]),
            ("next rotor's movement", whole[second : second + 3], got[1, :3]),
        ):
            out.append(Check(f"craft shaken at one rotor {name}, {what}", "whole frame at that frequency", float(np.linalg.norm(exact)),
                             float(np.linalg.norm(ours)), 0.01, "another method"))  # fmt: skip
    return out


def _damping() -> list[Check]:
    """Loss factors by strain energy against those of the complex modes of a craft whose arms lose and whose joints do not."""
    arms = 4
    craft = star(condense(bar(_line(LENGTH, PIECES)), 12), arms)
    modes = free_modes(craft, 6)
    loss = {**{f"arm_{a}": 0.06 for a in range(arms)}, "hub": 0.0}
    got = modal_loss(craft, modes.shapes, loss)
    stiff = np.zeros(craft.k[1].shape, dtype=complex)
    for name, held in craft.places.items():
        columns, own = held.columns, held.map.T @ held.placed.element.k[1] @ held.map
        stiff[np.ix_(columns, columns)] += (1 + 1j * loss[name]) * own
    # the springs at the roots are in no place and have no loss: what is left of the whole is theirs
    rest = craft.k[1] - sum(_spread(craft, name) for name in craft.places)
    values = eig(stiff + rest, craft.m, right=False)
    values = values[np.argsort(values.real)]
    values = values[values.real > (2 * math.pi * 5.0) ** 2][:6]
    strained = np.array([s @ craft.k[1] @ s for s in modes.shapes.T])
    inside = np.array([sum(s @ _spread(craft, n) @ s for n in craft.places) for s in modes.shapes.T])
    ours = np.sort(got * inside / strained)
    exact = np.sort(values.imag / values.real)
    what = "of a craft, arms that lose on joints that do not"
    return [Check(f"loss factor of mode {i + 1} {what}", "complex modes", float(exact[i]), float(ours[i]), 0.02, "another method")
            for i in (0, 2, 5)]  # fmt: skip


def _on_a_moving_base() -> list[Check]:
    """A slender bar whose root is moved by a body that it cannot hold back: its tip over its root, against the bar's own equation."""
    long, wide, high, heavy = 300.0, 18.0, 4.0, 1.0
    line = _line(long, 30, wide, high)
    craft = assemble(
        [Placed("bar", condense(bar(line), 12), np.eye(4))], (), [Carried(("bar", "base"), heavy, np.eye(3) * 1e6, np.zeros(3))]
    )
    modes = free_modes(craft, 8)
    pushed, seen, rigid = (
        craft.motion(("bar", "base"))[None, :3],
        np.stack([craft.motion(("bar", p)) for p in ("base", "end")]),
        craft.rigid,
    )
    shaken = Shaken(2 * math.pi * modes.freqs_hz, np.full(len(modes.freqs_hz), LOSS), pushed @ modes.shapes, seen @ modes.shapes,
                    pushed @ rigid, seen @ rigid, rigid.T @ craft.m @ rigid)  # fmt: skip
    ei, mass = float(line.ei_up_nmm2[0]), 1.27e-9 * wide * high
    first = 1.8751**2 / long**2 * math.sqrt(ei / mass) / (2 * math.pi)
    out = []
    for share in (0.5, 1.0, 2.5):
        w = 2 * math.pi * first * share
        a = acceleration(shaken, np.array([w]), np.array([[0.0, 0.0, 1.0]], dtype=complex), np.array([1.0]))[0, :, 2, 0]
        b = (mass * w * w / (ei * (1 + 1j * LOSS))) ** 0.25 * long
        exact = abs((np.cos(b) + np.cosh(b)) / (1 + np.cos(b) * np.cosh(b)))
        out.append(Check(f"a bar's tip over its moving root, at {share:g} of its ring", "Euler and Bernoulli's bar", exact,
                         float(abs(a[1] / a[0])), 0.01, "exact solution"))  # fmt: skip
    return out


def _on_feet() -> list[Check]:
    """A board on four rubber feet: shaken in time with a damper that loses as much a turn, and its turning from four springs by hand."""
    feet = SoftMount(38.0, (36.0, 36.0, 18.0), 4, 4.0, 0.3)
    m, k = 38e-6, 16.0
    w0 = math.sqrt(k / m)
    out = []
    for share in (0.5, 1.0, 2.0):
        w = share * w0
        c = k * feet.loss / w

        def move(t: float, y: np.ndarray, w: float = w, c: float = c) -> list[float]:
            base, speed = math.sin(w * t), w * math.cos(w * t)
            return [y[1], (k * (base - y[0]) + c * (speed - y[1])) / m]

        end = 60 * 2 * math.pi / w
        run = solve_ivp(move, (0, end), [0.0, 0.0], rtol=1e-8, atol=1e-10, t_eval=np.linspace(0.9 * end, end, 4000))
        out.append(Check(f"a board on feet at {share:g} of its ring", "shaken in time", float(np.abs(run.y[0]).max()),
                         float(abs(feet.through(np.array([w]))[0, 2])), 0.01, "another method"))  # fmt: skip
    at = [(x, y) for x in (-14.4, 14.4) for y in (-14.4, 14.4)]
    turn = sum(4.0 * y * y for _, y in at)
    inertia = 38e-6 * (36.0**2 + 18.0**2) / 12
    out.append(Check("where a board on feet rings in roll, Hz", "four springs summed", math.sqrt(turn / inertia) / (2 * math.pi),
                     float(feet.rings_hz()[3]), 1e-6, "hand sum"))  # fmt: skip
    return out


def _over_an_arm() -> list[Check]:
    """Blade pass: the harmonic in closed form against the potential flow's speeds along a blade's way, summed in small steps."""
    half, gap, radius, blades = 8.5, 28.0, 66.7, 3
    x = radius * np.linspace(-300 * math.pi, 300 * math.pi, 2_000_001)  # the blade's way, rolled out: far off there is nothing to feel
    felt = half**2 * (gap**2 - x**2) / (gap**2 + x**2) ** 2
    summed = float((felt * np.cos(blades * x / radius)).sum() * (x[1] - x[0]) / (math.pi * radius))
    return [Check("blade pass over an arm, of the wash", "potential flow summed along the blade's way", summed,
                  harmonic(blades, half, gap, radius), 1e-3, "another method")]  # fmt: skip


def _spread(craft: Craft, name: str) -> Floats:
    held = craft.places[name]
    out = np.zeros(craft.k[1].shape)
    out[np.ix_(held.columns, held.columns)] = held.map.T @ held.placed.element.k[1] @ held.map
    return out


GROUPS = (_oscillator, _craft, _damping, _on_a_moving_base, _on_feet, _over_an_arm)
