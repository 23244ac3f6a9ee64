"""A frame plate as a true solid: a plate's middle and the layout's arms in one outline."""

from __future__ import annotations

import math
from collections.abc import Sequence

from manifold3d import CrossSection, Manifold, OpType

from fravik.model.shapes import FrameArmShape, PlateShape

from .arm import arm_blade, arm_cuts, bar_plan
from .features import raised, stands_on, without_bores
from .outline import fillet_inner
from .plate import Spots, plate_cuts, plate_outline
from .stations import Stand


def placed(plan: CrossSection, stand: Stand) -> CrossSection:
    """A plan drawn from an arm's root along x, where that arm stands."""
    return plan.rotate(math.degrees(stand.azimuth_rad)).translate((stand.x_mm, stand.y_mm))


def frame_plan(middle: PlateShape, arm: FrameArmShape, length_mm: float, stands: Sequence[Stand], lain_on: Spots = ()) -> CrossSection:
    """The frame seen from above: arms run a little into the middle, with a fillet where they leave it."""
    body, padded = arm_blade(arm, length_mm)
    # far enough inwards that no gap is left at the middle's round edge
    rooted = CrossSection.batch_boolean([placed(body, s) for s in stands], OpType.Add) + plate_outline(middle, stands)
    whole = fillet_inner(rooted, arm.root_fillet_mm) + CrossSection.batch_boolean([placed(padded, s) for s in stands], OpType.Add)
    cuts = [placed(c, s) for s in stands for c in arm_cuts(arm, length_mm)]
    return whole - CrossSection.batch_boolean([*cuts, *plate_cuts(middle, (), stands, lain_on)], OpType.Add)


def frame_arms(arm: FrameArmShape, length_mm: float, stands: Sequence[Stand]) -> CrossSection:
    """The arms beyond the middle seen from above, without their own holes."""
    return CrossSection.batch_boolean([placed(arm_blade(arm, length_mm)[1], s) for s in stands], OpType.Add)


def frame_bars(arm: FrameArmShape, length_mm: float, stands: Sequence[Stand]) -> CrossSection:
    """The stiffener bars of all arms seen from above."""
    return CrossSection.batch_boolean([placed(bar_plan(arm, length_mm), s) for s in stands], OpType.Add)


def frame_solid(middle: PlateShape, arm: FrameArmShape, length_mm: float, stands: Sequence[Stand], lain_on: Spots = ()) -> Manifold:
    """The frame as a closed solid, z = 0 at its underside."""
    plan = frame_plan(middle, arm, length_mm, stands, lain_on)
    solid = plan.extrude(middle.thickness_mm)
    if arm.bar_height_mm > 0:
        solid = solid + frame_bars(arm, length_mm, stands).extrude(middle.thickness_mm + arm.bar_height_mm)
    if stands_on(middle.features):
        solid = without_bores(solid, middle.features, middle.thickness_mm) + raised(middle.features, plan, middle.thickness_mm)
    return solid
