"""Pieces to others and back: a file of open parts, somebody else's bowing as a variant, newer editions, other parts."""

import json
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path, PurePath

from sqlalchemy import Engine

from pathway.core.music import Part
from pathway.core.planning.after import after, bowed_after
from pathway.core.planning.matched import matched, wishes_on
from pathway.core.planning.plan import Plan
from pathway.core.planning.wishes import Link, Lock, Settings, Wishes
from pathway.core.practice.log import in_our_time
from pathway.core.rig import PRESETS, Rig
from pathway.core.rig.bow import Direction
from pathway.desk.desk import Desk
from pathway.desk.stored import as_revision, kept_or_free
from pathway.errors import NotFound, PlanError, ScoreError
from pathway.formats.log_document import log_json, read_log
from pathway.formats.piece_file import AsideDoc, PieceFile, TakeDoc, read_piece_file, write_piece_file
from pathway.formats.plan_document import read_plan_document
from pathway.formats.plan_exchange import document_of
from pathway.formats.recording import check_flac
from pathway.formats.rig_document import read_rig, rig_document
from pathway.formats.score import ScoreFile, at_pitch
from pathway.formats.wishes_document import placed, read_wishes, wishes_document
from pathway.store import NewPiece, Notebook, Pieces, Rigs, StoredPiece, history_of, lay_history, open_database, settle
from pathway.store.notebook import MOST_VARIANTS
from pathway.store.practice import PracticeLog
from pathway.store.succession import succeed
from pathway.store.takes import NewTake, StoredTake, Takes

SAME_NOTES = 0.9  # of a file's notes that a piece has, to which its bowing can be laid
EDITION = 0.5  # of its notes that a newer edition has at least
UNFIT = "; what was set by hand did not fit"
_LINKS = {"hook": Link.HOOK, "retake": Link.RETAKE, "change": Link.CHANGE}
_LOOKED_AT = 30  # pieces, the last opened first, that a file is laid beside
MOST_LEFT = 40  # places that are listed


@dataclass(frozen=True)
class Inside:
    """What a piece file holds, before anything of it is taken."""

    file: PieceFile
    locks: int
    passages: int
    sets: int
    same: tuple[tuple[int, str, float], ...]  # pieces with the same notes: id, title, share


@dataclass(frozen=True, slots=True)
class BroughtPiece:
    """What became of something that was brought in."""

    id: int
    lost: int  # wishes and other things that found no place
    left: tuple[str, ...]  # places of notes that were not found again


