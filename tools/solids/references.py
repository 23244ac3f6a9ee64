"""Make the solid models that ``fravik validate`` compares the product with: ``python -m tools.solids.references``.

Needs ``tools/solids/requirements.txt`` beside the product's own packages. Some ten minutes. The answers ship as data with what was
modelled, the number of nodes and the date, so that the checks themselves need no mesher.
"""

from __future__ import annotations

import datetime
from pathlib import Path
from typing import Any

import numpy as np

from fravik.structure.cells import _bands, _in_band
from fravik.structure.homogenise import Cell, homogenise
from fravik.structure.orthotropy import turned_stiffness

from ..flatwise_table import flatwise_model
from .parts import E_MPA, POISSON, body_root, flanged_leg, pocketed_bar
from .sheets import guard_pressed

BARS = (
    (100, 20, 8, ()), (100, 20, 8, ((20, 18, 7, 2), (60, 18, 7, 2))), (100, 20, 12, ((20, 18, 7, 2), (60, 18, 7, 2))),
    (100, 20, 8, ((20, 30, 10, 2), (60, 30, 10, 2))), (100, 20, 8, ((20, 10, 10, 3), (60, 10, 10, 3))),
    (100, 24, 6, ((20, 24, 14, 2), (60, 24, 14, 2))), (90, 18, 9, ((25, 22, 8, 2),)),
    (90, 18, 9, ((15, 14, 6, 2), (35, 14, 6, 2), (55, 14, 6, 2))),
    (110, 14, 5, ((20, 20, 6, 2), (60, 20, 6, 2))), (100, 22, 14, ((20, 12, 8, 2), (60, 12, 8, 2))),
)  # fmt: skip
FILLETS = ((1.0, 20.0, 30.0, 12.0), (2.0, 20.0, 30.0, 12.0), (4.0, 20.0, 30.0, 12.0), (12.0, 20.0, 46.0, 12.0), (1.5, 16.0, 30.0, 7.0))
LEGS = ((52, 16, 10, 7, 12, 32, 3), (40, 12, 8, 5, 12, 26, 3), (52, 16, 10, 7, 20, 40, 3))
GUARDS = ((110.0, 4.5, 8.0, 6.0, 97.15), (110.0, 4.5, 8.0, 2.0, 97.15), (150.0, 6.0, 8.0, 6.0, 97.9))
BODIES = (("washers", True, 50.0), ("bonded", True, 50.0), ("washers", False, 50.0), ("bonded", False, 50.0), ("washers", True, 58.0),
          ("bonded", True, 58.0))  # fmt: skip
CORES = (
    (0.4, 10.4, 0.8, 45.0),
    (0.2, 10.4, 0.8, 45.0),
    (0.4, 10.4, 0.4, 45.0),
    (0.4, 5.0, 0.8, 45.0),
    (0.6, 8.0, 0.6, 45.0),
    (0.4, 10.4, 0.8, 0.0),
)


def explicit_core(core_density: float, height: float, cover: float, angle_deg: float, line: float = 0.45) -> dict[str, Any]:
    """Pull and shear stiffness in N per mm of width of a grid core between covers, every wall drawn in bricks, as a periodic cell."""
    spacing = 2 * line / core_density
    x = _bands(line, spacing, 2, 3)
    wall = _in_band(x, line)
    z = np.concatenate([np.linspace(0, cover, 3), cover + np.linspace(0, height, 13)[1:], cover + height + np.linspace(0, cover, 3)[1:],
                        [2 * cover + height + 1]])  # fmt: skip
    middle = (z[1:] + z[:-1]) / 2
    in_cover = (middle < cover) | ((middle > cover + height) & (middle < 2 * cover + height))
    in_core = (middle > cover) & (middle < cover + height)
    solid = (wall[:, None] | wall[None, :])[:, :, None] * in_core + np.ones((len(wall), len(wall), 1)) * in_cover
    a = np.radians(angle_deg)
    turn = np.array([[np.cos(a), -np.sin(a), 0], [np.sin(a), np.cos(a), 0], [0, 0, 1.0]])
    plane = turned_stiffness(homogenise(Cell(x, x, z, solid.astype(float))).stiffness, turn)[np.ix_([0, 1, 5], [0, 1, 5])]
    flex = np.linalg.inv(plane * z[-1] * E_MPA)
    return {"pull": 1 / flex[0, 0], "shear": 1 / flex[2, 2], "nodes": int(solid.sum())}


def _line(value: Any) -> str:
    if isinstance(value, (list, tuple)):
        return "[" + ", ".join(_line(v) for v in value) + "]"
    if isinstance(value, str):
        return f'"{value}"'
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"{int(value)}" if isinstance(value, (int, np.integer)) else f"{float(value):.6g}"


def main() -> None:
    """Solve every model and write the table."""
    rows: list[tuple[str, dict[str, Any]]] = []

    def add(kind: str, given: dict[str, Any], found: dict[str, Any]) -> None:
        rows.append((kind, {**given, **found}))
        print(kind, given, found, flush=True)

    for long, wide, high, pockets in BARS:
        given = {
            "length_mm": float(long),
            "width_mm": float(wide),
            "height_mm": float(high),
            "pockets": [list(map(float, p)) for p in pockets],
        }
        add("bar", given, pocketed_bar(long, wide, high, [list(map(float, p)) for p in pockets]))
    for leg in LEGS:
        names = ("length_mm", "root_mm", "tip_mm", "thick_mm", "flange_length_mm", "flange_width_mm", "fillet_mm")
        add("leg", dict(zip(names, map(float, leg), strict=True)), flanged_leg(*map(float, leg)))
    for guard in GUARDS:
        names = ("span_deg", "width_mm", "height_mm", "corner_mm", "radius_mm")
        add("guard", dict(zip(names, guard, strict=True)), guard_pressed(*guard))
    for core in CORES:
        names = ("core_density", "height_mm", "cover_mm", "angle_deg")
        add("core", dict(zip(names, core, strict=True)), explicit_core(*core))
    for body in BODIES:
        add("body", dict(zip(("bearing", "two_plates", "clamp_radius_mm"), body, strict=True)), body_root(*body))
    for fillet in FILLETS:
        names = ("radius_mm", "narrow_mm", "wide_mm", "thick_mm")
        add("fillet", dict(zip(names, fillet, strict=True)), {"factor": flatwise_model(*fillet, fine=3.0, layers=8)})
    head = [
        f"# Solid models that the product is checked against, made by tools/solids/references.py on {datetime.date.today().isoformat()}.",
        f"# Even plastic, E {E_MPA:g} MPa, Poisson {POISSON:g}. Quadratic tetrahedra (bar, leg, body), six-node triangles (guard),",
        "# 24-node solids drawn out of eight-node ones (fillet), bricks of a periodic cell (core). Compliances in mm/N, rad/N, rad/(N mm).",
    ]
    out = "\n".join(head) + "\n"
    for kind, row in rows:
        out += f"\n[[{kind}]]\n" + "".join(f"{k} = {_line(v)}\n" for k, v in row.items())
    target = Path(__file__).parents[2] / "fravik" / "library" / "data" / "solids.toml"
    target.write_text(out)


if __name__ == "__main__":
    main()
