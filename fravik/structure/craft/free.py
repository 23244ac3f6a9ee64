"""A craft free in the air: its modes, and how it gives under loads that its own inertia carries.

Inertia relief: a free craft under loads F accelerates as a rigid body, a = (R' M R)^-1 R' F; what bends it is F - M R a, which pulls on
no support. Modes are solved shifted, (M, K + s M), so that the six rigid ones cost no digits. The turning parts of the rotors couple
turns about two axes (gyroscopic terms, G antisymmetric): M q" + G q' + K q = 0 in the space of the craft's own modes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.linalg import eigh

from fravik.printing.zones import Floats

from ..faults import StructureFault
from ..solve import solve_positive
from .assemble import Craft, PortOf
from .element import TYPICAL

RIGID = 6
SHIFT_HZ = 10.0
MOST_LEFT = 0.2  # of the first elastic mode: what rounding may leave of a rigid one, 2 % of that mode
UNLIKE = "The whole craft's modes cannot be told: there are too many copies of a part, or some too stiff beside others."
HELD_STIFFER = 1e3
SLIGHT = 1e-3  # coupling so far below every frequency moves none of them by as much as that


@dataclass(frozen=True, eq=False)
class FreeModes:
    """Elastic modes of a free craft, lowest first: typical frequencies (m,) and those at the corners (3, m), shapes (n, m) of unit modal
    mass, and the frequencies left in the six rigid ones (6,), which are rounding."""

    freqs_hz: Floats
    corners_hz: Floats
    shapes: Floats
    rigid_hz: Floats


def free_modes(craft: Craft, count: int, up_to_hz: float = 0.0) -> FreeModes:
    """The lowest ``count`` elastic modes, and all others up to ``up_to_hz``.

    Raises StructureFault when a piece of the craft hangs on nothing, so that there are more than six rigid modes.
    """
    mu, vec, shift = _shifted(craft)
    mu, vec = np.maximum(mu[::-1], 1e-30), vec[:, ::-1]
    square = 1.0 / mu - shift
    hz = np.sqrt(np.maximum(square, 0.0)) / (2 * np.pi)
    wanted = max(RIGID + count, int(np.searchsorted(hz, up_to_hz)))
    keep = slice(0, min(wanted, len(hz)))
    shapes = vec[:, keep] / np.sqrt(mu[keep])
    # of unit modal mass: vec is so against K + shift M
    shapes = shapes / np.sqrt(np.maximum(np.einsum("ij,ij->j", shapes, craft.m @ shapes), 1e-300))
    each = np.stack([_at_corner(k, shapes, hz[keep], c) for c, k in enumerate(craft.k)])
    if len(hz) > RIGID and hz[RIGID] < 1e-2 * SHIFT_HZ:
        raise StructureFault("craft.loose", "A piece of the craft hangs on nothing: look for a part that no joint holds.")
    rigid_hz = np.sqrt(np.abs(square[:RIGID])) / (2 * np.pi)
    if len(hz) > RIGID and float(rigid_hz.max()) > MOST_LEFT * hz[RIGID]:
        raise StructureFault("craft.unlike", UNLIKE)
    return FreeModes(hz[keep][RIGID:], each[:, RIGID:], shapes[:, RIGID:], rigid_hz)


def _shifted(craft: Craft) -> tuple[Floats, Floats, float]:
    """Of M against K + s M: 1 / (w^2 + s), lowest first, vectors, and s. Where very stiff parts' rounding outweighs what light ones carry,
    so that the sum is not positive, s is larger."""
    for hz in (SHIFT_HZ, 10 * SHIFT_HZ, 100 * SHIFT_HZ):
        shift = (2 * np.pi * hz) ** 2
        try:
            mu, vec = eigh(craft.m, craft.k[TYPICAL] + shift * craft.m, check_finite=False)
        except np.linalg.LinAlgError:
            continue
        return mu, vec, float(shift)
    raise StructureFault("craft.unlike", UNLIKE)


def _at_corner(k: Floats, shapes: Floats, hz: Floats, corner: int) -> Floats:
    """Frequencies (m,) of the typical shapes with another stiffness, as Rayleigh has them: corners change all stiffnesses nearly in
    proportion, which leaves shapes, and so the quotient, all but exact."""
    if corner == TYPICAL:
        return hz
    square = np.einsum("im,im->m", shapes, k @ shapes)
    return np.asarray(np.sqrt(np.maximum(square, 0.0)) / (2 * np.pi))


@dataclass(frozen=True, eq=False)
class Relieved:
    """How a free craft gives: coordinates (3, n, cases) at the corners with the seat at rest, rigid acceleration (6, cases) about the
    craft's origin in mm/s2 and rad/s2, the balanced loads (n, cases), and what is left of them on the seat (6, cases)."""

    q: Floats
    acceleration: Floats
    loads: Floats
    left: Floats


