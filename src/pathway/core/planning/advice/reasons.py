"""Why a stroke is as it is, read from the cost that found it: one line for each reason, the weightiest first."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pathway.core.guide.reasons import reason_text
from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.planning.path.company import Groups
from pathway.core.planning.path.costs import pairs_in
from pathway.core.planning.path.weights import (
    ACCENT,
    BAR_START,
    CHORD,
    EARLY_STRENGTH,
    FIRST_STROKE,
    GROWTH,
    HARD_WAY,
    HOOK,
    MIXED,
    PHRASE_START,
    RETAKE,
    UNLIKE_PHRASE,
    UPBEAT,
    WEAK_ENTRY,
)
from pathway.core.planning.plan import Plan, StrokePlan
from pathway.core.planning.strokes.columns import StrokeColumns
from pathway.core.planning.strokes.segments import HALF_BAR, Segment
from pathway.core.planning.wishes import Link, Style
from pathway.core.technique.crossings import Sense

SAVES, SPENDS = 0.85, 1.15  # of the preferred speed: slower and faster than habit [1]
_NEAR = 0.06  # of an end of the hair [m]
MOST_REASONS = 4


@dataclass(frozen=True, slots=True)
class Reason:
    """One reason, and what it weighed in the cost."""

    weight: float
    code: str
    bow: str = ""  # what the rig calls the stroke's direction
    way: float = 0.0  # along the hair [m]

    def text(self, say: Speech = PLAIN) -> str:
        """Return it in a player's words."""
        return reason_text(self.code, self.bow, self.way, say)


def reasons_for(plan: Plan, stroke: StrokePlan) -> list[Reason]:
    """Return why a stroke goes where it goes: at most a few reasons, the weightiest first."""
    k = plan.stroke_index[stroke.id]
    segment = plan.draft.strokes[k]
    found = [*_direction(plan, stroke, segment, k), *_company(plan, stroke, k), *_link(plan, stroke, k)]
    found += [*_length(plan, stroke, k), *_place(plan, stroke, k)]
    return sorted(found, key=lambda reason: -reason.weight)[:MOST_REASONS]


def _direction(plan: Plan, stroke: StrokePlan, segment: Segment, k: int) -> Iterator[Reason]:
    word = plan.rig.word(stroke.direction)
    if stroke.locked:
        yield Reason(9.0, "set", word)
        return
    if stroke.printed:
        yield Reason(9.0, "printed", word)
        return
    if stroke.direction is plan.rig.strong:
        yield from _strong(segment, plan.draft.columns, word, k)
    elif segment.upbeat:
        yield Reason(UPBEAT, "upbeat", word)
    elif segment.rest_before > 0 and segment.strength < HALF_BAR:
        yield Reason(WEAK_ENTRY, "weak entry", word)
    if segment.grows and (stroke.direction < 0) == (segment.grows > 0):
        yield Reason(GROWTH, "grows" if segment.grows > 0 else "fades", word)
    costs = plan.problem.direction_costs[k]
    chosen, other = (0, 1) if stroke.direction > 0 else (1, 0)
    if costs[chosen] > costs[other] + 0.1:
        yield Reason(float(costs[chosen] - costs[other]), "against the beat")
    crossing = plan.crossing_to.get(stroke.id)
    if crossing and crossing.sense is Sense.EASY:
        yield Reason(HARD_WAY, "easy way")


def _strong(segment: Segment, columns: StrokeColumns, word: str, k: int) -> Iterator[Reason]:
    """Yield what speaks for the strong bow."""
    if columns.chord[k]:
        yield Reason(CHORD, "chord", word)
    if columns.accented[k]:
        yield Reason(ACCENT, "accent", word)
    if columns.starts_phrase[k]:
        yield Reason(PHRASE_START, "phrase", word)
    if segment.strength >= HALF_BAR:
        early = EARLY_STRENGTH if segment.ask.style is Style.EARLY else 1.0
        weight = segment.strength * early + BAR_START * segment.first_of_bar + FIRST_STROKE * (k == 0)
        yield Reason(weight, "first beat" if segment.first_of_bar else "strong beat", word)


def _company(plan: Plan, stroke: StrokePlan, k: int) -> Iterator[Reason]:
    """Yield what it owes to its like elsewhere."""
    company, word = plan.draft.company, plan.rig.word(stroke.direction)
    mine = [group for group in company.phrases.each if k in group]
    if mine and Groups(mine).most(plan.path)[0] == stroke.direction:
        yield Reason(UNLIKE_PHRASE, "as before", word)
    if any(k in run and all(plan.path.links[list(run)] == stroke.entry) for run in company.runs):
        yield Reason(MIXED, "run kept")


def _link(plan: Plan, stroke: StrokePlan, k: int) -> Iterator[Reason]:
    if stroke.entry is Link.HOOK:
        pair = bool(pairs_in(plan.draft.columns)[k])
        yield Reason(HOOK, "hooked pair" if pair else "hook")
    elif stroke.entry is Link.RETAKE:
        way = abs(stroke.start - plan.strokes[k - 1].end)
        yield Reason(RETAKE, "retake in a rest" if plan.problem.rest[k] > 0 else "retake", way=way)


def _length(plan: Plan, stroke: StrokePlan, k: int) -> Iterator[Reason]:
    problem = plan.problem
    ratio = stroke.length / max(stroke.finish - stroke.begin, 1e-6) / float(problem.preferred[k])
    off = float(np.log(ratio)) ** 2
    if "end" in stroke.locks or "start" in stroke.locks:
        yield Reason(8.0, "hair set")
    elif ratio < SAVES:
        yield Reason(off, "hair ends" if _ahead(plan, stroke) < _NEAR else "hair needed")
    elif ratio > SPENDS:
        yield Reason(off, "hair given back")


def _ahead(plan: Plan, stroke: StrokePlan) -> float:
    low, high = plan.rig.usable
    return high - stroke.end if stroke.direction > 0 else stroke.end - low


def _place(plan: Plan, stroke: StrokePlan, k: int) -> Iterator[Reason]:
    problem = plan.problem
    middle = (stroke.start + stroke.end) / 2
    if problem.zone_low[k] <= middle <= problem.zone_high[k]:
        yield Reason(0.05, "at home")
    else:
        side = "frog" if middle < problem.zone_low[k] else "tip"
        beyond = abs(float(problem.beyond_zone(np.full(len(problem), middle))[k]))
        yield Reason(0.3, f"nearer the {side}", way=beyond)
