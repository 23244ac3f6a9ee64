"""A panel: it is printed and weighed with the craft; what it lifts and holds is judged in Wing."""

from __future__ import annotations

from typing import get_args

from manifold3d import Manifold

from fravik.flight.mass import Placed
from fravik.library import stock_materials
from fravik.model.joint import Screw
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Recipe
from fravik.model.wing import WingShape
from fravik.shape.build import ShapeInput
from fravik.shape.wing import panel_solid

from ..around import bottom_plate_mm
from ..base import PartKind, Posed, Start
from .bodies import panel_bodies
from .checks import panel_problems
from .geometry import poses

PICKS = {
    "role": {"wing": "A wing", "tail": "A tail", "fin": "A fin"},
    "hand": {"pair": "Left and right", "across": "Across the middle", "upright": "Upright"},
    "surface": {"none": "None", "aileron": "Ailerons", "elevator": "Elevator", "elevon": "Elevons", "flaperon": "Flaperons",
                "rudder": "Rudder"},
    "hinge": {"pin": "Pin", "rubber": "Rubber strip", "living": "Bending plastic"},
    "joint_by": {"pin": "A pin", "set_screws": "Set screws", "glue": "Glue"},
    "fixed": {"glued": "Glued", "set_screw": "Set screws", "sliding": "Sliding"},
}  # fmt: skip
# what a part's geometry does not depend on
LOOSE = ("role", "on", "dihedral_deg", "incidence_deg", "x_mm", "y_mm", "z_mm", "surface_deg", "hinge", "hinge_play_deg", "servo_nmm",
         "horn_mm", "hinge_pin_mm", "joint_mm", "joint_by", "joint_pin_mm", "joint_screws", "joint_screw",
         "spar_wall_mm", "spar_material", "fixed", "glass_g_m2",
         "folds", "folded_in_hover", "fold_pin_mm", "fold_lug_mm", "fold_arm_mm",
         "fold_force_n", "fold_over_centre", "fold_play_mm", "fold_s")  # fmt: skip
FOAM = "pla_foam"


