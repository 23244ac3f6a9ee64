"""Make the table of section polars that ships as data: four-digit aerofoils over thickness, camber, Reynolds number and angle of attack.

Needs a general aerofoil library, which the product itself does not: ``pip install neuralfoil`` in an environment of its own, then
``python tools/make_polars.py``. Its network is fitted to a panel method with boundary layers.
"""

from __future__ import annotations

from pathlib import Path

import neuralfoil
import numpy as np
from aerosandbox.geometry.airfoil.airfoil_families import get_NACA_coordinates

OUT = Path(__file__).parent.parent / "fravik" / "library" / "data" / "polars.npz"
THICKNESS = (0.03, 0.05, 0.07, 0.09, 0.12, 0.16)
CAMBER = (0.0, 0.02, 0.04, 0.06, 0.08)
AT = 0.4  # where along the chord the camber is most
REYNOLDS = (5e3, 1e4, 2e4, 4e4, 8e4, 1.6e5, 3.2e5, 6.4e5)
ALPHA_DEG = np.arange(-20.0, 24.1, 1.0)
# amplification at which the layer turns turbulent: noisy air, as behind other blades; so chosen, thrust over speed falls towards low
# Reynolds numbers about as published measurements of small propellers do
NOISY_AIR = 2.0


def main() -> None:
    """Write the table."""
    shape = (len(THICKNESS), len(CAMBER), len(REYNOLDS), len(ALPHA_DEG))
    lift, drag, moment, sure = (np.zeros(shape, dtype=np.float32) for _ in range(4))
    for i, t in enumerate(THICKNESS):
        for j, m in enumerate(CAMBER):
            line = get_NACA_coordinates(n_points_per_side=120, max_camber=m, camber_loc=AT, thickness=t)
            for k, re in enumerate(REYNOLDS):
                got = neuralfoil.get_aero_from_coordinates(line, alpha=ALPHA_DEG, Re=re, n_crit=NOISY_AIR, model_size="xxlarge")
                lift[i, j, k], drag[i, j, k], moment[i, j, k] = got["CL"], got["CD"], got["CM"]
                sure[i, j, k] = got["analysis_confidence"]
    np.savez_compressed(OUT, thickness=THICKNESS, camber=CAMBER, camber_at=AT, reynolds=REYNOLDS, alpha_deg=ALPHA_DEG, lift=lift, drag=drag,
                        moment=moment, confidence=sure)  # fmt: skip


if __name__ == "__main__":
    main()
