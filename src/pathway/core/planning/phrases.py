"""Where phrases begin: there the bow has to have arrived at its place."""

from pathway.core.planning.plan import Plan, StrokePlan

BREATH = 0.25  # of silence before a stroke that begins a phrase [s]


def phrases_of(plan: Plan) -> tuple[StrokePlan, ...]:
    """Return the strokes with which phrases begin: after a rest, at a section or where a passage begins."""
    passages = {passage.start for passage in plan.draft.settings.passages}
    sections = set(plan.part.sections)
    found, over = [], -BREATH
    for stroke in plan.strokes:
        first = plan.part.event[stroke.notes[0]]
        if stroke.begin - over >= BREATH or first.id in passages or first.onset in sections:
            found.append(stroke)
        over = plan.note[stroke.notes[-1]].onset + plan.note[stroke.notes[-1]].duration
    return tuple(found)
