"""What a player would pencil into the part: words of passages, strings, where on the hair a phrase begins."""

from collections.abc import Iterator
from html import escape

from pathway.core.guide.speech import Speech
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.phrases import phrases_of
from pathway.core.planning.plan import Plan
from pathway.formats.staves import System
from pathway.web.shared.svg import path, px, text
from pathway.web.shared.tracks.geometry import SIGN_ABOVE, SIGNS, Tracks

WORD_ABOVE, STRING_BESIDE, LEAST_Y = 25.0, 9.0, 9.0  # of a word over the sign, of a letter beside it, from the top [px]
_BEFORE, _BEFORE_TEMPO, _NEAR = (
    10.0,
    6.0,
    90.0,
)  # of a word from its sign, from a tempo; of one that it could touch [px]
SMALL_BOW = 30.0  # length of the bow that shows where a phrase begins [px]


def with_pencil(drawn: str, tracks: Tracks, system: System, plan: Plan, say: Speech) -> str:
    """Return a drawn line with what would be pencilled into it."""
    parts = [*_words(system, plan), *_strings(system, plan), *_arrivals(tracks, system, plan, say)]
    return drawn.removesuffix("</svg>") + "".join(parts) + "</svg>"


def _words(system: System, plan: Plan) -> Iterator[str]:
    for passage in plan.draft.settings.passages:
        spot = system.notes.get(passage.start)
        if spot is not None and passage.character:
            y = SIGNS + spot.top - WORD_ABOVE
            over = y >= LEAST_Y  # there is room over the sign; else the word stands before it
            tempi = [at for at in system.tempos if spot.x - _NEAR < at < spot.x]
            left = min([spot.x - _BEFORE, *(at - _BEFORE_TEMPO for at in tempi)])
            x, y, anchor = (spot.x - 6, y, "start") if over else (left, SIGNS + spot.top - SIGN_ABOVE + 4, "end")
            at = f'x="{px(x)}" y="{px(max(y, LEAST_Y))}" text-anchor="{anchor}"'
            yield f'<text class="pencil-word" {at}>{escape(passage.character)}</text>'


def _strings(system: System, plan: Plan) -> Iterator[str]:
    """Yield the letters of strings where a reader would take another one, once for each run of notes."""
    strings, before = plan.rig.instrument.strings, None
    for note in plan.bowed:
        string = note.lead.string
        told = string != _expected(note, plan) and string != before
        before = string
        spot = system.notes.get(note.id)
        if told and spot is not None:
            x, y = spot.x + STRING_BESIDE, SIGNS + spot.top - SIGN_ABOVE + 4
            yield text(x, y, strings[string].letter, "pencil-string")


def _expected(note: NotePlan, plan: Plan) -> int:
    """Return the string that a note lies on in the lowest position."""
    fits = [n for n, string in enumerate(plan.rig.instrument.strings) if string.midi <= note.lead.midi]
    return max(fits, default=0)


def _arrivals(tracks: Tracks, system: System, plan: Plan, say: Speech) -> Iterator[str]:
    """Yield where on the hair phrases begin: on the ribbon, or on a small bow where there is none."""
    for stroke in phrases_of(plan):
        spot = system.notes.get(stroke.notes[0])
        if spot is None:
            continue
        share, told = stroke.start / plan.rig.bow.hair, say.length(stroke.start).number
        if tracks.hair:
            y = tracks.hair_top + share * tracks.hair
            beside = y - 8 if share > 0.2 else y + 16
            yield f'<circle class="pencil-ring" cx="{px(spot.x)}" cy="{px(y)}" r="4.5"/>'
            yield text(spot.x, beside, told, "pencil-place")
        else:
            x, y = spot.x - 4, tracks.hair_top + 4
            yield path("pencil-bow", f"M{px(x)} {px(y - 3)}v6M{px(x)} {px(y)}h{px(SMALL_BOW)}")
            yield f'<circle class="pencil-dot" cx="{px(x + share * SMALL_BOW)}" cy="{px(y)}" r="2.6"/>'
            yield text(x + SMALL_BOW + 10, y + 3.5, told, "pencil-place")
