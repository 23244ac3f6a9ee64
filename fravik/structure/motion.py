"""A beam's mode shape carried over to the surface of the part, for pictures."""

from __future__ import annotations

import numpy as np

from fravik.printing.zones import Floats

from .member import Member, MemberAnswer


def mode_motion(member: Member, answer: MemberAnswer, index: int, vertices_mm: Floats, share: float = 0.1) -> Floats:
    """Movement of every vertex in a mode, (n, 3) mm, scaled so that the largest is a share of the length.

    Cross-sections stay plane and turn with the beam; the clamped tongue stays still.
    """
    nodes = np.concatenate([[-1e-6], member.nodes_mm])
    shape = answer.shapes[:, index].reshape(-1, 6)
    x = np.clip(vertices_mm[:, 0], 0.0, member.length_mm)
    u = np.stack([np.interp(x, nodes, shape[:, k]) for k in range(6)], axis=1)
    z_mid = float(answer.section.z_c_mm.mean())
    arm = np.stack([vertices_mm[:, 0] - x, vertices_mm[:, 1], vertices_mm[:, 2] - z_mid], axis=1)
    move = u[:, :3] + np.cross(u[:, 3:], arm)
    move[vertices_mm[:, 0] < 0] = 0.0
    top = float(np.linalg.norm(move, axis=1).max())
    return np.asarray(move * (share * member.length_mm / top if top > 0 else 0.0))
