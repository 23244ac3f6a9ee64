"""Frozen base of every model class, and quantities that carry unit, range and reason."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

# what things are known by in files, paths and commands: never part of a path, never more than one word
Slug = Annotated[str, Field(pattern=r"^[a-z0-9_]{1,40}$")]
MONEY = "money"  # the unit of what is in the maker's currency, whatever that is
_LONG_TEXTS = ("purpose", "note", "basis")


def text_problem(value: Any, name: str = "") -> str | None:
    """Why a text somewhere in raw data cannot be kept: it cannot be written down, or breaks the line it is shown in."""
    if isinstance(value, str):
        if any("\ud800" <= c <= "\udfff" for c in value):
            return f"{name or 'A text'} holds half a character, which cannot be written down."
        if any(c < " " and not (name in _LONG_TEXTS and c in "\n\t") for c in value):
            return f"{name or 'A text'} holds a line break or a control character; write it in one line."
        return None
    if isinstance(value, dict):
        return next((w for k, v in value.items() for w in (text_problem(k), text_problem(v, str(k))) if w), None)
    if isinstance(value, list | tuple):
        return next((w for v in value for w in (text_problem(v, name),) if w), None)
    return None


class Frozen(BaseModel):
    """Immutable, hashable data; unknown fields and NaN are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, validate_default=False)
    __slots__ = ("_content_hash",)

    def __hash__(self) -> int:
        """By content, worked out once: every stage of every evaluation asks for it."""
        try:
            return int(object.__getattribute__(self, "_content_hash"))
        except AttributeError:
            found = hash((type(self), *(self.__dict__[name] for name in type(self).model_fields)))
            object.__setattr__(self, "_content_hash", found)
            return found


def quantity(
    default: Any,
    lo: float,
    hi: float,
    unit: str,
    label: str,
    why: str = "",
    *,
    step: float | None = None,
) -> Any:
    """A numeric field with its allowed range, display unit, label and the reason for the range."""
    extra: dict[str, Any] = {"unit": unit, "label": label, "why": why}
    if step is not None:
        extra["step"] = step
    return Field(default, ge=lo, le=hi, json_schema_extra=extra)


def choice(default: Any, label: str, why: str = "") -> Any:
    """A field with a closed list of values (or a name) and a label."""
    return Field(default, json_schema_extra={"label": label, "why": why, "unit": ""})


def label_of(cls: type[BaseModel], name: str) -> str:
    """The human label of a field, falling back on its name."""
    info = cls.model_fields.get(name)
    extra = info.json_schema_extra if info is not None else None
    if isinstance(extra, dict) and extra.get("label"):
        return str(extra["label"])
    return name.replace("_", " ")


def _short(value: Any) -> Any:
    """A value as it is told, cut when it is long."""
    return f"{value[:37]}..." if isinstance(value, str) and len(value) > 40 else value


def explain(error: ValidationError, cls: type[BaseModel] | None = None) -> list[tuple[str, str]]:
    """Turn a pydantic error into (dotted path, plain sentence) pairs.

    The sentence says what is wrong, and where a field states a reason for its range, why.
    """
    out: list[tuple[str, str]] = []
    for item in error.errors():
        path = ".".join(str(p) for p in item["loc"])
        name = str(item["loc"][-1]) if item["loc"] else "value"
        label, unit, why = name.replace("_", " "), "", ""
        if cls is not None and name in cls.model_fields:
            label = label_of(cls, name)
            extra = cls.model_fields[name].json_schema_extra
            if isinstance(extra, dict):
                unit, why = str(extra.get("unit") or ""), str(extra.get("why") or "")
        ctx = item.get("ctx") or {}
        kind, value = item["type"], _short(item.get("input"))
        tail = f": {why}" if why else "."
        unit = f" {unit}" if unit and unit != MONEY else ""
        if kind in ("greater_than_equal", "greater_than"):
            text = f"{label} {value}{unit} is below the least allowed, {next(iter(ctx.values()))}{unit}{tail}"
        elif kind in ("less_than_equal", "less_than"):
            text = f"{label} {value}{unit} is above the most allowed, {next(iter(ctx.values()))}{unit}{tail}"
        elif kind == "int_from_float":
            text = f"{label} needs a whole number; {value!r} is not one."
        elif kind.startswith(("float", "int", "finite")):
            text = f"{label} needs a number; {value!r} is not one."
        elif kind == "literal_error":
            text = f"{label} cannot be {value!r}; choose {ctx.get('expected')}."
        elif kind == "string_pattern_mismatch" and ctx.get("pattern", "").startswith("^[a-z0-9_]"):
            text = f"{label} {value!r} is made of small letters, figures and _ alone, 40 at most."
        elif kind == "extra_forbidden":
            text = f"There is no field called {name!r} here."
        elif kind == "missing":
            text = f"{label} is missing."
        else:
            text = f"{label}: {item['msg']}."
        out.append((path, text))
    return out
