"""What goes wrong on the plate is found where it is, and not where it is not."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import CrossSection, Manifold

from fravik.library import filament
from fravik.model.laying import Laying
from fravik.model.project import Printer
from fravik.model.recipe import Recipe
from fravik.printing.examine import HOLD_MPA, SNAG_N, foot_hold, hole_prints_mm
from fravik.printing.job import PrintJob
from fravik.printing.layroads import print_job
from fravik.printing.trouble import Trouble

BARE = Laying(edge="none")


def job(solid: Manifold, laying: Laying = BARE, plastic: str = "pla", printer: Printer | None = None, **changes: object) -> PrintJob:
    return print_job(solid, Recipe(**{"filament": plastic, **changes}), laying, filament(plastic), printer or Printer())  # type: ignore[arg-type]


def kinds(made: PrintJob) -> dict[str, Trouble]:
    return {t.kind: t for t in made.troubles}


def test_a_plain_block_has_none() -> None:
    assert not job(Manifold.cube((40.0, 30.0, 8.0))).troubles
    assert job(Manifold.cube((40.0, 30.0, 8.0))).risk == ""


def test_a_mast_comes_loose_and_a_brim_holds_it() -> None:
    mast = Manifold.cylinder(80.0, 3.0, 3.0, 32)
    made = job(mast)
    assert "comes loose" in kinds(made)
    assert "80 mm tall" in made.risk
    assert "hem" in kinds(made)["comes loose"].cure
    assert "comes loose" not in kinds(job(mast, Laying(edge="hem", hem_mm=10.0)))


def test_hold_of_a_rectangle_by_hand() -> None:
    foot = CrossSection.square((20.0, 10.0), True)
    assert foot_hold(foot, 50.0) == pytest.approx(HOLD_MPA * 20 * 10**2 / 6 / (SNAG_N * 50.0))
    assert foot_hold(foot.rotate(33.0).translate((80.0, -4.0)), 50.0) == pytest.approx(foot_hold(foot, 50.0), rel=1e-6)


@given(st.floats(2, 80), st.floats(2, 80), st.floats(1, 300))
def test_taller_holds_less_and_wider_more(wide: float, deep: float, tall: float) -> None:
    foot = CrossSection.square((wide, deep), True)
    assert foot_hold(foot, tall) > foot_hold(foot, tall * 1.2)
    assert foot_hold(foot.offset(2.0), tall) > foot_hold(foot, tall)


def test_corners_lift_by_plastic_size_and_chamber() -> None:
    plate = Manifold.cube((180.0, 60.0, 4.0))
    assert "corner lifts" in kinds(job(plate, plastic="abs"))
    assert "corner lifts" not in kinds(job(plate, plastic="pla"))
    assert "corner lifts" not in kinds(job(Manifold.cube((40.0, 20.0, 4.0)), plastic="abs"))
    closed = job(plate, plastic="abs", printer=Printer(enclosed=True))
    assert (
        "corner lifts" not in kinds(closed)
        or kinds(closed)["corner lifts"].weight < kinds(job(plate, plastic="abs"))["corner lifts"].weight
    )
    x, y, _ = kinds(job(plate, plastic="abs"))["corner lifts"].place_mm
    assert (abs(x), abs(y)) == pytest.approx((90.0, 30.0), abs=0.1)


def test_island_bridge_and_overhang_are_told_apart() -> None:
    feet = Manifold.cube((6.0, 20.0, 10.0)) + Manifold.cube((6.0, 20.0, 10.0)).translate((34.0, 0.0, 0.0))
    bridge = feet + Manifold.cube((40.0, 20.0, 2.0)).translate((0.0, 0.0, 9.99))
    found = kinds(job(bridge))
    assert set(found) == {"bridge"}
    assert found["bridge"].place_mm[2] == pytest.approx(10.2, abs=0.25)
    assert abs(found["bridge"].place_mm[0]) < 3.0
    shelf = Manifold.cube((6.0, 20.0, 12.0)) + Manifold.cube((18.0, 20.0, 2.0)).translate((0.0, 0.0, 9.99))
    assert "overhang" in kinds(job(shelf))
    hook = Manifold.cube((30.0, 20.0, 2.0)).translate((0, 0, 14)) + Manifold.cube((6.0, 20.0, 16.0))
    hook = hook + Manifold.cube((4.0, 4.0, 8.0)).translate((24.0, 8.0, 7.0))
    assert kinds(job(hook))["island"].weight == 1.0
    assert job(hook).troubles[0].kind == "island"
    assert "island" not in kinds(job(hook, Laying(edge="none", support="walls")))


def test_a_slope_of_45_degrees_does_not_hang() -> None:
    cone = Manifold.cylinder(10.0, 4.0, 13.5, 96)
    assert not {"overhang", "bridge", "island"} & set(kinds(job(cone)))
    flatter = Manifold.cylinder(5.0, 4.0, 16.0, 96)
    assert job(flatter).hanging_mm2.max() > 0


def test_slender_pillars_fall() -> None:
    table = Manifold.cube((30.0, 30.0, 2.0)).translate((0, 0, 60)) + Manifold.cube((10.0, 30.0, 61.0))
    found = kinds(job(table, Laying(edge="none", support="pillars")))
    assert "pillar falls" in found
    assert "walls" in found["pillar falls"].cure


def test_thin_features_are_found_in_their_layer() -> None:
    plate = Manifold.cube((30.0, 30.0, 2.0)) + Manifold.cube((20.0, 0.7, 6.0)).translate((5.0, 14.65, 0.0))
    found = kinds(job(plate))["under two lines"]
    assert found.layer >= 10
    assert abs(found.place_mm[1]) < 0.5


@pytest.mark.parametrize(("size", "named"), [(3.0, "does not pass"), (3.2, "drags"), (3.4, "")])
def test_holes_and_their_screws(size: float, named: str) -> None:
    plate = Manifold.cube((30.0, 30.0, 3.0), True)
    for x in (-8.0, 8.0):
        plate = plate - Manifold.cylinder(9.0, size / 2, size / 2, 64, True).translate((x, 0.0, 0.0))
    found = kinds(job(plate))
    if named:
        assert named in found["small hole"].text
        assert found["small hole"].text.startswith("2 holes")
    else:
        assert "small hole" not in found


def test_a_hole_prints_smaller_the_tighter_its_bend() -> None:
    loss = [d - hole_prints_mm(d, 0.45) for d in (2.0, 4.0, 8.0)]
    assert loss[0] > loss[1] > loss[2] > 0.1
    bent = (3.0 + 0.45) / 2
    inner = np.sqrt(bent**2 - bent * 0.45)  # half the road's volume on each side of its middle line
    assert 3.0 - 2 * inner == pytest.approx(0.45**2 / (4 * bent), rel=0.2)


def test_foaming_plastic_counts_its_lifts() -> None:
    pod = Manifold.cube((40.0, 30.0, 10.0))
    lifted = kinds(job(pod, plastic="pla_foam", core_density=0.1))
    assert "broken path" in lifted
    hollow = job(pod, plastic="pla_foam", walls=1, core_density=0.0, cover_layers=0)
    assert "broken path" not in kinds(hollow)
    two = pod + pod.translate((60.0, 0.0, 0.0))
    found = kinds(job(two, plastic="pla_foam", walls=1, core_density=0.0, cover_layers=0))["broken path"]
    assert "2 separate islands" in found.text
