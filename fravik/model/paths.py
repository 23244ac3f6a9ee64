"""Read and edit the immutable tree by dotted path: ``parts.arm.shape.root_height_mm``."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ValidationError

from .base import explain, text_problem
from .project import Project
from .recipe import Carbon, Facing


class EditError(ValueError):
    """An edit that cannot be made; ``path`` is the field, the message says why and what to do."""

    def __init__(self, path: str, message: str) -> None:
        super().__init__(message)
        self.path = path
        self.message = message


def _step(node: Any, key: str, path: str) -> Any:
    if isinstance(node, tuple):
        for item in node:
            if getattr(item, "id", None) == key:
                return item
        known = ", ".join(getattr(i, "id", "?") for i in node) or "none"
        raise EditError(path, f"Nothing called {key!r} in {path!r}; known here: {known}.")
    if isinstance(node, BaseModel) and key in type(node).model_fields:
        return getattr(node, key)
    if node is None:
        raise EditError(path, f"{path!r} is not set, so {key!r} cannot be reached; set its parent first.")
    known = ", ".join(type(node).model_fields) if isinstance(node, BaseModel) else "nothing below"
    raise EditError(path, f"There is no field {key!r} in {path!r}; fields there: {known}.")


def get_at(project: Project, path: str) -> Any:
    """The value at a dotted path. Raises EditError if the path leads nowhere."""
    node: Any = project
    for key in path.split("."):
        node = _step(node, key, path)
    return node


def owner_of(project: Project, path: str) -> tuple[BaseModel, str]:
    """The model object that holds the last field of the path, and that field's name."""
    head, _, last = path.rpartition(".")
    node = get_at(project, head) if head else project
    if not isinstance(node, BaseModel) or last not in type(node).model_fields:
        _step(node, last, path)
    return node, last


def set_at(project: Project, path: str, value: Any) -> Project:
    """A new project with one field changed, validated. Raises EditError with a plain message."""
    return set_many(project, ((path, value),))


def set_many(project: Project, edits: tuple[tuple[str, Any], ...]) -> Project:
    """A new project with several fields changed in order; all or nothing."""
    for path, value in edits:
        wrong = text_problem(value, path.rsplit(".", 1)[-1])
        if wrong:
            raise EditError(path, wrong)
        project = _set(project, path.split("."), value, path)
    return project


def _in_place_of(old: Any, value: Any, path: str) -> Any:
    """A whole item of a list, which keeps its id."""
    cls = type(old)
    try:
        new = value if isinstance(value, cls) else cls.model_validate({"id": old.id, **value} if isinstance(value, dict) else value)
    except ValidationError as err:
        raise EditError(path, explain(err, cls)[0][1]) from None
    if new.id != old.id:
        raise EditError(path, "An id stays what it is, since others go by it; change the name instead.")
    return new


def _set(node: Any, keys: list[str], value: Any, path: str) -> Any:
    key = keys[0]
    if isinstance(node, tuple):
        if len(keys) == 1:
            value = _in_place_of(_step(node, key, path), value, path)
            return tuple(value if getattr(i, "id", None) == key else i for i in node)
        child = _step(node, key, path)
        new = _set(child, keys[1:], value, path)
        return tuple(new if i is child else i for i in node)
    if keys == ["id"]:
        raise EditError(path, "An id stays what it is, since others go by it; change the name instead.")
    if node is None:
        node = {"carbon": Carbon, "facing": Facing}.get(path.rsplit(".", 2)[-2], lambda: None)()
    child = _step(node, key, path)
    new = value if len(keys) == 1 else _set(child, keys[1:], value, path)
    if len(keys) > 1:
        return node.model_copy(update={key: new})
    cls = type(node)
    data = {name: getattr(node, name) for name in cls.model_fields}
    data[key] = new
    try:
        return cls.model_validate(data)
    except ValidationError as err:
        raise EditError(path, explain(err, cls)[0][1]) from None
