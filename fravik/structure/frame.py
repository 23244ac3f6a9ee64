"""Chains of beams in space: curved or straight, with eccentric sections, held on springs, carrying rigid bodies.

Dofs at every node: u v w rx ry rz in part axes, at the part's reference line. Each element has its own frame, its middle and
shear centre off the reference line, and its own principal axes; element matrices are those of ``beams``.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import eigh

from .beams import BeamLine, TipBody, element_matrices
from .section import SectionLine
from .solve import solve_positive

Floats = NDArray[np.float64]

AXES = ("x", "y", "z")
_SAME: Floats = np.eye(6)


@dataclass(frozen=True)
class Chain:
    """Nodes (n+1, 3), element frames (n, 3, 3; rows along, across, up), and section constants of every element."""

    nodes_mm: Floats
    frames: Floats
    section: SectionLine


def rigid_arm(offset_mm: Floats) -> Floats:
    """(6, 6) that takes a node's motion to a point carried rigidly at an offset from it."""
    x, y, z = (float(v) for v in offset_mm)
    out = _SAME.copy()
    out[0, 4], out[0, 5], out[1, 3], out[1, 5], out[2, 3], out[2, 4] = z, -y, -z, x, y, -x
    return out


def _local(chain: Chain, shear_centre: bool) -> Floats:
    """(n, 6, 6) from a node's dofs in part axes to the element's own: eccentric and turned to principal axes."""
    s, n = chain.section, len(chain.frames)
    out = np.zeros((n, 6, 6))
    out[:, :3, :3] = chain.frames
    out[:, 3:, 3:] = chain.frames
    ecc = np.broadcast_to(np.eye(6), (n, 6, 6)).copy()
    ecc[:, 0, 4], ecc[:, 0, 5] = s.z_c_mm, -s.y_c_mm
    ecc[:, 1, 3] = -(s.z_s_mm if shear_centre else s.z_c_mm)
    ecc[:, 2, 3] = s.y_s_mm if shear_centre else s.y_c_mm
    turn = np.broadcast_to(np.eye(6), (n, 6, 6)).copy()
    angle = _angle(s)
    c, q = np.cos(angle), np.sin(angle)
    for a in (1, 4):
        turn[:, a, a], turn[:, a, a + 1] = c, q
        turn[:, a + 1, a], turn[:, a + 1, a + 1] = -q, c
    return turn @ ecc @ out


def _angle(s: SectionLine) -> Floats:
    """Turn to principal axes, kept within 45 degrees so that up stays up."""
    lean = np.abs(s.ei_cross_nmm2) > 1e-6 * np.sqrt(s.ei_up_nmm2 * s.ei_side_nmm2)
    angle = s.principal_rad
    angle = (angle + np.pi / 4) % (np.pi / 2) - np.pi / 4
    return np.where(lean, angle, 0.0)


def _pair(block: Floats) -> Floats:
    n = len(block)
    out = np.zeros((n, 12, 12))
    out[:, :6, :6] = block
    out[:, 6:, 6:] = block
    return out


def _beam_line(chain: Chain) -> BeamLine:
    s = chain.section
    length = np.linalg.norm(np.diff(chain.nodes_mm, axis=0), axis=1)
    angle = _angle(s)
    c, q = np.cos(angle), np.sin(angle)
    side = c * c * s.ei_side_nmm2 + 2 * c * q * s.ei_cross_nmm2 + q * q * s.ei_up_nmm2
    up = q * q * s.ei_side_nmm2 - 2 * c * q * s.ei_cross_nmm2 + c * c * s.ei_up_nmm2
    side, up = side / s.give_side, up / s.give_up
    ga_side = 1 / (c * c / s.ga_side_n + q * q / s.ga_up_n)
    ga_up = 1 / (q * q / s.ga_side_n + c * c / s.ga_up_n)
    nodes = np.concatenate([[0.0], np.cumsum(length)])
    return BeamLine(nodes, s.ea_n, up, side, s.gj_nmm2, ga_up, ga_side, s.mass_per_mm_t, s.polar_t_mm)


@dataclass(frozen=True)
class Assembled:
    """Global stiffness and mass (both (6(n+1),)*2), and what recovers element forces: k L (n, 12, 12) and the principal turn."""

    k: Floats
    m: Floats
    recover: Floats
    angle: Floats


def _sum_up(blocks: Floats) -> Floats:
    n = len(blocks)
    out = np.zeros((n + 1, 6, n + 1, 6))
    e = np.arange(n)
    out[e, :, e] += blocks[:, :6, :6]
    out[e + 1, :, e + 1] += blocks[:, 6:, 6:]
    out[e, :, e + 1] += blocks[:, :6, 6:]
    out[e + 1, :, e] += blocks[:, 6:, :6]
    return out.reshape(6 * (n + 1), 6 * (n + 1))


