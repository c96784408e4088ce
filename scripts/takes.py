"""What is heard in takes of the simulated player against what was planted, by piece: figures for the docs.

Run: .venv/bin/python scripts/takes.py [SEED ...]
"""

import sys
import time
from collections import Counter
from collections.abc import Collection

import numpy as np

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.core.sound import Playable, playable
from pathway.core.takes import Listened, listen
from pathway.core.takes.player import Fault, Human, PlayedTake, play
from pathway.core.takes.words import Word
from pathway.demo.loader import DEMO_PIECES, DemoPiece
from pathway.formats.score import ScoreFile, at_pitch

SECONDS, RATE, NEAR = 30.0, 48_000, 0.1
EVERY = 6  # a fault on every so many notes
SAID = {
    Fault.AIRY: Word.AIRY, Fault.PRESSED: Word.ROUGH, Fault.LATE: Word.LATE, Fault.LOUD: Word.LOUD,
    Fault.WRONG: Word.WRONG, Fault.THIN: Word.THIN, Fault.MISSED: Word.MISSED,
}  # fmt: skip


def main() -> None:
    """Print the figures."""
    seeds = [int(word) for word in sys.argv[1:]] or [61, 62]
    false, good = Counter[str](), 0
    alone, again, planted = Counter[Fault](), Counter[Fault](), Counter[Fault]()
    told: dict[str, list[bool]] = {"weak up-bows": [], "weak accents": [], "nothing planted": []}
    took = sounded = 0.0
    for demo in DEMO_PIECES:
        plan = _plan(demo)
        for seed in seeds:
            clean, heard = _take(plan, Human(), seed)
            false.update(_false(clean, heard, ()))
            good += len(clean.truth)
            told["nothing planted"].append(any(group.told for group in heard.groups))
            for group in (group for group in heard.groups if group.told):
                _say(f"  told though nothing was planted: {group.name} {group.mean:.1f} ± {group.error:.1f} dB")
            near, middle = _placed(clean, heard)
            accents = next((group for group in heard.groups if group.kind == "accents"), None)
            _say(f"{demo.key} on {demo.rig}, seed {seed}: {near:.2f} near, middle {1000 * middle:.0f} ms, {accents}")
            _, weak = _take(plan, Human(weak_up=-4.0), seed)
            told["weak up-bows"].append(any(group.told for group in weak.groups if group.kind == "direction"))
            if accents:
                _, weak = _take(plan, Human(weak_accents=-6.0), seed)
                told["weak accents"].append(any(group.told for group in weak.groups if group.kind == "accents"))
            faults = _faults(plan, seed)
            planted.update(faults.values())
            first = _take(plan, Human(faults=faults), seed + 100)[1]
            begun = time.perf_counter()
            made, second = _take(plan, Human(faults=faults), seed + 200, first)
            took, sounded = took + time.perf_counter() - begun, sounded + len(made.samples) / RATE
            for found, counted in ((first, alone), (second, again)):
                counted.update(
                    fault for note, fault in faults.items() if note in found.of and SAID[fault] in found.of[note].words
                )
            false.update(_false(made, second, faults))
            good += len(made.truth) - len(faults)
    _say(f"{false.total()} false words on {good} notes = {false.total() / good:.1%}: {dict(false)}")
    for fault, count in planted.items():
        _say(f"{fault}: of {count} planted {alone[fault]} said in the first take, {again[fault]} in the second")
    for name, found in told.items():
        _say(f"{name}: a difference told in {sum(found)} of {len(found)} takes")
    _say(f"played and heard {sounded / took:.1f} times as fast as it sounds")


def _say(text: str) -> None:
    sys.stdout.write(text + "\n")
    sys.stdout.flush()


def _plan(demo: DemoPiece) -> Playable:
    rig = preset(demo.rig)
    part = at_pitch(ScoreFile(demo.document, f"{demo.key}.musicxml").part().part, rig)
    return playable(plan_part(part, rig))


def _take(plan: Playable, human: Human, seed: int, before: Listened | None = None) -> tuple[PlayedTake, Listened]:
    made = play(plan, human, seed, end=SECONDS)
    heard = listen(plan, made.samples, RATE, end=SECONDS)
    return made, heard.beside([before.could]) if before else heard


def _faults(plan: Playable, seed: int) -> dict[str, Fault]:
    """Return one of each kind in turn, on notes long enough to have it."""
    ids = [note.id for note in plan.notes if note.voices and note.onset < SECONDS and note.duration > 0.25]
    chosen = np.random.default_rng(seed).permutation(np.arange(1, len(ids) - 1))[: len(ids) // EVERY]
    kinds = list(Fault)
    return {ids[at]: kinds[(n + seed) % len(kinds)] for n, at in enumerate(chosen)}


def _false(made: PlayedTake, heard: Listened, faults: Collection[str]) -> list[str]:
    """Return the words on notes with no fault; a string that was rough by itself is rightly called so."""
    rough = {one.id for one in made.truth if not one.clear}
    return [
        word
        for note, row in heard.of.items()
        if note not in faults
        for word in row.words
        if not (word == Word.ROUGH and note in rough)
    ]


def _placed(made: PlayedTake, heard: Listened) -> tuple[float, float]:
    """Return the share of notes found near the time at which their sound comes, and how far off they mostly are [s]."""
    found = [(heard.planned.notes[row.note].id, row.onset) for row in heard.rows]
    times = [
        min((max(one.onset - at, at - one.heard, 0.0) for id_, at in found if id_ == one.id), default=9.0)
        for one in made.truth
    ]
    return float(np.mean(np.array(times) < NEAR)), float(np.median(times))


if __name__ == "__main__":
    main()
