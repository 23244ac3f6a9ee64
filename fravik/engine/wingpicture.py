"""What pictures of a wing need: its panels in plan, its load along the span, and any section."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from fravik.kinds.around import stations
from fravik.kinds.wing.geometry import panels, stands, tip_mm, wing_of
from fravik.model.wing import WingShape
from fravik.printing.zones import Floats
from fravik.shape.wing import outline_of, placed, spar_spot, thick_mm, web_spots
from fravik.study.words import signed

from .results import Evaluation
from .wing import WingSight


@dataclass(frozen=True, eq=False)
class PanelPicture:
    """A panel in plan, left hand: corners (4, 2) aft and left in mm, its surface's corners or none, and where along
    the chord its tube lies (0: it has none)."""

    part_id: str
    name: str
    role: str
    corners_mm: Floats
    surface_mm: Floats | None
    spar_at: float


def panel_pictures(result: Evaluation) -> tuple[PanelPicture, ...]:
    """All panels but upright ones."""
    out = []
    at = stands(result.project)
    for part in panels(result.project):
        s = wing_of(part)
        if s.hand == "upright":
            continue
        root, tip = at[part.id].root_mm, tip_mm(part, result.project)
        corners = np.array(
            [[-root[0], root[1]], [-tip[0], tip[1]], [-tip[0] + s.tip_chord_mm, tip[1]], [-root[0] + s.root_chord_mm, root[1]]]
        )
        out.append(PanelPicture(part.id, part.name, s.role, corners, _surface(s, corners), s.spar_at if s.spar_mm > 0 else 0.0))
    return tuple(out)


def _surface(s: WingShape, corners: Floats) -> Floats | None:
    if s.surface == "none" or s.surface_to <= s.surface_from:
        return None
    start, end = s.surface_from, s.surface_to
    if s.hand == "across":
        start, end = max(2 * start - 1, 0.0), max(2 * end - 1, 0.0)

    def spot(t: float, share: float) -> Floats:
        lead, trail = corners[0] + t * (corners[1] - corners[0]), corners[3] + t * (corners[2] - corners[3])
        return np.asarray(lead + share * (trail - lead))

    hinge = 1 - s.surface_share
    return np.array([spot(start, hinge), spot(end, hinge), spot(end, 1.0), spot(start, 1.0)])


@dataclass(frozen=True, eq=False)
class SectionPicture:
    """A section as it is printed: outline (n, 2) aft and up in mm, skin, webs (x, low, high), tubes (x, z, outside, bore) and what it
    says."""

    outline_mm: Floats
    skin_mm: float
    webs: tuple[tuple[float, float, float], ...]
    tubes: tuple[tuple[float, float, float, float], ...]
    words: str


def at_span(w: WingSight, y_mm: float) -> tuple[int, str, float]:
    """Piece of the spar, part and place along it, so far from the middle."""
    half = w.spar.half
    k = int(np.clip(np.searchsorted(half.y_mm, y_mm) - 1, 0, len(half.ei) - 1))
    part_id = w.spar.part_of[k]
    mine = [i for i, p in enumerate(w.spar.part_of) if p == part_id]
    start, end = float(half.y_mm[mine[0]]), float(half.y_mm[mine[-1] + 1])
    t = (min(max(y_mm, start), end) - start) / max(end - start, 1e-9)
    return k, part_id, t


def section_at(result: Evaluation, w: WingSight, y_mm: float) -> SectionPicture:
    """The section so far from the middle."""
    k, part_id, t = at_span(w, y_mm)
    part = result.project.part(part_id)
    s = wing_of(part)
    along = 0.5 + t / 2 if s.hand == "across" else t
    chord = s.root_chord_mm + (abs(2 * along - 1) if s.hand == "across" else along) * (s.tip_chord_mm - s.root_chord_mm)
    outline = placed(s, along, outline_of(s, chord))
    tubes = []
    for d, at in ((s.spar_mm, s.spar_at), (s.rear_spar_mm, s.rear_spar_at)):
        if d > 0:
            x, z = spar_spot(s, along, at)
            tubes.append((x, z, d, max(d - 2 * s.spar_wall_mm, 0.0)))
    webs = []
    for at in web_spots(s):
        x, z = spar_spot(s, along, at)
        half = thick_mm(s, along, at) / 2
        webs.append((x, z - half, z + half))
    sec = w.spar.sections[k]
    tube = f", {100 * sec.ei_tubes / sec.ei:.0f} % of it the tube's" if sec.ei_tubes > 0 else ""
    words = (f"{part.name}, chord {chord:.0f} mm. EI {sec.ei * 1e-6:.1f} N m²{tube}; GJ {sec.gj * 1e-6:.1f} N m². Reserve "
             f"{w.spar.reserve[1, k]:.1f}, "
             f"{w.spar.kind[k]}.")  # fmt: skip
    return SectionPicture(outline, part.recipe.walls * part.recipe.line_width_mm, tuple(webs), tuple(tubes), words)


TIP_SHARE, TIP_PERCENT = (
    0.8,
    "5 to 10",
)  # of the half span, from which a rotor counts as at the tip; of induced drag: an estimate from the literature


def tip_words(result: Evaluation, w: WingSight) -> str:
    """Whether rotors at the wing's tips turn with or against the tips' vortices in forward flight; empty where none stand there."""
    half, spin = w.alone.span_m / 2, {s.id: s.spin for s in stations(result.project)}
    ways = set()
    for r in w.flyer.rotors:
        ahead = r.along > 0 or w.flyer.on_tail
        if ahead and r.id in spin and abs(float(r.at_m[1])) > TIP_SHARE * half:
            # seen from behind the left tip's vortex turns clockwise, as a rotor does that turns anticlockwise seen from above in hover
            ways.add(spin[r.id] * (1 if r.at_m[1] > 0 else -1))
    if not ways:
        return ""
    return (
        f"{'with' if ways == {1} else 'against' if ways == {-1} else 'one with, one against'} the tips' vortices: some {TIP_PERCENT} % "
        f"of induced "
        f"drag {'more' if ways == {1} else 'less' if ways == {-1} else 'either way'}, an estimate"
    )


def stability_words(w: WingSight) -> list[tuple[str, str]]:
    """Name and figure, one a row."""
    a = w.alone
    cruise_w = f"{a.cruise_w:.0f} W" if math.isfinite(a.cruise_w) else "not level"
    minutes = f"{w.cruise_min:.0f} min" if math.isfinite(w.cruise_min) else "—"
    hover = 60 * w.energy_wh / w.hover_w if w.hover_w > 0 else 0.0
    surface = f"{signed(math.degrees(a.cruise_surface_rad))}°" if math.isfinite(a.cruise_surface_rad) else "—"
    distance = f"{w.range_km:.0f} km" if math.isfinite(w.range_km) else "—"
    return [
        ("Area, aspect ratio", f"{100 * a.area_m2:.1f} dm², {a.aspect:.1f}"), ("Stalls at",
            f"{a.stall_m_s:.1f} m/s, {math.degrees(a.stall_rad):.0f}°"),
        ("Cruise", f"{a.cruise_m_s:.1f} m/s, nose {signed(math.degrees(a.cruise_rad))}°, surface {surface}"),
        ("Best glide", f"{a.glide:.1f} at {a.glide_m_s:.1f} m/s"), ("Power", f"{cruise_w} in cruise, {w.hover_w:.0f} W in hover"),
        ("Flies for", f"{minutes} in cruise, {hover:.0f} min in hover"), ("Range", distance),
    ]  # fmt: skip
