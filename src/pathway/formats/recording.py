"""Recordings: read in whatever common format, kept without loss."""

import io
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
import soundfile

from pathway.core.arrays import FloatArray
from pathway.core.takes.listening import MOST_SECONDS
from pathway.errors import ScoreError, TooLarge

MOST_SOUND = 200_000_000
_RATES = (8_000, 192_000)  # samples a second that a recording can have
_LEAST_SECONDS = 0.2
MOST_SAMPLES, MOST_CHANNELS = 45_000_000, 8  # a quarter of an hour at 48,000 a second; read a block at a time
_BLOCK = 1 << 18
_FULL = 32768.0  # of 16 bits


def read_recording(data: bytes) -> tuple[FloatArray, int]:
    """Return one channel of a WAV, FLAC, OGG or MP3 file, full scale 1, and its samples a second; several are mixed.

    Raises:
        ScoreError: it is no recording, an empty one, or one in which nothing can be heard; says why.
        TooLarge: longer than anyone would wait for, or more than can be held at once.
    """
    with _opened(data) as file:
        try:
            blocks = [block.mean(axis=1) for block in file.blocks(_BLOCK, dtype="float64", always_2d=True)]
        except (soundfile.LibsndfileError, RuntimeError, ValueError) as error:
            raise ScoreError(_NONE, advice=_KINDS) from error
        rate = int(file.samplerate)
    samples = np.concatenate(blocks) if blocks else np.zeros(0)
    if len(samples) < _LEAST_SECONDS * rate:
        raise ScoreError("The recording is empty, or too short to hear anything in it", advice="Record again.")
    if not np.isfinite(samples).all():
        raise ScoreError("Some samples of the recording are no numbers", advice="Save it again as 16 bits.")
    return np.ascontiguousarray(samples), rate


def check_flac(data: bytes) -> None:
    """Read the head of a sound that is kept as it came.

    Raises:
        ScoreError, TooLarge: as for a recording; or it is of another kind.
    """
    with _opened(data) as file:
        if file.format != "FLAC":
            raise ScoreError(_NONE, advice="Takes are kept as FLAC.")


_NONE, _KINDS = "This is no recording that can be read", "Take WAV, FLAC, OGG or MP3."


@contextmanager
def _opened(data: bytes) -> Iterator[soundfile.SoundFile]:
    """Open a recording whose size is known to be bearable."""
    if len(data) > MOST_SOUND:
        raise TooLarge(f"The recording has {len(data) / 1e6:.0f} MB", advice="Record some bars at a time.")
    try:
        file = soundfile.SoundFile(io.BytesIO(data))
    except (soundfile.LibsndfileError, RuntimeError, ValueError, TypeError) as error:
        raise ScoreError(_NONE, advice=_KINDS) from error
    with file:
        rate, low, high = int(file.samplerate), *_RATES
        if not low <= rate <= high or not 1 <= file.channels <= MOST_CHANNELS:
            raise ScoreError(
                f"The recording has {rate} samples a second in {file.channels} channels",
                advice=f"Save it with {low:,} to {high:,} in up to {MOST_CHANNELS}.",
            )
        if file.frames > min(MOST_SECONDS * rate, MOST_SAMPLES):
            minutes = min(MOST_SECONDS, MOST_SAMPLES / rate) / 60
            raise TooLarge(
                f"The recording is longer than {minutes:.0f} minutes at {rate:,} samples a second",
                advice="Record some bars at a time.",
            )
        yield file


def from_pcm(data: bytes) -> FloatArray:
    """Return the samples of one channel of 16 bits, as a page records it, full scale 1; half a sample is left out."""
    return np.frombuffer(data[: len(data) // 2 * 2], dtype="<i2") / _FULL


def flac(samples: FloatArray, rate: int) -> bytes:
    """Return a recording as FLAC, 16 bits, one channel."""
    out = io.BytesIO()
    soundfile.write(out, np.clip(samples, -1, 1), rate, format="FLAC", subtype="PCM_16")
    return out.getvalue()
