"""The sheet beside the printer: its drawings against plain geometry, its pages as read back, and what it says against the run."""

from __future__ import annotations

from html.parser import HTMLParser
from pathlib import Path

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from fravik.cli import main
from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.engine.export import export_all
from fravik.engine.results import Evaluation
from fravik.engine.settle import settle
from fravik.engine.settled import Settled, settled_margins
from fravik.engine.sheetcontent import NOT_LAID, sheet_of
from fravik.model.paths import set_many
from fravik.model.project import Project
from fravik.plan.drawing import EYE, MARGIN, PAPER, draw, png
from fravik.plan.sheet import Sheet, sheet_html, sheet_pdf
from fravik.plan.sheet.faces import UNKNOWN, faced
from fravik.shape.build import Mesh
from fravik.study.words import clock

POINTS = {"a4": (595, 842), "letter": (612, 792)}


@pytest.fixture(scope="module")
def settled(engine: Engine, project: Project) -> Settled:
    return settle(engine, project)


@pytest.fixture(scope="module")
def sheet(engine: Engine, project: Project, settled: Settled) -> Sheet:
    return sheet_of(engine, engine.evaluate(project), settled)


def box(x: float, y: float, z: float) -> Mesh:
    solid = trimesh.creation.box((x, y, z))
    return Mesh(np.asarray(solid.vertices, dtype=float), np.asarray(solid.faces))


def shadow_share(mesh: Mesh, width: int, height: int) -> float:
    """Share of the picture that a convex body covers: half the sum of its faces' areas as they face the eye."""
    tri = mesh.vertices_mm[mesh.faces]
    area = np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0]) / 2
    flat = mesh.vertices_mm @ EYE.T
    size = flat.max(axis=0) - flat.min(axis=0)
    scale = (1 - 2 * MARGIN) * min(width / size[0], height / size[1])
    return float(np.abs(area @ EYE[2]).sum()) / 2 * scale**2 / (width * height)


def test_the_eye_is_square_and_above() -> None:
    assert pytest.approx(np.eye(3), abs=1e-12) == EYE @ EYE.T
    assert np.linalg.det(EYE) == pytest.approx(1.0)
    assert EYE[1, 2] > 0.5  # up on the bed is up on the page
    assert EYE[2, 2] > 0.3


@settings(max_examples=12)
@given(st.floats(5, 200), st.floats(5, 200), st.floats(5, 200))
def test_a_body_covers_as_much_of_the_picture_as_it_should(x: float, y: float, z: float) -> None:
    mesh = box(x, y, z)
    picture = draw(mesh, 240, 160)
    share = float((picture < PAPER - 1).mean())
    outline = 2 * (240 + 160) / (240 * 160)  # every pixel that its edge touches counts whole
    assert share == pytest.approx(shadow_share(mesh, 240, 160), abs=outline)


def test_a_nearer_body_hides_a_farther_one_whatever_their_order() -> None:
    near, far = trimesh.creation.box((20, 4, 20)), trimesh.creation.box((20, 4, 20))
    way = EYE[2] * 60
    near.apply_translation(way / 2)
    far.apply_translation(-way / 2)
    both = [trimesh.util.concatenate([a, b]) for a, b in ((near, far), (far, near))]
    pictures = [draw(Mesh(np.asarray(m.vertices, dtype=float), np.asarray(m.faces)), 120, 120) for m in both]
    assert (pictures[0] == pictures[1]).all()
    alone = draw(Mesh(np.asarray(near.vertices, dtype=float), np.asarray(near.faces)), 120, 120)
    assert (pictures[0] < PAPER - 1).mean() == pytest.approx(float((alone < PAPER - 1).mean()), abs=0.02)


def test_its_layers_are_counted_on_its_side() -> None:
    mesh = box(30, 30, 24)
    laid = Mesh(mesh.vertices_mm + np.array([0, 0, 12]), mesh.faces)
    layer = 2.0
    plain, lined = (draw(laid, 300, 300, t).astype(float) for t in (0.0, layer))
    # straight down through the left face, near its middle
    flat = laid.vertices_mm @ EYE.T
    size = flat.max(axis=0) - flat.min(axis=0)
    scale = (1 - 2 * MARGIN) * 300 / max(size[0], size[1])
    at = (np.array([-15.0, 0.0, 12.0]) @ EYE.T - (flat.max(axis=0) + flat.min(axis=0)) / 2) * scale
    column = round(150 + at[0])
    darker = (plain - lined)[:, column] > 8
    lines = int((np.diff(darker.astype(int)) == 1).sum())
    assert lines == pytest.approx(24 / layer - 1, abs=1)
    assert (plain - lined)[:, 150][: round(0.2 * 300)].max() < 8 or lines  # the level top has none


def test_a_picture_is_small_and_its_ink_light() -> None:
    picture = draw(box(60, 40, 20), 696, 456, 0.2)
    assert len(png(picture)) < 60_000
    assert (255 - picture.astype(float)).mean() < 40


def pages(data: bytes, tmp_path: Path) -> tuple[list[tuple[float, float]], list[str]]:
    """Sizes in points and texts of all pages, by another library's reading."""
    from PyQt6.QtPdf import QPdfDocument

    path = tmp_path / "read.pdf"
    path.write_bytes(data)
    document = QPdfDocument(None)
    assert document.load(str(path)) == QPdfDocument.Error.None_
    count = document.pageCount()
    sizes = [(document.pagePointSize(k).width(), document.pagePointSize(k).height()) for k in range(count)]
    texts = [document.getAllText(k).text() for k in range(count)]
    document.close()
    return sizes, texts


