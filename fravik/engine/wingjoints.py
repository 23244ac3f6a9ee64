"""Where a wing comes apart: folds, panels on each other's tubes, and the wing on the body."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from fravik.kinds.wing.checks import seat_mm
from fravik.kinds.wing.geometry import wing_of
from fravik.library import screw, stock_materials
from fravik.model.joint import Joint
from fravik.model.project import Part
from fravik.model.wing import WingShape
from fravik.shape.wing import outline_of, placed, thick_mm
from fravik.structure.fasteners import screw_hold
from fravik.structure.spar import outline_worth
from fravik.structure.tubejoint import (
    IN_A_HOLE,
    set_screw_nmm,
    socket_mpa,
    tube_mpa,
    wall_from_inside_mpa,
    wall_under_screw_mpa,
)
from fravik.study.margins import Verdict

from .results import Evaluation, PartResult
from .spars import SparSight, chain_of, one_tube, skin_goes_on

HALF = 0.5  # share of what holds that is to be asked of it
LITTLE = 1 / 1.5  # of what a joint stands, beyond which little is in hand
CARBON_FRICTION = 0.2  # of a screw or a tunnel on carbon: a working assumption
SCREWS_APART = 0.5  # of the root's chord, between the foremost and the hindmost screw down into the body: a working assumption
PIN_BACK, PIN_DEEP_MM = 0.45, 8.0  # of the root's chord behind the tube; in each rib: working assumptions
SEATED_MM = (-0.05, 0.35)  # how much smaller than its bore a tube may be
HOLDS = 99.0


@dataclass(frozen=True)
class FoldSight:
    """A folding joint: moment that lift opens it with, force at its lever and what holds, pressure on its lugs and what these stand, how
    far the
    tip moves with its play."""

    part: Part
    moment_nmm: float
    force_n: float
    holds_n: float
    lug_mpa: float
    stands_mpa: float
    play_mm: float

    @property
    def share(self) -> float:
        """Of what holds it; an over-centre linkage is closed by lift."""
        shape = wing_of(self.part)
        return 0.0 if shape.fold_over_centre else self.force_n / max(self.holds_n, 1e-9)

    @property
    def verdict(self) -> Verdict:
        """Whether latch and lugs hold."""
        if self.share > 1 or self.lug_mpa > self.stands_mpa:
            return "fails"
        return "tight" if self.share > HALF else "holds"


@dataclass(frozen=True)
class JointUse:
    """One way in which a joint gives: what is asked over what it stands (the weakest print), and in words with figures."""

    way: str
    use: float
    words: str


@dataclass(frozen=True)
class JointSight:
    """Where a panel's root sits on the next panel (``on``) or on the body, and every way in which that gives."""

    part: Part
    on: Part | None
    ways: tuple[JointUse, ...]

    @property
    def worst(self) -> JointUse:
        """What gives first."""
        return max(self.ways, key=lambda w: w.use)

    @property
    def verdict(self) -> Verdict:
        """Of the worst."""
        return "fails" if self.worst.use > 1 else "tight" if self.worst.use > LITTLE else "holds"


def loose_tubes(result: Evaluation) -> tuple[tuple[Part, Part, float], ...]:
    """Neighbours whose tubes do not go into each other, and by how much (mm)."""
    out = []
    for inner, outer in pairwise(chain_of(result)):
        s, o = wing_of(inner), wing_of(outer)
        gap = s.spar_mm - 2 * s.spar_wall_mm - o.spar_mm
        if s.spar_mm > 0 and o.spar_mm > 0 and not SEATED_MM[0] <= gap <= SEATED_MM[1] and not o.folds and not one_tube(s, o):
            out.append((inner, outer, gap))
    return tuple(out)


def folds_of(result: Evaluation, spar: SparSight) -> tuple[FoldSight, ...]:
    """Every fold of the half wing."""
    out = []
    for k, part in _roots(result, spar):
        s = wing_of(part)
        if not s.folds:
            continue
        moment = float(spar.answer.moment_nmm[k])
        force = abs(moment) / s.fold_arm_mm
        plastic = result.parts[part.id].filament
        outboard = float(spar.half.y_mm[-1] - spar.half.y_mm[k])
        out.append(FoldSight(part, moment, force, s.fold_force_n, force / (s.fold_pin_mm * 2 * s.fold_lug_mm), plastic.s_cross_mpa.low,
                             s.fold_play_mm / s.fold_arm_mm * outboard))  # fmt: skip
    return tuple(out)


