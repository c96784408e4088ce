"""The simulated string does what the force window says, is in tune, as loud as planned, and the same every time."""

import numpy as np
import pytest

from pathway.core.physics.string import SoundingString, force_window
from pathway.core.planning.note_plan import Tone
from pathway.core.rig import PRESETS, preset
from pathway.core.rig.instrument import Rig, frequency
from pathway.core.sound.curves import RATE, Curves, StringCurves
from pathway.core.sound.slips import SlipsHeard, heard_in
from pathway.core.sound.strings import SAMPLES, Bowed, bowed, half_band

BETA, SPEED, STOPPED = 0.09, 0.25, 5
CORE, AIRY, PRESSED = (0.2, 0.5, 0.8), (-0.4, -0.2), (1.1, 1.3)


def _held(rig: Rig, string: int, place: float, beta: float = BETA, speed: float = SPEED) -> tuple[Bowed, float, float]:
    """Bow a note whose tone stands well before its weight goes to a place in the window; return it, its end, its pitch.

    At first a weight high in the window, reached slowly, makes it stand.
    """
    instrument = rig.instrument
    pitch = frequency(instrument.strings[string].midi + STOPPED)
    stands = max(0.4, 60 / pitch)
    count = int((2 * stands + 0.3) * RATE)
    times = np.arange(count) / RATE
    window = force_window(speed, beta, SoundingString.of(instrument, string, STOPPED))
    places = np.interp(times, [0, stands, stands + 0.05, 9], [0.8, 0.8, place, place])
    one = StringCurves(
        string,
        instrument.impedances[string],
        np.asarray(window.force(places)),
        np.zeros(count),
        np.full(count, beta),
        np.full(count, pitch),
        np.full(count, 1 - 0.5 * instrument.impedances[string] / instrument.loss_resistance),
        np.zeros(count),
        np.full(count, 0.8),
    )
    moving = speed * np.clip(times / max(0.12, 12 / pitch), 0, 1)
    (sound,) = bowed(Curves(moving, (one,), (), 0.0, np.zeros(count)), instrument)
    return sound, times[-1], pitch


def _tone(rig: Rig, string: int, place: float) -> SlipsHeard:
    sound, end, pitch = _held(rig, string, place)
    heard = heard_in(sound, end - 1, end, pitch, SPEED) if end > 1 else heard_in(sound, 0, end, pitch, SPEED)
    assert heard is not None
    return heard


@pytest.mark.parametrize("key", PRESETS)
def test_held_strings_slip_as_the_window_says(key: str) -> None:
    """Once a period inside, more often below, unevenly above: on the lowest and the highest string of every rig."""
    rig = preset(key)
    cases = (
        [(place, Tone.CORE) for place in CORE] + [(p, Tone.AIRY) for p in AIRY] + [(p, Tone.PRESSED) for p in PRESSED]
    )
    wrong = [
        (string, place, heard)
        for string in (0, len(rig.instrument.strings) - 1)
        for place, tone in cases
        if (heard := _tone(rig, string, place)).tone is not tone
    ]
    assert len(wrong) <= 2, wrong


@pytest.mark.parametrize("key", ["violin", "viola", "cello", "treble-viol"])
@pytest.mark.parametrize("place", CORE)
def test_a_bowed_string_is_in_tune(key: str, place: float) -> None:
    """Within three cents at every weight: what the bow flattens is asked for in advance."""
    rig = preset(key)
    sound, end, pitch = _held(rig, len(rig.instrument.strings) - 2, place)
    starts = sound.slips[sound.slips[:, 0] > end - 0.3, 0]
    cents = 1200 * np.log2((len(starts) - 1) / (starts[-1] - starts[0]) / pitch)
    assert abs(cents) < 3


def test_loudness_follows_speed_over_place() -> None:
    """The plan's drive: twice the speed is 6 dB, seven tenths of the distance 3."""
    rig = preset("violin")

    def loudness(beta: float, speed: float) -> float:
        sound, end, _ = _held(rig, 2, 0.6, beta, speed)
        last = sound.sound[int((end - 0.25) * SAMPLES) :]
        return float(20 * np.log10(np.sqrt(np.mean(last**2))))

    plain = loudness(0.10, 0.2)
    assert loudness(0.10, 0.4) - plain == pytest.approx(6.0, abs=1.0)
    assert loudness(0.07, 0.2) - plain == pytest.approx(3.1, abs=1.0)


def test_a_sound_at_half_its_rate_keeps_what_is_heard_and_loses_what_would_fold_back() -> None:
    """A tone of 3 kHz is as it was; one of 30 kHz, which would come back as 18, is gone."""
    times = np.arange(96_000) / 96_000
    kept, gone = (half_band(np.sin(2 * np.pi * pitch * times))[2000:-2000] for pitch in (3_000, 30_000))
    assert np.sqrt(np.mean(kept**2)) == pytest.approx(np.sqrt(0.5), rel=0.01)
    assert np.abs(gone).max() < 0.02
