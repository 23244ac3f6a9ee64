"""What will go wrong with a wing, with tilting rotors, in hover under a wing, and on the way over.

Thresholds: a spar, a fold or a tilt that its load overcomes is grave, one with less than half of it in hand likely; a static margin below
nothing is grave, below 4 % likely; divergence and reversal within 1.4 times cruise are grave, flutter's index within twice it likely; a
way that breaks is grave, one with less than a tenth in hand likely.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TYPE_CHECKING

from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.kinds.drives import drives
from fravik.kinds.wing.geometry import goes_over, panels, wing_of
from fravik.study.findings import Cure, Finding, Weight
from fravik.study.rounded import about

from .wingparts import joints, told

if TYPE_CHECKING:
    from fravik.engine.transition import TransitionSight
    from fravik.engine.wing import WingSight

SLUGGISH_PCT = 28.0
FLUTTERS = 2.0
NEAR = 0.1
HALF = 0.5
SLOW_ROLL, LOOSE_DEG = 4.0, 2.0  # rad/s2; play of a tilt at which thrust wags
WASHED, SLOW_TURN_S, LITTLE = 0.03, 2.5, 0.1
WORN_FLIGHTS = 200.0  # times over and back, a season of weekends


def found(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """Nothing for crafts without a wing."""
    if not goes_over(result.project) or result.scope.flight:
        return
    from fravik.engine.wing import wing_sight  # compiled code loads only for crafts that fly on a wing

    try:
        w = wing_sight(engine.memo, result)
    except ValueError:
        return  # said at its field
    if w is not None:
        yield from _steady(result, w)
        yield from _spar(result, w)
        yield from _air_beats(w)
        yield from _shaken(result, w)
        yield from joints(w)
    yield from _tilts(result)
    yield from _too_tall(result)
    yield from _hover(engine, result, w)


def over(engine: Engine, result: Evaluation) -> Iterable[Finding]:
    """What the way over brings; takes seconds."""
    if not goes_over(result.project) or result.scope.flight:
        return
    from fravik.engine.transition import transition_sight

    try:
        s = transition_sight(engine, result)
    except ValueError:
        return
    if s is not None:
        yield from _way(result, s)
        yield from _balance(engine, result, s)


def _first(result: Evaluation) -> str:
    """The wing's root panel."""
    return next(p.id for p in panels(result.project) if wing_of(p).role == "wing")


def _steady(result: Evaluation, w: WingSight) -> Iterable[Finding]:
    root = _first(result)
    at, s = f"parts.{root}.shape.x_mm", wing_of(result.project.part(root))
    margin, chord = w.static_margin_pct, 1e3 * w.alone.chord_m
    if w.steady != "holds":
        back = (6.0 - margin) / 100 * chord
        cures: tuple[Cure, ...] = (Cure(f"The wing {back:.0f} mm farther back", ((at, round(s.x_mm - back, 0)),)),)
        b = result.project.components.battery
        ahead = back * result.craft.mass_g / b.mass_g
        if abs(b.x_mm + ahead) < 300 and result.project.flying.sits == "belly":
            cures = (*cures, Cure(f"The battery {ahead:.0f} mm ahead", (("components.battery.x_mm", round(b.x_mm + ahead, 0)),)))
        what = "In forward flight its nose runs away." if margin < 0 else "In forward flight its nose hardly comes back by itself."
        yield told("wing.steady", "grave" if margin < 0 else "likely", "Wing", at, "The wing", what,
                    f"The neutral point lies {margin:.0f} % of the mean chord behind the centre of mass.", "A larger tail, farther back.",
                    cures)  # fmt: skip
    elif margin > SLUGGISH_PCT:
        yield told("wing.sluggish", "worth knowing", "Wing", at, "The wing", "It is nose-heavy: surfaces work hard to lift its nose.",
                    f"The neutral point lies {margin:.0f} % of the mean chord behind the centre of mass.",
                    "The wing ahead, or weight back.")  # fmt: skip
    if math.isnan(w.alone.cruise_w):
        yield told("wing.level", "grave", "Wing", "flying.cruise_m_s", "Cruise", f"It does not fly level at {w.alone.cruise_m_s:.1f} m/s.",
                    "Thrust, surfaces or the nose's range do not balance it there.", "Another cruise, larger surfaces, or a wing "
                        "moved.")  # fmt: skip


