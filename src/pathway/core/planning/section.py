"""The string parts of a score planned side by side, in processes of their own, and bowed alike if wished."""

import os
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass

from pathway.core.music import Part
from pathway.core.planning.after import after, bowed_after
from pathway.core.planning.matched import Matched
from pathway.core.planning.plan import Plan
from pathway.core.planning.planner import plan_part
from pathway.core.planning.wishes import Lock, Settings
from pathway.core.rig import Rig


@dataclass(frozen=True, slots=True)
class Desked:
    """One part of a score with what it is played on."""

    part: Part  # at its sounding pitch
    rig: Rig


@dataclass(frozen=True)
class PlannedPart:
    """One part planned; what of it was bowed after the first, where it was."""

    number: int  # in the order that was given
    plan: Plan
    found: Matched | None = None


def plan_section(parts: Sequence[Desked], settings: Settings, *, unify: bool) -> Iterator[PlannedPart]:
    """Yield the parts as they are planned, side by side; unified ones are bowed after the first.

    Args:
        parts: in the order of the score.
        settings: for all of them.
        unify: whether the others take the bowings of the first, where rhythm and slurs agree.
    """
    with ProcessPoolExecutor(max_workers=min(len(parts), os.cpu_count() or 1)) as pool:
        first = 0
        founds: list[Matched | None] = [None] * len(parts)
        wishes: list[tuple[Lock, ...]] = [()] * len(parts)
        if unify and parts:
            leader = plan_part(parts[0].part, parts[0].rig, settings)
            yield PlannedPart(0, leader)
            first = 1
            for n, other in enumerate(parts[1:], start=1):
                found = bowed_after(leader, other.part)
                founds[n], wishes[n] = found, after(leader, found, ())
        waiting = {
            pool.submit(_planned, one, settings, locks): n
            for n, (one, locks) in enumerate(zip(parts, wishes, strict=True))
            if n >= first
        }
        for done in as_completed(waiting):
            n = waiting[done]
            yield PlannedPart(n, done.result(), founds[n])


def _planned(one: Desked, settings: Settings, locks: tuple[Lock, ...]) -> Plan:
    return plan_part(one.part, one.rig, settings, locks)
