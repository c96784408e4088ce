"""The bands under an engraved line: what each passage is like, as high as it is loud. Lengths in CSS pixels.

Shapes and their classes; looks are in the style sheet. Every handle is a slider for keys and screen readers.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from html import escape
from itertools import pairwise

from pathway.core.guide.speech import Speech
from pathway.core.music import DYNAMIC_LEVELS
from pathway.core.planning import Plan
from pathway.core.planning.wishes import Colour, Passage, TempoChange
from pathway.formats.staves import System
from pathway.web.music.places import name_of, place_of, stretch
from pathway.web.shared.svg import px

_TOP, BANDS_HEIGHT, _BARE = 16.0, 76.0, 30.0  # room for tempi over the bands; all of it; where nothing is asked for
_SOFTEST, _LOUDEST, _RISE = -16.0, 9.0, 20.0  # levels [dB] between which the top of a band rises by so much
_BEFORE = 9.0  # that a band begins before its first note's head
_HANDLE, _REACH = 9.0, 22.0  # radius of a handle, and of where it is taken
LETTER = 7.2  # width of one, about


@dataclass(frozen=True, slots=True)
class Band:
    """What of a passage lies in one line; without a passage: as written."""

    passage: Passage | None
    x0: float
    x1: float
    y: float  # of its top
    level: str
    manner: str
    begins: bool
    ends: bool


class Bands:
    """The bands of a piece."""

    def __init__(self, plan: Plan, passages: Sequence[Passage], say: Speech) -> None:
        self.plan, self.passages, self.say = plan, passages, say
        index = plan.part.index
        self._of = {
            plan.part.events[i].id: passage
            for passage in passages
            for i in range(index[passage.start], index[passage.end] + 1)
        }

    def level_of(self, passage: Passage | None, notes: Sequence[str]) -> float:
        """Return the mean level that is asked for [dB]: of a whole passage, or of some notes."""
        ids = self._ids(passage) if passage else notes
        found = [note.target_db for id_ in ids if (note := self.plan.note[id_]).stroke]
        return sum(found) / len(found) if found else 0.0

    def _ids(self, passage: Passage) -> list[str]:
        index, events = self.plan.part.index, self.plan.part.events
        return [
            event.id for event in events[index[passage.start] : index[passage.end] + 1] if event.id in self.plan.note
        ]

    def manner_of(self, passage: Passage) -> str:
        """Return its stroke types, the two that take most time, and its colour."""
        times: dict[str, float] = {}
        for id_ in self._ids(passage):
            note = self.plan.note[id_]
            if note.stroke:
                kind = self.plan.stroke[note.stroke].kind
                times[kind] = times.get(kind, 0.0) + note.sounding
        kinds = [self.say.manner(kind) for kind in sorted(times, key=lambda kind: -times[kind])[:2]]
        return " · ".join([", ".join(kinds), *([colour] if (colour := colour_words(passage)) else [])])

    def in_line(self, system: System) -> list[Band]:
        """Return the bands of one line."""
        order = self.plan.part.index
        notes = sorted((id_ for id_ in system.notes if id_ in self.plan.note), key=order.__getitem__)
        groups: list[tuple[Passage | None, list[str]]] = []
        for id_ in notes:
            passage = self._of.get(id_)
            if groups and groups[-1][0] is passage:
                groups[-1][1].append(id_)
            else:
                groups.append((passage, [id_]))
        edges = [system.notes[ids[0]].x - _BEFORE for _, ids in groups[1:]] + [system.staff_right]
        x0, found = system.staff_left, []
        for (passage, ids), x1 in zip(groups, edges, strict=False):  # a line of rests has none
            level = self.level_of(passage, ids)
            begins = passage is not None and passage.start in ids
            ends = passage is not None and passage.end in ids
            manner = self.manner_of(passage) if passage else ""
            found.append(Band(passage, x0, x1, _top(level), _dynamic(level), manner, begins, ends))
            x0 = x1
        return found

    def _said_in(self, system: System) -> Iterator[tuple[float, float, str, bool]]:
        """Yield where words over the staff colour the tone: from and to, the words, whether they begin here."""
        events, asks = self.plan.part.events, self.plan.draft.asks
        spans: dict[str, list[int]] = {}
        for i, ask in enumerate(asks):
            for text in ask.words.values() if events[i].id in system.notes else ():
                spans.setdefault(text, []).append(i)
        for text, at in spans.items():
            xs = [system.notes[events[i].id].x for i in at]
            begins = at[0] == 0 or text not in asks[at[0] - 1].words.values()
            yield min(xs) - _BEFORE, max(xs) + _BEFORE, text, begins

    def drawn(self, system: System, tempi: Sequence[TempoChange], factor: float) -> str:
        """Return the picture of one line's bands, with the player's own tempi over them."""
        bands = self.in_line(system)
        marks = [tempo for tempo in tempi if tempo.note in system.notes]
        parts = [_said(*words) for words in self._said_in(system)]
        parts += [_band(self.plan, band) for band in bands]
        parts += [edge for band in bands for edge in _edges(self.plan, band)]
        before = {after.id: one for one, after in pairwise(self.passages)}
        parts += [_handle(before[b.passage.id], b) for b in bands if b.passage and b.begins and b.passage.id in before]
        parts += [_tempo(system.notes[t.note].x, t, factor, place_of(self.plan.part, t.note)) for t in marks]
        height = BANDS_HEIGHT if any(band.passage for band in bands) else _BARE
        return (
            f'<svg class="bands" viewBox="0 0 {system.width:.0f} {height:.0f}" role="group" '
            f'aria-label="Passages under this line">{"".join(parts)}</svg>'
        )


def colour_words(passage: Passage) -> str:
    """Return its colour in words; empty where it is plain throughout."""
    if passage.colour_end and passage.colour_end is not passage.colour:
        return f"{passage.colour.value} → {passage.colour_end.value}"
    return "" if passage.colour is Colour.PLAIN else passage.colour.value


def _top(level: float) -> float:
    share = (min(max(level, _SOFTEST), _LOUDEST) - _SOFTEST) / (_LOUDEST - _SOFTEST)
    return _TOP + _RISE * (1 - share)


def _dynamic(level: float) -> str:
    return min(DYNAMIC_LEVELS, key=lambda name: abs(DYNAMIC_LEVELS[name] - level))


def _band(plan: Plan, band: Band) -> str:
    x, y, width, height = band.x0 + 1, band.y, band.x1 - band.x0 - 2, BANDS_HEIGHT - band.y
    if band.passage is None:
        return f'<rect class="band-none" x="{px(x)}" y="{px(_TOP)}" width="{px(width)}" height="12"/>'
    passage = band.passage
    look = "turning" if passage.colour_end and passage.colour_end is not passage.colour else passage.colour.value
    room = int((width - 30) / LETTER)
    name = escape(_cut(name_of(passage), room))
    where = stretch(plan.part, passage.start, passage.end)
    label = escape(f"{name_of(passage)}, {where.lower()}, {band.level}, {band.manner}", quote=True)
    tail = "" if band.begins else " again"
    manner = f'<text class="band-manner" x="{px(x + 8)}" y="{px(y + 32)}">{escape(_cut(band.manner, room + 4))}</text>'
    return (
        f'<g class="band band-{look}{tail}"><rect x="{px(x)}" y="{px(y)}" width="{px(width)}" height="{px(height)}" '
        f'data-band="{passage.id}" role="button" tabindex="0" aria-label="{label}"/>'
        f'<path class="band-top" d="M{px(x)} {px(y)}h{px(width)}"/>'
        f'<text class="band-name" x="{px(x + 8)}" y="{px(y + 18)}">{name}</text>{manner if band.begins else ""}'
        f'<text class="band-level" x="{px(x + width - 8)}" y="{px(y + 16)}">{band.level}</text></g>'
    )


def _cut(text: str, room: int) -> str:
    """Return a text, or what of it there is room for."""
    return text if len(text) <= room else f"{text[: max(room - 1, 0)]}…" if room > 3 else ""


def _said(x0: float, x1: float, text: str, begins: bool) -> str:
    name = escape(text)
    title = f"{name}{'' if begins else ' goes on'}"
    shown = f'<text x="{px(x0)}" y="10">{name}</text>' if begins else ""
    return f'<g class="said" role="img" aria-label="{title}">{shown}<path d="M{px(x0)} {px(_TOP - 3)}H{px(x1)}"/></g>'


def _edges(plan: Plan, band: Band) -> Iterator[str]:
    if band.passage is None:
        return
    for side, here, x, note in (
        ("start", band.begins, band.x0 + 1, band.passage.start),
        ("end", band.ends, band.x1 - 1, band.passage.end),
    ):
        if here:
            word = "Beginning" if side == "start" else "End"
            label = escape(f"{word} of {name_of(band.passage)}", quote=True)
            yield (
                f'<g class="band-edge" data-edge="{side}" data-passage="{band.passage.id}" data-note="{escape(note)}" '
                f'role="slider" tabindex="0" aria-label="{label}" aria-valuenow="{plan.part.index[note]}" '
                f'aria-valuetext="{escape(place_of(plan.part, note))}">'
                f'<rect class="take" x="{px(x - _REACH)}" y="{px(BANDS_HEIGHT - 40)}" '
                f'width="{2 * _REACH:.0f}" height="40"/>'
                f'<rect class="grip" x="{px(x - 2.5)}" y="{px(BANDS_HEIGHT - 30)}" width="5" height="26" rx="2.5"/></g>'
            )


def _handle(before: Passage, band: Band) -> str:
    after = band.passage
    assert after is not None
    x, y = band.x0, band.y
    names = f"{name_of(before)} to {name_of(after)}"
    return (
        f'<g class="step-handle" data-step="{after.id}" role="slider" tabindex="0" '
        f'aria-label="{escape(f"Step from {names}: up is louder", quote=True)}" '
        f'aria-valuenow="{after.offset_db:g}" aria-valuetext="{band.level}">'
        f'<circle class="take" cx="{px(x)}" cy="{px(y)}" r="{_REACH}"/>'
        f'<circle cx="{px(x)}" cy="{px(y)}" r="{_HANDLE}"/>'
        f'<path d="M{px(x)} {px(y - 5)}v10m-3 -7l3 -3l3 3m-6 4l3 3l3 -3"/></g>'
    )


def _tempo(x: float, tempo: TempoChange, factor: float, place: str) -> str:
    beats = round(tempo.beats_per_minute * factor)
    label = escape(f"Tempo {beats} from {place}; open")
    return (
        f'<g class="tempo-own"><rect class="take" x="{px(x - _REACH)}" y="-8" width="{2 * _REACH:.0f}" height="24" '
        f'data-tempo="{escape(tempo.note, quote=True)}" role="button" tabindex="0" aria-label="{label}"/>'
        f'<text x="{px(x - 6)}" y="11">♩ {beats}</text></g>'
    )
