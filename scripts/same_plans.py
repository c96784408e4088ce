"""Tells whether plans of real parts came out the same before and after a change of the planner, value by value."""

import argparse
import math
import pickle
import random
import sys
from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import fields, is_dataclass
from pathlib import Path

from msgspec import Struct
from survey import parts

from pathway.core.planning import Lock, Plan, plan_part, replan
from pathway.core.planning.helped import fixes_for
from pathway.core.rig import preset

EDITS, HELPED = 8, 3  # of each part: strokes turned, findings whose helps are looked at
SEEN = ("path", "strokes", "notes", "crossings", "findings", "totals")


def main() -> None:
    """Keep the plans in a file, or compare them with those in it and end with 1 where they differ."""
    parser = argparse.ArgumentParser()
    parser.add_argument("file", type=Path)
    parser.add_argument("--parts", type=int, default=12)
    parser.add_argument("--within", type=float, default=1e-7, help="difference of numbers that is none")
    wanted = parser.parse_args()
    plain = [_plain(made) for made in _made(wanted.parts)]
    if not wanted.file.exists():
        wanted.file.write_bytes(pickle.dumps(plain))
        return
    before = pickle.loads(wanted.file.read_bytes())
    found = [
        line for n, pair in enumerate(zip(before, plain, strict=True)) for line in _unlike(*pair, wanted.within, (n,))
    ]
    for line in found[:40]:
        sys.stdout.write(f"{line}\n")
    sys.stdout.write(f"{len(plain)} plans and helps, {len(found)} values differ\n")
    sys.exit(bool(found))


def _made(count: int) -> Iterator[object]:
    """Yield the plans of the parts, of edits of them, and what helps."""
    for score, rig in parts(700, 7, count):
        plan = plan_part(score.part, preset(rig))
        yield plan
        chance = random.Random(len(plan.strokes))
        for _ in range(EDITS):
            stroke = chance.choice(plan.strokes)
            yield replan(plan, [Lock(stroke.id, stroke.direction.other)])
            yield replan(plan, [Lock(stroke.id, force=1.2)])
        for finding in chance.sample(plan.findings, min(HELPED, len(plan.findings))):
            yield fixes_for(plan, finding)


def _plain(value: object) -> object:
    """Return a value as lists and numbers, its fields by their names."""
    if isinstance(value, Plan):
        value = {name: getattr(value, name) for name in SEEN}
    elif isinstance(value, Struct):
        value = {name: getattr(value, name) for name in value.__struct_fields__}
    elif is_dataclass(value):
        value = {field.name: getattr(value, field.name) for field in fields(value)}
    elif hasattr(value, "tolist"):
        value = value.tolist()
    if isinstance(value, Mapping):
        return {str(name): _plain(one) for name, one in value.items()}
    if isinstance(value, Sequence | Set) and not isinstance(value, str):
        return [_plain(one) for one in value]
    return value if isinstance(value, int | float | None) else str(value)


def _unlike(before: object, now: object, within: float, at: tuple[object, ...]) -> Iterator[str]:
    """Yield where two values differ; fields that only one of them has are left alone."""
    if isinstance(before, dict) and isinstance(now, dict):
        for name in before.keys() & now.keys():
            yield from _unlike(before[name], now[name], within, (*at, name))
    elif isinstance(before, list) and isinstance(now, list) and len(before) == len(now):
        for i, pair in enumerate(zip(before, now, strict=True)):
            yield from _unlike(*pair, within, (*at, i))
    elif isinstance(before, float) and isinstance(now, float):
        if not math.isclose(before, now, rel_tol=within, abs_tol=within) and not math.isnan(before + now):
            yield f"{at}: {before} {now}"
    elif before != now:
        yield f"{at}: {before!s:.60} {now!s:.60}"


if __name__ == "__main__":
    main()
