"""From a take to the plan: what the player may take over, each with what it would change. Only from what is known."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise

import numpy as np

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.guide.takes import accents_text, answer_text, rate_text, stretch_text, tempo_text
from pathway.core.planning.edits import Edit, What
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import StrokePlan
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import OneBow, Rig
from pathway.core.takes.listening import Listened
from pathway.core.takes.words import Word
from pathway.core.technique.stroke_types import STROKE_TYPES

_SAME_TEMPO = 0.03  # nearer to the plan's it is the same
LEAST_GAPS, OTHER_RATE = 6, 0.08  # of a staccato in one bow: notes apart, and how far off the asked rate
LEAST_THIN, FALLEN = 2, 3.0  # notes that thin out towards one end of the bow; where they have lost so much [dB]
_OUTER, _LEAST_HAIR = 0.6, 0.5  # of the hair: towards the tip, and what stays usable

Change = Callable[[Rig], Rig]


@dataclass(frozen=True)
class Proposal:
    """One thing to take over, of one of three kinds."""

    key: str
    text: str
    tempo: float | None = None  # [beats a minute]
    edit: Edit | None = None
    rig: Change | None = None


def proposals(
    heard: Listened, strokes: Sequence[StrokePlan], rig: Rig, tempo: float, say: Speech = PLAIN
) -> list[Proposal]:
    """Return what of a take the plan may take over.

    Args:
        heard: in the take.
        strokes: of its plan.
        rig: that it is planned on.
        tempo: that it is planned at [beats a minute].
        say: how the player is told lengths.
    """
    return [
        *_tempo(heard, tempo),
        *_answers(heard, rig),
        *_accents(heard, strokes),
        *_rates(heard, strokes),
        *_stretch(heard, rig, say),
    ]


def _tempo(heard: Listened, tempo: float) -> Iterator[Proposal]:
    if abs(heard.tempo - 1) >= _SAME_TEMPO:
        played = round(tempo * heard.tempo)
        yield Proposal("tempo", tempo_text(played), tempo=played)


def _answers(heard: Listened, rig: Rig) -> Iterator[Proposal]:
    """A string that is louder than the others, or softer, than planned."""
    letters = [string.letter for string in rig.instrument.strings]
    for group in heard.groups:
        if group.kind == "string" and group.told:
            string, by = letters.index(group.name), round(2 * group.mean) / 2
            yield Proposal(
                f"answer-{string}", answer_text(group.name, by), rig=partial(with_answer, string=string, by=by)
            )


def with_answer(rig: Rig, string: int, by: float) -> Rig:
    """Return a rig one string of which answers louder [dB]."""
    strings = list(rig.instrument.strings)
    strings[string] = replace(strings[string], answer=strings[string].answer + by)
    return replace(rig, instrument=replace(rig.instrument, strings=tuple(strings)))


def _accents(heard: Listened, strokes: Sequence[StrokePlan]) -> Iterator[Proposal]:
    """Accents that come out on one bow only, where some of them are on the other."""
    group = next((group for group in heard.groups if group.kind == "accents" and group.told), None)
    if group is None:
        return
    strong = Direction.DOWN if group.mean > 0 else Direction.UP
    accented = {note.id for note in heard.planned.notes if note.pulse_db > 0}
    weak = [s.notes[0] for s in strokes if s.notes[0] in accented and s.direction is not strong and not s.locked]
    if weak:
        edit = Edit(What.DIRECTION, tuple(weak), strong.name.lower())
        yield Proposal("accents", accents_text(strong.word, len(weak)), edit=edit)


def _rates(heard: Listened, strokes: Sequence[StrokePlan]) -> Iterator[Proposal]:
    """A staccato in one bow that was played at another rate than asked, on one of the bows."""
    kinds = {stroke.id: stroke for stroke in strokes if STROKE_TYPES[stroke.kind].one_bow}
    for way in (Direction.DOWN, Direction.UP):
        played, asked = list[float](), list[float]()
        for one, after in pairwise(heard.rows):
            a, b = heard.planned.notes[one.note], heard.planned.notes[after.note]
            if after.note == one.note + 1 and a.stroke == b.stroke and _on(kinds, a, way):
                played.append(after.onset - one.onset)
                asked.append((b.onset - a.onset) / heard.tempo)
        if len(played) < LEAST_GAPS:
            continue
        rate, wanted = 1 / float(np.median(played)), 1 / float(np.median(asked))
        if abs(rate / wanted - 1) > OTHER_RATE:
            yield Proposal(
                f"rate-{way.name.lower()}",
                rate_text(way.word, rate, wanted),
                rig=partial(with_rate, way=way, rate=round(rate, 1)),
            )


def _on(kinds: dict[str, StrokePlan], note: NotePlan, way: Direction) -> bool:
    stroke = kinds.get(note.stroke or "")
    return stroke is not None and stroke.direction is way


def with_rate(rig: Rig, way: Direction, rate: float) -> Rig:
    """Return a rig whose player's staccato in one bow has a rate of its own [1/s]."""
    mine = OneBow(rate, rig.one_bow(way).stretch)
    other = rig.one_bow(way.other)
    return replace(rig, staccato=(mine, other) if way is Direction.DOWN else (other, mine))


def _stretch(heard: Listened, rig: Rig, say: Speech) -> Iterator[Proposal]:
    """Hair at the tip on which the tone thins out."""
    places = []
    for row in heard.rows:
        note = heard.planned.notes[row.note]
        if Word.THIN in row.words and note.end > note.start and note.end > _OUTER * rig.bow.hair:
            share = min(1.0, FALLEN / max(-row.slope, FALLEN))
            places.append(note.start + share * (note.end - note.start))
    if len(places) < LEAST_THIN:
        return
    last = max(float(np.median(places)), _LEAST_HAIR * rig.bow.hair)
    if last < rig.usable[1]:
        yield Proposal("stretch", stretch_text(last, len(places), say), rig=partial(with_last_hair, last=last))


def with_last_hair(rig: Rig, last: float) -> Rig:
    """Return a rig whose hair is used up to a place only [m]."""
    return rig.with_hair(rig.usable[0], last)