class Wing(PartKind[WingShape]):
    """What the product asks of panels."""

    kind = "wing"
    word = "wing panel"
    seat = "loose"
    shape_type = WingShape
    shade, plan_layer = "cover", 2
    groups = (
        ("Panel", ("role", "hand", "on", "length_mm", "root_chord_mm", "tip_chord_mm", "sweep_mm", "dihedral_deg", "incidence_deg",
                   "washout_deg",)),
        ("Where its root is", ("x_mm", "y_mm", "z_mm",)),
        ("Section", ("thickness", "camber",)),
        ("Surface", ("surface", "surface_share", "surface_from", "surface_to", "surface_deg", "hinge", "hinge_gap_mm",
                     "hinge_left_mm", "hinge_pin_mm", "hinge_play_deg", "servo_nmm", "horn_mm",)),
        ("Spar", ("spar_mm", "spar_wall_mm", "spar_at", "spar_material", "rear_spar_mm", "rear_spar_at", "fixed", "joint_mm",
                  "joint_by",
                  "joint_pin_mm", "joint_screws", "joint_screw",)),
        ("Inside", ("webs", "pocket_mm", "duct_mm", "glass_g_m2",)),
        ("Folding", ("folds", "folded_in_hover", "fold_pin_mm", "fold_lug_mm", "fold_arm_mm", "fold_force_n", "fold_over_centre",
                     "fold_play_mm", "fold_s",)),
    )  # fmt: skip
    starts = {
        "wing": Start("wing", "Wing", 2),
        "outer": Start("outer", "Outer wing", 2),
        "tail_plane": Start("tail_plane", "Tail plane", 2),
        "fin": Start("fin", "Fin", 1),
    }
    takes_bonds = has_flat_twin = answers_for_all = False
    judged_with_another = True
    unjudged = "What a panel lifts and what its spar holds is judged in Wing."
    along = "root to tip"

    def given(self, part: Part, shape: WingShape, project: Project) -> ShapeInput:
        """Where it stands and what moves it leave its form alone."""
        plain = type(shape)()
        return ShapeInput(shape.model_copy(update={k: getattr(plain, k) for k in LOOSE}), shape.length_mm, None)

    def solid(self, given: ShapeInput, shape: WingShape) -> Manifold:
        return panel_solid(shape)

    def posed(self, part: Part, shape: WingShape, project: Project) -> list[Posed]:
        return [Posed(m) for m in poses(part, project)][: part.count]

    def brings(self, part: Part, shape: WingShape, project: Project) -> list[Placed]:
        return panel_bodies(part, project)

    def other_hands(self, part: Part, shape: WingShape, project: Project) -> frozenset[int]:
        return frozenset({2}) if shape.hand == "pair" else frozenset()

    def problems(self, part: Part, shape: WingShape, project: Project) -> list[Problem]:
        out = panel_problems(shape, part.id, project)
        wanted = 2 if shape.hand == "pair" else 1
        if part.count != wanted:
            out.append(Problem(f"parts.{part.id}.count", f"There are {part.count} of it; a panel that stands "
                               f"{PICKS['hand'][shape.hand].lower()} comes {'in twos' if wanted == 2 else 'alone'}."))  # fmt: skip
        return out

    def default(self, project: Project, shape: WingShape | None = None, start: str = "") -> WingShape:
        """As large as the craft across, the wing's quarter chord at the middle."""
        span = round(max(project.layout.motor_to_motor_mm * 0.9, 120.0))
        chord = round(max(span * 0.45, 40.0))
        spar = float(max(round(0.12 * 0.8 * chord - 3.4), 3))
        if start == "tail_plane":
            return WingShape(role="tail", length_mm=round(span * 0.4), root_chord_mm=round(chord * 0.6), tip_chord_mm=round(chord * 0.5),
                             x_mm=-round(span * 0.9), incidence_deg=-1.0, thickness=0.08, camber=0.0, surface="elevator",
                                 spar_mm=0.0)  # fmt: skip
        if start == "fin":
            return WingShape(role="fin", hand="upright", length_mm=round(span * 0.35), root_chord_mm=round(chord * 0.6),
                             tip_chord_mm=round(chord * 0.4), x_mm=-round(span * 0.9), thickness=0.08, camber=0.0, surface="rudder",
                             spar_mm=0.0, incidence_deg=0.0)  # fmt: skip
        if start == "outer":
            host = next((p for p in project.parts if isinstance(p.shape, WingShape) and p.shape.role == "wing"), None)
            if host is not None and isinstance(host.shape, WingShape):
                h = host.shape
                return h.model_copy(update={"on": host.id, "hand": "pair", "root_chord_mm": h.tip_chord_mm, "incidence_deg": 0.0,
                                            "tip_chord_mm": round(h.tip_chord_mm * 0.8), "spar_mm": max(h.spar_mm - 2, 3.0)})  # fmt: skip
        # under the body, out of the way of arms and plates
        under = round(bottom_plate_mm(project) + 0.12 * chord + 4.0)
        return WingShape(
            length_mm=span, root_chord_mm=chord, tip_chord_mm=round(chord * 0.8), x_mm=round(chord / 4), z_mm=-float(under),
                surface="flaperon",
            spar_mm=spar, webs=4,
        )  # fmt: skip

    def first_filament(self, project: Project) -> str:
        return FOAM

    def first_recipe(self, filament: str) -> Recipe:
        """One road round, standing on its root."""
        return Recipe(filament=filament, lies="on_end", walls=1, cover_layers=0, core_density=0.0, line_width_mm=0.5)

    def picks(self, field: str) -> dict[str, str]:
        if field == "spar_material":
            return {k: m.name for k, m in stock_materials().items() if "tube" in m.forms}
        if field == "joint_screw":
            return {k: k for k in get_args(Screw)}
        return PICKS.get(field, {})
