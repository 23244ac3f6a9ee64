"""Remake the shipped table of shoulder-fillet factors from fine models: ``python tools/notch_table.py``."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from fravik.structure.planestress import shoulder_model

RADIUS_OVER_NARROW = np.array([0.01, 0.02, 0.03, 0.05, 0.08, 0.12, 0.2, 0.35, 0.6, 1.0, 2.0])
WIDE_OVER_NARROW = np.array([1.02, 1.05, 1.1, 1.2, 1.35, 1.5, 2.0, 3.0, 5.0])


def main() -> None:
    """Model every pair in bending and in tension and write the table beside the other shipped data."""
    target = Path(__file__).parents[1] / "fravik" / "library" / "data" / "notches.npz"
    found = {}
    for name, bending in (("bending", True), ("tension", False)):
        found[name] = np.array([[shoulder_model(10 * r, 10.0, 10 * w, bending) for w in WIDE_OVER_NARROW] for r in RADIUS_OVER_NARROW])
        print(name, found[name].round(3), sep="\n", flush=True)
    np.savez_compressed(target, radius=RADIUS_OVER_NARROW, wide=WIDE_OVER_NARROW, **found)
    print(f"wrote {target.name}, {target.stat().st_size} bytes")


if __name__ == "__main__":
    main()
