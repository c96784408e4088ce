"""Takes by the simulated player: to try, to show and to test all this without a microphone."""

from datetime import datetime, timedelta

import numpy as np

from pathway.core.planning.plan import Plan
from pathway.core.sound import SAMPLES, playable
from pathway.core.takes.player import Fault, Human, play
from pathway.desk.desk import Desk
from pathway.desk.taking import Taking

_MOST_SECONDS, _STORY_SECONDS, _LEAST_NOTE = 40.0, 24.0, 0.25  # of a piece, at most; of a note that has a fault
WEAK = -4.0  # up-bows, where they are to be found [dB]
STORY = (  # days ago, up-bows [dB], faults
    ("first", 18, -5.0, 5),
    ("second", 9, -3.0, 3),
    ("third", 1, 0.0, 1),
)


def planted(plan: Plan, faults: int, weak_up: float, seed: int) -> Human:
    """Return a human with some faults on notes of a plan, and up-bows louder than planned by so much [dB]."""
    notes = [note.id for note in plan.bowed if note.onset < _MOST_SECONDS and note.duration > _LEAST_NOTE]
    chosen = np.random.default_rng(seed).permutation(len(notes))[:faults]
    kinds = (Fault.WRONG, Fault.PRESSED)
    return Human(faults={notes[at]: kinds[n % 2] for n, at in enumerate(chosen)}, weak_up=weak_up)


class Simulating:
    """Plays pieces on the desk, and keeps what it played as takes."""

    def __init__(self, desk: Desk, taking: Taking) -> None:
        self._desk, self._taking = desk, taking

    def play(
        self,
        piece: int,
        human: Human,
        name: str,
        seed: int,
        begun: datetime | None = None,
        most: float = _MOST_SECONDS,
    ) -> int:
        """Keep a take by the simulated player; return its id.

        Raises:
            NotFound: no such piece.
        """
        plan = self._desk.open(piece).plan
        made = play(playable(plan), human, seed, end=most)
        inside = [note.id for note in plan.bowed if note.onset < most]
        return self._taking.keep_samples(piece, made.samples, SAMPLES, name, (inside[0], inside[-1]), begun)

    def tell(self, piece: int, now: datetime) -> list[int]:
        """Keep three takes over some weeks, in which the up-bows become as strong as the others.

        Raises:
            NotFound: no such piece.
        """
        plan = self._desk.open(piece).plan
        return [
            self.play(
                piece,
                planted(plan, faults, weak, seed),
                f"Simulated, {name} of three",
                seed,
                now - timedelta(days=days),
                _STORY_SECONDS,
            )
            for seed, (name, days, weak, faults) in enumerate(STORY, start=1)
        ]
