"""What the page says once for many notes: staccato and marcato in words, and a manner that goes on by sim."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from pathway.core.music import Event, Mark, Part, Slur
from pathway.core.technique.notation import wording_of

_SIMILE = re.compile(r"\b(sim(\.|ile\b)|segue\b|(wie|like|comme) (vorher|before|avant)|in the same way)", re.IGNORECASE)
_SHORT = re.compile(r"(?<!flying )\bstacc(\.|ato\b)(?! (volante|serrato|[àa] recochet))|\bkurz\b", re.IGNORECASE)
_STRESSED = re.compile(r"\bmarc(\.|ato\b|atissimo\b)|\bmarkiert\b|\bmarqu[ée]\b", re.IGNORECASE)
_DENIED = re.compile(r"\b(non|senza|sans|ohne|nicht|without|not|no)\s*$", re.IGNORECASE)
_LONG = re.compile(r"\bten(\.|uto\b)|\bcantabile\b|\b(non|senza|ohne|sans|nicht) (stacc|marc|kurz)", re.IGNORECASE)
_OF_MANNER = frozenset({Mark.DOT, Mark.DASH, Mark.WEDGE, Mark.ACCENT, Mark.STRONG_ACCENT})


def goes_on_alike(text: str) -> bool:
    """Whether words ask for the manner of before to go on."""
    return _SIMILE.search(text) is not None


def marks_asked(text: str) -> frozenset[Mark] | None:
    """Return the marks that words ask for on all notes from here on: none where they end it; None: not of marks."""
    found = set[Mark]()
    for pattern, mark in ((_SHORT, Mark.DOT), (_STRESSED, Mark.ACCENT)):
        said = pattern.search(text)
        if said and not _DENIED.search(text[: said.start()]):
            found.add(mark)
    if found:
        return frozenset(found)
    ends = _LONG.search(text) or ((wording := wording_of(text, ())) is not None and wording.kind is not None)
    return frozenset() if ends else None


def in_full(part: Part) -> Part:
    """Return a part with the marks and slurs that words stand for on the notes that have none of their own."""
    told: list[str] = []
    marked = _marked(part)
    changed = replace(part, events=tuple(marked)) if marked != list(part.events) else part
    for words in part.words:
        if goes_on_alike(words.text):
            changed, bars = _alike(changed, words.onset)
            does = f"{_taken(bars)} as the bar before it" if bars else "the bar before it has nothing to go on with"
            told.append(f"“{words.text}” in bar {part.bar_at(words.onset)}: {does}.")
    return replace(changed, notices=(*changed.notices, *told)) if told else changed


def _taken(bars: Sequence[str]) -> str:
    return f"bar {bars[0]} is" if len(bars) == 1 else f"bars {bars[0]} to {bars[-1]} are"


def _marked(part: Part) -> list[Event]:
    """Return the events with the marks that words ask for; a new section ends what is said."""
    says = [(words.onset, asked) for words in part.words if (asked := marks_asked(words.text)) is not None]
    says += [(section, frozenset[Mark]()) for section in part.sections]
    says.sort(key=lambda one: (one[0], bool(one[1])))
    slurred = _slurred(part)
    now, at, found = frozenset[Mark](), 0, []
    for event in part.events:
        while at < len(says) and says[at][0] <= event.onset:
            now, at = says[at][1], at + 1
        bare = now and not event.marks & _OF_MANNER and not event.tied and not event.grace and event.id not in slurred
        found.append(replace(event, marks=event.marks | now) if bare else event)
    return found


def _slurred(part: Part) -> set[str]:
    """Return the events under a slur."""
    index = part.index
    return {
        part.events[i].id
        for slur in part.slurs
        if slur.start in index and slur.end in index
        for i in range(index[slur.start], index[slur.end] + 1)
    }


@dataclass(frozen=True, slots=True)
class _Bar:
    """The notes of one bar, and the slurs that begin and end in it by the places of their notes."""

    events: tuple[Event, ...]
    rhythm: tuple[tuple[Fraction, Fraction], ...]
    slurs: tuple[tuple[int, int], ...]

    @property
    def has_manner(self) -> bool:
        """Whether it says anything of its own."""
        return bool(self.slurs) or any(event.marks & _OF_MANNER for event in self.events)


def _bars(part: Part) -> list[_Bar]:
    events: list[list[Event]] = [[] for _ in part.measures]
    for event in part.events:
        events[event.measure].append(event)
    ends = {slur.start: slur.end for slur in part.slurs}
    return [_bar(inside, measure.onset, ends) for inside, measure in zip(events, part.measures, strict=True)]


def _bar(events: Sequence[Event], onset: Fraction, ends: Mapping[str, str]) -> _Bar:
    at = {event.id: n for n, event in enumerate(events)}
    slurs = tuple((n, at[ends[id_]]) for id_, n in at.items() if ends.get(id_) in at)
    return _Bar(tuple(events), tuple((event.onset - onset, event.duration) for event in events), slurs)


def _alike(part: Part, onset: Fraction) -> tuple[Part, list[str]]:
    """Let the manner of the bar before words go on, bar by bar, as long as the rhythm does and nothing is said."""
    at = next((n for n in reversed(range(len(part.measures))) if part.measures[n].onset <= onset), 0)
    inside = _bars(part)
    first = at + 1 if inside[at].has_manner else at
    model = inside[max(first - 1, 0)]
    if not model.has_manner:
        return part, []
    said = {words.onset for words in part.words if words.onset > onset and wording_of(words.text, ()) is not None}
    events, slurs, bars = {event.id: event for event in part.events}, list(part.slurs), list[str]()
    for n in range(first, len(part.measures)):
        measure, bar = part.measures[n], inside[n]
        ends = bar.rhythm != model.rhythm or bar.has_manner
        if ends or any(measure.onset <= place < measure.onset + measure.length for place in said):
            break
        bars.append(measure.number)
        for event, like in zip(bar.events, model.events, strict=True):
            events[event.id] = replace(event, marks=event.marks | (like.marks & _OF_MANNER))
        slurs += [Slur(bar.events[a].id, bar.events[b].id) for a, b in model.slurs]
    return replace(part, events=tuple(events.values()), slurs=tuple(slurs)), bars
