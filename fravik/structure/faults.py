"""What the structure cannot be solved for, by cause: an answer to the maker, not a figure."""

from __future__ import annotations


class StructureFault(ArithmeticError):  # noqa: N818  told to the maker as it stands
    """A part or craft that cannot be solved. ``code`` names the cause; the message says what is wrong and what to do."""

    def __init__(self, code: str, message: str) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
