"""Root joints as six springs with strength, slip and free play, in closed form.

Axes at the root, middle of the section: x out along the part, y across, z up. Springs are diagonal. A tongue between plates is
a beam on an elastic foundation (Hetenyi), the plastic above and below it being the springs; a root in one piece gives as a
bar built into a half-plane (O'Donnell: theta = 16.67 M / (pi E b h^2)).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from fravik.library import adhesive, screw
from fravik.model.joint import Joint
from fravik.model.material import Corner, Filament
from fravik.model.recipe import Recipe
from fravik.printing.orientation import layer_normal

from .fasteners import ScrewHold, around_hole, screw_hold
from .tubejoint import IN_A_HOLE, socket_mpa

Floats = NDArray[np.float64]

RIGID = 1e7
BUILT_IN = 16.67
BORE_FOUNDATION = 0.8


@dataclass(frozen=True)
class BarGrip:
    """A bar in a clamp's bore: its outside and how much of it is held, whether it can turn there, and its bending stiffness."""

    outer_mm: float
    length_mm: float
    turns: bool
    ei_nmm2: float


@dataclass(frozen=True)
class RootGeometry:
    """The part at its root: section b x h, tongue length and width, its bolts as (x, y) from the root, and the bar in it, if it is a block
    that holds one."""

    width_mm: float
    height_mm: float
    tongue_length_mm: float
    tongue_width_mm: float
    bolts_mm: tuple[tuple[float, float], ...] = ()
    bolt_hole_mm: float = 3.2
    bar: BarGrip | None = None


@dataclass(frozen=True)
class Holder:
    """The printed part whose plastic gives where something is held."""

    filament: Filament
    recipe: Recipe


@dataclass(frozen=True)
class JointSprings:
    """Stiffness (6,) N/mm and N mm/rad, and free play as turns about y (up and down) and z (sideways), rad."""

    stiffness: Floats
    play_y_rad: float
    play_z_rad: float


@dataclass(frozen=True)
class JointUse:
    """How much of a joint a load takes: 1 over reserve for breaking, with what breaks; and for slipping (0 when it cannot)."""

    broken: Floats
    what: str
    slipping: Floats
    slips: str


def foundation_end(ei: float, foundation: float, length: float, pieces: int = 10) -> Floats:
    """Flexibility (2, 2) at the end of a free beam on an elastic foundation: deflection and slope from force and moment there.

    ``foundation`` N/mm per mm. By beam elements with consistent foundation stiffness; long beams agree with Hetenyi's
    2 beta / k, 2 beta^2 / k, 4 beta^3 / k.
    """
    h = length / pieces
    k = np.zeros((2 * pieces + 2, 2 * pieces + 2))
    bend = ei / h**3 * np.array([[12, 6 * h, -12, 6 * h], [6 * h, 4 * h * h, -6 * h, 2 * h * h],
                                 [-12, -6 * h, 12, -6 * h], [6 * h, 2 * h * h, -6 * h, 4 * h * h]])  # fmt: skip
    rest = foundation * h / 420 * np.array([[156, 22 * h, 54, -13 * h], [22 * h, 4 * h * h, 13 * h, -3 * h * h],
                                            [54, 13 * h, 156, -22 * h], [-13 * h, -3 * h * h, -22 * h, 4 * h * h]])  # fmt: skip
    for e in range(pieces):
        k[2 * e : 2 * e + 4, 2 * e : 2 * e + 4] += bend + rest
    load = np.zeros((len(k), 2))
    load[-2, 0] = load[-1, 1] = 1.0
    return np.asarray(np.linalg.solve(k, load)[-2:])


def _through_thickness(f: Filament, corner: Corner, recipe: Recipe) -> tuple[float, float]:
    """Modulus and shear modulus of the tongue squeezed between its plates."""
    up = abs(float(layer_normal(recipe)[2]))
    e = f.e_cross_mpa.at(corner) + up * (f.e_layer_mpa.at(corner) - f.e_cross_mpa.at(corner))
    solid = around_hole(recipe, recipe.core_density) * 0.5 + 0.5 * max(recipe.core_density, 0.05)
    return e * solid, f.g_layer_mpa.at(corner) * solid


