"""A craft's mode carried over to the surfaces of its parts, for pictures."""

from __future__ import annotations

import numpy as np

from fravik.printing.zones import Floats

from ..frame import rigid_arm
from ..swing import ridden
from .assemble import Craft
from .body import SEAT
from .member import BASE


def part_motion(craft: Craft, place: str, shape: Floats, vertices_mm: Floats) -> Floats:
    """(n, 3) movement, in craft axes, of vertices given in a place's own axes; what lies behind its root rides with the root."""
    held = craft.places[place]
    element = held.placed.element
    q = craft.inside(place, shape[:, None])[:, 0]
    moves = (element.recovery @ q).reshape(-1, 6)
    base = element.ports[BASE]
    # the last node is the base itself
    move = ridden(element.nodes_mm[:-1], moves[:-1], vertices_mm)
    behind = vertices_mm[:, 0] < element.nodes_mm[0, 0] - 1e-6
    if not np.allclose(element.nodes_mm[0], element.nodes_mm[-2]) and behind.any():
        root = base.motion @ q
        move[behind] = root[:3] + np.cross(root[3:], vertices_mm[behind] - base.at_mm)
    return np.asarray(move @ held.placed.pose[:3, :3].T)


def body_motion(craft: Craft, body: str, shape: Floats, vertices_mm: Floats, reach_mm: float) -> Floats:
    """(n, 3) movement of vertices of a plate, in craft axes: the seat's, and what the ports do beyond that, the nearer the more."""
    element = craft.places[body].placed.element
    q = craft.inside(body, shape[:, None])[:, 0]
    seat = element.ports[SEAT]
    ride = seat.motion @ q
    move = ride[:3] + np.cross(ride[3:], vertices_mm - seat.at_mm)
    ports = [p for name, p in element.ports.items() if name != SEAT]
    beyond = np.array([(p.motion @ q - rigid_arm(p.at_mm - seat.at_mm) @ ride)[:3] for p in ports])
    away = ((vertices_mm[:, None] - np.array([p.at_mm for p in ports])) ** 2).sum(axis=2) / reach_mm**2
    weight = 1.0 / (away + 0.05) ** 2
    # far from every port, and at the seat, nothing is added
    still = 1.0 / (((vertices_mm - seat.at_mm) ** 2).sum(axis=1) / reach_mm**2 + 0.05) ** 2
    return np.asarray(move + weight @ beyond / (weight.sum(axis=1) + still)[:, None])