def _roots(result: Evaluation, spar: SparSight) -> list[tuple[int, Part]]:
    """First piece of each panel, with the panel."""
    return [(k, result.project.part(p)) for k, p in enumerate(spar.part_of) if k == 0 or spar.part_of[k - 1] != p]


def joints_of(result: Evaluation, spar: SparSight) -> tuple[JointSight, ...]:
    """Every place where panels sit on tubes or on the body, under the spar's hardest load. What folds there, and what runs through as one
    tube, has none; a tube that does not fit is told as that."""
    out = []
    loose = {outer.id for _, outer, _ in loose_tubes(result)}
    for k, part in _roots(result, spar):
        s, r = wing_of(part), result.parts[part.id]
        shear, moment, torque = (float(v[k]) for v in (spar.answer.shear_n, spar.answer.moment_nmm, spar.answer.torque_nmm))
        host = next((p for p in result.project.parts if p.id == s.on), None)
        ways: list[JointUse] = []
        if host is not None:
            if s.folds or part.id in loose or one_tube(wing_of(host), s):
                continue
            ways += _in_tube(s, wing_of(host), shear, moment) if s.spar_mm > 0 else _no_tube(s)
            ways += _turns(s, wing_of(host), r, torque) if s.spar_mm > 0 else []
        elif s.through:
            ways += _down(s, r, spar, shear, torque)
        else:
            ways += [*_in_body(s, r, shear, moment), *_turns(s, s, r, torque)] if s.spar_mm > 0 else _no_tube(s)
        if s.fixed == "set_screw" and s.spar_mm > 0:
            ways += _on_own_tube(s, r, torque)
        if ways:
            out.append(JointSight(part, host, tuple(ways)))
    return tuple(out)


def _alone(s: WingShape, moment: float) -> JointUse:
    """The tube in the gap between skins."""
    stands = stock_materials()[s.spar_material].s_road_mpa.low
    bent = tube_mpa(moment, s.spar_mm, s.spar_mm - 2 * s.spar_wall_mm)
    return JointUse("its tube breaks there", bent / stands, f"{bent:.0f} of {stands:.0f} MPa in the tube, which bears alone")


def _no_tube(s: WingShape) -> list[JointUse]:
    """A panel without a tube: its skin goes on only where its rim is glued."""
    return [] if skin_goes_on(s) else [JointUse("nothing carries its bending there", HOLDS, "it has no tube, and its rim is not glued")]


def _in_tube(s: WingShape, host: WingShape, shear: float, moment: float) -> list[JointUse]:
    """A tube in the next one: it bends alone where the skin ends, presses in its seat, and opens the other's wall."""
    bore, long = host.spar_mm - 2 * host.spar_wall_mm, min(s.joint_mm, seat_mm(host))
    presses = float(socket_mpa(shear, moment + shear * long / 2, s.spar_mm, long))
    wall, stands = wall_from_inside_mpa(presses, bore, host.spar_mm), stock_materials()[host.spar_material].s_cross_mpa.low
    return [
        _alone(s, moment),
        JointUse("the tube that it sits in splits", wall / stands, f"{presses:.1f} MPa on {long:.0f} mm bend its wall by {wall:.0f} "
                 f"of {stands:.0f} MPa"),
    ]  # fmt: skip


def _in_body(s: WingShape, r: PartResult, shear: float, moment: float) -> list[JointUse]:
    """A tube that ends in the body, in a socket printed like the panel's filament."""
    presses = float(socket_mpa(shear, moment + shear * s.beyond_mm / 2, s.spar_mm, s.beyond_mm))
    stands = IN_A_HOLE * r.filament.s_cross_mpa.low
    words = f"{presses:.1f} of {stands:.0f} MPa on {s.beyond_mm:.0f} mm in a socket of {r.filament.name}"
    return [_alone(s, moment), JointUse("its socket in the body is crushed", presses / stands, words)]


def _screw(s: WingShape, r: PartResult, fixing: str, engaged: float) -> float:
    """Pull of one screw at its tightness, or what it holds: through bolts are judged by what they hold."""
    joint = Joint(screw=s.joint_screw, fixing=fixing, engaged_mm=min(max(engaged, 1.0), 40.0))
    hold = screw_hold(joint, r.filament, "low", r.part.recipe, r.part.recipe.lies not in ("on_end", "on_other_end"))
    return hold.pull_n if fixing == "through" else hold.preload_n


