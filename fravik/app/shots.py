"""Pictures of every main view, made from the demo: python -m fravik.app.shots FOLDER [VIEW ...]."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QBuffer
from PyQt6.QtGui import QColor, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import QApplication

from fravik.app import theme
from fravik.app.newcraftdialog import NewCraftDialog
from fravik.app.window import MainWindow
from fravik.demo import tern
from fravik.engine.ruler import WORST


def wait_for(app: QApplication, window: MainWindow, done: Callable[[], bool], seconds: float = 25.0) -> None:
    """Run the window until a condition holds."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        app.processEvents()
        if done():
            break
        time.sleep(0.01)
    for _ in range(30):
        app.processEvents()
        time.sleep(0.01)


def grab(window: MainWindow) -> QPixmap:
    """The window as a picture, 3D included: the 3D surface is copied in where the tool kit leaves it blank."""
    picture = window.grab()
    view = window.view(window.stage)
    plotter = getattr(getattr(view, "scene", None), "plotter", None)
    if plotter is not None and plotter.isVisible():
        from PyQt6.QtCore import QPoint

        raw = plotter.screenshot(return_img=True)
        image = QImage(raw.tobytes(), raw.shape[1], raw.shape[0], raw.shape[1] * 3, QImage.Format.Format_RGB888)
        painter = QPainter(picture)
        painter.drawImage(plotter.mapTo(window, QPoint(0, 0)), image)
        if not window.flies.isHidden():  # it lies over the 3D surface
            painter.drawPixmap(window.flies.mapTo(window, QPoint(0, 0)), window.flies.grab())
        painter.end()
    return picture


SHEET_PX_A_POINT = 1.4
FILES = {"Flies": "before-it-flies.png",
         "Dark": "parts-dark.png", "Plate": "parts-on-the-bed.png", "Plastics": "parts-plastics.png",
         "Body": "parts-body.png", "Loop": "vibration-loop.png", "Print run": "print-run.png", "Layers": "parts-layers.png"}  # fmt: skip

STAGE_OF = {"Flies": "Airframe", "Loop": "Vibration"}


def stage(window: MainWindow, name: str) -> None:
    """Bring the part, page and tab of a picture into view."""
    if name == "Flies":
        qapp = QApplication.instance()
        wait_for(qapp, window, lambda: window.settler.fresh and window.foresight.fresh)  # type: ignore[arg-type]
        window.show_flies()
        first = next(f for f in window.foresight.open if f.cures)
        window.flies.ask_cures(first)
        wait_for(qapp, window, lambda: bool(window.flies.rows[first.id].tries))  # type: ignore[arg-type]
        return
    if not window.flies.isHidden():
        window.show_flies()
    if window.session.project.tune.house == "usual" and name != "Loop":
        window.session.undo()
    if window.stage == "Vibration":
        view = window.view("Vibration")
        view.show_page(int(name == "Loop"))
        if name == "Loop":
            window.session.edit("tune.house", "usual")  # quicker than its frame bears
            wait_for(QApplication.instance(), window, lambda: view.ring.seen is not None)  # type: ignore[arg-type]
        return
    if window.stage == "Print run":
        wait_for(QApplication.instance(), window, lambda: window.settler.fresh)  # type: ignore[arg-type]
        window.view("Print run").open_batch("batch 1")
        window.view("Print run").show_layer(33)
    if name == "Layers":
        wait_for(QApplication.instance(), window, lambda: window.settler.fresh)  # type: ignore[arg-type]
    if window.stage != "Parts":
        return
    view = window.view("Parts")
    part = {"Body": "top"}.get(name, "arm")
    view.case = {"Body": "strap_pull"}.get(name, WORST)
    view.open_part(part)
    view.show_page({"Plate": 1, "Layers": 2, "Plastics": 3}.get(name, 0))
    view.ruler.pointer.setPos({"Body": -20.0}.get(name, 12.0))
    view.controls.show_tab({"Plate": 2, "Plastics": 0, "Body": 3}.get(name, 0))


def new_craft(window: MainWindow) -> QPixmap:
    """The first screen of a new craft, with wishes in it."""
    dialog = NewCraftDialog(window.ground)
    dialog.layouts.button(dialog.kinds.index("hexa_x")).click()  # type: ignore[union-attr]
    for key, text in (("name", "Water sampler"), ("bed_mm", "220"), ("payload_g", "300")):
        dialog.edits[key].setText(text)
    dialog.show()
    QApplication.processEvents()
    picture = dialog.grab()
    dialog.close()
    return picture