class Exchange:
    """Brings pieces out and in."""

    def __init__(self, desk: Desk, log: PracticeLog, takes: Takes, engine: Engine) -> None:
        self._desk, self._log, self._takes, self._engine = desk, log, takes, engine

    def pack(self, key: int, *, log: bool, takes: bool, history: bool = False) -> bytes:
        """Return a piece as a file, with its log, its takes and its history if that is wished for.

        Raises:
            NotFound: there is no such piece.
        """
        now, brought = self._desk.open(key), self._desk.pieces.brought(key)
        revision = now.piece.revision
        sets = self._log.sets(key) if log else []
        kept = self._takes.of(key) if takes else []
        return write_piece_file(
            PieceFile(
                title=now.piece.title,
                part=now.piece.part_name,
                number=_number_of(ScoreFile(brought.data, brought.filename), now.piece),
                score_name=brought.filename,
                score=brought.data,
                plan=document_of(now.plan).to_json().encode(),
                wishes=_wishes(revision.settings, revision.locks),
                rig=json.dumps(rig_document(now.plan.rig), indent=1).encode(),
                made=datetime.now(UTC).date().isoformat(),
                variants=[
                    (one.name, _wishes(one.revision.settings, one.revision.locks))
                    for one in self._desk.notebook.variants(key)
                ],
                asides=[
                    AsideDoc(code=code, note=note, reason=reason)
                    for (code, note), reason in self._desk.notebook.asides(key).items()
                ],
                log=log_json(sets).encode() if log else None,
                history=history_of(self._engine, key) if history else None,
                takes=[(_take_doc(one), sound) for one in kept if (sound := self._sound(one))],
            )
        )

    def _sound(self, take: StoredTake) -> bytes:
        """Return the sound of a take; none where its file is gone."""
        try:
            return self._takes.sound(take)
        except NotFound:
            return b""

    def look(self, data: bytes) -> Inside:
        """Return what a piece file holds; nothing is kept.

        Raises:
            ScoreError, PlanError, RigError: something in it is not sound; says what.
        """
        file = _read(data)
        part, wishes = _part_of(file), read_wishes(file.wishes)
        read_plan_document(file.plan)
        read_rig(file.rig)
        sets = read_log(file.log) if file.log is not None else []
        return Inside(file, len(wishes.locks), len(wishes.settings.passages), len(sets), tuple(self._same(part)))

    def _same(self, part: Part) -> list[tuple[int, str, float]]:
        """Return the pieces that have the notes of a part."""
        found = []
        for entry in self._desk.pieces.shelf()[:_LOOKED_AT]:
            if not entry.fault:
                share = matched(part, self._desk.open(entry.id).plan.part).share
                if share >= SAME_NOTES:
                    found.append((entry.id, entry.title, share))
        return found

    def take_new(self, data: bytes) -> int:
        """Put a piece from a file on the shelf; return its id.

        Raises:
            ScoreError, PlanError, RigError: something in it is not sound; nothing is kept.
        """
        file = _read(data)
        with tempfile.TemporaryDirectory() as folder:
            fresh = open_database(f"sqlite:///{Path(folder) / 'piece.sqlite'}")
            try:
                brought = Takes(fresh, Path(folder))
                key = _laid_out(file, fresh, brought)
                if file.history is not None:
                    lay_history(fresh, key, file.history)
                return settle(self._engine, fresh, self._takes, brought)
            finally:
                fresh.dispose()

    def take_variant(self, data: bytes, key: int) -> BroughtPiece:
        """Lay the bowing of a file beside a piece with the same notes, as a variant; return the variant.

        Raises:
            NotFound: there is no such piece.
            ScoreError: its notes are others.
        """
        file, now = read_piece_file(data), self._desk.open(key)
        part = _part_of(file)
        found = matched(part, now.plan.part)
        if found.share < SAME_NOTES:
            raise ScoreError("The file is of other notes than this piece", advice="Take it as a new piece.")
        asked = placed(read_wishes(file.wishes), part)
        bows = {stroke.id: stroke for stroke in read_plan_document(file.plan).strokes}
        with_bows = _with_bows(asked.locks, {id_: (s.direction, s.entry) for id_, s in bows.items()})
        carried = wishes_on(asked.settings, with_bows, found.notes, part)
        name = f"bowing from the file of {file.title}"[:100]
        mine = replace(carried.settings, tempo_bpm=now.plan.draft.settings.tempo_bpm)
        id_, unfit = self._keep_variant(key, name, mine, carried.locks, now.plan)
        return BroughtPiece(id_, carried.lost + unfit, found.left[:MOST_LEFT])

    def take_document(self, key: int, data: bytes, filename: str) -> BroughtPiece:
        """Lay what a wish file or a plan document asks for beside a piece, as a variant; return the variant.

        Raises:
            NotFound: there is no such piece.
            PlanError: neither of them, or of notes that the piece does not have.
        """
        now = self._desk.open(key)
        settings, locks = now.plan.draft.settings, list[Lock]()
        if b'"pathway-plan"' in data:
            strokes = read_plan_document(data).strokes
            known = [stroke for stroke in strokes if stroke.id in now.plan.note]
            if len(known) < SAME_NOTES * len(strokes):
                raise PlanError(
                    "This plan is of other notes than the piece", place=filename, advice="Open its own piece."
                )
            locks = _with_bows((), {stroke.id: (stroke.direction, stroke.entry) for stroke in known})
        else:
            asked = placed(read_wishes(data), now.plan.part)
            settings, locks = asked.settings, list(asked.locks)
        name = f"as in {PurePath(filename).stem}"[:100]
        return BroughtPiece(*self._keep_variant(key, name, settings, locks, now.plan), ())

    def renew(self, key: int, data: bytes, filename: str, version: int | None = None) -> BroughtPiece:
        """Bring a newer edition of a piece in: it takes the place of the old one, with all that finds its notes again.

        The old one is taken off the shelf, and can be put back.

        Raises:
            NotFound: there is no such piece.
            ScoreError: it cannot be read, or is another piece.
            Conflict: the piece was changed since it was read, or since a version that the player saw; nothing is done.
        """
        now, score = self._desk.open(key), ScoreFile(data, filename)
        name = now.piece.part_name
        entry = next((part for part in score.parts if part.name == name), None) or score.find()
        found = score.part(entry.number)
        known = self._desk.rigs.find(now.piece.rig)
        part = at_pitch(found.part, known.rig)
        notes = matched(now.plan.part, part)
        if notes.share < EDITION:
            raise ScoreError(
                "This is not an edition of the same piece: its notes are others", advice="Bring it in by itself."
            )
        revision = now.piece.revision
        carried = wishes_on(revision.settings, revision.locks, notes.notes, now.plan.part)
        plan, kept = kept_or_free(part, known.rig, carried.settings, carried.locks)
        locks = carried.locks if kept else ()
        piece = NewPiece(now.piece.title, name, filename, data, found.mei, known.key, rig_version=known.version)
        first, variants = as_revision("A newer edition" + UNFIT * (not kept), plan, locks), []
        for one in self._desk.notebook.variants(key):
            theirs = wishes_on(one.revision.settings, one.revision.locks, notes.notes, now.plan.part)
            other, fits = kept_or_free(part, known.rig, theirs.settings, theirs.locks)
            variants.append((one.name, as_revision(one.name, other, theirs.locks if fits else ())))
        seen = now.piece.version if version is None else version
        new, astray = succeed(self._engine, (key, seen), piece, first, variants, notes.notes)
        return BroughtPiece(new, carried.lost + len(carried.locks) - len(locks) + astray, notes.left[:MOST_LEFT])

    def siblings(self, key: int) -> list[tuple[int, str]]:
        """Return the other parts of the same score on the shelf: id and part name."""
        mine = self._desk.pieces.brought(key)
        others = [entry for entry in self._desk.pieces.shelf() if entry.id != key and not entry.fault]
        return [(e.id, e.part_name) for e in others if self._desk.pieces.brought(e.id).data == mine.data]

    def bow_after(self, key: int, other: int) -> BroughtPiece:
        """Lay the bowings of another part of the score beside a piece, where rhythm and slurs agree, as a variant.

        Raises:
            NotFound: no such piece.
            ScoreError: nowhere do they agree.
        """
        now, leader = self._desk.open(key), self._desk.open(other)
        found = bowed_after(leader.plan, now.plan.part)
        if not found.notes:
            raise ScoreError("Nowhere do rhythm and slurs of the two parts agree", advice="Bow this part by itself.")
        settings = now.plan.draft.settings
        locks = after(leader.plan, found, now.piece.revision.locks)
        name = f"after the {leader.piece.part_name}"[:100]
        return BroughtPiece(*self._keep_variant(key, name, settings, locks, now.plan), found.left[:MOST_LEFT])

    def _keep_variant(
        self, key: int, name: str, settings: Settings, locks: Sequence[Lock], plan: Plan
    ) -> tuple[int, int]:
        """Keep wishes as a variant; return it, and how many of them cannot be bowed on this rig and were left out."""
        other, kept = kept_or_free(plan.part, plan.rig, settings, tuple(locks))
        mine = tuple(locks) if kept else ()
        id_ = self._desk.notebook.keep(key, name, as_revision(name, other, mine))
        return id_, len(locks) - len(mine)


