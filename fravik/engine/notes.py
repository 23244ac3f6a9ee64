"""Short notes beside the controls: what a joint, carbon or a sheet does for the part, and what each costs."""

from __future__ import annotations

from fravik.kinds import kind_of
from fravik.structure.attachments import slipping
from fravik.structure.failure import BOND, FIBRE
from fravik.structure.fasteners import screw_hold
from fravik.structure.joints import Holder, slip_travel_mm
from fravik.structure.loadcases import CRASH_CASES, case_name
from fravik.structure.member import root_joint
from fravik.study.words import money

from .body import solve_pair
from .compare import carbon_twin
from .evaluate import Engine
from .results import Evaluation, MemberResult, PartResult


def joint_notes(result: Evaluation, part_id: str) -> list[str]:
    """Stiffness, play, grip and screws of a part's root joint."""
    m = result.members.get(part_id)
    if m is None:
        return []
    part = result.parts[part_id]
    springs, joint = m.answers["typical"].springs, root_joint(m.member.form, part.part.joint)
    out = [f"Turns {springs.stiffness[4] / 1e3:.0f} N·m/rad up and down, {springs.stiffness[5] / 1e3:.0f} sideways."]
    if springs.play_y_rad or springs.play_z_rad:
        span = m.member.ruler_mm
        out.append(f"Free play at the tip {springs.play_y_rad * span:.1f} mm up and down, {springs.play_z_rad * span:.1f} sideways: "
                   "it rattles below that and rings lower than predicted.")  # fmt: skip
    use = {n: slipping(m.bases["typical"], c) for n, c in m.combos["typical"].items() if n not in CRASH_CASES}
    if max(use.values(), default=0.0) > 0:
        name = max(use, key=lambda n: use[n])
        words = "holds" if use[name] < 1 else "slips"
        out.append(f"Grip used {use[name]:.0%} in {case_name(name, result.project.brief.own_cases)}: it {words}.")
        travel = slip_travel_mm(joint, m.member.root, m.member.ruler_mm)
        if use[name] >= 1 and travel > 0:
            out.append(f"Slipping, the tip travels {travel:.1f} mm before the bolts bear.")
    if joint.kind in ("bolted", "dovetail", "clamp"):
        by = m.member.root_holder or Holder(part.filament, part.part.recipe)
        hold = screw_hold(joint, by.filament, "typical", by.recipe, True)
        out.append(f"One {joint.screw} holds {hold.pull_n:.0f} N ({hold.limit}); strips or crushes at {hold.torque_nmm / 1e3:.2f} N·m.")
    return out


def carbon_notes(result: Evaluation, part_id: str) -> list[str]:
    """Entry length, reserves of carbon and glue, grams, price and handwork."""
    m, part = result.members.get(part_id), result.parts[part_id]
    b, out = part.bonded, []
    if m is not None and m.answers["typical"].inserts:
        first = m.answers["typical"].inserts[0]
        cases = m.cases["typical"]
        fibre = min(float(c.values[FIBRE].min()) for n, c in cases.items() if n not in CRASH_CASES)
        bond = min(float(c.values[BOND].min()) for n, c in cases.items() if n not in CRASH_CASES)
        out.append(f"Its load enters over about {3 * first.entry_mm:.0f} mm at each end; reserve in flight {min(fibre, 99):.1f}, "
                   f"of the bond {min(bond, 99):.1f}.")  # fmt: skip
    if b.grams > 0:
        cost = money(b.price, result.project.brief.currency)
        out.append(f"+{b.carbon_g:.1f} g and {b.glue_g:.1f} g of glue, {cost}, {b.handwork_min:.0f} min by hand, "
                   f"cures {b.cure_h:g} h.")  # fmt: skip
    return out


def stock_notes(part: PartResult) -> list[str]:
    """What a part that is cut is made of, how large it is cut, and what cutting it asks."""
    size, f = part.field.high_mm - part.field.low_mm, part.filament
    cut = " × ".join(f"{v:.1f}" for v in size)
    return [f"{f.name}: E {f.e_road_mpa.typical / 1000:.0f} GPa along its grain, {f.density_g_cm3.typical:.2f} g/cm³.",
            f"Each is cut to {cut} mm and weighs {part.grams:.1f} g.", f.note]  # fmt: skip


def twin_note(result: Evaluation, part_id: str) -> str:
    """The same outline cut from carbon plate, honestly."""
    t = carbon_twin(result, part_id)
    if t is None:
        return ""
    m = result.members.get(part_id)
    much = f"{t.ei_ratio:.1f} times as stiff in bending" if t.ei_ratio >= 1 else f"only {t.ei_ratio:.0%} as stiff in bending"
    tall = isinstance(m, MemberResult) and kind_of(m.member.shape).carries_rotor and t.ei_ratio < 4
    extra = " Height is what the print has and the plate has not." if tall else ""
    return (f"Cut from {t.thickness_mm:g} mm carbon plate instead: {t.grams:.1f} g ({t.mass_ratio - 1:+.0%}) and {much}, by the laminate's "
            f"modulus, not the fibre's.{extra} It {t.toughness}.")  # fmt: skip


def pair_note(engine: Engine, result: Evaluation, part_id: str) -> str:
    """For a body plate: how much stiffer the two are together than apart."""
    pair = [p for p in result.plates.values() if p.body_key is not None]
    if part_id not in {p.part_id for p in pair} or len(pair) < 2:
        return ""
    key = result.plates[part_id].body_key

    def find() -> tuple[float, float]:
        body = solve_pair(engine.memo, result.built, result.pieces)
        return body.stiffer() if body is not None else (1.0, 1.0)

    bend, twist = engine.memo.get("stiffer", key, find)
    return f"as a pair ×{bend:.0f} as stiff bent, ×{twist:.0f} twisted"
