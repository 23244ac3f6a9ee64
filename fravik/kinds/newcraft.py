"""New parts and new crafts in proportion: where a maker starts.

Rules of proportion only: widths follow the motor pad, heights the free length, bolts the motor's size. They are a start to
be judged by the margins, not a design.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from pydantic import ValidationError

from fravik.library.air import DENSITY_KG_M3
from fravik.model.base import explain
from fravik.model.craft import Battery, Block, Components, Layout, LayoutKind, Motor, Propeller
from fravik.model.project import Part, Printer, Project, Spool, Target
from fravik.power.momentum import ideal_hover_power_w
from fravik.printing.toobig import rectangle_fits
from fravik.shape.stations import ARRANGEMENTS, Arrangement, arrangement

from .around import LEAST_FEET, MANY_ARMS
from .asking import build_solid, places_of, printed_parts, shape_input, shape_problems
from .base import Edits
from .boughtbody import on_bought_body
from .hung import BETWEEN_MM, hung
from .newpart import part_for
from .plate.reach import reach_problems
from .proportion import arm_width_mm, half
from .rearm import rearmed
from .registry import KINDS, kind_of


@dataclass(frozen=True)
class Wish:
    """What a new craft is sized by; None follows from the rest. ``bed_mm`` is the side of the bed that what is printed must fit, ``arms``
    one of ``rearm.ARMS``; a ``body_g`` is what a bought body weighs that holds the arms, in place of printed plates; ``lift`` is how many
    times its weight, as it is guessed, the drives lift."""

    layout: LayoutKind = "quad_x"
    motor_to_motor_mm: float | None = None
    propeller_mm: float | None = None
    bed_mm: float | None = None
    payload_g: float = 0.0
    motor_g: float | None = None
    battery_g: float | None = None
    arms: str = "arm"
    body_g: float | None = None
    lift: float = 3.0


UNNAMED, PAYLOAD = "New craft", "payload"
MOST_IDLE = 0.12  # of the current in hover: more would be a poor motor for the propeller
LEAST_PROPELLER_MM, MOST_PROPELLER_MM, SMALL_MM = 25.0, 760.0, 150.0
PROPELLER_GAP = 0.08  # of a propeller's diameter, to the next one
NEIGHBOUR_MM = 5.0  # and at least so much: blades bend and arms give
# a disk that large still clears plates and battery of the proportions below
BESIDE, BESIDE_MM = 0.65, 16.0
ASIDE = 0.65  # of how far the middle of thrust is off the body's: there the battery is slid
BELOW_MM = 2.0  # more where one turns under the arm, beside legs
EDGE_SHARE, LONG_BODY_SHARE = 0.155, 0.12
USUAL_SPAN_MM, LEAST_SPAN_MM, MOST_SPAN_MM = 250.0, 60.0, 1200.0
BED_MARGIN_MM, FITTINGS = 10.0, 6
# what motors and packs weigh by their propellers: judgement, a start to be weighed
MOTOR_G, BATTERY_G, REFERENCE_MM = 33.0, 40.0, 127.0
MOTOR_POWER = 1.6  # of the propeller's diameter
MOTOR_LOAD, BATTERY_LOAD = 0.05, 0.4  # of each rotor's share of the payload; of the payload


# a load is a camera, more or less: so large at such a mass, and no wider than so much of where the legs stand
LOAD_MM, LOAD_G, LOAD_BETWEEN_LEGS, LEAST_LOAD_MM = 40.0, 150.0, 1.2, 10.0


def sized(wish: Wish, name: str = UNNAMED) -> Project:
    """A whole craft from a few wishes: what is not wished for follows from the rest.

    Raises ValueError when the wishes leave no craft, with which of them to give up.
    """
    if wish.bed_mm is None:
        return _made(wish, name)
    free = wish.motor_to_motor_mm is None and wish.propeller_mm is None
    span = _span_on_bed_mm(wish) if free else wish.motor_to_motor_mm
    for _ in range(FITTINGS if free else 1):
        made = _made(replace(wish, motor_to_motor_mm=span), name)
        longest = max(_longest_mm(part, made) for part in printed_parts(made))
        if longest + BED_MARGIN_MM <= wish.bed_mm:
            return made.model_copy(update={"printer": made.printer.model_copy(update={"bed_x_mm": wish.bed_mm, "bed_y_mm": wish.bed_mm})})
        span = half(made.layout.motor_to_motor_mm * (wish.bed_mm - BED_MARGIN_MM) / longest - 1.0)
    raise ValueError(
        f"The longest part is {longest:.0f} mm and does not fit a bed of {wish.bed_mm:.0f} mm: "
        f"about {span:.0f} mm from motor to motor would."
    )


def _made(wish: Wish, name: str) -> Project:
    if wish.layout not in ARRANGEMENTS:
        raise ValueError("Stations of your own are set free from another layout: make a craft with one that has a name first.")
    a = ARRANGEMENTS[wish.layout]
    span = wish.motor_to_motor_mm
    if span is None and wish.propeller_mm is not None:
        beside, less_mm = _beside(a)
        span = math.ceil(max(2 * (wish.propeller_mm + _gap_mm(wish.propeller_mm)) / a.apart, (wish.propeller_mm + less_mm) / beside))
    elif span is None:
        span = USUAL_SPAN_MM
    if not LEAST_SPAN_MM <= span <= MOST_SPAN_MM:
        raise ValueError(f"A new craft is {LEAST_SPAN_MM:.0f} to {MOST_SPAN_MM:.0f} mm from motor to motor; this would be {span:.0f} mm.")
    nearest = a.apart * span / 2
    propeller = wish.propeller_mm if wish.propeller_mm is not None else _largest_mm(a, span)
    if propeller < LEAST_PROPELLER_MM:
        beside, less_mm = _beside(a)
        least = math.ceil(max(2 * (LEAST_PROPELLER_MM + NEIGHBOUR_MM) / a.apart, (LEAST_PROPELLER_MM + less_mm) / beside))
        raise ValueError(f"On {span:.0f} mm from motor to motor propellers of {propeller:g} mm at most clear each other; the smallest here "
                         f"are {LEAST_PROPELLER_MM:.0f} mm. Take {least} mm from motor to motor, or fewer rotors.")  # fmt: skip
    if propeller >= nearest:
        raise ValueError(f"Propellers of {propeller:.0f} mm meet: on this layout the motors stand {nearest:.0f} mm apart. Take smaller "
                         f"propellers, or {2 * (propeller + _gap_mm(propeller)) / a.apart:.0f} mm from motor to motor.")  # fmt: skip
    size = propeller / REFERENCE_MM
    light = MOTOR_G * size**MOTOR_POWER
    motor_g = min(1500.0, max(1.0, half(light + MOTOR_LOAD * wish.payload_g / a.rotors)))
    battery_g = min(5000.0, max(5.0, half(BATTERY_G * a.rotors * size**2 + BATTERY_LOAD * wish.payload_g)))
    try:
        made = project_for(name, span, propeller, wish.motor_g or motor_g, wish.battery_g or battery_g, wish.layout, wish.payload_g,
                           wish.lift, _most_edge_mm(wish))  # fmt: skip
    except ValidationError as err:
        raise ValueError(" ".join(text for _, text in explain(err))) from None
    if wish.arms != "arm":
        made = rearmed(made, wish.arms)
    if wish.body_g is not None:
        made = on_bought_body(made, wish.body_g)
    trouble = next((p.message for part in made.parts for p in shape_problems(part, made) if p.severity == "error"), None)
    if trouble is not None:
        raise ValueError(f"That leaves no craft. {trouble}")
    return stowed(made)


def stowed(project: Project) -> Project:
    """The stack and, over it, the battery on top of the body; what hangs below, under it."""
    tops, feet = [0.0], [0.0]
    for part in (p for p in project.parts if kind_of(p.shape).seat == "body"):
        solid = build_solid(shape_input(part, project))
        for place in places_of(part, project):
            _, _, low, _, _, high = solid.transform(place.pose[:3]).bounding_box()
            tops.append(high)
            feet.append(low)
    blocks = {b.id: b for b in project.components.blocks}
    for b in blocks.values():
        if b.holds_arms:
            tops.append(b.z_mm + b.height_mm / 2)
            feet.append(b.z_mm - b.height_mm / 2)
    top = max(tops)
    if "stack" in blocks:
        stack = blocks["stack"]
        blocks["stack"] = stack.model_copy(update={"z_mm": half(top + BETWEEN_MM + stack.height_mm / 2)})
        top = blocks["stack"].z_mm + stack.height_mm / 2
    if PAYLOAD in blocks:
        blocks[PAYLOAD] = hung(blocks[PAYLOAD], project, min(feet))
    pack = project.components.battery
    pack = pack.model_copy(update={"z_mm": half(top + BETWEEN_MM + pack.height_mm / 2)})
    return project.model_copy(
        update={"components": project.components.model_copy(update={"battery": pack, "blocks": tuple(blocks.values())})}
    )


def project_for(
    name: str, motor_to_motor_mm: float, propeller_mm: float, motor_g: float, battery_g: float, layout_kind: LayoutKind = "quad_x",
    payload_g: float = 0.0, lift: float = Wish.lift, most_edge_mm: float = math.inf,
) -> Project:  # fmt: skip
    """A new craft from a few figures: layout, components and parts in proportion, the plates' edge no farther out than it may be unless
    arms would meet. Raises pydantic's ValidationError."""
    around = ARRANGEMENTS[layout_kind]
    rotors = around.rotors
    cells = 6 if battery_g > 250 else 4 if battery_g > 90 else 3 if battery_g > 40 else 2
    # what such a craft weighs is guessed high: drives that lift three times that lift four times what it comes to
    thrust = lift * (2.1 * (rotors * motor_g + battery_g) + payload_g) * 1e-3 * 9.81 / rotors
    speed = math.sqrt(thrust / (0.105 * DENSITY_KG_M3 * (propeller_mm * 1e-3) ** 4)) * 60
    kv = min(30000.0, max(40.0, round(speed / (cells * 3.6 * 0.93) / 10) * 10.0))
    # windings of like make: torque constant squared over resistance grows with the 5/3 power of mass
    ohm = (60 / (2 * math.pi * kv)) ** 2 / (6e-4 * (motor_g / 33.0) ** (5 / 3))
    hover_w = ideal_hover_power_w(thrust / lift, propeller_mm) / 0.6
    idle_a = min(0.9 * kv / 1000.0 * math.sqrt(motor_g / 44.0), MOST_IDLE * hover_w / (0.4 * cells * 3.6))
    across = 33.5 * (motor_g / 45.0) ** (1 / 3)
    motor = Motor(
        name="Motor", kv_rpm_per_v=kv, mass_g=motor_g, resistance_mohm=float(min(5000, max(2, round(ohm * 1e3)))),
        no_load_a=min(20.0, max(0.01, round(idle_a, 2))), diameter_mm=half(across), height_mm=half(0.6 * across),
        mount_circle_mm=19.0 if motor_g > 30 else 16.0 if motor_g > 18 else 12.0 if motor_g > 8 else 9.0 if motor_g > 3 else 6.5,
    )  # fmt: skip
    # many arms leave the plates farther out, or their tongues would meet
    room = math.ceil(0.63 * arm_width_mm(motor) / (0.42 * math.tan(around.least_turn_rad / 2)))
    clamp = max(min(24.0, half(0.2 * motor_to_motor_mm)), min(half(_edge_share(around) * motor_to_motor_mm), most_edge_mm), room)
    layout = Layout(kind=layout_kind, motor_to_motor_mm=motor_to_motor_mm, clamp_radius_mm=clamp, leg_radius_mm=half(0.84 * clamp))
    propeller = Propeller(
        diameter_mm=propeller_mm, pitch_mm=half(0.57 * propeller_mm), mass_g=min(100.0, max(0.3, half(7 * (propeller_mm / 178) ** 2.5)))
    )
    scale = (battery_g / 335.0) ** (1 / 3)
    battery = Battery(
        cells=cells, mass_g=battery_g, length_mm=half(78 * scale), width_mm=half(37 * scale), height_mm=half(42 * scale), x_mm=0.0,
        capacity_mah=max(100.0, round(39.0 / cells * battery_g / 50) * 50.0), z_mm=half(20 + 21 * scale),
    )  # fmt: skip
    # toys fly on one small board
    small = min(1.0, motor_to_motor_mm / SMALL_MM)
    side, tall = half(36 * small), half(14 * small)
    stack = Block(
        id="stack",
        has_gyro=True,
        name="Flight stack",
        mass_g=half(35 * small**1.5),
        length_mm=side,
        width_mm=side,
        height_mm=tall,
        z_mm=16.0,
        feeds_motors=True,
    )
    blocks: tuple[Block, ...] = (stack,)
    if payload_g > 0:
        across = half(max(min(LOAD_MM * (payload_g / LOAD_G) ** (1 / 3), LOAD_BETWEEN_LEGS * layout.leg_radius_mm), LEAST_LOAD_MM))
        load = Block(
            id=PAYLOAD, name="Payload", mass_g=payload_g, length_mm=across, width_mm=across, height_mm=half(0.75 * across), z_mm=-22.0
        )
        blocks = (*blocks, load)
    bare = Project(
        name=name,
        targets=(
            Target(
                id="weight", metric="flying_mass_g", limit=float(math.ceil(((rotors * motor_g + battery_g) * 2.0 + payload_g) / 50) * 50)
            ),
            Target(id="sag", metric="tip_sag_mm", limit=2.0),
            Target(id="modes", metric="modes_clear_pct", limit=5.0),
            Target(id="floor", metric="mode_floor_hz", limit=2.5),
            Target(id="reserve", metric="least_reserve", limit=1.5),
            Target(id="strike", metric="arm_strike_m_s", limit=3.0),
            Target(id="time", metric="print_minutes", limit=900.0),
        ),
        layout=layout,
        components=Components(motor=motor, propeller=propeller, battery=battery, blocks=blocks),
        spools=(Spool(id="petg", filament="petg"), Spool(id="pla", filament="pla", price_per_kg=20.0)),
    )
    return bare.model_copy(update={"parts": tuple(part_for(pick, bare) for pick in ("arm", "bottom", "top", "leg"))})


