"""A beam-like part as an element: its chain of beams on the springs of its root, from what it is fixed to out to where its load sits."""

from __future__ import annotations

import numpy as np

from fravik.model.joint import Joint
from fravik.model.material import CORNERS, Filament
from fravik.model.recipe import Recipe
from fravik.printing.mass import MassProperties
from fravik.printing.zones import Floats

from ..frame import rigid_arm
from ..member import TYPICAL_FIRST, Member, MemberChain, chain_mass, root_give
from .body import G_TO_T, GMM2_TO_TMM2
from .element import SuperElement, condense, rigid_nodes, uncondensed

BASE, END = "base", "end"


def member_element(
    member: Member, chain: MemberChain, f: Filament, recipe: Recipe, joint: Joint, own: MassProperties, kept: int, up_to_hz: float
) -> SuperElement:
    """Ports ``base``, what the root's springs hold on to, and ``end``, the node that carries the load.

    ``own`` is the whole part's mass in its own axes: what of it is not in the chain (tongue, flange, hub) rides on the base.
    """
    return condense(_whole(member, chain, f, recipe, joint, own), kept, up_to_hz)


def _whole(member: Member, chain: MemberChain, f: Filament, recipe: Recipe, joint: Joint, own: MassProperties) -> SuperElement:
    path, nodes = member.path, member.path.nodes_mm
    n = len(nodes)
    ends = (0, -1) if path.both_ends else (0,)
    k = np.zeros((3, 6 * n + 6, 6 * n + 6))
    m = np.zeros(k.shape[1:])
    m[: 6 * n, : 6 * n] = chain_mass(member, chain, f)
    base = np.zeros(3) if path.both_ends else _root_point(member, chain, 0, TYPICAL_FIRST.index("typical"))
    for c, corner in enumerate(CORNERS):
        i = TYPICAL_FIRST.index(corner)
        k[c, : 6 * n, : 6 * n] = chain.elements[i].k
        for end in ends:
            node = 0 if end == 0 else n - 1
            at = _root_point(member, chain, end, i)
            turn = np.zeros((6, 6))
            turn[:3, :3] = turn[3:, 3:] = path.line.frame[end]
            give = root_give(member, chain.sections[i], joint, f, corner, recipe)
            apart = np.zeros((6, 12))
            apart[:, :6], apart[:, 6:] = rigid_arm(at - nodes[node]), -rigid_arm(at - base)
            spring = apart.T @ (turn.T @ np.linalg.inv(give) @ turn) @ apart
            where = np.r_[6 * node : 6 * node + 6, 6 * n : 6 * n + 6]
            k[c][np.ix_(where, where)] += spring
    every = np.concatenate([nodes, base[None]])
    m[6 * n :, 6 * n :] = _beyond(own, m, every, base)
    return uncondensed(k, m, every, {BASE: n, END: path.load_node})


def _root_point(member: Member, chain: MemberChain, end: int, corner: int) -> Floats:
    """(3,) the middle of the section at an end, where its springs act."""
    s, frame = chain.sections[corner], member.path.line.frame[end]
    return np.asarray(member.path.nodes_mm[end] + s.y_c_mm[end] * frame[1] + s.z_c_mm[end] * frame[2])


def _beyond(own: MassProperties, m: Floats, nodes_mm: Floats, base_mm: Floats) -> Floats:
    """(6, 6) mass on the base of what the chain leaves out; its inertia is that of a body, so never less than none."""
    rigid = rigid_nodes(nodes_mm)
    have = rigid.T @ m @ rigid
    mass = own.mass_g * G_TO_T - have[0, 0]
    if mass <= 0:
        return np.zeros((6, 6))
    # first moments about the origin
    first = np.array([have[1, 5], have[2, 3], have[0, 4]])
    com = (own.mass_g * G_TO_T * own.com_mm - first) / mass
    reach = rigid_arm(own.com_mm)[:3]
    whole = own.mass_g * G_TO_T * reach[:, 3:].T @ reach[:, 3:] + own.inertia_gmm2 * GMM2_TO_TMM2
    arm = rigid_arm(com)[:3, 3:]
    about = whole - have[3:, 3:] - mass * arm.T @ arm
    size, axes = np.linalg.eigh((about + about.T) / 2)
    about = axes @ np.diag(np.maximum(size, 0.0)) @ axes.T
    move = rigid_arm(com - base_mm)
    return np.asarray(mass * move[:3].T @ move[:3] + move[3:].T @ about @ move[3:])
