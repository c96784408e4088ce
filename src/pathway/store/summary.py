"""What the shelf shows of a plan without planning again."""

from collections import Counter

from pathway.core.planning import Plan


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
        "locked": sum(stroke.locked for stroke in plan.strokes),
    }
