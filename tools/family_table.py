"""Work out the coefficients of bought propellers by family, for ``fravik/library/data/families.npz``.

Run with ``.venv/bin/python -m tools.family_table`` after a change of the families' laws or of the blade model: some minutes.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np

from fravik.power.blades import ADVANCES, CHORD_SHARE, FEWEST, MOST, worked_out

DIAMETER_MM = np.geomspace(25.0, 760.0, 11)
PITCH_SHARE = np.concatenate([np.linspace(0.2, 1.2, 26), np.linspace(1.25, 1.6, 8)])
DATA = Path(__file__).parents[1] / "fravik" / "library" / "data" / "families.npz"


def main() -> None:
    """Write the table."""
    size = (len(CHORD_SHARE), MOST - FEWEST + 1, len(DIAMETER_MM), len(PITCH_SHARE))
    thrust, power, moving = (np.zeros(shape, dtype=np.float32) for shape in (size, size, (*size, len(ADVANCES))))
    for at in np.ndindex(*size):
        family, blades, diameter, share = list(CHORD_SHARE)[at[0]], FEWEST + at[1], float(DIAMETER_MM[at[2]]), float(PITCH_SHARE[at[3]])
        found = worked_out(diameter, share * diameter, blades, family)
        thrust[at], power[at], moving[at] = found.thrust, found.power, found.moving
    np.savez_compressed(DATA, diameter_mm=DIAMETER_MM, pitch_share=PITCH_SHARE, thrust=thrust, power=power, moving=moving)


if __name__ == "__main__":
    main()
