"""A part as it lies on the bed, drawn for paper in light ink: pale faces, inked edges, its layers as fine lines."""

from __future__ import annotations

import base64
import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from fravik.shape.build import Floats, Mesh

Pixels = NDArray[np.uint8]
ROWS_AT_ONCE = 20_000  # of faces, filled together
FINER = 2  # drawn so many times finer, then averaged: smooth edges
LEAST_APART_PX = 5.0  # between two layer lines; fewer layers are drawn where they would lie closer
PALE, PAPER, LINE, INK = 222.0, 255.0, 168.0, 40.0
CREASE_COS = float(np.cos(np.radians(46.0)))
MARGIN = 0.04
# the eye above the front left corner of the bed; rows are the picture's right, its up, and the way to the eye
_BACK = np.array([-0.46, -0.72, 0.52]) / np.linalg.norm([-0.46, -0.72, 0.52])
_RIGHT = np.array([-_BACK[1], _BACK[0], 0.0]) * -1.0 / np.hypot(_BACK[0], _BACK[1])
EYE = np.stack([-_RIGHT, np.cross(_BACK, -_RIGHT), _BACK])
LIGHT = np.array([-0.35, -0.45, 0.82])


def _fill(corners: Floats, near: Floats, face: NDArray[np.int32]) -> None:
    """The nearest face at every pixel: ``corners`` (n, 3, 3) in px with the way to the eye last; fills ``near`` and ``face`` (h, w)."""
    tall, wide = near.shape
    (ax, ay), (bx, by) = (corners[:, 1, :2] - corners[:, 0, :2]).T, (corners[:, 2, :2] - corners[:, 0, :2]).T
    to_the_eye = ay * bx - ax * by  # twice its area as it is seen, below nothing from behind; rows run downwards
    low = np.clip(np.ceil(corners[:, :, 1].min(axis=1) - 0.5), 0, tall).astype(np.int64)
    high = np.clip(np.floor(corners[:, :, 1].max(axis=1) - 0.5), -1, tall - 1).astype(np.int64)
    seen = np.flatnonzero((to_the_eye > 1e-9) & (high >= low))
    rows = high[seen] - low[seen] + 1
    begin = 0
    while begin < len(seen):
        some = begin + max(1, int(np.searchsorted(np.cumsum(rows[begin:]), ROWS_AT_ONCE, side="right")))
        which = seen[begin:some]
        tri = np.repeat(which, rows[begin:some])
        row = np.arange(len(tri)) - np.repeat(np.cumsum(rows[begin:some]) - rows[begin:some], rows[begin:some]) + low[tri]
        _scan(corners, tri, row, near, face, wide)
        begin = some


def _scan(corners: Floats, tri: NDArray[np.int64], row: NDArray[np.int64], near: Floats, face: NDArray[np.int32], wide: int) -> None:
    """Rows of pixels, one of one face each: from where to where the face lies on it, and how near it is there."""
    y = row + 0.5
    left, right = np.full(len(tri), np.inf), np.full(len(tri), -np.inf)
    for k in range(3):
        (x0, y0), (x1, y1) = corners[tri, k, :2].T, corners[tri, (k + 1) % 3, :2].T
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (y - y0) / (y1 - y0)
        x = np.where((t >= 0) & (t <= 1), x0 + t * (x1 - x0), np.nan)
        left, right = np.fmin(left, x), np.fmax(right, x)
    first, last = np.maximum(np.ceil(left - 0.5), 0), np.minimum(np.floor(right - 0.5), wide - 1)
    kept = np.flatnonzero(last >= first)
    count = (last[kept] - first[kept] + 1).astype(np.int64)
    at = np.repeat(kept, count)
    column = np.arange(len(at)) - np.repeat(np.cumsum(count) - count, count) + first[at].astype(np.int64)
    a, b, c = (corners[tri[at], k] for k in range(3))
    n = np.cross(b - a, c - a)
    depth = a[:, 2] - (n[:, 0] * (column + 0.5 - a[:, 0]) + n[:, 1] * (y[at] - a[:, 1])) / n[:, 2]
    pixel = row[at] * wide + column
    nearer = np.flatnonzero(depth > near.ravel()[pixel])
    nearer = nearer[np.argsort(depth[nearer], kind="stable")]  # of several on one pixel the last one written stays
    near.ravel()[pixel[nearer]] = depth[nearer]
    face.ravel()[pixel[nearer]] = tri[at[nearer]]


