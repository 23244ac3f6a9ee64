"""How long parts that carry something at their end last in flight: the shake of the rotors, pull-ups and landings added up.

The end's force in every mode is what the condensed part has to be held with in the mode's shape. Weight of the part between its ends rings
along and is left out. The flight mix is a working assumption.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.kinds import kind_of
from fravik.model.material import CORNERS, Corner, Spread
from fravik.printing.zones import Floats
from fravik.structure.craft.element import TYPICAL
from fravik.structure.craft.member import END
from fravik.structure.craft.response import Complex, into
from fravik.structure.excitation import Order
from fravik.structure.failure import CAP, FIBRE, KINDS
from fravik.structure.fatigue import SENSITIVITY, alternating, damage
from fravik.structure.notches import Raiser
from fravik.structure.reserves import all_reserves
from fravik.structure.stressbasis import StressBasis, sharpened

from .results import Evaluation, MemberResult
from .shake import PUSH_SPREAD, Shake

# in an hour of flight: pull-ups as sharp as the brief's, hard yaws, landings as hard as the brief's
TIMES_H = {"pull_up": 40.0, "hard_yaw": 60.0, "hard_landing": 1.0}
BAND_POINTS = 24
MOST_H = 1e5
NOTHING = 1.0001  # reserves are told up to a cap: what is there is less than it shows
# kinds that are of the plastic and the carbon along the part
ALONG = [k for k in range(len(KINDS)) if k <= FIBRE or KINDS[k] == "bond line"]


@dataclass(frozen=True)
class Life:
    """How many hours of flight a part lasts at its weakest spot, low, usual and high; what wears it most, and the raiser there."""

    part_id: str
    position_mm: float
    kind: str
    hours: Spread
    by: str
    raiser: Raiser | None


def lives(result: Evaluation) -> tuple[Life, ...]:
    """Of every part that carries a rotor or a camera, the worst of its copies; none where the modes are not known."""
    if result.whole is None:
        return ()
    shake, out = result.whole.shake, []
    for k, member in result.members.items():
        part = result.pieces[k].part
        places = [p for p in shake.craft.places if p.rsplit("_", 1)[0] == k]
        if kind_of(part.shape).tip(part, part.shape, result.built) is None or not places:
            continue
        out.append(_life(result, shake, k, member, places))
    return tuple(out)


def end_forces(shake: Shake, place: str, order: Order, rpm: Floats) -> Complex:
    """(f, 6, pushes) what passes the end of a part, in its own axes, N and N mm, under every push by itself."""
    held = shake.craft.places[place].placed
    port, one = held.element.ports[END], shake.corners[TYPICAL]
    inside = held.element.k[TYPICAL] @ shake.craft.inside(place, shake.shapes)
    each_mode = port.back.T @ inside[port.tied]
    w = 2 * math.pi * rpm / 60.0 * order.per_rev
    gain = shake.push_n(order, rpm * order.ratio)[:, None] / (one.w_rad_s**2 * (1 + 1j * one.loss) - (w**2)[:, None])
    return np.asarray(np.einsum("jm,fm,ms->fjs", each_mode, gain, into(one.pushed, shake.ways(order))))


def _life(result: Evaluation, shake: Shake, k: str, member: MemberResult, places: list[str]) -> Life:
    basis = sharpened(member.bases["typical"], SENSITIVITY)
    rpm = 60.0 * np.linspace(*result.working_hz, BAND_POINTS)
    compliance = member.answers["typical"].compliance
    steady = _shares(basis, {n: c for n, c in member.combos["typical"].items() if n in ("hover", *TIMES_H)})
    shaken: list[tuple[Order, Floats, Floats]] = []
    for order in shake.orders:
        worst: tuple[float, Complex, Floats] | None = None
        for place in places:
            force = end_forces(shake, place, order, rpm)
            size = np.sqrt(np.einsum("fis,ij,fjs->f", force.conj(), compliance, force).real)
            if worst is None or size.max() > worst[0]:
                worst = float(size.max()), force[int(size.argmax())], size
        assert worst is not None
        if worst[0] > 0:
            shaken.append((order, _swung(basis, worst[1]), worst[2] / worst[0]))
    found = {c: _hours(result, member, c, rpm, steady, shaken) for c in CORNERS}
    hours, by = found["typical"]
    row, at = np.unravel_index(int(hours.argmin()), hours.shape)
    spread = sorted(min(float(found[c][0].min()), MOST_H) for c in CORNERS)
    positions = member.member.positions_mm
    arc = member.member.path.arc_mm
    there = [r for r in basis.raisers if r.field and bool(r.over(arc)[min(int(at), len(arc) - 2)])]
    return Life(k, float(positions[at]), KINDS[ALONG[int(row)]], Spread(*spread), by, max(there, key=lambda r: r.worst, default=None))


def _shares(basis: StressBasis, combos: dict[str, Floats]) -> dict[str, Floats]:
    """Of the strength, what every case takes, (kinds, positions)."""
    return {n: 1.0 / c.values[ALONG] for n, c in all_reserves(basis, combos).items()}


def _swung(basis: StressBasis, force: Complex) -> Floats:
    """(kinds, positions) of the strength that an end's swinging force (6, pushes) takes at its peak; these have nothing to do with one
    another, so their squares add."""
    width = basis.answer.tip.shape[1]
    combos = {}
    for s in range(force.shape[1]):
        for name, part in (("re", force[:, s].real), ("im", force[:, s].imag)):
            combos[f"{name}{s}"] = np.concatenate([part, np.zeros(width - len(part))])
    every = np.stack(list(_shares(basis, combos).values()))
    return np.asarray(np.sqrt((np.where(every > NOTHING / CAP, every, 0.0) ** 2).sum(axis=0)))


def _hours(
    result: Evaluation, member: MemberResult, corner: Corner, rpm: Floats, steady: dict[str, Floats],
    shaken: list[tuple[Order, Floats, Floats]],
) -> tuple[Floats, str]:  # fmt: skip
    """(kinds, positions) hours, and what wears the worst spot most. ``low`` shakes twice as hard in weak plastic."""
    f = result.pieces[member.part_id].filament
    slope = f.fatigue_slope.at(corner)
    weaker = member.cases["typical"]["pull_up"].reserve / member.cases[corner]["pull_up"].reserve if "pull_up" in steady else 1.0
    push = {"low": PUSH_SPREAD, "typical": 1.0, "high": 1.0 / PUSH_SPREAD}[corner]
    hover = weaker * steady["hover"] if "hover" in steady else np.zeros_like(next(iter(steady.values())))
    worn: dict[str, Floats] = {}
    for order, share, scale in shaken:
        swings = 3600.0 * rpm / 60.0 * order.per_rev / len(rpm)
        each = [damage(alternating(weaker * push * share * x, hover), times, slope) for x, times in zip(scale, swings, strict=True)]
        worn[order.name] = np.asarray(np.sum(each, axis=0))
    for name, times in TIMES_H.items():
        if name in steady:
            half = weaker * steady[name] / 2
            worn[name.replace("_", " ") + "s"] = damage(alternating(half, half), times, slope)
    every = np.asarray(sum(worn.values()))
    at = np.unravel_index(int(every.argmax()), every.shape)
    return 1.0 / np.maximum(every, 1.0 / MOST_H), max(worn, key=lambda n: float(worn[n][at]))
