"""What will go wrong, worst first."""

from collections.abc import Mapping, Sequence

from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.crossing import Crossings
from pathway.core.planning.draft import Draft
from pathway.core.planning.finding import Finding, Severity
from pathway.core.planning.findings.contrast import contrast_findings
from pathway.core.planning.findings.hair import hair_findings
from pathway.core.planning.findings.once import told_once
from pathway.core.planning.findings.owed import owed_findings
from pathway.core.planning.findings.scene import Scene
from pathway.core.planning.findings.strings import string_findings
from pathway.core.planning.findings.technique import technique_findings
from pathway.core.planning.findings.tone import tone_findings
from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.wishes import Lock

__all__ = ["find"]
_ORDER = {Severity.HIGH: 0, Severity.MEDIUM: 1, Severity.LOW: 2}


def find(
    draft: Draft,
    problem: PathProblem,
    path: Path,
    strokes: Sequence[StrokePlan],
    notes: Sequence[NotePlan],
    columns: NoteColumns,
    crossed: Crossings,
    locks: Mapping[str, Lock],
) -> tuple[Finding, ...]:
    """Return the findings of a plan, worst first, then in the order of the music."""
    scene = Scene(draft, problem, path, strokes, notes, columns, crossed, locks)
    found = [*hair_findings(scene), *tone_findings(scene), *technique_findings(scene), *string_findings(scene)]
    found += [*owed_findings(scene), *contrast_findings(scene)]
    place = {**draft.stroke_of, **_passed_by(draft)} if draft.left_out else draft.stroke_of
    return tuple(sorted(told_once(scene, found, place), key=lambda f: (_ORDER[f.severity], place[f.notes[0]])))


def _passed_by(draft: Draft) -> dict[str, int]:
    """Return before which stroke each note stands that is left out, or after the last."""
    found, following = {}, len(draft.strokes) - 1
    for event in reversed(draft.played.events):
        following = draft.stroke_of.get(event.id, following)
        found[event.id] = following
    return found
