"""A component in a few figures, for where its fields are folded away."""

from __future__ import annotations

from fravik.model.project import Project
from fravik.shape.stations import arrangement

from .around import motor_radius_mm

Told = tuple[str | tuple[float, str], ...]  # words, and figures with their unit


def summary(project: Project, path: str) -> Told:
    """Of the layout, the motor, the propeller, the battery, a component (``components.blocks.ID``) or the printer;
    nothing of what is gone."""
    c, last = project.components, path.rsplit(".", 1)[-1]
    if path == "layout":
        return (arrangement(project.layout).name, (2 * motor_radius_mm(project), "mm"))
    if last == "motor":
        return ((c.motor.mass_g, "g"), (c.motor.kv_rpm_per_v, "rpm/V"))
    if last == "propeller":
        return ((c.propeller.diameter_mm, "mm"), f"{c.propeller.blades} blades")
    if last == "battery":
        return (f"{c.battery.cells} cells", (c.battery.capacity_mah, "mAh"), (c.battery.mass_g, "g"))
    if path.startswith("components.other_drives."):
        drive = next((d for d in c.other_drives if d.id == last), None)
        return () if drive is None else ((drive.propeller.diameter_mm, "mm"), (drive.motor.kv_rpm_per_v, "rpm/V"))
    if path.startswith("components.blocks."):
        block = next((b for b in c.blocks if b.id == last), None)
        if block is None:
            return ()
        pack = (f"{block.pack_cells} cells", (block.pack_mah, "mAh")) if block.pack_cells else ()
        return (*pack, (block.mass_g, "g"))
    if path == "printer":
        return ((project.printer.wall_speed_mm_s, "mm/s"), (project.printer.acceleration_mm_s2, "mm/s²"))
    return ()
