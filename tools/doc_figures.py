"""Remake the figures of docs/: ``python -m tools.doc_figures``. Everything is drawn from the core's own answers."""

from __future__ import annotations

from pathlib import Path

import matplotlib

matplotlib.use("agg")
import matplotlib.pyplot as plt
import numpy as np

from fravik.demo import tern
from fravik.engine.evaluate import Engine
from fravik.library import filament_of, filaments
from fravik.model.joint import JOINT_LABELS, Joint
from fravik.model.paths import set_at, set_many
from fravik.model.project import Project
from fravik.model.recipe import Carbon
from fravik.printing.layerroads import ROAD_NAMES
from fravik.printing.layroads import print_job
from fravik.structure.cells import PATTERNS
from fravik.structure.joints import joint_springs
from fravik.structure.printed import core_ratios, hashin_shtrikman_upper
from fravik.structure.sectionfe import edge_strains

FOLDER = Path(__file__).parents[1] / "docs" / "figures"
INK, MUTED, BLUE, PALE, OCHRE, RED = "#1f2b30", "#7a7468", "#24507f", "#7fa6cf", "#b8860b", "#c2442e"
SHADES = ("#24507f", "#7fa6cf", "#b8860b", "#d9b44a", "#2d8a7b", "#c2442e", "#7a7468")
plt.rcParams.update({
    "savefig.dpi": 130, "font.size": 8, "axes.edgecolor": "#cfc7b8", "axes.labelcolor": INK, "text.color": INK,
    "xtick.color": MUTED, "ytick.color": MUTED, "axes.spines.top": False, "axes.spines.right": False, "legend.frameon": False,
    "figure.facecolor": "#fffdf8", "axes.facecolor": "#fffdf8",
})  # fmt: skip


def save(figure: plt.Figure, name: str) -> None:
    """Write one figure without its maker's name, so that the same answers give the same file."""
    figure.savefig(FOLDER / f"{name}.png", metadata={"Software": None})
    plt.close(figure)
    print(f"{name}.png")


def material() -> None:
    """Strength of every filament along the road, across it and across the layers, low to high."""
    table = filaments()
    figure, axes = plt.subplots(figsize=(7, 4), layout="constrained")
    for k, (name, colour, shift) in enumerate((("s_road_mpa", BLUE, 0.24), ("s_cross_mpa", PALE, 0.0), ("s_layer_mpa", OCHRE, -0.24))):
        label = ("along the road", "across roads in the layer", "across the layers")[k]
        for i, f in enumerate(table.values()):
            s = getattr(f, name)
            axes.plot([s.low, s.high], [i + shift] * 2, color=colour, lw=3, solid_capstyle="butt", label=label if i == 0 else None)
            axes.plot([s.typical], [i + shift], "|", color=INK, ms=7)
    axes.set_yticks(range(len(table)), [f.name for f in table.values()])
    axes.set_xlabel("tensile strength as printed, dry, 23 °C, MPa (bar: low to high, mark: typical)")
    axes.legend(loc="lower right")
    save(figure, "material")


def core_density() -> None:
    """Homogenised stiffness of every pattern against density, along the pattern and upright."""
    p = np.linspace(0, 1, 101)
    figure, both = plt.subplots(1, 2, figsize=(7, 3.2), layout="constrained", sharey=True)
    for axes, row, title in ((both[0], 0, "along the pattern, in the layer"), (both[1], 2, "upright, across the layers")):
        for name, colour in zip(PATTERNS, SHADES, strict=True):
            axes.plot(p * 100, [core_ratios(name, d)[0][row] for d in p], color=colour, label=name)
        axes.plot(p * 100, p, ":", color=INK, lw=1, label="share of solid")
        axes.plot(p * 100, [hashin_shtrikman_upper(d, 0.36) for d in p], "--", color=INK, lw=1, label="isotropic bound")
        axes.set_title(title, fontsize=8)
        axes.set_xlabel("core, %")
    both[0].set_ylabel("E / E of the solid")
    both[0].legend(fontsize=7)
    save(figure, "core")


def section(project: Project, engine: Engine) -> None:
    """Shear strain that a unit torque puts into the cells of the arm's section, with its middle and shear centre."""
    arm = engine.evaluate(set_at(project, "parts.arm.shape.bar_height_mm", 4.0)).members["arm"]
    basis = arm.bases["typical"].basis.section
    s = int(len(basis.grids.v_mm) * 0.3)
    strain_v, strain_r, _, _ = edge_strains(basis.fe, basis.grids.v_mm, basis.grids.r_mm)
    size = np.hypot(strain_v[0, s], strain_r[0, s]).mean(axis=-1) * 1e6
    size = np.where(basis.grids.gv_mpa[s] > 0, size, np.nan)
    figure, axes = plt.subplots(figsize=(6, 3.4), layout="constrained")
    picture = axes.pcolormesh(basis.grids.v_mm[s], basis.grids.r_mm[s], size * 1e3, cmap="YlGnBu", edgecolors="#fffdf8", linewidth=0.4)
    figure.colorbar(picture, ax=axes, label="shear strain, millionths per N·m")
    axes.plot(basis.fe.middle_v_mm[s], basis.fe.middle_r_mm[s], "+", color=RED, ms=11, label="stiffness-weighted middle")
    axes.plot(basis.fe.centre_v_mm[s], basis.fe.centre_r_mm[s], "x", color=INK, ms=9, label="shear centre")
    axes.set_aspect("equal")
    axes.set_xlabel("across the arm, mm")
    axes.set_ylabel("up, mm")
    axes.legend(loc="upper right", fontsize=7)
    save(figure, "section")


