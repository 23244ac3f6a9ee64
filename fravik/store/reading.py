"""Text files of others, read within bounds and refused plainly."""

from __future__ import annotations

from pathlib import Path

from .fileproblem import FileProblem


def text_of(path: Path, most_bytes: int, what: str) -> str:
    """A text file's content, without a byte-order mark; ``what`` it is too large for. Raises FileProblem."""
    try:
        if path.exists() and not path.is_file():
            raise FileProblem(f"{path} is not a file.", "file.foreign")
        if path.stat().st_size > most_bytes:
            raise FileProblem(f"{path.name} is {path.stat().st_size / 1e6:.0f} MB: no {what} is as large as that.", "file.too_large")
        return path.read_text(encoding="utf-8-sig")
    except OSError as err:
        raise FileProblem(f"{path} cannot be read: {err.strerror}.", "file.unreadable") from None
    except UnicodeDecodeError:
        raise FileProblem(f"{path.name} is not text.", "file.foreign") from None
