"""Where a wing comes apart, and what turns on it: folds, joints, hinges, tubes."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TYPE_CHECKING

from fravik.kinds.wing.geometry import wing_of
from fravik.structure.spar import JOINT
from fravik.study.findings import Cure, Finding, Weight

if TYPE_CHECKING:
    from fravik.engine.wing import HingeSight, JointSight, WingSight

HALF = 0.5
PLAY_SHARE = 0.01
BREAKS = "its tube breaks there"


def told(kind: str, weight: Weight, stage: str, path: str, where: str, what: str, why: str, advice: str, cures: tuple[Cure, ...] = (),
          of: str = "craft") -> Finding:  # fmt: skip
    """A finding of one of the two stages."""
    return Finding(f"{kind}:{of}", weight, stage, path, where, what, why, advice, cures, "wing" if stage == "Wing" else "transition")


def joints(w: WingSight) -> Iterable[Finding]:
    """Of everything that joins, folds or turns."""
    for f in w.folds:
        at, s = f"parts.{f.part.id}.shape.", wing_of(f.part)
        if f.share > HALF:
            weight: Weight = "grave" if f.share > 1 else "likely"
            force = math.ceil(f.force_n / HALF / 5) * 5
            yield told("wing.fold", weight, "Wing", at + "fold_force_n", f.part.name,
                "Lift folds the wing." if f.share > 1 else "Lift nearly folds "
                        "the wing.", f"It pulls {f.force_n:.0f} N at its lever; the latch holds {f.holds_n:.0f}.",
                        "A longer lever, or a linkage past its dead point.",
                        (Cure("Its linkage past its dead point", ((at + "fold_over_centre", True),)),
                         Cure(f"A latch that holds {force:.0f} N", ((at + "fold_force_n", float(force)),))), f.part.id)  # fmt: skip
        if f.lug_mpa > f.stands_mpa:
            yield told("wing.lug", "grave", "Wing", at + "fold_lug_mm", f.part.name, "The pin tears out of the fold's lugs.",
                        f"They are pressed with {f.lug_mpa:.1f} MPa; their plastic stands {f.stands_mpa:.1f}.",
                        "Wider lugs of a solid plastic.",
                        (Cure("Lugs twice as wide", ((at + "fold_lug_mm", min(2 * s.fold_lug_mm, 40.0)),)),), f.part.id)  # fmt: skip
        if f.play_mm > PLAY_SHARE * 1e3 * w.alone.span_m / 2:
            yield told("wing.play", "worth knowing", "Wing", at + "fold_play_mm", f.part.name, "The wing flaps with the fold's play.",
                        f"Its tip moves {f.play_mm:.0f} mm.", "A tighter pin, or a longer lever.", (), f.part.id)  # fmt: skip
    for h in w.hinges:
        if h.share > 1:
            want = math.ceil(h.torque_nmm / 0.6 / 10) * 10
            yield told("wing.servo", "likely", "Wing", f"parts.{h.part.id}.shape.servo_nmm", h.part.name, "Its servo stalls at speed.",
                        f"The hinge asks {h.torque_nmm:.0f} N mm; the servo has {h.servo_nmm:.0f}.", "Less travel, or a narrower surface.",
                        (Cure(f"A servo of {want:.0f} N mm", ((f"parts.{h.part.id}.shape.servo_nmm", float(want)),)),),
                            h.part.id)  # fmt: skip
        if h.breaks or h.tires:
            yield _hinge(h)
    for j in w.joints:
        told_by_spar = j.worst.way == BREAKS and w.spar.least[2:] == (j.part.id, JOINT)
        if j.verdict != "holds" and not told_by_spar:
            yield _joint(j)
    for inner, outer, gap in w.loose:
        fits = wing_of(inner).spar_mm - 2 * wing_of(inner).spar_wall_mm
        yield told("wing.tubes", "likely", "Wing", f"parts.{outer.id}.shape.spar_mm", outer.name,
            "Its tube does not go into the next one.",
                    f"{wing_of(outer).spar_mm:g} mm in a bore of {fits:g} mm ({gap:+.1f}).", "A joiner, or tubes that slide into each "
                        "other.",
                    (Cure(f"A tube of {fits:g} mm", ((f"parts.{outer.id}.shape.spar_mm", fits),)),), outer.id)  # fmt: skip


def _hinge(h: HingeSight) -> Finding:
    """A hinge that gives, or that tires before long."""
    s, at = wing_of(h.part), f"parts.{h.part.id}.shape."
    cures: tuple[Cure, ...] = (Cure("A pin printed in", ((at + "hinge", "pin"),)),)
    if s.hinge == "living":
        cures = (*cures, Cure("A strip of rubber", ((at + "hinge", "rubber"),)))
    if s.hinge == "pin":
        cures = (Cure("A pin twice as thick", ((at + "hinge_pin_mm", min(2 * s.hinge_pin_mm, 6.0)),)),)
    what = "Its surface tears off at the hinge." if h.breaks else "Its hinge of bending plastic tires."
    return told("wing.hinge", "grave" if h.breaks else "likely", "Wing", at + "hinge", h.part.name, what,
        h.words[0].upper() + h.words[1:] + ".",
                 "A pin or a strip of rubber turns without straining plastic; what bends wants a thin, wide gap and a tough filament.",
                 cures, h.part.id)  # fmt: skip


def _joint(j: JointSight) -> Finding:
    """Where panels or body let go."""
    s, at, worst = wing_of(j.part), f"parts.{j.part.id}.shape.", j.worst
    where = f"on {j.on.name.lower()}" if j.on is not None else "on the body"
    cures = {
        BREAKS: (Cure(f"A tube of {s.spar_mm + 2:g} mm, wall {max(s.spar_wall_mm, 1.0):g}",
                                       ((at + "spar_mm", s.spar_mm + 2), (at + "spar_wall_mm", max(s.spar_wall_mm, 1.0)))),),
        "the tube that it sits in splits": (Cure("Twice as far into it", ((at + "joint_mm", min(2 * s.joint_mm, 400.0)),)),),
        "its socket in the body is crushed": (Cure("Twice as far into the body", ((at + "joint_mm", min(2 * s.joint_mm, 400.0)),)),),
        "it turns on its tube": (Cure("A pin at the back of its rib", ((at + "joint_by", "pin"),)),
                                 Cure("Its rim glued", ((at + "joint_by", "glue"),))),
        "set screws crack its tube": (Cure("A pin at the back of its rib", ((at + "joint_by", "pin"),)),),
        "its pin cuts through the rib": (Cure("A pin twice as thick", ((at + "joint_pin_mm", min(2 * s.joint_pin_mm, 8.0)),)),),
        "its screws are pulled through": (Cure(f"{min(2 * s.joint_screws, 8)} screws", ((at + "joint_screws", min(2 * s.joint_screws, 8)),
        )),),
        "nothing carries its bending there": (Cure("Its rim glued", ((at + "joint_by", "glue"),)),),
        "nothing holds it on the body": (Cure("Four screws", ((at + "joint_screws", 4),)),),
    }.get(worst.way, ())  # fmt: skip
    if s.fixed == "set_screw" and worst.way in ("it turns on its tube", "set screws crack its tube"):
        cures = (Cure("Glued on its tube", ((at + "fixed", "glued"),)), *cures)
    what = f"{worst.way[0].upper()}{worst.way[1:]}." if worst.use > 1 else f"Little is in hand where it sits {where}."
    return told("wing.joint", "grave" if worst.use > 1 else "likely", "Wing", at + "joint_mm", j.part.name, what,
                 f"Where it sits {where}: {worst.words}.", "The wing is as strong as where it comes apart.", cures, j.part.id)  # fmt: skip
