"""What is asked of every note beyond its own signs: by words over the staff, then by passages, which win."""

import math
from bisect import bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from itertools import pairwise

from pathway.core.music import DYNAMIC_LEVELS, Part, TempoMark
from pathway.core.planning.wish_checks import checked_passages
from pathway.core.planning.wishes import BY_METER, Passage, Profile, Role, Settings, Stress, Style, Vibrato
from pathway.core.rig.bow import EARLY_HOLDS
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.notation import Half, Where, Wording, wording_of

MUTED = -5.0  # level of a muted string [dB]
COLOUR, PLACE = "colour", "place"  # what words over the staff may colour
STEPS_AWAY = 2  # dynamics further from the one a word stood at end it
_SAME_TEMPO = 0.08  # marks nearer to each other are no new tempo [1]
SOFT_PACE, FOCUSED_PACE = math.log(1.15), math.log(0.9)  # of the habitual speed, for a whole step of colour [ln]
ROLE_PACE = {None: 0.0, Role.LEADS: math.log(0.95), Role.BLENDS: math.log(1.08)}  # likewise, our choice
PLAIN_PACES = (0.0, 0.0)
ROLE_DB = {None: 0.0, Role.LEADS: 2.0, Role.BLENDS: -2.0}  # our choice
_LADDER = tuple(DYNAMIC_LEVELS.values())


@dataclass(frozen=True, slots=True)
class Ask:
    """What is asked of one note."""

    kind: str | None = None
    by_passage: bool = False  # the kind, rather than by a word
    colour: float = 0.0  # −1 soft to 1 focused, as it begins
    colour_end: float = 0.0
    offset_db: float = 0.0
    where: Where = Where.USUAL
    half: Half = Half.ANY
    muted: bool = False
    string: int | None = None  # wished for, 0 the lowest
    style: Style = Style.MODERN
    profile: Profile | None = None
    stress: Stress = BY_METER
    gap: float | None = None
    keep_back: float | None = None  # only on a passage's last note [m]
    lead: Leading | None = None  # the usual one
    chords: Form = Form.PAIRS
    passage: int | None = None  # index in the order of the music
    first_bar: int = 0  # of the passage, for bars in groups
    words: Mapping[str, str] = field(default_factory=dict)  # over the staff that colour the tone here, as printed
    rebounds: bool = False  # dots let the bow rebound, as early bows do by themselves
    role: Role | None = None  # its level is in the offset already
    vibrato: Vibrato | None = None

    @property
    def paces(self) -> tuple[float, float]:
        """Return by how much it is faster than habit as it begins and as it ends [ln]: the place follows the speed."""
        if self.role is None and not (self.colour or self.colour_end):
            return PLAIN_PACES
        by_role = ROLE_PACE[self.role]
        return pace_of(self.colour) + by_role, pace_of(self.colour_end) + by_role


def pace_of(colour: float) -> float:
    """Return by how much a colour, −1 soft to 1 focused, is faster than habit [ln]."""
    return FOCUSED_PACE * colour if colour > 0 else -SOFT_PACE * colour


NOTHING = Ask()


def asks_of(part: Part, settings: Settings, rig: Rig) -> list[Ask]:
    """Return what is asked of every event of a part.

    Raises:
        PlanError, OutOfRange: passages that cannot be.
    """
    letters = [string.letter for string in rig.instrument.strings]
    passages = checked_passages(part, settings.passages, len(letters))
    asks = _by_words(part, letters, Ask(style=settings.style, rebounds=rig.hold.name in EARLY_HOLDS))
    for number, passage in enumerate(passages):
        _put(part, passage, number, asks)
    return asks


def _by_words(part: Part, letters: Sequence[str], plain: Ask) -> list[Ask]:
    wordings = [(words, wording_of(words.text, letters)) for words in part.words]
    waiting = [(words, wording) for words, wording in wordings if wording is not None]
    ends = _Ends(part)
    now, asks = plain, []
    since: dict[str, Fraction] = {}  # from where the words for a colour and for a place hold
    for event in part.events:
        for what in [what for what, onset in since.items() if ends.over(what, onset, event.onset)]:
            del since[what]
            now = _without(now, what)
        while waiting and waiting[0][0].onset <= event.onset:
            words, wording = waiting.pop(0)
            now = _reworded(now, wording, len(letters))
            for what, said in ((COLOUR, wording.soft), (PLACE, wording.where)):
                if said is None:
                    continue
                now = _without(now, what) if not said or said is Where.USUAL else _said(now, what, words.text)
                since.pop(what, None)
                if what in now.words:
                    since[what] = words.onset
        asks.append(now)
    return asks


