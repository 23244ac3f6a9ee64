"""Parts read from mesh files."""

from .kind import Imported, imported_part

__all__ = ["Imported", "imported_part"]
