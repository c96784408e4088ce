"""Takes on the desk: kept with the plan that they are of, listened to once, then at hand."""

import threading
from dataclasses import dataclass, replace
from datetime import datetime

from pathway.core.arrays import FloatArray
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.beats import ROUNDING, Counted, counted
from pathway.core.planning.plan import Plan
from pathway.core.sound import playable
from pathway.core.takes import Listened, listen
from pathway.core.takes.proposals import Proposal, proposals
from pathway.core.takes.summary import TakeSummary, summary
from pathway.desk.changes import AtTempo, ByHand, OnRig, PlanChange
from pathway.desk.desk import Desk
from pathway.desk.kept import Kept
from pathway.errors import NotFound, PathwayError
from pathway.formats.recording import flac, from_pcm, read_recording
from pathway.store.takes import Figures, NewTake, StoredTake, Takes

_KEPT = 12


@dataclass(frozen=True)
class HeardTake:
    """A take with what was heard in it."""

    take: StoredTake
    heard: Listened
    told: TakeSummary
    plan: Plan
    changed: bool  # the plan is another one since


@dataclass(frozen=True, slots=True)
class Proposed:
    """What a take proposes, with the findings of the plan before and after."""

    proposal: Proposal
    before: int
    after: int


class Taking:
    """Keeps takes, and listens to them."""

    def __init__(self, desk: Desk, takes: Takes) -> None:
        self._desk, self.takes = desk, takes
        self._heard: Kept[Listened] = Kept(_KEPT)
        self._finishing = threading.Lock()

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
        return self.keep_samples(piece, samples, rate, name, span)

    def finish(self, piece: int, token: str, rate: int, span: tuple[str, str]) -> int:
        """Keep a recording that has come in pieces; return its id.

        Raises:
            NotFound: no such piece or note, or nothing of it has come.
        """
        with self._finishing:  # asked for again, before or after it is done, it is the same take
            known = self.takes.by_token(piece, token)
            if known is not None:
                return known
            id_ = self.keep_samples(piece, from_pcm(self.takes.finished(token)), rate, "", span, token=token)
            self.takes.drop_unfinished(token)
            return id_

    def keep_samples(
        self,
        piece: int,
        samples: FloatArray,
        rate: int,
        name: str,
        span: tuple[str, str],
        begun: datetime | None = None,
        token: str = "",
    ) -> int:
        """Keep one channel of sound, full scale 1, as a take; return its id.

        Raises:
            NotFound: no such piece or note.
        """
        now = self._desk.open(piece)
        self.times(piece, span)
        new = NewTake(piece, name, now.piece.number, len(samples) / rate, *span, begun)
        return self.takes.add(new, flac(samples, rate), token)

    def beats(self, piece: int, span: tuple[str, str]) -> Counted:
        """Return the beats to record some notes by.

        Raises:
            NotFound: no such piece or note.
        """
        plan = self._desk.open(piece).plan
        begin, end = self.times(piece, span)
        inside = [note for note in plan.notes if begin <= note.onset <= end]
        return counted(plan, inside[0].onset, max(note.onset + note.duration for note in inside))

    def times(self, piece: int, span: tuple[str, str]) -> tuple[float, float]:
        """Return from when to when the notes of a span begin [s].

        Raises:
            NotFound: no such note.
        """
        plan = self._desk.open(piece).plan
        if not span[0]:
            return 0.0, float("inf")
        first, last = plan.any_note(span[0]), plan.any_note(span[1] or span[0])
        return min(first.onset, last.onset) - ROUNDING, max(first.onset, last.onset) + ROUNDING

    def listen(self, piece: int, id_: int) -> HeardTake:
        """Listen to a take, and keep what is heard in a few figures.

        Raises:
            NotFound, NoTake: as for heard.
        """
        found = self.heard(piece, id_)
        figures = figures_of(found.heard)
        if figures != found.take.figures:
            self.takes.note(id_, figures)
        return found

    def proposals(self, piece: int, id_: int, say: Speech = PLAIN) -> list[Proposed]:
        """Return what of a take the plan may take over, each with its effect.

        Raises:
            NotFound: no such piece or take.
        """
        now, heard = self._desk.open(piece), self.heard(piece, id_).heard
        found = []
        for one in proposals(heard, now.plan.strokes, now.plan.rig, now.plan.draft.tempo_bpm, say):
            try:
                then = self._desk.tried(piece, self._change(piece, one))
            except PathwayError:  # it cannot be bowed so
                continue
            found.append(Proposed(one, len(now.plan.findings), len(then.findings)))
        return found

    def take_over(self, piece: int, version: int, id_: int, key: str) -> None:
        """Take something of a take over into the plan: a tempo, wishes, or a number of the rig.

        Raises:
            NotFound: no such piece or take, or this take does not propose it.
            Conflict: the piece has changed meanwhile.
        """
        one = next((found.proposal for found in self.proposals(piece, id_) if found.proposal.key == key), None)
        if one is None:
            raise NotFound("The take does not propose this any more", advice="Reload the page.")
        if one.rig is not None:
            self._desk.refit(piece, version, one.rig)
        else:
            self._desk.apply(piece, version, self._change(piece, one))

    def _change(self, piece: int, one: Proposal) -> PlanChange:
        """Return what a proposal does to the plan, where that can be tried."""
        if one.edit is not None:
            return ByHand(one.edit)
        if one.tempo is not None:
            return AtTempo(one.tempo)
        known = self._desk.rigs.find(self._desk.open(piece).piece.rig)
        return OnRig(replace(known, rig=one.rig(known.rig) if one.rig else known.rig))

    def heard(self, piece: int, id_: int) -> HeardTake:
        """Return a take with what is heard in it.

        Raises:
            NotFound: no such piece or take.
            NoTake: nothing of the plan is in it.
        """
        now, take = self._desk.open(piece), self.takes.take(piece, id_)

        def made() -> Listened:
            samples, rate = read_recording(self.takes.sound(take))
            begin, end = self.times(piece, (take.first, take.last))
            return listen(playable(now.plan), samples, rate, begin, end)

        alone = self._heard.get_or_make((now.state, id_), made)
        others = [one.figures.could for one in self.takes.of(piece) if one.figures and one.id != id_]
        found = alone.beside(others)
        return HeardTake(take, found, summary(found), now.plan, take.state != now.piece.number)


def figures_of(heard: Listened) -> Figures:
    """Return what was heard in a few numbers."""
    down = next((group for group in heard.groups if group.kind == "direction"), None)
    return Figures(
        down_db=round(down.mean, 2) if down else None,
        error_db=round(down.error, 2) if down else None,
        said={id_: sorted(row.words) for id_, row in heard.of.items() if row.words},
        could=heard.could,
        found=heard.found,
        count=len(heard.of),
        tempo=round(heard.tempo, 3),
    )
