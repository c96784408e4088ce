"""What will go wrong, in players' words, worst first; what is one figure's trouble is said once."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from pathway.core.planning.columns import NoteColumns
from pathway.core.planning.draft import Draft
from pathway.core.planning.findings.catalogue import CATALOGUE, Once
from pathway.core.planning.findings.contrast import contrast_findings
from pathway.core.planning.findings.hair import hair_findings
from pathway.core.planning.findings.owed import owed_findings
from pathway.core.planning.findings.scene import Scene
from pathway.core.planning.findings.strings import string_findings
from pathway.core.planning.findings.technique import technique_findings
from pathway.core.planning.findings.tone import tone_findings
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.plan import Code, Crossing, Finding, NotePlan, Severity, StrokePlan
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
    crossings: Sequence[Crossing],
    locks: Mapping[str, Lock],
) -> tuple[Finding, ...]:
    """Return the findings of a plan, worst first, then in the order of the music."""
    scene = Scene(draft, problem, path, strokes, notes, columns, crossings, locks)
    found = [*hair_findings(scene), *tone_findings(scene), *technique_findings(scene), *string_findings(scene)]
    found += [*owed_findings(scene), *contrast_findings(scene)]
    place = {**draft.stroke_of, **_passed_by(draft)} if draft.left_out else draft.stroke_of
    return tuple(sorted(_grouped(scene, found, place), key=lambda f: (_ORDER[f.severity], place[f.notes[0]])))


def _passed_by(draft: Draft) -> dict[str, int]:
    """Return before which stroke each note stands that is left out, or after the last."""
    found, following = {}, len(draft.strokes) - 1
    for event in reversed(draft.played.events):
        following = draft.stroke_of.get(event.id, following)
        found[event.id] = following
    return found


def _grouped(scene: Scene, found: Sequence[Finding], place: Mapping[str, int]) -> list[Finding]:
    """Say once what holds for like figures, and for strokes one after the other."""
    figure = scene.draft.company.figure
    heads: list[Finding] = []
    open_: dict[tuple[Code, Severity, object], int] = {}
    last: dict[tuple[Code, Severity], tuple[int, int]] = {}  # index among heads, and last stroke
    for finding in sorted(found, key=lambda f: place[f.notes[0]]):
        first, end = place[finding.notes[0]], place[finding.notes[-1]]
        kind = (finding.code, finding.severity)
        segment = scene.segment(first)
        manner = (segment.kind.key, segment.ask.passage)
        of_manner = CATALOGUE[finding.code].once is Once.MANNER
        key = (*kind, manner if of_manner else figure.get(first, finding.notes[0]))
        near = last.get(kind)
        into = open_.get(key, near[0] if near and first - near[1] <= 1 else None)
        if into is None:
            into = len(heads)
            heads.append(finding)
        else:
            head = heads[into]
            heads[into] = replace(head, notes=(*head.notes, *finding.notes), others=(*head.others, finding.notes))
        open_[key] = into
        last[kind] = (into, end)
    return [_told(scene, finding) for finding in heads]


def _told(scene: Scene, finding: Finding) -> Finding:
    """Add the other bars that a finding holds for."""
    bars = list(dict.fromkeys(scene.draft.measure_of(id_) for id_ in finding.notes))
    others = tuple(bar for bar in bars if bar not in {finding.bar, finding.facts.get("change_bar")})
    if CATALOGUE[finding.code].spans_bars and len(bars) <= 2:
        return finding
    return replace(finding, also=others) if others else finding
