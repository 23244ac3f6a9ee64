"""A structural part reduced to a few coordinates: the motions of its ports, and some inner modes.

Craig and Bampton's reduction (AIAA Journal 6(7), 1968): static shapes of unit motions of the ports, and modes with all ports held. The held
modes come from a block Krylov space that starts from the ports' inertia, which needs two solves and no iteration. All shapes come from the
typical material; stiffness at each corner of it is that of the corner's own static shapes. Units mm, N, tonne, s.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import eigh
from scipy.linalg.lapack import dpotrf, dpotrs

from fravik.model.material import CORNERS
from fravik.printing.zones import Floats

from ..faults import StructureFault

TYPICAL = CORNERS.index("typical")
KEPT = 6
KRYLOV_BLOCKS = 2
SAME = 1e-7  # a Krylov vector this small beside the first is what is left of rounding


@dataclass(frozen=True, eq=False)
class Port:
    """Where others meet an element: ``at_mm`` (3,) and ``motion`` (6, n), its movement and turn from the element's coordinates, all in the
    element's axes."""

    at_mm: Floats
    motion: Floats

    @cached_property
    def tied(self) -> NDArray[np.int64]:
        """The coordinates that it moves with."""
        return np.flatnonzero(np.abs(self.motion).max(axis=0) > 0)

    @cached_property
    def back(self) -> Floats:
        """(tied, 6) those coordinates from its motion, where it has six of its own."""
        return np.asarray(np.linalg.inv(self.motion[:, self.tied]), dtype=np.float64)

    @cached_property
    def others(self) -> NDArray[np.int64]:
        """The coordinates that it does not move with."""
        return np.flatnonzero(np.abs(self.motion).max(axis=0) == 0)


@dataclass(frozen=True, eq=False)
class SuperElement:
    """Stiffness (3, n, n) at the corners of the material, mass (n, n), what a rigid motion about its origin is in its coordinates (n, 6),
    its ports, and the nodes (N, 3) that it stands for with their movement (6 N, n).

    In a ``plain`` one the nodes' dofs are its coordinates.
    """

    k: Floats
    m: Floats
    rigid: Floats
    ports: Mapping[str, Port]
    nodes_mm: Floats
    recovery: Floats
    plain: bool = False

    @property
    def size(self) -> int:
        """Number of coordinates."""
        return len(self.m)


def rigid_nodes(nodes_mm: Floats) -> Floats:
    """(6 N, 6) motion of nodes with six dofs each when all move as one body about the origin."""
    out = np.zeros((len(nodes_mm), 6, 6))
    out[:, range(6), range(6)] = 1.0
    x, y, z = nodes_mm.T
    out[:, 0, 4], out[:, 0, 5] = z, -y
    out[:, 1, 3], out[:, 1, 5] = -z, x
    out[:, 2, 3], out[:, 2, 4] = y, -x
    return out.reshape(-1, 6)


def uncondensed(k: Floats, m: Floats, nodes_mm: Floats, ports: Mapping[str, int]) -> SuperElement:
    """A part with every node's six dofs as coordinates: ``k`` (3, 6 N, 6 N), ``m`` (6 N, 6 N), ``ports`` name nodes."""
    every = np.eye(len(m))
    return SuperElement(
        k, m, rigid_nodes(nodes_mm), {name: Port(nodes_mm[n], every[6 * n : 6 * n + 6]) for name, n in ports.items()}, nodes_mm, every, True
    )


def without_idle(whole: SuperElement) -> SuperElement:
    """An element without the coordinates that weigh nothing and that no port moves with: they follow the others exactly."""
    busy = np.abs(np.concatenate([p.motion for p in whole.ports.values()])).max(axis=0) > 0
    busy |= np.abs(whole.m).max(axis=0) > 0
    keep, idle = np.flatnonzero(busy), np.flatnonzero(~busy)
    if not len(idle):
        return whole
    follow = -np.linalg.solve(whole.k[:, idle[:, None], idle], whole.k[:, idle[:, None], keep])
    k = whole.k[:, keep[:, None], keep] + whole.k[:, keep[:, None], idle] @ follow
    back = np.zeros((whole.size, len(keep)))
    back[keep, np.arange(len(keep))] = 1.0
    back[idle] = follow[TYPICAL]
    ports = {name: Port(p.at_mm, p.motion[:, keep]) for name, p in whole.ports.items()}
    return SuperElement((k + k.transpose(0, 2, 1)) / 2, whole.m[np.ix_(keep, keep)], whole.rigid[keep], ports, whole.nodes_mm,
                        whole.recovery @ back)  # fmt: skip


