"""Small scores and problems that many tests share."""

import os
from collections.abc import Sequence
from functools import cache

import numpy as np

from pathway.core.music import Clock, Part
from pathway.core.planning import Plan, Settings, plan_part
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.strokes.asks import asks_of
from pathway.core.planning.strokes.reader import segments_of
from pathway.core.planning.strokes.segments import Segment
from pathway.core.planning.validate import problems_in, problems_of
from pathway.core.planning.wishes import Lock
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.formats.score import ScoreFile, at_pitch
from pathway.formats.shorthand import compose

THOROUGH = int(os.environ.get("THOROUGH", "1"))  # so many times as much is tried by `make attack`
HEADS = {
    "violin": {"part": "Violin", "clef": "treble"},
    "viola": {"part": "Viola", "clef": "alto"},
    "cello": {"part": "Cello", "clef": "bass"},
    "bass": {"part": "Double Bass", "clef": "bass", "octave": "down"},
}


def document(text: str, rig: str = "violin", **head: str) -> bytes:
    """Return bars in shorthand as a MusicXML document."""
    fields = {"title": "Test", "fifths": "0", "meter": "4/4", "tempo": "80"} | HEADS[rig] | head
    lines = "\n".join(f"{key}: {value}" for key, value in fields.items())
    return compose(f"{lines}\n{text}").encode()


@cache
def part_of(text: str, rig: str = "violin", **head: str) -> Part:
    """Return bars in shorthand as a part."""
    return at_pitch(ScoreFile(document(text, rig, **head), "test.musicxml").part().part, preset(rig))


def plan_of(
    text: str, rig: str = "violin", locks: Sequence[Lock] = (), tempo: float | None = None, **head: str
) -> Plan:
    """Return the plan of bars in shorthand."""
    return plan_part(part_of(text, rig, **head), preset(rig), Settings(tempo), locks)


def broken_rules_of(plan: Plan) -> list[str]:
    """Return the broken rules of a whole plan: by its columns, and by every note that is made of them."""
    shifts = {crossing.to_note: crossing.shift for crossing in plan.crossings}
    return [*problems_of(plan), *problems_in(plan.strokes, plan.notes, plan.rig.bow.hair, shifts)]


def segments(part: Part, rig: str = "violin") -> list[Segment]:
    """Return the strokes of a part as written, before any is cut to fit."""
    return segments_of(part, Clock(part), asks_of(part, Settings(), preset(rig)))


def directions(plan: Plan) -> str:
    """Return the directions of a plan's strokes as a word of n (down) and v (up)."""
    return "".join("n" if stroke.direction is Direction.DOWN else "v" for stroke in plan.strokes)


def problem(times: Sequence[float], preferred: float = 0.27, **fields: object) -> PathProblem:
    """Return a plain path problem on 63 cm of hair; arrays may be overridden by name."""
    count = len(times)

    def full(value: float) -> np.ndarray:
        return np.full(count, value)

    direction_costs = np.zeros((count, 2))
    direction_costs[::2, 1] = 1.0
    values: dict[str, object] = {
        "moving": np.array(times),
        "bows": full(1.0),
        "preferred": full(preferred),
        "slowest": full(0.105),
        "fastest": full(0.53),
        "zone_low": full(0.20),
        "zone_high": full(0.46),
        "direction_costs": direction_costs,
        "start_bands": np.full((count, 2, 2), (-np.inf, np.inf)),
        "rest": full(0.0),
        "settle": full(0.0),
        "shift": full(0.0),
        "change": full(0.0),
        "hook": full(1.0),
        "retake": full(2.5),
        "speeding": full(0.8),
        "slowing": full(0.6),
        "wanted_step": full(0.0),
        "keep": full(0.0),
        "pinned_start": full(np.nan),
        "pinned_end": full(np.nan),
        "low": 0.01,
        "high": 0.64,
    }
    return PathProblem(**(values | fields))  # type: ignore[arg-type]


def is_sound(path: Path, asked: PathProblem) -> bool:
    """Whether strokes stay on the hair, move as they say and meet where they are joined, but for the roll between."""
    lengths = path.directions * (path.ends - path.starts)
    joined = np.isin(path.links[1:], (1, 2))
    meets = np.isclose(path.starts, asked.joins(path))[1:] | ~joined
    left = np.where(asked.returns, -path.directions, path.directions)
    turns = (path.directions[1:] != left[:-1]) == (path.links[1:] == 1)
    on_hair = (path.starts >= asked.low - 1e-9) & (path.ends <= asked.high + 1e-9)
    return bool((lengths > 0).all() and meets.all() and (turns | (path.links[1:] == 3)).all() and on_hair.all())
