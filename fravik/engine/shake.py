"""How much the craft shakes: imbalance and blade pass of every rotor over the motors' speeds, as the gyro and the camera feel it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np

from fravik.kinds import kind_of
from fravik.kinds.around import stations
from fravik.kinds.drives import drives, rotors_named, unlike
from fravik.model.craft import Block, Propeller
from fravik.model.material import CORNERS, Filament
from fravik.model.project import Part, Project
from fravik.power.drive import USUAL
from fravik.power.momentum import PowerFigures, RotorFigures
from fravik.printing.zones import Floats
from fravik.structure.craft.assemble import Craft, PortOf
from fravik.structure.craft.member import END
from fravik.structure.craft.response import Complex, Shaken, acceleration, into, modal_loss, size
from fravik.structure.excitation import Order, orders
from fravik.structure.softmount import SoftMount

# how far a propeller's mass centre lies off its shaft, over its diameter: working assumptions, to be corrected by a balancer
OFFSET = {"balanced": 2e-4, "as_bought": 6e-4, "worn": 2e-3}
# what one blade lifts more than the others, of its own lift, at BLADE_AT of the radius: grams do not mend it; working assumptions
UNEQUAL = {"balanced": 0.02, "as_bought": 0.02, "worn": 0.05}
BLADE_AT = 0.75
# how much one propeller differs from the next of its sort in either: times as much, or as little
PUSH_SPREAD = 2.0
# what bolts, wires and air add to the loss factor of the plastic: low, usual, high; a working assumption
FITTINGS_LOSS = (0.005, 0.015, 0.03)
LEAST_GMM = 1e-3  # nothing is better balanced
MAP_POINTS, BAND_POINTS = 160, 48
G_MM_S2 = 9806.65


def out_of_balance_gmm(prop: Propeller) -> float:
    """As a balancer told, or the usual of its kind."""
    return prop.unbalance_gmm if prop.unbalance_gmm is not None else prop.mass_g * OFFSET[prop.balance] * prop.diameter_mm


def orders_of(project: Project, power: PowerFigures) -> tuple[Order, ...]:
    """What shakes the craft: 1/rev and blade pass of all rotors, or of each drive's where they are not alike."""
    every, ids = drives(project), [s.id for s in stations(project)]
    if len(set(every)) == 1:
        return orders(every[0].propeller.blades)
    out: list[Order] = []
    for drive in unlike(project):
        rotors = tuple(k for k, d in enumerate(every) if d == drive)
        of = "" if drive.path == USUAL else f" of {rotors_named(project, [ids[k] for k in rotors])}"
        out += orders(drive.propeller.blades, of, power.rotors[rotors[0]].hover_rpm / power.hover_rpm, rotors)
    return tuple(out)


@dataclass(frozen=True, eq=False)
class Felt:
    """Over speeds (f,), at the corners of the materials and by order: rate of the gyro in deg/s, its acceleration in g, and how far the
    camera's picture is torn in pixels, (3, orders, f) each, for usual propellers. ``camera`` says whether there is one on a mount."""

    rpm: Floats
    gyro_dps: Floats
    gyro_g: Floats
    camera_px: Floats
    camera: bool


