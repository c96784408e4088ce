"""What is one figure's trouble, or one manner's, is told once, with all its places."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from pathway.core.planning.finding import Code, Finding, Severity
from pathway.core.planning.findings.catalogue import CATALOGUE, Once
from pathway.core.planning.findings.scene import Scene


def told_once(scene: Scene, found: Sequence[Finding], place: Mapping[str, int]) -> list[Finding]:
    """Return findings of which each holds for all like figures, and for strokes one after the other.

    Args:
        scene: the plan in the making.
        found: what the rules found, place by place.
        place: index of the stroke of every note.
    """
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
    bars = list(dict.fromkeys(map(scene.draft.part.bar.__getitem__, finding.notes)))
    own = (finding.bar, finding.facts.get("change_bar"))
    others = tuple(bar for bar in bars if bar not in own)
    if CATALOGUE[finding.code].spans_bars and len(bars) <= 2:
        return finding
    return replace(finding, also=others) if others else finding
