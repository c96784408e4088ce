"""What bow and fingers do in time, string by string: control curves, RATE values a second. SI units."""

from dataclasses import dataclass

from pathway.core.arrays import FloatArray
from pathway.core.planning.note_plan import NotePlan

RATE = 1500  # control values a second


@dataclass(frozen=True)
class StringCurves:
    """The controls of one string; shape (N,) each."""

    string: int  # 0 is the lowest
    impedance: float  # Z [kg/s]
    force: FloatArray  # of the bow [N]
    pull: FloatArray  # of a plucking finger [N]
    beta: FloatArray  # [1]
    pitch: FloatArray  # [Hz]
    nut: FloatArray  # reflection there [1]
    listens: FloatArray  # 1 where the hand listens [1]
    hiss: FloatArray  # of the hair, in parts of Z v [1]


@dataclass(frozen=True, slots=True)
class SoundedNote:
    """A note as it was given to the strings."""

    note: NotePlan
    on: float  # after the first control value [s]
    off: float
    first: bool  # of its bow


@dataclass(frozen=True)
class Curves:
    """The controls of all strings, which share the bow."""

    speed: FloatArray  # of the bow, positive on a down-bow [m/s]; shape (N,)
    strings: tuple[StringCurves, ...]  # that sound at all
    notes: tuple[SoundedNote, ...]
    begin: float  # of the first control value, in the time of the plan [s]
    muted: FloatArray  # 1 where a mute is on the bridge; shape (N,)

    @property
    def seconds(self) -> float:
        """Return how long they are [s]."""
        return len(self.speed) / RATE

    @property
    def cut_off(self) -> bool:
        """Whether a note goes on beyond their end."""
        return any(note.off > self.seconds for note in self.notes)
