"""A beam-like part on its root joint: sections, unit-load answers and modes at every corner of its material.

Arms, legs and mounts are straight and held at the root; a guard is a curved chain held at both ends. The root is held by the
springs of its joint, in series with what it is bolted to.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from fravik.library import carbon_stock
from fravik.model.joint import Joint
from fravik.model.material import Corner, Filament
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import ArmShape, GuardShape, LegShape, MountShape
from fravik.printing.zones import Floats, ZoneField
from fravik.shape.arm import tongue_bolts
from fravik.shape.inlay import profile_places
from fravik.shape.mount import mount_bolts

from .beams import TipBody, name_mode
from .frame import Assembled, Chain, add_body, add_spring, assemble_chains, held_modes, respond, rigid_arm
from .inserts import Insert, carbon_inserts, facing_inserts
from .joints import JointSprings, RootGeometry, joint_springs
from .path import BeamShape, Path, part_path
from .printed import PrintedMaterial, covers_over_core, printed_material
from .rows import RowTables, row_tables
from .section import SectionBasis, SectionLine, section_basis, section_line
from .stress import StressPoints, at_stations, stress_points

LOADS = ("fx", "fy", "fz", "mx", "my", "mz", "ax", "ay", "az")
MODE_COUNT = 5
FLANGE_PIECES = 24
CORNERS: tuple[Corner, Corner, Corner] = ("typical", "low", "high")


@dataclass(frozen=True)
class Member:
    """Geometry of a beam-like part, before material: its path and the strips of its sections."""

    shape: BeamShape
    length_mm: float
    path: Path
    tables: RowTables
    root: RootGeometry
    carbon: Carbon | None
    facing: Facing | None
    overhang_mm3: float
    nominal: np.ndarray

    @property
    def stations_mm(self) -> Floats:
        """Mid-element stations, along the middle line."""
        return self.tables.stations_mm

    @cached_property
    def covers(self) -> float:
        """Area of its covers over that of its core."""
        return covers_over_core(self.tables.zone_sums["a"])

    @cached_property
    def frames(self) -> Floats:
        """Axes of its sections (n, 3, 3), or of one (1, 3, 3) when they are all alike."""
        every = self.tables.frames
        return np.ascontiguousarray(every[:1] if np.allclose(every, every[0]) else every)

    @property
    def ruler_mm(self) -> float:
        """Length of the part's ruler."""
        return self.path.length_mm


@dataclass(frozen=True)
class MemberAnswer:
    """A member solved at one corner of its material.

    ``forces`` (6, elements, loads), ``root`` (6, loads) internal forces at the root; ``tip`` (6, loads) motion of the loaded
    point; loads are LOADS, then six for every extra place. Frequencies Hz; shapes (dofs, modes).
    """

    corner: Corner
    material: PrintedMaterial
    section: SectionLine
    forces: Floats
    root: Floats
    tip: Floats
    freqs_hz: Floats
    shapes: Floats
    mode_names: tuple[str, ...]
    inserts: tuple[Insert, ...]
    springs: JointSprings

    @property
    def compliance(self) -> Floats:
        """(6, 6) motion of the loaded point under unit forces and moments there."""
        return self.tip[:, :6]


@dataclass(frozen=True)
class MemberBasis:
    """What all corners share: the section finite elements, and the points where stress is read (in a fillet, those beyond it)."""

    section: SectionBasis
    points: StressPoints


def root_geometry(shape: BeamShape) -> RootGeometry:
    """The part at its root."""
    if isinstance(shape, ArmShape):
        return RootGeometry(shape.root_width_mm, shape.root_height_mm, shape.tongue_length_mm, shape.tongue_width_mm,
                            tuple(tongue_bolts(shape)), shape.tongue_bolt_mm)  # fmt: skip
    if isinstance(shape, MountShape):
        return RootGeometry(shape.root_width_mm, shape.thickness_mm, shape.tongue_length_mm, shape.tongue_width_mm,
                            tuple(mount_bolts(shape)), shape.tongue_bolt_mm)  # fmt: skip
    if isinstance(shape, LegShape):
        return RootGeometry(shape.root_width_mm, shape.thickness_mm, shape.flange_length_mm, shape.flange_width_mm)
    return RootGeometry(shape.width_mm, shape.height_mm, 1.0, shape.hub_diameter_mm)


