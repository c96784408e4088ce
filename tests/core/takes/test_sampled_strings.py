"""An independent sound: recorded strings play the plan with a human's scatter, and none of our own model is in it."""

import shutil
import subprocess
from dataclasses import replace
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import pytest
from msgspec import structs

from pathway.core.sound import Playable, playable
from pathway.core.takes import Listened, listen
from pathway.formats.midi import midi
from pathway.formats.recording import read_recording
from tests.core.takes.hearing import plan_of_demo, share_near

SAMPLES = Path("/usr/share/sounds/sf2/TimGM6mb.sf2")
SECONDS, TIMING, LEVEL = 30.0, 0.012, 1.2  # of each piece; scatter of the player [s, dB]
KEYS = ("toll-house", "slack-water", "stone-stairs", "ferry-ledger", "heron-step", "low-ground", "pebbles")

pytestmark = pytest.mark.skipif(
    shutil.which("fluidsynth") is None or not SAMPLES.is_file(), reason="no sampled strings: run make tools as root"
)


def _played(plan: Playable, tempo: float) -> Playable:
    """Return the beginning of a plan as somebody may play it."""
    chance = np.random.default_rng(5)
    notes = [
        structs.replace(
            note,
            onset=max(0.0, note.onset / tempo + chance.normal(0, TIMING)),
            duration=note.duration / tempo,
            sounding=note.sounding / tempo,
            pulse_db=note.pulse_db + chance.normal(0, LEVEL),
        )
        for note in plan.notes
        if note.onset < SECONDS
    ]
    return replace(plan, notes=tuple(notes))


@cache
def _take(key: str, tempo: float) -> tuple[list[tuple[str, float, float]], Listened]:
    """Return when each note was played [s], and what is heard."""
    plan = playable(plan_of_demo(key))
    made = _played(plan, tempo)
    with TemporaryDirectory() as folder:
        score, sound = Path(folder) / "a.mid", Path(folder) / "a.wav"
        score.write_bytes(midi(made))
        command = ["fluidsynth", "-ni", "-q", "-r", "48000", "-F", str(sound), str(SAMPLES), str(score)]
        subprocess.run(command, check=True, capture_output=True, timeout=60)
        samples, rate = read_recording(sound.read_bytes())
    first = min(note.onset for note in made.notes)
    truth = [(note.id, note.onset - first, note.onset - first) for note in made.notes if note.voices and note.stroke]
    return truth, listen(plan, samples, rate, end=SECONDS)


@pytest.mark.parametrize("tempo", [1.0, 0.88])
@pytest.mark.parametrize("key", KEYS)
def test_recorded_strings_are_followed(key: str, tempo: float) -> None:
    """On every family of instruments, at the plan's tempo and at another one."""
    truth, heard = _take(key, tempo)
    assert share_near(heard, truth) >= 0.94
    assert heard.tempo == pytest.approx(tempo, abs=0.03)


def test_recorded_strings_get_no_false_words() -> None:
    """Nothing was planted, so nothing is said of more than three notes in a hundred, and of no group."""
    takes = [_take(key, tempo)[1] for key in KEYS for tempo in (1.0, 0.88)]
    assert sum(sum(heard.words.values()) for heard in takes) < 0.03 * sum(len(heard.rows) for heard in takes)
    assert not [group for heard in takes for group in heard.groups if group.told]
