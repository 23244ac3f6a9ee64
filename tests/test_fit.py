"""Clashes, gaps, stance and sight against other methods: sampling, brute force, statics by forces, a pendulum in time, rays one by one."""

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold
from scipy.integrate import solve_ivp
from scipy.optimize import linprog

from fravik.flight.lens import COLUMNS, ROWS, axes, covered
from fravik.flight.stance import GRAVITY_M_S2, Stance, stance
from fravik.shape.clash import box, clash, disk, gap_mm, lowest

INERTIA = np.diag([2.0e6, 3.0e6, 4.0e6])


def test_what_two_bodies_share_by_sampling() -> None:
    a, b = box(np.zeros(3), np.array([40.0, 30.0, 20.0])), disk(np.array([15.0, 5.0, 8.0]), 30.0, 10.0, 256)
    shared = clash(a, b)
    assert shared is not None
    points = np.random.default_rng(1).uniform([-20, -15, -10], [20, 15, 10], (400_000, 3))
    inside = (np.hypot(points[:, 0] - 15, points[:, 1] - 5) <= 15) & (np.abs(points[:, 2] - 8) <= 5)
    assert shared.volume_mm3 == pytest.approx(inside.mean() * 40 * 30 * 20, rel=0.01)
    assert shared.depth_mm == pytest.approx(7.0, abs=1e-6)


def test_bodies_apart_share_nothing_and_touching_is_no_clash() -> None:
    a = box(np.zeros(3), np.full(3, 10.0))
    assert clash(a, box(np.array([12.0, 0, 0]), np.full(3, 2.0))) is None
    assert gap_mm(a, box(np.array([12.0, 0, 0]), np.full(3, 2.0)), 50.0) == pytest.approx(6.0)
    assert gap_mm(a, box(np.array([120.0, 0, 0]), np.full(3, 2.0)), 50.0) == 50.0


@given(at=st.tuples(*[st.floats(12, 30)] * 3), turn=st.floats(0, 90))
def test_the_gap_is_that_of_the_nearest_two_points(at: tuple[float, float, float], turn: float) -> None:
    a = box(np.zeros(3), np.array([20.0, 16.0, 12.0]))
    b = Manifold.cube((8.0, 6.0, 10.0), center=True).rotate((turn, turn / 2, 0.0)).translate(at)
    m = b.to_mesh()
    other = trimesh.Trimesh(m.vert_properties[:, :3], m.tri_verts)
    # by points spread over one, each with the exact distance to the other, an upright box
    spread = np.concatenate([trimesh.sample.sample_surface(other, 6000, seed=0)[0], other.vertices])
    brute = float(np.linalg.norm(np.maximum(np.abs(spread) - [10.0, 8.0, 6.0], 0.0), axis=1).min())
    gap = gap_mm(a, b, 60.0)
    assert gap <= brute * (1 + 1e-6) + 1e-6  # a mesh's corners are of single precision
    assert gap == pytest.approx(brute, abs=0.4)


def stands_by_forces(feet: np.ndarray, com: np.ndarray, height: float, slope_deg: float, toward_deg: float) -> bool:
    """Whether upward forces on the feet can hold a craft on a slope: a linear programme in the plane of the ground."""
    a, t = math.radians(slope_deg), math.radians(toward_deg)
    shift = height * math.tan(a) * np.array([math.cos(t), math.sin(t)])
    lhs = np.vstack([np.ones(len(feet)), feet[:, 0], feet[:, 1]])
    rhs = np.array([1.0, com[0] + shift[0], com[1] + shift[1]])
    return bool(linprog(np.zeros(len(feet)), A_eq=lhs, b_eq=rhs, bounds=[(0, None)] * len(feet)).status == 0)


@given(
    radius=st.floats(20, 120), height=st.floats(30, 200), count=st.integers(3, 6), off=st.floats(-8, 8), start=st.floats(0, 360),
)  # fmt: skip
def test_it_tips_where_no_forces_on_its_feet_hold_it(radius: float, height: float, count: int, off: float, start: float) -> None:
    turn = np.radians(start) + 2 * np.pi * np.arange(count) / count
    feet = radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    found = stance(feet, -height, 1000.0, np.array([off, off / 2, 0.0]), INERTIA)
    assert isinstance(found, Stance)
    com = np.array([off, off / 2])
    assert stands_by_forces(feet, com, height, found.tips_at_deg - 0.05, found.toward_deg)
    assert not stands_by_forces(feet, com, height, found.tips_at_deg + 0.05, found.toward_deg)
    for way in range(0, 360, 15):
        assert stands_by_forces(feet, com, height, found.tips_at_deg - 0.05, way)


