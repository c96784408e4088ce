"""A made-up body and a small room, as impulse responses: fixed sequences, the same on every machine."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from pathway.core.arrays import FloatArray

_SECONDS = 0.35  # of a body
SPREAD = 0.6180339887, 0.7548776662  # fractional parts that never repeat
TAIL_FROM = 0.03  # of a room [s]
ECHOES = ((11.3, 0.30), (17.9, -0.24), (23.7, 0.20), (31.1, 0.17), (41.9, -0.14))  # after [ms], strength


@dataclass(frozen=True, slots=True)
class Body:
    """A size of instrument: frequencies, sharpness and strength of its lowest modes, and the hill above them."""

    below: float  # open strings of instruments of this size are shorter [m]
    air: float  # lowest mode [Hz]
    modes: tuple[tuple[float, float, float], ...]
    hill: float  # [Hz]


BODIES = (
    Body(0.34, 272, ((272, 14, 0.8), (405, 22, 0.45), (460, 28, 0.9), (545, 30, 1.0)), 2600),
    Body(0.45, 222, ((222, 14, 0.8), (330, 20, 0.45), (375, 26, 0.9), (440, 28, 1.0)), 2000),
    Body(0.80, 97, ((97, 12, 0.8), (140, 18, 0.5), (175, 24, 1.0), (215, 26, 0.9)), 1400),
    Body(np.inf, 62, ((62, 10, 0.8), (98, 16, 0.7), (115, 20, 1.0), (145, 22, 0.8)), 900),
)


@lru_cache(maxsize=16)
def response(length: float, rate: int, evenness: float, wet: float) -> FloatArray:
    """Return what a short push on the bridge sounds like in a room; shape (n,).

    Args:
        length: of the open strings [m].
        rate: samples a second.
        evenness: 1 all direct, 0 all modes.
        wet: share of the room; 0 without.
    """
    alone = _body(next(body for body in BODIES if length < body.below), rate, evenness)
    return convolve(alone, _room(rate, wet)) if wet else alone


def _body(body: Body, rate: int, evenness: float) -> FloatArray:
    """Return the impulse response of a body: mean gain 1 over its range."""
    count = int(_SECONDS * rate)
    times = np.arange(count) / rate
    sound = np.zeros(count)
    for i, (pitch, sharpness, strength) in enumerate(_modes(body, rate)):
        turns = 2 * np.pi * pitch
        swing = np.exp(-turns * times / (2 * sharpness)) * np.sin(turns * times)
        sound += (-1) ** i * strength * turns / rate * swing / 6
    sound *= np.minimum(1, (count - np.arange(count)) / (0.02 * rate))
    pitches = np.fft.rfftfreq(4 * count, 1 / rate)
    heard = (pitches > body.air) & (pitches < 5000)
    sound /= np.sqrt(np.mean(np.abs(np.fft.rfft(sound, 4 * count)[heard]) ** 2))
    shelf = (1j * pitches / (1j * pitches + 0.7 * body.air)) / (1 + 1j * pitches / (2.2 * body.hill))
    direct = np.fft.irfft(shelf)[:count]
    return np.asarray(evenness * direct + (1 - evenness) * sound)


def _modes(body: Body, rate: int) -> list[tuple[float, float, float]]:
    found = list(body.modes)
    pitch, k = body.modes[-1][0] * 1.18, 0
    while pitch < min(9000, 0.42 * rate):
        strong, sharp = (k * step % 1.0 for step in SPREAD)
        above = pitch > body.hill
        strength = (0.35 + 0.65 * strong) / np.sqrt(1 + (pitch / body.hill - 1) ** 2 * (1.6 if above else 0.5))
        found.append((pitch * (1 + 0.03 * (strong - 0.5)), 24 + 14 * sharp, float(strength)))
        pitch *= 1.075 if pitch < 1500 else 1.055
        k += 1
    return found


def _room(rate: int, wet: float, seconds: float = 0.55) -> FloatArray:
    """Return a few early echoes and a tail that dies away, from a fixed sequence."""
    count = int(1.3 * seconds * rate)
    sound = np.zeros(count)
    sound[0] = 1
    for after, strength in ECHOES:
        sound[int(after * rate / 1000)] += strength * wet * 2
    noise = np.random.Generator(np.random.PCG64(7)).uniform(-1, 1, count)
    steps = np.arange(count) / rate
    tail = noise * np.exp(-6.9 * steps / seconds) * np.minimum(1, steps / TAIL_FROM)
    tail = np.fft.irfft(np.fft.rfft(tail) / (1 + 1j * np.fft.rfftfreq(count, 1 / rate) / 3000), count)
    return np.asarray(sound + tail * wet / np.sqrt(np.sum(tail**2)) * 0.6)


def muted(sound: FloatArray, length: float, rate: int) -> FloatArray:
    """Return a sound as with a mute on the bridge: softer, and much softer above; our estimate."""
    low = 1100 * 0.33 / length  # heavier mutes on larger bridges [Hz]
    count = 1 << (len(sound) - 1).bit_length()
    pitches = np.fft.rfftfreq(count, 1 / rate)
    return np.asarray(np.fft.irfft(np.fft.rfft(sound, count) * 0.75 / np.sqrt(1 + (pitches / low) ** 2), count))[
        : len(sound)
    ]


def convolve(sound: FloatArray, impulse: FloatArray) -> FloatArray:
    """Return a sound through an impulse response; shape (len(sound) + len(impulse) − 1,)."""
    whole = len(sound) + len(impulse) - 1
    size = 1 << (len(impulse) + (1 << 16) - 1).bit_length()
    size = min(size, 1 << (whole - 1).bit_length())
    step = size - len(impulse) + 1
    if step <= 0:
        size = 1 << (whole - 1).bit_length()
        step = whole
    spectrum, made = np.fft.rfft(impulse, size), np.zeros(whole + size)
    for at in range(0, len(sound), step):
        made[at : at + size] += np.fft.irfft(np.fft.rfft(sound[at : at + step], size) * spectrum, size)
    return made[:whole]