def flange_compliance(shape: LegShape, section: SectionLine) -> Floats:
    """(6, 6) of a leg's flange held at its back, at the root: a short beam whose width grows by the load's spread of 45 degrees a side.

    Its plastic is as stiff as the blade's first section. Calibrated on solid models (docs/joints.md).
    """
    t, b = shape.thickness_mm, shape.root_width_mm
    s = (np.arange(FLANGE_PIECES) + 0.5) / FLANGE_PIECES * shape.flange_length_mm
    ds = shape.flange_length_mm / FLANGE_PIECES
    w = np.minimum(b + 2 * s, shape.flange_width_mm)
    ei_up, ei_side = section.ei_up_nmm2[0] * w / b, section.ei_side_nmm2[0] * (w / b) ** 3
    out = np.zeros((6, 6))
    out[0, 0] = ds * (b / w).sum() / section.ea_n[0]
    out[1, 1] = ds * (s**2 / ei_side + b / w / section.ga_side_n[0]).sum()
    out[2, 2] = ds * (s**2 / ei_up + b / w / section.ga_up_n[0]).sum()
    out[3, 3] = ds * ((b - 0.63 * t) / np.maximum(w - 0.63 * t, 0.1 * w)).sum() / section.gj_nmm2[0]
    out[4, 4], out[5, 5] = ds * (1 / ei_up).sum(), ds * (1 / ei_side).sum()
    out[1, 5] = out[5, 1] = ds * (s / ei_side).sum()
    out[2, 4] = out[4, 2] = -ds * (s / ei_up).sum()
    return out


def root_joint(shape: BeamShape, joint: Joint) -> Joint:
    """The joint as it counts: guards' hubs are clamped hard and give as one piece, legs by their flange; mounts hang from one plate."""
    if isinstance(shape, LegShape | GuardShape):
        return joint.model_copy(update={"kind": "one_piece"})
    if isinstance(shape, MountShape):
        return joint.model_copy(update={"kind": "bolted", "plates": "one"})
    return joint


def build_member(shape: BeamShape, length_mm: float, field: ZoneField, carbon: Carbon | None, facing: Facing | None) -> Member:
    """Lay stations along the part and read its sections off the zone field.

    Raises ValueError where nothing is left of the section.
    """
    path = part_path(shape, length_mm, carbon, facing)
    tables = row_tables(field, path.line)
    area = tables.moments[0, 0].sum(axis=0) * tables.pitch_mm
    if (area < 1.0).any():
        at = float(path.line.stations_mm[int(np.argmin(area))])
        raise ValueError(f"Nothing is left of the section at {at:.0f} mm.")
    nominal = _nominal(shape, length_mm, path)
    over = float(area[-1]) * _overhang_mm(shape)
    return Member(shape, length_mm, path, tables, root_geometry(shape), carbon, facing, over, nominal)


def _nominal(shape: BeamShape, length_mm: float, path: Path) -> NDArray[np.int64]:
    """Which station's section stress is quoted on: in a fillet or a bend the plain one beyond it, under the local load."""
    stations = path.line.stations_mm
    if not isinstance(shape, GuardShape):
        beyond = int(np.searchsorted(stations, min(shape.root_fillet_mm, 0.3 * length_mm)))
        return np.maximum(np.arange(len(stations)), min(beyond, len(stations) - 1))
    strut = length_mm - shape.hub_diameter_mm / 2
    reach = shape.corner_mm + shape.width_mm / 2
    thick = np.minimum(stations, path.length_mm - stations) < shape.root_fillet_mm
    for corner in (strut, path.length_mm - strut):
        thick |= np.abs(stations - corner) < reach
    plain = np.flatnonzero(~thick)
    if not len(plain):
        return np.arange(len(stations))
    nearest = plain[np.argmin(np.abs(stations[:, None] - stations[plain]), axis=1)]
    return np.asarray(np.where(thick, nearest, np.arange(len(stations))), dtype=np.int64)


def _overhang_mm(shape: BeamShape) -> float:
    """Length of the last section that weighs what lies beyond the last station."""
    if isinstance(shape, ArmShape):
        # the half disc beyond the motor axis weighs as much as pi/4 of its bounding strip
        return np.pi / 4 * shape.pad_diameter_mm / 2
    if isinstance(shape, LegShape):
        return np.pi / 4 * shape.tip_width_mm / 2
    return shape.pad_length_mm / 2 if isinstance(shape, MountShape) else 0.0


