"""A camera mount as beams, and where its stress is raised."""

from __future__ import annotations

from fravik.model.project import Part
from fravik.model.shapes import MountShape
from fravik.shape.mount import mount_body, mount_bolts
from fravik.structure.form import BeamForm, beyond_fillet
from fravik.structure.joints import RootGeometry
from fravik.structure.notches import Raiser, shoulder
from fravik.structure.path import straight_path


def mount_form(part: Part, s: MountShape) -> BeamForm:
    """Along x from the plate's edge to the middle of the pad; it hangs from one plate."""
    length = s.length_mm
    breaks = [min(s.root_fillet_mm, 0.3 * length), max(length - s.pad_length_mm / 2, 0.3 * length)]
    path = straight_path(length, breaks, part.carbon, part.facing)
    root = RootGeometry(s.root_width_mm, s.thickness_mm, s.tongue_length_mm, s.tongue_width_mm, tuple(mount_bolts(s)), s.tongue_bolt_mm)
    return BeamForm(
        s, length, path, beyond_fillet(path, s.root_fillet_mm, length), root, lambda q: mount_raisers(s, q), "one plate",
        overhang_mm=s.pad_length_mm / 2, body=mount_body(s),
    )  # fmt: skip


def mount_raisers(s: MountShape, q: float) -> list[Raiser]:
    """Root and pad fillets."""
    r, pad, edge, thick = s.root_fillet_mm, s.pad_fillet_mm, s.length_mm - s.pad_length_mm / 2, s.thickness_mm
    return [
        shoulder(0.0, r, r, s.root_width_mm, s.tongue_width_mm, thick, q, "root fillet", "root_fillet_mm"),
        shoulder(edge - pad, edge, pad, s.tip_width_mm, s.pad_width_mm, thick, q, "pad fillet", "pad_fillet_mm"),
    ]
