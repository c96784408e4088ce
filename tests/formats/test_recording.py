"""Recordings in common formats."""

import io

import numpy as np
import pytest
import soundfile

from pathway.errors import ScoreError, TooLarge
from pathway.formats.recording import MOST_SECONDS, flac, from_pcm, read_recording

SOUND = 0.3 * np.sin(2 * np.pi * 440 * np.arange(16_000) / 16_000)


def _as(kind: str, samples: np.ndarray = SOUND, rate: int = 16_000, **more: str) -> bytes:
    out = io.BytesIO()
    soundfile.write(out, samples, rate, format=kind, **more)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["WAV", "FLAC", "OGG", "MP3"])
def test_common_formats_are_read(kind: str) -> None:
    """As one channel at full scale 1."""
    samples, rate = read_recording(_as(kind))
    assert rate == 16_000
    assert np.sqrt(np.mean(samples**2)) == pytest.approx(np.sqrt(np.mean(SOUND**2)), rel=0.05)


def test_several_channels_are_mixed() -> None:
    """To their mean."""
    samples, _ = read_recording(_as("WAV", np.stack([SOUND, np.zeros_like(SOUND)], axis=1)))
    assert np.abs(samples).max() == pytest.approx(0.15, abs=0.01)


def test_flac_keeps_sixteen_bits() -> None:
    """Nothing more is lost."""
    samples, rate = read_recording(flac(SOUND, 16_000))
    assert rate == 16_000
    assert np.abs(samples - SOUND).max() < 1 / 30_000


def test_what_a_page_records_is_sixteen_bits() -> None:
    """The lower byte first; the half of a sample that was cut off is none."""
    assert from_pcm(b"\x00\x40\x00\x80\x01").tolist() == [0.5, -1.0]
    assert not len(from_pcm(b"\x01"))


@pytest.mark.parametrize("data", [b"", b"RIFF", b"<score-partwise/>", _as("FLAC")[:30]])
def test_what_is_no_recording_is_refused(data: bytes) -> None:
    """In words."""
    with pytest.raises(ScoreError):
        read_recording(data)


def test_a_recording_of_hours_is_refused() -> None:
    """Before it is read."""
    with pytest.raises(TooLarge):
        read_recording(_as("FLAC", np.zeros(8000 * (int(MOST_SECONDS) + 10)), 8000))


@pytest.mark.parametrize(
    ("samples", "rate", "kind", "said"),
    [
        (np.zeros(400), 100, "WAV", "100 samples a second"),
        (np.zeros((9000, 9)), 8000, "WAV", "in 9 channels"),
        (np.zeros(600_000), 655_350, "FLAC", "655350 samples"),
        (np.zeros(900), 8000, "WAV", "too short to hear"),
        (np.full(9000, np.nan), 8000, "FLOAT", "are no numbers"),
    ],
)
def test_what_can_never_be_heard_is_refused_with_the_reason(
    samples: np.ndarray, rate: int, kind: str, said: str
) -> None:
    """At once, as it comes."""
    out = io.BytesIO()
    form, subtype = ("WAV", "FLOAT") if kind == "FLOAT" else (kind, None)
    soundfile.write(out, samples, rate, format=form, subtype=subtype)
    with pytest.raises(ScoreError, match=said):
        read_recording(out.getvalue())


def test_a_small_file_that_would_fill_the_memory_is_refused() -> None:
    """What counts is what it unpacks to: rate, channels and time together."""
    quiet = _as("FLAC", np.zeros(192_000 * 300, dtype=np.int16), 192_000)
    assert len(quiet) < 2_000_000
    with pytest.raises(TooLarge, match="4 minutes at 192,000"):
        read_recording(quiet)