def _beside(a: Arrangement) -> tuple[float, float]:
    """A disk that clears plates and battery: its share of motor to motor, and the mm less than that."""
    aft = abs(sum(math.cos(b) for b in a.ends_rad)) / len(a.ends_rad) / 2  # the middle of thrust off the body's, of motor to motor
    share = BESIDE - (1.0 - a.reach) + 2 * (EDGE_SHARE - _edge_share(a)) - ASIDE * aft
    return share, BESIDE_MM + (BELOW_MM if a.rotors > len(a.arms) else 0.0)


def _largest_mm(a: Arrangement, span_mm: float) -> float:
    """The largest propeller that clears its neighbours and the body, to the half below."""
    (share, less_mm), nearest = _beside(a), a.apart * span_mm / 2
    most = min(nearest / (1 + PROPELLER_GAP), nearest - NEIGHBOUR_MM, max(share * span_mm - less_mm, LEAST_PROPELLER_MM), MOST_PROPELLER_MM)
    return math.floor(2 * most) / 2


def _gap_mm(propeller_mm: float) -> float:
    """From one propeller to the next."""
    return max(PROPELLER_GAP * propeller_mm, NEIGHBOUR_MM)


def _most_edge_mm(wish: Wish) -> float:
    """How far out the plates' edge may be: bars leave them as small as the bed wants them."""
    bed_mm = Printer().bed_x_mm if wish.bed_mm is None else wish.bed_mm
    return half(bed_mm / 2 - BED_MARGIN_MM) if wish.arms == "bar_arm" else math.inf


