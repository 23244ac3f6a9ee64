"""A beam-like part on its root joint: sections, unit-load answers and modes at every corner of its material.

Arms, legs and mounts are straight and held at the root; a guard is a curved chain held at both ends. The root is held by the
springs of its joint, in series with what it is bolted to.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from fravik.library import carbon_stock
from fravik.model.joint import Joint
from fravik.model.material import Corner, Filament
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import Shape
from fravik.printing.zones import Floats, ZoneField
from fravik.shape.inlay import profile_places

from .beams import TipBody, name_mode, rectangle_torsion_mm4
from .form import BeamForm, Flange
from .frame import Assembled, Chain, add_body, add_spring, assemble_chains, held_modes, respond, rigid_arm
from .inserts import Insert, carbon_inserts, facing_inserts
from .joints import RIGID, Holder, JointSprings, RootGeometry, joint_springs
from .lattice import latticed
from .path import Path
from .printed import PrintedMaterial, covers_over_core, printed_material
from .rows import RowTables, row_tables
from .section import SectionBasis, SectionLine, section_basis, section_line
from .stress import StressPoints, at_stations, stress_points

LOADS = ("fx", "fy", "fz", "mx", "my", "mz", "ax", "ay", "az")
MODE_COUNT = 5
FLANGE_PIECES = 24
LEAST_MM2 = 1.0  # of a section: less is nothing
# the others lean on what is found at the typical one
TYPICAL_FIRST: tuple[Corner, Corner, Corner] = ("typical", "low", "high")


@dataclass(frozen=True)
class Member:
    """Geometry of a beam-like part, before material: its form, the strips of its sections, and who holds its ends if another part."""

    form: BeamForm
    tables: RowTables
    carbon: Carbon | None
    facing: Facing | None
    overhang_mm3: float
    root_holder: Holder | None = None
    end_holder: Holder | None = None

    @property
    def shape(self) -> Shape:
        """The shape whose form it is."""
        return self.form.shape

    @property
    def length_mm(self) -> float:
        """Length by which its shape is made."""
        return self.form.length_mm

    @property
    def path(self) -> Path:
        """Its middle line."""
        return self.form.path

    @property
    def root(self) -> RootGeometry:
        """What its root joint holds."""
        return self.form.root

    @property
    def nominal(self) -> np.ndarray:
        """On which position's section stress is quoted."""
        return self.form.nominal

    @property
    def positions_mm(self) -> Floats:
        """Mid-element positions, along the middle line."""
        return self.tables.positions_mm

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


def flange_compliance(flange: Flange, section: SectionLine) -> Floats:
    """(6, 6) of a leg's flange held at its back, at the root: a short beam whose width grows by the load's spread of 45 degrees a side.

    Its plastic is as stiff as the blade's first section. Calibrated on solid models (docs/joints.md).
    """
    t, b = flange.thickness_mm, flange.narrow_mm
    s = (np.arange(FLANGE_PIECES) + 0.5) / FLANGE_PIECES * flange.length_mm
    ds = flange.length_mm / FLANGE_PIECES
    w = np.minimum(b + 2 * s, flange.wide_mm)
    ei_up, ei_side = section.ei_up_nmm2[0] * w / b, section.ei_side_nmm2[0] * (w / b) ** 3
    out = np.zeros((6, 6))
    out[0, 0] = ds * (b / w).sum() / section.ea_n[0]
    out[1, 1] = ds * (s**2 / ei_side + b / w / section.ga_side_n[0]).sum()
    out[2, 2] = ds * (s**2 / ei_up + b / w / section.ga_up_n[0]).sum()
    out[3, 3] = ds * (rectangle_torsion_mm4(b, t) / rectangle_torsion_mm4(w, t)).sum() / section.gj_nmm2[0]
    out[4, 4], out[5, 5] = ds * (1 / ei_up).sum(), ds * (1 / ei_side).sum()
    out[1, 5] = out[5, 1] = ds * (s / ei_side).sum()
    out[2, 4] = out[4, 2] = -ds * (s / ei_up).sum()
    return out