@pytest.mark.parametrize("paper", list(POINTS))
def test_the_pdf_says_all_on_its_paper(qapp: object, sheet: Sheet, tmp_path: Path, paper: str) -> None:
    sizes, texts = pages(sheet_pdf(sheet, paper), tmp_path)
    assert all(a == pytest.approx(b, abs=1) for size in sizes for a, b in zip(size, POINTS[paper], strict=True))
    whole = " ".join(" ".join(texts).split())
    for p in sheet.parts:
        assert p.name in whole
        for _, value in p.facts:
            assert value in whole
    for t in sheet.targets:
        assert t.value in whole
        assert t.limit in whole
    for b in sheet.batches:
        assert b.title in whole
    assert all(f"page {k + 1} of {len(texts)}" in text for k, text in enumerate(texts))
    assert "Take care" in texts[-1]


class Reading(HTMLParser):
    """What a page holds."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.text, self.open, self.images, self.beyond = "", list[str](), 0, list[str]()
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag not in ("meta", "img", "path", "rect", "circle", "br"):
            self.open.append(tag)
        self.images += tag == "img"
        self.beyond += [v or "" for k, v in attrs if k in ("src", "href") and not (v or "").startswith("data:")]

    def handle_endtag(self, tag: str) -> None:
        if tag not in ("meta", "img", "path", "rect", "circle", "br"):
            assert self.open.pop() == tag

    def handle_data(self, data: str) -> None:
        if not self.open or self.open[-1] != "style":
            self.text += data


def test_the_page_is_whole_and_needs_nothing_beside_it(sheet: Sheet) -> None:
    page = sheet_html(sheet, "letter")
    read = Reading(page)
    assert not read.open
    assert read.images == len(sheet.parts)
    assert not read.beyond
    assert "url(data:" in page
    assert "size:letter" in page
    for p in sheet.parts:
        assert p.name in read.text
        assert all(x in read.text for x in p.look_at)
    for word in ("Propellers off", "Take care", "Batches", "When", *(t.detail for t in sheet.targets)):
        assert word in read.text


def test_what_people_type_stays_text_in_both(qapp: object, engine: Engine, project: Project, tmp_path: Path) -> None:
    nasty = set_many(project, (("name", "<script>alert(1)</script> → Łódź & Жук 飛"), ("parts.arm.name", "<b>Arm</b> Ω ≤")))
    made = sheet_of(engine, engine.evaluate(nasty))
    page = sheet_html(made)
    assert "<script>" not in page
    assert "<script>alert(1)</script> → Łódź & Жук 飛" in Reading(page).text
    text = pages(sheet_pdf(made), tmp_path)[1][0]
    assert "<script>alert(1)</script> → Łódź & Жук" in " ".join(text.split())
    assert UNKNOWN in faced("飛")
    assert faced("a<b") == "a&lt;b"


def test_it_tells_the_run_s_own_figures(engine: Engine, project: Project, settled: Settled, sheet: Sheet) -> None:
    assert [b.name for b in sheet.batches] == [p.id for p in settled.batches.batches]
    assert len(sheet.moments) == len(settled.schedule.tasks)
    arm = next(p for p in sheet.parts if p.name == project.part("arm").name)
    job = settled.jobs["arm"]
    assert f"{clock(job.minutes)} each" in arm.figures
    assert f"{job.layers.count} of 0.2 mm" in dict(arm.facts)["Layers"]
    weighs = next(x for x in arm.look_at if x.startswith("Weighs"))
    low, high = (float(w) for w in weighs.replace("Weighs ", "").replace(" g", "").split(" to "))
    assert low < job.grams < high
    margins = settled_margins(engine.evaluate(project), settled)
    assert [t.verdict for t in sheet.targets] == [m.verdict for m in margins]
    drawn = sum(len(b.loops) for b in sheet.batches)
    assert drawn >= sum(p.count for p in project.parts)
    for b in sheet.batches:
        for loop in b.loops:
            assert loop.min() >= 0
            assert (loop.max(axis=0) <= b.bed_mm).all()


def test_without_layers_it_says_so_and_tells_no_batch(engine: Engine, result: Evaluation) -> None:
    made = sheet_of(engine, result)
    assert made.not_laid == NOT_LAID
    assert not made.batches
    assert not made.moments
    assert NOT_LAID in Reading(sheet_html(made)).text


def test_what_is_to_be_set_cut_off_and_glued_is_told(engine: Engine) -> None:
    craft = set_many(tern(), (
        ("parts.arm.joint.fixing", "heat_set"), ("parts.arm.laying.edge", "hem"), ("parts.arm.laying.support", "pillars"),
        ("parts.arm.laying.soluble", True), ("parts.arm.recipe.lies", "on_side"),
    ))  # fmt: skip
    arm = sheet_of(engine, engine.evaluate(craft)).parts[0]
    assert any("heat-set insert" in x for x in arm.to_set)
    assert {"Hem cut off flush"} <= set(arm.look_at)
    assert any("6 h in the bath" in x for x in arm.look_at)
    assert "Hem, 5 mm" in dict(arm.facts).values()


def test_the_command_and_the_export_write_it(engine: Engine, result: Evaluation, settled: Settled, tmp_path: Path) -> None:
    written = export_all(engine, result, tmp_path, ("sheet.html", "sheet.pdf"), settled=settled, paper="letter")
    assert sorted(p.suffix for p in written) == [".html", ".pdf"]
    assert "Four arms" in next(p for p in written if p.suffix == ".html").read_text()
    out = tmp_path / "one.pdf"
    assert main(["report", "--demo", "tern", "-o", str(out), "--quick", "--paper", "letter"]) == 0
    assert out.read_bytes().startswith(b"%PDF-")
    assert main(["report", "--demo", "tern", "-o", str(tmp_path / "one.txt")]) == 2
