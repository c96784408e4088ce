"""Values of the core as documents, and back, by what their fields say of themselves.

A codec stands in a document as what a field is made by, ``Annotated[Bow, BOW]``: the document then holds the value, is
read through the codec's model, and is written as that model has it.
"""

import types
import typing
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import MISSING, dataclass, is_dataclass
from enum import StrEnum
from typing import Annotated, Any, Generic, Literal, TypeVar, cast

from msgspec import Struct
from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, create_model
from pydantic_core import CoreSchema, core_schema

from pathway.core.planning.wishes import Link
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import open_pitch
from pathway.core.says import PITCH, PITCH_NAME, Declared, Says, declared
from pathway.formats.pitches import Pitch, PitchName, midi_of

DIGITS = 5  # of rounded numbers
V = TypeVar("V")
M = TypeVar("M", bound=BaseModel)
_Change = Callable[[Any], Any]


class Doc(BaseModel):
    """What all documents have in common: what they do not know is refused, and they do not change."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)


class Codec(Generic[V, M]):
    """How the values of one class stand in documents."""

    known: typing.ClassVar[dict[type, "Codec[Any, Any]"]] = {}

    def __init__(
        self,
        value: type[V],
        model: type[M],
        *,
        read: Callable[[M], V] | None = None,
        write: Callable[[V], dict[str, Any]] | None = None,
        rounded: bool = False,
    ) -> None:
        """Lay a class beside the model of its documents.

        Args:
            value: the class; its fields say what documents need to know.
            model: with a key for each of them; see ``model_of``.
            read: how a document becomes a value, where that takes more than its fields.
            write: how a value becomes a document, where that takes more.
            rounded: whether numbers that need no other unit are rounded, too.

        Raises:
            TypeError: a field has no key in the model.
        """
        self.model, self.read, self.write, self._class = model, read or self.value, write or self.dump, value
        self._order = [field.alias or name for name, field in model.model_fields.items()]
        kept = [field for field in declared(cast(type, value)).values() if field.says.kept]
        self._apart = [_Kept(field, rounded) for field in kept if field.says.flat or field.says.spread]
        self._plain = [_Kept(field, rounded) for field in kept if not field.says.flat and not field.says.spread]
        keys = {_attribute(key) for field in kept for key in _keys_of(field)}
        if missing := keys - {*model.model_fields}:
            raise TypeError(f"{model.__name__} has no {', '.join(sorted(missing))}")
        Codec.known[value] = self

    def dump(self, value: V, **own: object) -> dict[str, Any]:
        """Return a value as a document has it, with some keys as they are given."""
        found = {one.key: one.out(getattr(value, one.name)) for one in self._plain}
        for one in self._apart:
            now = one.out(getattr(value, one.name))
            found |= (now or {}) if one.flat else zip(one.spread, now, strict=True)
        found |= own
        return {key: found[key] for key in self._order if key in found} if own or self._apart else found

    def document(self, value: V, **own: object) -> M:
        """Return the document of a value, with some keys as they are given."""
        return self.model.model_validate(self.dump(value, **own))

    def value(self, document: M, **own: Any) -> V:
        """Return the value that a document holds, with some fields as they are given."""
        return self._class(**dict(self._values(document, own)))

    def __get_pydantic_core_schema__(self, _source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        """Tell the library how a field of this kind is read and written."""
        return core_schema.no_info_wrap_validator_function(
            lambda data, inner: data if isinstance(data, self._class) else self.read(inner(data)),
            handler.generate_schema(self.model),
            serialization=core_schema.plain_serializer_function_ser_schema(self.write),
        )

    def _values(self, document: M, own: Mapping[str, Any]) -> Iterator[tuple[str, Any]]:
        yield from own.items()
        for one in self._plain:
            if one.name not in own:
                said = getattr(document, one.attribute)
                if said is not None or not one.estimated:
                    yield one.name, one.back(said)
        for one in self._apart:
            if one.name not in own:
                numbers = [getattr(document, key) for key in one.attributes]
                nothing = one.optional and numbers[0] is None
                yield one.name, None if nothing else one.back(document if one.flat else numbers)


class _Kept:
    """A field that documents keep, with all that is asked of it again and again."""

    __slots__ = ("attribute", "attributes", "back", "estimated", "flat", "key", "name", "optional", "out", "spread")

    def __init__(self, field: Declared, rounded: bool) -> None:
        form = form_of(field.type, field.says, rounded=rounded)
        self.name, self.key, self.out, self.back = field.name, field.key, form.out, form.back
        self.flat, self.spread, self.estimated = field.says.flat, field.says.spread, field.says.estimated
        self.attribute, self.attributes = _attribute(field.key), [_attribute(key) for key in _keys_of(field)]
        self.optional = field.default is None


@dataclass(frozen=True, slots=True)
class Also:
    """A key that is worked out: of which type it is, and before which key it stands."""

    type: Any
    before: str = ""
    default: Any = ...
    note: str | None = None


def model_of(value: type, name: str, told: str, also: Mapping[str, Also] | None = None) -> type[Doc]:
    """Return a model with a key for every field of a class.

    Args:
        value: the class.
        name: of the model.
        told: what it is, to who reads the schema.
        also: keys that are worked out, by name.
    """
    shapes = dict(_shapes(value))
    for key, one in (also or {}).items():
        before = list(shapes.items())
        at = list(shapes).index(one.before) if one.before else len(before)
        shapes = dict([*before[:at], (key, (one.type, Field(one.default, description=one.note))), *before[at:]])
    made: dict[str, Any] = {_attribute(key): shape for key, shape in shapes.items()}
    return create_model(name, __base__=Doc, __doc__=told, **made)


def bare(document: Any) -> Any:
    """Return a document without what is not asked for: the keys of None, which is what they are where they are left."""
    if isinstance(document, dict):
        return {key: bare(value) for key, value in document.items() if value is not None}
    return [bare(value) for value in document] if isinstance(document, list) else document


def _attribute(key: str) -> str:
    return "from_" if key == "from" else key


def _is_struct(kind: Any) -> bool:
    return isinstance(kind, type) and issubclass(kind, Struct)


def _keys_of(field: Declared) -> Sequence[str]:
    """Return the keys of a field in documents: one, or one for each of its numbers, or those of its own fields."""
    if field.says.flat:
        inner = declared(field.kind).values()
        return [key for one in inner if one.says.kept for key in _keys_of(one)]
    return field.says.spread or (field.key,)


def _shapes(value: type) -> Iterator[tuple[str, tuple[Any, Any]]]:
    """Yield keys with the types and defaults that a model has for them."""
    for field in declared(value).values():
        if field.says.flat:
            yield from _shapes(field.type)
        elif field.says.kept:
            yield field.key, _shape(field)


def _shape(field: Declared) -> tuple[Any, Any]:
    form, default = form_of(field.type, field.says), field.default
    if types.NoneType in typing.get_args(field.type) and default is not None:
        raise TypeError(f"{field.name} may be None, so that is what it has to be where it is left out")
    if field.says.estimated:
        default = None
    elif field.type in Codec.known and default is not MISSING:
        default = Codec.known[field.type].model.model_validate(form.out(default))
    elif default is not MISSING and not isinstance(default, StrEnum):
        default = form.out(default)
    return form.model | None if field.says.estimated else form.model, Field(
        ... if default is MISSING or field.says.always else default,
        description=field.says.note or None,
        alias="from" if field.key == "from" else None,
    )


def _same(value: Any) -> Any:
    return value


@dataclass(frozen=True, slots=True)
class Standing:
    """How values of one type stand in documents."""

    model: Any
    out: _Change = _same
    back: _Change = _same


_PITCHES = {PITCH.name: Standing(Pitch, open_pitch, midi_of), PITCH_NAME.name: Standing(PitchName)}
_WORDS: Mapping[type, Standing] = {
    Direction: Standing(Literal["down", "up"], lambda one: one.word, lambda word: Direction[word.upper()]),
    Link: Standing(Literal["change", "hook", "retake"], lambda one: one.word, lambda word: Link[word.upper()]),
}


def form_of(kind: Any, says: Says, *, rounded: bool = False) -> Standing:
    """Return how values of a type stand in documents.

    Raises:
        TypeError: it is a class without a codec.
    """
    if types.NoneType in typing.get_args(kind):
        return _optional(next(one for one in typing.get_args(kind) if one is not types.NoneType), says, rounded)
    if typing.get_origin(kind) is tuple:
        one = form_of(typing.get_args(kind)[0], Says(says.unit), rounded=rounded)
        model = _within(list[one.model], says)  # type: ignore[name-defined]
        return Standing(model, lambda values: [one.out(v) for v in values], lambda said: tuple(map(one.back, said)))
    if is_dataclass(kind) or _is_struct(kind):
        if kind not in Codec.known:
            raise TypeError(f"Make a codec of {kind.__name__} first")
        nested = Codec.known[kind]
        return Standing(nested.model, nested.write, nested.read)
    return _WORDS.get(kind) or _PITCHES.get(says.unit.name) or _plain(kind, says, rounded)


def _plain(kind: Any, says: Says, rounded: bool) -> Standing:
    """Return how a number stands in documents, or a word."""
    if isinstance(kind, type) and issubclass(kind, StrEnum):
        return Standing(kind, lambda one: one.value, kind)
    per = says.unit.per_si
    if per != 1:
        return Standing(_within(kind, says), lambda value: round(per * value, DIGITS), says.unit.meant)
    if kind is float:
        return Standing(_within(kind, says), (lambda value: round(float(value), DIGITS)) if rounded else float)
    return Standing(_within(kind, says))


def _optional(inner: Any, says: Says, rounded: bool) -> Standing:
    form = form_of(inner, says, rounded=rounded)
    if typing.get_origin(inner) is tuple:  # a list that is not asked for is an empty one
        return Standing(form.model, lambda value: form.out(value or ()), lambda said: form.back(said) or None)
    return Standing(form.model | None, _unless_none(form.out), _unless_none(form.back))


def _unless_none(change: _Change) -> _Change:
    return _same if change is _same else lambda value: None if value is None else change(value)


def _within(kind: Any, says: Says) -> Any:
    """Return a type with the range that is declared for it, in the unit of documents."""
    finite = Annotated[float, Field(allow_inf_nan=False)] if kind is float else kind
    if says.within is None or not says.when_read:
        return finite
    low, high = (_said(bound, says.unit.per_si) for bound in says.within)
    if kind in (int, float):
        return Annotated[finite, Field(ge=low, le=high)]
    return Annotated[kind, Field(min_length=int(low) or None, max_length=int(high))]


def _said(bound: float, per: float) -> float:
    said = bound if per == 1 else round(per * bound, DIGITS)
    return int(said) if per != 1 and said == int(said) else said