class _Ends:
    """Where the words that colour a tone end by themselves: a new section or tempo; a dynamic two steps away, too."""

    def __init__(self, part: Part) -> None:
        tempi = [mark for before, mark in pairwise(part.tempos) if _another(before, mark)]
        self._sections = sorted({*part.sections, *(mark.onset for mark in tempi)})
        marks = [dynamic for dynamic in part.dynamics if dynamic.level_db is not None]
        self._onsets = [mark.onset for mark in marks]
        self._steps = [_step(mark.level_db or 0.0) for mark in marks]

    def over(self, what: str, since: Fraction, now: Fraction) -> bool:
        """Whether what has been said somewhere holds no longer."""
        if bisect_right(self._sections, now) > bisect_right(self._sections, since):
            return True
        first, last = bisect_right(self._onsets, since), bisect_right(self._onsets, now)
        if what != COLOUR or not last:
            return False
        return abs(self._steps[last - 1] - self._steps[max(first - 1, 0)]) >= STEPS_AWAY


def _step(level_db: float) -> int:
    """Return which step of the ladder of dynamics lies nearest to a level."""
    return min(range(len(_LADDER)), key=lambda step: abs(_LADDER[step] - level_db))


def _another(before: TempoMark, mark: TempoMark) -> bool:
    """Whether a tempo mark is another tempo, and not the same one once more."""
    return abs(mark.quarters_per_minute - before.quarters_per_minute) > _SAME_TEMPO * before.quarters_per_minute


def _said(ask: Ask, what: str, text: str) -> Ask:
    return replace(ask, words={**ask.words, what: text})


def _without(ask: Ask, what: str) -> Ask:
    """Return what is asked once the words for a colour or a place are over."""
    words = {name: text for name, text in ask.words.items() if name != what}
    if what == COLOUR:
        return replace(ask, words=words, colour=0.0, colour_end=0.0)
    return replace(ask, words=words, where=Where.USUAL)


def _reworded(ask: Ask, wording: Wording, strings: int) -> Ask:
    changes: dict[str, object] = {}
    if wording.kind is not None:
        changes["kind"] = wording.kind or None
    if wording.where is not None:
        changes["where"] = wording.where
    if wording.half is not None:
        changes["half"] = wording.half
    if wording.muted is not None:
        changes |= {"muted": wording.muted, "offset_db": MUTED if wording.muted else 0.0}
    if wording.soft is not None:
        changes["colour"] = changes["colour_end"] = -1.0 if wording.soft else 0.0
    if wording.string is not None:
        changes["string"] = strings - wording.string if 0 < wording.string <= strings else None
    return replace(ask, **changes)  # type: ignore[arg-type]


def _put(part: Part, passage: Passage, number: int, asks: list[Ask]) -> None:
    """Lay a passage over the notes it covers."""
    first, last = part.index[passage.start], part.index[passage.end]
    begin, end = part.events[first].place, part.events[last].until
    opening = passage.colour.amount
    closing = passage.colour_end.amount if passage.colour_end else opening

    def colour(at: float) -> float:
        return opening + (closing - opening) * (at - begin) / max(end - begin, 1e-9)

    for i in range(first, last + 1):
        event, ask = part.events[i], asks[i]
        asks[i] = replace(
            ask,
            kind=passage.kind or ask.kind,
            by_passage=passage.kind is not None,
            colour=colour(event.place),
            colour_end=colour(event.until),
            offset_db=ask.offset_db + passage.offset_db + ROLE_DB[passage.role],
            string=passage.string if passage.string is not None else ask.string,
            style=passage.style or ask.style,
            profile=passage.profile,
            stress=passage.stress,
            gap=passage.gap,
            keep_back=passage.keep_back if i == last else None,
            lead=passage.lead or ask.lead,
            chords=passage.chords or ask.chords,
            role=passage.role,
            vibrato=passage.vibrato,
            passage=number,
            first_bar=part.events[first].measure,
        )
