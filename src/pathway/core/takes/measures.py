"""What each note of a recording was: when, how loud, in tune, rough or clear; against the plan and its like notes."""

from dataclasses import dataclass, field

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.rig.instrument import frequency
from pathway.core.takes.following import Followed, Visit
from pathway.core.takes.frames import HOP, Frames
from pathway.core.takes.score import PlannedNotes

CORE = (0.30, 0.85)  # of a sounding note that its level is taken from
_LEAST_PERIODS, _LEAST_SAMPLES = 6, 1500  # of a tone that can be looked into
THINS_FROM = 30  # frames from which on a slope is told
LONGEST = 1.5  # times its planned length is looked at, where nothing comes after a note
BITE = 15  # frames at the beginning in which an accent is
_NEAR = 7  # notes to each side that a local tempo is made of
OWN_LEVEL = 3.0  # times a pitch is heard until half of its own level is believed


@dataclass
class MeasuredNote:
    """One note as it was played; numbers that cannot be known are nan."""

    note: int  # of the plan
    onset: float  # [s]
    end: float
    level: float  # [dB], the room taken off
    above_floor: float  # [dB]
    attack: float  # until within 3 dB of its level [s]
    gap: float  # silence in its second half [s]
    dip: float  # at its beginning [dB]
    slope: float = np.nan  # along it, beyond what is planned [dB]
    cents: float = np.nan
    noise: float = np.nan  # between its harmonics over them [dB]
    same: float = np.nan  # likeness of a period with the next one
    own: float = 0.0  # likeness with its planned pitch
    other: float = 0.0  # with the likeliest single pitch
    leads: float = 1.0  # share of it in which no other planned pitch is likelier
    off: float = np.nan  # level against the plan, the take's volume and the pitch's own taken off [dB]
    raw: float = np.nan  # the same with the pitch's own left in
    noisier: float = np.nan  # than the take's other notes [dB]
    late: float = np.nan  # against a tempo of its surroundings [s]
    bite: float = np.nan  # its loudest at the beginning, against the plan's level as raw is [dB]
    could: set[str] = field(default_factory=set)  # be said, if it came again
    words: set[str] = field(default_factory=set)
    sure: bool = False


def measured(
    frames: Frames, planned: PlannedNotes, passed: list[Visit], times: FloatArray, found: Followed
) -> list[MeasuredNote]:
    """Return the notes of a recording in the order in which they were played."""
    room = _room(frames)
    rows = []
    for j, visit in enumerate(passed):
        joined = j + 1 < len(passed) and passed[j + 1].note == visit.note + 1
        end = float(times[j + 1]) if joined else max(visit.end * HOP, float(times[j]) + 0.05)
        row = _row(frames, planned, visit.note, float(times[j]), end, found)
        if row is not None:
            _look_into(row, frames, planned, room)
            rows.append(row)
    _compare(rows, planned)
    return rows