@dataclass(frozen=True, eq=False)
class Shake:
    """A craft ready to be shaken, at the corners of its materials: softest, usual, stiffest.

    ``hubs`` (rotors, 6, m) and ``hubs_rigid`` (rotors, 6, 6) are how the rotors' hubs move and turn in its modes and with the rigid craft,
    ``shapes`` its modes, ``gyro_feet`` and ``camera_feet`` what the two stand on where that is soft.
    """

    corners: tuple[Shaken, Shaken, Shaken]
    project: Project
    power: PowerFigures
    spins: tuple[int, ...]
    hubs: Floats
    hubs_rigid: Floats
    craft: Craft
    shapes: Floats
    rotors: tuple[Spinning, ...]
    gyro_at: PortOf
    camera_at: PortOf | None
    gyro_feet: SoftMount | None
    camera_feet: SoftMount | None

    @property
    def camera(self) -> bool:
        """Whether there is one on a mount."""
        return self.camera_at is not None

    def over(self, rpm: Floats) -> Felt:
        """What is felt at motor speeds (f,)."""
        every = [self._at(shaken, rpm) for shaken in self.corners]
        dps, g, px = (np.stack([e[k] for e in every]) for k in range(3))
        return Felt(rpm, dps, g, px, self.camera)

    def _at(self, shaken: Shaken, rpm: Floats) -> tuple[Floats, Floats, Floats]:
        out = []
        for order in self.orders:
            w = 2 * math.pi * rpm / 60.0 * order.per_rev
            a = acceleration(shaken, w, self.ways(order), self.push_n(order, rpm * order.ratio))
            for k, feet in enumerate((self.gyro_feet, self.camera_feet)):
                if feet is not None and k < a.shape[1]:
                    a[:, k] *= feet.through(w)[:, :, None]
            rate = a[:, :, 3:] / w[:, None, None, None]
            dps, g = np.degrees(size(rate[:, 0])), size(a[:, 0, :3]) / G_MM_S2
            out.append((dps, g, self._smear(rate[:, 1, :], w) if self.camera else np.zeros_like(dps)))
        return tuple(np.stack([o[k] for o in out]) for k in range(3))  # type: ignore[return-value]

    def ways(self, order: Order) -> Complex:
        """(pushes, 6) of all rotors, and again: imbalance goes round with its rotor, and so do the pull and the drag of a blade that lifts
        more than the others; blade pass goes along the shaft, and holds its turning up as it lifts."""
        n, spins = len(self.spins), np.array(self.spins)
        out = np.zeros((2 if order.way == "sideways" else 1, n, 6), dtype=np.complex128)
        if order.way == "sideways":
            out[0, :, 0], out[0, :, 1] = 1.0, -1j * spins
            pull, drag = self._unequal(order)
            out[1, :, 0], out[1, :, 1], out[1, :, 3], out[1, :, 4] = -1j * drag, -spins * drag, -1j * spins * pull, -pull
        else:
            share = np.array([r.pulse for r in self.rotors]) / self._pulse(order)
            out[0, :, 2], out[0, :, 5] = share, -spins * share * [r.torque_mm for r in self.power.rotors[:n]]
        if order.rotors is not None:
            out[:, [k for k in range(n) if k not in order.rotors]] = 0.0
        return out.reshape(-1, 6)

    def _unequal(self, order: Order) -> tuple[float, float]:
        """What one blade lifts and drags more than the others, as a turn of the hub in N mm and a push on it in N, over the imbalance."""
        prop, rotor = self._own(order)
        at = BLADE_AT * prop.diameter_mm / 2
        more = UNEQUAL[prop.balance] * rotor.hover_thrust_n / prop.blades / float(self.push_n(order, np.array([rotor.hover_rpm]))[0])
        return more * at, more * rotor.torque_mm / at

    def _own(self, order: Order) -> tuple[Propeller, RotorFigures]:
        first = order.rotors[0] if order.rotors is not None else 0
        return drives(self.project)[first].propeller, self.power.rotors[first]

    def push_n(self, order: Order, rpm: Floats) -> Floats:
        """(f,) on each rotor of an order at its own speeds."""
        prop, rotor = self._own(order)
        if order.way == "sideways":
            return np.asarray(max(out_of_balance_gmm(prop), LEAST_GMM) * 1e-6 * (2 * math.pi * rpm / 60.0) ** 2)
        return np.asarray(self._pulse(order) * rotor.hover_thrust_n * (rpm / rotor.hover_rpm) ** 2)

    def _pulse(self, order: Order) -> float:
        """Of the thrust, what pulses at blade pass: the mean of an order's rotors."""
        return float(np.mean([r.pulse for k, r in enumerate(self.rotors) if order.rotors is None or k in order.rotors]))

    def _smear(self, rate: Complex, w: Floats) -> Floats:
        """How far a picture read out line by line is torn, in pixels: the view's turn between one end of the read-out and the other."""
        brief = self.project.brief
        turn = np.degrees(np.sqrt((np.abs(rate[:, 1:]) ** 2).sum(axis=(-2, -1)))) / w
        return np.asarray(2 * turn * brief.picture_px_deg * np.abs(np.sin(np.minimum(w * brief.readout_ms * 1e-3 / 2, math.pi / 2))))

    @cached_property
    def orders(self) -> tuple[Order, ...]:
        """What pushes, in the order of the figures."""
        return orders_of(self.project, self.power)

    def nearest(self, order: int, rpm: float) -> int:
        """The mode that an order at a speed excites most, seen at the gyro."""
        one = self.corners[1]
        w = 2 * math.pi * rpm / 60.0 * self.orders[order].per_rev
        driven = np.abs(into(one.pushed, self.ways(self.orders[order]))).sum(axis=1)
        size_ = np.linalg.norm(one.seen[0, 3:], axis=0) * driven / np.abs(one.w_rad_s**2 * (1 + 1j * one.loss) - w**2)
        return int(size_.argmax())

    @cached_property
    def map(self) -> Felt:
        """From idle to full speed."""
        return self.over(np.linspace(max(self.power.idle_rpm, 60.0), max(self.power.full_rpm, 120.0), MAP_POINTS))


