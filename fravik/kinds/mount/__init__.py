"""Camera mounts."""

from .kind import Mount

__all__ = ["Mount"]
