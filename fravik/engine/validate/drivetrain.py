"""The pack and the heat against time stepping, energy and another published formula."""

from __future__ import annotations

import math

import numpy as np
from scipy.integrate import solve_ivp

from fravik.model.craft import Battery, Components, Motor
from fravik.power.discharge import flight, under_current_v
from fravik.power.heat import AIR_M2_S, AIR_W_MK, PRANDTL, Work, cylinder_w_m2k, motor_network
from fravik.power.pack import Supply, supply
from fravik.power.thermal import after_c, steady_c

from .check import Check

TOLD_W = 240.0


def _in_time(pack: Supply, power_w: float) -> tuple[float, float, float]:
    """Minutes of a flight stepped in time, energy that left the cells' rest voltage, and energy lost in their resistance."""
    whole, ohm = pack.charge_as("typical"), pack.ohm_at("typical")

    def rates(t: float, y: np.ndarray) -> list[float]:
        e = float(pack.rest_v(y[0] / whole))
        amps = (e - math.sqrt(e * e - 4 * ohm * power_w)) / (2 * ohm)
        return [amps, amps * e, amps * amps * ohm]

    def out(t: float, y: np.ndarray) -> float:
        return float(y[0] - pack.to_use() * whole)

    out.terminal = True  # type: ignore[attr-defined]
    run = solve_ivp(rates, (0, 7200.0), [0.0, 0.0, 0.0], events=out, rtol=1e-8, max_step=5.0)
    return float(run.t[-1]) / 60, float(run.y[1, -1]), float(run.y[2, -1])


def _pack() -> list[Check]:
    pack = supply(Components(battery=Battery(capacity_mah=3000.0, stop_cell_v=2.5)))
    flown, (minutes, left, lost) = flight(pack, TOLD_W), _in_time(pack, TOLD_W)
    given = TOLD_W * flown.lasts_min * 60.0
    # a resistor in place of motors: the voltage divides
    load = 0.6
    divided = float(pack.rest_v(0.4)) * load / (load + pack.ohm_at("typical"))
    return [
        Check("a pack's minutes at constant power", "the same stepped in time", minutes, flown.lasts_min, 0.005, "another method"),
        Check("a pack's energy, J", "what left the cells less what warmed them", left - lost, given, 0.01, "another method"),
        Check("a pack's voltage under a resistor", "a divided voltage", divided, under_current_v(pack, lambda v: v / load, 0.4), 1e-6,
              "exact solution"),
    ]  # fmt: skip


def _heat() -> list[Check]:
    net = motor_network(Motor(), Work(64.0, 12.0, 6.0))
    start = np.array([30.0, 30.0])

    def rates(t: float, y: np.ndarray) -> np.ndarray:
        made = net.watts + net.grows_w_k * (y - net.at_c)
        through = net.between_w_k[0, 1] * (y[0] - y[1])
        return np.asarray((made - net.to_air_w_k * (y - 25.0) + np.array([-through, through])) / net.heat_j_k)

    run = solve_ivp(rates, (0, 60.0), start, rtol=1e-9, method="LSODA")
    late = solve_ivp(rates, (0, 20000.0), start, rtol=1e-9, method="LSODA")
    return [
        Check("a winding after a minute, °C", "its heat stepped in time", float(run.y[0, -1]), float(after_c(net, start, 25.0, 60.0)[0]),
              1e-4, "another method"),
        Check("a winding that has settled, °C", "its heat stepped in time", float(late.y[0, -1]), float(steady_c(net, 25.0)[0]), 1e-4,
              "another method"),
        Check("heat of a cylinder across a stream", "Churchill and Bernstein's formula", _churchill(33.5, 4.0), cylinder_w_m2k(33.5, 4.0),
              0.15, "published"),
    ]  # fmt: skip


def _churchill(diameter_mm: float, speed_m_s: float) -> float:
    """Churchill and Bernstein (1977), for all Re Pr over 0.2."""
    d = diameter_mm * 1e-3
    re = speed_m_s * d / AIR_M2_S
    nu = 0.3 + 0.62 * re**0.5 * PRANDTL ** (1 / 3) / (1 + (0.4 / PRANDTL) ** (2 / 3)) ** 0.25 * (1 + (re / 282000) ** 0.625) ** 0.8
    return nu * AIR_W_MK / d


GROUPS = (_pack, _heat)
