"""Strokes, notes and crossings of a plan as someone looks at them: each put together out of its columns, then kept."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cache
from typing import Any, TypeVar, overload

_Value = TypeVar("_Value")
_UNSEEN: Any = object()


class Views(Sequence[_Value]):
    """N values, each made when it is first looked at; those that an edit carries over are made once for both plans.

    The next edit makes what nobody has looked at of the one before, so that no more than the first plan and the last
    edit are kept for values that are still to come.
    """

    __slots__ = ("_fresh", "_made", "_make", "_make_fresh", "_rows")

    def __init__(self, count: int, make: Callable[[int], _Value]) -> None:
        self._made: list[_Value] = [_UNSEEN] * count
        self._rows: Sequence[int] = range(count)
        self._make: Callable[[int], _Value] = cache(make)
        self._fresh: Mapping[int, int] = {}
        self._make_fresh: Callable[[int], _Value] = self._make

    def but(
        self, fresh: Mapping[int, int], make: Callable[[int], _Value], index: Sequence[int] | None = None
    ) -> "Views[_Value]":
        """Return these values with fresh ones among them.

        Args:
            fresh: the rows that fresh ones are made of, by their index afterwards.
            make: makes them.
            index: where every value was before; None where none has come or gone.
        """
        if not fresh and index is None:
            return self
        for i in self._fresh:
            self[i]
        views: Views[_Value] = Views.__new__(Views)
        made, rows = self._made, self._rows
        views._make, views._make_fresh, views._fresh = self._make, make, fresh
        views._made = list(made) if index is None else [made[i] for i in index]
        views._rows = rows if index is None else [rows[i] for i in index]
        for i in fresh:
            views._made[i] = _UNSEEN
        return views

    @overload
    def __getitem__(self, at: int) -> _Value: ...
    @overload
    def __getitem__(self, at: slice) -> tuple[_Value, ...]: ...
    def __getitem__(self, at: int | slice) -> _Value | tuple[_Value, ...]:
        if isinstance(at, slice):
            return tuple(self[i] for i in range(*at.indices(len(self))))
        value = self._made[at]
        if value is _UNSEEN:
            at %= len(self._made)
            fresh = self._fresh.get(at)
            value = self._made[at] = self._make(self._rows[at]) if fresh is None else self._make_fresh(fresh)
        return value

    def __len__(self) -> int:
        return len(self._made)

    def __iter__(self) -> Iterator[_Value]:
        return (self[i] for i in range(len(self)))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Sequence) and tuple(self) == tuple(other)

    __hash__ = None  # type: ignore[assignment]

    def __reduce__(self) -> tuple[object, ...]:
        """Return what goes along to another process: the values, all of them made."""
        return _seen, (tuple(self),)


def _seen(values: Sequence[_Value]) -> Views[_Value]:
    return Views(len(values), values.__getitem__)


class Named(Mapping[str, _Value]):
    """Values by the name of each."""

    __slots__ = ("_at", "_values")

    def __init__(self, values: Sequence[_Value], at: Mapping[str, int]) -> None:
        self._values, self._at = values, at

    def __getitem__(self, name: str) -> _Value:
        return self._values[self._at[name]]

    def __contains__(self, name: object) -> bool:
        return name in self._at

    def after(self, name: str) -> _Value | None:
        """Return the value that follows one, if it is not the last."""
        i = self._at[name] + 1
        return self._values[i] if i < len(self._values) else None

    def __iter__(self) -> Iterator[str]:
        return iter(self._at)

    def __len__(self) -> int:
        return len(self._at)
