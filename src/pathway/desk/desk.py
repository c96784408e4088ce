"""The desk on which open pieces lie: read, engraved and planned once, then kept while they are in use."""

import threading
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace

from cachetools import LRUCache

from pathway.core.planning import Plan, checked_tempo, glance, plan_part
from pathway.core.planning.hand_ways import HandWay
from pathway.core.planning.wishes import Settings
from pathway.core.rig import Rig, preset
from pathway.desk.changes import Anew, OnRig, PlanChange, played_on
from pathway.desk.drawing import Drawings
from pathway.desk.hands import Hands
from pathway.desk.helps import HANDS, Help, Helps, Tried
from pathway.desk.kept import Kept
from pathway.desk.open_piece import OpenPiece, State
from pathway.desk.stored import as_revision, plan_of
from pathway.errors import NotFound
from pathway.formats.engraver import engraver
from pathway.formats.score import PartScore, ScoreFile, at_pitch, tuning_for
from pathway.store import NewPiece, Notebook, Pieces, Rigs, StoredPiece, Variant

WIDE, NARROW = 900, 680  # of an engraved system [CSS px]
OPEN_PIECES = 12  # kept ready


@dataclass(frozen=True, slots=True)
class Edited:
    """A piece after an edit, and the plan it had before."""

    now: OpenPiece
    before: Plan


