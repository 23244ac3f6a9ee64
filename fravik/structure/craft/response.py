"""What a free craft does under pushes that go round with its rotors: modes with their damping, and the craft as a whole.

Damping is hysteretic: a mode's loss factor is that of its materials, each by its share of the mode's strain energy (Ungar and Kerwin 1962).
With shapes of unit modal mass, a harmonic push F gives the coordinates  q = sum phi (phi' F) / (w_k^2 (1 + i n_k) - w^2)  over the elastic
modes, and the rigid craft  -R (R' M R)^-1 R' F / w^2.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from .assemble import Craft
from .element import TYPICAL

Complex = NDArray[np.complex128]


def modal_loss(craft: Craft, shapes: Floats, loss: Mapping[str, float]) -> Floats:
    """Loss factor (m,) of each mode with shapes (n, m) from the loss factor of each place, by its share of the strain energy."""
    energy, lost = np.zeros(shapes.shape[1]), np.zeros(shapes.shape[1])
    for place, eta in loss.items():
        q = craft.inside(place, shapes)
        own = np.einsum("im,ij,jm->m", q, craft.places[place].placed.element.k[TYPICAL], q)
        energy += own
        lost += eta * own
    return np.asarray(lost / np.maximum(energy, 1e-300))


@dataclass(frozen=True, eq=False)
class Shaken:
    """A craft as pushes and places see it: ``w_rad_s`` and ``loss`` (m,), motion of the pushed spots and of the places in the modes,
    (s, i, m) and (p, 6, m), and of the rigid craft, (s, i, 6) and (p, 6, 6), whose mass is ``rigid_mass`` (6, 6). A spot is pushed along
    three axes or, with i = 6, also turned about them."""

    w_rad_s: Floats
    loss: Floats
    pushed: Floats
    seen: Floats
    pushed_rigid: Floats
    seen_rigid: Floats
    rigid_mass: Floats


def into(pushed: Floats, ways: Complex) -> Complex:
    """(m, n) how hard each of n pushes drives a mode. ``ways`` (n, i) is how a push of 1 N goes round, on each of the spots (s, i, m) in
    turn, and again from the first where there are more pushes than spots."""
    each = ways.reshape(-1, *pushed.shape[:2])
    return np.asarray(np.einsum("sim,qsi->mqs", pushed, each).reshape(pushed.shape[2], -1))


def acceleration(shaken: Shaken, w_rad_s: Floats, ways: Complex, push_n: Floats) -> Complex:
    """Acceleration (f, p, 6, n), mm/s2 and rad/s2, of every place at circular frequencies (f,), under n pushes of (f,) N, each by itself;
    ``ways`` as in ``into``."""
    f, (p, j, m) = len(w_rad_s), shaken.seen.shape
    w2 = (w_rad_s**2)[:, None]
    gain = -w2 / (shaken.w_rad_s**2 * (1 + 1j * shaken.loss) - w2) * push_n[:, None]
    elastic = (shaken.seen.reshape(1, p * j, m) * gain[:, None]).reshape(-1, m) @ into(shaken.pushed, ways)
    whole = np.linalg.solve(shaken.rigid_mass, into(shaken.pushed_rigid, ways))
    rigid = shaken.seen_rigid.reshape(p * j, 6) @ whole
    n = whole.shape[1]
    return np.asarray(elastic.reshape(f, p, j, n) + push_n[:, None, None, None] * rigid.reshape(p, j, n), dtype=np.complex128)


def size(vector: Complex) -> Floats:
    """Root of the summed squares over the axis before the last and the last: of a place's components, and of pushes whose phases have
    nothing to do with one another."""
    return np.asarray(np.sqrt((np.abs(vector) ** 2).sum(axis=(-2, -1))))