def root_joint(form: BeamForm, joint: Joint) -> Joint:
    """The joint as it counts: what is held as one piece has none of its own, and what hangs from one plate is bolted to it."""
    if form.held in ("one piece", "fused"):
        return joint.model_copy(update={"kind": "one_piece"})
    if form.held == "one plate":
        return joint.model_copy(update={"kind": "bolted", "plates": "one"})
    if form.held == "clamped bar":
        return joint.model_copy(update={"kind": "clamp"})
    return joint


def build_member(
    form: BeamForm, field: ZoneField, carbon: Carbon | None = None, facing: Facing | None = None,
    holders: tuple[Holder | None, Holder | None] = (None, None),
) -> Member:  # fmt: skip
    """Read a part's sections off its zone field, along its middle line. ``holders`` are what holds its root and its end.

    The field is that of the part without its honeycomb, where it has one. Within a bend a section may run along the next leg, so that none
    is found: the plain one beyond, on which its stress is quoted, stands for it. Raises ValueError where nothing is left of the section.
    """
    line = form.path.line
    tables = row_tables(field, line)
    area = tables.moments[0, 0].sum(axis=0) * tables.pitch_mm
    lost = area < LEAST_MM2
    if lost.any() and not lost[form.nominal].any():
        there = np.where(lost, form.nominal, np.arange(len(area)))
        tables = row_tables(field, line.of(line.positions_mm, line.origin_mm[there], line.frame[there]))
        area = tables.moments[0, 0].sum(axis=0) * tables.pitch_mm
    if form.lattice is not None:
        tables = latticed(tables, form.lattice)
    if (area < LEAST_MM2).any():
        at = float(line.positions_mm[int(np.argmin(area))])
        raise ValueError(f"Nothing is left of the section at {at:.0f} mm.")
    return Member(form, tables, carbon, facing, float(area[-1]) * form.overhang_mm, *holders)


def member_inserts(member: Member, f: Filament, corner: Corner) -> tuple[Insert, ...]:
    """Carbon profiles and facings along the member."""
    out: list[Insert] = []
    positions, body = member.positions_mm, member.form.body
    if member.carbon is not None and body is not None:
        stock = carbon_stock(member.carbon.stock)
        each = [profile_places(body, member.carbon, stock, float(x)) for x in positions]
        places = [
            (np.array([p[k][0] for p in each]), np.array([p[k][1] for p in each])) for k in range(len(each[0]))
        ]  # fmt: skip
        out += carbon_inserts(member.carbon, places, positions, f, corner)
    if member.facing is not None and body is not None:
        out += facing_inserts(member.facing, member.tables.extents, positions, f, corner)
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
    """A member's sections as one chain of elements, at every corner of its material, the typical one first, before anything holds it."""

    materials: tuple[PrintedMaterial, ...]
    inserts: tuple[tuple[Insert, ...], ...]
    sections: tuple[SectionLine, ...]
    elements: tuple[Assembled, ...]


def member_chain(member: Member, basis: MemberBasis, f: Filament, recipe: Recipe) -> MemberChain:
    """Sections and stiffnesses at every corner; they do not depend on how the member is held or what it carries."""
    materials = tuple(member_material(member, f, recipe, corner) for corner in TYPICAL_FIRST)
    inserts = tuple(member_inserts(member, f, corner) for corner in TYPICAL_FIRST)
    density = f.density_g_cm3.typical * 1e-9
    sections = tuple(section_line(member.tables, m, density, i, basis.section) for m, i in zip(materials, inserts, strict=True))
    elements = assemble_chains([Chain(member.path.nodes_mm, np.asarray(member.path.line.frame), s) for s in sections])
    return MemberChain(materials, inserts, sections, tuple(elements))


