"""From a stored piece to its part, its plan and its engraved lines."""

import re
from collections.abc import Iterable
from dataclasses import replace

from pathway.core.music import Part
from pathway.core.planning import Lock, Plan, plan_part, revisit
from pathway.core.planning.wish_checks import tuned
from pathway.core.planning.wishes import Settings
from pathway.core.rig import Rig
from pathway.errors import OutOfRange, PlanError
from pathway.formats.engraver import engraver
from pathway.formats.mei import read_mei, without_bow_marks
from pathway.formats.part_writer import Written
from pathway.formats.safe_files import parse_xml
from pathway.formats.score import ScoreFile, at_pitch
from pathway.formats.staves import System, read_system
from pathway.store import Revision, StoredPiece
from pathway.store.summary import summary_of

_LABEL = re.compile(r"<label(Abbr)?\b.*?</label(Abbr)?>|<label(Abbr)?\b[^>]*/>", re.DOTALL)


def part_of(piece: StoredPiece) -> Part:
    """Return the part of a piece as written."""
    return read_mei(parse_xml(piece.mei.encode()), piece.title, piece.part_name)


def engraved(mei: str, width: int) -> tuple[System, ...]:
    """Return the lines of a piece at a width [CSS px]."""
    return tuple(read_system(svg) for svg in engraver().draw(without_bow_marks(mei), width))


def engraved_alone(mei: str, width: int, bars: tuple[int, int] | None = None) -> tuple[System, ...]:
    """Return a few bars, counted from 0, as lines that fill a width [CSS px], without the name of the part."""
    plain = _LABEL.sub("", without_bow_marks(mei))
    return tuple(read_system(svg) for svg in engraver().draw(plain, width, bars, filled=True))


def plan_of(piece: StoredPiece, own: Rig, near: Plan | None) -> Plan:
    """Plan a stored state; a plan of the same piece with the same settings spares most of the work.

    Args:
        piece: with the state.
        own: its rig, before any string is tuned for the piece.
        near: another plan of the piece, if there is one.
    """
    revision = piece.revision
    rig = tuned(own, revision.settings.tuning)
    part = near.part if near else at_pitch(part_of(piece), own)
    try:
        if near is not None and near.rig == rig and near.draft.settings == revision.settings:
            return revisit(near, revision.locks, revision.path)
        return plan_part(part, rig, revision.settings, revision.locks, revision.path)
    except (PlanError, OutOfRange):  # a path from before the rules learnt something: found anew, the wishes kept
        return kept_or_free(part, rig, revision.settings, revision.locks)[0]


def kept_or_free(part: Part, rig: Rig, settings: Settings, locks: Iterable[Lock]) -> tuple[Plan, bool]:
    """Return the plan with all wishes and true; without them and false where the rig has no such places or strings."""
    try:
        return plan_part(part, rig, settings, locks), True
    except (PlanError, OutOfRange):
        return plan_part(part, rig, replace(settings, passages=()), ()), False


def as_revision(label: str, plan: Plan, locks: Iterable[Lock]) -> Revision:
    """Return a plan as a state of the history, with the wishes that it was made from."""
    return Revision(label, plan.draft.settings, tuple(locks), plan.path, summary_of(plan))


def drawn(score: Written, width: int) -> tuple[System, ...]:
    """Return a written part engraved, so wide [CSS px]; its notes go by the ids that they have in the part."""

    def named(system: System) -> System:
        return replace(system, notes={score.heads[i]: spot for i, spot in system.notes.items() if i in score.heads})

    mei = ScoreFile(score.data, "drill.musicxml").part().mei
    return tuple(named(system) for system in engraved_alone(mei, width))
