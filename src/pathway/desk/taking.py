"""Takes on the desk: kept with the plan that they are of, listened to once, then at hand."""

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.planning.plan import Plan
from pathway.core.sound import playable
from pathway.core.sound.strings import SAMPLES
from pathway.core.takes import Listened, listen
from pathway.core.takes.player import Fault, Human, play
from pathway.core.takes.summary import Summary, summary
from pathway.desk.desk import Desk
from pathway.desk.kept import Kept
from pathway.formats.recording import flac, from_pcm, read_recording
from pathway.store.takes import Figures, NewTake, StoredTake, Takes

HAIR = 1e-6  # earlier, against rounding [s]
KEPT = 12
SAME_TEMPO = 0.03  # nearer to the plan's it is the same
SIMULATED_SECONDS, DEMO_SECONDS = 40.0, 24.0  # of a piece, at most
WEAK = -4.0  # up-bows, where they are to be found [dB]
STORY = (  # days ago, up-bows [dB], faults
    ("first", 18, -5.0, 5),
    ("second", 9, -3.0, 3),
    ("third", 1, 0.0, 1),
)


@dataclass(frozen=True)
class Heard:
    """A take with what was heard in it."""

    take: StoredTake
    heard: Listened
    told: Summary
    plan: Plan
    changed: bool  # the plan is another one since


class Taking:
    """Keeps takes, and listens to them."""

    def __init__(self, desk: Desk, takes: Takes) -> None:
        self._desk, self.takes = desk, takes
        self._heard: Kept[Heard] = Kept(KEPT)

    def keep(self, piece: int, data: bytes, name: str = "", span: tuple[str, str] = ("", "")) -> int:
        """Keep a recording that was dropped; return its id.

        Args:
            piece: that was played.
            data: of the file.
            name: of the take.
            span: first and last note that were played; none for the whole piece.

        Raises:
            NotFound: no such piece or note.
            ScoreError: it is no recording.
        """
        samples, rate = read_recording(data)
        return self._keep(piece, samples, rate, name, span)

    def finish(self, piece: int, token: str, rate: int, span: tuple[str, str]) -> int:
        """Keep a recording that has come in pieces; return its id.

        Raises:
            NotFound: no such piece or note, or nothing of it has come.
        """
        data = self.takes.finished(token)
        id_ = self._keep(piece, from_pcm(data), rate, "", span)
        self.takes.drop_unfinished(token)
        return id_

    def simulate(
        self,
        piece: int,
        human: Human,
        name: str,
        seed: int,
        span: tuple[str, str] = ("", ""),
        begun: datetime | None = None,
        most: float = SIMULATED_SECONDS,
    ) -> int:
        """Keep a take by the simulated player; return its id."""
        begin, end = self._times(piece, span)
        plan = self._desk.open(piece).plan
        made = play(playable(plan), human, seed, begin, min(end, begin + most))
        first = next(note.id for note in plan.bowed if note.onset >= begin)
        last = [note.id for note in plan.bowed if note.onset < min(end, begin + most)][-1]
        return self._keep(piece, made.samples, SAMPLES, name, (first, last), begun)

    def demonstrate(self, piece: int, now: datetime) -> list[int]:
        """Keep three takes of the simulated player over some weeks, in which the up-bows become as strong."""
        plan = self._desk.open(piece).plan
        found = []
        for n, (name, days, weak, faults) in enumerate(STORY):
            human = planted(plan, faults, weak, n + 1)
            begun = now - timedelta(days=days)
            found.append(
                self.simulate(piece, human, f"Simulated, {name} of three", n + 1, begun=begun, most=DEMO_SECONDS)
            )
        return found

    def _keep(
        self,
        piece: int,
        samples: FloatArray,
        rate: int,
        name: str,
        span: tuple[str, str],
        begun: datetime | None = None,
    ) -> int:
        now = self._desk.open(piece)
        self._times(piece, span)
        new = NewTake(piece, name, now.piece.number, len(samples) / rate, *span, begun)
        return self.takes.add(new, flac(samples, rate))

    def _times(self, piece: int, span: tuple[str, str]) -> tuple[float, float]:
        """Return from when to when the notes of a span begin [s].

        Raises:
            NotFound: no such note.
        """
        plan = self._desk.open(piece).plan
        if not span[0]:
            return 0.0, float("inf")
        first, last = plan.any_note(span[0]), plan.any_note(span[1] or span[0])
        return min(first.onset, last.onset) - HAIR, max(first.onset, last.onset) + HAIR

    def at_played_tempo(self, piece: int, id_: int) -> tuple[float, int, int] | None:
        """Return the tempo of a take [beats a minute] and the findings now and at it; None if it is the plan's.

        Raises:
            NotFound: no such piece or take.
        """
        found, now = self.heard(piece, id_), self._desk.open(piece).plan
        if abs(found.heard.tempo - 1) < SAME_TEMPO:
            return None
        tempo = round(now.draft.tempo_bpm * found.heard.tempo)
        return tempo, len(now.findings), len(self._desk.at_tempo(piece, tempo).plan.findings)

    def heard(self, piece: int, id_: int) -> Heard:
        """Return a take with what is heard in it.

        Raises:
            NotFound: no such piece or take.
            NoTake: nothing of the plan is in it.
        """
        now, take = self._desk.open(piece), self.takes.take(piece, id_)

        def made() -> Heard:
            samples, rate = read_recording(self.takes.sound(take))
            begin, end = self._times(piece, (take.first, take.last))
            found = listen(playable(now.plan), samples, rate, begin, end)
            self.takes.note(id_, figures_of(found))
            return Heard(take, found, summary(found), now.plan, take.state != now.piece.number)

        return self._heard.get_or_make((piece, now.piece.version, now.piece.rig_version, id_), made)


def figures_of(heard: Listened) -> Figures:
    """Return what was heard in a few numbers."""
    down = next((group for group in heard.groups if group.kind == "direction"), None)
    return Figures(
        down_db=round(down.mean, 2) if down else None,
        error_db=round(down.error, 2) if down else None,
        words=sum(bool(row.words) for row in heard.of.values()),
        found=heard.found,
        count=len(heard.of),
        tempo=round(heard.tempo, 3),
    )


def planted(plan: Plan, faults: int, weak_up: float, seed: int) -> Human:
    """Return a human with some faults on notes of a plan, and up-bows louder than planned by so much [dB]."""
    notes = [note.id for note in plan.bowed if note.onset < SIMULATED_SECONDS and note.duration > 0.25]
    chance = np.random.default_rng(seed)
    chosen = chance.permutation(len(notes))[:faults]
    kinds = (Fault.WRONG, Fault.PRESSED)
    return Human(faults={notes[at]: kinds[n % 2] for n, at in enumerate(chosen)}, weak_up=weak_up)
