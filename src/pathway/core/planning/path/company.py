"""What strokes owe to others far away: what returns is bowed as before, and a repeat comes round to its own beginning.

All of it needs a path to look at, so it enters in the second pass.
"""

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.music import Part
from pathway.core.planning.path.costs import pairs_in
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.path.rows import Row, kept_in, rows_of
from pathway.core.planning.path.weights import MIXED, SEAM, UNLIKE, UNLIKE_BAR, UNLIKE_PHRASE
from pathway.core.planning.strokes.columns import StrokeColumns
from pathway.core.planning.strokes.segments import Segment
from pathway.core.planning.wishes import Link

FREE = 0.4  # a silence that sets the bow free [s]
SAME_TIME = 1e-3  # durations are told apart to this [s]
PHRASES = (4, 2)  # bars
LEAST_RUN = 3  # pairs of long and short


@dataclass(frozen=True, slots=True)
class Seam:
    """Where a repeat goes back: from its last stroke to its first."""

    last: int
    first: int
    rest: float  # silence between them [s]


@dataclass(frozen=True)
class Groups:
    """Strokes that are wanted alike, group by group; no stroke is in two."""

    each: Sequence[Sequence[int]]

    def __bool__(self) -> bool:
        return bool(self.each)

    @cached_property
    def every(self) -> IntArray:
        """Return the strokes of all groups, group after group; shape (G,)."""
        return np.array([k for group in self.each for k in group], dtype=np.int64)

    @cached_property
    def of(self) -> IntArray:
        """Return which group each of them is of; shape (G,)."""
        return np.repeat(np.arange(len(self.each)), [len(group) for group in self.each])

    @cached_property
    def _firsts(self) -> IntArray:
        return np.array([group[0] for group in self.each], dtype=np.int64)

    def most(self, path: Path) -> IntArray:
        """Return the direction that most of each one's group have, or where they are even its first; shape (G,)."""
        most = np.sign(np.bincount(self.of, weights=path.directions[self.every]))
        return np.where(most == 0, path.directions[self._firsts], most)[self.of]


