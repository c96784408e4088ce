"""The desk on which open pieces lie: read, engraved and planned once, then kept while they are in use."""

import threading
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace

from cachetools import LRUCache

from pathway.core.planning import Plan, checked_tempo, glance, plan_part, replan
from pathway.core.planning.advice.symptoms import Cause
from pathway.core.planning.edits import Edit, edited_locks, label_of
from pathway.core.planning.relief import reliefs
from pathway.core.planning.taken import with_bars_of
from pathway.core.planning.wish_checks import tunable
from pathway.core.planning.wishes import Settings
from pathway.core.rig import Rig, preset
from pathway.desk.drawing import Drawings
from pathway.desk.helps import Help, Helps, Tried
from pathway.desk.kept import Kept
from pathway.desk.stored import as_revision, kept_or_free, part_of, plan_of
from pathway.errors import NotFound
from pathway.formats.engraver import engraver
from pathway.formats.score import PartScore, ScoreFile, at_pitch, guess_rig
from pathway.store import KnownRig, NewPiece, Notebook, Pieces, Revision, Rigs, StoredPiece, Variant

WIDE, NARROW = 900, 680  # of an engraved system [CSS px]
OPEN_PIECES = 12  # kept ready


@dataclass(frozen=True, slots=True)
class OpenPiece:
    """A piece with its plan."""

    piece: StoredPiece
    plan: Plan
    told: str = ""  # what could not stay as it was set


@dataclass(frozen=True, slots=True)
class Edited:
    """A piece after an edit, and the plan it had before."""

    now: OpenPiece
    before: Plan


