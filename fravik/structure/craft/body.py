"""The body as an element: the plates' loose faces and the tongues' blocks, with the spots where legs, decks and the controller stand.

A spot moves as its neighbourhood on the plate does: by least squares of the faces round it, the nearer the more. Plates weigh where their
blocks and their middle are (their own inner modes are not in this picture: printed plates of these sizes ring far above the arms).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from fravik.model.material import CORNERS
from fravik.printing.mass import MassProperties
from fravik.printing.zones import Floats

from ..body import BATTERY, LEGS, STACK, STRAP, BodyPoints, Condensed, Pair
from ..frame import rigid_arm
from .assemble import Carried, PortOf
from .element import Port, SuperElement, rigid_nodes, without_idle

SEAT = "seat"
LOOSE = 1e-9  # of the largest: a motion that the faces round a spot do not tell
NEAR_MM = 12.0  # faces this far from a spot count half as much as one on it
EVEN = 0.01  # of what a share of the spread counts for
G_TO_T, GMM2_TO_TMM2 = 1e-6, 1e-6


def root_port(arm: int) -> str:
    """Name of the port at the root of an arm, counted as the layout does."""
    return f"root_{arm}"


@dataclass(frozen=True, eq=False)
class Spot:
    """A place (3,) of the body that something stands on, by the plate that it stands on."""

    plate: str
    at_mm: Floats


def averaged(stiffnesses: Sequence[Floats], seat: Floats) -> Floats:
    """Free stiffness (n, n) whose give is the mean of several; ``seat`` (6, n) is any port's motion.

    A free body's give is that with the seat held and the seat's own motion, so a spring on the seat makes it finite and leaves it as it is.
    """
    if len(stiffnesses) == 1:
        return stiffnesses[0]
    spring = float(np.median(np.diag(stiffnesses[0]))) * seat.T @ seat
    give = np.mean([np.linalg.inv(k + spring) for k in stiffnesses], axis=0)
    out = np.linalg.inv(give) - spring
    return np.asarray((out + out.T) / 2)


@dataclass(frozen=True, eq=False)
class BodyFrame:
    """Coordinates of a pair of plates in craft axes.

    Where each is (n, 3), which of six dofs (n,), of which of the body's points (n,; -1 for a block's), each plate's middle height, and the
    points of it that something stands on.
    """

    at_mm: Floats
    dof: np.ndarray
    point: np.ndarray
    plate_z_mm: dict[str, float]
    stood_on: dict[str, list[int]]
    blocks: int
    pair: Pair
    known: dict[str, tuple[Floats, np.ndarray, Floats]] = field(default_factory=dict)

    @property
    def rigid(self) -> Floats:
        """(n, 6) of a rigid motion."""
        every = rigid_nodes(self.at_mm).reshape(-1, 6, 6)
        return np.asarray(every[np.arange(len(self.dof)), self.dof])

    def faces(self, plate: str) -> tuple[Floats, np.ndarray, Floats]:
        """What is known of a plate's motion, a row each: where (r, 3), which way (r,), and from what coordinates (r, n)."""
        if plate not in self.known:
            self.known[plate] = self._faces(plate)
        return self.known[plate]

    def _faces(self, plate: str) -> tuple[Floats, np.ndarray, Floats]:
        z, free, n = self.plate_z_mm[plate], self.pair.free, len(self.dof)
        loose = self.pair.into[plate][self.pair.into[plate] < free]
        loose = loose[np.isin(self.point[loose], self.stood_on[plate])]
        single = np.zeros((len(loose), n))
        single[np.arange(len(loose)), loose] = 1.0
        at, dof, move = [self.at_mm[loose]], [self.dof[loose]], [single]
        for first in range(free, n, 6):
            foot = np.array([*self.at_mm[first][:2], z])
            block = np.zeros((3, n))
            block[:, first : first + 6] = rigid_arm(foot - self.at_mm[first])[:3]
            at.append(np.broadcast_to(foot, (3, 3)))
            dof.append(np.arange(3))
            move.append(block)
        return np.concatenate(at), np.concatenate(dof), np.concatenate(move)

    def spots(self, plate: str, at_mm: Floats) -> Floats:
        """(s, 6, n) motion of places (s, 3) on a plate: they move as the faces round them do."""
        at, dof, move = self.faces(plate)
        weight = 1.0 / (1.0 + ((at[None, :, :2] - at_mm[:, None, :2]) ** 2).sum(axis=2) / NEAR_MM**2)
        return np.asarray(_fit(at[None] - at_mm[:, None], dof, weight) @ move)


def _fit(arms_mm: Floats, dof: np.ndarray, weight: Floats) -> Floats:
    """(s, 6, r) rigid motions that come closest to the given movements of points at ``arms_mm`` (s, r, 3), each with its weight (s, r)."""
    # turns are counted by the reach, so that all six weigh alike
    some, count, _ = arms_mm.shape
    reach = np.maximum(np.abs(arms_mm).max(axis=(1, 2)), 1.0)
    rows = rigid_nodes((arms_mm / reach[:, None, None]).reshape(-1, 3)).reshape(some, count, 6, 6)[:, np.arange(count), dof]
    heavy = (rows * weight[..., None]).transpose(0, 2, 1)
    size, axes = np.linalg.eigh(heavy @ rows)
    give = np.where(size > LOOSE * size[:, -1:], 1.0 / np.maximum(size, 1e-300), 0.0)
    found = (axes * give[:, None]) @ axes.transpose(0, 2, 1) @ heavy
    found[:, 3:] /= reach[:, None, None]
    return np.asarray(found)