@dataclass(frozen=True)
class Company:
    """Which strokes of a part look to each other."""

    count: int  # of strokes
    twins: Groups  # at one place of like bars
    phrases: Groups  # at one place of a phrase of several bars that returns note by note
    same: Sequence[Sequence[Sequence[int]]]  # bars that return note by note, each by its strokes
    rows: Sequence[Row]  # like bars that follow each other
    runs: Sequence[Sequence[int]]  # the short ones of pairs in a row
    seams: Sequence[Seam]

    @classmethod
    def of(cls, part: Part, segments: Sequence[Segment], columns: StrokeColumns) -> "Company":
        """Return the company of the strokes of a part; what is known of them stands in columns."""
        bars = _bars_of(columns)
        rhythms = _rhythms_of(columns, bars)
        alike = Groups(_twins_of(bars, rhythms)), Groups(_phrases_of(segments, bars, rhythms))
        rows = rows_of(bars, rhythms)
        same = _same(segments, bars, rhythms, rows)
        return cls(len(segments), *alike, same, rows, runs_of(segments, columns), seams_of(part, segments))

    @cached_property
    def figure(self) -> dict[int, int]:
        """Return which group of twins a stroke is of, for those that are of one."""
        return dict(zip(self.twins.every.tolist(), self.twins.of.tolist(), strict=True))

    def costs(self, path: Path) -> FloatArray:
        """Return what a down-bow and an up-bow cost every stroke of a path for its company; shape (K, 2)."""
        costs = np.zeros((self.count, 2))
        if self.twins:
            costs[self.twins.every, np.where(self.twins.most(path) > 0, 1, 0)] = UNLIKE
        if self.phrases:
            every = self.phrases.every
            costs[every] = 0.0
            costs[every, np.where(self.phrases.most(path) > 0, 1, 0)] = UNLIKE_PHRASE
        for bars in self.same:
            told = Counter(tuple(path.directions[list(bar)].tolist()) for bar in bars)
            most = np.array(told.most_common(1)[0][0])
            every = np.array(bars)
            costs[every] = 0.0
            costs[every, np.where(most > 0, 1, 0)] = UNLIKE_BAR
        for seam in (seam for seam in self.seams if seam.rest < FREE):
            costs[seam.last, 0 if path.directions[seam.first] > 0 else 1] += SEAM
        return costs

    def kept_by(self, problem: PathProblem, path: Path, span: slice = slice(None)) -> PathProblem:
        """Return the problem in which it costs to leave what most strokes in company do on a path.

        Args:
            problem: of all strokes, or of some.
            path: of all.
            span: which strokes the problem is of.
        """
        kept = kept_in(self.keeping_ways(problem, self.hooked(path), span), self.rows, path, span)
        return self.liked_by(kept, path, span)

    def liked_by(self, problem: PathProblem, path: Path, span: slice = slice(None)) -> PathProblem:
        """Return the problem in which it costs to turn other bows than most strokes in company have on a path."""
        return replace(problem, direction_costs=problem.direction_costs + self.costs(path)[span])

    def hooked(self, path: Path) -> list[bool]:
        """Return which runs are mostly hooked on a path."""
        return [2 * int(np.count_nonzero(path.links[list(run)] == Link.HOOK)) > len(run) for run in self.runs]

    def better_hooked(self, problem: PathProblem, apart: Path, together: Path) -> list[bool]:
        """Return which runs are better hooked, told from a path on which none and one on which all are."""
        costs = [problem.cost.of(path) for path in (apart, together)]
        spans = [slice(run[0] - 1, run[-1] + 2) for run in self.runs]
        return [bool(costs[1][span].sum() < costs[0][span].sum()) for span in spans]

    def keeping_ways(self, problem: PathProblem, hooked: Sequence[bool], span: slice = slice(None)) -> PathProblem:
        """Return the problem in which it costs to take a pair of a run otherwise than hooked, or than apart."""
        if not self.runs:
            return problem
        change, hook = np.zeros((2, self.count))
        for run, is_hooked in zip(self.runs, hooked, strict=True):
            (change if is_hooked else hook)[list(run)] = MIXED
        return replace(problem, change=problem.change + change[span], hook=problem.hook + hook[span])


def _bars_of(columns: StrokeColumns) -> list[list[int]]:
    """Return the strokes that begin in each bar that has any, in order."""
    turns = np.flatnonzero(np.diff(columns.measure, prepend=-1, append=-1)).tolist()
    return [list(range(*span)) for span in pairwise(turns)]


def _twins_of(bars: Sequence[list[int]], rhythms: Sequence[bytes]) -> list[list[int]]:
    """Return groups of strokes that stand at one place of bars of one rhythm, two or more in a bar."""
    alike: dict[bytes, list[list[int]]] = defaultdict(list)
    for bar, rhythm in zip(bars, rhythms, strict=True):
        alike[rhythm].append(bar)
    several = (same for same in alike.values() if len(same) > 1 and len(same[0]) > 1)
    return [list(group) for same in several for group in zip(*same, strict=True)]


def _phrases_of(segments: Sequence[Segment], bars: Sequence[list[int]], rhythms: Sequence[bytes]) -> list[list[int]]:
    """Return groups of strokes at one place of phrases that return note by note; each in the longest it is in."""
    names: dict[object, int] = {}
    told = ((rhythm, _melody(segments, bar)) for bar, rhythm in zip(bars, rhythms, strict=True))
    named = [names.setdefault(one, len(names)) for one in told]
    found: list[list[int]] = []
    taken: set[int] = set()
    for length in PHRASES:
        alike: dict[tuple[int, ...], list[int]] = defaultdict(list)
        for i in range(len(bars) - length + 1):
            same = alike[tuple(named[i : i + length])]
            if not same or same[-1] + length <= i:  # no phrase returns over itself
                same.append(i)
        for same in (same for same in alike.values() if len(same) > 1):
            phrases = [[k for bar in bars[i : i + length] for k in bar] for i in same]
            for group in map(list, zip(*phrases, strict=True)):
                if not taken & {*group}:
                    taken |= {*group}
                    found.append(group)
    return found