def assemble_chains(chains: list[Chain]) -> list[Assembled]:
    """Stiffness of chains that share nodes and frames, without supports; the first also gets its mass, the others a zero one."""
    n = len(chains[0].frames)
    lines = [_beam_line(c) for c in chains]
    first = lines[0].nodes_mm
    every = BeamLine(
        np.concatenate([first + k * (first[-1] + 1.0) for k in range(len(lines))]),
        *(_gapped([getattr(b, f) for b in lines]) for f in list(BeamLine.__dataclass_fields__)[1:]),
    )
    ke_all, me_all = element_matrices(every)
    out = []
    for k, chain in enumerate(chains):
        ke = ke_all[k * (n + 1) : k * (n + 1) + n]
        to_own = _pair(_local(chain, True))
        recover = ke @ to_own
        stiff = _sum_up(to_own.transpose(0, 2, 1) @ recover)
        mass = np.zeros_like(stiff)
        if k == 0:
            to_mass = _pair(_local(chain, False))
            mass = _sum_up(to_mass.transpose(0, 2, 1) @ me_all[:n] @ to_mass)
        out.append(Assembled(stiff, mass, recover, _angle(chain.section)))
    return out


def _gapped(parts: list[Floats]) -> Floats:
    """Element values of several chains in a row, with a filler for the gap between two chains."""
    out: list[Floats] = []
    for k, p in enumerate(parts):
        out += [p[:1]] if k else []
        out.append(p)
    return np.concatenate(out)


def assemble_chain(chain: Chain) -> Assembled:
    """Stiffness and mass of one chain without supports."""
    return assemble_chains([chain])[0]


def add_body(m: Floats, node: int, body: TipBody) -> None:
    """Put a rigid body onto a node of a mass matrix."""
    arm = rigid_arm(body.offset_mm)[:3]
    at = slice(6 * node, 6 * node + 6)
    m[at, at] += body.mass_t * arm.T @ arm
    m[6 * node + 3 : 6 * node + 6, 6 * node + 3 : 6 * node + 6] += body.inertia_t_mm2


def add_spring(k: Floats, node: int, stiffness: Floats, offset_mm: Floats) -> None:
    """Hold a point carried by a node on a (6, 6) spring to the ground."""
    arm = rigid_arm(offset_mm)
    at = slice(6 * node, 6 * node + 6)
    k[at, at] += arm.T @ stiffness @ arm


@dataclass(frozen=True)
class Responses:
    """Answers to load columns: displacements (dofs, loads) and internal forces (6, elements, loads).

    Internal forces are N, Vy, Vz, T about the shear centre, My, Mz at mid-element, in the element's frame.
    """

    u: Floats
    forces: Floats


def respond(a: Assembled, k: Floats, loads: Floats) -> Responses:
    """Solve a held chain (``k`` with its springs) for load columns."""
    u = solve_positive(k, loads)
    ends = u.reshape(len(a.recover) + 1, 6, -1)
    ends = np.concatenate([ends[:-1], ends[1:]], axis=1)
    f = a.recover @ ends
    near, far = f[:, :6], f[:, 6:]
    pull, twist = far[:, 0], far[:, 3]
    v, m = far[:, 1:3], (far[:, 4:6] - near[:, 4:6]) / 2
    c, s = np.cos(a.angle)[:, None], np.sin(a.angle)[:, None]
    v_y, v_z = c * v[:, 0] - s * v[:, 1], s * v[:, 0] + c * v[:, 1]
    m_y, m_z = c * m[:, 0] - s * m[:, 1], s * m[:, 0] + c * m[:, 1]
    return Responses(u, np.stack([pull, v_y, v_z, twist, m_y, m_z]))


def held_modes(k: Floats, m: Floats, count: int) -> tuple[Floats, Floats]:
    """Lowest natural frequencies of a held chain in Hz (count,) and mass-normalised shapes (dofs, count)."""
    size = len(k)
    count = min(count, size)
    # solved upside down (M v = mu K v, largest mu): the lowest modes then keep all their digits
    mu, vec = eigh(m, k, subset_by_index=(size - count, size - 1), check_finite=False)
    mu, vec = np.maximum(mu[::-1], 1e-30), vec[:, ::-1]
    return 1.0 / (2 * np.pi * np.sqrt(mu)), vec / np.sqrt(mu)
