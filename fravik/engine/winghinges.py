"""Control surfaces: torque of the hinge against the servo, and whether the hinge itself stands it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from fravik.flight.aero.alone import Alone
from fravik.kinds.wing.geometry import panels, wing_of
from fravik.model.material import CORNERS, Corner, Filament, Spread
from fravik.model.project import Part
from fravik.model.recipe import Recipe
from fravik.model.wing import WingShape
from fravik.shape.wing import WEB_LEFT_MM, chord_at
from fravik.structure.hinge import bending_nmm, bending_strain, peel_use, pin_use, turns_till_broken
from fravik.study.margins import Verdict
from fravik.study.rounded import about

from .results import Evaluation
from .spars import q_mpa

SERVO_SHARE = 0.6  # of its stalled torque that a servo is to work at
# moment of a plain flap about its hinge, a radian: McCormick 1979, figure 3.36, flaps of a quarter chord
HINGE_DELTA, HINGE_ALPHA = 0.55, 0.30
CENTRE = 1 / 3  # of its chord, where the load of a surface acts that falls off evenly to its trailing edge
HALF = 0.5
FEW_TURNS = 3000.0  # to the end of travel and back: a surface that lasts for less is told


@dataclass(frozen=True)
class HingeSight:
    """A surface: torque at the fastest, what its servo gives, its play; what of the hinge's strength is asked, how often bending plastic
    lasts (to the end of its travel, low to high), and in words."""

    part: Part
    torque_nmm: float
    servo_nmm: float
    play_deg: float
    use: float
    turns: Spread | None
    words: str

    @property
    def share(self) -> float:
        """Of what its servo is to work at."""
        return self.torque_nmm / (SERVO_SHARE * max(self.servo_nmm, 1e-9))

    @property
    def breaks(self) -> bool:
        """Whether the hinge itself gives at once."""
        return self.use > 1 or (self.turns is not None and self.turns.low < 1)

    @property
    def tires(self) -> bool:
        """Whether bending plastic cracks before long."""
        return self.turns is not None and self.turns.low < FEW_TURNS

    @property
    def verdict(self) -> Verdict:
        """Whether hinge and servo can."""
        if self.breaks:
            return "fails"
        return "tight" if self.share > 1 or self.use > HALF or self.tires else "holds"


def hinges_of(result: Evaluation, a: Alone, fastest_m_s: float) -> tuple[HingeSight, ...]:
    """Every surface, at full travel at its fastest."""
    out = []
    for part in panels(result.project):
        s = wing_of(part)
        if s.surface == "none" or s.surface_to <= s.surface_from:
            continue
        chord = chord_at(s, (s.surface_from + s.surface_to) / 2) * s.surface_share
        span = (s.surface_to - s.surface_from) * s.length_mm
        ch = HINGE_DELTA * math.radians(s.surface_deg) + HINGE_ALPHA * max(a.stall_rad / 2, 0.0)
        torque = q_mpa(fastest_m_s) * ch * chord**2 * span
        r = result.parts[part.id]
        back = _back_nmm(s, r.filament, span)
        pull = torque / (CENTRE * chord) + (torque + back) / s.horn_mm
        use, turns, words = _hinge(s, r.filament, r.part.recipe, pull, span)
        out.append(HingeSight(part, torque + back, s.servo_nmm, s.hinge_play_deg, use, turns, words))
    return tuple(out)


def _left_mm(s: WingShape) -> float:
    return WEB_LEFT_MM if s.webs else s.hinge_left_mm


def _back_nmm(s: WingShape, f: Filament, span: float) -> float:
    if s.hinge != "living":
        return 0.0
    return bending_nmm(f.e_road_mpa.typical, _left_mm(s), s.hinge_gap_mm, span, math.radians(s.surface_deg))


def _hinge(s: WingShape, f: Filament, recipe: Recipe, pull: float, span: float) -> tuple[float, Spread | None, str]:
    """What of its strength is asked, how often it lasts, and words."""
    if s.hinge == "pin":
        use = pin_use(pull, s.hinge_pin_mm, span, f.t_layer_mpa.low)
        return use, None, f"{pull:.1f} N on a pin of {s.hinge_pin_mm:g} mm: {100 * use:.0f} % of its shear"
    if s.hinge == "rubber":
        use = peel_use(pull, span)
        return use, None, f"{pull:.1f} N on {span:.0f} mm of strip: {100 * use:.0f} % of what its glue peels at"
    strain = bending_strain(_left_mm(s), s.hinge_gap_mm, math.radians(s.surface_deg))
    turns = Spread(*(turns_till_broken(strain, *_strains(f, recipe, c)) for c in CORNERS))
    lasts = "cracks at the first" if turns.low < 1 else f"lasts {about(turns.low)} to {about(turns.high)} times"
    return 0.0, turns, f"strained {100 * strain:.1f} % at {s.surface_deg:g}\u00b0: {lasts}"


def _strains(f: Filament, recipe: Recipe, corner: Corner) -> tuple[float, float]:
    """Yield and break: along roads in a panel that stands, across them in one that lies."""
    if recipe.lies in ("on_end", "on_other_end"):
        yields = f.s_road_mpa.at(corner) / f.e_road_mpa.at(corner)
        return yields, yields * f.ductility_road.at(corner)
    yields = f.s_cross_mpa.at(corner) / f.e_cross_mpa.at(corner)
    return yields, yields * f.ductility_layer.at(corner)
