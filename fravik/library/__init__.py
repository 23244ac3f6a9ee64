"""Data that ships with the product: filaments and carbon stock, as TOML with a loader."""

from .load import carbon_stock, carbon_stocks, filament, filaments

__all__ = ["carbon_stock", "carbon_stocks", "filament", "filaments"]
