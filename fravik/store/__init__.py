"""The project file: one SQLite file, the current snapshot written whole at every edit."""

from .file import APPLICATION_ID, FileProblem, ProjectFile, create, open_file
from .text import project_from_json, project_to_json

__all__ = ["APPLICATION_ID", "FileProblem", "ProjectFile", "create", "open_file", "project_from_json", "project_to_json"]
