"""Files of the print run read back by other libraries hold what the plan says; the command line prints it."""

from __future__ import annotations

import csv
import json
import xml.etree.ElementTree as ET
from pathlib import Path

import ezdxf
import lib3mf
import numpy as np
import pytest
from icalendar import Calendar

from fravik.cli import main
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.exportable import RUN_KINDS
from fravik.engine.exportrun import export_run
from fravik.engine.settle import settle
from fravik.engine.settled import Settled
from fravik.plan.layerfile import layer_dxf, layer_svg
from fravik.plan.timetable import first_moment
from fravik.printing.layerroads import ROAD_NAMES


@pytest.fixture(scope="module")
def settled() -> Settled:
    return settle(Engine(), tern())


@pytest.fixture(scope="module")
def folder(settled: Settled, tmp_path_factory: pytest.TempPathFactory) -> Path:
    engine, out = Engine(), tmp_path_factory.mktemp("run")
    written = export_run(engine, engine.evaluate(settled.project), settled, out, RUN_KINDS, 5)
    assert sorted(written) == sorted(out.iterdir())
    return out


def test_plates_come_back_with_every_copy_at_its_place(settled: Settled, folder: Path) -> None:
    assert settled.batches.batches
    for batch in settled.batches.batches:
        wrapper = lib3mf.Wrapper()
        model = wrapper.CreateModel()
        model.QueryReader("3mf").ReadFromFile(str(folder / f"{batch.id.replace(' ', '-')}.3mf"))
        items = model.GetBuildItems()
        places = []
        while items.MoveNext():
            t = items.GetCurrent().GetObjectTransform()
            places.append((t.Fields[3][0], t.Fields[3][1]))
        want = np.array(sorted((c.place.x_mm, c.place.y_mm) for c in batch.copies))
        assert np.array(sorted(places)) == pytest.approx(want, abs=1e-3)
        about = model.GetMetaDataGroup()
        found = {about.GetMetaData(i).GetName(): about.GetMetaData(i).GetValue() for i in range(about.GetMetaDataCount())}
        assert found["Batch"] == batch.id
        assert found["Filament"] == batch.filament.name
        objects, colours = model.GetMeshObjects(), set()
        while objects.MoveNext():
            mesh = objects.GetCurrentMeshObject()
            resource, index, has = mesh.GetObjectLevelProperty()
            assert has
            group = model.GetBaseMaterialGroupByID(resource)
            shade = group.GetDisplayColor(index)
            colours.add((shade.Red, shade.Green, shade.Blue))
            assert {mesh.GetMetaDataGroup().GetMetaData(i).GetName() for i in range(mesh.GetMetaDataGroup().GetMetaDataCount())} >= {
                "Walls", "Supports"
            }  # fmt: skip
        assert len(colours) == len({c.part_id for c in batch.copies})


def test_layer_svg_is_to_scale(settled: Settled, folder: Path) -> None:
    job = settled.jobs["arm"]
    root = ET.fromstring((folder / "arm-layer-6.svg").read_text(encoding="utf-8"))
    box = [float(x) for x in root.attrib["viewBox"].split()]
    assert root.attrib["width"] == f"{box[2]:.2f}mm"
    lines = root.findall(".//{http://www.w3.org/2000/svg}polyline")
    assert len(lines) == job.roads_of(5).count
    long = 0.0
    for line in lines:
        xy = np.array([[float(v) for v in p.split(",")] for p in line.attrib["points"].split()])
        long += float(np.hypot(*np.diff(xy, axis=0).T).sum())
    assert long == pytest.approx(float(job.roads_of(5).lengths_mm().sum()), rel=1e-3)
    sheet = ET.fromstring((folder / "arm-layers.svg").read_text(encoding="utf-8"))
    assert len(sheet.findall("{http://www.w3.org/2000/svg}g")) == 12


def test_layer_dxf_holds_roads_by_kind_and_width(settled: Settled, folder: Path) -> None:
    doc = ezdxf.readfile(folder / "arm-layer-6.dxf")
    job = settled.jobs["arm"]
    lines = list(doc.modelspace().query("LWPOLYLINE"))
    assert len(lines) == job.roads_of(5).count
    names = {ROAD_NAMES[k].upper().replace(" ", "_") for k in job.roads_of(5).kind}
    assert {e.dxf.layer for e in lines} == names
    assert doc.units == ezdxf.units.MM
    assert lines[0].dxf.const_width == pytest.approx(float(job.roads_of(5).width_mm[0]))


def test_a_layer_that_is_not_there(settled: Settled) -> None:
    for make in (lambda k: layer_svg(settled.jobs["arm"], k, "Arm"), lambda k: layer_dxf(settled.jobs["arm"], k)):
        with pytest.raises(IndexError, match="no layer"):
            make(9999)
        with pytest.raises(IndexError, match="no layer"):
            make(-1)


def test_schedule_as_table_and_calendar(settled: Settled, folder: Path) -> None:
    rows = list(csv.DictReader((folder / "schedule.csv").read_text(encoding="utf-8").splitlines()))
    assert len(rows) == len(settled.schedule.tasks)
    assert rows[0]["starts"] == "2031-05-06 09:00"
    calendar = Calendar.from_ical((folder / "schedule.ics").read_bytes())
    events = list(calendar.walk("VEVENT"))
    assert len(events) == len(settled.schedule.tasks) + 1
    spans = sum((e["DTEND"].dt - e["DTSTART"].dt).total_seconds() for e in events if "DTEND" in e) / 3600
    assert spans == pytest.approx(sum(t.end_h - t.start_h for t in settled.schedule.tasks), abs=0.02)
    assert len({str(e["UID"]) for e in events}) == len(events)


def test_a_first_day_that_is_no_date(settled: Settled) -> None:
    with pytest.raises(ValueError, match="year-month-day"):
        first_moment(settled.project.run.model_copy(update={"start_date": "soon"}))


def test_the_command_line(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    assert main(["run", "--demo", "tern"]) == 0
    text = capsys.readouterr().out
    assert "batch 1" in text
    assert "ready after" in text
    assert main(["run", "--demo", "tern", "--json", "-o", str(tmp_path), "--kind", "roads.svg", "--layer", "3"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["minutes"] == pytest.approx(sum(p["minutes"] for p in data["batches"]) + 8 * len(data["batches"]))
    assert {p.name for p in tmp_path.iterdir()} == {f"{p['id']}-layer-3.svg" for p in data["parts"]}
    assert main(["run", "--demo", "tern", "--kind", "magic"]) == 2
    path = tmp_path / "a.gcode"
    path.write_text("M83\nG1 X10 Y10 Z0.2\nG1 X60 E2\n")
    assert main(["gcode", "--demo", "tern", "--gcode", str(path)]) == 0
    assert "grams" in capsys.readouterr().out
    path.write_text("G1 X1e12")
    assert main(["gcode", "--demo", "tern", "--gcode", str(path)]) == 2
    assert "Line 1" in capsys.readouterr().err
