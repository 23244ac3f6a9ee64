"""What the product asks of a kind of part. A kind answers for the shapes of one class and for nothing else."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, ClassVar, Generic, TypeVar

from manifold3d import Manifold

from fravik.model.joint import Joint
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon, Facing
from fravik.model.shapes import Shape
from fravik.shape.build import ShapeInput
from fravik.shape.rising import Rising
from fravik.shape.stations import Floats

S = TypeVar("S", bound=Shape)


@dataclass(frozen=True, eq=False)
class Posed:
    """Where one copy stands: ``pose`` (4, 4) from the part's own axes to the craft's, and the station it goes with, if any."""

    pose: Floats
    follows: str | None = None


Edits = tuple[tuple[str, Any], ...]


@dataclass(frozen=True)
class Step:
    """One candidate change: what kind of change it is, its title, and its edits."""

    kind: str
    title: str
    edits: Edits


@dataclass(frozen=True)
class Start:
    """What a new part of a kind is called, how many there are of it, and its shape."""

    stem: str
    name: str
    count: int


class PartKind(ABC, Generic[S]):
    """One kind of part. ``starts`` names the new parts that the maker can add, by what he picks."""

    kind: ClassVar[str]
    starts: ClassVar[dict[str, Start]] = {}
    # whether changing it may help any target, or only those that name it
    answers_for_all: ClassVar[bool] = True

    @abstractmethod
    def given(self, part: Part, shape: S, project: Project) -> ShapeInput:
        """All that the part's geometry depends on."""

    @abstractmethod
    def solid(self, given: ShapeInput, shape: S) -> Manifold:
        """The closed solid in the part's own axes."""

    def rising(self, given: ShapeInput, shape: S) -> Rising | None:
        """The part as plans that only get smaller upwards, which spares its solid; None where it is none."""
        return None

    @abstractmethod
    def posed(self, part: Part, shape: S, project: Project) -> list[Posed]:
        """Where its copies stand, ``part.count`` of them."""

    def problems(self, part: Part, shape: S, project: Project) -> list[Problem]:
        """Contradictions between its fields, each at its field."""
        return []

    @abstractmethod
    def default(self, project: Project, shape: S | None = None, start: str = "") -> S:
        """A sensible shape for the craft: in place of one that is there, or for a start that the maker picked."""

    def first_joint(self, project: Project) -> Joint:
        """How a new one is held at its root."""
        return Joint()

    def first_carbon(self, shape: S, project: Project) -> Carbon:
        """Carbon that fits, to start with."""
        return Carbon()

    def first_facing(self, shape: S, project: Project) -> Facing:
        """A sheet that fits, to start with."""
        return Facing(sheet="glass_2", faces="both", end_mm=float(int(getattr(shape, "length_mm", 50.0))))

    def standing_mm(self, shape: S) -> float:
        """How far below the bottom plate it holds the craft off the ground."""
        return 0.0

    def ladders(self, part: Part, shape: S, project: Project) -> Iterator[list[Step]]:
        """Ladders of changes to its shape, one list per kind of lever, smallest first."""
        yield from ()
