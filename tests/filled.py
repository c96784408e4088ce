"""Values of which every field differs from what it is by default: what a copy on the way drops is seen."""

from collections.abc import Iterator
from dataclasses import MISSING
from datetime import UTC, datetime, timedelta
from enum import Enum
from itertools import count
from typing import Any, Literal, get_args, get_origin

from pathway.core.says import PITCH, PITCH_NAME, Declared, declared


def filled(kind: Any, /, **own: object) -> Any:
    """Return a value of a class with each field as given, or else different from its default and from all others."""
    return kind(**own, **dict(_others(kind, own)))


def _others(kind: Any, own: dict[str, object], numbers: Iterator[int] | None = None) -> Iterator[tuple[str, object]]:
    numbers = numbers or count(1)
    for name, field in declared(kind).items():
        if name not in own:
            value = _other(field, field.kind, numbers)
            assert field.default is MISSING or value != field.default, name
            yield name, value


def _other(field: Declared, kind: Any, numbers: Iterator[int]) -> Any:
    n = next(numbers)
    if get_origin(kind) is tuple:
        kinds = [one for one in get_args(kind) if one is not ...]
        several = kinds * 2 if ... in get_args(kind) else kinds
        return tuple(_other(field, one, numbers) for one in several)
    if get_origin(kind) is Literal:
        return next(one for one in get_args(kind) if one != field.default)
    if isinstance(kind, type) and issubclass(kind, Enum):
        others = [one for one in kind if one != field.default and one.name != "FIRST"]
        return others[n % len(others)]
    if hasattr(kind, "__dataclass_fields__") or hasattr(kind, "__struct_fields__"):
        return kind(**dict(_others(kind, {}, numbers)))
    if field.says.unit is PITCH:
        return 48 + n % 40
    plain = {
        bool: not field.default, bytes: b"%d" % n, str: "G3" if field.says.unit is PITCH_NAME else f"said {n}",
        datetime: datetime(2026, 11, 1, 9, tzinfo=UTC) + timedelta(hours=n),
    }  # fmt: skip
    return plain[kind] if kind in plain else _number(field, kind, n)


def _number(field: Declared, kind: Any, n: int) -> float:
    low, high = field.says.within or (0, 200 if kind is int else 2)
    if get_origin(field.kind) is tuple:  # the range of a list is how long it may be
        low, high = 1, 4
    if kind is int:
        return int(low) + 1 + n % max(int(high - low), 1)
    said = field.says.unit.per_si * (low + (high - low) * (n % 37 + 1) / 40)
    return field.says.unit.meant(round(said, 3))