def joints(project: Project, engine: Engine) -> None:
    """Stiffness of each root joint of the arm against turning, and its free play at the motor."""
    arm = engine.evaluate(project).members["arm"]
    part, f = project.part("arm"), filament_of(project, project.part("arm").recipe.filament)
    kinds = {k: Joint(kind=k, tube_mm=9.0) for k in JOINT_LABELS}
    springs = {k: joint_springs(j, arm.member.root, f, "typical", part.recipe) for k, j in kinds.items()}
    figure, axes = plt.subplots(figsize=(7, 3), layout="constrained")
    for row, (name, colour) in enumerate((("up and down", BLUE), ("sideways", PALE), ("twist", OCHRE))):
        values = [float(s.stiffness[(4, 5, 3)[row]]) * 1e-3 for s in springs.values()]
        axes.barh(np.arange(len(values)) + 0.27 * (row - 1), values, 0.25, color=colour, label=name)
    axes.set_yticks(range(len(kinds)), [JOINT_LABELS[k] for k in kinds])
    for i, s in enumerate(springs.values()):
        play = max(s.play_y_rad, s.play_z_rad) * arm.member.length_mm
        if play > 0:
            axes.text(1.15e2, i, f"free play {play:.1f} mm at the motor", va="center", fontsize=7, color="#fffdf8")
    axes.set_xscale("log")
    axes.set_xlim(1e2, 4e5)
    axes.invert_yaxis()
    axes.set_xlabel("stiffness against turning at the root, N·m/rad")
    axes.legend(loc="lower right", fontsize=7)
    save(figure, "joints")


def carbon(project: Project, engine: Engine) -> None:
    """Stiffness along the arm: bare, with a strip inside, and with the same strip on both faces."""
    even = (("parts.arm.shape.tip_height_mm", project.part("arm").shape.root_height_mm),)  # type: ignore[union-attr]
    base = Carbon(stock="strip_6x1", count=1, start_mm=5.0, end_mm=85.0)
    made = {
        "bare": None,
        "one strip inside, at mid-height": base,
        "a strip on each face": base.model_copy(update={"place": "face", "count": 2}),
    }
    figure, axes = plt.subplots(figsize=(7, 3), layout="constrained")
    for (label, c), colour in zip(made.items(), (MUTED, BLUE, OCHRE), strict=True):
        result = engine.evaluate(set_many(project, (*even, ("parts.arm.carbon", c))))
        arm = result.members["arm"]
        axes.plot(
            arm.member.positions_mm,
            arm.answers["typical"].section.ei_up_nmm2 * 1e-6,
            color=colour,
            ls="--" if c is base else "-",
            label=label,
        )
    axes.set_ylim(0, None)
    axes.set_xlabel("from the plate edge, mm")
    axes.set_ylabel("EI up and down, N·m²")
    axes.legend()
    save(figure, "carbon")


def printing(project: Project, engine: Engine) -> None:
    """One layer of the arm's tongue as roads, and where a whole arm's minutes go."""
    part, row = project.part("arm"), engine.evaluate(project).parts["arm"]
    job = print_job(engine.solid(row.given), part.recipe, part.laying, row.filament, project.printer)
    figure, (left, right) = plt.subplots(1, 2, figsize=(7, 2.8), width_ratios=(3, 2), layout="constrained")
    layer, reach = 30, 34.0
    shades = dict(zip(range(6), (BLUE, "#5b86ad", "#d99a2b", PALE, RED, OCHRE), strict=True))
    u0 = float(job.layers.low_mm[0])
    for points, kind, width in job.roads_of(layer).roads():
        near = points[:, 0] < u0 + reach
        if near.any():
            left.plot(points[:, 0] - u0, points[:, 1], color=shades.get(kind, MUTED), lw=width * 5.4, solid_capstyle="round")
    left.set_xlim(-1, reach - 4)
    left.set_aspect("equal")
    left.set_xlabel(f"layer {layer + 1} of {job.layers.count}, mm from the root")
    named = sorted(job.minutes_by_feature().items(), key=lambda item: item[1])
    right.barh([n for n, _ in named], [t for _, t in named], color=[shades.get(ROAD_NAMES.index(n), MUTED) if n in ROAD_NAMES else MUTED
                                                                   for n, _ in named])  # fmt: skip
    right.set_xlabel("minutes of one arm")
    save(figure, "printing")


def main() -> None:
    """Draw them all."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    project, engine = tern(), Engine()
    material()
    core_density()
    section(project, engine)
    joints(project, engine)
    carbon(project, engine)
    printing(project, engine)


if __name__ == "__main__":
    main()