def _same(
    segments: Sequence[Segment], bars: Sequence[list[int]], rhythms: Sequence[bytes], rows: Sequence[Row]
) -> list[list[list[int]]]:
    """Return groups of bars that return note by note, two strokes or more in each; a row looks to itself."""
    inside = {bar[0] for row in rows for bar in row.bars}
    alike: dict[object, list[list[int]]] = defaultdict(list)
    for bar, rhythm in zip(bars, rhythms, strict=True):
        if len(bar) > 1 and bar[0] not in inside:
            alike[rhythm, _melody(segments, bar)].append(bar)
    return [group for group in alike.values() if len(group) > 1]


def _rhythms_of(columns: StrokeColumns, bars: Sequence[list[int]]) -> list[bytes]:
    """Return the figure of every bar: alike where times, manners, notes and accents of its strokes are."""
    firsts = np.repeat([bar[0] for bar in bars], [len(bar) for bar in bars])
    times = np.column_stack([columns.begin - columns.begin[firsts], columns.moving, columns.rest])
    figures = np.column_stack([np.rint(times / SAME_TIME), columns.notes, columns.kind, columns.accented])
    return [(figures[bar[0] : bar[-1] + 1] + 0.0).tobytes() for bar in bars]  # a negative zero is none


def _melody(segments: Sequence[Segment], strokes: Sequence[int]) -> tuple[object, ...]:
    return tuple(note.event.pitches for k in strokes for note in segments[k].notes)


def runs_of(segments: Sequence[Segment], columns: StrokeColumns) -> list[list[int]]:
    """Return the short ones of long–short pairs in a row, three pairs and more."""
    runs: list[list[int]] = []
    for k in np.flatnonzero(pairs_in(columns) & (columns.rest == 0)).tolist():
        if runs and k == runs[-1][-1] + 1:
            continue  # the short one of a pair is not the long one of the next
        if runs and k == runs[-1][-1] + 2 and _like_pairs(segments, runs[-1][-1], k):
            runs[-1].append(k)
        else:
            runs.append([k])
    return [run for run in runs if len(run) >= LEAST_RUN]


def _like_pairs(segments: Sequence[Segment], one: int, other: int) -> bool:
    return not segments[other - 1].rest_before and all(
        a.kind is b.kind and abs((a.end - a.begin) - (b.end - b.begin)) < SAME_TIME
        for a, b in ((segments[one - i], segments[other - i]) for i in (0, 1))
    )


def seams_of(part: Part, segments: Sequence[Segment]) -> list[Seam]:
    """Return the seams of a part's repeats, those that some of its strokes have whole."""
    found = []
    bowed = [event for event in part.events if event.bowed]
    from_start = segments[0].notes[0].event.id == bowed[0].id
    to_end = segments[-1].notes[-1].event.id == bowed[-1].id
    for repeat in part.repeats:
        inside = [k for k, s in enumerate(segments) if repeat.start <= s.notes[0].event.onset < repeat.end]
        begins = inside and (from_start or inside[0] > 0)
        if begins and (to_end or inside[-1] + 1 < len(segments)) and len(inside) > 1:
            last, first = segments[inside[-1]].notes[-1], segments[inside[0]].notes[0]
            silent = repeat.end - last.event.end + first.event.onset - repeat.start
            seconds = (last.end - last.begin) / max(float(last.event.duration), SAME_TIME)
            found.append(Seam(inside[-1], inside[0], float(silent) * seconds))
    return found
