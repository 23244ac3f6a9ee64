"""The stages in the order makers work, which targets each stands for, and how each is marked on the rail."""

from __future__ import annotations

from collections.abc import Sequence

from fravik.app.foresight import Foresight
from fravik.app.settler import Settler
from fravik.app.widgets.glyphs import WEIGHT_MARK, worst
from fravik.kinds.printedblades import printed_on
from fravik.kinds.wing.geometry import goes_over
from fravik.model.project import Project
from fravik.study.margins import Margin

STAGES = [("PLAN", ["Brief", "Airframe"]), ("SHAPE", ["Parts", "Propeller", "Wing"]), ("PROVE", ["Vibration", "Transition"]),
          ("MAKE", ["Print run"])]  # fmt: skip
ON_WINGS = ("Wing", "Transition")  # stay away from crafts that hang on their rotors alone
STAGE_METRICS = {
    "Brief": ("craft_cost",),
    "Airframe": (
        "made_mass_g",
        "drive_mass_g",
        "battery_mass_g",
        "equipment_mass_g",
        "flying_mass_g",
        "endurance_min",
        "thrust_to_weight",
        "motor_temp_c",
        "top_current_a",
        "thrust_left",
    ),
    "Parts": ("tip_sag_mm", "least_reserve", "flat_drop_m", "arm_strike_m_s", "material_cost"),
    "Propeller": (),
    "Vibration": ("modes_clear_pct", "mode_floor_hz", "gyro_shake_dps", "camera_shake_px", "ring_margin_db"),
    "Wing": ("stall_m_s", "static_margin_pct", "spar_reserve", "cruise_min"),
    "Transition": ("wing_hover_throttle", "corridor_reserve_pct", "com_travel_mm", "tilt_share"),
    "Print run": ("print_minutes",),
}


def marks(project: Project, shown: Sequence[Margin], settler: Settler, foresight: Foresight) -> dict[str, tuple[bool, str]]:
    """By stage: whether the craft needs it, and the worst verdict inside it."""
    by_metric = {m.metric: m.verdict for m in shown}
    over, out = goes_over(project), dict[str, tuple[bool, str]]()
    for name in (name for _, names in STAGES for name in names):
        found: list[str] = [by_metric[k] for k in STAGE_METRICS[name] if k in by_metric]
        if name == "Brief":
            found = [m.verdict for m in shown]
        if name == "Print run" and settler.fresh and settler.settled is not None:
            found = [*found, settler.settled.verdict]
        found = [*found, *(WEIGHT_MARK[f.weight] for f in foresight.open if f.stage == name and f.weight in WEIGHT_MARK)]
        if name == "Propeller" and not foresight.fresh and printed_on(project):
            found = ["not known yet"]  # what may not spin is foreseen
        if name == "Transition" and not foresight.fresh and over:
            found = [*found, "not known yet"]  # the way over is foreseen
        out[name] = over or name not in ON_WINGS, worst(found)
    return out
