"""What the pages of takes show."""

from dataclasses import dataclass
from urllib.parse import urlencode

from pathway.core.guide.takes import ABOUT
from pathway.core.practice.drill import Ask
from pathway.core.takes.summary import Look
from pathway.desk.taking import Heard
from pathway.formats.staves import System
from pathway.store.takes import StoredTake
from pathway.web.shared.reading import signed
from pathway.web.shared.tracks.geometry import SIGNS, PlanIndex, tracks_of
from pathway.web.shared.tracks.look import Look as SheetLook
from pathway.web.shared.tracks.svg import draw_tracks
from pathway.web.takes.pictures import with_take

PLAIN = SheetLook(lanes=False, strings=False)


@dataclass(frozen=True, slots=True)
class TakeLine:
    """One take in the list."""

    id: int
    name: str
    when: str
    long: str


@dataclass(frozen=True, slots=True)
class HeardLine:
    """One engraved line with the take under it."""

    number: int
    engraved: str
    tracks: str
    signs: str


def line_of(take: StoredTake) -> TakeLine:
    """Return a take as the list shows it."""
    return TakeLine(
        take.id, take.name or "Take", f"{take.begun.astimezone():%a %-d %b, %H:%M}", f"{take.seconds:.0f} s"
    )


class HeardView:
    """A take as its page shows it."""

    def __init__(self, found: Heard, systems: tuple[System, ...], other: Heard | None = None) -> None:
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
            tracks = tracks_of(index, system, n, look=PLAIN)
            drawn = with_take(draw_tracks(tracks), tracks, heard, self.other.heard if self.other else None)
            found.append(HeardLine(n, system.svg, drawn, f"{100 * SIGNS / system.width:.2f}"))
        return found

    @property
    def looks(self) -> list[tuple[str, str, str]]:
        """Return what is worth a look, the most first: in words, its first note, its drill."""
        told = self.found.told
        looks = ([told.look] if told.look else []) + list(told.others)
        return [(look.text, look.notes[0] if look.notes else "", self._drill(look)) for look in looks]

    def _drill(self, look: Look) -> str:
        if look.drill is None:
            return ""
        return "/practise/drill?" + urlencode({"piece": self.found.take.piece, "drill": _key(look.drill)})

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


def _key(ask: Ask) -> str:
    return ask.key
