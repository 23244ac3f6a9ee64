"""How much the craft shakes: rotors' imbalance and blade pass as the gyro and the camera feel them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.demo import redshank, tern, wren
from fravik.engine.evaluate import Engine
from fravik.engine.results import Evaluation
from fravik.engine.shake import FITTINGS_LOSS, OFFSET, PUSH_SPREAD
from fravik.engine.tables import as_data
from fravik.model.paths import set_many
from fravik.model.project import Project, Target
from fravik.structure.craft.response import Shaken, acceleration, size


def asked(project: Project, *edits: tuple[str, Any]) -> Project:
    more = (Target(id="gyro", metric="gyro_shake_dps", limit=20.0), Target(id="camera", metric="camera_shake_px", limit=1.0))
    return set_many(project.model_copy(update={"targets": (*project.targets, *more)}), edits)


def figure(result: Evaluation, metric: str) -> float:
    m = next(m for m in result.margins if m.metric == metric)
    assert m.value is not None
    return m.value


@pytest.fixture(scope="module")
def found(engine: Engine) -> Evaluation:
    return engine.evaluate(asked(tern()))


@given(st.floats(0.002, 0.2), st.floats(1.05, 5.0), st.floats(0.2, 3.0), st.integers(1, 6))
def test_more_damping_never_raises_a_peak(loss: float, more: float, share: float, rotors: int) -> None:
    rng = np.random.default_rng(round(1e6 * loss))
    modes = 5
    w = np.sort(rng.uniform(100.0, 900.0, modes))
    seen, pushed = rng.normal(size=(1, 6, modes)), rng.normal(size=(rotors, 3, modes))
    along = np.stack([np.eye(6)])
    ways = np.ones((rotors, 3), dtype=complex)

    def peak(eta: float, k: int) -> float:
        # each mode by itself: between two of them damping may fill a dip
        at = slice(k, k + 1)
        one = Shaken(w[at], np.array([eta]), pushed[..., at], seen[..., at], np.zeros((rotors, 3, 6)), along, np.eye(6))
        return float(size(acceleration(one, np.linspace(0.3, 3.0, 200) * w[k] * share, ways, np.ones(200))[:, 0]).max())

    for k in range(modes):
        assert peak(more * loss, k) <= peak(loss, k) * (1 + 1e-9)


def test_a_worn_propeller_shakes_as_much_more_as_it_is_off(engine: Engine, found: Evaluation) -> None:
    by_balance = {b: figure(engine.evaluate(asked(tern(), ("components.propeller.balance", b))), "gyro_shake_dps") for b in OFFSET}
    assert by_balance["balanced"] < by_balance["as_bought"] < by_balance["worn"]
    # imbalance is nearly all of it
    assert by_balance["worn"] / by_balance["as_bought"] == pytest.approx(OFFSET["worn"] / OFFSET["as_bought"], rel=0.05)
    m = next(m for m in found.margins if m.metric == "gyro_shake_dps")
    assert m.low is not None
    assert m.high is not None
    assert m.value is not None
    assert m.high >= PUSH_SPREAD * m.value * 0.999
    assert m.low <= m.value / PUSH_SPREAD * 1.001
    assert "by 1/rev at" in m.detail


def test_a_mode_among_the_working_speeds_is_felt(engine: Engine) -> None:
    still, stirred = (figure(engine.evaluate(asked(wren(), ("parts.frame.shape.thickness_mm", t))), "gyro_shake_dps") for t in (5.4, 3.0))
    assert stirred > 2 * still


def test_losses_are_the_plastics_and_a_little_more(found: Evaluation) -> None:
    assert found.whole is not None
    plastic = found.parts["arm"].filament.loss_factor
    for c, corner in enumerate(("low", "typical", "high")):
        loss = found.whole.shake.corners[c].loss
        # every part of this craft is of one plastic
        assert loss == pytest.approx(np.full(len(loss), getattr(plastic, corner) + FITTINGS_LOSS[c]), rel=1e-6)


def test_without_a_camera_its_shake_is_not_known(engine: Engine) -> None:
    result = engine.evaluate(asked(redshank()))
    verdict = {m.metric: m.verdict for m in result.margins}
    assert verdict["camera_shake_px"] == "not known yet"
    assert verdict["gyro_shake_dps"] != "not known yet"


def test_a_slower_read_out_and_more_pixels_tear_more(engine: Engine, found: Evaluation) -> None:
    usual = figure(found, "camera_shake_px")
    assert figure(engine.evaluate(asked(tern(), ("brief.picture_px_deg", 40.0))), "camera_shake_px") == pytest.approx(2 * usual)
    assert figure(engine.evaluate(asked(tern(), ("brief.readout_ms", 1.0))), "camera_shake_px") < usual


def test_the_figures_go_out_as_data(found: Evaluation) -> None:
    rows = as_data(found)["response"]
    assert {(r["place"], r["unit"]) for r in rows} >= {("gyro", "deg/s"), ("gyro", "g"), ("camera", "px"), ("motor_rear_left", "g")}
    for r in rows:
        assert r["low"] <= r["value"] <= r["high"]
    assert all(0.0 <= r["throttle"] <= 1.0 for r in rows)
    working = max(r["value"] for r in rows if r["speeds"] == "working" and r["unit"] == "deg/s")
    anywhere = max(r["value"] for r in rows if r["speeds"] == "any" and r["unit"] == "deg/s")
    assert working <= anywhere * 1.01
    assert working == pytest.approx(figure(found, "gyro_shake_dps"), rel=0.02)


def test_turning_the_craft_changes_nothing(engine: Engine, found: Evaluation) -> None:
    """A craft with its left and right rotors renamed shakes as before."""
    other = engine.evaluate(asked(tern().model_copy(update={"parts": tuple(reversed(tern().parts))})))
    assert figure(other, "gyro_shake_dps") == pytest.approx(figure(found, "gyro_shake_dps"), rel=1e-3)


def test_vibration_says_how_much(qapp: Any) -> None:
    from conftest import until

    from fravik.app.window import MainWindow

    window = MainWindow(asked(wren()))
    window.show()
    window.show_stage("Vibration")
    view = window.view("Vibration")
    assert until(qapp, lambda: "Darkest" in view.diagram.legend.text())
    worst = [cells[3].text() for _, cells in view.lines[:2]]
    assert all("°/s" in text for text in worst)
    assert float(worst[0].split()[0]) >= float(worst[1].split()[0])
    window.show_stage("Airframe")
    window.show_stage("Brief")
    window.close()
