"""What the station Tone shows: the tone map of a note, and how even the plan sounds."""

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from pathway.core.guide.speech import GRAMS_PER_NEWTON, PLAIN, Speech
from pathway.core.music import pitch_name
from pathway.core.physics.string import AIRY, PRESSED, SoundingString, force_window
from pathway.core.planning import Plan
from pathway.core.planning.advice.balance import Balance, balance_of
from pathway.core.planning.advice.symptoms import Heard
from pathway.core.planning.note_plan import NotePlan
from pathway.core.sound import playable
from pathway.core.sound.otherwise import with_symptom
from pathway.core.sound.seen import seen_in
from pathway.store import StoredPiece
from pathway.web.shared.axes import ForceAxis, PlaceAxis
from pathway.web.shared.reading import signed
from pathway.web.shared.seen import seen_picture, seen_words
from pathway.web.shared.svg import px, text
from pathway.web.shared.way import Station, way_of

_WIDTH, _HEIGHT = 620.0, 380.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 52.0, 600.0, 16.0, 336.0
_LEAST, _MOST = 0.03, 20.0  # of the force axis [N]
KINDS = {
    "direction": "Down and up", "string": "Strings", "third": "Parts of the bow", "passage": "Passages",
    "voice": "Second voices",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Bar:
    """One group of notes on the balance chart."""

    name: str
    off: str
    x: float  # of the bar's left edge, the chart being 200 wide with its zero in the middle
    width: float
    far: bool
    accents: str


class ToneView:
    """The tone of one piece, and of one note in it."""

    def __init__(self, piece: StoredPiece, plan: Plan, note: str | None, say: Speech = PLAIN) -> None:
        self.piece, self.plan, self.say = piece, plan, say
        chosen = plan.note.get(note or piece.last_note or "")
        self.note: NotePlan = chosen if chosen is not None and chosen.stroke else plan.bowed[0]

    @property
    def way(self) -> list[Station]:
        """Return the path."""
        return way_of(self.piece.id, self.plan, "Tone")

    @property
    def title(self) -> str:
        """Return which note lies on the map."""
        note, lead = self.note, self.note.lead
        string = self.plan.rig.instrument.strings[lead.string].letter
        return f"{note.where.capitalize()}: {pitch_name(lead.midi)} on {string}"

    @cached_property
    def _string(self) -> SoundingString:
        lead, instrument = self.note.lead, self.plan.rig.instrument
        return SoundingString.of(
            instrument, lead.string, 12 * math.log2(instrument.length / lead.vibrating), lead.loops
        )

    @property
    def map(self) -> str:
        """Return the tone map: weight against place at the note's speed, with its point to be moved."""
        note, y = self.note, ForceAxis(_LEAST, _MOST, _TOP, _BOTTOM).y
        axis = PlaceAxis(max(self._string.furthest, note.lead.beta), _LEFT, _RIGHT)
        betas = axis.places(40)
        windows = [force_window(note.speed, beta, self._string) for beta in betas]

        def line(place: float) -> str:
            return " ".join(
                f"{px(axis.x(b))},{px(y(float(w.force(place))))}" for b, w in zip(betas, windows, strict=True)
            )

        upper, lower = line(1.0), line(0.0)
        clean = f"{line(PRESSED)} {' '.join(reversed(line(AIRY).split()))}"
        edges = [axis.x(float(edge)) for edge in self._string.lane_edges()]
        lanes = "".join(f"M{px(x)} {_TOP}V{_BOTTOM}" for x in edges)
        names = "".join(
            text((a + b) / 2, _BOTTOM + 16, str(n), "middle") for n, (a, b) in enumerate(pairwise(edges), start=1)
        )
        weights = [g / GRAMS_PER_NEWTON for g in (5, 20, 50, 100, 300, 1000)]
        told = "".join(text(6, y(weight) + 4, str(self.say.weight(weight))) for weight in weights)
        return (
            f'<svg class="picture tone-map" data-picture="map" viewBox="0 0 {_WIDTH:.0f} {_HEIGHT:.0f}" role="img" '
            f'aria-label="The tone map" data-left="{_LEFT}" data-right="{_RIGHT}" data-top="{_TOP}" '
            f'data-bottom="{_BOTTOM}" data-least="{_LEAST}" data-most="{_MOST}" '
            f'data-others="{note.force - note.lead.force:.4f}">'
            f'<polygon class="window-area" points="{clean}"/><path class="lane" d="{lanes}"/>'
            f'<polyline class="limit-upper" points="{upper}"/><polyline class="limit-lower" points="{lower}"/>'
            f"{names}{told}{text(_LEFT, _HEIGHT - 6, 'fingerboard')}{text(_RIGHT - 40, _HEIGHT - 6, 'bridge')}"
            f'<circle data-point class="point" cx="{px(axis.x(note.lead.beta))}" cy="{px(y(note.lead.force))}" r="9"/>'
            "</svg>"
        )

    @property
    def words(self) -> str:
        """Return the point in words."""
        note, lead = self.note, self.note.lead
        off = note.level_db - note.target_db
        return (
            f"{self.say.speed(note.speed)}, {self.say.length(note.contact, 1)} from the bridge (lane {note.lane}), "
            f"{self.say.weight(lead.force)}: {100 * lead.place:.0f} % up the window, "
            f"{signed(off, 1)} dB against what is asked, {signed(note.brightness, 2)} octaves of brightness."
        )

    @property
    def seen(self) -> list[tuple[str, str, str, str]]:
        """Return the string under the bow as planned, too light and too heavy: name, picture, words, what it sounds."""
        found = []
        for name, heard in (("as planned", None), ("too light", Heard.BREATHY), ("too heavy", Heard.GRATING)):
            plan = with_symptom(self.plan, self.note.id, heard) if heard else self.plan
            seen = seen_in(playable(plan), self.note.id)
            found.append((name, seen_picture(seen, name), seen_words(seen), heard.value if heard else ""))
        return found

    @cached_property
    def _balance(self) -> Balance:
        return balance_of(self.plan)

    @property
    def charts(self) -> list[tuple[str, list[Bar]]]:
        """Return the balance by directions, strings, parts of the bow, passages and voices."""
        found = []
        for kind, title in KINDS.items():
            groups = [group for group in self._balance.groups if group.kind == kind]
            bars = []
            for group in groups:
                length = min(abs(group.off_db) * 16, 98)
                x = 100 - length if group.off_db < 0 else 100
                accents = f"accents {signed(group.attack_db, 1)} dB" if group.attack_db is not None else ""
                off = f"{signed(group.off_db, 1)} dB"
                bars.append(
                    Bar(f"{group.name} ({group.notes})", off, x, max(length, 1), abs(group.off_db) > 2, accents)
                )
            if bars:
                found.append((title, bars))
        return found

    @property
    def worst(self) -> list[tuple[str, str]]:
        """Return the notes furthest from what is asked, with their ids."""
        found = []
        for id_ in self._balance.worst:
            note = self.plan.note[id_]
            off = f"{signed(note.level_db - note.target_db, 1)} dB"
            found.append((id_, f"{note.where.capitalize()}: {off}"))
        return found

    @property
    def spread(self) -> str:
        """Return how far the notes scatter."""
        return f"{self.plan.totals.spread_db:.1f} dB"
