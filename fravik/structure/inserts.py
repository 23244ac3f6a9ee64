"""Carbon profiles, cut plates and glass skins as a section sees them.

Stiffness enters over an entry length at each end (shear lag): sqrt(E A t / (G p)), with glue thickness t and shear modulus G
and bonded width p (Volkersen's distribution for a stiff bar on a softer one).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from fravik.library import adhesive, carbon_stock, facing_stock
from fravik.model.material import CarbonStock, Corner, Filament
from fravik.model.recipe import Carbon, Facing
from fravik.printing.zones import Floats


@dataclass(frozen=True)
class Insert:
    """One profile or facing along a part. Arrays are per position; y and z are of its middle in the section.

    ``share`` is how much of its stiffness has entered; ``area_mm2`` is its full area where it is, else 0.
    """

    name: str
    kind: Literal["carbon", "carbon plate", "glass skin"]
    shape: Literal["round", "box"]
    y_mm: Floats
    z_mm: Floats
    width_mm: Floats
    height_mm: Floats
    hollow_mm: float
    area_mm2: Floats
    share: Floats
    modulus_mpa: float
    shear_mpa: float
    strength_mpa: float
    bond_mpa: float
    bonded_mm: Floats
    entry_mm: float
    density_g_cm3: float
    start_mm: float
    end_mm: float

    @property
    def own_up_mm4(self) -> Floats:
        """Second moment of the full profile about its own crosswise axis."""
        if self.shape == "round":
            return np.asarray(math.pi / 64 * (self.height_mm**4 - self.hollow_mm**4))
        return (self.width_mm * self.height_mm**3 - self.hollow_mm**4) / 12

    @property
    def own_side_mm4(self) -> Floats:
        """Second moment of the full profile about its own upright axis."""
        if self.shape == "round":
            return self.own_up_mm4
        return (self.height_mm * self.width_mm**3 - self.hollow_mm**4) / 12

    def covers(self, y: Floats, z: Floats) -> NDArray[np.bool_]:
        """Whether points (positions, ...) lie in the profile."""
        dy, dz = y - self.y_mm[:, None, None], z - self.z_mm[:, None, None]
        if self.shape == "round":
            d = np.hypot(dy, dz)
            return np.asarray((d <= self.width_mm[:, None, None] / 2) & (d >= self.hollow_mm / 2))
        outer = (np.abs(dy) <= self.width_mm[:, None, None] / 2) & (np.abs(dz) <= self.height_mm[:, None, None] / 2)
        hole = (np.abs(dy) < self.hollow_mm / 2) & (np.abs(dz) < self.hollow_mm / 2)
        return np.asarray(outer & ~hole)


def profile_area_mm2(stock: CarbonStock) -> float:
    """Area of a profile's section."""
    if stock.form == "strip":
        return stock.outer_mm * stock.thickness_mm
    full, hole = stock.outer_mm**2, stock.inner_mm**2
    return (full - hole) * (math.pi / 4 if stock.form in ("tube", "rod") else 1.0)


def entry_length_mm(modulus_mpa: float, area_mm2: float, gap_mm: float, glue_shear_mpa: float, bonded_mm: float) -> float:
    """Length over which a bonded bar takes up its load: sqrt(E A t / (G p))."""
    return math.sqrt(modulus_mpa * area_mm2 * gap_mm / (glue_shear_mpa * max(bonded_mm, 1e-9)))


def _entered(positions: Floats, start: float, end: float, entry: float) -> tuple[Floats, Floats]:
    """Where the profile is, and how much of its stiffness has entered."""
    inside = (positions > start) & (positions < end)
    depth = np.minimum(positions - start, end - positions)
    return inside.astype(float), np.where(inside, 1.0 - np.exp(-np.maximum(depth, 0.0) / max(entry, 1e-6)), 0.0)


def _bond(corner: Corner, kind: str, f: Filament, own: float | None) -> float:
    """A bond line is as strong as its glue or as the printed layer it pulls on, whichever is less."""
    return min(own if own is not None else adhesive(kind).strength_mpa.at(corner), f.t_layer_mpa.at(corner))


def carbon_inserts(
    carbon: Carbon, places: list[tuple[Floats, Floats]], positions: Floats, f: Filament, corner: Corner
) -> list[Insert]:  # fmt: skip
    """Profiles at their places, each (y, z) per position."""
    stock, glue = carbon_stock(carbon.stock), adhesive(carbon.adhesive)
    area = profile_area_mm2(stock)
    if stock.form == "strip":
        wide, tall, hollow = stock.outer_mm, stock.thickness_mm, 0.0
    else:
        wide = tall = stock.outer_mm
        hollow = stock.inner_mm
    girth = math.pi * wide if stock.form in ("tube", "rod") else 2 * (wide + tall)
    # in a slot one face is bare; on a face only that face is bonded
    bonded = {"inside": girth, "slot": girth - wide, "face": wide}[carbon.place]
    e = stock.modulus_mpa.at(corner)
    entry = entry_length_mm(e, area, carbon.adhesive_gap_mm, glue.shear_modulus_mpa, bonded)
    there, share = _entered(positions, carbon.start_mm, carbon.end_mm, entry)
    one = np.ones(len(positions))
    return [
        Insert(
            stock.name, "carbon", "round" if stock.form in ("tube", "rod") else "box", y, z, wide * one, tall * one, hollow, area * there,
            share, e, stock.shear_mpa.at(corner), stock.strength_mpa.at(corner),
            _bond(corner, carbon.adhesive, f, carbon.bond_strength_mpa), bonded * one, entry, stock.density_g_cm3, carbon.start_mm,
            carbon.end_mm,
        )
        for y, z in places
    ]  # fmt: skip


def facing_inserts(
    facing: Facing, extents: Floats, positions: Floats, f: Filament, corner: Corner
) -> list[Insert]:  # fmt: skip
    """Facings on the faces of a part whose section reaches over ``extents`` (4, positions): y min, y max, z min, z max."""
    stock, glue = facing_stock(facing.stock), adhesive(facing.adhesive)
    t, e = stock.thickness_mm, stock.modulus_mpa.at(corner)
    width = facing.cover * (extents[1] - extents[0])
    entry = entry_length_mm(e, t, facing.adhesive_gap_mm, glue.shear_modulus_mpa, 1.0)
    there, share = _entered(positions, facing.start_mm, facing.end_mm, entry)
    middle = (extents[0] + extents[1]) / 2
    off = t / 2 + facing.adhesive_gap_mm
    levels = {"bottom": [extents[2] - off], "top": [extents[3] + off], "both": [extents[2] - off, extents[3] + off]}[facing.faces]
    kind: Literal["carbon plate", "glass skin"] = stock.form
    return [
        Insert(
            stock.name, kind, "box", middle, z, width, t * np.ones(len(positions)), 0.0, width * t * there, share, e,
            stock.shear_mpa.at(corner), stock.strength_mpa.at(corner), _bond(corner, facing.adhesive, f, None), width, entry,
            stock.density_g_cm3, facing.start_mm, facing.end_mm,
        )
        for z in levels
    ]  # fmt: skip