def _spar(result: Evaluation, w: WingSight) -> Iterable[Finding]:
    from fravik.structure.spar import skin_reserve

    least, at_mm, part_id, kind = w.spar.least
    s, part = wing_of(result.project.part(part_id)), result.project.part(part_id)
    at = f"parts.{part_id}.shape.spar_mm"
    load = f"{w.spar.load_g:.1f} g " + ("in a gust" if w.spar.from_gust else "in its pull-up")
    if least.low < 1.0 + HALF:
        weight: Weight = "grave" if least.low < 1 else "likely"
        cures = tuple(Cure(f"{part.name}: a tube of {d:g} mm, wall {wall:g}", ((at, d), (f"parts.{part_id}.shape.spar_wall_mm", wall)))
                      for d, wall in ((s.spar_mm + 2, max(s.spar_wall_mm, 1.0)), (s.spar_mm + 4, max(s.spar_wall_mm, 1.0))))  # fmt: skip
        yield told("wing.spar", weight, "Wing", at, part.name, "Its spar breaks." if weight == "grave" else "Little of its spar is in "
            "hand.",
                    f"At {load}, {at_mm:.0f} mm from the middle, {kind}: {least.low:.2f} to {least.high:.2f} times what it takes.",
                    "Tubes of a larger diameter: stiffness goes by its third power.", cures)  # fmt: skip
    skin = skin_reserve(w.spar.sections, w.spar.answer.moment_nmm)
    if skin < 1.0:
        yield told("wing.skin", "worth knowing", "Wing", f"parts.{part_id}.recipe.walls", part.name,
            "Its skin wrinkles before its spar is full.",
                    f"From {skin * w.spar.load_g:.1f} g on the tube bears alone.",
                    "Another road in the skin, more webs, or glass.")  # fmt: skip


def _air_beats(w: WingSight) -> Iterable[Finding]:
    s, cruise = w.spar, w.alone.cruise_m_s
    for speed, name, what in (
        (s.divergence_m_s, "diverges", "Its wing twists off."),
        (s.reversal_m_s, "reverses", "Its ailerons turn round."),
    ):
        if speed < w.fastest_m_s:
            yield told(f"wing.{name}", "grave", "Wing", "flying.cruise_m_s", "The wing", what,
                        f"From {speed:.0f} m/s on; it cruises at {cruise:.0f}.", "A stiffer wing in twist: a closed skin, glass, a "
                            "larger tube, "
                        "the tube farther ahead.")  # fmt: skip
    if s.flutter_m_s < FLUTTERS * cruise:
        yield told("wing.flutters", "likely", "Wing", "flying.cruise_m_s", "The wing", "It may flutter: an index to be careful by.",
                    f"The approximate speed is {s.flutter_m_s:.0f} m/s; it cruises at {cruise:.0f}.",
                    "Weight ahead of the spar, less play, more twist "
                    "stiffness.")  # fmt: skip


def _shaken(result: Evaluation, w: WingSight) -> Iterable[Finding]:
    """The wing's own swings against what rotors turn at over the working speeds."""
    low, high = result.working_hz
    bending, twist = w.spar.swings_hz
    every = [(float(hz), words) for hz, words in ((bending[0], "bends"), (bending[1], "bends in two"), (twist[0], "twists"))]
    blades = {d.propeller.blades for d in drives(result.project)}
    for order, name in ((1, "turn"), *((b, "pass with their blades") for b in sorted(blades))):
        met = next(((hz, words) for hz, words in every if (1 - NEAR) * order * low < hz < (1 + NEAR) * order * high), None)
        if met is not None:
            why = f"It {met[1]} at {met[0]:.0f} Hz; they {name} {order * low:.0f} to {order * high:.0f} times a second in flight."
            yield told(f"wing.shaken.{order}", "likely" if order == 1 else "worth knowing", "Wing",
                f"parts.{_first(result)}.shape.spar_mm",
                        "The wing", "Rotors shake the wing at its own pitch.", why, "A larger tube, a shorter panel, or weight off the "
                            "tips.")  # fmt: skip
            return


