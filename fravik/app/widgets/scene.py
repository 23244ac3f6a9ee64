"""A 3D picture on paper: loads the 3D library only when first shown."""

from __future__ import annotations

import importlib
import sys
import threading
import time
from collections.abc import Callable, Hashable, Iterator, Mapping
from concurrent.futures import Future
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QShowEvent
from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from fravik.app import painting, theme
from fravik.app.aside import Aside
from fravik.app.turns import Turns, later

from .glview import view_class

Floats = NDArray[np.float64]
CLICK_REACH_PX = 4
SAMPLES = 4
MATT = {"smooth_shading": False, "ambient": 0.35, "diffuse": 0.7, "specular": 0.0}
# what is written beside the picture is to be on the screen before work for it begins: a turn of the window later than asked, and later
# than the tool kit waits before it paints
AFTER_FIGURES_MS, PAINT_ASKED_MS = 4, 8
OUTGROWN = 0.05  # what grew or shrank by more of its size on any side is framed anew, unless its maker has turned or moved it
CHECKER = "mypy"
LOAD_AFTER_MS = 60  # what else is on the page stands by then
# what the library itself would fetch when its first widget is made
AT_FIRST_USE = ("vtkmodules.vtkInteractionWidgets", "vtkmodules.vtkViewsContext2D")


class _Library:
    """Imports the 3D library in a thread, so that the window answers meanwhile."""

    def __init__(self) -> None:
        self._thread: threading.Thread | None = None

    def ready(self) -> bool:
        """Whether the library is in; the first call starts fetching it."""
        if self._thread is None:
            self._thread = threading.Thread(target=self._fetch, daemon=True)
            self._thread.start()
        return not self._thread.is_alive()

    @staticmethod
    def _fetch() -> None:
        """Where a type checker is installed the library takes its modules in too: 15 MB that no window needs."""
        absent = CHECKER not in sys.modules
        if absent:
            sys.modules[CHECKER] = None  # type: ignore[assignment]
        try:
            for name in ("pyvistaqt", *AT_FIRST_USE):
                importlib.import_module(name)
        finally:
            if absent:
                del sys.modules[CHECKER]


_library = _Library()


def poly(vertices: Floats, faces: NDArray[np.int64]) -> Any:
    """Triangles as the 3D library's mesh."""
    import pyvista as pv

    cells = np.hstack([np.full((len(faces), 1), 3, dtype=np.int64), faces]).ravel()
    return pv.PolyData(vertices, cells)


def lines(ends_mm: Floats) -> Any:
    """Lines (n, 2, 3) as the 3D library's mesh."""
    import pyvista as pv

    return pv.line_segments_from_points(np.ascontiguousarray(ends_mm.reshape(-1, 3)))


def blend(*colours: str, steps: int = 24) -> list[str]:
    """A ramp through some colours, as a list."""
    rgb = np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], dtype=float)
    at = np.linspace(0, len(colours) - 1, steps)
    mixed = np.stack([np.interp(at, np.arange(len(colours)), rgb[:, k]) for k in range(3)], axis=1)
    return ["#" + "".join(f"{round(v):02x}" for v in row) for row in mixed]


class Actors:
    """The things of a 3D picture by name: what has not changed since the last picture is left as it is, what has is swapped."""

    def __init__(self) -> None:
        self._there: dict[str, tuple[Hashable, Hashable, Any]] = {}
        self._wanted: set[str] = set()

    def begin(self) -> None:
        """A new picture: what is not put into it goes at its end."""
        self._wanted = set()

    def put(
        self, plotter: Any, name: str, key: Hashable, make: Callable[[], Any], look: Mapping[str, Any], place: Floats | None = None
    ) -> None:
        """Put a mesh, made when ``key`` is new; ``place`` (4, 4) moves it to where it stands."""
        self._wanted.add(name)
        dress = tuple(sorted((k, str(v)) for k, v in look.items() if k not in ("clim", "color")))
        last_key, last_dress, actor = self._there.get(name, (None, None, None))
        if actor is not None and "color" in look:
            actor.prop.color = look["color"]
        if actor is None or last_dress != dress:
            actor = plotter.add_mesh(make(), name=name, **{**MATT, **look}, show_scalar_bar=False, render=False, reset_camera=False)
        elif last_key != key:
            actor.mapper.SetInputData(make())
            if "clim" in look:
                actor.mapper.scalar_range = look["clim"]
        if place is not None:
            actor.user_matrix = place
        self._there[name] = (key, dress, actor)

    def end(self, plotter: Any) -> None:
        """Take away what the picture no longer has."""
        for name in [n for n in self._there if n not in self._wanted]:
            plotter.remove_actor(name, render=False)
            del self._there[name]


