"""A sound in frames: spectra on a scale of pitches, level, and where something begins."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.rig.instrument import frequency

HOP = 0.01  # between frames [s]
TICK = 2  # frames a step of the search
BINS = np.arange(40, 120, 1 / 3)  # pitches of the spectra [MIDI]
_HIGHEST = 7200.0  # that is looked at [Hz]
_LONG, _SHORT, _LEVEL = 0.171, 0.0853, 0.0213  # windows: for low instruments, for high ones, for level and onsets [s]
LOW_BELOW = 120.0  # lowest note of instruments that need the long one [Hz]
HEARD_FROM = 90.0  # of the level: below is rumble [Hz]
_AROUND = 37  # bins over which a spectrum is flattened
_HARMONICS, _FALLS = 16, 0.6  # of a template, and how they fall
BLOCK = 256  # frames at once


@dataclass(frozen=True)
class Frames:
    """A recording of T frames."""

    samples: FloatArray
    rate: int
    window: int
    white: FloatArray  # (T/TICK, bins): flattened spectra
    level: FloatArray  # (T,) [dB of full scale]
    flux: FloatArray  # (T,) how much begins, 0 to 1.5

    @property
    def count(self) -> int:
        """Return how many frames there are."""
        return len(self.level)

    @property
    def floor(self) -> float:
        """Return the level of the room [dB]."""
        return float(np.quantile(self.level, 0.03))

    @classmethod
    def of(cls, samples: FloatArray, rate: int, lowest_hz: float) -> "Frames":
        """Return the frames of a sound; full scale 1.

        Args:
            samples: of one channel.
            rate: samples a second.
            lowest_hz: of the pitches that are looked for.
        """
        window = window_of(_LONG if lowest_hz < LOW_BELOW else _SHORT, rate)
        hop = round(HOP * rate)
        count = len(samples) // hop
        padded = np.pad(samples, (window, window))
        white = whitened(_spectra(padded, window, rate, np.arange(0, count, TICK) * hop + window))
        short, level = _levels(padded, rate, np.arange(count) * hop + window)
        rising = 20 * np.log10(short + 1e-4 * max(float(short.max(initial=0)), 1e-9))
        flux = np.zeros(count)
        if count > 2:
            flux[1:-1] = np.maximum(0, rising[2:] - rising[:-2]).mean(axis=1)
        flux = np.clip(flux / (np.quantile(flux, 0.95) + 1e-9), 0, 1.5) if count else flux
        return cls(samples, rate, window, white, level, flux)


def _slices(padded: FloatArray, window: int, centres: IntArray) -> FloatArray:
    return np.asarray(np.lib.stride_tricks.sliding_window_view(padded, window)[centres - window // 2])


def _spectra(padded: FloatArray, window: int, rate: int, centres: IntArray) -> FloatArray:
    """Return spectra on the scale of pitches; in blocks, so that memory stays small."""
    into, shape = bank(window, rate), np.hanning(window)
    found = np.empty((len(centres), len(BINS)))
    for at in range(0, len(centres), BLOCK):
        some = _slices(padded, window, centres[at : at + BLOCK]) * shape
        found[at : at + BLOCK] = np.abs(np.fft.rfft(some)[:, : len(into)]) @ into
    return found


def _levels(padded: FloatArray, rate: int, centres: IntArray) -> tuple[FloatArray, FloatArray]:
    """Return spectra of short windows, and the level [dB]."""
    window = window_of(_LEVEL, rate)
    into, shape = bank(window, rate), np.hanning(window)
    heard = np.fft.rfftfreq(window, 1 / rate) > HEARD_FROM
    short, level = np.empty((len(centres), len(BINS))), np.empty(len(centres))
    for at in range(0, len(centres), BLOCK):
        sizes = np.abs(np.fft.rfft(_slices(padded, window, centres[at : at + BLOCK]) * shape))
        short[at : at + BLOCK] = sizes[:, : len(into)] @ into
        power = np.einsum("ij,ij->i", sizes[:, heard], sizes[:, heard])
        level[at : at + BLOCK] = np.sqrt(power * 2 / (window * (shape**2).sum()))
    return short, 20 * np.log10(level + 1e-7)


def window_of(seconds: float, rate: int) -> int:
    """Return the samples of a window that lasts about so long: a power of two."""
    return int(2 ** round(np.log2(seconds * rate)))


@lru_cache(maxsize=8)
def bank(window: int, rate: int) -> FloatArray:
    """Return the weights that bring a spectrum onto the scale of pitches; shape (frequencies, bins)."""
    hz = np.fft.rfftfreq(window, 1 / rate)[: int(min(_HIGHEST, 0.45 * rate) * window / rate)]
    midi = 69 + 12 * np.log2(np.maximum(hz, 1) / 440)
    step = 12 * np.log2(1 + rate / window / np.maximum(hz, 1))  # one frequency in semitones
    width = np.maximum(1 / 3, 0.75 * step)[:, None]
    weights = np.maximum(0, 1 - np.abs(midi[:, None] - BINS) / width)
    weights[hz < 60] = 0
    sums = weights.sum(axis=0)
    return np.asarray(np.divide(weights, sums, out=np.zeros_like(weights), where=sums > 0))


def whitened(spectra: FloatArray) -> FloatArray:
    """Return spectra flattened to what stands out of its surroundings, each of length 1."""
    if not len(spectra):
        return spectra
    sizes = np.log1p(spectra / (1e-9 + np.quantile(spectra, 0.5)))
    return _outstanding(sizes)


def _outstanding(sizes: FloatArray) -> FloatArray:
    half = _AROUND // 2
    sums = np.cumsum(np.pad(sizes, ((0, 0), (half + 1, half)), mode="edge"), axis=1)
    out = np.maximum(0, sizes - (sums[:, _AROUND:] - sums[:, :-_AROUND]) / _AROUND)
    return np.asarray(out / (np.linalg.norm(out, axis=1, keepdims=True) + 1e-9))


def template(pitches: tuple[int, ...], window: int, rate: int) -> FloatArray:
    """Return what some pitches together look like in a frame."""
    into = bank(window, rate)
    hz = np.fft.rfftfreq(window, 1 / rate)[: len(into)]
    spectrum = np.zeros(len(hz))
    for midi in pitches:
        lowest = frequency(midi)
        for h in range(1, _HARMONICS):
            if h * lowest > _HIGHEST - 200:
                break
            spectrum += h**-_FALLS * np.exp(-0.5 * ((hz - h * lowest) / (1.3 * rate / window)) ** 2)
    sizes = spectrum @ into
    return np.asarray(_outstanding(np.log1p(30 * sizes / sizes.max())[None, :])[0])