class Made(Protocol):
    """What is known of a part here: the part, and its plastic as it is in service."""

    @property
    def part(self) -> Part: ...
    @property
    def filament(self) -> Filament: ...


@dataclass(frozen=True, eq=False)
class Spinning:
    """A rotor as it shakes the craft: the port that carries it, where its hub is (3,), which way it turns, and what of its thrust pulses
    as its blades pass over its arm."""

    on: PortOf
    hub_mm: Floats
    spin: int
    pulse: float


def shake_of(
    project: Project, pieces: Mapping[str, Made], craft: Craft, body: PortOf, plate: str, rotors: Sequence[Spinning], shapes: Floats,
    corners_hz: Floats, power: PowerFigures,
) -> Shake:  # fmt: skip
    """The craft with its damping, its rotors' hubs and the two places that feel it: the controller's seat, which is ``body``, and the
    camera on the first mount. ``plate`` answers for the body's plastic."""
    own = {place: body[0] if place == body[0] else place.rsplit("_", 1)[0] for place in craft.places}
    mounts = [place for place, k in own.items() if k in pieces and _carries(pieces[k].part)]
    ports = [body, *((place, END) for place in mounts[:1])]
    seen, rigid = np.stack([craft.motion(p) for p in ports]), craft.rigid
    hubs = np.stack([craft.motion(r.on, r.hub_mm) for r in rotors])
    mass = rigid.T @ craft.m @ rigid
    out = []
    for c, corner in enumerate(CORNERS):
        loss = {
            place: FITTINGS_LOSS[c] + pieces[plate if place == body[0] else k].filament.loss_factor.at(corner) for place, k in own.items()
        }
        out.append(Shaken(2 * math.pi * corners_hz[c], modal_loss(craft, shapes, loss), hubs @ shapes, seen @ shapes, hubs @ rigid,
                          seen @ rigid, mass))  # fmt: skip
    spins = tuple(r.spin for r in rotors)
    return Shake((out[0], out[1], out[2]), project, power, spins, hubs @ shapes, hubs @ rigid, craft, shapes, tuple(rotors), body,
                 ports[1] if mounts else None, *soft_mounts(project))  # fmt: skip


def soft_mounts(project: Project) -> tuple[SoftMount | None, SoftMount | None]:
    """What the gyro and the first camera stand on, where that is soft."""
    blocks = project.components.blocks
    gyro = next((b for b in blocks if b.has_gyro), None)
    camera = next((b for b in blocks if b.view_deg > 0), None)
    return soft_mount(gyro), soft_mount(camera)


def soft_mount(block: Block | None) -> SoftMount | None:
    """The rubber feet of a component; None where it is screwed down hard, or there is none."""
    if block is None or block.grommets == 0 or block.mass_g <= 0:
        return None
    size = (block.length_mm, block.width_mm, block.height_mm)
    return SoftMount(block.mass_g, size, block.grommets, block.grommet_n_mm, block.grommet_loss)


def _carries(part: Part) -> bool:
    """Whether it is a camera's mount: what hangs from a plate and does not stand on the ground."""
    kind = kind_of(part.shape)
    return kind.seat == "plate" and kind.bends and not kind.stands
