"""Inputs made to harm, by the thousand: ``python -m tools.hostile --inputs 10000 --kills 200``.

Project files, JSON, edits, meshes, G-code and file names are bent in seeded ways and given to the product's own readers. Each must be
taken, or refused in plain words; any other exception, a hang, a file altered, a path outside its folder or an edit lost fails. Writers
are killed in mid-write, and their files must hold the last edit or the one before.
"""

from __future__ import annotations

import argparse
import faulthandler
import json
import os
import random
import resource
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from contextlib import closing
from multiprocessing import get_context
from pathlib import Path
from typing import Any

from fravik.demo import tern
from fravik.model.paths import EditError, set_at
from fravik.printing.gcode import GcodeError, read_gcode
from fravik.shape.meshread import MeshProblem, read_mesh
from fravik.store import FileProblem, create, open_file, project_from_json, project_to_json, read_json_file, write_files

CHUNK = 8  # inputs given to a process at a time
HANG_S = 5
LOST_S = 30  # a process that has not come back by then, as from another language's code, is ended
PLAIN = (FileProblem, EditError, MeshProblem, GcodeError)
NASTY: tuple[Any, ...] = (
    None, True, -1, 0, 1e308, -1e-308, 10**400, "", " ", "\ud800", "a\nb", "../../x", "/etc/passwd", "=1+1", "x" * 100_000, [],
    {}, [[[[]]]],
    {"id": "arm"}, "nan", "ÄÖÜ", "\x00", "𝟘", [None] * 50,
)  # fmt: skip


class HangError(Exception):
    """An input that took longer than any may."""


def _alarm(*_: object) -> None:
    raise HangError


def bent(data: bytes, rng: random.Random) -> bytes:
    """Bytes with a few bits, a stretch or the end changed."""
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 3, 12))):
        at, long = rng.randrange(len(out)), rng.choice((1, 1, 4, 300, 4000))
        how = rng.randrange(6)
        if how == 0:
            out[at] ^= 1 << rng.randrange(8)
        elif how == 1:
            out[at : at + long] = rng.randbytes(min(long, len(out) - at))
        elif how == 2:
            del out[at : at + long]
        elif how == 3:
            out[at:at] = out[rng.randrange(len(out)) :][:long]
        elif how == 4:
            out[at : at + long] = bytes([rng.choice((0, 255, 48))]) * long
        else:
            del out[max(at, 1) :]
        if not out:
            return b"\0"
    return bytes(out)


def _bent_tree(node: Any, rng: random.Random) -> Any:
    """JSON with something somewhere replaced, lost or doubled."""
    if isinstance(node, dict) and node and rng.random() < 0.9:
        key = rng.choice(list(node))
        how = rng.random()
        if how < 0.1:
            return {k: v for k, v in node.items() if k != key}
        if how < 0.15:
            return {**node, str(rng.choice(NASTY)): 1}
        return {**node, key: _bent_tree(node[key], rng)}
    if isinstance(node, list) and node and rng.random() < 0.9:
        k = rng.randrange(len(node))
        return [*node, node[k]] if rng.random() < 0.1 else [_bent_tree(v, rng) if i == k else v for i, v in enumerate(node)]
    return rng.choice(NASTY)


def _project(folder: Path, rng: random.Random) -> None:
    path = folder / "x.fravik"
    create(path, tern())
    if rng.random() < 0.3:
        statements = ("CREATE VIEW v AS SELECT 1", "DROP TABLE snapshot", "UPDATE snapshot SET body = x'00'", "DELETE FROM snapshot",
                      "CREATE TRIGGER t AFTER UPDATE ON snapshot BEGIN DELETE FROM snapshot; END",
                      "UPDATE snapshot SET body = substr(body, 2)", "UPDATE snapshot SET checksum = NULL || ''")  # fmt: skip
        try:
            with closing(sqlite3.connect(path)) as db, db:
                db.execute(rng.choice(statements))
        except sqlite3.Error:
            return
    else:
        path.write_bytes(bent(path.read_bytes(), rng))
    before = path.read_bytes()
    try:
        _, found = open_file(path)
        if found != tern():
            raise AssertionError("another craft was read out of a damaged file")
    finally:
        if path.read_bytes() != before:
            raise AssertionError("a file was altered by opening it")


