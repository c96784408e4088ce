"""What the page of a stroke type shows: words, its motion drawn, its zone and limits on a rig, where it is played."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from pathway.core.guide.descriptions import DESCRIPTIONS
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.guide.working import WORK
from pathway.core.physics.attack import most_catches
from pathway.core.physics.bounce import Bounce
from pathway.core.physics.string import plain_place
from pathway.core.rig.instrument import frequency
from pathway.core.technique.motion import motion_of, usual_rate
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact, StrokeType
from pathway.store import KnownRig, ShelfEntry
from pathway.web.strokes.pictures import motion_picture, zone_picture


@dataclass(frozen=True, slots=True)
class MannerPlayed:
    """Where on the shelf a type is played."""

    piece: int
    title: str
    bars: str


class StrokeView:
    """One stroke type on one rig."""

    def __init__(
        self, kind: StrokeType, known: KnownRig, say: Speech = PLAIN, shelf: Sequence[ShelfEntry] = ()
    ) -> None:
        self.kind, self.known, self.rig, self.say, self._shelf = kind, known, known.rig, say, shelf
        self.words, self.work = DESCRIPTIONS[kind.key], WORK[kind.key]

    def has(self, word: str) -> bool:
        """Whether a word is found in what is said of it."""
        words = self.words
        text = f"{self.kind.name} {words.sounds} {words.written} {words.wrong}".lower()
        return word.strip().lower() in text

    @cached_property
    def zone(self) -> tuple[float, float]:
        """Return where on the hair it is at home [m]."""
        hair, kind = self.rig.bow.hair, self.kind
        if kind.zone is not None:
            return kind.zone[0] * hair, kind.zone[1] * hair
        if kind.contact is Contact.ON:
            return 0.30 * hair, 0.70 * hair
        bounce = Bounce(self.rig.bow, self.rig.instrument.strings[-1].gravity_share)
        find = bounce.sautille_place if kind.key == "sautille" else bounce.spiccato_place
        slow, fast = (float(find(rate)) for rate in self._rates)
        return max(0.0, slow - 0.02), min(hair, fast + 0.02)

    @property
    def _rates(self) -> tuple[float, float]:
        least = self.kind.least_per_second or 3.0
        return least, self.kind.most_per_second or 10.0

    @property
    def zone_words(self) -> str:
        """Return the zone in words."""
        low, high = (self.say.length(place) for place in self.zone)
        tail = ", by rate: further out as it gets faster" if self.kind.bounces else ""
        return f"{low.number} to {high} from the frog on {self.known.name}{tail}."

    @property
    def limits(self) -> list[str]:
        """Return its limits on the rig."""
        kind, found = self.kind, []
        if kind.most_per_second:
            found.append(f"Up to {kind.most_per_second:g} notes a second.")
        if kind.least_per_second:
            found.append(f"From {kind.least_per_second:g} notes a second.")
        if kind.catch:
            low, high = self._catches
            if low < (kind.most_per_second or 99) - 0.1:
                letter = self.rig.instrument.strings[0].letter
                found.append(f"The {letter} string lets go of {low:.1f} catches a second, the highest of {high:.1f}.")
        if kind.hair_a_note:
            least, most = (self.say.length(length, 1) for length in kind.hair_a_note)
            found.append(f"{least.number.removesuffix('.0')} to {str(most).replace('.0 ', ' ')} of hair a note.")
        if kind.gap:
            found.append(f"Silent for {100 * kind.gap:.0f} % of each note.")
        found.append(f"Tilt about {kind.tilt_deg:g}°.")
        return found

    @property
    def _catches(self) -> tuple[float, float]:
        """Catches a second that the lowest and the highest string take."""
        instrument = self.rig.instrument

        def most(i: int) -> float:
            pitch = frequency(instrument.strings[i].midi)
            return most_catches(plain_place(instrument, i), pitch, self.kind.catch, max(self.kind.gap, 0.05))

        return most(0), most(len(instrument.strings) - 1)

    @property
    def motion(self) -> str:
        """Return its motion, drawn."""
        return motion_picture(motion_of(self.kind))

    @property
    def rate(self) -> str:
        """Return the rate the motion is drawn at."""
        return f"{usual_rate(self.kind):.1f}"

    @property
    def zone_drawn(self) -> str:
        """Return its zone on the bow, drawn."""
        return zone_picture(self.zone, self.rig.bow.hair)

    @property
    def neighbours(self) -> list[tuple[str, StrokeType]]:
        """Return what it becomes faster, and softer."""
        pairs = (("faster", self.kind.faster), ("softer", self.kind.softer))
        return [(word, STROKE_TYPES[key]) for word, key in pairs if key]

    @property
    def played(self) -> list[MannerPlayed]:
        """Return where on the shelf it is played."""
        found = []
        for entry in self._shelf:
            kinds = entry.summary.kinds if entry.summary else {}
            if bars := kinds.get(self.kind.key):
                found.append(MannerPlayed(entry.id, entry.title, ", ".join(bars)))
        return found
