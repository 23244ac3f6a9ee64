"""Memory of stage results keyed by their frozen inputs."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import TypeVar

T = TypeVar("T")
_NOTHING = object()


class Memo:
    """A bounded store: equal inputs to a stage give back the same result. Not for use from several threads."""

    def __init__(self, size: int = 128) -> None:
        self._size = size
        self._store: dict[tuple[str, Hashable], object] = {}
        self.hits = 0
        self.misses = 0

    def clear(self) -> None:
        """Forget everything."""
        self._store.clear()

    def get(self, stage: str, key: Hashable, make: Callable[[], T]) -> T:
        """The stored result of a stage for this key, made on first need."""
        full = (stage, key)
        found = self._store.pop(full, _NOTHING)
        if found is not _NOTHING:
            self.hits += 1
            self._store[full] = found  # the newest again
            return found  # type: ignore[return-value]
        self.misses += 1
        made = make()
        self._store[full] = made
        if len(self._store) > self._size:
            del self._store[next(iter(self._store))]
        return made
