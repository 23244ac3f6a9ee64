"""Remake the shipped table of core constants: ``python tools/core_table.py``."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from fravik.structure.cells import dense, make_table


def main() -> None:
    """Compute every pattern and write the table beside the other shipped data."""
    target = Path(__file__).parents[1] / "fravik" / "library" / "data" / "core.npz"
    table = make_table(lambda line: print(line, flush=True))
    np.savez_compressed(target, **dense(table))
    print(f"wrote {target.name}, {target.stat().st_size} bytes")


if __name__ == "__main__":
    main()