def _too_tall(result: Evaluation) -> Iterable[Finding]:
    """Panels that stand taller than their printer."""
    from fravik.kinds.wing.cutting import cut_at, share_for

    tall = max(p.bed_z_mm for p in result.project.printers)
    for part in panels(result.project):
        s = wing_of(part)
        if result.parts[part.id].bed_problem and s.hand == "pair" and s.length_mm > tall and part.recipe.lies in ("on_end", "on_other_end"):
            cures = (Cure("Cut in two, one on the other", (("parts", cut_at(result.project, part.id, share_for(s, tall))),)),)
            yield told("wing.tall", "likely", "Wing", f"parts.{part.id}.shape.length_mm", part.name, "It stands taller than the printer.",
                        f"{s.length_mm:.0f} mm; it reaches {tall:.0f}.", "Panels no longer than the printer is tall.", cures,
                        part.id)  # fmt: skip


def _tilts(result: Evaluation) -> Iterable[Finding]:
    from fravik.engine.tilting import tilts_of

    for t in tilts_of(result):
        at, d = f"flying.tilts.{t.tilt.id}.drive.", t.tilt.drive
        if t.share > HALF:
            weight: Weight = "grave" if t.share > 1 else "likely"
            field = "force_n" if d.kind == "linear" else "torque_nmm"
            want = math.ceil(getattr(d, field) * t.share / HALF / 10) * 10
            yield told("tilt.torque", weight, "Transition", at + field, t.tilt.id.replace("_", " "),
                        "Its drive cannot tilt the rotors." if t.share > 1 else "Its drive tilts the rotors with little in hand.",
                        f"The axis asks {t.most_nmm:.0f} N mm; the drive has {t.has_nmm:.0f} as it is fed.",
                        "The axis nearer to the pod's centre of mass.",
                        (Cure(f"A drive of {want:.0f}", ((at + field, float(want)),)),), t.tilt.id)  # fmt: skip
        if not t.holds and t.back_nmm > 1.0:
            yield told("tilt.falls", "worth knowing", "Transition", at + "holds_itself", t.tilt.id.replace("_", " "),
                        "With its servo dead the pod turns by itself.", f"{t.back_nmm:.0f} N mm drive it back; it holds by current alone.",
                        "A screw or a worm holds by itself; or an axis at the pod's centre of mass.", (), t.tilt.id)  # fmt: skip
        if d.backlash_deg > LOOSE_DEG:
            yield told("tilt.play", "worth knowing", "Transition", at + "backlash_deg", t.tilt.id.replace("_", " "),
                "Its rotors wag with their "
                        "drive's play.", f"{d.backlash_deg:g}° at the axis: {100 * math.sin(math.radians(d.backlash_deg)):.0f} % of "
                                         f"thrust to and fro.",
                        "A spring that takes the play up, or finer teeth.", (), t.tilt.id)  # fmt: skip
        if t.tooth_reserve is not None and t.tooth_reserve < 1.0 + HALF:
            wide = min(d.face_mm * 2, 40.0)
            yield told("tilt.tooth", "grave" if t.tooth_reserve < 1 else "likely", "Transition", at + "face_mm", t.tilt.id.replace("_",
                " "),
                        "Teeth of its gear break.", f"{t.tooth_mpa:.1f} MPa at their roots; the weakest print stands "
                                                    f"{t.tooth_stands_mpa:.1f}.",
                        "A larger module, wider teeth, a tougher plastic.", (Cure(f"Teeth {wide:g} mm wide", ((at + "face_mm", wide),)),),
                        t.tilt.id)  # fmt: skip
        if t.flights is not None and t.flights.low < WORN_FLIGHTS:
            wide = min(d.face_mm * 2, 40.0)
            yield told("tilt.wear", "worth knowing", "Transition", at + "face_mm", t.tilt.id.replace("_", " "), "Its gear wears out soon.",
                        f"A fifth of the module is off its pinion's teeth after {about(t.flights.low)} to {about(t.flights.high)} "
                        "times over and back; play grows on the way there.",
                        "Grease, wider teeth, a larger module, a pinion to spare.",
                        (Cure(f"Teeth {wide:g} mm wide", ((at + "face_mm", wide),)),), t.tilt.id)  # fmt: skip


