"""What is heard against what is planned, on the demo pieces and on as many rigs as they lie on: figures for the docs.

Run: .venv/bin/python scripts/listening.py
"""

import sys
import time
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pathway.core.planning import Plan, plan_part
from pathway.core.planning.note_plan import Tone, Voice
from pathway.core.rig import preset
from pathway.core.rig.instrument import frequency
from pathway.core.sound import Manner, SoundedNote, gestures_of, playable, render
from pathway.core.sound.otherwise import pushed
from pathway.core.sound.slips import SlipsHeard, heard_in
from pathway.core.sound.strings import SAMPLES, Bowed, bowed
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.demo.loader import DEMO_PIECES
from pathway.formats.score import ScoreFile, at_pitch

PARTS = (
    ("toll-house", "violin"), ("lamp-in-the-window", "violin"), ("slack-water", "viola"), ("stone-stairs", "cello"),
    ("ferry-ledger", "bass"), ("toll-house", "early-violin"), ("low-ground", "early-cello"),
    ("heron-step", "treble-viol"), ("stone-stairs", "bass-viol"), ("low-ground", "cello"),
)  # fmt: skip
PUSHED = (-0.30, 1.25)  # q off the window
LENGTHS = ((40, "under 40 periods"), (60, "40 to 60"), (np.inf, "over 60"))
dry = Manner(vibrato=0.0)


@dataclass(frozen=True, slots=True)
class Row:
    """One note of one string."""

    part: str
    wanted: Tone
    heard: Tone
    periods: float
    place: float
    cents: float  # off the planned pitch
    off_db: float  # level less the planned one
    speaks: float  # when the tone stands, less planned [s]
    attacked: bool  # its type has a speed of its own at the start, which is no level


def main() -> None:
    """Print the tables."""
    rows: list[Row] = []
    seconds = took = 0.0
    for key, rig in PARTS:
        plan = _plan(key, rig)
        begun = time.perf_counter()
        sound = render(playable(plan))
        took += time.perf_counter() - begun
        seconds += sound.seconds
        rows += list(_rows(plan, f"{key} on {rig}"))
        for place in PUSHED:
            rows += list(_rows(pushed(plan, place), f"{key} on {rig}, pushed"))
    _say(f"{len(rows)} notes of {len(PARTS)} parts; rendered {seconds / took:.0f} times as fast as they sound")
    _table("as planned", [row for row in rows if not row.part.endswith("pushed")])
    _table("pushed off the window", [row for row in rows if row.part.endswith("pushed")])
    for low, high in ((-9, 0.08), (0.08, 0.3), (0.3, 0.6), (0.6, 0.92), (0.92, 9)):
        some = [row for row in rows if low <= row.place < high]
        _say(f"q {low:g} to {high:g}: {_share(some)}")
    long = [row for row in rows if row.periods > 60 and row.wanted is row.heard is Tone.CORE and not row.attacked]
    cents = np.array([row.cents for row in long])
    _say(f"tuning: {np.mean(np.abs(cents) < 3):.0%} of {len(cents)} within 3 cents, middle {np.median(cents):+.1f}")
    middle = {part: np.median([row.off_db for row in long if row.part == part]) for part in {row.part for row in long}}
    level = np.array([row.off_db - middle[row.part] for row in long])
    _say(f"level: {np.mean(np.abs(level) < 1.5):.0%} within 1.5 dB of the plan's, spread {level.std():.1f} dB")
    speaks = np.array([row.speaks for row in long if np.isfinite(row.speaks)])
    _say(f"stands {np.median(speaks) * 1000:+.0f} ms after the plan says, in the middle of {len(speaks)}")


def _say(text: str) -> None:
    sys.stdout.write(text + "\n")


def _table(name: str, rows: list[Row]) -> None:
    _say(f"{name}: {_share(rows)}")
    parts: dict[str, list[Row]] = defaultdict(list)
    for row in rows:
        parts[row.part].append(row)
    for part, some in parts.items():
        lengths = zip(LENGTHS, (0, 40, 60), strict=True)
        told = [f"{word} {_share([row for row in some if low <= row.periods < most])}" for (most, word), low in lengths]
        _say(f"  {part}: {'; '.join([_share(some), *told])}")


def _share(rows: list[Row]) -> str:
    right = sum(row.wanted is row.heard for row in rows)
    return f"{right}/{len(rows)}" + (f" = {right / len(rows):.0%}" if rows else "")


def _plan(key: str, rig_key: str) -> Plan:
    demo = next(piece for piece in DEMO_PIECES if piece.key == key)
    rig = preset(rig_key)
    return plan_part(at_pitch(ScoreFile(demo.document, f"{key}.musicxml").part().part, rig), rig)


def _rows(plan: Plan, part: str) -> Iterator[Row]:
    curves = gestures_of(playable(plan), vibrato=dry.vibrato)
    strings = {one.string: one for one in bowed(curves, plan.rig.instrument)}
    for sounded in curves.notes:
        note = sounded.note
        flies = note.landing is not None and note.landing.height > 0
        if note.bows > 1 or flies or note.chord or not note.voices:
            continue
        for voice in note.voices:
            pitch, string = frequency(voice.midi), strings[voice.string]
            off = sounded.off - min(0.03, 0.15 * (sounded.off - sounded.on))
            heard = heard_in(string, sounded.on, off, pitch, note.speed)
            if heard is not None:
                kind = STROKE_TYPES[plan.stroke[note.stroke or ""].kind]
                yield _row(part, sounded, voice, string, heard, off, kind.attack > 1)


def _row(
    part: str, sounded: SoundedNote, voice: Voice, string: Bowed, heard: SlipsHeard, off: float, attacked: bool
) -> Row:
    pitch = frequency(voice.midi)
    begin = off - 0.4 * (off - sounded.on)
    starts = string.slips[(string.slips[:, 0] >= begin) & (string.slips[:, 0] < off), 0]
    cents = np.nan
    if heard.tone is Tone.CORE and len(starts) > 4:
        apart = np.diff(starts)
        whole = apart[np.abs(apart * pitch - 1) < 0.1]
        cents = 1200 * np.log2(1 / float(np.mean(whole)) / pitch)
    samples = string.sound[int(begin * SAMPLES) : int(off * SAMPLES)]
    level = 20 * np.log10(np.sqrt(np.mean(samples**2)) + 1e-9) - voice.level_db
    wanted = Tone.AIRY if voice.place < 0.08 else Tone.PRESSED if voice.place > 0.92 else Tone.CORE
    onset = sounded.note.onset_of_tone
    speaks = np.nan
    if onset is not None and sounded.first:
        mine = string.slips[(string.slips[:, 0] >= sounded.on) & (string.slips[:, 0] < off), 0]
        gaps = np.abs(np.diff(mine) * pitch - 1) < 0.1
        stands = [k for k in range(len(gaps) - 3) if gaps[k : k + 4].all()]
        speaks = mine[stands[0]] - sounded.on - onset.speak if stands else np.nan
    return Row(
        part, wanted, heard.tone, (sounded.off - sounded.on) * pitch, voice.place, cents, level, speaks, attacked
    )


if __name__ == "__main__":
    main()
