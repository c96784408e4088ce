"""What the pages of takes show."""

from collections.abc import Sequence
from dataclasses import dataclass
from urllib.parse import urlencode

import numpy as np

from pathway.core.guide.takes import ABOUT
from pathway.core.takes import MeasuredNote
from pathway.core.takes.summary import WorthALook
from pathway.core.takes.words import symptoms_of
from pathway.desk.taking import HeardTake
from pathway.formats.staves import System
from pathway.store.takes import Figures, StoredTake
from pathway.web.shared.reading import signed
from pathway.web.shared.tracks.geometry import SIGNS, PlanIndex, tracks_of
from pathway.web.shared.tracks.look import Look
from pathway.web.shared.tracks.svg import draw_tracks
from pathway.web.takes.pictures import draw_trend, with_take

LEAST_GAP = 0.03  # that is told [s]
_PLAIN = Look(lanes=False, strings=False)


@dataclass(frozen=True, slots=True)
class TakeLine:
    """One take in the list."""

    id: int
    name: str
    when: str
    long: str
    told: str


@dataclass(frozen=True, slots=True)
class HeardLine:
    """One engraved line with the take under it."""

    number: int
    engraved: str
    tracks: str
    signs: str


def line_of(take: StoredTake) -> TakeLine:
    """Return a take as the list shows it."""
    when, long = f"{take.begun.astimezone():%a %-d %b, %H:%M}", f"{take.seconds:.0f} s"
    return TakeLine(take.id, take.name or "Take", when, long, _told(take.figures))


def _told(figures: Figures | None) -> str:
    """Return what was heard in a take, in a line; nothing before it was listened to."""
    if figures is None:
        return "not listened to yet"
    said = len(figures.said)
    words = f"{said} note{'s' * (said != 1)} with a word"
    bows = (
        ""
        if figures.down_db is None
        else f" · down against up {signed(figures.down_db, 1)} ± {figures.error_db:.1f} dB"
    )
    return f"{figures.found} of {figures.count} found · {words}{bows}"


def trends_of(takes: Sequence[StoredTake]) -> list[tuple[str, str]]:
    """Return what changes over the takes that were listened to, drawn, by name; nothing from fewer than two."""
    known = [take.figures for take in reversed(takes) if take.figures is not None]
    bows = [(f.down_db, f.error_db or 0.0) for f in known if f.down_db is not None]
    found = [("Down against up, in dB", draw_trend("Down against up", bows, "dB"))] if len(bows) > 1 else []
    said = sorted({word for figures in known for word in figures.counts})
    for word in said if len(known) > 1 else ():
        shares = [(100 * figures.counts[word] / max(figures.found, 1), 0.0) for figures in known]
        found.append((f"{word[0].upper()}{word[1:]}, of a hundred notes", draw_trend(word, shares, "of a hundred")))
    return found


class HeardView:
    """A take as its page shows it."""

    def __init__(self, found: HeardTake, systems: tuple[System, ...], other: HeardTake | None = None) -> None:
        self.found, self._systems, self.other = found, systems, other

    @property
    def lines(self) -> list[HeardLine]:
        """Return the lines in which something was played."""
        index, heard = PlanIndex(self.found.plan), self.found.heard
        played = set(heard.of)
        found = []
        for n, system in enumerate(self._systems):
            if played.isdisjoint(system.notes):
                continue
            tracks = tracks_of(index, system, n, look=_PLAIN)
            drawn = with_take(draw_tracks(tracks), tracks, heard, self.other.heard if self.other else None)
            found.append(HeardLine(n, system.svg, drawn, f"{100 * SIGNS / system.width:.2f}"))
        return found

    @property
    def looks(self) -> list[tuple[str, str, str]]:
        """Return what is worth a look, the most first: in words, its notes, its drill."""
        told = self.found.told
        looks = ([told.look] if told.look else []) + list(told.others)
        return [(look.text, " ".join(look.notes), self._drill(look)) for look in looks]

    def _drill(self, look: WorthALook) -> str:
        if look.drill is None:
            return ""
        return "/practise/drill?" + urlencode({"piece": self.found.take.piece, "drill": look.drill.key})

    @property
    def compared(self) -> list[tuple[str, str, str]]:
        """Return this take beside the other one, in figures; nothing without another."""
        if self.other is None:
            return []
        pair = self.found.heard, self.other.heard
        bows = [next((g for g in one.groups if g.kind == "direction"), None) for one in pair]
        told = [f"{signed(g.mean, 1)} ± {g.error:.1f} dB" if g else "not known" for g in bows]
        words = [str(sum(one.words.values())) for one in pair]
        tempo = [f"{100 * one.tempo:.0f} %" for one in pair]
        cents = [f"{one.cents:.0f} cents" if one.cents == one.cents else "not known" for one in pair]
        names = ("down against up", "notes with a word", "tempo against the plan", "pitch against the plan")
        rows = zip(names, (told, words, tempo, cents), strict=True)
        return [(name, mine, other) for name, (mine, other) in rows]

    @property
    def hints(self) -> list[tuple[str, str]]:
        """Return what the words that were said may come from."""
        return [(word.value, ABOUT[word.value]) for word in self.found.heard.words if word.value in ABOUT]

    @property
    def times(self) -> list[list[object]]:
        """Return when every note was played, for the line that moves."""
        heard = self.found.heard
        return [[heard.planned.notes[row.note].id, round(row.onset, 3), round(row.end, 3)] for row in heard.rows]

    @property
    def sure(self) -> str:
        """Return how sure all this is."""
        return f"{100 * self.found.heard.placed:.0f} % of the notes are surely placed"

    @property
    def left_out(self) -> list[str]:
        """Return the bars between the first and the last that was played of which no note was."""
        planned, played = self.found.heard.planned, {row.note for row in self.found.heard.rows}
        bars = {planned.bars[n] for n in played}
        between = planned.bars[min(played) : max(played) + 1]
        return list(dict.fromkeys(bar for bar in between if bar not in bars))


class OneNote:
    """One note of a take: what was heard of it, and which cause of it may be looked for on the sheet."""

    def __init__(self, found: HeardTake, note: str) -> None:
        row = found.heard.of.get(note)
        self.note = found.plan.bowed_note(note)
        self.piece = found.take.piece
        self.facts = facts_of(row) if row else ["is not heard in this take"]
        self.words = sorted(row.words) if row else []
        self.symptoms = symptoms_of(self.words)
        self.sure = row is not None and row.sure


def facts_of(row: MeasuredNote) -> list[str]:
    """Return what is known of a note, in words; what is not known is left out."""
    found = []
    if np.isfinite(row.off):
        found.append(f"{signed(row.off, 1)} dB against the plan and its like notes")
    if np.isfinite(row.late):
        found.append(f"{abs(1000 * row.late):.0f} ms {'late' if row.late > 0 else 'early'}")
    if np.isfinite(row.cents):
        found.append(f"{signed(row.cents, 0)} cents")
    if np.isfinite(row.slope):
        found.append(f"{signed(row.slope, 1)} dB along it beyond what is planned")
    if row.gap > LEAST_GAP:
        found.append(f"{1000 * row.gap:.0f} ms of silence before the next")
    return found