def body_frame(pair: Pair, plates: Mapping[str, Condensed], points: BodyPoints, gap_mm: float) -> BodyFrame:
    """Where the pair's coordinates are; blocks stand half way up the gap, which begins at the bottom plate's top."""
    blocks, at, dof = len(points.bolts), np.zeros((len(pair.k), 3)), np.zeros(len(pair.k), dtype=np.int64)
    point = np.full(len(pair.k), -1)
    z = {name: gap_mm / 2 + pair.heights[name] for name in plates}
    for name, plate in plates.items():
        loose = plate.slots[len(plate.slots) - int((pair.into[name] < pair.free).sum()) :]
        mine = pair.into[name][pair.into[name] < pair.free]
        at[mine, :2], at[mine, 2], dof[mine] = points.xy_mm[loose // 5], z[name], loose % 5
        point[mine] = loose // 5
    for a, bolts in enumerate(points.bolts):
        mine = np.arange(pair.free + 6 * a, pair.free + 6 * a + 6)
        at[mine, :2], at[mine, 2], dof[mine] = points.xy_mm[list(bolts)].mean(axis=0), gap_mm / 2, np.arange(6)
    # legs hang from the lower plate, battery and strap lie on the upper one; a plate alone bears both
    deck, under = {BATTERY, STRAP}, {LEGS}
    stood = {n: [p for s in ({STACK} | (deck | under if len(plates) == 1 else deck if n == "top" else under)) for p in points.spots[s]]
             for n in plates}  # fmt: skip
    return BodyFrame(at, dof, point, z, stood, blocks, pair)


def seat_port(frame: BodyFrame, points: BodyPoints) -> Port:
    """Where the controller and its gyro sit: the standoffs of the lower plate."""
    hold = np.array(frame.pair.hold)
    at = np.array([*points.xy_mm[list(points.spots[STACK])].mean(axis=0), frame.at_mm[hold[0], 2]])
    motion = np.zeros((6, len(frame.dof)))
    motion[:, hold] = _fit((frame.at_mm[hold] - at)[None], frame.dof[hold], np.ones((1, len(hold))))[0]
    return Port(at, motion)


def body_element(frame: BodyFrame, seat: Port, k: Floats, spots: Mapping[str, Spot]) -> SuperElement:
    """The body with its ``k`` (3, n, n); it has no mass of its own: what is on it is carried by its ports."""
    n = len(frame.dof)
    ports = {SEAT: seat}
    for plate in frame.plate_z_mm:
        mine = {name: s.at_mm for name, s in spots.items() if s.plate == plate}
        if mine:
            ports.update(zip(mine, map(Port, mine.values(), frame.spots(plate, np.array(list(mine.values())))), strict=True))
    for a in range(frame.blocks):
        first = frame.pair.free + 6 * a
        motion = np.zeros((6, n))
        motion[:, first : first + 6] = np.eye(6)
        ports[root_port(a)] = Port(frame.at_mm[first], motion)
    # each coordinate moves along one dof of the point where it is
    recovery = np.zeros((n, 6, n))
    recovery[np.arange(n), frame.dof, np.arange(n)] = 1.0
    whole = SuperElement(k, np.zeros((n, n)), frame.rigid, ports, frame.at_mm, recovery.reshape(6 * n, n))
    return without_idle(whole)


def rigid_body(seat_mm: Floats, roots_mm: Sequence[Floats], spots: Mapping[str, Floats]) -> SuperElement:
    """A body that does not give, in craft axes: its six coordinates are the motion of its seat (3,), and all that stands on it rides along.

    Like a printed one it has no mass of its own.
    """
    at = {SEAT: seat_mm, **{root_port(a): p for a, p in enumerate(roots_mm)}, **spots}
    ports = {name: Port(p, rigid_arm(p - seat_mm)) for name, p in at.items()}
    return SuperElement(np.zeros((len(CORNERS), 6, 6)), np.zeros((6, 6)), rigid_arm(seat_mm), ports, seat_mm[None], np.eye(6))


def shared(mass: MassProperties, carriers: Sequence[tuple[PortOf, Floats]]) -> list[Carried]:
    """A body in craft axes spread over carriers, each a port and a place (3,): so much on each that mass, centre and spread come closest to
    its own, what its inertia has beyond that in the same shares.

    Of many ways that come as close it is the most even one: left and right are borne alike where they are alike.
    """
    at = np.array([p for _, p in carriers])
    m, com = mass.mass_g * G_TO_T, mass.com_mm
    about = mass.inertia_gmm2 * GMM2_TO_TMM2
    from scipy.optimize import nnls  # loads much else: not while the window starts

    spread = np.trace(about) / 2 * np.eye(3) - about  # second moments of the mass itself
    size = max(float(np.abs(at - com).max()), 1.0)
    x, y = ((at - com) / size)[:, :2].T
    rows = np.stack([np.ones(len(at)), x, y, x**2, y**2, x * y])
    wanted = np.array([m, 0.0, 0.0, *(np.array([spread[0, 0], spread[1, 1], spread[0, 1]]) / size**2)])
    sure = np.array([100.0, 30.0, 30.0, 1.0, 1.0, 1.0])
    even = EVEN * np.eye(len(at))
    share, _ = nnls(np.concatenate([rows * sure[:, None], even]), np.concatenate([wanted * sure, np.full(len(at), EVEN * m / len(at))]))
    share *= m / max(float(share.sum()), 1e-30)
    held = np.einsum("i,ij,ik->jk", share, at - com, at - com)
    left = about - (np.trace(held) * np.eye(3) - held)
    size_left, axes = np.linalg.eigh(left)
    rest = axes @ np.diag(np.maximum(size_left, 0.0)) @ axes.T
    return [Carried(port, float(w), rest * w / m, p) for (port, p), w in zip(carriers, share, strict=True) if w > 0]