@lru_cache(maxsize=64)
def joint_springs(joint: Joint, root: RootGeometry, f: Filament, corner: Corner, recipe: Recipe) -> JointSprings:
    """Springs of a root joint; shared between callers, so not to be written to."""
    b, h, length, wide = root.width_mm, root.height_mm, root.tongue_length_mm, root.tongue_width_mm
    e = f.e_road_mpa.at(corner)
    k = np.full(6, RIGID)
    if joint.kind == "one_piece":
        k[4], k[5] = math.pi * e * b * h * h / BUILT_IN, math.pi * e * h * b * b / BUILT_IN
        k[3] = f.g_layer_mpa.at(corner) * b * h * (b + h) / 4
        return JointSprings(k, 0.0, 0.0)
    ez, gz = _through_thickness(f, corner, recipe)
    if joint.kind in ("bolted", "dovetail"):
        faces = 2 if joint.plates == "both" or joint.kind == "dovetail" else 1
        bed = faces * 2 * ez * wide / h
        flex = foundation_end(e * wide * h**3 / 12, bed, length)
        k[2], k[4] = 1 / float(flex[0, 0]), 1 / float(flex[1, 1])
        k[3] = bed * wide**2 / 12 * length
        slab = faces * 2 * gz / h
        k[0] = k[1] = slab * length * wide
        k[5] = slab * length * wide * (length**2 + wide**2) / 12
        if joint.kind == "bolted":
            return JointSprings(k, 0.0, 0.0)
        gap = joint.fit_gap_mm
        reach = max(wide + 2 * joint.dovetail_depth_mm, 1.0)
        return JointSprings(k, 2 * gap / length, 2 * gap / max(length, reach))
    if root.bar is not None:
        # the bore, and the block that it is in, give one after the other
        block = joint_springs(joint.model_copy(update={"kind": "bolted", "plates": "both"}), replace(root, bar=None), f, corner, recipe)
        return JointSprings(1 / (1 / _bore(root.bar, f, corner) + 1 / block.stiffness), 0.0, 0.0)
    if joint.kind == "clamp":
        bed, grip = BORE_FOUNDATION * e, joint.clamp_length_mm
        k[1] = k[2] = bed * grip
        k[4] = k[5] = bed * grip**3 / 12
        k[3] = f.g_plane_mpa.at(corner) * math.pi * joint.tube_mm**2 * grip / (2 * max(0.5 * joint.tube_mm, 1.0))
        return JointSprings(k, 0.0, 0.0)
    if joint.kind == "glued":
        glue = adhesive(joint.adhesive)
        per_area = 1 / (joint.glue_gap_mm / glue.shear_modulus_mpa + h / (2 * gz))
        k[0] = k[1] = per_area * length * wide
        k[5] = per_area * length * wide * (length**2 + wide**2) / 12
        bed = 2 * ez * wide / h
        flex = foundation_end(e * wide * h**3 / 12, bed, length)
        k[2], k[4] = 1 / float(flex[0, 0]), 1 / float(flex[1, 1])
        k[3] = bed * wide**2 / 12 * length
        return JointSprings(k, 0.0, 0.0)
    # hinge: two bearings carry everything but the turn about the pin, which the latch holds
    ear = IN_A_HOLE * e * h / 3 / 2
    k[0] = k[1] = 2 * ear
    k[3] = k[4] = ear * joint.pin_span_mm**2 / 2
    k[2] = ez * math.pi * joint.pin_mm**2 / h
    k[5] = ear * joint.latch_radius_mm**2
    return JointSprings(k, joint.pin_play_mm / joint.pin_span_mm, joint.latch_play_mm / joint.latch_radius_mm)


def _bore(bar: BarGrip, f: Filament, corner: Corner) -> Floats:
    """(6,) springs of a bar in its bore: a beam on the plastic round it, and the plastic sheared round it."""
    bed = BORE_FOUNDATION * f.e_road_mpa.at(corner)
    flex = foundation_end(bar.ei_nmm2, bed, bar.length_mm)
    across, bend = 1 / float(flex[0, 0]), 1 / float(flex[1, 1])
    twist = f.g_plane_mpa.at(corner) * math.pi * bar.outer_mm * bar.length_mm
    return np.array([RIGID, across, across, twist * bar.outer_mm, bend, bend])


