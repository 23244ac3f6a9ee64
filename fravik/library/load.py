"""Load the shipped tables once, validated."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from types import MappingProxyType
from typing import Any

from fravik.model.material import CarbonStock, Filament


def _table(name: str) -> dict[str, dict[str, Any]]:
    with resources.files("fravik.library").joinpath("data", name).open("rb") as f:
        return tomllib.load(f)


@cache
def filaments() -> MappingProxyType[str, Filament]:
    """All shipped filaments by id."""
    return MappingProxyType({k: Filament(id=k, **v) for k, v in _table("filaments.toml").items()})


@cache
def carbon_stocks() -> MappingProxyType[str, CarbonStock]:
    """All shipped carbon profiles by id."""
    return MappingProxyType({k: CarbonStock(id=k, **v) for k, v in _table("carbon.toml").items()})


def filament(kind: str) -> Filament:
    """One filament. KeyError names the kinds there are."""
    table = filaments()
    if kind not in table:
        raise KeyError(f"There is no filament {kind!r}; the shelf table has {', '.join(table)}.")
    return table[kind]


def carbon_stock(stock: str) -> CarbonStock:
    """One carbon profile. KeyError names the profiles there are."""
    table = carbon_stocks()
    if stock not in table:
        raise KeyError(f"There is no carbon profile {stock!r}; the stock list has {', '.join(table)}.")
    return table[stock]