def _set_on(s: WingShape, r: PartResult) -> tuple[float, JointUse]:
    """Push of one set screw, its thread in the plastic over the tube; and what it does to the tube."""
    push = _screw(s, r, "tapped", (thick_mm(s, 0.0, s.spar_at) - s.spar_mm) / 2)
    wall = wall_under_screw_mpa(push, screw(s.joint_screw).diameter_mm, s.spar_mm, s.spar_wall_mm)
    stands = stock_materials()[s.spar_material].s_cross_mpa.low
    return push, JointUse("set screws crack its tube", wall / stands, f"tightened to {push:.0f} N they bend its wall by {wall:.0f} of "
                          f"{stands:.0f} MPa")  # fmt: skip


def _turns(s: WingShape, host: WingShape, r: PartResult, torque: float) -> list[JointUse]:
    """What keeps a panel from turning on its tube: a second tube where it runs on, else a pin, screws set on it, or glue."""
    if s.rear_spar_mm > 0 and host.rear_spar_mm > 0:
        apart = (s.rear_spar_at - s.spar_at) * s.root_chord_mm
        force = abs(torque) / max(apart, 1.0)
        long = min(s.joint_mm, seat_mm(host)) if s.on else s.beyond_mm
        presses = float(socket_mpa(force, force * long / 2, s.rear_spar_mm, long))
        stands = IN_A_HOLE * r.filament.s_cross_mpa.low
        return [JointUse("the second tube's tunnel is crushed", presses / stands, f"{presses:.1f} of {stands:.0f} MPa on the second tube")]
    if s.joint_by == "pin":
        force = abs(torque) / (PIN_BACK * s.root_chord_mm)
        presses, stands = force / (s.joint_pin_mm * PIN_DEEP_MM), IN_A_HOLE * r.filament.s_cross_mpa.low
        return [JointUse("its pin cuts through the rib", presses / stands, f"{presses:.1f} of {stands:.0f} MPa round its pin")]
    if s.joint_by == "glue":
        skin = r.part.recipe.walls * r.part.recipe.line_width_mm
        inside = outline_worth(placed(s, 0.0, outline_of(s, s.root_chord_mm))).inside_mm2
        shear, stands = abs(torque) / (2 * inside * skin), r.filament.t_layer_mpa.low
        return [JointUse("its glued rim shears", shear / stands, f"{shear:.2f} of {stands:.1f} MPa round its rim")]
    return _by_screws(s, r, torque)


def _by_screws(s: WingShape, r: PartResult, torque: float) -> list[JointUse]:
    if s.joint_screws == 0:
        return [JointUse("it turns on its tube", HOLDS, f"nothing holds {abs(torque):.0f} N mm: no screw")]
    push, cracks = _set_on(s, r)
    grip = set_screw_nmm(s.joint_screws, push, CARBON_FRICTION, s.spar_mm)
    words = f"{abs(torque):.0f} N mm; {s.joint_screws} set screws hold {grip:.0f}"
    return [JointUse("it turns on its tube", min(abs(torque) / max(grip, 1e-9), HOLDS), words), cracks]


def _on_own_tube(s: WingShape, r: PartResult, torque: float) -> list[JointUse]:
    """A panel that is held on its tube by set screws."""
    if s.rear_spar_mm > 0:
        return []
    return _by_screws(s, r, torque)


def _down(s: WingShape, r: PartResult, spar: SparSight, shear: float, torque: float) -> list[JointUse]:
    """A wing on one tube through, screwed down on the body, or up under it: pulled off by lift, or by a gust from above."""
    over = s.z_mm > 0
    lift = 2 * abs(shear) if over else 2 * abs(shear) * max(spar.gust_g - 2.0, 0.0) / max(spar.load_g, 1e-9)
    if s.joint_screws == 0:
        return [JointUse("nothing holds it on the body", HOLDS, "no screws")] if lift > 0 else []
    rows = max(s.joint_screws / 2, 1.0)
    nods = 2 * abs(torque) / (SCREWS_APART * s.root_chord_mm * rows) if s.joint_screws > 1 else HOLDS * abs(torque)
    pull, holds = lift / s.joint_screws + nods, _screw(s, r, "through", 1.0)
    words = f"{pull:.0f} N on each of {s.joint_screws} screws; each holds {holds:.0f}"
    return [JointUse("its screws are pulled through", pull / max(holds, 1e-9), words)]