def _edge_share(a: Arrangement) -> float:
    """How far out the plates' edge is, of motor to motor; a long body that arms leave sideways is narrow."""
    return LONG_BODY_SHARE if a.ways_deg else EDGE_SHARE


def _span_on_bed_mm(wish: Wish) -> float:
    """The largest motor-to-motor distance whose parts lie straight on a bed: an arm is about 0.44 of it long, with its pad; where arms
    are bought, a plate is about a third of it."""
    assert wish.bed_mm is not None
    if wish.arms == "bar_arm":
        return min(MOST_SPAN_MM, half((wish.bed_mm - BED_MARGIN_MM) / 0.34))
    if wish.arms == "frame":
        return half(wish.bed_mm - BED_MARGIN_MM)
    return half((wish.bed_mm - BED_MARGIN_MM - 16.0) / 0.44)


def _longest_mm(part: Part, project: Project) -> float:
    """The longer side of a part's plan, as it lies flat."""
    x0, y0, _, x1, y1, _ = build_solid(shape_input(part, project)).bounding_box()
    return max(x1 - x0, y1 - y0)


def off_bed(project: Project) -> str:
    """Which printed part does not lie on the craft's printer, in a sentence; empty where all do."""
    bed = project.printer
    for part in printed_parts(project):
        x0, y0, _, x1, y1, _ = build_solid(shape_input(part, project)).bounding_box()
        if not rectangle_fits(min(x1 - x0, y1 - y0), max(x1 - x0, y1 - y0), bed.bed_x_mm, bed.bed_y_mm):
            return (f"{part.name} takes {max(x1 - x0, y1 - y0):.0f} mm and the bed is {bed.bed_x_mm:.0f} × {bed.bed_y_mm:.0f} mm: give the "
                    "side of yours, or take other arms or a smaller craft.")  # fmt: skip
    return ""


