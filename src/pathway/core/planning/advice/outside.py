"""What brings notes onto the instrument that lie outside it: another octave, or a string tuned for the piece."""

from collections.abc import Iterator
from dataclasses import replace

from pathway.core.music import pitch_name
from pathway.core.planning.advice.fix import Fix
from pathway.core.planning.draft import Draft
from pathway.core.planning.plan import Finding, Plan
from pathway.core.planning.strokes.compass import octave_within
from pathway.core.planning.wish_checks import tunable
from pathway.core.planning.wishes import Lock, Settings
from pathway.errors import PathwayError

_OCTAVES = {1: "an octave higher", -1: "an octave lower", 2: "two octaves higher", -2: "two octaves lower"}


def brought_inside(plan: Plan, finding: Finding) -> Iterator[Fix | None]:
    """Yield what brings all notes of a finding onto the instrument; each was tried on the whole piece."""
    for fix in (*_octaves(plan, finding), *_tunings(plan, finding)):
        yield fix if _works(plan, finding, fix) else None


def _octaves(plan: Plan, finding: Finding) -> Iterator[Fix]:
    moved = {id_: octave_within(plan.part.event[id_], plan.rig.instrument) for id_ in finding.notes}
    if None in moved.values():
        return
    octaves = {octave for octave in moved.values() if octave}
    words = _OCTAVES.get(next(iter(octaves)), "three octaves away") if len(octaves) == 1 else "in the octave that fits"
    facts = {"pitch": finding.facts["pitch"] if len(moved) == 1 else "these notes", "octaves": words}
    locks = tuple(replace(plan.locks.get(id_, Lock(id_)), octave=octave) for id_, octave in moved.items())
    yield Fix("octave", "octave", facts, locks)


def _tunings(plan: Plan, finding: Finding) -> Iterator[Fix]:
    """Yield the lowest string tuned down as far as the finding's notes ask for."""
    strings, notes = plan.rig.instrument.strings, {*finding.notes}
    lowest = min(pitch for out in plan.draft.left_out if out.event.id in notes for pitch in out.pitches)
    tuning = (lowest, *(string.midi for string in strings[1:]))
    if lowest < strings[0].midi and tunable(plan.rig.instrument, tuning):
        facts = {"string": strings[0].letter, "pitch": pitch_name(lowest)}
        yield Fix("tuning", "tuning", facts, tuning=tuning)


def _works(plan: Plan, finding: Finding, fix: Fix) -> bool:
    """Whether none of the notes is left out any more."""
    locks = {**plan.locks, **{lock.note: lock for lock in fix.locks}}
    settings: Settings = replace(plan.draft.settings, tuning=fix.tuning or plan.draft.settings.tuning)
    try:
        draft = Draft.of(plan.part, plan.rig, settings, locks)
    except PathwayError:
        return False
    return not {out.event.id for out in draft.left_out} & {*finding.notes}
