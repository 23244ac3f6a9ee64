"""Each rotor's part in carrying and turning the craft, and how the battery would have to slide to even it out."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from fravik.flight.allocation import AXES, Allocation, allocate, authority_nmm, mixing, thrust_centre_mm, tilting
from fravik.kinds import places
from fravik.kinds.around import stations
from fravik.kinds.drives import drives, in_pairs
from fravik.model.material import Corner
from fravik.model.project import Project
from fravik.power.momentum import GRAVITY_M_S2, PowerFigures, power_figures, rpm_for_thrust
from fravik.printing.mass import MassProperties
from fravik.printing.zones import Floats

from .results import Evaluation

# shares of the usable charge that are drawn: just charged, and when it is time to land
CHARGED, EMPTY = 0.0, 1.0
ALIKE, LEAST_STRENGTH = 1e-9, 0.05


def mix_of(project: Project, craft: MassProperties, power: PowerFigures) -> Floats:
    """The mixing (4, n + t) of the craft's rotors about its centre of mass."""
    return mixing(stations(project), craft.com_mm, np.array([r.torque_mm for r in power.rotors]))


def _weight_n(craft: MassProperties) -> float:
    return craft.mass_g * 1e-3 * GRAVITY_M_S2


def allocation_of(project: Project, craft: MassProperties, power: PowerFigures) -> Allocation:
    """Thrust of each rotor with the centre of mass where it is."""
    full = np.array([r.full_thrust_n for r in power.rotors])
    strength = None if np.ptp(full) <= ALIKE * full.max() else np.maximum(full / max(float(full.mean()), 1e-9), LEAST_STRENGTH)
    return allocate(mix_of(project, craft, power), _weight_n(craft), project.brief.yaw_share, len(power.rotors), strength)


def carried(project: Project, craft: MassProperties) -> tuple[PowerFigures, Allocation]:
    """What the drives do, and how the weight is shared over them; rotors of one drive are taken to push alike in hover, as they do on the
    mean."""
    every, pairs = drives(project), in_pairs(project)
    power = power_figures(craft.mass_g, project.components, every, pairs)
    shares = allocation_of(project, craft, power)
    if len(set(every)) > 1:
        each = {d: float(np.mean([n for e, n in zip(every, shares.hover_n.tolist(), strict=True) if e == d])) for d in set(every)}
        power = power_figures(craft.mass_g, project.components, every, pairs, [each[d] for d in every])
    return power, shares


def authority_rad_s2(result: Evaluation, drawn: float | None = None, lost: int | None = None) -> dict[str, float]:
    """The fastest turning that can be begun from hover about each axis with the other two held, rad/s^2; 0 where it cannot hover so.

    ``drawn`` is the share of the usable charge that is drawn, half unless said, ``lost`` a rotor that gives nothing.
    """
    every = stations(result.project)
    pushes = np.array([result.allocation.hover_n[k] * math.tan(math.radians(every[k].tilt_deg)) for k in tilting(every)])
    mix = mix_of(result.project, result.craft, result.power)
    full = full_thrusts_n(result, drawn)
    if lost is not None:
        full[lost] = 0.0
        pushes = np.where(np.array(tilting(every), dtype=int) == lost, 0.0, pushes)
    moments = authority_nmm(mix, _weight_n(result.craft), full, pushes)
    # N mm over g mm^2 is 1e6 rad/s^2
    return {axis: moments[axis] / float(result.craft.inertia_gmm2[k, k]) * 1e6 for k, axis in enumerate(AXES)}


def one_lost_rad_s2(result: Evaluation) -> dict[str, float]:
    """The same with whichever rotor is missed most, an axis; 0 where it then cannot hover or hold the other axes."""
    each = [authority_rad_s2(result, lost=k) for k in range(len(stations(result.project)))]
    return {axis: min(e[axis] for e in each) for axis in AXES}


def power_at(result: Evaluation, drawn: float, corner: Corner = "typical") -> PowerFigures:
    """What the drives do with so much of the usable charge drawn, from a pack that is as good as usual, worse (``low``) or better."""
    pushes = [r.hover_thrust_n for r in result.power.rotors]
    return power_figures(
        result.craft.mass_g, result.project.components, drives(result.project), in_pairs(result.project), pushes, drawn, corner
    )


def full_thrusts_n(result: Evaluation, drawn: float | None = None) -> Floats:
    """Full thrust of each rotor (n,), half way through the flight or at another share of the usable charge."""
    power = result.power if drawn is None else power_at(result, drawn)
    return np.array([r.full_thrust_n for r in power.rotors])


def battery_slide_mm(project: Project, craft: MassProperties) -> float:
    """How far forward the battery has to go for the centre of mass to come under the middle of thrust, fore and aft."""
    apart = float(thrust_centre_mm(stations(project))[0] - craft.com_mm[0])
    return apart * craft.mass_g / max(project.components.battery.mass_g, 1e-6)


def rotor_rows(result: Evaluation) -> list[dict[str, Any]]:
    """One row a rotor. ``share_pull_up`` and ``share_yaw`` are its part of the whole thrust there, ``lean_deg`` how it leans in hover."""
    share, props = result.allocation, [d.propeller for d in drives(result.project)]
    hover, yaw, every = share.hover_n, share.hard_yaw_n, stations(result.project)
    lean = dict(zip(tilting(every), share.push_n.tolist(), strict=True))
    return [
        {
            "id": s.id, "x_mm": s.x_mm, "y_mm": s.y_mm, "z_mm": s.z_mm, "spin": s.spin, "hover_n": float(hover[k]),
            "full_n": result.power.rotors[k].full_thrust_n,
            "hover_rpm": rpm_for_thrust(float(hover[k]), props[k].thrust_coefficient, props[k].diameter_mm),
            "full_rpm": result.power.rotors[k].full_rpm, "propeller_mm": props[k].diameter_mm,
            "share_pull_up": float(hover[k] / hover.sum()), "share_yaw": float(yaw[k] / yaw.sum()),
            "tilt_deg": s.tilt_deg, "lean_deg": math.degrees(math.atan2(lean.get(k, 0.0), max(float(hover[k]), 1e-9))),
        }
        for k, s in enumerate(every)
    ]  # fmt: skip


def place_rows(project: Project) -> list[dict[str, Any]]:
    """One row a copy of a part."""
    return [
        {"id": p.id, "part": p.part_id, "x_mm": float(p.at_mm[0]), "y_mm": float(p.at_mm[1]), "z_mm": float(p.at_mm[2]),
         "mirror": bool(np.linalg.det(p.pose[:3, :3]) < 0),
         "follows": p.follows}
        for p in places(project)
    ]  # fmt: skip