class Desk:
    """Opens, plans and edits pieces."""

    def __init__(self, pieces: Pieces, notebook: Notebook, rigs: Rigs) -> None:
        self.pieces, self.notebook, self.rigs = pieces, notebook, rigs
        self.drawings = Drawings(OPEN_PIECES)
        self._plans: Kept[Plan] = Kept(3 * OPEN_PIECES)
        self._anew: Kept[Plan] = Kept(OPEN_PIECES)
        self._refitted: Kept[OpenPiece] = Kept(OPEN_PIECES)
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
        plan = plan_part(at_pitch(found.part, known.rig), known.rig, settings)
        piece = NewPiece(score.title, found.part.name, filename, data, found.mei, rig_key, rig_version=known.version)
        label = f"As first planned. {plan.tempo_told}".rstrip(". ")
        key = self.pieces.add(piece, as_revision(label, plan, ()))
        self._plans.get_or_make((key, 0, known.version), lambda: plan)
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
        self._plans.drop(_state(now.piece))

    def stop_engraving(self) -> None:
        """Give up every score that is being read or drawn."""
        engraver().stop()

    def change(self, key: int, version: int, edit: Edit) -> Edited:
        """Do an edit and plan around it.

        Raises:
            NotFound: no such piece or note.
            Conflict: the piece has changed meanwhile.
            PlanError, OutOfRange: a value that cannot be, or locks that leave no way.
        """
        with self._changing(key, version) as now:
            locks = edited_locks(now.plan, edit)
            plan = replan(now.plan, locks.values())
            return self._save(now, version, as_revision(label_of(now.plan, edit), plan, locks.values()), plan)

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
        return [Help(f, tuple(self._helps.against(_state(now.piece), now.plan, f, unchanged))) for f in about]

    def take(self, key: int, version: int, note: str, code: str, fix: str) -> Edited:
        """Take a fix of a finding: its wishes join the player's own.

        Raises:
            NotFound: no such piece, or a fix that is not offered any more.
            Conflict, PlanError, OutOfRange: as for change.
        """
        with self._changing(key, version) as now:
            tried = self.with_fix(key, note, code, fix)
            label = f"Bar {now.plan.note[note].measure}: {tried.text.lower()}"
            return self._save(now, version, as_revision(label, tried.plan, tried.plan.locks.values()), tried.plan)

    def with_fix(self, key: int, note: str, code: str, fix: str) -> Tried:
        """Return the plan as a fix of a finding would make it.

        Raises:
            NotFound: no such piece, or a fix that is not offered any more.
            PlanError, OutOfRange: as for change.
        """
        now = self.open(key)
        about = (f for f in now.plan.findings if f.code == code and note in f.notes)
        found = (self._helps.taken(_state(now.piece), now.plan, finding, fix) for finding in about)
        tried = next((one for one in found if one is not None), None)
        if tried is None:
            raise NotFound("This help is not offered any more", advice="Choose the finding again.")
        return tried

    def relieve(self, key: int, version: int, note: str, cause: Cause, fix: str) -> Edited:
        """Take a change against a cause of what is heard.

        Raises:
            NotFound: no such piece or note, or a change that is not offered any more.
            Conflict, PlanError, OutOfRange: as for change.
        """
        with self._changing(key, version) as now:
            relief = next((one for one in reliefs(now.plan, note, cause) if one.fix.id == fix), None)
            if relief is None:
                raise NotFound("This help is not offered any more", advice="Say again what you hear.")
            label = f"Bar {now.plan.note[note].measure}: {relief.fix.text().lower()}"
            return self._save(now, version, as_revision(label, relief.plan, relief.plan.locks.values()), relief.plan)

    def glance(self, key: int, tempo_bpm: float, notes: Collection[str] = ()) -> OpenPiece:
        """Return a piece, or the strokes around some of its notes, about as at another tempo, without keeping it.

        Raises:
            OutOfRange: not a tempo.
            NotFound: there is no such piece.
        """
        with self._hand:
            now = self.open(key)
            return replace(now, plan=glance(now.plan, checked_tempo(tempo_bpm), notes))

    def at_tempo(self, key: int, tempo_bpm: float) -> OpenPiece:
        """Return a piece planned at another tempo, without keeping it.

        Raises:
            OutOfRange: not a tempo.
            NotFound: there is no such piece.
        """
        now = self.open(key)
        settings = replace(now.plan.draft.settings, tempo_bpm=checked_tempo(tempo_bpm))
        return replace(now, plan=plan_part(now.plan.part, now.plan.rig, settings, now.piece.revision.locks))

    def tried(
        self,
        key: int,
        tempo_bpm: float | None = None,
        edit: Edit | None = None,
        change: Callable[[Rig], Rig] | None = None,
    ) -> Plan:
        """Return a piece planned with one thing changed, without keeping it.

        Args:
            key: of the piece.
            tempo_bpm: another tempo.
            edit: wishes of notes.
            change: of the rig that it is played on.

        Raises:
            NotFound: there is no such piece or note.
            OutOfRange, PlanError, RigError: it cannot be.
        """
        now = self.open(key)
        if tempo_bpm is not None:
            return self.at_tempo(key, tempo_bpm).plan
        if edit is not None:
            return replan(now.plan, edited_locks(now.plan, edit).values())
        known = self.rigs.find(now.piece.rig)
        return _on(now.piece, replace(known, rig=change(known.rig) if change else known.rig)).plan

    def refit(self, key: int, version: int, change: Callable[[Rig], Rig]) -> None:
        """Change the player's rig and plan a piece on it; a typical rig becomes one of the player's own by it.

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
                self.play_on(key, version, self.rigs.changed(known, change(known.rig)))

    def anew(self, key: int) -> Plan:
        """Return a piece planned anew with all that the player wishes, without keeping it.

        Edits keep the bows they find as they are where they can, so that many of them leave a path that is not the
        best any more.

        Raises:
            NotFound: there is no such piece.
        """
        now = self.open(key)
        plan, locks = now.plan, now.piece.revision.locks
        return self._anew.get_or_make(
            _state(now.piece), lambda: plan_part(plan.part, plan.rig, plan.draft.settings, locks)
        )

    def take_anew(self, key: int, version: int) -> Edited:
        """Make the plan the one that is planned anew.

        Raises:
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            plan = self.anew(key)
            return self._save(now, version, as_revision("The rest planned anew", plan, now.piece.revision.locks), plan)

    def choose(self, key: int, version: int, label: str, settings: Settings) -> Edited:
        """Plan a piece with other choices: its passages, with the rest of it kept, or its changes of tempo.

        Raises:
            PlanError, OutOfRange: choices that cannot be.
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            locks = now.piece.revision.locks
            plan = replan(now.plan, locks, settings)
            return self._save(now, version, as_revision(label, plan, locks), plan)

    def play_on(self, key: int, version: int, rig_key: str) -> Edited:
        """Plan a piece anew on another rig; wishes that it cannot keep are left out.

        Raises:
            NotFound: no such piece or rig.
            ScoreError: the piece does not lie on that instrument.
            Conflict: as for change.
        """
        with self._changing(key, version) as now:
            other = _on(now.piece, self.rigs.find(rig_key))
            return self._save(replace(now, piece=other.piece), version, other.piece.revision, other.plan, now.plan)

    def mend(self, key: int) -> None:
        """Make a piece that cannot be read one that can: its last sound state, or else its part planned anew.

        Raises:
            NotFound: there is no such piece.
            ScoreError: its score cannot be read either.
        """
        if self.pieces.mend(key):
            return
        brought = self.pieces.brought(key)
        found = ScoreFile(brought.data, brought.filename).part(brought.part_name)
        rig = preset(guess_rig(brought.part_name))
        plan = plan_part(at_pitch(found.part, rig), rig)
        self.pieces.begin_anew(key, found.mei, rig.key, as_revision("Planned anew from the score", plan, ()))

    def forget_all(self) -> None:
        """Let go of everything at hand: other data stand in the place of the old ones."""
        with self._lock:
            self._open.clear()
        self.drawings.clear()
        self._plans.clear()
        self._anew.clear()
        self._refitted.clear()
        self._helps.forget()

    def variant(self, key: int, id_: int) -> tuple[Variant, Plan]:
        """Return a variant of a piece and its plan.

        Raises:
            NotFound: no such piece or variant.
        """
        now, variant = self.open(key), self.notebook.variant(key, id_)
        other = replace(now.piece, revision=variant.revision)
        return variant, plan_of(other, self.rigs.find(now.piece.rig).rig, now.plan)

    def take_variant(self, key: int, version: int, id_: int) -> Edited:
        """Make a variant the plan.

        Raises:
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            variant, plan = self.variant(key, id_)
            revision = as_revision(f"Variant {variant.name}", plan, variant.revision.locks)
            return self._save(now, version, revision, plan)

    def take_bars(self, key: int, version: int, other: Plan, name: str, bars: Collection[str]) -> Edited:
        """Take the bows of another plan of a piece in some bars; what is wished elsewhere stays.

        Raises:
            PlanError: these bows leave no way.
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            locks = with_bars_of(now.plan, other, bars)
            plan = replan(now.plan, locks.values())
            told = f"Bar {', '.join(bars)}: as {name}"
            return self._save(now, version, as_revision(told, plan, locks.values()), plan)

    def set_tempo(self, key: int, version: int, tempo_bpm: float) -> Edited:
        """Plan a piece at another tempo; locks stay.

        Raises:
            OutOfRange: not a tempo.
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            plan, locks = self.at_tempo(key, tempo_bpm).plan, now.piece.revision.locks
            return self._save(now, version, as_revision(f"Tempo {tempo_bpm:g}", plan, locks), plan)

    def tune(self, key: int, version: int, tuning: tuple[int, ...]) -> Edited:
        """Plan a piece with its strings tuned otherwise; without pitches as its rig has them.

        Args:
            key: of the piece.
            version: the player saw.
            tuning: pitches of the open strings, the lowest first.

        Raises:
            PlanError: the strings cannot be tuned so.
            NotFound, Conflict: as for change.
        """
        with self._changing(key, version) as now:
            rig, locks = self.rigs.find(now.piece.rig).rig, now.piece.revision.locks
            tuning = () if tuning == tuple(string.midi for string in rig.instrument.strings) else tuning
            plan = plan_part(now.plan.part, rig, replace(now.plan.draft.settings, tuning=tuning), locks)
            names = " ".join(string.letter for string in plan.rig.instrument.strings)
            return self._save(now, version, as_revision(f"Strings tuned {names}", plan, locks), plan)

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
        with self._hand:
            self.pieces.still(key, version)
            yield self.open(key)

    def _save(self, now: OpenPiece, version: int, revision: Revision, plan: Plan, before: Plan | None = None) -> Edited:
        saved = self.pieces.edit(now.piece, version, revision)
        self._plans.get_or_make(_state(saved), lambda: plan)
        return Edited(self._hold(OpenPiece(saved, plan)), before or now.plan)

    def _opened(self, piece: StoredPiece, near: Plan | None = None) -> OpenPiece:
        known = self.rigs.find(piece.rig)
        if known.version != piece.rig_version:  # shown as the rig is now; kept with the next change
            return self._hold(self._refitted.get_or_make((*_state(piece), known.version), lambda: _on(piece, known)))
        plan = self._plans.get_or_make(_state(piece), lambda: plan_of(piece, known.rig, near))
        return self._hold(OpenPiece(piece, plan, known.fault))

    def _hold(self, now: OpenPiece) -> OpenPiece:
        """Keep a piece at hand."""
        with self._lock:
            self._open[now.piece.id] = now
        return now


def _on(piece: StoredPiece, known: KnownRig) -> OpenPiece:
    """Search the path of a piece anew on a rig; wishes that the rig cannot keep are left out, and that is said."""
    part, settings, locks = at_pitch(part_of(piece), known.rig), piece.revision.settings, piece.revision.locks
    label = f"Played on {known.name}"
    if not tunable(known.rig.instrument, settings.tuning):
        settings, label = replace(settings, tuning=()), f"{label}, its strings as they are"
    plan, kept = kept_or_free(part, known.rig, settings, locks)
    if not kept:
        locks, label = (), f"{label}; what was set by hand did not fit it"
    told = "" if kept and settings.tuning == piece.revision.settings.tuning else f"{label}."
    on = replace(piece, rig=known.key, rig_version=known.version, revision=as_revision(label, plan, locks))
    return OpenPiece(on, plan, told)


def _state(piece: StoredPiece) -> tuple[int, int, int]:
    return piece.id, piece.version, piece.rig_version
