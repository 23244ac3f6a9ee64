"""How a part meets its neighbour at the root: one piece, bolted, dovetail, clamp, glued lap or hinge."""

from __future__ import annotations

from typing import Literal

from .base import Frozen, choice, quantity

JointKind = Literal["one_piece", "bolted", "dovetail", "clamp", "glued", "hinge"]
Screw = Literal["M2", "M2.5", "M3", "M4", "M5"]
Fixing = Literal["through", "captive", "heat_set", "tapped"]

JOINT_LABELS: dict[str, str] = {
    "one_piece": "One piece with the body",
    "bolted": "Bolted tongue",
    "dovetail": "Dovetail",
    "clamp": "Clamp round a tube",
    "glued": "Glued lap",
    "hinge": "Hinge, folding",
}
FIXING_LABELS: dict[str, str] = {
    "through": "Through bolt and nut",
    "captive": "Captive nut",
    "heat_set": "Heat-set insert",
    "tapped": "Screw into plastic",
}
# which fields count for which kind, in the order they are shown
JOINT_FIELDS: dict[str, tuple[str, ...]] = {
    "one_piece": (),
    "bolted": ("plates", "screw", "fixing", "engaged_mm", "tightness", "friction"),
    "dovetail": ("dovetail_depth_mm", "dovetail_angle_deg", "fit_gap_mm", "screw", "fixing", "engaged_mm", "tightness"),
    "clamp": ("tube_mm", "clamp_length_mm", "clamp_screws", "screw", "tightness", "friction"),
    "glued": ("adhesive", "glue_gap_mm"),
    "hinge": ("pin_mm", "pin_span_mm", "pin_play_mm", "latch_radius_mm", "latch_play_mm", "latch_strength_n"),
}


class Joint(Frozen):
    """The root joint. Only the fields of its kind count; the others keep their values for a change of mind."""

    kind: JointKind = choice("bolted", "Root joint")
    plates: Literal["both", "one"] = choice("both", "Plates")
    screw: Screw = choice("M3", "Screw")
    fixing: Fixing = choice("through", "Fixing")
    engaged_mm: float = quantity(6.0, 1.0, 40.0, "mm", "Thread or insert length", "what holds in the plastic", step=0.5)
    tightness: float = quantity(0.6, 0.0, 1.0, "", "Tightness", "share of the torque that would strip or crush", step=0.05)
    friction: float = quantity(0.25, 0.05, 0.8, "", "Friction", "plastic on plastic about 0.25, on carbon 0.2", step=0.05)
    dovetail_depth_mm: float = quantity(5.0, 1.0, 20.0, "mm", "Dovetail flare", "how much wider the tail is, each side", step=0.5)
    dovetail_angle_deg: float = quantity(60.0, 35.0, 80.0, "°", "Flank angle", "steeper than 80 pulls out, under 35 splits", step=1)
    fit_gap_mm: float = quantity(0.1, 0.0, 0.6, "mm", "Fit gap", "free play each side as printed", step=0.05)
    tube_mm: float = quantity(10.0, 3.0, 30.0, "mm", "Tube diameter", "what the clamp closes on", step=1)
    clamp_length_mm: float = quantity(20.0, 4.0, 80.0, "mm", "Clamp length", "along the tube", step=1)
    clamp_screws: int = quantity(2, 1, 6, "", "Clamp screws", "across the slit", step=1)
    adhesive: str = choice("epoxy_slow", "Adhesive")
    glue_gap_mm: float = quantity(0.2, 0.05, 1.0, "mm", "Glue gap", "thickness of the adhesive", step=0.05)
    pin_mm: float = quantity(4.0, 1.5, 10.0, "mm", "Pin diameter", "must leave plastic around it", step=0.5)
    pin_span_mm: float = quantity(14.0, 3.0, 60.0, "mm", "Bearing span", "between the two bearings or ears", step=1)
    pin_play_mm: float = quantity(0.05, 0.0, 0.5, "mm", "Pin play", "diametral clearance of pin and bearing", step=0.01)
    latch_radius_mm: float = quantity(15.0, 3.0, 80.0, "mm", "Latch radius", "from the pin to the latch", step=1)
    latch_play_mm: float = quantity(0.1, 0.0, 1.0, "mm", "Latch play", "free travel at the latch", step=0.05)
    latch_strength_n: float = quantity(150.0, 5.0, 3000.0, "N", "Latch holds", "before it opens or breaks", step=10)
