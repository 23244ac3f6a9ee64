"""Data that ships with the product: filaments, carbon, sheets, adhesives, screws and infill constants, with a loader."""

from .load import (
    adhesive,
    adhesives,
    carbon_stock,
    carbon_stocks,
    face_bytes,
    filament,
    filament_of,
    filaments,
    filaments_of,
    flatwise_table,
    infill_table,
    notch_table,
    screw,
    screw_through,
    screws,
    sheet,
    sheets,
    solid_models,
    stock_material,
    stock_materials,
)

__all__ = [
    "adhesive", "adhesives", "carbon_stock", "carbon_stocks", "face_bytes", "filament", "filament_of", "filaments", "filaments_of",
    "flatwise_table", "infill_table", "notch_table", "screw", "screw_through", "screws", "sheet", "sheets", "solid_models",
    "stock_material", "stock_materials",
]  # fmt: skip
