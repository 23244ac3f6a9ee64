"""The project file: one SQLite file, the current snapshot written whole at every edit; and files that leave the program."""

from .file import APPLICATION_ID, ProjectFile, create, open_file
from .fileproblem import FileProblem
from .folder import write_file, write_files
from .text import project_from_json, project_to_json, read_json_file

__all__ = [
    "APPLICATION_ID", "FileProblem", "ProjectFile", "create", "open_file", "project_from_json", "project_to_json",
    "read_json_file", "write_file", "write_files",
]  # fmt: skip