def standing_at(centre_mm: Floats, size: float | Floats = 1.0) -> Floats:
    """The place (4, 4) of a mesh that was made at the origin in unit size."""
    place = np.eye(4)
    place[[0, 1, 2], [0, 1, 2]] = size
    place[:3, 3] = centre_mm
    return place


@cache
def ball() -> Any:
    """A sphere of radius 1 at the origin."""
    import pyvista as pv

    return pv.Sphere(radius=1.0)


class Scene(QWidget):
    """Holds one 3D view; ``draw`` is called with it whenever the picture is out of date and visible.

    A ``draw`` that yields goes on in a later turn of the window, unless another picture is asked for meanwhile.
    """

    ready = pyqtSignal()
    clicked = pyqtSignal(str)

    def __init__(self, draw: Callable[[Any], Iterator[None] | None], name: str) -> None:
        super().__init__()
        self._draw = draw
        self._turns, self._loading = Turns(self), Turns(self)
        self.plotter: Any = None
        self._dirty = True
        self._fitted = False
        self._framed: tuple[Floats, list[float]] | None = None  # the box that was framed, and the camera as it was left then
        self.view_from = (-1.0, -1.9, 1.25)
        self.room = 1.12
        self.setAccessibleName(name)
        self.setMinimumSize(160, 120)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.wait = QLabel("Loading the 3D picture…")
        self.wait.setObjectName("muted")
        self.wait.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.column.addWidget(self.wait)
        # the 3D surface is a native window; its ancestors must not become native too, or every repaint of the window slows
        self.holder = QWidget()
        self._in_turns = painting.InTurns(self.holder)
        self.holder.setAttribute(Qt.WidgetAttribute.WA_DontCreateNativeAncestors)
        self.holder.setAttribute(Qt.WidgetAttribute.WA_NativeWindow)
        self.inside = QVBoxLayout(self.holder)
        self.inside.setContentsMargins(0, 0, 0, 0)
        self.holder.hide()
        self.column.addWidget(self.holder)
        self._pressed = QPoint()
        self._aside: Aside | None = None
        self._needs: Callable[[], Callable[[], object] | None] | None = None
        self._asked_for = 0
        self.prepared: Any = None  # what the work before the picture gave
        self.frame_s = 0.0  # how long the last drawing took
        self._asked = 0.0
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(AFTER_FIGURES_MS)
        self._later.timeout.connect(lambda: self._after_paint.start())
        self._after_paint = QTimer(self)
        self._after_paint.setSingleShot(True)
        self._after_paint.setInterval(PAINT_ASKED_MS)
        self._after_paint.timeout.connect(self._refresh)
        theme.on_change(self._restyle)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if self.plotter is None:
            QTimer.singleShot(LOAD_AFTER_MS, self._load)
        elif self._dirty:
            self._later.start()

    def _load(self) -> None:
        if self.plotter is not None or not self.isVisible():
            return
        if not _library.ready():
            QTimer.singleShot(40, self._load)
            return
        self._loading.begin(self._loaded(), now=True)

    def _loaded(self) -> Iterator[None]:
        try:
            self.plotter = view_class()(self.holder, auto_update=False, multi_samples=SAMPLES)
        except Exception as err:
            self.wait.setText(f"No 3D picture: {err}")
            return
        self.plotter.set_ground(theme.current().card)
        self.plotter.draw_by_paints()
        self.plotter.enable_parallel_projection()
        self.plotter.installEventFilter(self)
        self.plotter.frameSwapped.connect(self._drawn)
        yield
        self.wait.hide()
        self.inside.addWidget(self.plotter)
        self.holder.show()
        yield
        QTimer.singleShot(0, self._begin)

    def _begin(self) -> None:
        self._refresh()
        self.ready.emit()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Tell a click from a turn: press and release on one spot name what lies there."""
        if isinstance(event, QMouseEvent) and event.button() == Qt.MouseButton.LeftButton:
            if event.type() == QEvent.Type.MouseButtonPress:
                self._pressed = event.position().toPoint()
            elif event.type() == QEvent.Type.MouseButtonRelease:
                at = event.position().toPoint()
                if (at - self._pressed).manhattanLength() <= CLICK_REACH_PX:
                    name = self._name_at(at)
                    if name:
                        later(self, 0, lambda: self.clicked.emit(name))
        return super().eventFilter(watched, event)

    def _name_at(self, at: QPoint) -> str:
        from vtkmodules.vtkRenderingCore import vtkCellPicker

        scale = self.plotter.devicePixelRatioF()
        picker = vtkCellPicker()
        picker.SetTolerance(0.0)
        picker.Pick(at.x() * scale, (self.plotter.height() - at.y() - 1) * scale, 0.0, self.plotter.renderer)
        actor = picker.GetActor()
        return next((name for name, a in self.plotter.actors.items() if a is actor), "")

    def invalidate(self) -> None:
        """Say that the picture is out of date; it is redrawn after the figures."""
        self._dirty = True
        self._turns.stop()
        self._asked_for += 1  # what is being made for the picture before is not wanted any more
        if self.plotter is not None and self.isVisible():
            self._later.start()

    def refit(self) -> None:
        """Frame the whole picture at the next draw."""
        self._fitted = False
        self.invalidate()

    def prepare_by(self, aside: Aside, needs: Callable[[], Callable[[], object] | None]) -> None:
        """Before each picture ``needs`` is asked for work to be done beside the window, such as the mesh that the picture shows.

        What it gives is then in ``prepared``.
        """
        self._aside, self._needs = aside, needs

    def _refresh(self) -> None:
        if self.plotter is None or not self._dirty or self._loading.busy:
            return
        work = self._needs() if self._needs is not None else None
        if work is None or self._aside is None:
            self._put_in()
            return
        self._asked_for += 1
        mine = self._asked_for

        def done(answer: Future[object]) -> None:
            if mine == self._asked_for:
                self.prepared = answer.result()
                self._put_in()

        self._aside.ask(work, done)

    def _put_in(self) -> None:
        if self.plotter is not None:
            self._turns.begin(self._drawing(), now=True)

    def _drawing(self) -> Iterator[None]:
        yield from self._draw(self.plotter) or ()
        self._dirty = False
        if not self._fitted or self._outgrown():
            self._fitted = True
            self.home()
        QTimer.singleShot(1, self.redraw)  # in a turn of its own

    @property
    def stands(self) -> bool:
        """Whether the picture shows what there is to show."""
        return self.plotter is not None and not self._dirty and not self._turns.busy

    def redraw(self) -> None:
        """Have the picture drawn at the window's next paint. (The library's own ``render`` draws it at once, and the paint once more.)"""
        if self.plotter is not None:
            self._asked = time.perf_counter()
            self.plotter.ask()

    def _drawn(self) -> None:
        if self._asked:
            self.frame_s, self._asked = time.perf_counter() - self._asked, 0.0

    def home(self) -> None:
        """The standard three-quarter view of everything."""
        if self.plotter is None:
            return
        box = self._box()
        if box is None:
            return
        centre, toward = box.mean(axis=1), np.array(self.view_from) / np.linalg.norm(self.view_from)
        right = np.cross((0.0, 0.0, 1.0), toward)
        right /= np.linalg.norm(right)
        corners = np.array([[x, y, z] for x in box[0] for y in box[1] for z in box[2]]) - centre
        half_wide = np.abs(corners @ right).max()
        half_tall = np.abs(corners @ np.cross(toward, right)).max()
        reach = float(np.linalg.norm(box[:, 1] - box[:, 0]))
        self.plotter.camera_position = [centre + toward * 3 * reach, centre, (0, 0, 1)]
        self.plotter.camera.parallel_scale = max(half_tall, half_wide * self.height() / max(self.width(), 1)) * self.room
        self.plotter.reset_camera_clipping_range()
        self._framed = box, self._camera()
        self.redraw()

    def _box(self) -> Floats | None:
        """Lowest and highest corner of what is shown, (3, 2); None of nothing."""
        box = np.array(self.plotter.bounds).reshape(3, 2)
        return box if np.isfinite(box).all() and (box[:, 1] >= box[:, 0]).all() else None

    def _camera(self) -> list[float]:
        at, to, up = self.plotter.camera_position
        return [*at, *to, *up, self.plotter.camera.parallel_scale]

    def _outgrown(self) -> bool:
        """Whether what is shown is not of the size any more that was framed, and still looked at as it was framed then."""
        if self._framed is None:
            return False
        (framed, camera), box = self._framed, self._box()
        if box is None:
            return False
        reach = float(np.linalg.norm(framed[:, 1] - framed[:, 0]))
        return bool(np.allclose(self._camera(), camera) and np.abs(box - framed).max() > OUTGROWN * reach)

    def _restyle(self) -> None:
        if self.plotter is not None:
            self.plotter.set_ground(theme.current().card)
            self.invalidate()

    def picture(self) -> Any:
        """The 3D picture as an image array, or None before it has loaded."""
        return None if self.plotter is None else self.plotter.screenshot(return_img=True)

    def shut(self) -> None:
        """Free the 3D view."""
        self._turns.stop()
        self._loading.stop()
        if self.plotter is not None:
            self.plotter.close()
            self.plotter = None
