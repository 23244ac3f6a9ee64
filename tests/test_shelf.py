"""The maker's own shelf: a table read and written, slips told, things put on a craft."""

import contextlib
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtWidgets import QMessageBox

from fravik.demo import DEMOS
from fravik.kinds.slips import slips
from fravik.model.craft import Battery, Block, Motor, Propeller
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.store import FileProblem
from fravik.store.shelf import Row, Shelf, columns, put_on, read_shelf, row_of, shelf_of, shelf_text, write_shelf

HEAD = "kind,name,mass_g,diameter_mm,height_mm,kv_rpm_per_v,cells,capacity_mah,pitch_mm,price\n"


def all_of(project: Project) -> list[Row]:
    blocks = [row_of(project, "component", b.id) for b in project.components.blocks]
    return [row_of(project, "motor"), row_of(project, "propeller"), row_of(project, "battery"), *blocks]


@pytest.mark.parametrize("demo", DEMOS)
def test_what_is_written_reads_back_and_no_demo_looks_like_a_slip(demo: str) -> None:
    rows = all_of(DEMOS[demo]())
    back = shelf_of(shelf_text(rows))
    assert back.told == ()
    assert [(r.kind, r.name) for r in back.rows] == [(r.kind, r.name) for r in rows]
    for before, after in zip(rows, back.rows, strict=True):
        same = {k: v for k, v in after.item.model_dump().items() if k in columns()}
        assert same == {k: v for k, v in before.item.model_dump().items() if k in columns()}


@given(mass=st.floats(0.5, 1500), kv=st.floats(40, 30000), price=st.floats(0, 20000))
def test_any_motor_reads_back_to_its_last_digit(mass: float, kv: float, price: float) -> None:
    motor = Motor(mass_g=mass, kv_rpm_per_v=kv, price=price, name='=one, "two"')
    (row,) = shelf_of(shelf_text([Row("motor", motor.name, motor)])).rows
    assert row.item == motor


def test_units_are_understood_and_slips_told() -> None:
    shelf = shelf_of(HEAD + "motor,in ounces,1.6 oz,28,20,1300,,,,\nmotor,as grams,1.6,28,20,1300,,,,\nbattery,small,12,,,,6,2200,,\n"
                     "propeller,swapped,7,101.6,,,,,177.8,\n")  # fmt: skip
    assert len(shelf.rows) == 4
    assert shelf.rows[0].item.mass_g == pytest.approx(45.36, abs=0.01)
    assert len(shelf.told) == 3
    assert "Line 3, as grams: 1.6 g is little" in shelf.told[0]
    assert "1.6 oz would be 45 g" in shelf.told[0]
    assert "12 oz would be 340 g" in shelf.told[1]
    assert "swapped" in shelf.told[2]


@pytest.mark.parametrize(
    ("item", "slip"),
    [
        (Motor(mass_g=44.0, diameter_mm=33.5, height_mm=20.0, kv_rpm_per_v=740.0), False),
        (Motor(mass_g=44.0, diameter_mm=33.5, height_mm=20.0, kv_rpm_per_v=74.0), True),
        (Battery(cells=6, capacity_mah=2200.0, mass_g=335.0), False),
        (Battery(cells=6, capacity_mah=220.0, mass_g=335.0), True),
        (Propeller(diameter_mm=178.0, pitch_mm=102.0, mass_g=7.0), False),
        (Propeller(diameter_mm=178.0, pitch_mm=40.0, mass_g=7.0), True),
        (Block(id="a", mass_g=38.0), False),
        (Block(id="a", mass_g=0.1), True),
    ],
)
def test_bounds_of_what_there_is(item: Any, slip: bool) -> None:
    assert bool(slips(item)) is slip


