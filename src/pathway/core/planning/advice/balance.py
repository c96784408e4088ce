"""How even a plan sounds: levels and accents by direction, string, part of the bow, passage and voice."""

from collections import defaultdict
from dataclasses import dataclass

from pathway.core.planning.note_plan import NotePlan
from pathway.core.planning.plan import Plan

THIRDS = ("frog third", "middle third", "tip third")
WORST = 5  # notes named


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
    asks = {n.event.id: n.ask for stroke in plan.draft.strokes for n in stroke.notes}
    strings, hair = plan.rig.instrument.strings, plan.rig.bow.hair
    order = sorted(plan.draft.settings.passages, key=lambda passage: plan.part.index[passage.start])
    passages = [f"{n}. {passage.character}".rstrip(". ") for n, passage in enumerate(order, start=1)]
    groups: dict[tuple[str, str], list[tuple[NotePlan, float]]] = defaultdict(list)
    for note in plan.bowed:
        off = note.level_db - note.target_db
        direction = plan.stroke[note.stroke or ""].direction
        third = THIRDS[min(2, int(3 * (note.start + note.end) / 2 / hair))]
        groups["direction", plan.rig.word(direction)].append((note, off))
        groups["string", strings[note.lead.string].letter].append((note, off))
        groups["third", third].append((note, off))
        number = asks[note.id].passage
        if number is not None:
            groups["passage", passages[number]].append((note, off))
        for voice in note.voices:
            if not voice.lead:
                groups["voice", "second voices"].append((note, voice.level_db - note.target_db))
    worst = sorted(plan.bowed, key=lambda n: -abs(n.level_db - n.target_db))[:WORST]
    return Balance(
        groups=tuple(_group(kind, name, members) for (kind, name), members in sorted(groups.items())),
        worst=tuple(note.id for note in worst),
    )


def _group(kind: str, name: str, members: list[tuple[NotePlan, float]]) -> BalanceGroup:
    time = sum(note.sounding for note, _ in members)
    accents = [note.onset_of_tone.attack_db for note, _ in members if note.pulse_db > 0 and note.onset_of_tone]
    return BalanceGroup(
        kind=kind,
        name=name,
        notes=len(members),
        off_db=sum(off * note.sounding for note, off in members) / time,
        attack_db=sum(accents) / len(accents) if accents else None,
    )