def test_the_drift_that_tips_it_by_a_pendulum_in_time() -> None:
    feet = np.array([[60.0, 50.0], [60.0, -50.0], [-60.0, 50.0], [-60.0, -50.0]])
    mass, height = 900.0, 95.0
    found = stance(feet, -height, mass, np.array([0.0, 4.0, 0.0]), INERTIA)
    assert found is not None
    assert found.toward == "left"
    d, h = 46.0, 95.0
    inertia = 2.0e6 + mass * (d * d + h * h)

    def goes_over(v_m_s: float) -> bool:
        rate = mass * v_m_s * 1e3 * h / inertia
        angle0 = math.atan2(d, h)  # the way that it still has to turn
        length = math.hypot(d, h)

        def fall(_: float, s: list[float]) -> list[float]:
            return [s[1], -mass * GRAVITY_M_S2 * 1e3 * length * math.sin(angle0 - s[0]) / inertia]

        path = solve_ivp(fall, (0.0, 5.0), [0.0, rate], rtol=1e-9, atol=1e-9, max_step=0.01)
        return bool((path.y[0] > angle0).any())

    assert not goes_over(0.995 * found.drift_m_s)
    assert goes_over(1.005 * found.drift_m_s)


def test_feet_that_do_not_lie_around_the_middle_do_not_stand() -> None:
    assert stance(np.array([[10.0, 10.0], [40.0, 10.0], [40.0, -10.0]]), 0.0, 100.0, np.array([0.0, 0.0, 50.0]), INERTIA) is None
    assert stance(np.array([[10.0, 0.0], [-10.0, 0.0]]), 0.0, 100.0, np.array([0.0, 0.0, 50.0]), INERTIA) is None


def test_the_feet_are_what_is_lowest() -> None:
    ground, feet = lowest([np.array([[0.0, 0, -20], [5, 5, -19.5], [0, 0, 10]]), np.array([[9.0, 9, -19.2]])], 0.6)
    assert ground == -20
    assert feet.tolist() == [[0, 0], [5, 5]]


def crossed(triangles: np.ndarray, start: np.ndarray, rays: np.ndarray) -> np.ndarray:
    """Which rays cross any triangle ahead: by their volumes with the three corners, ray by ray."""
    a, b, c = (triangles[:, k] - start for k in range(3))
    out = np.zeros(len(rays), dtype=bool)
    for k, ray in enumerate(rays):
        s = [np.einsum("ij,ij->i", np.cross(p, q), np.broadcast_to(ray, p.shape)) for p, q in ((a, b), (b, c), (c, a))]
        same = ((s[0] >= 0) & (s[1] >= 0) & (s[2] >= 0)) | ((s[0] <= 0) & (s[1] <= 0) & (s[2] <= 0))
        normal = np.cross(b - a, c - a)
        along = normal @ ray
        ahead = np.divide(np.einsum("ij,ij->i", normal, a), along, out=np.zeros(len(a)), where=np.abs(along) > 1e-12) > 0
        out[k] = bool((same & ahead).any())
    return out


@pytest.mark.parametrize(("up", "view"), [(0.0, 90.0), (20.0, 120.0), (-35.0, 60.0)])
def test_what_a_lens_sees_by_rays(up: float, view: float) -> None:
    rng = np.random.default_rng(4)
    bodies = [trimesh.creation.icosphere(subdivisions=2, radius=r).apply_translation(c)
              for r, c in ((12.0, (60, 20, 8)), (18.0, (90, -45, -30)), (7.0, (25, 0, -14)), (9.0, (-30, 0, 0)))]  # fmt: skip
    mesh = trimesh.util.concatenate(bodies)
    lens = rng.normal(0, 1, 3)
    share, picture = covered([mesh.triangles], lens, up, view)
    half = math.tan(math.radians(view / 2))
    u = ((np.arange(COLUMNS) + 0.5) / COLUMNS * -2 + 1) * half
    v = ((np.arange(ROWS) + 0.5) / ROWS * -2 + 1) * half * ROWS / COLUMNS
    a = axes(up)
    rays = (a[0] + u[None, :, None] * a[1] + v[:, None, None] * a[2]).reshape(-1, 3)
    hit = crossed(mesh.triangles, lens, rays).reshape(ROWS, COLUMNS)
    assert 0.02 < hit.mean() < 0.7
    assert (picture != hit).mean() < 0.002
    assert share == pytest.approx(hit.mean(), rel=0.01)


def test_a_plate_before_the_lens_covers_its_share() -> None:
    square = np.array([[100.0, -30, -30], [100, 30, -30], [100, 30, 30], [100, -30, 30]])
    share, _ = covered([square[[[0, 1, 2], [0, 2, 3]]]], np.zeros(3), 0.0, 90.0)
    assert share == pytest.approx(60 * 60 / (200 * 150), rel=0.01)
    behind, _ = covered([-square[[[0, 1, 2], [0, 2, 3]]]], np.zeros(3), 0.0, 90.0)
    assert behind == 0.0
    around = np.array([[[-50.0, 0, -10], [300, 500, -10], [300, -500, -10]]])
    cut, _ = covered([around], np.zeros(3), 0.0, 90.0)
    # the near edge of a floor below the lens is past the picture's foot: it covers from the foot to the far edge, at a depth of 300
    assert cut == pytest.approx((0.75 - 10 / 300) / 1.5, abs=0.02)
