"""The product's chains of beams against closed forms: sag, modes, and a curved bar."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from scipy.integrate import quad
from scipy.optimize import brentq

from fravik.model.shapes import ArmShape
from fravik.shape.arm import bow_mm
from fravik.structure.beams import TipBody
from fravik.structure.frame import Assembled, Chain, add_body, add_spring, assemble_chain, held_modes, respond
from fravik.structure.path import bowed_path, straight_path
from fravik.structure.section import SectionLine

from .check import Check

Floats = np.ndarray
CLAMP = 1e10


def even_section(count: int, **constants: float | Floats) -> SectionLine:
    """A line of sections with the constants given, the others those of no eccentricity, no coupling and no pieces."""
    nil, one = np.zeros(count), np.ones(count)
    rest = dict.fromkeys(SectionLine.__dataclass_fields__, nil) | {"give_up": one, "give_side": one}
    return SectionLine(**{k: np.broadcast_to(constants.get(k, v), count).astype(float) for k, v in rest.items()})


def even_bar(
    count: int, length: float, width: Callable[[float], float], height: float, e: float, g: float, rho: float, tip: TipBody | None = None
) -> tuple[Assembled, Floats]:
    """A straight chain of rectangular sections whose width varies, and its stiffness with the first node clamped."""
    x = np.linspace(0, length, count + 1)
    w = np.array([width(v) for v in (x[1:] + x[:-1]) / 2])
    a, up, side = w * height, w * height**3 / 12, height * w**3 / 12
    nodes = np.stack([x, 0 * x, 0 * x], axis=1)
    section = even_section(
        count, positions_mm=(x[1:] + x[:-1]) / 2, ea_n=e * a, ei_up_nmm2=e * up, ei_side_nmm2=e * side, gj_nmm2=g * (up + side),
        ga_up_n=g * a * 5 / 6, ga_side_n=g * a * 5 / 6, mass_per_mm_t=rho * a, polar_t_mm=rho * (up + side),
    )  # fmt: skip
    chain = assemble_chain(Chain(nodes, np.broadcast_to(np.eye(3), (count, 3, 3)), section))
    if tip is not None:
        add_body(chain.m, count, tip)
    k = chain.k.copy()
    add_spring(k, 0, CLAMP * np.eye(6), np.zeros(3))
    return chain, k


def tip_rise(chain: Assembled, k: Floats, force: float = 1.0) -> float:
    """How far the last node rises under an upward force there."""
    load = np.zeros((len(k), 1))
    load[-4, 0] = force
    return float(respond(chain, k, load).u[-4, 0])


def _cantilever() -> list[Check]:
    e, g, length, h, force = 2000.0, 700.0, 120.0, 8.0, 10.0

    def width(x: float) -> float:
        return 22.0 - 10.0 * x / length

    got = tip_rise(*even_bar(24, length, width, h, e, g, 1e-9), force)
    bend = quad(lambda x: force * (length - x) ** 2 / (e * width(x) * h**3 / 12), 0, length)[0]
    shear = quad(lambda x: force / (5 / 6 * g * width(x) * h), 0, length)[0]
    got2 = tip_rise(*even_bar(24, length, lambda _: 20.0, h, e, g, 1e-9), force)
    exact = force * length**3 / (3 * e * 20 * h**3 / 12) + force * length / (5 / 6 * g * 20 * h)
    return [
        Check("cantilever sag, even arm", "Timoshenko closed form", exact, got2, 0.005),
        Check("cantilever sag, tapered arm", "fine integration", bend + shear, got, 0.005),
    ]


def _tip_mass_modes() -> list[Check]:
    e, length, b, h, rho = 2000.0, 400.0, 10.0, 8.0, 1.2e-9
    total = rho * b * h * length
    out = []
    for ratio in (0.5, 4.0):
        tip = TipBody(ratio * total, np.zeros((3, 3)), np.zeros(3))
        chain, k = even_bar(24, length, lambda _: b, h, e, 1e9, rho, tip)
        freqs, shapes = held_modes(k, chain.m, 12)
        upward = [f for f, s in zip(freqs, shapes.T, strict=True) if np.abs(s[2::6]).max() > np.abs(s[1::6]).max()]

        def equation(x: float, r: float = ratio) -> float:
            c, s, ch, sh = math.cos(x), math.sin(x), math.cosh(x), math.sinh(x)
            return (1 + c * ch + r * x * (c * sh - s * ch)) / ch

        grid = np.linspace(0.1, 11.0, 3000)
        values = [equation(x) for x in grid]
        roots = [brentq(equation, grid[i], grid[i + 1]) for i in range(len(grid) - 1) if values[i] * values[i + 1] < 0][:3]
        ei = e * b * h**3 / 12
        for i, root in enumerate(roots):
            exact = root**2 / (2 * math.pi) * math.sqrt(ei / (rho * b * h * length**4))
            out.append(Check(f"cantilever with tip mass {ratio:g} x beam, mode {i + 1}", "frequency equation", exact, upward[i], 0.005))
    return out


def _ring() -> list[Check]:
    """A quarter ring of radius R, clamped at one end, pushed at the other along the radius there: pi P R^3 / (4 EI) for thin bars."""
    e, b, h, radius, n = 2000.0, 2.0, 2.0, 90.0, 24
    angles = np.linspace(0, math.pi / 2, n + 1)
    nodes = radius * np.stack([np.cos(angles), np.sin(angles), 0 * angles], axis=1)
    tangent = np.diff(nodes, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1)[:, None]
    up = np.broadcast_to([0.0, 0.0, 1.0], tangent.shape)
    i, a = b * h**3 / 12, b * h
    s = even_section(n, positions_mm=1.0, ea_n=e * a, ei_up_nmm2=e * i, ei_side_nmm2=e * i, gj_nmm2=e * i, ga_up_n=1e9, ga_side_n=1e9)
    chain = assemble_chain(Chain(nodes, np.stack([tangent, np.cross(up, tangent), up], axis=1), s))
    k = chain.k.copy()
    add_spring(k, 0, 1e9 * np.eye(6), np.zeros(3))
    load = np.zeros((len(k), 1))
    load[-5, 0] = 1.0
    got = float(respond(chain, k, load).u[-5, 0])
    exact = quad(lambda t: (radius * math.cos(t)) ** 2 * radius, 0, math.pi / 2)[0] / (e * i)
    return [Check("quarter ring, push along its end's radius", "pi P R^3 / (4 EI)", exact, got, 0.01)]


def _bowed() -> list[Check]:
    """A bar bowed aside as an arm is, held at its root, pushed up at its end and along its root's axis: Castigliano, integrated finely."""
    length, bow, e, g, b, h = 160.0, 25.0, 2000.0, 700.0, 12.0, 8.0
    ei_up, ei_side, gj = e * b * h**3 / 12, e * h * b**3 / 12, g * 0.196 * h**3 * b
    shape = ArmShape(bow_mm=bow, pad_diameter_mm=20.0)
    path = bowed_path(straight_path(length, []), lambda x: bow_mm(shape, length, x), 1e9)
    n = len(path.line.positions_mm)
    s = even_section(n, positions_mm=1.0, ea_n=1e9, ei_up_nmm2=ei_up, ei_side_nmm2=ei_side, gj_nmm2=gj, ga_up_n=1e9, ga_side_n=1e9)
    chain = assemble_chain(Chain(path.nodes_mm, path.line.frame, s))
    k = chain.k.copy()
    add_spring(k, 0, 1e9 * np.eye(6), np.zeros(3))
    load = np.zeros((len(k), 2))
    load[-4, 0] = load[-6, 1] = 1.0
    got = respond(chain, k, load).u
    end = length - 10.0

    def aside(x: float) -> tuple[float, float]:
        """Middle line and its slope, by its definition."""
        a = 2 * math.pi * x / end
        return (bow / 2 * (1 - math.cos(a)), bow / 2 * math.sin(a) * 2 * math.pi / end) if x < end else (0.0, 0.0)

    def up(x: float) -> float:
        y, slope = aside(x)
        long = math.hypot(1.0, slope)
        bends, twists = ((length - x) - y * slope) / long, ((length - x) * slope + y) / long
        return (bends**2 / ei_up + twists**2 / gj) * long

    def pulled(x: float) -> float:
        y, slope = aside(x)
        return y**2 / ei_side * math.hypot(1.0, slope)

    return [
        Check(f"bar bowed {bow:g} mm aside, pushed up at its end", "Castigliano, bending and twist, fine integration",
            quad(up, 0, end, limit=200)[0] + quad(up, end, length)[0], float(got[-4, 0]), 0.01),
        Check("the same, pulled along at its end", "Castigliano, fine integration", quad(pulled, 0, end, limit=200)[0], float(got[-6, 1]),
            0.02),
    ]  # fmt: skip


GROUPS = (_cantilever, _tip_mass_modes, _ring, _bowed)