def push(craft: Craft, at: PortOf, force: Floats, at_mm: Floats | None = None) -> Floats:
    """(n,) loads of a force and moment (6,) in craft axes on a port."""
    return np.asarray(craft.motion(at, at_mm).T @ force)


def relieve(craft: Craft, loads: Floats, seat: PortOf) -> Relieved:
    """Loads (n, cases) on the free craft, its inertia carrying them; movement is seen from ``seat``.

    Raises StructureFault when a piece of the craft hangs on nothing.
    """
    rigid = craft.rigid
    heavy = craft.m @ rigid
    accel = np.asarray(np.linalg.solve(rigid.T @ heavy, rigid.T @ loads), dtype=np.float64)
    net = loads - heavy @ accel
    hold = craft.motion(seat)
    stiff = HELD_STIFFER * float(np.median(np.diag(craft.k[TYPICAL])))
    q = np.stack([solve_positive(k + stiff * hold.T @ hold, net) for k in craft.k])
    # the balanced loads need no hold: what is left there is rounding
    return Relieved(q, accel, net, rigid.T @ net)


def seen_from(craft: Craft, q: Floats, seat: PortOf, at: PortOf) -> Floats:
    """(6, cases) movement of a port as one who rides on the seat sees it."""
    return np.asarray((craft.motion(at) - craft.motion(seat, craft.port_mm(at))) @ q)


def gyroscopic(craft: Craft, rotors: Sequence[tuple[PortOf, Floats]]) -> Floats:
    """(n, n) antisymmetric matrix of turning rotors: each a port and its angular momentum (3,) in t mm2/s, in craft axes."""
    out = np.zeros((craft.size, craft.size))
    for port, (hx, hy, hz) in rotors:
        turns = craft.motion(port)[3:]
        # the rotor resists a turn w of its axis by the moment h x w
        cross = np.array([[0.0, -hz, hy], [hz, 0.0, -hx], [-hy, hx, 0.0]])
        out -= turns.T @ cross @ turns
    return out


def whirl_hz(modes: FreeModes, gyro: Floats) -> Floats:
    """Frequencies (m,) of the modes with the rotors turning, in the space of the modes at rest."""
    count = len(modes.freqs_hz)
    g = modes.shapes.T @ (gyro @ modes.shapes)
    if np.abs(g).max(initial=0.0) < SLIGHT * 2 * np.pi * modes.freqs_hz.min(initial=np.inf):
        return modes.freqs_hz
    # with y = (w q, q') the motion is y' = A y with A antisymmetric, so that i A is Hermitian
    state = np.zeros((2 * count, 2 * count), dtype=np.complex128)
    state[:count, count:] = np.diag(2j * np.pi * modes.freqs_hz)
    state[count:, :count] = -state[:count, count:]
    state[count:, count:] = -1j * g
    return np.asarray(np.linalg.eigvalsh(state)[count:] / (2 * np.pi))