def _json(folder: Path, rng: random.Random) -> None:
    path = folder / "x.json"
    data = json.loads(TERN)
    for _ in range(rng.choice((1, 1, 2, 5))):
        data = _bent_tree(data, rng)
    text = json.dumps(data).encode() if rng.random() < 0.6 else bent(TERN.encode(), rng)
    path.write_bytes(text)
    found = read_json_file(path)
    if project_from_json(project_to_json(found)) != found:
        raise AssertionError("a project does not come back as it was written")


def _edit(folder: Path, rng: random.Random) -> None:
    data, path = json.loads(TERN), []
    while isinstance(data, dict | list) and data and (not path or rng.random() < 0.85):
        if isinstance(data, dict):
            key = rng.choice(list(data))
            data = data[key]
        else:
            item = rng.choice(data)
            key, data = (str(item.get("id", "?")), item) if isinstance(item, dict) else ("0", item)
        path.append(key)
    found = set_at(tern(), ".".join(path), rng.choice((*NASTY, rng.uniform(-1e4, 1e4))))
    if project_from_json(project_to_json(found)) != found:
        raise AssertionError(f"{'.'.join(path)}: an edit that cannot be saved was taken")


def _mesh(folder: Path, rng: random.Random) -> None:
    name, data = rng.choice(MESHES)
    (folder / name).write_bytes(bent(data, rng))
    read_mesh(folder / name, rng.choice((1.0, 1.0, 25.4, 1e-6, 1e9)))


def _gcode(folder: Path, rng: random.Random) -> None:
    (folder / "x.gcode").write_bytes(bent(GCODE, rng))
    read_gcode(folder / "x.gcode")


def _name(folder: Path, rng: random.Random) -> None:
    names = [str(rng.choice(NASTY)) + rng.choice(("", ".stl", "/x.svg", "\\x", "." * 9)) for _ in range(rng.randint(1, 6))]
    out = folder / "a" / "out"
    for path in write_files(out, dict.fromkeys(names, b"1")):
        if path.parent != out.resolve():
            raise AssertionError(f"{path} is outside its folder")
    if [p.name for p in folder.iterdir()] != ["a"] or [p.name for p in (folder / "a").iterdir()] != ["out"]:
        raise AssertionError("something was written outside the folder")


KINDS: dict[str, Callable[[Path, random.Random], None]] = {
    "project files": _project, "JSON": _json, "edits": _edit, "meshes": _mesh, "G-code": _gcode, "file names": _name,
}  # fmt: skip
TERN = project_to_json(tern())
_ODD = b"G2 X5 Y5 I3 J2 E1\n;layer\nM104 S210\n"
GCODE = b"".join(f"G1 X{10 + i % 50} Y{i % 40} E{0.02 * i:.3f} F{1200 + i}\n".encode() + (_ODD if i % 9 == 0 else b"") for i in range(400))


def _meshes() -> tuple[tuple[str, bytes], ...]:
    import trimesh
    from manifold3d import Manifold

    from fravik.shape.build import mesh_of
    from fravik.shape.meshfile import MeshItem, parts_3mf_bytes, stl_bytes

    mesh = mesh_of(Manifold.cylinder(20.0, 8.0, 6.0, 24) - Manifold.cylinder(30.0, 3.0, 3.0, 16).translate((0, 0, -5)))
    body = trimesh.Trimesh(mesh.vertices_mm, mesh.faces)
    ply = body.export(file_type="ply")
    return (("x.stl", stl_bytes(mesh)), ("x.3mf", parts_3mf_bytes([MeshItem("x", mesh, 2, ())])),
            ("x.obj", str(body.export(file_type="obj")).encode()), ("x.ply", ply if isinstance(ply, bytes) else ply.encode()))  # fmt: skip


MESHES = _meshes()


Outcome = tuple[str, str, str, float]  # kind, outcome, what went wrong, seconds


def one(kind: str, seed: int) -> Outcome:
    """Try one input."""
    rng = random.Random(f"{kind} {seed}")
    signal.signal(signal.SIGALRM, _alarm)
    start = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        faulthandler.dump_traceback_later(LOST_S, exit=True)
        signal.alarm(HANG_S)
        try:
            KINDS[kind](Path(folder), rng)
            outcome, why = "accepted", ""
        except PLAIN as err:
            outcome, why = ("refused", "") if "\n" not in str(err) else ("failed", f"seed {seed}: more than one line: {str(err)[:200]!r}")
        except HangError:
            outcome, why = "failed", f"seed {seed}: over {HANG_S} s"
        except Exception:
            outcome, why = "failed", f"seed {seed}: {traceback.format_exc(limit=-3)}"
        finally:
            signal.alarm(0)
            faulthandler.cancel_dump_traceback_later()
    return kind, outcome, why, time.monotonic() - start


