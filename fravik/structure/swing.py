"""A beam's mode shape carried over to the surface of the part, for pictures."""

from __future__ import annotations

import numpy as np

from fravik.printing.zones import Floats

from .member import Member, MemberAnswer


def _nearest(nodes: Floats, points: Floats) -> tuple[Floats, Floats]:
    """Element and position in it (0 to 1) of the place on the chain nearest to each point."""
    a, d = nodes[:-1], np.diff(nodes, axis=0)
    long = (d**2).sum(axis=1)
    t = np.clip(((points[:, None] - a) * d).sum(axis=2) / long, 0.0, 1.0)
    gap = ((points[:, None] - (a + t[..., None] * d)) ** 2).sum(axis=2)
    e = gap.argmin(axis=1)
    return e, t[np.arange(len(points)), e]


def ridden(nodes_mm: Floats, moves: Floats, vertices_mm: Floats) -> Floats:
    """(n, 3) movement of vertices that ride on a chain of nodes (N, 3) with movements and turns (N, 6): sections stay plane and turn."""
    e, t = _nearest(nodes_mm, vertices_mm)
    u = moves[e] * (1 - t)[:, None] + moves[e + 1] * t[:, None]
    place = nodes_mm[e] + t[:, None] * (nodes_mm[e + 1] - nodes_mm[e])
    return np.asarray(u[:, :3] + np.cross(u[:, 3:], vertices_mm - place))


def mode_motion(member: Member, answer: MemberAnswer, index: int, vertices_mm: Floats, share: float = 0.1) -> Floats:
    """Movement of every vertex in a mode, (n, 3) mm, scaled so that the largest is a share of the length.

    Cross-sections stay plane and turn with the beam; what lies behind the root stays still.
    """
    move = ridden(member.path.nodes_mm, answer.shapes[:, index].reshape(-1, 6), vertices_mm)
    if not member.path.both_ends:
        move[vertices_mm[:, 0] < 0] = 0.0
    top = float(np.linalg.norm(move, axis=1).max())
    return np.asarray(move * (share * member.ruler_mm / top if top > 0 else 0.0))
