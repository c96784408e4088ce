"""How even a plan sounds: levels and accents by direction, string, part of the bow, passage and voice."""

from dataclasses import dataclass

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.planning.plan import Plan
from pathway.core.rig.bow import Direction

THIRDS = ("frog third", "middle third", "tip third")
WORST = 5  # notes named
_NONE = -1  # passage of a note outside of all


@dataclass(frozen=True, slots=True)
class BalanceGroup:
    """Some notes that have something in common."""

    kind: str  # direction, string, third, passage, voice
    name: str
    notes: int
    off_db: float  # mean of level − target, by time
    attack_db: float | None  # mean of their accents; None without any


@dataclass(frozen=True, slots=True)
class Balance:
    """The groups of a plan, and the notes furthest from what is asked of them."""

    groups: tuple[BalanceGroup, ...]
    worst: tuple[str, ...]  # note ids, the furthest first


def balance_of(plan: Plan) -> Balance:
    """Return how even a plan sounds."""
    columns, rig = plan.columns, plan.rig
    ways = plan.path.directions[plan.draft.carriers]
    thirds = np.minimum(3 * (columns.start + columns.end) / 2 / rig.bow.hair, 2).astype(int)
    asks = (note.ask.passage for stroke in plan.draft.strokes for note in stroke.notes)
    passages = np.array([_NONE if passage is None else passage for passage in asks])
    letters = np.array([string.letter for string in rig.instrument.strings])[columns.string]
    order = sorted(plan.draft.settings.passages, key=lambda passage: plan.part.index[passage.start])
    several = np.repeat(np.arange(len(ways)), columns.voices - 1)
    told = {
        **{("direction", rig.word(way)): np.flatnonzero(ways == way) for way in Direction},
        **{("string", letter): np.flatnonzero(letters == letter) for letter in np.unique(letters).tolist()},
        **{("third", name): np.flatnonzero(thirds == i) for i, name in enumerate(THIRDS)},
        **{
            ("passage", f"{i + 1}. {one.character}".rstrip(". ")): np.flatnonzero(passages == i)
            for i, one in enumerate(order)
        },
    }
    groups = [_group(plan, kind, name, at, columns.off[at]) for (kind, name), at in told.items() if at.size]
    if several.size:
        levels = [v.level_db for i in np.unique(several) for v in plan.bowed[i].voices if not v.lead]
        groups.append(_group(plan, "voice", "second voices", several, np.array(levels) - columns.target[several]))
    worst = np.argsort(-np.abs(columns.off), kind="stable")[:WORST].tolist()
    return Balance(
        groups=tuple(sorted(groups, key=lambda group: (group.kind, group.name))),
        worst=tuple(plan.draft.bowed[i].id for i in worst),
    )


def _group(plan: Plan, kind: str, name: str, notes: IntArray, off: FloatArray) -> BalanceGroup:
    onsets = (plan.bowed[i].onset_of_tone for i in notes[plan.columns.accent[notes]].tolist())
    accents = [onset.attack_db for onset in onsets if onset]
    return BalanceGroup(
        kind=kind,
        name=name,
        notes=len(notes),
        off_db=float(np.average(off, weights=plan.columns.sounding[notes])),
        attack_db=sum(accents) / len(accents) if accents else None,
    )