WRITER = """
import sys
from pathlib import Path
from fravik.model.paths import set_at
from fravik.store import open_file
file, project = open_file(Path(sys.argv[1]))
i = 0
while True:
    i += 1
    project = set_at(project, "brief.purpose", f"edit {i} " + "words " * (i * 37 % 900))
    file.write(project)
    print(i, flush=True)
"""


def several(jobs: list[tuple[str, int]]) -> list[Outcome]:
    """Some inputs, one after the other."""
    return [one(*job) for job in jobs]


def killed(seeds: Sequence[int]) -> list[Outcome]:
    """One writer's file, killed again and again in mid-write: it must hold the last edit that was told, or the next."""
    out = []
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "x.fravik"
        create(path, tern())
        for seed in seeds:
            rng, start = random.Random(f"kill {seed}"), time.monotonic()
            with subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True) as child:
                assert child.stdout is not None
                child.stdout.readline()
                time.sleep(rng.uniform(0.0, 0.12))
                child.kill()
                told = [1, *(int(line) for line in child.stdout.read().split())][-1]
            try:
                found = int(open_file(path)[1].brief.purpose.split()[1])
                good, why = told <= found <= told + 1, f"seed {seed}: told {told}, found {found}"
            except FileProblem as err:
                good, why = False, f"seed {seed}: {err}"
            out.append(("kills", "accepted" if good else "failed", "" if good else why, time.monotonic() - start))
    return out


def campaign(inputs: int, kills: int, seed: int, workers: int = 2, seconds: float = 1e9) -> tuple[list[Outcome], float]:
    """All outcomes, and the seconds it took; stops after ``seconds``. A process that an input takes down fails all that it had to try.

    The processes are begun afresh: one forked off a process with threads may wait for ever for a lock that none of its own holds.
    """
    start, found, kinds = time.monotonic(), [], list(KINDS)
    jobs = [(kinds[i % len(kinds)], seed + i) for i in range(inputs)]
    with ProcessPoolExecutor(workers, mp_context=get_context("spawn")) as pool:
        tried = {pool.submit(several, some): some for some in (jobs[i : i + CHUNK] for i in range(0, inputs, CHUNK))}
        tried |= {
            pool.submit(killed, some): [("kills", s) for s in some]
            for some in (range(seed + k, seed + kills, workers) for k in range(workers))
        }
        for done in as_completed(tried):
            try:
                found += done.result()
            except BrokenProcessPool:
                found += [(kind, "failed", f"seed {s}: this or another input took its process down", 0.0) for kind, s in tried[done]]
            if time.monotonic() - start > seconds:
                pool.shutdown(wait=False, cancel_futures=True)
                break
    return found, time.monotonic() - start


def table(found: list[Outcome]) -> str:
    """Tried, refused, accepted and failed by kind, and the slowest of each."""
    rows = [f"{'':<16}{'tried':>8}{'refused':>9}{'accepted':>10}{'failed':>8}{'slowest s':>11}"]
    for kind in (*KINDS, "kills"):
        mine = [f for f in found if f[0] == kind]
        count = Counter(f[1] for f in mine)
        slowest = max((f[3] for f in mine), default=0.0)
        rows.append(f"{kind:<16}{len(mine):>8}{count['refused']:>9}{count['accepted']:>10}{count['failed']:>8}{slowest:>11.2f}")
    return "\n".join(rows)


def main() -> int:
    """Run the campaign and print its table; 1 when anything failed."""
    parser = argparse.ArgumentParser(prog="hostile")
    parser.add_argument("--inputs", type=int, default=10_000)
    parser.add_argument("--kills", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=1e9)
    args = parser.parse_args()
    os.environ["OMP_NUM_THREADS"] = "1"
    found, took = campaign(args.inputs, args.kills, args.seed, seconds=args.seconds)
    print(table(found))
    peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    print(f"{took:.0f} s, largest process {peak:.0f} MB")
    failed = [f for f in found if f[1] == "failed"]
    for f in failed[:10]:
        print(f"{f[0]}: {f[2]}")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
