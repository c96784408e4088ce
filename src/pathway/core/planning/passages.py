"""Passages beside each other: one taken away, or one that takes its room from others."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from pathway.core.music import Part
from pathway.core.planning.wish_checks import levels_of
from pathway.core.planning.wishes import Passage, identified


def taken_away(passages: Sequence[Passage], id_: int) -> tuple[Passage, ...]:
    """Return passages without one; those that leaned on it keep the level they had."""
    passages = identified(passages)
    levels = levels_of(passages)
    return tuple(
        replace(passage, relation=None, offset_db=levels[passage.id])
        if passage.relation and passage.relation.to == id_
        else passage
        for passage in passages
        if passage.id != id_
    )


def carved(part: Part, passages: Sequence[Passage], id_: int) -> tuple[Passage, ...]:
    """Return passages of which one has its room for itself: others end before it, begin after it, or make way."""
    passages = identified(passages)
    mine = next(passage for passage in passages if passage.id == id_)
    first, last = part.index[mine.start], part.index[mine.end]
    for passage in passages:
        if passage.id != id_ and first <= part.index[passage.start] and part.index[passage.end] <= last:
            passages = taken_away(passages, passage.id)
    spare = max(passage.id for passage in passages)
    found: list[Passage] = []
    for passage in passages:
        pieces = [passage] if passage.id == id_ else list(_outside(part, passage, first, last))
        found += [piece if n == 0 else replace(piece, id=(spare := spare + 1)) for n, piece in enumerate(pieces)]
    return tuple(found)


def _outside(part: Part, passage: Passage, first: int, last: int) -> Iterator[Passage]:
    """Yield what of a passage lies before and after some notes; all of it where it does not touch them."""
    start, end = part.index[passage.start], part.index[passage.end]
    if end < first or start > last:
        yield passage
        return
    bowed = [i for i in range(start, end + 1) if not part.events[i].plucked]
    before, after = [i for i in bowed if i < first], [i for i in bowed if i > last]
    if before:
        yield replace(passage, end=part.events[before[-1]].id)
    if after:
        yield replace(passage, start=part.events[after[0]].id)