def condense(whole: SuperElement, kept: int = KEPT, up_to_hz: float = math.inf) -> SuperElement:
    """The same part by its ports' motions and the lowest modes with the ports held: ``kept`` of them at most, as far as they ring below
    ``up_to_hz``. Its ports have to be nodes of its own.

    Raises StructureFault when something of it hangs on nothing.
    """
    names = list(whole.ports)
    held = np.concatenate([whole.ports[n].tied for n in names])
    loose = np.setdiff1d(np.arange(whole.size), held)
    order = np.concatenate([held, loose])
    many = len(held)
    # everything in the order held, loose: blocks are then slices
    k_all, m_all = whole.k[:, order[:, None], order], whole.m[order[:, None], order]
    shapes: list[Floats] = []
    factors: list[Floats] = []
    for k in k_all:
        factor, bad = dpotrf(k[many:, many:], clean=0)
        if bad:
            raise StructureFault("solve.loose", "Part of it hangs on nothing: look for a section of next to nothing.")
        factors.append(factor)
        shapes.append(np.concatenate([np.eye(many), -dpotrs(factor, k[many:, :many])[0]]))
    static = shapes[TYPICAL]
    modes = np.zeros((whole.size, min(kept, len(loose))))
    if modes.shape[1]:
        inner = _held_modes(
            k_all[TYPICAL][many:, many:], m_all[many:, many:], (m_all @ static)[many:], factors[TYPICAL], modes.shape[1], up_to_hz
        )
        modes = np.concatenate([np.zeros((many, inner.shape[1])), inner])
    base = np.concatenate([static, modes], axis=1)
    size = base.shape[1]
    k_out = np.zeros((len(k_all), size, size))
    for out, k, own in zip(k_out, k_all, shapes, strict=True):
        # the corner's own static shapes do no work on what moves between held ports
        out[:many, :many] = k[:many] @ own
        out[many:, many:] = modes[many:].T @ k[many:, many:] @ modes[many:]
    place = {int(d): i for i, d in enumerate(held)}
    ports = {}
    for name in names:
        motion = np.zeros((6, size))
        port = whole.ports[name]
        motion[:, [place[int(d)] for d in port.tied]] = port.motion[:, port.tied]
        ports[name] = Port(whole.ports[name].at_mm, motion)
    rigid = np.zeros((size, 6))
    rigid[:many] = whole.rigid[held]
    m = base.T @ m_all @ base
    back = np.empty_like(base)
    back[order] = base
    recovery = back if whole.plain else whole.recovery @ back
    return SuperElement((k_out + k_out.transpose(0, 2, 1)) / 2, (m + m.T) / 2, rigid, ports, whole.nodes_mm, recovery)


def _held_modes(k: Floats, m: Floats, start: Floats, factor: Floats, count: int, up_to_hz: float) -> Floats:
    """Lowest modes (n, count) of what is held, from a Krylov space of the loads ``start`` (n, ports); unit modal mass."""
    blocks, load = [], start
    for _ in range(KRYLOV_BLOCKS):
        u = dpotrs(factor, load)[0]
        u = u / np.maximum(np.linalg.norm(u, axis=0), 1e-300)
        blocks.append(u)
        load = m @ u
    left, size, _ = np.linalg.svd(np.concatenate(blocks, axis=1), full_matrices=False)
    space = left[:, size > SAME * size[0]]
    mu, vec = eigh(space.T @ m @ space, space.T @ k @ space, check_finite=False)
    count = min(count, int((mu > 1.0 / (2 * np.pi * up_to_hz) ** 2).sum()))
    return np.asarray(space @ (vec[:, ::-1][:, :count] / np.sqrt(np.maximum(mu[::-1][:count], 1e-30))))
