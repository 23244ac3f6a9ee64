"""What the product asks of a kind of part. A kind answers for the shapes of one class and for nothing else."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, ClassVar, Generic, Literal, TypeVar

from manifold3d import Manifold

from fravik.flight.mass import Placed
from fravik.model.base import Frozen
from fravik.model.joint import Joint
from fravik.model.laying import Laying
from fravik.model.problem import Problem
from fravik.model.project import Part, Project
from fravik.model.recipe import Carbon, Facing, Recipe
from fravik.model.shapes import Shape
from fravik.shape.build import ShapeInput
from fravik.shape.inlay import StraightBody
from fravik.shape.rising import Rising
from fravik.shape.stations import Floats, Station
from fravik.structure.beams import TipBody
from fravik.structure.cases import CraftLoads, Touchdown, sag_mm
from fravik.structure.form import BeamForm
from fravik.structure.member import MemberAnswer
from fravik.structure.notches import Raiser
from fravik.structure.platesection import PlateForm

S = TypeVar("S", bound=Shape)


@dataclass(frozen=True, eq=False)
class Posed:
    """Where one copy stands: ``pose`` (4, 4) from the part's own axes to the craft's, and the station it goes with, if any."""

    pose: Floats
    follows: str | None = None


@dataclass(frozen=True, eq=False)
class Pins:
    """What holds up a plate that stands on standoffs: where (n, 2) in the craft's plan, how wide each bears, the part it stands on (none:
    the body), and the plate's size and thickness."""

    at_mm: Floats
    radius_mm: float
    on: str
    size_mm: tuple[float, float]
    thick_mm: float


Edits = tuple[tuple[str, Any], ...]


@dataclass(frozen=True)
class Step:
    """One candidate change: what kind of change it is, its title, and its edits."""

    kind: str
    title: str
    edits: Edits


@dataclass(frozen=True)
class Weighed:
    """What plastics and orientations of a part are weighed by: names with units of its crash and its stiffness figure, and the latter of a
    beam."""

    crash: str
    flex: str
    of: Callable[[MemberAnswer], float]


@dataclass(frozen=True)
class Start:
    """What a new part of a kind is called, and how many there are of it unless the layout says."""

    stem: str
    name: str
    count: int = 1