def solve_member(
    member: Member, chain: MemberChain, f: Filament, recipe: Recipe, joint: Joint, tip: TipBody | None,
    base: dict[Corner, Floats] | None = None, places_mm: tuple[float, ...] = (),
) -> dict[Corner, MemberAnswer]:  # fmt: skip
    """Unit-load answers and modes of a member at every corner of its material.

    ``base`` (6, 6) a corner is the compliance of what the root is fixed to, at the root in part axes; ``places_mm`` are extra positions
    to load. Mode shapes are solved for the typical material; the low and high frequencies are Rayleigh quotients of those
    shapes: the corners change all stiffnesses nearly in proportion, which leaves shapes, and so the quotient, all but exact.
    """
    out: dict[Corner, MemberAnswer] = {}
    shapes: Floats | None = None
    names: tuple[str, ...] = ()
    # all corners weigh the same, so mass and loads are those of the typical one
    mass = chain_mass(member, chain, f)
    if tip is not None:
        add_body(mass, member.path.load_node, tip)
    for corner, material, inserts, section, a in zip(
        TYPICAL_FIRST, chain.materials, chain.inserts, chain.sections, chain.elements, strict=True
    ):
        springs = root_springs(member, section, joint, f, corner, recipe)
        give = root_give(member, section, joint, f, corner, recipe)
        k = _held(a.k, member, section, give, base[corner] if base is not None else None)
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


def root_springs(member: Member, section: SectionLine, joint: Joint, f: Filament, corner: Corner, recipe: Recipe) -> JointSprings:
    """What a part's root gives by itself: its joint, or its flange."""
    if member.form.flange is not None:
        return JointSprings(1.0 / np.diag(flange_compliance(member.form.flange, section)), 0.0, 0.0)
    if member.form.held == "fused":
        return JointSprings(np.full(6, RIGID), 0.0, 0.0)
    by = member.root_holder or Holder(f, recipe)
    return joint_springs(root_joint(member.form, joint), member.root, by.filament, corner, by.recipe)


def root_give(member: Member, section: SectionLine, joint: Joint, f: Filament, corner: Corner, recipe: Recipe) -> Floats:
    """(6, 6) compliance of the root in the axes of the section there."""
    if member.form.flange is not None:
        return flange_compliance(member.form.flange, section)
    return np.diag(1.0 / root_springs(member, section, joint, f, corner, recipe).stiffness)


def _held(k: Floats, member: Member, section: SectionLine, give: Floats, base: Floats | None) -> Floats:
    out = k.copy()
    ends = (0, -1) if member.path.both_ends else (0,)
    for end in ends:
        frame = member.path.line.frame[end]
        turn = np.zeros((6, 6))
        turn[:3, :3] = turn[3:, 3:] = frame
        stiff = turn.T @ np.linalg.inv(give) @ turn if base is None else np.linalg.inv(turn.T @ give @ turn + base)
        middle = section.y_c_mm[end] * frame[1] + section.z_c_mm[end] * frame[2]
        add_spring(out, 0 if end == 0 else len(member.path.nodes_mm) - 1, np.asarray(stiff, dtype=np.float64), middle)
    return out


def chain_mass(member: Member, chain: MemberChain, f: Filament) -> Floats:
    """(6 N, 6 N) mass of a member and of what of it lies beyond its last position."""
    mass = chain.elements[0].m.copy()
    over = member.overhang_mm3 * f.density_g_cm3.typical * 1e-9
    if over > 0:
        add_body(mass, member.path.load_node, TipBody(over, np.zeros((3, 3)), np.array([0.0, 0.0, member.root.height_mm / 2])))
    return mass


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
    """Factor of the stiffness step where carbon or a facing stops, from the sections with and without it."""
    from .raisers import stiffness_step

    if not answer.inserts:
        return 1.0
    full = max(float(answer.section.ei_up_nmm2.max()), 1e-9)
    there = np.sum([i.area_mm2 for i in answer.inserts], axis=0) > 0
    bare = answer.section.ei_up_nmm2[~there]
    return stiffness_step(float(bare.min()) if len(bare) else full, float(answer.section.ei_up_nmm2[there].max()) if there.any() else full)
