"""Memory of stage results keyed by their frozen inputs, bounded by what they hold."""

from __future__ import annotations

import dataclasses
import threading
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import numpy as np

T = TypeVar("T")
MOST_BYTES = 38_000_000
# what the evaluation under way and the one before it touched is kept beyond that, or a craft of many parts would forget each part just
# before it is asked for again; this is the end of it
END_BYTES = 300_000_000
MEASURED_FIRST, MEASURED_EVERY = 2, 16  # results of one stage are much alike: only some are measured
SMALL = 60


def held_bytes(found: Any, seen: set[int] | None = None) -> int:
    """About how much memory a result holds in its arrays; each counted once."""
    seen = set() if seen is None else seen
    if id(found) in seen:
        return 0
    seen.add(id(found))
    if isinstance(found, np.ndarray):
        return found.nbytes if found.base is None else max(held_bytes(found.base, seen), SMALL)
    inner: Any = ()
    if isinstance(found, dict):
        inner = found.values()
    elif isinstance(found, list | tuple):
        inner = found
    elif dataclasses.is_dataclass(found):
        inner = vars(found).values()
    return SMALL + sum(held_bytes(v, seen) for v in inner)


class _Key:
    """A stage and what its result depends on; hashed once, as that goes deep."""

    __slots__ = ("_hash", "_own")

    def __init__(self, stage: str, key: Hashable) -> None:
        self._own = stage, key
        self._hash = hash(self._own)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Key) and self._hash == other._hash and self._own == other._own


class Memo:
    """A bounded store: equal inputs to a stage give back the same result.

    Two threads that ask for one thing at once may both make it; the later one is kept.
    """

    def __init__(self, most_bytes: int = MOST_BYTES, end_bytes: int = END_BYTES) -> None:
        self._most, self._end = most_bytes, end_bytes
        # the result, its bytes, and in which turn it was last asked for
        self._store: dict[_Key, tuple[object, int, int]] = {}
        self._turn = 0
        self._usual: dict[str, tuple[int, int]] = {}  # by stage: how many were made, and the bytes of the last one measured
        self.bytes = 0
        self.hits = 0
        self.misses = 0
        self._lock = threading.Lock()

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._store.clear()
            self.bytes = 0

    def __len__(self) -> int:
        return len(self._store)

    def turn(self) -> None:
        """Another evaluation begins."""
        with self._lock:
            self._turn += 1

    def get(self, stage: str, key: Hashable, make: Callable[[], T]) -> T:
        """The stored result of a stage for this key, made on first need."""
        full = _Key(stage, key)
        with self._lock:
            found = self._store.pop(full, None)
            if found is not None:
                self.hits += 1
                self._store[full] = (found[0], found[1], self._turn)  # the newest again
                return found[0]  # type: ignore[return-value]
            self.misses += 1
        made = make()
        with self._lock:
            before = self._store.pop(full, None)
            size = self._size(stage, made)
            self._store[full] = (made, size, self._turn)
            self.bytes += size - (before[1] if before is not None else 0)
            while self.bytes > self._most and len(self._store) > 1:
                oldest = next(iter(self._store))
                _, gone, turn = self._store[oldest]
                if self._turn > 0 and turn >= self._turn - 1 and self.bytes <= self._end:
                    break
                del self._store[oldest]
                self.bytes -= gone
        return made

    def _size(self, stage: str, made: object) -> int:
        count, usual = self._usual.get(stage, (0, 0))
        if count < MEASURED_FIRST or count % MEASURED_EVERY == 0:
            usual = held_bytes(made)
        self._usual[stage] = (count + 1, usual)
        return usual
