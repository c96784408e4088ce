"""What a page shows of what is heard on a note: causes, the one chosen, what helps, how often it came, how to work."""

from collections import Counter
from functools import cached_property

from pathway.core.guide.working import WORK, Working
from pathway.core.planning.advice.symptoms import Cause, Heard, causes
from pathway.core.planning.relief import Relief, reliefs
from pathway.desk import Desk
from pathway.errors import NotFound

_CLOSE, _NEAR = 0.15, 0.45  # margins that are called so


class Diagnosis:
    """What is heard on one note."""

    def __init__(self, desk: Desk, key: int, note: str, heard: Heard, chosen: str = "") -> None:
        self._desk, self.key = desk, key
        self.plan, self.note, self.heard = desk.open(key).plan, note, heard
        self.causes = causes(self.plan, note, heard)
        self.chosen: Cause | None = next((cause for cause in self.causes if cause.key == chosen), None)

    @property
    def confirmed(self) -> Cause:
        """Return the cause that was chosen.

        Raises:
            NotFound: it cannot be there.
        """
        if self.chosen is None:
            raise NotFound("This cannot be the cause here", advice="Choose another one.")
        return self.chosen

    @staticmethod
    def nearness(cause: Cause) -> str:
        """Return how near the plan is to a cause, in words with the number."""
        word = "at its limit" if cause.margin < _CLOSE else "near" if cause.margin < _NEAR else "far from it"
        return f"{word}, {100 * cause.margin:.0f} % of room"

    @cached_property
    def reliefs(self) -> list[Relief]:
        """Return what may be pressed against the chosen cause."""
        return list(reliefs(self.plan, self.note, self.chosen)) if self.chosen else []

    @property
    def counted(self) -> list[tuple[str, int]]:
        """Return the causes chosen in this piece for what is heard, and how often each."""
        times = Counter(time.cause for time in self._desk.notebook.heard(self.key) if time.what == self.heard.value)
        return [(key, count) for key, count in times.most_common() if key]

    @property
    def work(self) -> Working:
        """Return how to work on the manner of the note."""
        stroke = self.plan.stroke[self.plan.bowed_note(self.note).stroke or ""]
        return WORK[stroke.kind]
