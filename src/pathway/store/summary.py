"""What the shelf shows of a plan without planning again."""

from collections import Counter
from itertools import islice

from pathway.core.planning import Plan

BARS = 12  # of a stroke type that are told


def summary_of(plan: Plan) -> dict[str, object]:
    """Return a plan in a few values: its strokes drawn small, and how many findings of each severity."""
    end = max(stroke.finish for stroke in plan.strokes)
    hair = plan.rig.bow.hair
    shown = plan.strokes[:: max(1, len(plan.strokes) // 160)]
    return {
        "strokes": [
            [
                round(stroke.begin / end, 4),
                round(stroke.finish / end, 4),
                round(stroke.start / hair, 3),
                round(stroke.end / hair, 3),
            ]
            for stroke in shown
        ],
        "findings": dict(Counter(finding.severity.value for finding in plan.findings)),
        "measures": len(plan.part.measures),
        "tempo": round(plan.draft.tempo_bpm),
        "kinds": _bars_by_kind(plan),
        "locked": sum(stroke.locked for stroke in plan.strokes),
    }


def _bars_by_kind(plan: Plan) -> dict[str, list[str]]:
    """Return the first bars in which each stroke type is played."""
    bars: dict[str, dict[str, None]] = {}
    for stroke in plan.strokes:
        bars.setdefault(stroke.kind, {})[plan.note[stroke.notes[0]].measure] = None
    return {kind: list(islice(found, BARS)) for kind, found in bars.items()}
