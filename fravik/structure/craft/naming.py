"""What a mode of the whole craft is called: which part bends, how, and how its copies move against each other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fravik.printing.zones import Floats

from ..beams import name_mode
from .assemble import Craft
from .element import TYPICAL, rigid_nodes
from .member import BASE

EVEN = 0.6  # a pattern holds when it is so much of what the copies do
MOSTLY = 0.5
PATTERNS = ("all alike", "front against rear", "left against right", "neighbours against each other", "ends against sides", "crosswise")


@dataclass(frozen=True)
class Copy:
    """A copy of a part that bends: its place, its part, how wide it is (for twist), and the direction in which it stands."""

    place: str
    part: str
    width_mm: float
    azimuth_rad: float


@dataclass(frozen=True)
class ModeName:
    """The part that bends most, how it moves, and how its copies go together; the last is empty for a part with one copy."""

    part: str
    movement: str
    together: str

    @property
    def text(self) -> str:
        """In words."""
        return f"{self.movement}, {self.together}" if self.together else self.movement


def bent(craft: Craft, place: str, shapes: Floats) -> Floats:
    """(modes, N, 6) how a place's nodes move beyond what its root carries along, in its own axes, for shapes (n, modes)."""
    element = craft.places[place].placed.element
    base = element.ports[BASE]
    ride = rigid_nodes(element.nodes_mm - base.at_mm) @ base.motion
    return np.asarray(((element.recovery - ride) @ craft.inside(place, shapes)).T.reshape(shapes.shape[1], -1, 6))


def names_of(craft: Craft, shapes: Floats, copies: Sequence[Copy], body: str) -> tuple[ModeName, ...]:
    """Names of modes (n, modes). ``body`` is the place of the plates, which bend together with the parts on them."""
    total = np.maximum(np.einsum("im,im->m", shapes, craft.k[TYPICAL] @ shapes), 1e-300)
    groups: dict[str, list[Copy]] = {}
    for c in copies:
        groups.setdefault(c.part, []).append(c)
    parts = list(groups)
    shares = np.array([np.sum([_strain(craft, c.place, shapes) for c in groups[part]], axis=0) for part in parts]) / total
    plates = _strain(craft, body, shapes) / total > MOSTLY
    most = shares.argmax(axis=0)
    named: dict[int, tuple[str, str]] = {}
    for k, some in enumerate(groups.values()):
        mine = np.flatnonzero(most == k)
        named.update(zip(mine.tolist(), _moves(craft, shapes[:, mine], some) if len(mine) else [], strict=True))
    out = []
    for i, part in enumerate(parts[k] for k in most):
        movement, together = named[i]
        # where the plates do most of it they are what should be stiffer, whatever rides on them
        out.append(ModeName(body, "plates bending", together) if plates[i] else ModeName(part, movement, together))
    return tuple(out)


def _moves(craft: Craft, shapes: Floats, copies: Sequence[Copy]) -> list[tuple[str, str]]:
    """How the copies of a part move in each mode, and how they go together."""
    moves = np.stack([bent(craft, c.place, shapes) for c in copies])  # (copies, modes, N, 6)
    far = moves[..., :3].reshape(len(copies), shapes.shape[1], -1)
    most = np.einsum("cmi,cmi->cm", far, far).argmax(axis=0)
    modes = np.arange(shapes.shape[1])
    like = far[most, modes]
    amounts = np.einsum("cmi,mi->cm", far, like) / np.maximum(np.einsum("mi,mi->m", like, like), 1e-300)
    together = _patterns(amounts, np.array([c.azimuth_rad for c in copies]))
    return [(name_mode(moves[most[i], i].reshape(-1), copies[most[i]].width_mm), together[i]) for i in modes]


def _strain(craft: Craft, place: str, shapes: Floats) -> Floats:
    """(modes,) twice the strain energy in a place."""
    q = craft.inside(place, shapes)
    return np.asarray(np.einsum("im,im->m", q, craft.places[place].placed.element.k[TYPICAL] @ q))


def _patterns(amounts: Floats, around_rad: Floats) -> list[str]:
    """How copies round the craft (n,) move against each other in modes: ``amounts`` (n, modes)."""
    n, modes = amounts.shape
    if n < 2:
        return [""] * modes
    order = np.argsort(np.argsort(around_rad % (2 * np.pi)))
    ways = np.stack([
        np.ones(n), np.cos(around_rad), np.sin(around_rad), np.where(order % 2 == 0, 1.0, -1.0) if n % 2 == 0 else np.zeros(n),
        np.cos(2 * around_rad), np.sin(2 * around_rad),
    ])  # fmt: skip
    size = (ways**2).sum(axis=1)
    size[size < 1e-9] = np.inf
    share = (ways @ amounts) ** 2 / (size[:, None] * np.maximum((amounts**2).sum(axis=0), 1e-300))
    best = (share - 1e-6 * np.arange(len(ways))[:, None]).argmax(axis=0)
    return [PATTERNS[best[i]] if share[best[i], i] > EVEN else "unevenly" for i in range(modes)]
