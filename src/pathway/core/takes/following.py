"""Which note of the plan is played when: stops, repeats and another tempo are followed; onsets to milliseconds."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil

import numpy as np

from pathway.core.arrays import BoolArray, FloatArray, IntArray
from pathway.core.takes.follow_loop import search
from pathway.core.takes.frames import HOP, TICK, Frames, template
from pathway.core.takes.score import PlannedNotes

SEARCH_STEP = HOP * TICK  # of the search [s]
JUMP = 22.0  # cost of going to another bar
HOLD, SKIP_TWO, SKIP_THREE = 0.35, 0.35, 0.8  # of standing still, of going twice and three times as fast
PAUSE_IN, PAUSE_OUT = 3.0, 0.3
ONSET, ONSET_BASE = 0.30, 0.12  # a note begins where something begins
_WRONG = 0.45  # no more: a wrong note is no reason to run away
_TAIL = 0.02  # a step that is not played at the end
OTHER_TEMPO = 0.02  # a tempo further off is followed once more at its own
LAG = 0.22  # of the window, by which a change is seen late: measured on the simulated player
_REACH = 12  # frames to each side in which an onset is looked for


@dataclass(frozen=True)
class Followed:
    """A path through the plan; arrays of T steps unless said otherwise."""

    at: IntArray  # tick of the plan, −1 before and after
    pausing: BoolArray
    note_of: IntArray  # (S,) of every tick
    likeness: FloatArray  # (T, pitches) with every planned pitch
    key: IntArray  # (N,) which of them each note has
    chromatic: FloatArray  # (T, semitones) with every single pitch around
    lowest: int  # the first of these [MIDI]
    jumps: tuple[tuple[int, int], ...]  # step and tick
    tempo: float  # that the search was made with, over the plan's


@dataclass(frozen=True, slots=True)
class Visit:
    """One note as it was passed: which, and from which frame to which."""

    note: int
    begin: int
    end: int


def follow(frames: Frames, planned: PlannedNotes) -> Followed:
    """Return the way of a recording through a plan; run again where its tempo is another one."""
    found = _followed(frames, planned, 1.0)
    tempo = tempo_of(found)
    return _followed(frames, planned, tempo) if abs(tempo - 1) > OTHER_TEMPO else found


def _followed(frames: Frames, planned: PlannedNotes, tempo: float) -> Followed:
    begin, last = planned.onsets[0], planned.onsets[-1] + planned.durations[-1]
    ticks = begin + np.arange(ceil((last - begin) / tempo / SEARCH_STEP) + 1) * SEARCH_STEP * tempo
    note_of = np.searchsorted(planned.onsets, ticks + 1e-9, side="right") - 1
    keys: dict[tuple[int, ...], int] = {}
    key = np.array([keys.setdefault(pitches, len(keys)) for pitches in planned.pitches], dtype=np.int64)
    likeness = frames.white @ np.array([template(p, frames.window, frames.rate) for p in keys]).T
    low, high = int(planned.lowest.min()) - 4, max(max(p) for p in planned.pitches) + 5
    single = np.array([template((midi,), frames.window, frames.rate) for midi in range(low, high)])
    level, flux = _every_step(frames.level, len(likeness)), _every_step(frames.flux, len(likeness))
    silent = np.clip((level - (frames.floor + 8)) / 18, 0, 1)
    cost = _costs(likeness, level, frames.floor)
    rest = ticks > (planned.onsets + planned.sounding)[note_of]
    gone = ticks >= (planned.onsets + planned.durations)[note_of] - 1e-9
    first = np.concatenate([[True], note_of[1:] != note_of[:-1]])
    bar = first & np.array([n == 0 or planned.bars[n] != planned.bars[n - 1] for n in note_of])
    quiet, over, begins, opens = (np.ascontiguousarray(flag.astype(np.uint8)) for flag in (rest, gone, first, bar))
    keys_of = np.ascontiguousarray(key[note_of])
    moving, resting = (JUMP, HOLD, SKIP_TWO, SKIP_THREE), (PAUSE_IN, PAUSE_OUT)
    way = search(
        np.ascontiguousarray(cost),
        silent,
        flux,
        keys_of,
        quiet,
        over,
        begins,
        opens,
        *moving,
        *resting,
        ONSET,
        ONSET_BASE,
    )
    at, pausing, jumps = _traced(*way)
    return Followed(at, pausing, note_of, likeness, key, frames.white @ single.T, low, jumps, tempo)


def _every_step(values: FloatArray, count: int) -> FloatArray:
    """Return the greatest of the frames of every step."""
    padded = np.pad(values, (0, TICK * count - len(values)), mode="edge") if len(values) < TICK * count else values
    return np.ascontiguousarray(padded[: TICK * count].reshape(count, TICK).max(axis=1))


def _costs(likeness: FloatArray, level: FloatArray, floor: float) -> FloatArray:
    """Return what it costs to hear each planned pitch at each step."""
    best = np.maximum(likeness.max(axis=1, keepdims=True), 0.25)
    cost = 0.7 * np.clip(1 - likeness / best, 0, 1) + 0.3 * (1 - likeness)
    return np.asarray(np.minimum(cost, _WRONG) + 0.5 * np.clip(1 - (level[:, None] - (floor + 4)) / 10, 0, 1))


def _traced(
    played: FloatArray, paused: FloatArray, moves: IntArray, into: IntArray, sources: IntArray, layers: IntArray
) -> tuple[IntArray, BoolArray, tuple[tuple[int, int], ...]]:
    """Return the best path backwards from where it ends: anywhere, what is not played costs a little."""
    steps, ticks = moves.shape
    tail = np.arange(ticks)[::-1] * _TAIL
    ends = int((played + tail).argmin()), int((paused + tail).argmin())
    resting = played[ends[0]] + tail[ends[0]] > paused[ends[1]] + tail[ends[1]]
    s = ends[1] if resting else ends[0]
    at, pausing = np.full(steps, -1), np.zeros(steps, dtype=bool)
    jumps: list[tuple[int, int]] = []
    for t in range(steps - 1, -1, -1):
        at[t], pausing[t] = s, resting
        if resting:
            resting = into[t, s] != 1
            continue
        move = int(moves[t, s])
        if move == 9:
            break
        if move == 4:
            resting = True
        elif move == 5:
            jumps.append((t, s))
            resting, s = bool(layers[t]), int(sources[t])
        else:
            s -= move
    return at, pausing, tuple(reversed(jumps))


def tempo_of(found: Followed) -> float:
    """Return the tempo of a recording over that of the plan: the median over two seconds each."""
    steps, apart = np.flatnonzero((found.at >= 0) & ~found.pausing), 100
    slopes = [
        (found.at[steps[a + apart]] - found.at[steps[a]]) / apart
        for a in range(0, len(steps) - apart, 25)
        if steps[a + apart] - steps[a] == apart and found.at[steps[a + apart]] > found.at[steps[a]]
    ]
    return found.tempo * float(np.median(slopes)) if slopes else found.tempo


def visits(found: Followed) -> list[Visit]:
    """Return the notes in the order in which they were passed."""
    return list(_visited(found))


def _visited(found: Followed) -> Iterator[Visit]:
    note, begin, end, before = -1, 0, 0, -1
    for t, tick in enumerate(found.at):
        if tick < 0:
            continue
        here = int(found.note_of[tick])
        if here != note or tick < before:
            if note >= 0:
                yield Visit(note, begin, end)
            note, begin = here, t * TICK
        end, before = t * TICK + TICK, tick
    if note >= 0:
        yield Visit(note, begin, end)


def onsets(frames: Frames, planned: PlannedNotes, passed: list[Visit], found: Followed) -> FloatArray:
    """Return when each note that was passed begins [s]: where its pitch takes over, where the sound rises."""
    own = _every_frame(found.likeness, frames.count)
    single = _every_frame(found.chromatic, frames.count)
    rising = np.zeros(frames.count)
    rising[2:-2] = np.maximum(0, frames.level[4:] - frames.level[:-4]) if frames.count > 4 else 0
    times = np.empty(len(passed))
    for j, visit in enumerate(passed):
        low, high = max(2, visit.begin - _REACH), min(frames.count - 3, visit.begin + _REACH + 1)
        if j:
            low = max(low, passed[j - 1].begin + 4)
        if j + 1 < len(passed):
            high = min(high, passed[j + 1].begin - 3)
        if high <= low + 2:
            times[j] = visit.begin * HOP
            continue
        frame = np.arange(low, high)
        score = -0.125 * ((frame - visit.begin) / 9.0) ** 2
        joined = j > 0 and passed[j - 1].note == visit.note - 1
        if joined and found.key[visit.note] != found.key[visit.note - 1]:
            score = score + 1.1 * _change(own, single, planned, found, visit.note, frame) + 0.5 * frames.flux[frame]
        elif joined:
            score = score + frames.flux[frame] + 0.12 * np.clip(rising[frame], 0, 12)
        else:
            above = np.clip(frames.level[frame - 2] - frames.floor - 10, 0, 30)
            score = score + 0.5 * frames.flux[frame] + 0.15 * np.clip(rising[frame], 0, 20) - 0.04 * above
        times[j] = _peak(frame, score) * HOP
    return np.maximum(times - LAG * frames.window / frames.rate, 0.0)


def _change(
    own: FloatArray, single: FloatArray, planned: PlannedNotes, found: Followed, note: int, frame: IntArray
) -> FloatArray:
    """Return how well the old pitch ends and the new one, or any other, begins at every frame."""
    old = planned.pitches[note - 1]
    others = [c for c in range(single.shape[1]) if c + found.lowest not in old]
    first, last = max(0, frame[0] - 4), min(len(own), frame[-1] + 5)
    taken = 0.35 * own[first:last, found.key[note]] + 0.65 * single[first:last][:, others].max(axis=1)
    sums = np.concatenate([[0.0], np.cumsum(taken - own[first:last, found.key[note - 1]])])
    return np.asarray(sums[-1] - 2 * sums[frame - first])


def _every_frame(values: FloatArray, count: int) -> FloatArray:
    """Return what is known at every step for every frame, straight between them."""
    where = np.arange(count) / TICK
    low = np.minimum(where.astype(int), len(values) - 1)
    high = np.minimum(low + 1, len(values) - 1)
    return np.asarray(values[low] + (where - low)[:, None] * (values[high] - values[low]))


def _peak(frame: IntArray, score: FloatArray) -> float:
    """Return the best frame, to a part of one."""
    k = int(score.argmax())
    at = float(frame[k])
    if 0 < k < len(score) - 1:
        bend = score[k - 1] - 2 * score[k] + score[k + 1]
        if bend < 0:
            at += 0.5 * float((score[k - 1] - score[k + 1]) / bend)
    return at
