"""Demo pieces as takes are made of them, and how near the notes of a recording are found."""

from collections.abc import Iterable
from functools import cache

import numpy as np

from pathway.core.planning import Plan, plan_part
from pathway.core.rig import preset
from pathway.core.takes import Listened
from pathway.core.takes.player import PlayedTake
from pathway.demo.loader import DEMO_PIECES
from pathway.formats.score import ScoreFile, at_pitch

NEAR = 0.1  # s


@cache
def plan_of_demo(key: str) -> Plan:
    """Return the plan of a demo piece."""
    demo = next(one for one in DEMO_PIECES if one.key == key)
    rig = preset(demo.rig)
    return plan_part(at_pitch(ScoreFile(demo.document, "x.musicxml").part().part, rig), rig)


def share_near(heard: Listened, truth: Iterable[tuple[str, float, float]]) -> float:
    """Return the share of notes that were found near the time from when to when their sound comes, given by id [s]."""
    found = [(heard.planned.notes[row.note].id, row.onset) for row in heard.rows]
    near = [
        any(id_ == one and begins - NEAR < onset < stands + NEAR for one, onset in found)
        for id_, begins, stands in truth
    ]
    return float(np.mean(near))


def placed(made: PlayedTake, heard: Listened) -> float:
    """Return the share of good notes of the simulated player that were found near their time."""
    return share_near(heard, [(one.id, one.onset, one.heard) for one in made.truth if one.fault is None])