def test_lines_that_cannot_be_read_are_named_and_the_others_stay() -> None:
    shelf = shelf_of(HEAD + "rocket,x,1,,,,,,,\nmotor,,1,,,,,,,\nmotor,wide,44,900,20,740,,,,\nmotor,word,many,,,,,,,\n\n"
                     "motor,good,44,33,20,740,,,,18\n"
                     "motor,good,45,33,20,740,,,,18\n")  # fmt: skip
    assert [(r.name, r.item.mass_g) for r in shelf.rows] == [("good", 45.0)]
    assert [t.split(" is left out")[0] for t in shelf.told[:4]] == ["Line 2", "Line 3", "Line 4", "Line 5"]
    assert "two motor lines called good" in shelf.told[4]
    assert "Column 'colour' is not known" in shelf_of("kind,name,colour\nmotor,x,red\n").told[0]


@pytest.mark.parametrize("text", ["", "a,b\n1,2\n", 'kind,name\n"x', "\x00"])
def test_what_is_no_such_table_is_refused(text: str) -> None:
    with pytest.raises(FileProblem):
        shelf_of(text)


@given(text=st.text(max_size=300))
def test_no_text_does_more_than_be_refused(text: str) -> None:
    with contextlib.suppress(FileProblem):
        assert all(r.name for r in shelf_of("kind,name,mass_g\n" + text).rows)


def test_devices_folders_and_foreign_files_are_refused(tmp_path: Path) -> None:
    (tmp_path / "binary.csv").write_bytes(b"\xff\xfe\x00\x01" * 50)
    for path in (tmp_path, Path("/dev/zero"), tmp_path / "none.csv", tmp_path / "binary.csv"):
        with pytest.raises(FileProblem):
            read_shelf(path)


def test_a_thing_put_on_keeps_the_place_of_the_one_before(project: Project) -> None:
    pack = Battery(cells=4, capacity_mah=1500.0, mass_g=180.0)
    after = set_many(project, put_on(project, Row("battery", "four", pack))).components.battery
    here = project.components.battery
    assert (after.cells, after.x_mm, after.z_mm) == (4, here.x_mm, here.z_mm)
    more = set_many(project, put_on(project, Row("component", "lamp", Block(id="new", name="Lamp")))).components.blocks
    assert [b.name for b in more] == [*(b.name for b in project.components.blocks), "Lamp"]


def test_a_row_takes_the_place_of_its_namesake(tmp_path: Path) -> None:
    shelf = Shelf((Row("motor", "a", Motor(mass_g=20.0)), Row("motor", "b", Motor(mass_g=30.0))))
    shelf = shelf.with_row(Row("motor", "a", Motor(name="a", mass_g=25.0)))
    write_shelf(tmp_path / "own.csv", shelf)
    assert [(r.name, r.item.mass_g) for r in read_shelf(tmp_path / "own.csv").of("motor")] == [("b", 30.0), ("a", 25.0)]


def test_the_shelf_from_the_window(window: Any, qapp: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from fravik.app.views.shelfmenu import ShelfButton

    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "information", lambda *a: told.append(a[-1]))
    window.show_stage("Airframe")
    view, session = window.view("Airframe"), window.session
    motors = next(b for b in view.findChildren(ShelfButton) if b.kind == "motor")
    motors.fill()
    assert "No motor on the shelf yet" in [a.text() for a in motors.menu_shown.actions()]
    motors.keep()
    (tmp_path / "list.csv").write_text(HEAD + "motor,big one,60,36,24,500,,,,30\nmotor,slip,2,36,24,500,,,,30\n")
    motors.read_list(tmp_path / "list.csv")
    assert "2 things" in told[-1]
    assert "2 oz would be 57 g" in told[-1]
    motors.fill()
    assert {"Generic 28 mm", "big one", "slip"} <= {a.text() for a in motors.menu_shown.actions()}
    next(a for a in motors.menu_shown.actions() if a.text() == "big one").trigger()
    assert (session.project.components.motor.name, session.project.components.motor.mass_g) == ("big one", 60.0)
    assert session.label == "big one from the shelf"
    count = len(session.project.components.blocks)
    view.blocks.folds[0].findChildren(ShelfButton)[0].keep()
    more = view.blocks.from_shelf
    more.fill()
    next(a for a in more.menu_shown.actions() if a.text() == "Flight stack").trigger()
    assert len(session.project.components.blocks) == count + 1
    motors.read_list(tmp_path / "none.csv")
    assert "No such file" in told[-1]
