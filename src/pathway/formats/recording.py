"""Recordings: read in whatever common format, kept without loss."""

import io

import numpy as np
import soundfile

from pathway.core.arrays import FloatArray
from pathway.core.takes.listening import MOST_SECONDS
from pathway.errors import ScoreError, TooLarge

MOST_SOUND = 200_000_000
_FULL = 32768.0  # of 16 bits


def read_recording(data: bytes) -> tuple[FloatArray, int]:
    """Return one channel of a WAV, FLAC, OGG or MP3 file, full scale 1, and its samples a second; several are mixed.

    Raises:
        ScoreError: it is no recording, or an empty one.
        TooLarge: longer than anyone would wait for.
    """
    if len(data) > MOST_SOUND:
        raise TooLarge(f"The recording has {len(data) / 1e6:.0f} MB", advice="Record some bars at a time.")
    try:
        with soundfile.SoundFile(io.BytesIO(data)) as file:
            if file.frames / max(file.samplerate, 1) > MOST_SECONDS:
                raise TooLarge(
                    "The recording is longer than a quarter of an hour", advice="Record some bars at a time."
                )
            samples = file.read(dtype="float64", always_2d=True)
            rate = int(file.samplerate)
    except (soundfile.LibsndfileError, RuntimeError, ValueError) as error:
        raise ScoreError("This is no recording that can be read", advice="Take WAV, FLAC, OGG or MP3.") from error
    if not len(samples):
        raise ScoreError("The recording is empty", advice="Record again.")
    return np.ascontiguousarray(samples.mean(axis=1)), rate


def from_pcm(data: bytes) -> FloatArray:
    """Return the samples of one channel of 16 bits, as a page records it, full scale 1; half a sample is left out."""
    return np.frombuffer(data[: len(data) // 2 * 2], dtype="<i2") / _FULL


def flac(samples: FloatArray, rate: int) -> bytes:
    """Return a recording as FLAC, 16 bits, one channel."""
    out = io.BytesIO()
    soundfile.write(out, np.clip(samples, -1, 1), rate, format="FLAC", subtype="PCM_16")
    return out.getvalue()