def relaid(project: Project, kind: LayoutKind) -> Edits:
    """The edits that turn a craft to another layout that has a name: with as many arms and legs as it has places for, where there is one
    kind of each."""
    other = project.model_copy(update={"layout": project.layout.model_copy(update={"kind": kind})})
    return (("layout.kind", kind), *counted(project, other), *_plates_that_reach(other))


def counted(project: Project, other: Project) -> Edits:
    """As many arms and legs as another layout of the craft has places for, where there is one kind of each; who names stations that it has
    not takes what is left."""
    arms = len(arrangement(other.layout).arms)
    wanted = {"arm": arms, "leg": 4 if arms < LEAST_FEET else arms if arms < MANY_ARMS else math.ceil(arms / 2)}
    out: list[tuple[str, Any]] = []
    for what, count in wanted.items():
        mine = [p for p in project.parts if p.shape.kind == what]
        if len(mine) == 1 and mine[0].count != count:
            out.append((f"parts.{mine[0].id}.count", count))
    for p in project.parts:
        if p.at and not set(p.at) <= {s.id for s in kind_of(p.shape).stations(other)}:
            out.append((f"parts.{p.id}.at", ()))
    return tuple(out)


def _plates_that_reach(project: Project) -> Edits:
    """Plates whose edge the arms' tongues would pass, made as large as the layout wants."""
    out: list[tuple[str, Any]] = []
    for part in project.parts:
        if part.shape.kind != "plate" or not any(p.severity == "error" for p in reach_problems(project)):
            continue
        wanted = KINDS["plate"].default(project, part.shape)
        for name in ("length_mm", "width_mm"):
            if getattr(wanted, name) > getattr(part.shape, name):
                out.append((f"parts.{part.id}.shape.{name}", getattr(wanted, name)))
    return tuple(out)