def draw(mesh: Mesh, width_px: int, height_px: int, layer_mm: float = 0.0) -> Pixels:
    """(height, width) grey tones, paper white where nothing is. ``layer_mm`` draws the layers, or every so many of them."""
    wide, tall = width_px * FINER, height_px * FINER
    v = mesh.vertices_mm @ EYE.T
    low, high = v.min(axis=0), v.max(axis=0)
    scale = (1 - 2 * MARGIN) * min(wide / max(high[0] - low[0], 1e-6), tall / max(high[1] - low[1], 1e-6))
    middle = (low + high) / 2
    px = np.stack([(v[:, 0] - middle[0]) * scale + wide / 2, tall / 2 - (v[:, 1] - middle[1]) * scale, v[:, 2] * scale], axis=1)
    near, face = np.full((tall, wide), -np.inf), np.full((tall, wide), -1, dtype=np.int32)
    _fill(np.ascontiguousarray(px[mesh.faces]), near, face)
    there = face >= 0
    tri = mesh.vertices_mm[mesh.faces]
    normal = np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    facing = normal[face]
    shade = np.clip(0.35 + 0.65 * np.clip(facing @ (LIGHT / np.linalg.norm(LIGHT)), 0.0, 1.0), 0.0, 1.0)
    tone = np.where(there, PALE + (PAPER - 4 - PALE) * shade, PAPER)
    if layer_mm > 0:
        tone = np.where(there, tone + (LINE - tone) * _layer_lines(near, facing, scale, layer_mm, middle, tall), tone)
    tone = np.where(_edges(near, facing, there), INK, tone)
    small = tone.reshape(height_px, FINER, width_px, FINER).mean(axis=(1, 3))
    return np.clip(np.round(small), 0, 255).astype(np.uint8)


def _layer_lines(near: Floats, facing: Floats, scale: float, layer_mm: float, middle: Floats, tall: int) -> Floats:
    """(h, w) how much of a layer line covers each pixel: where the height above the bed passes a whole number of layers."""
    row = np.arange(tall)[:, None] + 0.5
    up = (tall / 2 - row) / scale + middle[1]
    with np.errstate(invalid="ignore"):
        z_mm = up * EYE[1, 2] + np.where(np.isfinite(near), near, 0.0) / scale * EYE[2, 2]
    steep = np.sqrt(np.clip(1.0 - facing[..., 2] ** 2, 0.0, 1.0))
    step = layer_mm * max(1, int(np.ceil(LEAST_APART_PX * FINER / (scale * EYE[1, 2] * layer_mm))))
    to_line = np.abs(z_mm / step - np.round(z_mm / step)) * step * scale * EYE[1, 2]
    return np.where(steep > 0.25, np.clip(1.6 - to_line, 0.0, 1.0), 0.0)


def _edges(near: Floats, facing: Floats, there: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Where the outline, a step in depth or a crease runs."""
    out = np.zeros_like(there)
    depth = np.where(there, near, -1e9)
    for axis in (0, 1):
        a, b = (slice(None, -1), slice(None)) if axis == 0 else (slice(None), slice(None, -1)), None
        b = (slice(1, None), slice(None)) if axis == 0 else (slice(None), slice(1, None))
        one = there[a] != there[b]
        both = there[a] & there[b]
        crease = both & (np.einsum("ijk,ijk->ij", facing[a], facing[b]) < CREASE_COS)
        step = both & (np.abs(depth[a] - depth[b]) > 8.0 * FINER)
        mark = one | crease | step
        out[a] |= mark
        out[b] |= mark
    return out


def png(pixels: Pixels) -> bytes:
    """As a picture file."""
    whole = io.BytesIO()
    Image.fromarray(pixels).save(whole, format="PNG", optimize=True)
    return whole.getvalue()


def data_uri(picture: bytes) -> str:
    """A picture file as an address that holds it whole."""
    return "data:image/png;base64," + base64.b64encode(picture).decode("ascii")
