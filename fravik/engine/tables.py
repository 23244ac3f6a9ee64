"""An evaluation as plain data, for scripts."""

from __future__ import annotations

from typing import Any

from fravik.kinds import kind_of
from fravik.model.project import OwnCase
from fravik.structure.loadcases import CASES, case_name

from .copies import by_place, only_place
from .drivetrain import drive_of, drive_rows
from .fatigue import lives
from .memberresult import MemberResult
from .results import Evaluation, PlateResult
from .ring import YAW_SHARE, ring_of
from .rotors import place_rows, rotor_rows
from .spots import response_rows

# of all rotors together, and of the one that pushes hardest; each rotor's own stand with the rotors
POWER_NAMES = (
    "hover_thrust_n", "full_thrust_n", "thrust_to_weight", "hover_rpm", "full_rpm", "idle_rpm", "hover_throttle",
    "hover_power_w", "hover_current_a", "energy_wh", "endurance_min", "endurance_low_min", "endurance_high_min",
    "disk_loading_n_m2", "hover_torque_nmm", "full_torque_nmm", "hover_efficiency", "full_efficiency",
    "full_current_a", "all_current_a", "pack_current_a", "hover_volts", "full_volts",
)  # fmt: skip


def as_data(result: Evaluation) -> dict[str, Any]:
    """Targets, parts, craft, modes, sections, reserves and power as JSON-ready data."""
    p, own = result.power, result.project.brief.own_cases
    return {
        "project": result.project.name,
        "targets": [
            {"id": m.id, "name": m.name, "metric": m.metric, "value": m.value, "low": m.low, "high": m.high,
             "limit": m.limit, "sense": m.sense, "unit": m.unit, "verdict": m.verdict, "detail": m.detail}
            for m in result.margins
        ],
        "parts": [
            {"id": k, "name": r.part.name, "count": r.part.count, "mass_g": r.grams, "minutes": r.figures.minutes,
             "filament": r.part.recipe.filament}
            for k, r in result.parts.items()
        ],
        "craft": {
            "mass_g": result.craft.mass_g, "com_mm": result.craft.com_mm.tolist(),
            "inertia_gmm2": result.craft.inertia_gmm2.tolist(), "print_minutes": result.minutes,
            "material_cost": result.scores.cost,
        },
        "places": place_rows(result.project),
        "rotors": rotor_rows(result),
        "modes": [
            *({"of": "craft", "part": m.part_id, "kind": m.name, "freq_hz": m.freq_hz, "low": m.low_hz, "high": m.high_hz,
               "sideways": m.sideways, "along": m.along, "gyro": m.gyro} for m in (result.whole.modes if result.whole else ())),
            *({"of": k, "part": k, "kind": name, "freq_hz": f, "low": lo, "high": hi}
              for k, m in result.members.items() for name, f, lo, hi in m.mode_table()),
        ],
        "response": response_rows(result),
        "ring": ring_rows(result),
        "drive": drive_rows(result, drive_of(result)) if not result.scope.flight else None,
        "fatigue": [
            {"part": x.part_id, "position_mm": x.position_mm, "kind": x.kind, "low": x.hours.low, "hours": x.hours.typical,
             "high": x.hours.high, "by": x.by}
            for x in lives(result)
        ],
        "crossings": [
            {"part": m.mode.part_id, "kind": m.mode.name, "order": m.order.name, "rpm": m.rpm, "where": m.where,
             "clear_pct": m.clear_pct, "low": m.clear_low_pct, "high": m.clear_high_pct, "verdict": result.verdict_of(m)}
            for m in result.meetings if m.reached
        ],
        "not_judged": {"structure": result.scope.structure, "flight": result.scope.flight, "targets": dict(result.scope.unknown)},
        "sections": [row for k, m in result.members.items() if kind_of(m.member.shape).carries_rotor for row in _sections(k, m)],
        "reserves": _reserve_rows(result),
        "crash": [
            {"part": k, "case": case_name(case, own), "id": case, "kind": b.kind, "station_mm": b.position_mm,
             "speed_m_s": b.speed_m_s, "height_m": b.height_m, "place": _worst_place(result, k, case)}
            for case, order in result.break_order.items() for k, b in order
        ],
        "power": {name: getattr(p, name) for name in POWER_NAMES},
        "problems": [{"path": q.path, "message": q.message, "severity": q.severity} for q in result.problems],
    }  # fmt: skip


def _reserve_rows(result: Evaluation) -> list[dict[str, Any]]:
    """One row a part and case: that of the copy for which it is worst, and all copies' reserves by place."""
    own = result.project.brief.own_cases
    every: dict[str, MemberResult | PlateResult] = {**result.members, **result.plates}
    return [
        {"part": k, "case": _called(case, own), "id": case, "kind": c.kind, "station_mm": c.position_mm, "reserve": c.reserve,
         "place": _worst_place(result, k, case), "by_place": by_place(found, case)}
        for k, found in every.items() for case, c in found.cases["typical"].items()
    ]  # fmt: skip


def _worst_place(result: Evaluation, part_id: str, case: str) -> str:
    """The copy for which a case is worst; of a plate there is one."""
    m = result.members.get(part_id)
    return m.where["typical"][case] if m is not None else only_place(part_id)


def _called(case: str, own: tuple[OwnCase, ...]) -> str:
    per = CASES[case].unit if case in CASES else ""
    return f"{case_name(case, own)} at {per}" if per else case_name(case, own)


def ring_rows(result: Evaluation) -> list[dict[str, Any]]:
    """The controller's loop about each axis under the tune in force, at its worst state of flight; none where the frame's modes are not
    known."""
    ring = ring_of(result)
    if ring is None:
        return []
    return [
        {"axis": a.axis, "tune": ring.tune.house, "crossover_hz": ring.crossover_hz * (YAW_SHARE if a.axis == "yaw" else 1.0),
         "verdict": a.verdict, "gain_margin_db": a.typical.gain_db, "low": a.spread_db[0], "high": a.spread_db[2],
         "phase_margin_deg": a.typical.phase_deg, "freq_hz": a.typical.freq_hz, "mode": a.rings, "throttle": a.at.throttle,
         "charge": a.at.charge}
        for a in ring.axes
    ]  # fmt: skip


def _sections(part_id: str, m: Any) -> list[dict[str, Any]]:
    s = m.answers["typical"].section
    return [
        {"part": part_id, "station_mm": float(x), "ei_up_nmm2": float(a), "ei_side_nmm2": float(b), "gj_nmm2": float(c),
         "ea_n": float(e), "mass_g_per_mm": float(w) * 1e6}
        for x, a, b, c, e, w in zip(s.positions_mm, s.ei_up_nmm2, s.ei_side_nmm2, s.gj_nmm2, s.ea_n, s.mass_per_mm_t, strict=True)
    ]  # fmt: skip
