"""What can be done to the plan of an open piece: each knows what it makes of it, and what the history calls it.

What a change has to ``find`` is asked for once the piece is known to be as the player saw it.
"""

from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass, replace
from typing import Protocol

from pathway.core.planning import Lock, Plan, checked_tempo, plan_part, replan
from pathway.core.planning.advice.symptoms import Cause
from pathway.core.planning.edits import Edit, edited_locks, label_of
from pathway.core.planning.relief import reliefs
from pathway.core.planning.taken import with_bars_of
from pathway.core.planning.wish_checks import tunable
from pathway.core.planning.wishes import Settings
from pathway.desk.helps import Tried
from pathway.desk.open_piece import OpenPiece
from pathway.desk.stored import as_revision, kept_or_free, part_of
from pathway.errors import NotFound
from pathway.formats.score import at_pitch
from pathway.store import KnownRig, StoredPiece, Variant


class PlanChange(Protocol):
    """Something that is done to the plan of a piece."""

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece as it will be, with the state that joins its history.

        Raises:
            PlanError, OutOfRange: it cannot be.
            NotFound: a note, or a help that is not offered any more.
        """


def _planned(now: OpenPiece, label: str, plan: Plan, locks: Iterable[Lock] | None = None) -> OpenPiece:
    """Return a piece under another plan; without locks its wishes stay."""
    wished = now.piece.revision.locks if locks is None else locks
    return replace(now, piece=replace(now.piece, revision=as_revision(label, plan, wished)), plan=plan)


@dataclass(frozen=True)
class ByHand:
    """An edit, planned around."""

    edit: Edit

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece with it."""
        locks = edited_locks(now.plan, self.edit).values()
        return _planned(now, label_of(now.plan, self.edit), replan(now.plan, locks), locks)


@dataclass(frozen=True)
class HelpTaken:
    """A help against a finding of a note: its wishes join the player's own."""

    note: str
    find: Callable[[], Tried]

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece with it."""
        tried = self.find()
        return _helped(now, self.note, tried.text, tried.plan)


@dataclass(frozen=True)
class Relieved:
    """A change against a cause of what is heard on a note."""

    note: str
    cause: Cause
    fix: str

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece with it."""
        relief = next((one for one in reliefs(now.plan, self.note, self.cause) if one.fix.id == self.fix), None)
        if relief is None:
            raise NotFound("This help is not offered any more", advice="Say again what you hear.")
        return _helped(now, self.note, relief.fix.text(), relief.plan)


def _helped(now: OpenPiece, note: str, text: str, plan: Plan) -> OpenPiece:
    return _planned(now, f"Bar {now.plan.note[note].measure}: {text.lower()}", plan, plan.locks.values())


@dataclass(frozen=True)
class Anew:
    """The whole path found anew, every wish kept: edits keep the bows they find, so that many leave a poorer path."""

    find: Callable[[], Plan] | None = None  # where it may be at hand

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece so."""
        part, rig, settings = now.plan.part, now.plan.rig, now.plan.draft.settings
        plan = self.find() if self.find else plan_part(part, rig, settings, now.piece.revision.locks)
        return _planned(now, "The rest planned anew", plan)


@dataclass(frozen=True)
class Chosen:
    """Other choices for the whole piece, its passages or its tempi, the rest of it kept."""

    label: str
    settings: Settings

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece with them."""
        return _planned(now, self.label, replan(now.plan, now.piece.revision.locks, self.settings))


@dataclass(frozen=True)
class AtTempo:
    """Another tempo of the whole [beats a minute]; locks stay."""

    beats_per_minute: float

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece at it."""
        settings = replace(now.plan.draft.settings, tempo_bpm=checked_tempo(self.beats_per_minute))
        plan = plan_part(now.plan.part, now.plan.rig, settings, now.piece.revision.locks)
        return _planned(now, f"Tempo {self.beats_per_minute:g}", plan)


@dataclass(frozen=True)
class Tuned:
    """The strings tuned for the piece, the lowest first; without pitches as its own rig has them."""

    own: KnownRig
    pitches: tuple[int, ...]

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece on them."""
        plain = self.pitches == tuple(string.midi for string in self.own.rig.instrument.strings)
        settings = replace(now.plan.draft.settings, tuning=() if plain else self.pitches)
        plan = plan_part(now.plan.part, self.own.rig, settings, now.piece.revision.locks)
        return _planned(now, f"Strings tuned {' '.join(s.letter for s in plan.rig.instrument.strings)}", plan)


@dataclass(frozen=True)
class VariantTaken:
    """A variant as the plan."""

    find: Callable[[], tuple[Variant, Plan]]

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece so."""
        variant, plan = self.find()
        return _planned(now, f"Variant {variant.name}", plan, variant.revision.locks)


@dataclass(frozen=True)
class BarsTaken:
    """The bows of another plan of the piece in some bars; what is wished elsewhere stays."""

    other: Plan
    name: str
    bars: Collection[str]

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece with them."""
        locks = with_bars_of(now.plan, self.other, self.bars).values()
        return _planned(now, f"Bar {', '.join(self.bars)}: as {self.name}", replan(now.plan, locks), locks)


@dataclass(frozen=True)
class OnRig:
    """Another rig, or other numbers of it: planned anew, without the wishes that it cannot keep."""

    known: KnownRig

    def made(self, now: OpenPiece) -> OpenPiece:
        """Return the piece on it."""
        return played_on(now.piece, self.known)


def played_on(piece: StoredPiece, known: KnownRig) -> OpenPiece:
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
