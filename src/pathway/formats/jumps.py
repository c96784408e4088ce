"""Repeats by words: from D.C. or D.S. back, to the fine or into the coda."""

from collections.abc import Iterable, Sequence
from fractions import Fraction

from pathway.core.music import Measure, Repeat
from pathway.core.technique.directions import Jump


def repeats_by_words(found: Iterable[tuple[Fraction, Jump]], measures: Sequence[Measure]) -> list[Repeat]:
    """Return the jumps back that words and signs ask for.

    Args:
        found: places [quarters] and what stands there.
        measures: of the part.
    """
    marks = sorted(found, key=lambda mark: mark[0])
    return [_repeat(place, jump, marks, measures) for place, jump in marks if jump in {Jump.TO_START, Jump.TO_SEGNO}]


def _repeat(place: Fraction, jump: Jump, marks: Sequence[tuple[Fraction, Jump]], measures: Sequence[Measure]) -> Repeat:
    """Return one jump back, with where its second time is left and goes on."""
    closes = any(measure.onset + measure.length == place for measure in measures)  # printed at a bar line
    end = place if closes else _bar_end(place, measures)

    def places(kind: Jump) -> list[Fraction]:
        return [where for where, one in marks if one is kind]

    start = Fraction(0)
    if jump is Jump.TO_SEGNO:
        start = max((where for where in places(Jump.SEGNO) if where < end), default=start)
    codas = places(Jump.CODA)
    then = next((where for where in codas if where >= end), None)
    leaves = next((where for where in (*places(Jump.LEAVES), *codas) if start < where < end), None)
    if then is not None and leaves is not None:
        return Repeat(start, end, leaves, then, by_words=True)
    fine = next((_left_at(where, measures) for where in places(Jump.FINE) if start < where <= end), None)
    return Repeat(start, end, fine, by_words=True)


def _bar_end(place: Fraction, measures: Sequence[Measure]) -> Fraction:
    """Return where the bar of a place ends."""
    inside = (m for m in measures if m.onset <= place < m.onset + m.length)
    measure = next(inside, measures[-1])
    return measure.onset + measure.length


def _left_at(place: Fraction, measures: Sequence[Measure]) -> Fraction:
    """Return where a piece ends that ends at a fine: with the bar over which it stands, or that it follows."""
    begins = any(measure.onset == place for measure in measures[1:])
    return place if begins else _bar_end(place, measures)
