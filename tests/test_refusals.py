"""What is typed or read wrongly is refused in one plain line, and ids never name a path."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.export import export_all
from fravik.model.paths import EditError, set_at
from fravik.model.project import Project
from fravik.store import project_from_json, project_to_json


@pytest.mark.parametrize(("edit", "says"), [
    ("parts.leg.id=arm", "An id stays"),
    ("parts.top=0", "valid dictionary"),
    ("targets.sag=[]", "valid dictionary"),
    ("targets.endurance={}", "missing"),
    ('targets.sag={"id": "time", "metric": "tip_sag_mm", "limit": 2}', "An id stays"),
    ('parts.arm.name="a\\nb"', "one line"),
    ('name="\\ud800"', "half a character"),
    ("parts.arm.count=" + "9" * 5000, "needs a number"),
    ("brief=" + "[" * 100_000, "valid dictionary"),
    ("components.battery.mass_g=1e400", "needs a number"),
    ("components.blocks=5", "valid tuple"),
])  # fmt: skip
def test_an_edit_that_cannot_be_is_one_line(capsys: pytest.CaptureFixture[str], edit: str, says: str) -> None:
    assert main(["evaluate", "--demo", "tern", "--set", edit]) == 2
    told = capsys.readouterr()
    assert told.out == ""
    assert told.err.count("\n") == 1
    assert says in told.err
    assert "should not have happened" not in told.err
    assert len(told.err) < 400


@pytest.mark.parametrize(("text", "says"), [
    ("[" * 100_000, "nested deeper"), ("[]", "not a project"), ("{", "not JSON"), ('{"name": "\\ud800"}', "half a character"),
    ('{"parts": [{"id": "arm", "name": "a\\u0000", "shape": {"kind": "arm"}}]}', "control character"),
    ('{"schema_version": ' + "9" * 5000 + "}", "not JSON"),
])  # fmt: skip
def test_a_json_that_is_no_project_is_one_line(tmp_path: Path, capsys: pytest.CaptureFixture[str], text: str, says: str) -> None:
    (tmp_path / "x.json").write_text(text)
    assert main(["evaluate", str(tmp_path / "x.json")]) == 2
    told = capsys.readouterr().err
    assert told.count("\n") == 1
    assert says in told


def test_a_byte_order_mark_is_no_harm(tmp_path: Path, project: Project) -> None:
    (tmp_path / "x.json").write_text(project_to_json(project), encoding="utf-8-sig")
    assert main(["evaluate", str(tmp_path / "x.json")]) == 0


@pytest.mark.parametrize("name", ["/dev/zero", "pipe.json", "folder.json", "missing.json", "bytes.json"])
def test_pipes_devices_and_bytes_are_no_projects(tmp_path: Path, capsys: pytest.CaptureFixture[str], name: str) -> None:
    os.mkfifo(tmp_path / "pipe.json")
    (tmp_path / "folder.json").mkdir()
    (tmp_path / "bytes.json").write_bytes(bytes(range(128, 256)))
    assert main(["evaluate", str(tmp_path / name)]) == 2
    assert capsys.readouterr().err.count("\n") == 1


def test_a_terminal_of_plain_letters_still_gets_the_table() -> None:
    env = {**os.environ, "PYTHONIOENCODING": "ascii", "LC_ALL": "C"}
    run = subprocess.run(
        [sys.executable, "-m", "fravik", "evaluate", "--demo", "tern"], env=env, capture_output=True, text=True, timeout=120
    )
    assert run.returncode == 0
    assert "Tip deflection" in run.stdout
    assert run.stderr == ""


NASTY = ("../../x", "/etc/passwd", "Arm Left", "ÄRM", "", "a" * 90, "arm-1", ".")


def nasty_data(part_id: str) -> dict[str, Any]:
    data = json.loads(project_to_json(tern()))
    data["parts"][0]["id"] = part_id
    data["parts"][3]["id"] = part_id + "/2"
    data["more_printers"] = [{"id": "../big", "name": "Big"}]
    data["brief"]["own_cases"] = [{"id": "My case!", "part": part_id}]
    data["run"]["spares"] = [{"id": part_id, "count": 2}]
    data["run"]["records"] = [{"id": "r 1", "part": part_id, "printer": "../big"}]
    return data


@pytest.mark.parametrize("part_id", NASTY)
def test_old_ids_are_made_plain_and_what_goes_by_them_follows(part_id: str) -> None:
    found = project_from_json(json.dumps(nasty_data(part_id)))
    arm = found.parts[0]
    assert arm.shape.kind == "arm"
    assert all(c.islower() or c.isdigit() or c == "_" for c in arm.id)
    assert len({p.id for p in found.parts}) == len(found.parts)
    assert found.brief.own_cases[0].part == arm.id
    assert found.run.spares[0].id == arm.id
    assert found.run.records[0].part == arm.id
    assert found.run.records[0].printer == found.more_printers[0].id
    assert project_from_json(project_to_json(found)) == found


def test_a_stranger_s_ids_leave_the_chosen_folder_alone(tmp_path: Path, engine: Engine) -> None:
    found = project_from_json(json.dumps(nasty_data("../../x")))
    out = tmp_path / "a" / "b" / "out"
    written = export_all(engine, engine.evaluate(found), out, ("stl", "csv"))
    assert all(p.parent == out.resolve() for p in written)
    assert [p.name for p in tmp_path.iterdir()] == ["a"]
    assert [p.name for p in (tmp_path / "a" / "b").iterdir()] == ["out"]


@given(st.text(max_size=60))
def test_any_text_is_kept_whole_or_refused(text: str) -> None:
    try:
        named = set_at(tern(), "parts.arm.name", text)
    except EditError as err:
        assert err.message  # noqa: PT017  one or the other
        return
    assert project_from_json(project_to_json(named)) == named
