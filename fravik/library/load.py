"""Load the shipped tables once, validated; and find a project's filament among its own and the shipped ones."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from fravik.model.base import Frozen
from fravik.model.cell import CellSort
from fravik.model.material import Adhesive, CarbonStock, FacingStock, Filament, ScrewSize, StockMaterial
from fravik.model.project import Project

T = TypeVar("T")


def _table(name: str) -> dict[str, dict[str, Any]]:
    with resources.files("fravik.library").joinpath("data", name).open("rb") as f:
        return tomllib.load(f)


def _rows(name: str, kind: type[Frozen]) -> MappingProxyType[str, Any]:
    return MappingProxyType({k: kind.model_validate({"id": k, **v}) for k, v in _table(name).items()})


def _pick(table: Mapping[str, T], key: str, what: str) -> T:
    if key not in table:
        raise KeyError(f"There is no {what} {key!r}; there is {', '.join(table)}.")
    return table[key]


@cache
def filaments() -> MappingProxyType[str, Filament]:
    """All shipped filaments by id."""
    return _rows("filaments.toml", Filament)


@cache
def stock_materials() -> MappingProxyType[str, StockMaterial]:
    """All shipped materials that come as bar or plate, by id; none shares an id with a filament."""
    return _rows("stocks.toml", StockMaterial)


@cache
def carbon_stocks() -> MappingProxyType[str, CarbonStock]:
    """All shipped carbon profiles by id."""
    return _rows("carbon.toml", CarbonStock)


@cache
def adhesives() -> MappingProxyType[str, Adhesive]:
    """All shipped adhesives by id."""
    return _rows("adhesives.toml", Adhesive)


@cache
def facing_stocks() -> MappingProxyType[str, FacingStock]:
    """All shipped carbon plates and glass skins by id."""
    return _rows("facings.toml", FacingStock)


@cache
def cell_sorts() -> MappingProxyType[str, CellSort]:
    """All shipped sorts of cells by id."""
    return _rows("cells.toml", CellSort)


@cache
def screws() -> MappingProxyType[str, ScrewSize]:
    """All shipped screw sizes by id."""
    return _rows("screws.toml", ScrewSize)


def filament(kind: str) -> Filament:
    """One shipped filament. KeyError names the kinds there are."""
    return _pick(filaments(), kind, "filament")


def filaments_of(project: Project) -> dict[str, Filament]:
    """The maker's own filaments and the shipped ones; a maker's own goes before a shipped one of the same id."""
    return {**filaments(), **{f.id: f for f in project.filaments}}


def filament_of(project: Project, kind: str) -> Filament:
    """One filament as the project knows it, or a material of bar or plate. KeyError names the kinds there are."""
    stock = stock_materials().get(kind)
    return stock if stock is not None else _pick(filaments_of(project), kind, "filament")


def stock_material(kind: str) -> StockMaterial:
    """One material of bar or plate. KeyError names those there are."""
    return _pick(stock_materials(), kind, "material of bar or plate")


def carbon_stock(stock: str) -> CarbonStock:
    """One carbon profile. KeyError names the profiles there are."""
    return _pick(carbon_stocks(), stock, "carbon profile")


def adhesive(kind: str) -> Adhesive:
    """One adhesive. KeyError names the kinds there are."""
    return _pick(adhesives(), kind, "adhesive")


def facing_stock(kind: str) -> FacingStock:
    """What one facing is cut from. KeyError names what there is."""
    return _pick(facing_stocks(), kind, "facing")


def cell_sort(kind: str) -> CellSort:
    """One sort of cell. KeyError names those there are."""
    return _pick(cell_sorts(), kind, "sort of cell")


def screw(size: str) -> ScrewSize:
    """One screw size. KeyError names the sizes there are."""
    return _pick(screws(), size, "screw")


def screw_through(hole_mm: float) -> ScrewSize:
    """The largest screw that goes through a hole; the smallest there is for one too small for any."""
    every = sorted(screws().values(), key=lambda s: s.diameter_mm)
    return max((s for s in every if s.diameter_mm <= hole_mm), key=lambda s: s.diameter_mm, default=every[0])


def _arrays(name: str) -> MappingProxyType[str, NDArray[np.float64]]:
    with resources.files("fravik.library").joinpath("data", name).open("rb") as f, np.load(f) as data:
        return MappingProxyType({k: data[k] for k in data.files})


@cache
def core_table() -> MappingProxyType[str, NDArray[np.float64]]:
    """Homogenised core constants over those of the solid, as ``tools/core_table.py`` computed them."""
    return _arrays("core.npz")


@cache
def notch_table() -> MappingProxyType[str, NDArray[np.float64]]:
    """Factors of shoulder fillets by radius and wide over narrow side, as ``tools/notch_table.py`` computed them."""
    return _arrays("notches.npz")


@cache
def flatwise_table() -> MappingProxyType[str, NDArray[np.float64]]:
    """Factors of shoulder fillets bent out of their plane by radius over narrow side, radius over thickness, and wide over narrow side,
    as ``tools/flatwise_table.py`` computed them."""
    return _arrays("flatwise.npz")


@cache
def solid_models() -> MappingProxyType[str, list[dict[str, Any]]]:
    """Solid models of other methods that the product is checked against, by kind, as ``tools/solids/references.py`` solved them."""
    with resources.files("fravik.library").joinpath("data", "solids.toml").open("rb") as f:
        return MappingProxyType(tomllib.load(f))


@cache
def face_bytes(weight: str) -> bytes:
    """The bundled text face as a TrueType file, 'Regular' or 'Bold', as ``tools/make_faces.py`` made it."""
    return resources.files("fravik.library").joinpath("faces", f"B612-{weight}.ttf").read_bytes()
