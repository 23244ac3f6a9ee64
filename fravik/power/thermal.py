"""Small thermal networks: lumps of heat joined to each other and to the air.

C T' = W + w (T - T_ref) - G_air (T - T_air) - L T, with the heat W made in each lump, what it grows by a degree w (copper: the winding's
resistance), and L the Laplacian of the paths between lumps. Linear, so steady states are one solve and any time is one exponential.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import expm

Floats = NDArray[np.float64]
HALVINGS = 40


@dataclass(frozen=True, eq=False)
class Network:
    """Lumps (n,): heat they take in J/K, watts made at ``at_c``, and more a degree above, and W/K to the air (n,) and between (n, n)."""

    heat_j_k: Floats
    watts: Floats
    grows_w_k: Floats
    at_c: float
    to_air_w_k: Floats
    between_w_k: Floats

    def matrix(self) -> Floats:
        """(n, n) W/K: what a lump loses a degree. Positive definite where heat made does not outgrow heat lost."""
        joined = self.between_w_k + self.between_w_k.T
        return np.asarray(np.diag(self.to_air_w_k - self.grows_w_k + joined.sum(axis=1)) - joined)

    def pushed(self, air_c: float) -> Floats:
        """(n,) W: what it makes and takes from the air at 0 degrees."""
        return self.watts - self.grows_w_k * self.at_c + self.to_air_w_k * air_c


def steady_c(net: Network, air_c: float) -> Floats:
    """Temperatures (n,) at which it settles; infinite where it never does: heat made outgrows heat lost."""
    m = net.matrix()
    if float(np.linalg.eigvalsh(m).min()) <= 0:
        return np.full(len(net.watts), math.inf)
    return np.asarray(np.linalg.solve(m, net.pushed(air_c)))


def after_c(net: Network, start_c: Floats, air_c: float, seconds: float) -> Floats:
    """Temperatures (n,) some seconds on."""
    n = len(net.watts)
    block = np.zeros((n + 1, n + 1))
    block[:n, :n], block[:n, n] = -net.matrix() / net.heat_j_k[:, None], net.pushed(air_c) / net.heat_j_k
    return np.asarray((expm(block * seconds) @ np.append(start_c, 1.0))[:n])


def seconds_to(net: Network, start_c: Floats, air_c: float, lump: int, limit_c: float, within_s: float) -> float | None:
    """When a lump that warms reaches a temperature; None if not within the time given."""
    if start_c[lump] >= limit_c:
        return 0.0
    if after_c(net, start_c, air_c, within_s)[lump] < limit_c:
        return None
    low, high = 0.0, within_s
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if after_c(net, start_c, air_c, middle)[lump] >= limit_c else (middle, high)
    return high
