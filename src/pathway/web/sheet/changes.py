"""Says in one line what an edit did to the plan."""

from collections.abc import Sequence

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning import Plan
from pathway.core.planning.plan import StrokePlan

_Pairs = Sequence[tuple[StrokePlan, StrokePlan]]  # strokes before and after an edit
MOVED = 0.01  # less is not worth a word [m]


def what_changed(before: Plan, after: Plan, say: Speech = PLAIN) -> str:
    """Return one sentence: what turned, how far the bow moved and where, and how the findings changed."""
    anew = [after.strokes[k] for k in after.carried.anew]
    changed = [(before.stroke[s.id], s) for s in anew if s.id in before.stroke]
    tempo = _tempo(before, after)
    parts = [tempo or _turned(changed, after), _shifted(changed, after, say), _findings(before, after)]
    said = [part for part in parts if part]
    told = "; ".join(said) + "."
    return told[0].upper() + told[1:] if said else "Nothing else changed."


def _tempo(before: Plan, after: Plan) -> str:
    if before.draft.tempo_bpm == after.draft.tempo_bpm:
        return ""
    return f"Planned at {after.draft.tempo_bpm:g}"


def _turned(changed: _Pairs, after: Plan) -> str:
    turned = [now for was, now in changed if now.direction is not was.direction]
    if not turned:
        return ""
    if len(turned) == 1:
        return f"{_bars([turned[0].id], after)}: now {after.rig.word(turned[0].direction)}"
    return f"{len(turned)} bows turned in {_bars([s.id for s in turned], after)}"


def _shifted(changed: _Pairs, after: Plan, say: Speech) -> str:
    moves = {now.id: now.end - was.end for was, now in changed if now.direction is was.direction}
    moved = [id_ for id_, way in moves.items() if abs(way) > MOVED]
    if not moved:
        return ""
    furthest = max((moves[id_] for id_ in moved), key=abs)
    end = "tip" if furthest > 0 else "frog"
    return f"{_bars(moved, after)} shifted up to {say.length(abs(furthest))} towards the {end}"


def _findings(before: Plan, after: Plan) -> str:
    more = len(after.findings) - len(before.findings)
    if not more:
        return ""
    count = abs(more)
    return f"{count} {'finding' if count == 1 else 'findings'} {'more' if more > 0 else 'fewer'}"


def _bars(strokes: list[str], plan: Plan) -> str:
    numbers = list(dict.fromkeys(plan.part.bar[id_] for id_ in strokes))
    return f"bar {numbers[0]}" if len(numbers) == 1 else f"bars {numbers[0]}–{numbers[-1]}"