def bar_use(joint: Joint, bar: BarGrip, hold: ScrewHold, f: Filament, corner: Corner, forces: Floats) -> JointUse:
    """How a clamp bears a bar's forces (6, cases): N, Vy, Vz, T, My, Mz at its middle. A round bar slips in twist and pull, a square one
    in pull alone."""
    n, vy, vz, t, my, mz = (np.abs(x) for x in forces)
    press = joint.clamp_screws * hold.preload_n
    pull = n / max(2 * joint.friction * press, 1e-9)
    # a bore presses all round: each screw's pull counts on both of its halves
    grip = np.hypot(t / max(joint.friction * press * bar.outer_mm, 1e-9), pull) if bar.turns else pull
    crush = socket_mpa(np.hypot(vy, vz), np.hypot(my, mz), bar.outer_mm, bar.length_mm) / (IN_A_HOLE * f.s_cross_mpa.at(corner))
    return JointUse(crush, "clamp bore crushing", grip, "the bar slips in its clamp")


@lru_cache(maxsize=8)
def ring_moment(half_rad: float) -> float:
    """Largest bending moment in a thin ring over load and radius, when two shoes press it from opposite sides, each over ``half_rad`` to
    either side of the middle with a pressure that falls as the cosine. No shoe at all, a line, gives 1 / pi (Timoshenko).

    Statics of a quarter ring, with the moment at its end such that the ring closes: its mean is 0.
    """
    at = np.linspace(0.0, math.pi / 2, 721)
    shape = np.cos(at / half_rad * math.pi / 2) * (at <= half_rad)
    step = at[1] - at[0]
    weight = np.full(len(at), step)
    weight[[0, -1]] = step / 2
    push = shape / max(2 * float((weight * shape * np.cos(at)).sum()), 1e-12)
    # seen from the free side (at = 90 degrees) half the load runs down the wall; the pressure met on the way takes it off again
    moment = np.array([0.5 * (1 - math.sin(a)) - float((weight * push * np.sin(np.maximum(at - a, 0.0))).sum()) for a in at])
    moment -= float((weight * moment).sum()) / (math.pi / 2)
    return float(np.abs(moment).max())


@lru_cache(maxsize=64)
def _bolt_group(bolts: tuple[tuple[float, float], ...]) -> tuple[Floats, Floats, float]:
    """Middle of a group of bolts (2,), where each lies from it (n, 2), and the sum of the squares of those distances."""
    at = np.array(bolts)
    centre = at.mean(axis=0)
    arm = at - centre
    return centre, arm, max(float((arm**2).sum()), 1e-9)


def bolt_forces(bolts: tuple[tuple[float, float], ...], pull: Floats, side: Floats, moment: Floats) -> Floats:
    """Largest in-plane force on one bolt of an elastic group, from a pull, a side force and a moment at the root (cases,)."""
    centre, arm, polar = _bolt_group(bolts)
    turn = (moment - side * centre[0] + pull * centre[1]) / polar
    fx, fy = pull / len(arm) - turn * arm[:, 1:2], side / len(arm) + turn * arm[:, 0:1]
    return np.asarray(np.sqrt((fx * fx + fy * fy).max(axis=0)))


