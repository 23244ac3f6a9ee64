"""What leaves the program can be read back, and the command line tells the truth."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import lib3mf
import pytest
import trimesh

from fravik.cli import main
from fravik.engine.evaluate import Engine
from fravik.engine.export import BLADE_KINDS, KINDS, export_all, sheet_rows
from fravik.engine.results import Evaluation
from fravik.model.paths import set_at
from fravik.model.project import Project
from fravik.plan.table import parts_csv
from fravik.store import create, project_from_json


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory, engine: Engine, result: Evaluation) -> Path:
    made = tmp_path_factory.mktemp("export")
    export_all(engine, result, made)
    return made


def test_every_kind_of_file_is_written(folder: Path, result: Evaluation) -> None:
    names = {p.name for p in folder.iterdir()}
    assert len(names) == len(result.parts) + len(KINDS) - len(BLADE_KINDS) - 1
    assert all(p.stat().st_size > 300 for p in folder.iterdir())


def test_stl_is_watertight_and_lies_on_the_plate(folder: Path, engine: Engine, result: Evaluation) -> None:
    for key, r in result.parts.items():
        mesh = trimesh.load(folder / f"{key}_x{r.part.count}.stl")
        assert mesh.is_watertight
        assert mesh.volume == pytest.approx(engine.solid(r.given).volume(), rel=1e-4)
        assert mesh.bounds[0][2] == pytest.approx(0.0, abs=1e-4)
        assert mesh.bounds[1][2] == pytest.approx(r.field.high_mm[2] - r.field.low_mm[2], abs=1e-3)


def test_3mf_holds_every_copy_and_its_settings(folder: Path, result: Evaluation) -> None:
    model = lib3mf.Wrapper().CreateModel()
    reader = model.QueryReader("3mf")
    reader.ReadFromFile(str(next(folder.glob("*.3mf"))))
    items = model.GetBuildItems()
    count = 0
    while items.MoveNext():
        count += 1
    assert count == sum(r.part.count for r in result.parts.values())
    meshes = model.GetMeshObjects()
    names = []
    while meshes.MoveNext():
        obj = meshes.GetCurrentMeshObject()
        names.append(obj.GetName())
        assert obj.IsManifoldAndOriented()
        assert obj.GetMetaDataGroup().GetMetaDataCount() >= 7
    assert names == [r.part.name for r in result.parts.values()]


def test_csv_agrees_with_the_evaluation(result: Evaluation) -> None:
    rows = list(csv.DictReader(io.StringIO(parts_csv(sheet_rows(result)))))
    assert [r["id"] for r in rows] == list(result.parts)
    total = sum(float(r["mass_g_all"]) for r in rows)
    assert total == pytest.approx(sum(r.grams * r.part.count for r in result.parts.values()), abs=0.05)


def test_json_comes_back_whole(folder: Path, project: Project) -> None:
    assert project_from_json(next(folder.glob("*.json")).read_text()) == project


def test_pdf_is_a_pdf_even_with_odd_names(engine: Engine, project: Project, tmp_path: Path) -> None:
    odd = set_at(set_at(project, "name", "飛 <b> →"), "parts.arm.name", "Arm Ω")
    written = export_all(engine, engine.evaluate(odd), tmp_path, ("sheet.pdf", "stl"), ("arm",))
    assert [p.suffix for p in written] == [".stl", ".pdf"]
    assert written[1].read_bytes().startswith(b"%PDF-")


def run(capsys: pytest.CaptureFixture[str], *args: str) -> tuple[int, str, str]:
    code = main(list(args))
    out = capsys.readouterr()
    return code, out.out, out.err


def test_evaluate_json_has_everything_a_study_needs(capsys: pytest.CaptureFixture[str], result: Evaluation) -> None:
    code, out, err = run(capsys, "evaluate", "--demo", "tern", "--json")
    data = json.loads(out)
    assert (code, err) == (0, "")
    assert set(data["targets"][0]) >= {"id", "name", "value", "low", "high", "limit", "sense", "unit", "verdict"}
    assert set(data["parts"][0]) >= {"id", "name", "count", "mass_g", "minutes", "filament"}
    assert set(data["craft"]) >= {"mass_g", "com_mm", "inertia_gmm2"}
    assert set(data["modes"][0]) >= {"freq_hz", "low", "high", "kind"}
    assert set(data["sections"][0]) >= {"part", "station_mm", "ei_up_nmm2", "ei_side_nmm2", "gj_nmm2", "mass_g_per_mm"}
    assert set(data["reserves"][0]) >= {"part", "case", "kind", "station_mm", "reserve"}
    assert data["power"]["hover_rpm"] == pytest.approx(result.power.hover_rpm)
    assert data["craft"]["mass_g"] == pytest.approx(result.craft.mass_g)
    kinds = [m["kind"] for m in data["modes"]]
    assert {"vertical bending", "in-plane bending", "torsion"} <= set(kinds)
    mass = sum(s["mass_g_per_mm"] for s in data["sections"]) / len(data["sections"]) * 110
    assert 0.5 * data["parts"][0]["mass_g"] < mass < data["parts"][0]["mass_g"]


def test_set_reaches_any_field(capsys: pytest.CaptureFixture[str]) -> None:
    args = ["evaluate", "--demo", "tern", "--json", "--set", "parts.arm.shape.root_height_mm=14", "--set", "parts.arm.recipe.filament=pla",
            "--set", "parts.arm.carbon={\"stock\": \"rod_3\", \"start_mm\": 2, \"end_mm\": 80}",
            "--set", "targets.sag.limit=9"]  # fmt: skip
    code, out, _ = run(capsys, *args)
    data = json.loads(out)
    assert code == 0
    assert data["parts"][0]["filament"] == "pla"
    assert next(t for t in data["targets"] if t["id"] == "sag")["verdict"] == "holds"


def test_table_is_readable(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "evaluate", "--demo", "tern")
    assert code == 0
    assert "Tip deflection" in out
    assert "fails" in out


def test_a_file_gives_the_same_figures(capsys: pytest.CaptureFixture[str], tmp_path: Path, project: Project) -> None:
    create(tmp_path / "a.fravik", project)
    _, from_file, _ = run(capsys, "evaluate", str(tmp_path / "a.fravik"), "--json")
    _, from_demo, _ = run(capsys, "evaluate", "--demo", "tern", "--json")
    assert json.loads(from_file) == json.loads(from_demo)


@pytest.mark.parametrize(
    ("args", "says"),
    [
        (["evaluate"], "Name either a project file or --demo"),
        (["evaluate", "--demo", "gull"], "no demo 'gull'"),
        (["evaluate", "nowhere.fravik"], "There is no file"),
        (["evaluate", "nowhere.json"], "cannot be read"),
        (["evaluate", "--demo", "tern", "--set", "parts.arm"], "PATH=VALUE"),
        (["evaluate", "--demo", "tern", "--set", "parts.arm.recipe.walls=0"], "below the least allowed, 1"),
        (["evaluate", "--demo", "tern", "--set", "parts.arm.recipe.walls=NaN"], "needs a number"),
        (["evaluate", "--demo", "tern", "--set", "parts.nose.count=2"], "known here"),
        (["evaluate", "--demo", "tern", "--set", "parts.arm.recipe.filament=wood"], "no filament 'wood'"),
        (["evaluate", "--demo", "tern", "--set", "parts.arm.shape.pocket_count=2",
          "--set", "parts.arm.shape.pocket_width_mm=30"], "in two"),
        (["report", "--demo", "tern", "-o", "sheet.doc"], "A sheet is .html or .pdf"),
        (["export", "--demo", "tern", "--part", "nose"], "no part 'nose'"),
        (["export", "--demo", "tern", "--kind", "zip"], "no file kind 'zip'"),
        (["export", "--demo", "tern", "-o", "/proc/nowhere"], "no such place"),
        (["fly"], "invalid choice"),
        ([], "required"),
    ],
)  # fmt: skip
def test_errors_are_one_line_and_exit_2(capsys: pytest.CaptureFixture[str], args: list[str], says: str) -> None:
    code, out, err = run(capsys, *args)
    assert code == 2
    assert out == ""
    assert err.count("\n") == 1
    assert err.startswith("fravik: ")
    assert says in err


def test_a_fault_is_one_line_too(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    def fault(*_: object) -> None:
        raise RuntimeError("made\nup")

    monkeypatch.setattr(Engine, "evaluate", fault)
    code, _, err = run(capsys, "evaluate", "--demo", "tern")
    assert code == 2
    assert err == "fravik: this should not have happened (RuntimeError: made up)\n"


def test_report_and_export_commands(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    assert run(capsys, "report", "--demo", "tern", "-o", str(tmp_path / "s.html"))[0] == 0
    assert run(capsys, "report", "--demo", "tern", "-o", str(tmp_path / "s.pdf"))[0] == 0
    code, out, _ = run(capsys, "export", "--demo", "tern", "-o", str(tmp_path / "out"), "--kind", "stl", "--part", "leg")
    assert code == 0
    assert out.strip().endswith("leg_x4.stl")
    assert len(list((tmp_path / "out").iterdir())) == 1


def test_validate_command(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    code, out, _ = run(capsys, "validate", "--json", "--write", str(tmp_path / "v.md"))
    rows = json.loads(out)
    assert [r for r in rows if not r["pass"]] == []
    assert code == 0
    assert len(rows) > 400
    assert all(set(r) >= {"what", "expected", "got", "error", "within", "pass"} for r in rows)
    assert (tmp_path / "v.md").read_text().count("| yes |") == len(rows)


def test_no_display_is_said(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("DISPLAY", raising=False)
    monkeypatch.delenv("WAYLAND_DISPLAY", raising=False)
    code, _, err = run(capsys, "demo", "tern")
    assert code == 2
    assert "no display" in err
    assert run(capsys, "demo", "gull")[0] == 2