def _read(data: bytes) -> PieceFile:
    """Return a piece file of which everything can be kept."""
    file = read_piece_file(data)
    if len(file.variants) > MOST_VARIANTS:
        raise ScoreError(
            f"This piece file has {len(file.variants)} variants; {MOST_VARIANTS} can be kept",
            advice="Take some of them out of it.",
        )
    return file


def _laid_out(file: PieceFile, fresh: Engine, brought: Takes) -> int:
    """Lay what a piece file holds into data of its own, each part read through; return the piece's id there.

    Raises:
        ScoreError, PlanError, RigError: something in it is not sound.
    """
    own, found = read_rig(file.rig), ScoreFile(file.score, file.score_name).part(file.number)
    part = at_pitch(found.part, own)
    asked = placed(read_wishes(file.wishes), part)
    plan, kept = kept_or_free(part, own, asked.settings, asked.locks)
    read_plan_document(file.plan)
    rigs, notebook = Rigs(fresh), Notebook(fresh)
    rig = rigs.find(typical_of(own) or rigs.add(f"Rig of {file.title}", own, _base_of(own)))
    piece = NewPiece(file.title, file.part, file.score_name, file.score, found.mei, rig.key, rig_version=rig.version)
    first = as_revision("From a file" + UNFIT * (not kept), plan, asked.locks if kept else ())
    key = Pieces(fresh).add(piece, first)
    for name, data in file.variants:
        wishes = placed(read_wishes(data), part)
        other, fits = kept_or_free(part, own, wishes.settings, wishes.locks)
        notebook.keep(key, name, as_revision(name, other, wishes.locks if fits else ()))
    for aside in file.asides:
        if aside.note in plan.note:
            notebook.lay_aside(key, aside.code, aside.note, aside.reason)
    if file.log is not None:
        PracticeLog(fresh).bring([replace(played, title=file.title) for played in read_log(file.log)])
    for take, sound in file.takes:
        check_flac(sound)
        whole = take.first in plan.note and take.last in plan.note
        span = (take.first, take.last) if whole else ("", "")
        brought.add(NewTake(key, take.name, 0, take.seconds, *span, _when(take.begun)), sound)
    return key