def joint_use(
    joint: Joint, root: RootGeometry, f: Filament, corner: Corner, recipe: Recipe, forces: Floats
) -> JointUse:  # fmt: skip
    """How a joint bears root forces (6, cases): N, Vy, Vz, T, My, Mz at its middle. Bearing and tear-out are judged apart."""
    n, vy, vz, t, my, mz = (np.abs(x) for x in forces)
    h, length, wide = root.height_mm, root.tongue_length_mm, root.tongue_width_mm
    up = abs(float(layer_normal(recipe)[2])) > 0.7
    none = np.zeros(forces.shape[1])
    hold = screw_hold(joint, f, corner, recipe, up)
    if root.bar is not None:
        return bar_use(joint, root.bar, hold, f, corner, forces)
    if joint.kind == "bolted" and root.bolts_mm:
        return _bolted(joint, root, hold, forces, none)
    if joint.kind == "dovetail":
        flare, neck = joint.dovetail_depth_mm, wide
        shear = f.t_layer_mpa.at(corner) if not up else f.t_plane_mpa.at(corner)
        slope = math.tan(math.radians(joint.dovetail_angle_deg))
        # the flanks take pull, and the couple of a side moment over the tail's width, on a depth of their flare
        flank = n / 2 + (mz + vy * length / 2) / max(neck, 1.0)
        split = flank / slope / max(h * length / 2, 1e-9) / f.s_cross_mpa.at(corner)
        cut = flank / max(h * flare * slope, 1e-9) / shear
        return JointUse(np.maximum(split, cut), "dovetail flank", none, "")
    if joint.kind == "clamp":
        press = joint.clamp_screws * hold.preload_n
        grip = np.hypot(t / max(joint.friction * press * joint.tube_mm, 1e-9), n / max(2 * joint.friction * press, 1e-9))
        crush = socket_mpa(np.hypot(vy, vz), np.hypot(my, mz), joint.tube_mm, joint.clamp_length_mm)
        crush = crush / (IN_A_HOLE * f.s_cross_mpa.at(corner))
        return JointUse(crush, "clamp bore crushing", grip, "the tube slips in its clamp")
    if joint.kind == "glued":
        area = length * wide
        polar = area * (length**2 + wide**2) / 12
        shear = np.hypot(n, vy) / area + (mz + vy * length / 2) * math.hypot(length, wide) / 2 / polar
        peel = 6 * (my + vz * length / 2) / (wide * length**2) + 6 * t / (length * wide**2) + vz / area
        bond = min(adhesive(joint.adhesive).strength_mpa.at(corner), f.t_layer_mpa.at(corner))
        return JointUse(np.hypot(shear / bond, peel / min(bond, f.s_layer_mpa.at(corner))), "glue line", none, "")
    if joint.kind == "hinge":
        ear = root.height_mm / 3
        force = np.hypot(np.hypot(n, vy) / 2, np.hypot(my, t) / joint.pin_span_mm)
        bearing = force / (joint.pin_mm * ear) / (IN_A_HOLE * f.s_cross_mpa.at(corner))
        latch = mz / (joint.latch_strength_n * joint.latch_radius_mm)
        return JointUse(np.maximum(bearing, latch), "latch" if float(latch.max()) > float(bearing.max()) else "hinge pin bearing", none, "")
    return JointUse(none, "", none, "")


def _bolted(joint: Joint, root: RootGeometry, hold: ScrewHold, forces: Floats, none: Floats) -> JointUse:
    pull, side, lift, _, bend, turn = forces
    in_plane = bolt_forces(root.bolts_mm, pull, side, turn)
    faces = 2 if joint.plates == "both" else 1
    grip = faces * joint.friction * hold.preload_n
    slipping = in_plane / max(grip, 1e-9)
    if joint.plates == "both":
        return JointUse(none, "", slipping, "the tongue slips by its holes' clearance")
    # one plate only: the tongue pries about the plate's edge and the far bolts hold it down
    reach = np.array([-x for x, _ in root.bolts_mm])
    lever = float((reach**2).sum() / max(reach.max(), 1e-9))
    tension = np.abs(bend) / max(lever, 1e-9) + np.abs(lift) / len(root.bolts_mm)
    return JointUse(tension / hold.pull_n, f"screws: {hold.limit}", slipping, "the tongue slips by its holes' clearance")


def slip_travel_mm(joint: Joint, root: RootGeometry, span_mm: float) -> float:
    """How far the tip moves sideways when a bolted tongue slips to the end of its holes' clearance."""
    if joint.kind != "bolted" or not root.bolts_mm:
        return 0.0
    clear = max(root.bolt_hole_mm - screw(joint.screw).diameter_mm, 0.0)
    xs = [x for x, _ in root.bolts_mm]
    base = max(max(xs) - min(xs), max(abs(y) for _, y in root.bolts_mm), 1.0)
    return clear / base * (span_mm - float(np.mean(xs)))