def sheet_page(target: Path) -> Path:
    """The sheet's second page: parts as they lie."""
    from PyQt6.QtPdf import QPdfDocument

    from fravik.engine.evaluate import Engine
    from fravik.engine.settle import settle
    from fravik.engine.sheetcontent import sheet_of
    from fravik.plan.sheet import sheet_pdf

    engine, craft = Engine(), tern()
    data = QBuffer()
    data.setData(sheet_pdf(sheet_of(engine, engine.evaluate(craft), settle(engine, craft))))
    data.open(QBuffer.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(data)
    size = document.pagePointSize(1) * SHEET_PX_A_POINT
    page = QImage(size.toSize(), QImage.Format.Format_RGB32)
    page.fill(QColor("white"))
    painter = QPainter(page)
    painter.drawImage(0, 0, document.render(1, size.toSize()))
    painter.end()
    page.save(str(target))
    document.close()
    return target


def shoot_propeller(app: QApplication, window: MainWindow, target: Path) -> None:
    """The stage on the craft that has one, once every way to lie has been spun."""
    window.open_demo("turnstone")
    window.show_stage("Propeller")
    view = window.view("Propeller")
    view.open_part("wide")
    wait_for(app, window, lambda: view.spun_all and window.foresight.fresh and window.settler.fresh)
    view.plan.picked.emit(60.0)
    grab(window).save(str(target))
    print(target)


def shoot_wings(app: QApplication, window: MainWindow, folder: Path) -> None:
    """Both stages of a craft that flies on a wing."""
    window.open_demo("wheatear")
    for name in ("Wing", "Transition"):
        window.show_stage(name)
        view = window.view(name)
        wait_for(app, window, lambda v=view: v.known and window.foresight.fresh and window.settler.fresh, 90.0)  # type: ignore[misc]
        if name == "Wing":
            view.plan.move_to(180.0)
            wait_for(app, window, lambda: True)
        target = folder / f"{name.lower()}.png"
        grab(window).save(str(target))
        print(target)


def ready(window: MainWindow) -> bool:
    """Whether the view on show has its 3D picture and the ways out are in."""
    view = window.view(window.stage)
    scene = getattr(view, "scene", None)
    for page in ("bed_page", "plastics_page"):
        busy = getattr(view, page, None)
        if busy is not None and busy.stepper.busy:
            return False
    plan = getattr(view, "plan", None)
    if (plan is not None and not plan.ready) or theme.dresses():
        return False
    return (scene is None or not scene.isVisible() or scene.stands) and window.session.levers_for is window.session.project and (
        window.session.levers_busy is None
    )  # fmt: skip


def settled(window: MainWindow) -> bool:
    """The same, with the figures of the roads and what is foreseen in place of estimates."""
    return ready(window) and window.settler.fresh and window.foresight.fresh


def main(argv: list[str]) -> int:
    """Write the pictures."""
    folder = Path(argv[0]) if argv else Path("docs/screenshots")
    folder.mkdir(parents=True, exist_ok=True)
    wanted = [name.lower() for name in argv[1:]]
    app = theme.make_app(sys.argv[:1])
    window = MainWindow(tern())
    window.show()
    window.resize(1280, 800)
    for name in (
        "Brief",
        "Airframe",
        "Parts",
        "Plate",
        "Layers",
        "Plastics",
        "Body",
        "Vibration",
        "Loop",
        "Print run",
        "Flies",
        "Dark",
    ):
        if wanted and name.lower().replace(" ", "-") not in wanted:
            continue
        if name == "Dark":
            window.toggle_theme()
        window.show_stage(name if name in window.rail.buttons else STAGE_OF.get(name, "Parts"))
        stage(window, name)
        wait_for(app, window, lambda: settled(window))
        target = folder / FILES.get(name, f"{name.lower()}.png")
        grab(window).save(str(target))
        print(target)
    if not wanted or "bar" in wanted:
        if theme.mode() == "dark":
            window.toggle_theme()
        shoot_propeller(app, window, folder / "propeller.png")
        shoot_wings(app, window, folder)
        for demo, part, name in (("redshank", "tube", "parts-bar.png"), ("wren", "frame", "parts-frame.png")):
            window.open_demo(demo)
            window.show_stage("Parts")
            window.view("Parts").open_part(part)
            window.view("Parts").ruler.pointer.setPos(12.0)
            wait_for(app, window, lambda: settled(window))
            target = folder / name
            grab(window).save(str(target))
            print(target)
    if not wanted or "new-craft" in wanted:
        if theme.mode() == "dark":
            window.toggle_theme()
        target = folder / "new-craft.png"
        new_craft(window).save(str(target))
        print(target)
    if not wanted or "sheet" in wanted:
        print(sheet_page(folder / "sheet.png"))
    window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
