"""The one door in: a plan and a recording become what was played."""

from collections import Counter
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.rig.instrument import frequency
from pathway.core.sound import Playable
from pathway.core.steps import step
from pathway.core.takes.following import SEARCH_STEP, Followed, follow, onsets, tempo_of, visits
from pathway.core.takes.frames import Frames
from pathway.core.takes.groups import HeardGroup, groups_of
from pathway.core.takes.measures import MeasuredNote, measured
from pathway.core.takes.score import PlannedNotes
from pathway.core.takes.words import Word, say
from pathway.errors import NoTake, OutOfRange, TooLarge

MOST_SECONDS, LEAST_SECONDS = 15 * 60.0, 1.0
MOST_CELLS = 4e8  # of the search, two bytes each: six minutes of a piece as long
QUIET, CLIPPED, SHARE_CLIPPED = -55.0, 0.995, 0.002  # level of a recording [dB]; full scale; share of samples at it
LIKE, _ENOUGH = 0.45, 0.35  # likeness of a note that is placed, and the share of them that a take of this plan has
RATES = (8_000, 192_000)


@dataclass(frozen=True)
class Listened:
    """What was heard in a recording."""

    planned: PlannedNotes
    rows: tuple[MeasuredNote, ...]  # in the order in which they were played
    followed: Followed
    seconds: float
    tempo: float  # over that of the plan
    groups: tuple[HeardGroup, ...]
    clipped: bool

    @cached_property
    def of(self) -> dict[str, MeasuredNote]:
        """Return what is known of every note of the plan, the last time that it was played."""
        return {self.planned.notes[row.note].id: row for row in self.rows}

    @cached_property
    def times_played(self) -> Counter[str]:
        """Return how often every note was played."""
        return Counter(self.planned.notes[row.note].id for row in self.rows)

    @property
    def placed(self) -> float:
        """Return the share of notes that were surely found."""
        return sum(row.own >= LIKE for row in self.rows) / max(len(self.rows), 1)

    @property
    def found(self) -> int:
        """Return how many notes of the plan were surely found."""
        return sum(row.own >= LIKE for row in self.of.values())

    @property
    def could(self) -> dict[str, list[str]]:
        """Return what could be said of notes of the plan if it came again, by note."""
        return {id_: sorted(row.could) for id_, row in self.of.items() if row.could}

    def beside(self, others: Iterable[Mapping[str, Collection[str]]]) -> "Listened":
        """Return it with what comes again said too, given what could be said in other takes, by note."""
        once = [{(id_, word) for id_, words in other.items() for word in words} for other in others]
        known = set[tuple[str, str]]().union(*once)
        ids = [self.planned.notes[row.note].id for row in self.rows]
        rows = [
            replace(row, words=row.words | {word for word in row.could if (id_, word) in known})
            for id_, row in zip(ids, self.rows, strict=True)
        ]
        return replace(self, rows=tuple(rows))

    @property
    def words(self) -> Counter[Word]:
        """Return how often every word was said."""
        return Counter(Word(word) for row in self.rows for word in row.words)

    @property
    def repeats(self) -> int:
        """Return how often the player went to another bar."""
        return len(self.followed.jumps)

    @property
    def cents(self) -> float:
        """Return the median distance from the planned pitch [cents]; nan where none is known."""
        found = [abs(row.cents) for row in self.rows if np.isfinite(row.cents)]
        return float(np.median(found)) if found else float("nan")


def listen(plan: Playable, samples: FloatArray, rate: int, begin: float = 0.0, end: float = np.inf) -> Listened:
    """Return what was played in a recording of a plan, or of some of its bars.

    Args:
        plan: that was played.
        samples: one channel, full scale 1; shape (n,).
        rate: samples a second.
        begin: of the bars, in the time of the plan [s].
        end: of them [s].

    Raises:
        NoTake: nothing of the plan is in it: silence, noise, or another piece.
        OutOfRange: too short, too long, or at a rate that says nothing.
        TooLarge: too long a take of too long a piece.
    """
    seconds = len(samples) / rate
    if not RATES[0] <= rate <= RATES[1]:
        raise OutOfRange("the rate of the recording", rate, *RATES, "samples a second")
    if not LEAST_SECONDS <= seconds <= MOST_SECONDS:
        raise OutOfRange("the length of the recording", seconds, LEAST_SECONDS, MOST_SECONDS, "s")
    planned = PlannedNotes.of(plan, begin, end)
    if not len(planned):
        raise NoTake("There are no bowed notes in these bars", advice="Choose other bars.")
    long = float(planned.onsets[-1] + planned.durations[-1] - planned.onsets[0])
    if seconds / SEARCH_STEP * long / SEARCH_STEP > MOST_CELLS:
        raise TooLarge(
            "So long a take of so long a piece cannot be followed", advice="Choose the bars that were played."
        )
    step()
    frames = Frames.of(samples, rate, frequency(int(planned.lowest.min())))
    loudest = float(np.quantile(frames.level, 0.95))
    if loudest < QUIET or loudest - frames.floor < 6:
        raise NoTake("The recording is silent, or nothing in it stands out", advice="Look at the microphone's level.")
    step()
    found = follow(frames, planned)
    step()
    passed = visits(found)
    times = onsets(frames, planned, passed, found)
    rows = measured(frames, planned, passed, times, found)
    like = sum(row.own >= LIKE for row in rows) / max(len(rows), 1)
    if like < _ENOUGH:
        raise NoTake(
            "This is no take of this plan: its notes are not in it", advice="Choose the piece that was played."
        )
    say(rows, planned)
    clipped = float(np.mean(np.abs(samples) >= CLIPPED)) > SHARE_CLIPPED
    return Listened(planned, tuple(rows), found, seconds, tempo_of(found), groups_of(rows, planned, plan.rig), clipped)
