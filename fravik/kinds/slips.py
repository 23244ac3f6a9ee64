"""Slips in what is typed of bought things: ounces for grams, inches for millimetres, figures that no such thing has.

Each is a bound that real things keep by a wide margin, so that what is told is worth a second look; none refuses anything.
"""

from __future__ import annotations

import math

from fravik.model.craft import Battery, Block, Motor, Propeller

OUNCE_G = 28.35
# least and most of what there is: g/cm3 of a motor's outer cylinder, Wh/kg of a pack, KV times the root of the motor's grams, pitch over
# diameter, and g/cm3 of a box of electronics (working assumptions)
MOTOR_DENSITY, PACK_WH_KG, KV_ROOT_G = (1.0, 7.0), (70.0, 300.0), (1200.0, 45000.0)
PITCH, BOX_DENSITY = (0.25, 1.3), (0.03, 9.0)
PROPELLER_G_MM2 = (4e-5, 1.5e-3)  # mass over the square of the diameter
CELL_V = 3.7


def slips(item: Motor | Propeller | Battery | Block) -> tuple[str, ...]:
    """A sentence for each figure that looks like a slip."""
    if isinstance(item, Motor):
        return _motor(item)
    if isinstance(item, Battery):
        return _pack(item)
    if isinstance(item, Propeller):
        return _propeller(item)
    volume = item.length_mm * item.width_mm * item.height_mm * 1e-3
    return _weight(item.mass_g, item.mass_g / volume, BOX_DENSITY, f"a box of {volume:.0f} cm³") if item.mass_g > 0 else ()


def _weight(mass_g: float, figure: float, band: tuple[float, float], what: str) -> tuple[str, ...]:
    low, high = band
    if low <= figure <= high:
        return ()
    if figure < low and figure * OUNCE_G <= high * 1.5:
        return (f"{mass_g:g} g is little for {what}: {mass_g:g} oz would be {mass_g * OUNCE_G:.0f} g.",)
    return (f"{mass_g:g} g is {'little' if figure < low else 'much'} for {what}.",)


def _motor(m: Motor) -> tuple[str, ...]:
    volume = math.pi / 4 * m.diameter_mm**2 * m.height_mm * 1e-3
    out = _weight(m.mass_g, m.mass_g / volume, MOTOR_DENSITY, f"a motor of {m.diameter_mm:g} × {m.height_mm:g} mm")
    figure = m.kv_rpm_per_v * math.sqrt(m.mass_g)
    if not out and not KV_ROOT_G[0] <= figure <= KV_ROOT_G[1]:
        out = (f"{m.kv_rpm_per_v:g} rpm/V is {'little' if figure < KV_ROOT_G[0] else 'much'} for a motor of {m.mass_g:g} g.",)
    return out


def _pack(b: Battery) -> tuple[str, ...]:
    energy = b.cells * CELL_V * b.capacity_mah * 1e-3
    per_kg = energy / b.mass_g * 1e3
    low, high = PACK_WH_KG
    if low <= per_kg <= high:
        return ()
    if per_kg > high and per_kg / OUNCE_G >= low / 1.5:
        return (f"{b.mass_g:g} g is little for {energy:.0f} Wh: {b.mass_g:g} oz would be {b.mass_g * OUNCE_G:.0f} g.",)
    return (f"{b.mass_g:g} g is {'little' if per_kg > high else 'much'} for {b.cells} cells of {b.capacity_mah:g} mAh, {energy:.0f} Wh.",)


def _propeller(p: Propeller) -> tuple[str, ...]:
    ratio = p.pitch_mm / p.diameter_mm
    if not PITCH[0] <= ratio <= PITCH[1]:
        return (f"A pitch of {p.pitch_mm:g} mm is {'little' if ratio < PITCH[0] else 'much'} for {p.diameter_mm:g} mm: one of the two may "
                "be of another unit, or they are swapped.",)  # fmt: skip
    return _weight(p.mass_g, p.mass_g / p.diameter_mm**2, PROPELLER_G_MM2, f"a propeller of {p.diameter_mm:g} mm")
