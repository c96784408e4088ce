"""How often the plan bows as editors print it: their marks are stripped from a corpus of tunes and planned freely.

Half of the tunes, by their names, are there to tune weights on; the other half to report.
"""

import argparse
import gc
import re
import sys
import zlib
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from music21 import corpus

from pathway.core.music import Event, Part
from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.core.rig.bow import Direction
from pathway.errors import PathwayError
from pathway.formats.score import ScoreFile

MARK = re.compile(rb"(?m)^(?!%|[A-Z]:).*[uv][A-Ga-g=^_(]")  # a bow mark before a note


def main() -> None:
    """Print the agreement of the plan, and of two simple rules beside it."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--half", choices=("tune", "report", "both"), default="report")
    parser.add_argument("--rig", default="violin")
    parser.add_argument("--misses", type=int, default=0, help="print the places of so many disagreements")
    wanted = parser.parse_args()
    gc.set_threshold(50_000, 20, 20)
    marks, agreed = 0, Counter[str]()
    misses = wanted.misses
    for name, part in _parts(wanted.half):
        free = replace(part, events=tuple(replace(event, bow=None) for event in part.events))
        try:
            plan = plan_part(free, preset(wanted.rig))
        except PathwayError:
            continue
        alternating, by_bar = _alternating(part), _by_bar(part)
        for event in part.events:
            stroke = plan.note[event.id].stroke if event.bow else None
            if stroke is None:
                continue
            marks += 1
            planned = plan.stroke[stroke].direction
            agreed["the plan"] += planned is event.bow
            agreed["alternating"] += alternating[event.id] is event.bow
            agreed["every bar down"] += by_bar[event.id] is event.bow
            if planned is not event.bow and misses:
                misses -= 1
                _say(f"{name}: {part.place(event)}: printed {event.bow.word}, planned {planned.word}")
    _say(f"{marks} marks")
    for rule, count in agreed.items():
        _say(f"{rule:15} {100 * count / max(marks, 1):.1f} %")


def _parts(half: str) -> Iterator[tuple[str, Part]]:
    """Yield the tunes that carry marks."""
    for path in sorted(Path(path) for path in corpus.getCorePaths() if Path(path).suffix == ".abc"):
        second = zlib.crc32(path.name.encode()) % 2
        if half != "both" and second != (half == "report"):
            continue
        if not MARK.search(path.read_bytes()):
            continue
        try:
            part = ScoreFile(path.read_bytes(), path.name).part().part
        except (PathwayError, ValueError):
            continue
        if any(event.bow for event in part.events):
            yield path.name, part


def _strokes(part: Part) -> Iterator[list[Event]]:
    """Yield the events of each slur, and those outside one by one."""
    ends = {slur.start: part.index[slur.end] for slur in part.slurs}
    until, group = -1, list[Event]()
    for i, event in enumerate(part.events):
        if group and (event.tied or i <= until) and event.id not in ends:
            group.append(event)
            continue
        if group:
            yield group
        group = [event]
        until = ends.get(event.id, -1)
    if group:
        yield group


def _alternating(part: Part) -> dict[str, Direction]:
    """Down, up, down, up from the first stroke on; an upbeat begins up."""
    way = Direction.UP if part.measures[0].pickup else Direction.DOWN
    found = {}
    for group in _strokes(part):
        found |= dict.fromkeys((event.id for event in group), way)
        way = way.other
    return found


def _by_bar(part: Part) -> dict[str, Direction]:
    """Alternating, and down again with every bar."""
    way, bar, found = Direction.UP, -1, dict[str, Direction]()
    for group in _strokes(part):
        fresh = group[0].measure != bar and not part.measures[group[0].measure].pickup
        bar = group[0].measure
        way = Direction.DOWN if fresh else way
        found |= dict.fromkeys((event.id for event in group), way)
        way = way.other
    return found


def _say(text: str) -> None:
    sys.stdout.write(f"{text}\n")


if __name__ == "__main__":
    main()
