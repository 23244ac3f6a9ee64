"""The part in 3D, coloured by reserve, by zone or as a bending mode, with the weakest spot flagged."""

from __future__ import annotations

from typing import Any

import numpy as np

from fravik.app import theme
from fravik.app.widgets.scene import poly
from fravik.engine.results import MemberResult
from fravik.shape.build import Mesh
from fravik.structure.reserves import CaseReserves

RESERVE_BANDS = (1.0, 1.4, 2.0, 3.0)
BAND_NAMES = ("below 1", "1–1.4", "1.4–2", "2–3", "over 3")


def band_of(values: np.ndarray) -> np.ndarray:
    """Band index 0 (below 1) to 4 (over 3)."""
    return np.digitize(values, RESERVE_BANDS)


def draw_part(plotter: Any, mesh: Mesh, member: MemberResult | None, reserves: CaseReserves | None, scale: float) -> None:
    """Put the part into the scene. ``scale`` multiplies reserves (1 for static cases)."""
    c = theme.current()
    surface = poly(mesh.vertices_mm, mesh.faces)
    plotter.remove_actor("flag", render=False)
    plotter.remove_actor("spot", render=False)
    if member is not None and reserves is not None:
        x = mesh.vertices_mm[mesh.faces][:, :, 0].mean(axis=1)
        line = member.member.stations_mm
        envelope = reserves.envelope() * scale
        # bolts are judged at the root; the tongue itself is clamped and not coloured by bending
        values = np.interp(np.clip(x, line[0], line[-1]), line, envelope)
        band = band_of(values).astype(float)
        band[x < -0.5] = 5.0
        surface.cell_data["band"] = band
        plotter.add_mesh(
            surface, name="part", scalars="band", cmap=[*c.reserve, c.rule], clim=(-0.5, 5.5), n_colors=6, show_scalar_bar=False,
            smooth_shading=False, ambient=0.35, diffuse=0.7, specular=0.0, render=False, reset_camera=False,
        )  # fmt: skip
        at = reserves.station_mm
        near = mesh.vertices_mm[np.abs(mesh.vertices_mm[:, 0] - at) < max(6.0, 0.06 * member.member.length_mm)]
        spot = near[np.argmax(near[:, 2] - 0.2 * near[:, 1])] if len(near) else np.array([at, 0.0, 0.0])
        plotter.add_mesh(
            _sphere(spot, 0.012 * member.member.length_mm), name="spot", color=c.fails, ambient=0.8, render=False, reset_camera=False
        )
        text = f"{reserves.kind}\nreserve {reserves.reserve * scale:.2f}"
        plotter.add_point_labels(
            np.array([spot + np.array([0.0, 0.0, 0.14 * member.member.length_mm])]), [text], name="flag", font_size=11,
            font_file=theme.face_file(), text_color=c.ink,
            shape_color=c.card, shape="rect", shape_opacity=0.9, margin=4, show_points=False, always_visible=True, render=False,
            reset_camera=False,
        )  # fmt: skip
    else:
        plotter.add_mesh(
            surface, name="part", color=c.skin, smooth_shading=False, ambient=0.35, diffuse=0.7, specular=0.0, render=False,
            reset_camera=False, show_scalar_bar=False,
        )  # fmt: skip
    edges = surface.extract_feature_edges(35, boundary_edges=False, non_manifold_edges=False, manifold_edges=False)
    plotter.add_mesh(edges, name="edges", color=c.ink, line_width=1.2, opacity=0.55, render=False, reset_camera=False)


def _sphere(at: np.ndarray, radius: float) -> Any:
    import pyvista as pv

    return pv.Sphere(radius=max(radius, 0.8), center=at)
