"""The kinds of part there are. A new kind is a folder of its own and a line here."""

from __future__ import annotations

from typing import Any

from fravik.model.project import know_shape
from fravik.model.shapes import Shape

from .adapterring import AdapterRing
from .arm import Arm
from .bararm import BarArm
from .base import PartKind
from .deck import Deck
from .frame import Frame, FrameArm
from .guard import Guard
from .imported import Imported
from .leg import Leg
from .motorholder import MotorHolder
from .mount import Mount
from .plate import Plate
from .propeller import OwnPropeller
from .rootclamp import RootClamp
from .wing import Wing

EVERY: tuple[PartKind[Any], ...] = (
    Arm(), FrameArm(), Frame(), BarArm(), RootClamp(), MotorHolder(), Leg(), Plate(), Guard(), Mount(), Imported(), OwnPropeller(),
        AdapterRing(),
    Wing(), Deck(),
)  # fmt: skip
KINDS: dict[str, PartKind[Any]] = {k.kind: k for k in EVERY}


def kind_of(shape: Shape) -> PartKind[Any]:
    """The kind that answers for a shape."""
    return KINDS[shape.kind]


def register(kind: PartKind[Any]) -> None:
    """Let crafts have parts of another kind."""
    KINDS[kind.kind] = kind
    know_shape(kind.shape_type)


def withdraw(kind: PartKind[Any]) -> None:
    """Take a registered kind back."""
    del KINDS[kind.kind]
    know_shape(kind.shape_type, known=False)
