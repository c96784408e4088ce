"""What is asked of every note beyond its own signs: by words over the staff, then by passages, which win."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pathway.core.music import Part
from pathway.core.planning.wish_checks import checked_passages
from pathway.core.planning.wishes import BY_METER, Passage, Profile, Settings, Stress, Style
from pathway.core.rig.instrument import Instrument
from pathway.core.technique.chords import Form
from pathway.core.technique.double_stops import Leading
from pathway.core.technique.notation import Half, Where, Wording, wording_of

MUTED = -5.0  # level of a muted string [dB]


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
    lead: Leading = Leading.TOP
    chords: Form = Form.PAIRS
    passage: int | None = None  # index in the order of the music
    first_bar: int = 0  # of the passage, for bars in groups


NOTHING = Ask()


def asks_of(part: Part, settings: Settings, instrument: Instrument) -> list[Ask]:
    """Return what is asked of every event of a part.

    Raises:
        PlanError, OutOfRange: passages that cannot be.
    """
    letters = [string.letter for string in instrument.strings]
    passages = checked_passages(part, settings.passages, len(letters))
    asks = _by_words(part, letters, Ask(style=settings.style))
    for number, passage in enumerate(passages):
        _put(part, passage, number, asks)
    return asks


def _by_words(part: Part, letters: Sequence[str], plain: Ask) -> list[Ask]:
    wordings = [(words.onset, wording_of(words.text, letters)) for words in part.words]
    waiting = [(onset, wording) for onset, wording in wordings if wording is not None]
    now, asks = plain, []
    for event in part.events:
        while waiting and waiting[0][0] <= event.onset:
            now = _reworded(now, waiting.pop(0)[1], len(letters))
        asks.append(now)
    return asks


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
            offset_db=ask.offset_db + passage.offset_db,
            string=passage.string if passage.string is not None else ask.string,
            style=passage.style or ask.style,
            profile=passage.profile,
            stress=passage.stress,
            gap=passage.gap,
            keep_back=passage.keep_back if i == last else None,
            lead=passage.lead or ask.lead,
            chords=passage.chords or ask.chords,
            passage=number,
            first_bar=part.events[first].measure,
        )