class Desk:
    """Opens, plans and edits pieces."""

    def __init__(self, pieces: Pieces, notebook: Notebook, rigs: Rigs) -> None:
        self.pieces, self.notebook, self.rigs = pieces, notebook, rigs
        self.drawings, self.hands = Drawings(OPEN_PIECES), Hands()
        self._states: Kept[OpenPiece] = Kept(4 * OPEN_PIECES)  # and what they would be if planned anew
        self._helps = Helps()
        self._open: LRUCache[int, OpenPiece] = LRUCache(OPEN_PIECES)
        self._lock = threading.Lock()
        self._hand = threading.RLock()  # held by what the hand waits for; trials of helps let it pass

    def add(
        self,
        score: ScoreFile,
        data: bytes,
        filename: str,
        part: str | int | None,
        rig_key: str,
        tempo_bpm: float | None = None,
    ) -> int:
        """Plan a part of a score and put it on the shelf; return its id.

        Args:
            score: read from ``data``.
            data: the player's file.
            filename: its name.
            part: name or number; None for the first with notes.
            rig_key: what it is played on.
            tempo_bpm: in the part's own beat unit, where none is printed.

        Raises:
            ScoreError: the part cannot be read or planned; nothing is kept.
            OutOfRange: not a tempo.
        """
        found: PartScore = score.part(part)
        known = self.rigs.find(rig_key)
        settings = Settings(None if tempo_bpm is None else checked_tempo(tempo_bpm))
        settings = replace(settings, tuning=tuning_for(found.part, known.rig))
        plan = plan_part(at_pitch(found.part, known.rig), known.rig, settings)
        piece = NewPiece(
            found.part.title, found.part.name, filename, data, found.mei, rig_key, rig_version=known.version
        )
        label = f"As first planned. {plan.tempo_told}".rstrip(". ")
        key = self.pieces.add(piece, as_revision(label, plan, ()))
        now = OpenPiece(self.pieces.piece(key), plan)
        self._states.get_or_make(now.state, lambda: now)
        return key

    def open(self, key: int) -> OpenPiece:
        """Return a piece ready to be shown.

        Raises:
            NotFound: there is no such piece.
        """
        with self._lock:
            held = self._open.get(key)
        if held is not None and held.piece.version == self.pieces.version(key):
            return held
        return self._opened(self.pieces.piece(key))

    def stand(self, key: int, note: str | None = None) -> None:
        """Remember that a piece was opened, and at which note the player stands in it.

        Raises:
            NotFound: there is no such piece or note.
        """
        now = self.open(key)
        if note is not None and note not in now.plan.note:
            raise NotFound("There is no such note in this piece", advice="Reload the page.")
        self.pieces.opened(key, note)
        if note is not None:
            self._hold(replace(now, piece=replace(now.piece, last_note=note)))

    def rename(self, key: int, title: str, part_name: str) -> None:
        """Give a piece and its part other names.

        Raises:
            NotFound: there is no such piece.
            ScoreError: a name without a letter.
        """
        now = self.open(key)
        self.pieces.rename(key, " ".join(title.split()), " ".join(part_name.split()))
        with self._lock:
            self._open.pop(key, None)
        self._states.drop(now.state)

    def stop_engraving(self) -> None:
        """Give up every score that is being read or drawn."""
        engraver().stop()

    def apply(self, key: int, version: int, change: PlanChange) -> Edited:
        """Do something to the plan of a piece; it joins the history.

        Raises:
            NotFound: no such piece, or what the change speaks of.
            Conflict: the piece has changed meanwhile.
            PlanError, OutOfRange, ScoreError: it cannot be.
        """
        with self._changing(key, version) as now:
            made = change.made(now)
            saved = self.pieces.edit(made.piece, version, made.piece.revision)
            kept = replace(made, piece=saved)
            self._states.get_or_make(kept.state, lambda: kept)
            return Edited(self._hold(kept), now.plan)

    def tried(self, key: int, change: PlanChange) -> Plan:
        """Return the plan of a piece as a change would make it, without keeping it.

        Raises:
            NotFound, PlanError, OutOfRange, ScoreError: as for apply.
        """
        return change.made(self.open(key)).plan

    def helps(self, key: int, note: str) -> list[Help]:
        """Return what helps against the findings that speak of a note; every fix has been tried.

        Edits go first; once the plan is another one no more are tried.

        Raises:
            NotFound: there is no such piece.
        """
        now = self.open(key)

        def unchanged() -> bool:
            with self._hand:
                return self.open(key).plan is now.plan

        about = [finding for finding in now.plan.findings if note in finding.notes]
        return [Help(f, tuple(self._helps.against(now.state, now.plan, f, unchanged))) for f in about]

    def with_fix(self, key: int, note: str, code: str, fix: str) -> Tried:
        """Return the plan as a fix of a finding would make it.

        Raises:
            NotFound: no such piece, or a fix that is not offered any more.
            PlanError, OutOfRange: as for change.
        """
        now = self.open(key)
        if code.startswith(f"{HANDS}:") and code.count(":") == 2:
            tried = self._helps.hand_taken(now.state, now.plan, code, fix)
        else:
            about = (f for f in now.plan.findings if f.code == code and note in f.notes)
            found = (self._helps.taken(now.state, now.plan, finding, fix) for finding in about)
            tried = next((one for one in found if one is not None), None)
        if tried is None:
            raise NotFound("This help is not offered any more", advice="Choose the finding again.")
        return tried

    def hand_ways(self, key: int, first: str, last: str) -> list[HandWay]:
        """Return other ways for the left hand through the notes from one to another.

        Raises:
            NotFound: no such piece, or no such note under the bow.
            OutOfRange: too many notes at once.
        """
        now = self.open(key)
        return self._helps.hands(now.state, now.plan, first, last)

    def glance(self, key: int, tempo_bpm: float, notes: Collection[str] = ()) -> OpenPiece:
        """Return a piece, or the strokes around some of its notes, about as at another tempo, without keeping it.

        Raises:
            OutOfRange: not a tempo.
            NotFound: there is no such piece.
        """
        with self.hands.at_work(), self._hand:
            now = self.open(key)
            return replace(now, plan=glance(now.plan, checked_tempo(tempo_bpm), notes))

    def refit(self, key: int, version: int, change: Callable[[Rig], Rig]) -> None:
        """PlanChange the player's rig and plan a piece on it; a typical rig becomes one of the player's own by it.

        Raises:
            NotFound: there is no such piece.
            RigError: it cannot be.
            Conflict: as for change.
        """
        with self._changing(key, version) as now:
            known = self.rigs.find(now.piece.rig)
            if known.own:  # all its pieces are shown on it as it is now
                self.rigs.save(known.key, change(known.rig))
            else:
                self.apply(key, version, OnRig(self.rigs.find(self.rigs.changed(known, change(known.rig)))))

    def anew(self, key: int) -> Plan:
        """Return a piece planned anew with all that the player wishes, without keeping it.

        Raises:
            NotFound: there is no such piece.
        """
        now = self.open(key)
        return self._states.get_or_make((now.state, "anew"), lambda: Anew().made(now)).plan

    def mend(self, key: int) -> None:
        """Make a piece that cannot be read one that can: its last sound state, or else its part planned anew.

        Raises:
            NotFound: there is no such piece.
            ScoreError: its score cannot be read either.
        """
        if self.pieces.mend(key):
            return
        brought = self.pieces.brought(key)
        score = ScoreFile(brought.data, brought.filename)
        found, rig = score.part(brought.part_name), preset(score.find(brought.part_name).guess.rig)
        plan = plan_part(at_pitch(found.part, rig), rig)
        self.pieces.begin_anew(key, found.mei, rig.key, as_revision("Planned anew from the score", plan, ()))

    def forget_all(self) -> None:
        """Let go of everything at hand: other data stand in the place of the old ones."""
        with self._lock:
            self._open.clear()
        self.drawings.clear()
        self._states.clear()
        self._helps.forget()

    def variant(self, key: int, id_: int) -> tuple[Variant, Plan]:
        """Return a variant of a piece and its plan.

        Raises:
            NotFound: no such piece or variant.
        """
        now, variant = self.open(key), self.notebook.variant(key, id_)
        other = replace(now.piece, revision=variant.revision)
        return variant, plan_of(other, self.rigs.find(now.piece.rig).rig, now.plan)

    def step(self, key: int, version: int, by: int) -> Edited:
        """Undo (−1) or redo (+1).

        Raises:
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            stepped = self.pieces.step(key, version, by)
            near = now.plan if stepped.rig == now.piece.rig else None
            return Edited(self._opened(stepped, near), now.plan)

    def rewind(self, key: int, version: int, number: int) -> Edited:
        """Go to a state of the history by its number.

        Raises:
            NotFound, Conflict: as for change.
        """
        return self.step(key, version, number - self.open(key).piece.number)

    @contextmanager
    def _changing(self, key: int, version: int) -> Iterator[OpenPiece]:
        """Open a piece to change it: one change after the other, and none of another piece than the player saw.

        Raises:
            NotFound: there is no such piece.
            Conflict: it has changed meanwhile.
        """
        with self.hands.at_work(), self._hand:
            self.pieces.still(key, version)
            yield self.open(key)

    def _opened(self, piece: StoredPiece, near: Plan | None = None) -> OpenPiece:
        known = self.rigs.find(piece.rig)

        def made() -> OpenPiece:
            if known.version != piece.rig_version:  # shown as the rig is now; kept with the next change
                return played_on(piece, known)
            return OpenPiece(piece, plan_of(piece, known.rig, near), known.fault)

        found = self._states.get_or_make(State(piece.id, piece.version, known.version), made)
        return self._hold(replace(found, piece=replace(found.piece, last_note=piece.last_note)))

    def _hold(self, now: OpenPiece) -> OpenPiece:
        """Keep a piece at hand."""
        with self._lock:
            self._open[now.piece.id] = now
        return now