def member_inserts(member: Member, f: Filament, corner: Corner) -> tuple[Insert, ...]:
    """Carbon profiles and sheets along the member."""
    out: list[Insert] = []
    stations, shape = member.stations_mm, member.shape
    if member.carbon is not None and not isinstance(shape, GuardShape):
        stock = carbon_stock(member.carbon.stock)
        each = [profile_places(shape, member.carbon, stock, member.length_mm, float(x)) for x in stations]
        places = [
            (np.array([p[k][0] for p in each]), np.array([p[k][1] for p in each])) for k in range(len(each[0]))
        ]  # fmt: skip
        out += carbon_inserts(member.carbon, places, stations, f, corner)
    if member.facing is not None and not isinstance(shape, GuardShape):
        out += facing_inserts(member.facing, member.tables.extents, stations, f, corner)
    return tuple(out)


def member_material(member: Member, f: Filament, recipe: Recipe, corner: Corner) -> PrintedMaterial:
    """Zone values in the frames of the member's sections: one frame when they are all alike."""
    return printed_material(f, recipe, corner, member.frames, member.covers)


def member_basis(member: Member, f: Filament, recipe: Recipe) -> MemberBasis:
    """Section finite elements and stress points at the typical material."""
    inserts = member_inserts(member, f, "typical")
    section = section_basis(member.tables, member_material(member, f, recipe, "typical"), inserts)
    return MemberBasis(section, at_stations(stress_points(section), member.nominal))


def load_point(member: Member, section: SectionLine) -> Floats:
    """Offset (3,) from the loaded node to where its loads act: the middle of the section there, in part axes."""
    e = min(member.path.load_node, len(section.ea_n)) - 1
    frame = member.path.line.frame[e]
    return np.asarray(section.y_c_mm[e] * frame[1] + section.z_c_mm[e] * frame[2])


@dataclass(frozen=True)
class MemberChain:
    """A member's sections as one chain of elements, at every corner of its material in the order of CORNERS, before anything holds it."""

    materials: tuple[PrintedMaterial, ...]
    inserts: tuple[tuple[Insert, ...], ...]
    sections: tuple[SectionLine, ...]
    elements: tuple[Assembled, ...]


def member_chain(member: Member, basis: MemberBasis, f: Filament, recipe: Recipe) -> MemberChain:
    """Sections and stiffnesses at every corner; they do not depend on how the member is held or what it carries."""
    materials = tuple(member_material(member, f, recipe, corner) for corner in CORNERS)
    inserts = tuple(member_inserts(member, f, corner) for corner in CORNERS)
    density = f.density_g_cm3.typical * 1e-9
    sections = tuple(section_line(member.tables, m, density, i, basis.section) for m, i in zip(materials, inserts, strict=True))
    elements = assemble_chains([Chain(member.path.nodes_mm, np.asarray(member.path.line.frame), s) for s in sections])
    return MemberChain(materials, inserts, sections, tuple(elements))


def solve_member(
    member: Member, chain: MemberChain, f: Filament, recipe: Recipe, joint: Joint, tip: TipBody | None,
    base: dict[Corner, Floats] | None = None, places_mm: tuple[float, ...] = (),
) -> dict[Corner, MemberAnswer]:  # fmt: skip
    """Unit-load answers and modes of a member at every corner of its material.

    ``base`` (6, 6) a corner is the compliance of what the root is fixed to, at the root in part axes; ``places_mm`` are extra stations
    to load. Mode shapes are solved for the typical material; the low and high frequencies are Rayleigh quotients of those
    shapes: the corners change all stiffnesses nearly in proportion, which leaves shapes, and so the quotient, all but exact.
    """
    out: dict[Corner, MemberAnswer] = {}
    shapes: Floats | None = None
    names: tuple[str, ...] = ()
    # all corners weigh the same, so mass and loads are those of the typical one
    mass = chain.elements[0].m.copy()
    _add_tip(mass, member, tip, f)
    for corner, material, inserts, section, a in zip(CORNERS, chain.materials, chain.inserts, chain.sections, chain.elements, strict=True):
        springs = joint_springs(root_joint(member.shape, joint), member.root, f, corner, recipe)
        if isinstance(member.shape, LegShape):
            springs = JointSprings(1.0 / np.diag(flange_compliance(member.shape, section)), 0.0, 0.0)
        k = _held(a.k, member, section, springs, base[corner] if base is not None else None)
        point = load_point(member, section)
        loads = _unit_loads(mass, member, point, places_mm, section)
        answer = respond(a, k, loads)
        node = slice(6 * member.path.load_node, 6 * member.path.load_node + 6)
        if shapes is None:
            freqs, shapes = held_modes(k, mass, MODE_COUNT)
            width = float((member.tables.extents[1] - member.tables.extents[0]).max())
            names = _ordinals([name_mode(shapes[:, i], width) for i in range(shapes.shape[1])])
        else:
            ratio = np.einsum("ij,ij->j", shapes, k @ shapes) / np.einsum("ij,ij->j", shapes, mass @ shapes)
            freqs = np.sqrt(ratio) / (2 * np.pi)
        near = a.recover[0] @ answer.u[:12]
        out[corner] = MemberAnswer(
            corner, material, section, answer.forces, -near[:6], rigid_arm(point) @ answer.u[node], freqs, shapes, names, inserts, springs
        )
    return out