class PartKind(ABC, Generic[S]):
    """One kind of part. ``starts`` names the new parts that the maker can add, by what he picks."""

    kind: ClassVar[str]
    # what it is called in a sentence, where that is not its kind
    word: ClassVar[str] = ""
    shape_type: ClassVar[type[Frozen]]
    # its fields as the maker reads them: captions, and what stands below each
    groups: ClassVar[tuple[tuple[str, tuple[str, ...]], ...]] = ()
    # its colour in pictures of the whole craft, by what the palette calls it, and how high it is drawn in plan
    shade: ClassVar[str] = "cover"
    plan_layer: ClassVar[int] = 3
    starts: ClassVar[dict[str, Start]] = {}
    # whether it is judged as a chain of beams
    bends: ClassVar[bool] = False
    # what its root is fixed to: the body where the layout has an arm, the plate above or below it, or the arm's end under a rotor; or that
    # it is the body itself, stands between its plates, goes along loose, its joint unknown, or goes round with a motor's shaft
    seat: ClassVar[Literal["root", "plate", "rotor", "body", "between", "loose", "shaft"]] = "plate"
    # whether a motor sits at its end, whether the craft lands on it
    carries_rotor: ClassVar[bool] = False
    stands: ClassVar[bool] = False
    # whether one of it is worth testing on the bench before the rest is printed, and whether it is printed first for that
    bench_tested: ClassVar[bool] = False
    printed_first: ClassVar[bool] = False
    # whether carbon profiles can be glued along it, whether anything can be glued to it
    takes_profiles: ClassVar[bool] = False
    takes_bonds: ClassVar[bool] = True
    # which page of its root joint the maker edits: all of the joint, its screws alone, those of a clamp, or none
    root_page: ClassVar[Literal["joint", "screws", "clamp", ""]] = ""
    # what its two ways of bending are called
    bending: ClassVar[tuple[str, str]] = ("up and down", "sideways")
    # why it is not judged by itself, where it never is, and whether it is with another part; whether its outline could be cut from plate
    unjudged: ClassVar[str] = "This part is not judged."
    judged_with_another: ClassVar[bool] = False
    has_flat_twin: ClassVar[bool] = True
    # what its ruler runs from and to
    along: ClassVar[str] = ""
    weighed: ClassVar[Weighed] = Weighed("drop survived, m", "stiffness at the end, N/mm", lambda a: 1.0 / float(a.compliance[2, 2]))
    # whether a copy may be detached from where the kind puts it, and stand where its maker says
    detachable: ClassVar[bool] = False
    # whether it may be of a plastic that bends far: what carries load may not
    may_flex: ClassVar[bool] = False
    # whether changing it may help any target, or only those that name it
    answers_for_all: ClassVar[bool] = True

    @property
    def called(self) -> str:
        """What it is called in a sentence."""
        return self.word or self.kind

    def plain(self, shape: S) -> S:
        """Without what its strength counts apart: what stands on a plate, a honeycomb through an arm."""
        return shape

    def stiffening(self, given: ShapeInput, shape: S) -> PlateForm:
        """What a plate has beyond its even thickness, where it is judged as one."""
        return PlateForm()

    def pins(self, part: Part, shape: S, project: Project) -> Pins | None:
        """What a plate stands on, where it is judged on standoffs of its own."""
        return None

    def picks(self, field: str) -> dict[str, str]:
        """What a field of the shape is picked from, with what each is called; none for one that is a number."""
        return {}

    def stock(self, shape: S) -> str:
        """The material of the bar that it is cut from; empty for what is printed, or cut from plate at the maker's choice."""
        return ""

    def holders(self, part: Part, shape: S, project: Project) -> tuple[Part | None, Part | None]:
        """The printed parts whose plastic gives at its root and at its end; None for its own."""
        return None, None

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

    def brings(self, part: Part, shape: S, project: Project) -> list[Placed]:
        """What is bought for it and flies along: tubes, standoffs."""
        return []

    def other_hands(self, part: Part, shape: S, project: Project) -> frozenset[int]:
        """Which of its copies, by number from 1, are mirror images of what is drawn."""
        return frozenset()

    def handed(self, shape: S) -> bool:
        """Whether it is another thing than its mirror image."""
        return False

    def stations(self, project: Project) -> tuple[Station, ...]:
        """The stations at which its copies stand, one each, in the order in which they are taken; none where it follows none."""
        return ()

    def problems(self, part: Part, shape: S, project: Project) -> list[Problem]:
        """Contradictions between its fields, each at its field."""
        return []

    @abstractmethod
    def default(self, project: Project, shape: S | None = None, start: str = "") -> S:
        """A sensible shape for the craft: in place of one that is there, or for a start that the maker picked."""

    def new_count(self, project: Project, start: str) -> int:
        """How many a new part of it is made of."""
        return self.starts[start].count

    def first_filament(self, project: Project) -> str:
        """What a new one is printed of; empty for that of the craft's first part."""
        return ""

    def first_recipe(self, filament: str) -> Recipe:
        """How a new one is printed."""
        return Recipe(filament=filament)

    def first_laying(self, project: Project) -> Laying:
        """How a new one's layers are laid."""
        return Laying()

    def first_joint(self, project: Project) -> Joint:
        """How a new one is held at its root."""
        return Joint()

    def first_carbon(self, shape: S, project: Project) -> Carbon:
        """Carbon that fits, to start with."""
        return Carbon()

    def first_facing(self, shape: S, project: Project) -> Facing:
        """A facing that fits, to start with."""
        return Facing(stock="glass_2", faces="both", end_mm=float(int(getattr(shape, "length_mm", 50.0))))

    def straight(self, part: Part, shape: S, length_mm: float) -> StraightBody | None:
        """The part as carbon profiles and facings see it; None where none can be glued along it."""
        return None

    def flat_mm2(self, shape: S) -> float:
        """Area of each of its two flat faces that a facing can cover, where it is not straight."""
        return 0.0

    def form(self, part: Part, shape: S, length_mm: float) -> BeamForm:
        """The part as beams, where it bends."""
        raise TypeError(f"A part of the kind {self.kind} is not judged as beams.")

    def raisers(self, shape: S, length_mm: float, q: float) -> list[Raiser]:
        """Its stress raisers for a notch sensitivity ``q``."""
        return []

    def tip(self, part: Part, shape: S, project: Project) -> TipBody | None:
        """What it carries at its end."""
        return None

    def cases(self, loads: CraftLoads, shape: S, answer: MemberAnswer, down: Touchdown) -> dict[str, Floats]:
        """Unit-load combinations of a beam in every case of its kind."""
        return {}

    def lean_deg(self, shape: S) -> float:
        """How far it leans outwards from upright, where the craft stands on it."""
        return 0.0

    def gives(self, answer: MemberAnswer, cases: dict[str, Floats]) -> str:
        """How far a beam gives under its own telling load, in words."""
        return f"{sag_mm(answer, cases['hard_landing']):.2f} mm in a hard landing"

    def screw_holes(self, shape: S) -> int:
        """Holes of its root for screws."""
        return 2

    def followed(self, shape: S, project: Project) -> dict[str, float]:
        """Fields that may be left empty, and what they then follow to."""
        return {}

    def folds_at_mm(self, part: Part, shape: S) -> float | None:
        """Along its length, where the upright pin is about which it folds away; none where it does not fold."""
        return None

    def wires_run(self, shape: S) -> str:
        """How a motor's wires go along it."""
        return "along it"

    def ladders(self, part: Part, shape: S, project: Project) -> Iterator[list[Step]]:
        """Ladders of changes to its shape, one list per kind of lever, smallest first."""
        yield from ()

    def stouter(self, shape: S, stronger: float, stiffer: float) -> dict[str, float]:
        """Its fields when it is about so many times as strong and as stiff, in good proportion; none where nothing of it can grow."""
        return {}