def _way(result: Evaluation, s: TransitionSight) -> Iterable[Finding]:
    for w, name in ((s.out, "out"), (s.back, "back")):
        least, speed, _ = w.way.least
        if w.way.breaks is not None:
            yield told(f"over.{name}", "grave", "Transition", "flying", f"The way {name}", f"There is no way {name}.",
                        f"From {w.way.breaks[0]:.1f} to {w.way.breaks[1]:.1f} m/s nothing balances.",
                        "More control over the nose, or another wing's place.",
                        _more_control(result))  # fmt: skip
        elif least < LITTLE:
            what = "Little is in hand on the way out." if name == "out" else "On the way back its nose rises with nothing in hand."
            yield told(f"over.{name}", "likely", "Transition", "flying", f"The way {name}", what,
                f"{100 * max(least, 0):.0f} % at {speed:.0f} m/s.",
                        "Larger surfaces, a tail farther back, or the centre of mass moved.", _more_control(result))  # fmt: skip
        elif w.as_planned.lost:
            yield told(f"over.{name}", "grave", "Transition", "flying", f"The way {name}", f"Flown as planned it is lost on the way "
                f"{name}.",
                        f"It falls {w.as_planned.height_lost_m:.0f} m or turns over.", "A slower way.")  # fmt: skip
        for f in w.flights[1:]:
            if f.lost and f.name == "all at once":
                yield told(f"over.once.{name}", "worth knowing", "Transition", "flying", f"The way {name}",
                    f"Flown all at once it is lost on the way {name}.",
                            f"It turns {math.degrees(f.overshoot_rad):.0f}° past what is asked; as planned it takes {w.way.seconds:.0f} s.",
                            "Fly the steps in their order.")  # fmt: skip
            elif f.lost and f.name in ("the tilt sticks half way", "a gust on the way"):
                yield told(f"over.{f.name.split()[-1]}.{name}", "likely", "Transition", "flying", f"The way {name}",
                            f"It is lost when {'the tilt sticks half way' if 'tilt' in f.name else 'a gust meets it'} on the way {name}.",
                            f"It falls {f.height_lost_m:.0f} m and turns {math.degrees(f.overshoot_rad):.0f}° past what is asked.",
                            "Height to fall; a second servo.")  # fmt: skip
    roll, at = s.least_roll()
    if roll < SLOW_ROLL:
        yield told("over.roll", "likely", "Transition", "flying", "The way out", "On the way it hardly rolls: a gust from the side "
            "turns it over.",
                    f"{roll:.1f} rad/s² at {at:.0f} m/s.", "Ailerons, or rotors farther aside.")  # fmt: skip
    if s.wing is not None and s.energy_wh > 0.2 * s.wing.energy_wh:
        yield told("over.pack", "worth knowing", "Transition", "flying.gain_m_s2", "The pack",
            "The way out and back takes much of the pack.",
                    f"{s.energy_wh:.1f} of {s.wing.energy_wh:.1f} Wh.", "A faster way.")  # fmt: skip


