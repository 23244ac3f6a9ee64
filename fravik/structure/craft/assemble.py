"""Elements placed in the craft, fused or joined by springs, carrying bodies: one stiffness and one mass for all of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from fravik.printing.zones import Floats

from ..frame import rigid_arm
from .element import SuperElement

Ints = NDArray[np.int64]
PortOf = tuple[str, str]  # place and port


@dataclass(frozen=True, eq=False)
class Placed:
    """One copy of an element: ``pose`` (4, 4) from its axes to the craft's; a pose that mirrors has a turn of determinant -1.

    ``fused`` names a port of its own and a port of an element placed before it: the two then move as one body.
    """

    id: str
    element: SuperElement
    pose: Floats
    fused: tuple[str, PortOf] | None = None

    @cached_property
    def turn(self) -> Floats:
        """(6, 6) from craft axes to its own; turns change their sense in a mirror."""
        r = self.pose[:3, :3].T
        out = np.zeros((6, 6))
        out[:3, :3], out[3:, 3:] = r, r * math.copysign(1.0, float(np.linalg.det(r)))
        return out

    def port_mm(self, name: str) -> Floats:
        """(3,) where a port stands in the craft."""
        return np.asarray(self.pose[:3, :3] @ self.element.ports[name].at_mm + self.pose[:3, 3])


@dataclass(frozen=True, eq=False)
class Spring:
    """A joint: ports a and b carried rigidly to ``at_mm`` (3,), a (3, 6, 6) spring between them; both in the axes of a's place."""

    a: PortOf
    b: PortOf
    at_mm: Floats
    stiffness: Floats


@dataclass(frozen=True, eq=False)
class Carried:
    """A rigid body on a port: grams as tonnes, inertia (3, 3) about its own centre and where that is, in craft axes."""

    on: PortOf
    mass_t: float
    inertia_t_mm2: Floats
    at_mm: Floats


@dataclass(frozen=True, eq=False)
class _Held:
    """Where a place's coordinates are among the craft's: q_element = map q[columns]. ``own`` are those of the element that no other place
    has, and ``own_columns`` where they are."""

    placed: Placed
    columns: Ints
    map: Floats
    own: Ints
    own_columns: Ints


@dataclass(frozen=True, eq=False)
class Craft:
    """All in craft axes: ``k`` (3, n, n), ``m`` (n, n), rigid motions about the origin (n, 6), and each place's part in them."""

    k: Floats
    m: Floats
    rigid: Floats
    places: dict[str, _Held]

    @property
    def size(self) -> int:
        """Number of coordinates."""
        return len(self.m)

    def port_mm(self, port: PortOf) -> Floats:
        """(3,) where a port stands."""
        return self.places[port[0]].placed.port_mm(port[1])

    def motion(self, port: PortOf, at_mm: Floats | None = None) -> Floats:
        """(6, n) movement and turn of a port, or of a point carried rigidly by it."""
        columns, own = _port_motion(self.places[port[0]], port[1])
        if at_mm is not None:
            own = rigid_arm(at_mm - self.port_mm(port)) @ own
        out = np.zeros((6, self.size))
        out[:, columns] = own
        return out

    def moved(self, place: str, q: Floats) -> Floats:
        """(6 N, cases) movement of a place's nodes, in its own axes, for coordinates (n, cases)."""
        held = self.places[place]
        return np.asarray(held.placed.element.recovery @ (held.map @ q[held.columns]))

    def inside(self, place: str, q: Floats) -> Floats:
        """(n of its element, cases) a place's own coordinates for the craft's (n, cases)."""
        held = self.places[place]
        return np.asarray(held.map @ q[held.columns])


def _port_motion(held: _Held, name: str) -> tuple[Ints, Floats]:
    """Columns and (6, columns) of a port's motion in craft axes."""
    port = held.placed.element.ports[name]
    if held.placed.fused is None:
        return held.columns[port.tied], held.placed.turn.T @ port.motion[:, port.tied]
    return held.columns, held.placed.turn.T @ (port.motion @ held.map)


def _rigid_of(placed: Placed) -> Floats:
    """(n of the element, 6) its coordinates when the craft moves rigidly about its own origin."""
    return np.asarray(placed.element.rigid @ placed.turn @ rigid_arm(placed.pose[:3, 3]))


def _place(placed: Placed, first: int, known: dict[str, _Held]) -> _Held:
    """Give a place its coordinates, of its own and of what it is fused to."""
    n = placed.element.size
    if placed.fused is None:
        return _Held(placed, np.arange(first, first + n), np.eye(n), np.arange(n), np.arange(first, first + n))
    mine, (host, at) = placed.fused
    port = placed.element.ports[mine]
    own = port.others
    columns, motion = _port_motion(known[host], at)
    moved = placed.turn @ rigid_arm(placed.port_mm(mine) - known[host].placed.port_mm(at)) @ motion
    table = np.zeros((n, len(columns) + len(own)))
    table[port.tied, : len(columns)] = port.back @ moved
    table[own, len(columns) + np.arange(len(own))] = 1.0
    fresh = np.arange(first, first + len(own))
    return _Held(placed, np.concatenate([columns, fresh]), table, own, fresh)


def assemble(placed: Sequence[Placed], springs: Sequence[Spring] = (), bodies: Sequence[Carried] = ()) -> Craft:
    """The craft, free in the air. Raises KeyError for a place or port that is not there."""
    known: dict[str, _Held] = {}
    size = 0
    for p in placed:
        known[p.id] = held = _place(p, size, known)
        size += len(held.own)
    corners = len(placed[0].element.k) if placed else 3
    # mass and all stiffnesses in one stack: what belongs to a place is added to all of them at once
    every = np.zeros((1 + corners, size, size))
    flat = every.reshape(1 + corners, -1)
    rigid = np.zeros((size, 6))
    for held in known.values():
        element = held.placed.element
        own = np.concatenate([element.m[None], element.k])
        if held.placed.fused is not None:
            own = held.map.T @ own @ held.map
        flat[:, (size * held.columns[:, None] + held.columns).ravel()] += own.reshape(1 + corners, -1)
        rigid[held.own_columns] = _rigid_of(held.placed)[held.own]
    craft = Craft(every[1:], every[0], rigid, known)
    for s in springs:
        _add_spring(craft, s)
    by_port: dict[PortOf, list[Carried]] = {}
    for b in bodies:
        by_port.setdefault(b.on, []).append(b)
    for port, some in by_port.items():
        _add_bodies(craft, port, some)
    return craft


def _add_spring(craft: Craft, s: Spring) -> None:
    first = craft.places[s.a[0]].placed
    at = first.pose[:3, :3] @ s.at_mm + first.pose[:3, 3]
    turn = first.turn
    apart = turn @ (craft.motion(s.a, at) - craft.motion(s.b, at))
    used = np.flatnonzero(np.abs(apart).max(axis=0) > 0)
    apart = apart[:, used]
    for out, own in zip(craft.k, s.stiffness, strict=True):
        out[np.ix_(used, used)] += apart.T @ own @ apart


def _add_bodies(craft: Craft, port: PortOf, bodies: Sequence[Carried]) -> None:
    columns, motion = _port_motion(craft.places[port[0]], port[1])
    there, mass = craft.port_mm(port), np.zeros((6, 6))
    for b in bodies:
        arm = rigid_arm(b.at_mm - there)[:3]
        mass += b.mass_t * arm.T @ arm
        mass[3:, 3:] += b.inertia_t_mm2
    craft.m[columns[:, None], columns] += motion.T @ mass @ motion
