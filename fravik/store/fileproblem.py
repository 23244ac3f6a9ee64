"""What can be wrong with a file, said so that the maker can do something about it."""

from __future__ import annotations


class FileProblem(Exception):  # noqa: N818  shown to the maker as it stands
    """A file that cannot be read or written; the message says why and what to do. The file was not altered.

    ``code`` tells kinds apart: file.*, folder.*, save.*.
    """

    def __init__(self, message: str, code: str = "file.unreadable") -> None:
        super().__init__(message)
        self.code = code
