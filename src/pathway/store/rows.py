"""Values as the columns of a table, and rows as values, by the names of their fields."""

from functools import cache
from typing import Any, TypeVar, cast

from pathway.core.says import declared
from pathway.formats.codec import Standing, form_of

_V = TypeVar("_V")


def columns_from(value: object, kind: Any, **own: object) -> dict[str, Any]:
    """Return the columns of a kind of row that a value has fields for, with some as they are given; rows are numbered.

    Texts and lists that are too long are cut, numbers brought into their range: a row holds what documents may.
    """
    here = cast(Any, type(value))
    names = declared(here).keys() & kind.__mapper__.attrs.keys() - own.keys() - {"id"}
    fields = ((name, declared(here)[name].says) for name in names)
    return {name: _standing(here, name).out(says.fitted(getattr(value, name))) for name, says in fields} | own


def value_from(kind: type[_V], row: Any, **own: object) -> _V:
    """Return a value whose fields a row has columns for, with some as they are given."""
    here = cast(Any, kind)
    names = (name for name in declared(here) if name not in own)
    return kind(**{name: _standing(here, name).back(getattr(row, name)) for name in names}, **own)


@cache
def _standing(kind: type, name: str) -> Standing:
    field = declared(kind)[name]
    return form_of(field.type, field.says)