def _row(
    frames: Frames, planned: PlannedNotes, note: int, onset: float, end: float, found: Followed
) -> MeasuredNote | None:
    first = int(onset / HOP)
    end = min(end, onset + LONGEST * float(planned.durations[note]) / found.tempo)
    last = min(max(first + 3, int(end / HOP)), frames.count)
    level = frames.level[first:last]
    if len(level) < 3:
        return None
    share = min(1.0, float(planned.sounding[note] / planned.durations[note]))
    a = int(CORE[0] * share * len(level))
    b = max(a + 2, int(CORE[1] * share * len(level)))
    steady = float(np.median(level[a:b]))
    up = np.flatnonzero(level >= steady - 3)
    before = float(np.median(frames.level[max(0, first - 20) : max(1, first - 6)]))
    around = frames.level[max(0, first - 6) : first + 8]
    row = MeasuredNote(
        note=note,
        onset=onset,
        end=end,
        level=10 * float(np.log10(max(1e-9, 10 ** (steady / 10) - 10 ** (frames.floor / 10)))),
        above_floor=steady - frames.floor,
        attack=float(up[0]) * HOP if len(up) else end - onset,
        gap=HOP * int((level[len(level) // 2 :] < steady - 15).sum()),
        dip=min(before, steady) - float(around.min()),
    )
    row.bite = float(level[:BITE].max()) - steady
    body = level[int(0.2 * share * len(level)) : int(0.95 * share * len(level))]
    if len(body) >= THINS_FROM:
        began, ended = planned.notes[note].speed_ends
        meant = 20 * np.log10(max(0.1, ended / max(began, 1e-6)))
        row.slope = float(np.polyfit(np.linspace(0.2, 0.95, len(body)), body, 1)[0]) - float(meant)
    steps = slice(first // 2, max(first // 2 + 1, int(first / 2 + 0.45 * (last - first))))
    mine = found.likeness[steps]
    if len(mine):
        own = mine[:, found.key[note]]
        row.own, row.leads = float(np.median(own)), float(np.mean(own >= mine.max(axis=1) - 0.08))
        row.other = float(np.median(found.chromatic[steps], axis=0).max())
    return row


def _room(frames: Frames, window: int = 4096) -> FloatArray:
    """Return the power of the room at every frequency: that of the quietest twentieth."""
    count = len(frames.samples) // (window // 2) - 1
    if count < 3:
        return np.zeros(window // 2 + 1)
    starts = np.arange(count) * (window // 2)
    slices = np.lib.stride_tricks.sliding_window_view(frames.samples, window)[starts] * np.hanning(window)
    power = (slices**2).sum(axis=1)
    quiet = np.argsort(power)[: max(3, count // 20)]
    median_to_mean = 1.44
    spectra = np.abs(np.fft.rfft(slices[quiet])) ** 2
    return np.asarray(np.median(spectra, axis=0) * median_to_mean / (np.hanning(window) ** 2).sum())


def _look_into(row: MeasuredNote, frames: Frames, planned: PlannedNotes, room: FloatArray) -> None:
    """Measure pitch, noise and likeness of periods of a single tone that is long enough."""
    if len(planned.pitches[row.note]) > 1:
        return
    hz, rate = frequency(int(planned.lowest[row.note])), frames.rate
    share = min(1.0, float(planned.sounding[row.note] / planned.durations[row.note]))
    long = (row.end - row.onset) * share
    first = int((row.onset + max(0.04, 0.25 * long)) * rate)
    tone = frames.samples[first : int((row.onset + 0.9 * long) * rate)]
    if len(tone) < max(_LEAST_PERIODS * rate / hz, _LEAST_SAMPLES):
        return
    shape = np.hanning(len(tone))
    size = 1 << (2 * len(tone) - 1).bit_length()
    hzs: FloatArray = np.asarray(np.fft.rfftfreq(size, 1 / rate), dtype=np.float64)
    power = np.abs(np.fft.rfft(tone * shape, size)) ** 2
    floor = np.interp(hzs, np.linspace(0, rate / 2, len(room)), room) * (shape**2).sum()
    power = np.maximum(power - floor, 1e-14)
    row.cents = _cents(power, size, rate, hz, len(tone))
    played = hz * 2 ** (np.nan_to_num(row.cents) / 1200)
    row.noise = _noise(power, hzs, played, rate, len(tone))
    row.same = sameness(frames.samples[int(row.onset * rate) : int((row.onset + min(long, 0.6)) * rate)], rate, played)


def _cents(power: FloatArray, size: int, rate: int, hz: float, length: int) -> float:
    """Return how far the harmonics lie from where they should: their weighted median [cents]."""
    found, weights = [], []
    for h in range(1, 9):
        if h * hz > min(6000, 0.45 * rate):
            break
        wide = max(2.5 * rate / length, 0.03 * h * hz)
        low = max(1, int((h * hz - wide) * size / rate))
        part = power[low : int((h * hz + wide) * size / rate) + 2]
        at = int(part.argmax())
        if 0 < at < len(part) - 1:
            z = 0.5 * np.log(part[at - 1 : at + 2])
            peak = (low + at + 0.5 * (z[0] - z[2]) / (z[0] - 2 * z[1] + z[2])) * rate / size
            found.append(1200 * np.log2(peak / h / hz))
            weights.append(np.exp(z[1]) * h)
    if not found:
        return float("nan")
    order = np.argsort(found)
    sums = np.cumsum(np.array(weights)[order])
    return float(np.array(found)[order][np.searchsorted(sums, sums[-1] / 2)])


def _noise(power: FloatArray, hzs: FloatArray, hz: float, rate: int, length: int) -> float:
    """Return the power between the harmonics over that in them [dB]."""
    place = hzs / hz
    away = np.abs(place - np.round(place))
    band = (hzs > 0.6 * hz) & (hzs < min(7000, 18 * hz))
    width = max(0.1, min(0.3, 2.2 * rate / length / hz + 0.02))
    outside = max(0.32, width)
    inside = float(power[band & (away < width)].sum())
    between = float(power[band & (away > outside)].sum()) * 2 * width / (2 * (0.5 - outside) + 1e-9)
    return float(10 * np.log10(max(between, 1e-20) / max(inside, 1e-20)))


def sameness(tone: FloatArray, rate: int, hz: float) -> float:
    """Return how like a period is to the next one: the median over the body of a tone."""
    period = rate / hz
    count = int(len(tone) / period) - 3
    if count < 7:
        return float("nan")
    starts, wide = (np.arange(count) * period).astype(int), 2 * round(period)
    squares, best = tone**2, np.full(count, -1.0)
    energies = _sums(squares, starts[starts + wide <= len(tone)], wide) + 1e-16
    for lag in range(max(2, int(0.97 * period) - 1), int(1.03 * period) + 3):
        at = starts[starts + lag + wide <= len(tone)]
        both = energies[: len(at)] * (_sums(squares, at + lag, wide) + 1e-16)
        alike = _sums(tone[:-lag] * tone[lag:], at, wide) / np.sqrt(both)
        best[: len(at)] = np.maximum(best[: len(at)], alike)
    return float(np.median(best[count // 3 :]))


def _sums(values: FloatArray, starts: IntArray, wide: int) -> FloatArray:
    """Return the sums of so many values from some places on."""
    edges = np.stack([starts, starts + wide], axis=1).ravel()
    return np.asarray(np.add.reduceat(np.append(values, 0.0), edges)[::2])


def _compare(rows: list[MeasuredNote], planned: PlannedNotes) -> None:
    """Set every note against the plan, its like notes and its surroundings."""
    if not rows:
        return
    raw = np.array([row.level - planned.levels[row.note] for row in rows])
    raw -= np.median(raw)
    off, pitch = raw.copy(), np.array([planned.lowest[row.note] for row in rows])
    for midi in set(pitch.tolist()):
        same = pitch == midi
        off[same] -= np.median(np.clip(raw[same], -4, 4)) * same.sum() / (same.sum() + OWN_LEVEL)
    noise = np.array([row.noise for row in rows])
    usual = float(np.nanmedian(noise)) if np.isfinite(noise).any() else 0.0
    for row, whole, level in zip(rows, raw, off, strict=True):
        row.raw, row.off, row.noisier = float(whole), float(level), row.noise - usual
        row.bite += row.raw
    _time(rows, planned)


def _time(rows: list[MeasuredNote], planned: PlannedNotes) -> None:
    """Set the time of every note against a straight line through its surroundings, which outliers do not bend."""
    played = np.array([row.onset for row in rows])
    written = np.array([planned.onsets[row.note] for row in rows])
    for k, row in enumerate(rows):
        near = [
            z
            for z in range(max(0, k - _NEAR), min(len(rows), k + _NEAR + 1))
            if z != k and abs(rows[z].note - row.note) <= _NEAR + 1
        ]
        if len(near) < 4:
            continue
        line = np.c_[np.ones(len(near)), written[near] - written[k]]
        weights = np.ones(len(near))
        for _ in range(4):
            fit, *_ = np.linalg.lstsq(line * weights[:, None], played[near] * weights, rcond=None)
            weights = 1 / (1 + (np.abs(played[near] - line @ fit) / 0.03) ** 2)
        row.late = float(played[k] - fit[0])
