"""Files that leave the program: into one folder, all of them whole or none, and none over another unasked."""

from __future__ import annotations

import contextlib
import errno
import os
import unicodedata
from collections.abc import Mapping
from pathlib import Path

from .fileproblem import FileProblem

MOST_NAME_BYTES = 180  # file systems take 255; the temporary name needs a little more
_KEPT = "-_. "


def safe_name(name: str) -> str:
    """A name that is one plain file in its folder: no separators, control characters or leading dots, and not too long."""
    flat = "".join(c if c.isalnum() or c in _KEPT else "-" for c in unicodedata.normalize("NFC", name))
    stem, dot, suffix = flat.strip(" .").rpartition(".")
    if not dot:
        stem, suffix = suffix, ""
    ending = f".{suffix}" if suffix else ""
    while len((stem + ending).encode("utf-8", "ignore")) > MOST_NAME_BYTES and stem:
        stem = stem[:-1]
    found = (stem.strip(" .") or "unnamed") + ending
    return found.encode("utf-8", "ignore").decode("utf-8")[:MOST_NAME_BYTES]


def _reason(err: OSError, what: str) -> FileProblem:
    told = {
        errno.ENOSPC: "the disk is full. Free some space, then try again",
        errno.EDQUOT: "your share of the disk is full. Free some space, then try again",
        errno.EACCES: "the folder does not allow writing. Choose another",
        errno.EPERM: "the folder does not allow writing. Choose another",
        errno.EROFS: "the folder can only be read. Choose another",
        errno.ENOENT: "there is no such place. Choose another",
        errno.EEXIST: "a file stands where the folder should be. Choose another",
        errno.ENOTDIR: "a file stands where the folder should be. Choose another",
        errno.ENAMETOOLONG: "the name is too long. Choose a shorter one",
    }.get(err.errno or 0, err.strerror or str(err))
    return FileProblem(f"{what} could not be written: {told}.", "folder.unwritable")


def write_files(folder: Path, files: Mapping[str, str | bytes], *, replace: bool = False) -> list[Path]:
    """Write files into a folder, made if need be; names are made safe, and every path is proved to lie in the folder.

    All are written under other names first and only then put in place, so that a full disk leaves none of them behind. Files that are
    there already are replaced only when asked. Raises FileProblem.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        root = folder.resolve(strict=True)
    except (OSError, ValueError) as err:
        raise (
            _reason(err, str(folder)) if isinstance(err, OSError) else FileProblem(f"{folder} is no folder's name.", "folder.name")
        ) from None
    wanted: dict[Path, bytes] = {}
    for name, content in files.items():
        path = _free(root / safe_name(name), set(wanted))
        wanted[path] = content if isinstance(content, bytes) else content.encode("utf-8", "replace")
    there = [p.name for p in wanted if os.path.lexists(p)]
    if there and not replace:
        more = f" and {len(there) - 1} more" if len(there) > 1 else ""
        raise FileProblem(
            f"{there[0]}{more} in {folder} would be replaced. Choose an empty folder, or say that they may be.", "folder.taken"
        )
    written: list[tuple[Path, Path]] = []
    try:
        for path, content in wanted.items():
            if path.parent.resolve() != root or path.is_dir():
                raise FileProblem(f"{path.name} does not lie in {folder}: nothing was written.", "folder.outside")
            temporary = path.with_name(f".{path.name}.{os.getpid()}.part")
            written.append((temporary, path))
            _write_whole(temporary, content)
        for temporary, path in written:
            os.replace(temporary, path)
    except OSError as err:
        raise _reason(err, written[-1][1].name if written else str(folder)) from None
    finally:
        for temporary, _ in written:
            temporary.unlink(missing_ok=True)
    return list(wanted)


def write_file(path: Path, content: str | bytes, *, replace: bool = True) -> Path:
    """One file at a path that the maker chose. Raises FileProblem."""
    if path.is_dir():
        raise FileProblem(f"{path} is a folder: give the file a name.", "folder.name")
    if path.exists() and not path.is_file():
        raise FileProblem(f"{path} is a device or a pipe, not a file: choose another name.", "folder.name")
    path = path.resolve()
    if len(path.name.encode("utf-8", "replace")) > MOST_NAME_BYTES:
        raise FileProblem(f"The name {path.name[:30]}... is too long. Choose a shorter one.", "folder.name")
    temporary = path.with_name(f".{path.name}.{os.getpid()}.part")
    if not replace and os.path.lexists(path):
        raise FileProblem(f"{path} already exists; choose another name.", "folder.taken")
    try:
        _write_whole(temporary, content if isinstance(content, bytes) else content.encode("utf-8", "replace"))
        os.replace(temporary, path)
    except OSError as err:
        raise _reason(err, str(path)) from None
    finally:
        with contextlib.suppress(OSError):  # the folder itself is gone or closed to us: said above
            temporary.unlink(missing_ok=True)
    return path


def _write_whole(path: Path, content: bytes) -> None:
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o666)
    with os.fdopen(descriptor, "wb") as f:
        f.write(content)
        f.flush()
        os.fsync(f.fileno())


def _free(path: Path, taken: set[Path]) -> Path:
    """The path, with a number where another of the same files has it (as on systems that ignore case)."""
    low = {p.name.lower() for p in taken}
    found, k = path, 2
    while found.name.lower() in low:
        found, k = path.with_name(f"{path.stem}-{k}{path.suffix}"), k + 1
    return found