def _more_control(result: Evaluation) -> tuple[Cure, ...]:
    """Larger surfaces for the nose."""
    out = []
    for p in panels(result.project):
        s = wing_of(p)
        if s.surface in ("elevator", "elevon"):
            share = min(round(s.surface_share + 0.12, 2), 0.5)
            out.append(Cure(f"{p.name}: surfaces of {100 * share:.0f} % chord, {min(s.surface_deg + 10, 60):.0f}°",
                            ((f"parts.{p.id}.shape.surface_share", share), (f"parts.{p.id}.shape.surface_deg", min(s.surface_deg + 10,
                                60.0)))))  # fmt: skip
            if s.role == "tail":
                out.append(Cure(f"{p.name} a third longer", ((f"parts.{p.id}.shape.length_mm", round(s.length_mm * 4 / 3)),)))
    return tuple(out)


def _hover(engine: Engine, result: Evaluation, w: WingSight | None) -> Iterable[Finding]:
    from fravik.engine.hovering import hover_sight
    from fravik.engine.wing import flyer

    f = flyer(engine.memo, result)
    h = engine.memo.get("hover", (result.project, f.mass_kg, f.com_m.tobytes()), lambda: hover_sight(result, f))
    if h is None:
        yield told("hover.balance", "grave", "Transition", "flying", "Hover", "It does not hover in balance.", "", "Move weight or rotors.")
        return
    if h.download > WASHED:
        hang = [p for p in panels(result.project) if wing_of(p).surface == "flaperon"]
        cures = (Cure("Flaperons hung down by 60° in hover", (("flying.flaps_hover_deg", 60.0),)),) if hang else ()
        yield told("hover.wash", "likely", "Transition", "flying.flaps_hover_deg", "The wing", "The wing stands in its rotors' wash.",
                    f"It is pushed down by {100 * h.download:.0f} % of the weight: {h.extra_pct:.0f} % more power in hover.",
                    "Rotors farther ahead or out, or flaps hung down.", cures)  # fmt: skip
    if math.isnan(h.lean_rad):
        yield told("hover.wind", "likely", "Transition", "flying.wind_m_s", "Hover", f"It cannot hold its place in {h.wind_m_s:.0f} m/s.",
                    f"{h.most_wind_m_s:.0f} m/s is the most that it holds, broadside.", "A smaller or a folded wing.")  # fmt: skip
    if h.both_s > SLOW_TURN_S:
        turn = f"{h.both_s:.1f} s for a quarter turn" if math.isfinite(h.both_s) else "nothing turns it"
        yield told("hover.yaw", "likely", "Transition", "flying.vectoring_deg", "Hover", "It turns slowly in hover.",
            f"{turn}, by rotors' torque alone."
                    if len(h.turn_s) == 1 else f"{turn}.", "Surfaces in the wash, or motors turned by small servos.",
                    (Cure("Motors turned 12° by small servos", (("flying.vectoring_deg", 12.0),)),))  # fmt: skip
    flying = result.project.flying
    if flying.stopped and not flying.stopped_fold and w is not None:
        area = sum(r.still_m2 for r in f.rotors)
        share = area / max(f.body.front_m2 + area, 1e-9)
        if share > 0.2:
            yield told("wing.stopped", "likely", "Transition", "flying.stopped_fold", "Cruise", "Stopped propellers drag in cruise.",
                        f"They are {100 * share:.0f} % of all drag that the wing does not make.",
                        "Blades that fold back, or stop along the stream.",
                        (Cure("Blades that fold", (("flying.stopped_fold", True),)),))  # fmt: skip


def _balance(engine: Engine, result: Evaluation, s: TransitionSight) -> Iterable[Finding]:
    from fravik.engine.remedies import remedies

    _, forward, back = s.trim_range_mm()
    room = float(min(forward.min(initial=99.0), back.min(initial=99.0)))
    if s.travel_mm > max(room, 3.0):
        cures = tuple(Cure(r.title, r.edits) for r in remedies(engine, result)[:4])
        yield told("over.travel", "likely", "Transition", "flying.slide_mm", "Centre of mass", "The centre of mass jumps as rotors tilt.",
                    f"By {s.travel_mm:.0f} mm; where least is in hand {room:.0f} mm can be trimmed.",
                    "Pods that pivot at their own centre of mass.",
                    cures)  # fmt: skip


__all__ = ["found", "over"]