def typical_of(rig: Rig) -> str | None:
    """Return the key of the typical rig with these numbers; None if it is one of somebody's own."""
    mine = rig_document(replace(rig, key=""))
    return next((key for key, one in PRESETS.items() if rig_document(replace(one, key="")) == mine), None)


def _base_of(rig: Rig) -> str:
    """Return the key of the typical rig that one of somebody's own came from."""
    if rig.key in PRESETS:
        return rig.key
    return next((key for key, one in PRESETS.items() if one.instrument.name == rig.instrument.name), "violin")


def _when(begun: str) -> datetime:
    try:
        found = datetime.fromisoformat(begun)
    except ValueError as error:
        raise ScoreError(f"This piece file is not sound: {begun!r} is no time", place="takes") from error
    if not in_our_time(found):
        raise ScoreError(f"This piece file is not sound: a take was begun in the year {found.year}", place="takes")
    return found if found.tzinfo else found.replace(tzinfo=UTC)


def _take_doc(take: StoredTake) -> TakeDoc:
    begun = take.begun.isoformat()
    return TakeDoc(name=take.name, begun=begun, first=take.first, last=take.last, seconds=take.seconds)


def _with_bows(locks: Sequence[Lock], bows: Mapping[str, tuple[str, str]]) -> list[Lock]:
    """Return wishes with the direction of every bow, and its hooks and retakes."""
    by_note = {lock.note: lock for lock in locks}
    for note, (direction, entry) in bows.items():
        mine = by_note.get(note, Lock(note))
        by_note[note] = replace(mine, direction=Direction[direction.upper()], link=_LINKS.get(entry, mine.link))
    return list(by_note.values())


def _wishes(settings: Settings, locks: Sequence[Lock]) -> bytes:
    return json.dumps(wishes_document(Wishes(settings, tuple(locks))), ensure_ascii=False, indent=1).encode()


def _number_of(score: ScoreFile, piece: StoredPiece) -> int:
    """Return which part of its score a piece is; it may go by another name by now."""
    if len(score.parts) == 1:
        return score.parts[0].number
    named = [part.number for part in score.parts if part.name == piece.part_name]
    if len(named) == 1:
        return named[0]
    return next((one.number for one in score.parts if one.notes and score.part(one.number).mei == piece.mei), 1)


def _part_of(file: PieceFile) -> Part:
    """Return the part that a file is of, at the pitch of its rig."""
    score = ScoreFile(file.score, file.score_name)
    return at_pitch(score.part(file.number).part, read_rig(file.rig))
