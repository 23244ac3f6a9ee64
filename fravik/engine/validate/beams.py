"""Beams against closed forms: sag, modes, and a curved bar."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from scipy.integrate import quad
from scipy.optimize import brentq

from fravik.structure.beams import BeamLine, TipBody, assemble, modes, unit_responses
from fravik.structure.frame import Chain, add_spring, assemble_chain, respond
from fravik.structure.section import SectionLine

from .check import Check


def even_bar(count: int, length: float, width: Callable[[float], float], height: float, e: float, g: float, rho: float) -> BeamLine:
    """A bar of rectangular section whose width varies."""
    x = np.linspace(0, length, count + 1)
    w = np.array([width(v) for v in (x[1:] + x[:-1]) / 2])
    a, up, side = w * height, w * height**3 / 12, height * w**3 / 12
    return BeamLine(x, e * a, e * up, e * side, g * (up + side), g * a * 5 / 6, g * a * 5 / 6, rho * a, rho * (up + side))


def _cantilever() -> list[Check]:
    e, g, length, h, force = 2000.0, 700.0, 120.0, 8.0, 10.0

    def width(x: float) -> float:
        return 22.0 - 10.0 * x / length

    beam = even_bar(24, length, width, h, e, g, 1e-9)
    k, _, ke = assemble(beam, None)
    load = np.zeros((len(k), 1))
    load[-4, 0] = force
    got = float(unit_responses(k, ke, load).tip[2, 0])
    bend = quad(lambda x: force * (length - x) ** 2 / (e * width(x) * h**3 / 12), 0, length)[0]
    shear = quad(lambda x: force / (5 / 6 * g * width(x) * h), 0, length)[0]
    even = even_bar(24, length, lambda _: 20.0, h, e, g, 1e-9)
    k2, _, ke2 = assemble(even, None)
    got2 = float(unit_responses(k2, ke2, load).tip[2, 0])
    exact = force * length**3 / (3 * e * 20 * h**3 / 12) + force * length / (5 / 6 * g * 20 * h)
    return [
        Check("cantilever sag, even arm", "Timoshenko closed form", exact, got2, 0.005),
        Check("cantilever sag, tapered arm", "fine integration", bend + shear, got, 0.005),
    ]


def _tip_mass_modes() -> list[Check]:
    e, length, b, h, rho = 2000.0, 400.0, 10.0, 8.0, 1.2e-9
    beam = even_bar(24, length, lambda _: b, h, e, 1e9, rho)
    total = rho * b * h * length
    out = []
    for ratio in (0.5, 4.0):
        k, m, _ = assemble(beam, TipBody(ratio * total, np.zeros((3, 3)), np.zeros(3)))
        freqs, shapes = modes(k, m, 12)
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


def _free_free() -> list[Check]:
    e, length, b, h, rho = 2000.0, 500.0, 12.0, 6.0, 1.2e-9
    beam = even_bar(30, length, lambda _: b, h, e, 1e9, rho)
    k, m, _ = assemble(beam, None)
    freqs, shapes = modes(k, m, 24, clamped=False)
    upward = [f for f, s in zip(freqs, shapes.T, strict=True) if f > 1.0 and np.abs(s[2::6]).max() > 2 * np.abs(s[1::6]).max()]
    ei = e * b * h**3 / 12
    return [
        Check(
            f"free-free beam, mode {i + 1}", "exact", root**2 / (2 * math.pi) * math.sqrt(ei / (rho * b * h * length**4)), upward[i], 0.005
        )
        for i, root in enumerate((4.730041, 7.853205, 10.995608, 14.137165))
    ]


def _ring() -> list[Check]:
    """A quarter ring of radius R, clamped at one end, pushed at the other along the radius there: pi P R^3 / (4 EI) for thin bars."""
    e, b, h, radius, n = 2000.0, 2.0, 2.0, 90.0, 24
    angles = np.linspace(0, math.pi / 2, n + 1)
    nodes = radius * np.stack([np.cos(angles), np.sin(angles), 0 * angles], axis=1)
    tangent = np.diff(nodes, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1)[:, None]
    up = np.broadcast_to([0.0, 0.0, 1.0], tangent.shape)
    one, nil = np.ones(n), np.zeros(n)
    i, a = b * h**3 / 12, b * h
    s = SectionLine(one, e * a * one, e * i * one, e * i * one, nil, e * i * one, 1e9 * one, 1e9 * one, nil, nil, nil, nil, nil, nil, nil, one, one)
    chain = assemble_chain(Chain(nodes, np.stack([tangent, np.cross(up, tangent), up], axis=1), s))
    k = chain.k.copy()
    add_spring(k, 0, 1e9 * np.eye(6), np.zeros(3))
    load = np.zeros((len(k), 1))
    load[-5, 0] = 1.0
    got = float(respond(chain, k, load).u[-5, 0])
    # the push runs along y at the end (0, R): bending moment P R sin, so delta = P R^3 / EI times the integral of sin^2 ... cos^2
    exact = quad(lambda t: (radius * math.cos(t)) ** 2 * radius, 0, math.pi / 2)[0] / (e * i)
    return [Check("quarter ring, push along its end's radius", "pi P R^3 / (4 EI)", exact, got, 0.01)]


GROUPS = (_cantilever, _tip_mass_modes, _free_free, _ring)