def _held(k: Floats, member: Member, section: SectionLine, springs: JointSprings, base: Floats | None) -> Floats:
    out = k.copy()
    ends = (0, -1) if member.path.both_ends else (0,)
    for end in ends:
        frame = member.path.line.frame[end]
        turn = np.zeros((6, 6))
        turn[:3, :3] = turn[3:, 3:] = frame
        leg = isinstance(member.shape, LegShape)
        give = flange_compliance(member.shape, section) if leg else np.diag(1.0 / springs.stiffness)  # type: ignore[arg-type]
        stiff = turn.T @ np.linalg.inv(give) @ turn if base is None else np.linalg.inv(turn.T @ give @ turn + base)
        middle = section.y_c_mm[end] * frame[1] + section.z_c_mm[end] * frame[2]
        add_spring(out, 0 if end == 0 else len(member.path.nodes_mm) - 1, np.asarray(stiff, dtype=np.float64), middle)
    return out


def _add_tip(mass: Floats, member: Member, tip: TipBody | None, f: Filament) -> None:
    node = member.path.load_node
    over = member.overhang_mm3 * f.density_g_cm3.typical * 1e-9
    if over > 0:
        add_body(mass, node, TipBody(over, np.zeros((3, 3)), np.array([0.0, 0.0, member.root.height_mm / 2])))
    if tip is not None:
        add_body(mass, node, tip)


def _unit_loads(mass: Floats, member: Member, point: Floats, places_mm: tuple[float, ...], section: SectionLine) -> Floats:
    loads = np.zeros((len(mass), len(LOADS) + 6 * len(places_mm)))
    node = member.path.load_node
    loads[6 * node : 6 * node + 6, :6] = rigid_arm(point).T
    for i in range(3):
        move = np.zeros(len(mass))
        move[i::6] = 1.0
        loads[:, 6 + i] = mass @ move
    for j, place in enumerate(places_mm):
        n = int(np.argmin(np.abs(member.path.arc_mm - place)))
        e = min(n, len(section.ea_n) - 1)
        frame = member.path.line.frame[e]
        arm = rigid_arm(section.y_c_mm[e] * frame[1] + section.z_c_mm[e] * frame[2])
        turn = np.zeros((6, 6))
        turn[:3, :3] = turn[3:, 3:] = frame.T
        loads[6 * n : 6 * n + 6, len(LOADS) + 6 * j : len(LOADS) + 6 * j + 6] = arm.T @ turn
    return loads


def _ordinals(names: list[str]) -> tuple[str, ...]:
    """Tell repeated names apart: 'vertical bending', 'second vertical bending', and so on."""
    words = ("", "second ", "third ", "fourth ", "fifth ")
    return tuple(words[min(names[:i].count(n), 4)] + n for i, n in enumerate(names))


def with_carbon_ends(member: Member, answer: MemberAnswer) -> float:
    """Factor of the stiffness step where carbon or a sheet stops, from the sections with and without it."""
    from .raisers import stiffness_step

    if not answer.inserts:
        return 1.0
    full = max(float(answer.section.ei_up_nmm2.max()), 1e-9)
    there = np.sum([i.area_mm2 for i in answer.inserts], axis=0) > 0
    bare = answer.section.ei_up_nmm2[~there]
    return stiffness_step(float(bare.min()) if len(bare) else full, float(answer.section.ei_up_nmm2[there].max()) if there.any() else full)
