"""Sounds as WAV files."""

import io
import wave

import numpy as np

from pathway.core.arrays import FloatArray

_FULL = 32767


def wav(samples: FloatArray, rate: int) -> bytes:
    """Return a sound as a WAV file: one channel, 16 bits.

    Args:
        samples: full scale 1; louder ones are cut off.
        rate: a second.
    """
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(rate)
        file.writeframes((np.clip(samples, -1, 1) * _FULL).round().astype("<i2").tobytes())
    return out.getvalue()
