"""A player who is human, in a room, before a microphone; with faults on wish, and the truth about them. By a seed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np
from msgspec import structs

from pathway.core.arrays import FloatArray
from pathway.core.planning.note_plan import NotePlan, Tone
from pathway.core.planning.plan import StrokePlan
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import frequency
from pathway.core.sound import SAMPLES, Bowed, Manner, Playable, Sound, SoundedNote, heard_in, render
from pathway.core.sound.otherwise import faster, with_place
from pathway.core.takes.score import bowed_in

_AIRY, _PRESSED, _LATE, _LOUD, _WRONG, _THIN = -0.30, 1.25, 0.13, 6.0, 2, 0.4
_CALM, _EDGE = 0.30, 0.82  # q between which a good note stays
_LEAD, _PAUSE = 0.6, 0.9  # of silence before it begins, and before it goes back [s]
LOUDNESS = 0.09  # of a take [of full scale]
RUBATO = (7.3, 3.1)  # in how many seconds the tempo goes to and fro
_WINDOW, _LEAST_BLOCKS, _TEN_DB_UNDER = 0.005, 8, 0.32  # in which a level is taken [s]
_STEADY, _PERIODS = 0.1, 3  # slips so near to a period apart, and so many in a row, are a pitch
CLICK_HZ, CLICK_LONG = 1000.0, 0.03


class Fault(StrEnum):
    """What can be planted on a note."""

    AIRY = "airy"
    PRESSED = "pressed"
    LATE = "late"
    LOUD = "loud"
    WRONG = "wrong"
    THIN = "thin"
    MISSED = "missed"


@dataclass(frozen=True)
class Human:
    """How a player scatters, and where the microphone stands."""

    timing: float = 0.012  # [s]
    level: float = 1.2  # [dB]
    cents: float = 6.0
    tempo: float = 1.0  # over the plan's
    rubato: float = 0.04
    drift: float = 0.0  # of the tempo from beginning to end
    weak_up: float = 0.0  # up-bows louder than down-bows by [dB]
    strings: Mapping[int, float] = field(default_factory=dict)  # that answer louder, by [dB]
    weak_accents: float = 0.0  # accents on up-bows louder than those on down-bows by [dB]
    faults: Mapping[str, Fault] = field(default_factory=dict)  # by note
    goes_back: tuple[int, int] | None = None  # stops before one note, and begins again at an earlier one
    click_db: float | None = None  # of the click that bleeds in
    beat: float = 0.75  # of that click [s]
    room_db: float = -58.0
    small_microphone: bool = True
    wet: float = 0.3


@dataclass(frozen=True, slots=True)
class Truth:
    """One note as it was really played."""

    id: str
    onset: float  # in the recording [s]
    heard: float  # when its string has come within 10 dB of its own level, or on its pitch [s]
    clear: bool  # the string did what it should, whatever the hand did
    fault: Fault | None
    direction: Direction
    gain: float  # [dB]


@dataclass(frozen=True)
class PlayedTake:
    """A recording and the truth about it; SAMPLES a second."""

    samples: FloatArray
    truth: tuple[Truth, ...]


def play(
    plan: Playable, human: Human | None = None, seed: int = 1, begin: float = 0.0, end: float = np.inf
) -> PlayedTake:
    """Return a plan as a human may play it.

    Args:
        plan: that is played.
        human: how.
        seed: the same seed plays the same.
        begin: of the bars [s].
        end: of them [s].
    """
    human, chance = human or Human(), np.random.default_rng(seed)
    notes, whole = bowed_in(plan, begin, end), {stroke.id: stroke for stroke in plan.strokes}
    order = list(range(len(notes)))
    if human.goes_back:
        stop, back = human.goes_back
        order = [*range(stop), *range(back, len(notes))]
    warp = _Warp(notes, human, chance)
    scatter = [(chance.normal(0, human.level), chance.normal(0, human.cents), chance.normal(0, 0.06)) for _ in notes]
    played, strokes, truth, shift, last = list[NotePlan](), dict[str, StrokePlan](), list[Truth](), 0.0, -1.0
    for j, k in enumerate(order):
        note, stroke = notes[k], whole[notes[k].stroke or ""]
        if human.goes_back and j == human.goes_back[0]:
            shift = last + _PAUSE - warp.at(note.onset)
        onset = max(
            warp.at(note.onset) + shift + chance.normal(0, human.timing), played[-1].onset + 0.04 if played else 0
        )
        last = warp.at(note.onset + note.duration) + shift
        again = f"-{j}" if human.goes_back and j >= human.goes_back[0] else ""
        gain, cents, place = scatter[k]
        gain += human.strings.get(note.lead.string, 0.0)
        if stroke.direction is Direction.UP:
            gain += human.weak_up + (human.weak_accents if note.pulse_db > 0 else 0.0)
        fault = human.faults.get(note.id)
        made = _as_played(note, plan, onset, max(last - onset, 0.05), gain, cents, place, fault)
        if not fault or fault is not Fault.MISSED:
            played.append(structs.replace(made, id=note.id + again, stroke=stroke.id + again))
        truth.append(Truth(note.id, onset, onset, clear=True, fault=fault, direction=stroke.direction, gain=gain))
    played = _fitted(played)
    for note in played:
        stroke_id = note.stroke or ""
        like = whole[stroke_id if stroke_id in whole else stroke_id.rsplit("-", 1)[0]]
        kept = strokes.get(stroke_id)
        strokes[stroke_id] = structs.replace(like, id=stroke_id, notes=(*(kept.notes if kept else ()), note.id))
    sound = render(Playable(plan.rig, tuple(strokes.values()), tuple(played), {}), manner=Manner(wet=human.wet))
    samples = _recorded(sound.samples, human, chance)
    moved = _LEAD - sound.begin
    heard = _heard(sound)
    rough = _rough(sound)
    times = [(one, heard.get(one.onset, one.onset)) for one in truth]
    told = [replace(one, onset=one.onset + moved, heard=at + moved, clear=one.onset not in rough) for one, at in times]
    return PlayedTake(samples, tuple(told))


def _heard(sound: Sound) -> dict[float, float]:
    """Return when each note can be heard to begin, by when it was begun [s].

    A new bow: when its string has come near its own level; inside a slur: when it has settled on the new pitch.
    """
    strings = {curves.string: bowed for curves, bowed in zip(sound.curves.strings, sound.strings, strict=True)}
    step, found = round(_WINDOW * SAMPLES), {}
    for one in sound.curves.notes:
        begun, string = one.on + sound.begin, strings[one.note.lead.string]
        if not one.first:
            found[one.note.onset] = begun + _settled(string, one)
            continue
        alone = string.sound[round(one.on * SAMPLES) : round(one.off * SAMPLES)]
        blocks = alone[: len(alone) // step * step].reshape(-1, step)
        if len(blocks) < _LEAST_BLOCKS:
            continue
        level = np.sqrt((blocks**2).mean(axis=1))
        steady = float(np.median(level[len(level) // 3 :]))
        up = np.flatnonzero(level > _TEN_DB_UNDER * steady)
        found[one.note.onset] = begun + (float(up[0]) * _WINDOW if len(up) else 0.0)
    return found


def _settled(string: Bowed, one: SoundedNote) -> float:
    """Return how long after its beginning a string slips in the period of a note [s]."""
    slips = string.slips[(string.slips[:, 0] >= one.on) & (string.slips[:, 0] < one.off), 0]
    steady = np.abs(np.diff(slips) * frequency(one.note.lead.midi) - 1) < _STEADY
    runs = np.convolve(steady, np.ones(_PERIODS), "valid") if len(steady) >= _PERIODS else np.zeros(0)
    first = np.flatnonzero(runs > _PERIODS - 1)
    return float(slips[first[0]] - one.on) if len(first) else 0.0


def _rough(sound: Sound) -> set[float]:
    """Return when notes began whose string did not come to a clear tone, by when they were begun [s]."""
    strings = {curves.string: bowed for curves, bowed in zip(sound.curves.strings, sound.strings, strict=True)}
    found = set()
    for one in sound.curves.notes:
        lead = one.note.lead
        heard = heard_in(strings[lead.string], one.on, one.off, frequency(lead.midi), one.note.speed)
        if heard is not None and heard.tone is not Tone.CORE:
            found.add(one.note.onset)
    return found


class _Warp:
    """The time in which it is played: another tempo, a drift, some rubato."""

    def __init__(self, notes: Sequence[NotePlan], human: Human, chance: np.random.Generator) -> None:
        self._begin = notes[0].onset
        long = notes[-1].onset + notes[-1].duration - self._begin
        self._plan = np.linspace(0, max(long, 1e-3), 2000)
        slow, quick = chance.uniform(0, 2 * np.pi, 2)
        sway = np.sin(2 * np.pi * self._plan / RUBATO[0] + slow) + 0.6 * np.sin(
            2 * np.pi * self._plan / RUBATO[1] + quick
        )
        rate = human.tempo * (1 + human.drift * self._plan / max(long, 1e-3) + human.rubato * sway)
        steps = np.diff(self._plan) / (0.5 * (rate[1:] + rate[:-1]))
        self._real = np.concatenate([[0.0], np.cumsum(steps)])

    def at(self, time: float) -> float:
        """Return when a time of the plan comes [s]."""
        return float(np.interp(time - self._begin, self._plan, self._real))


def _as_played(
    note: NotePlan,
    plan: Playable,
    onset: float,
    long: float,
    gain: float,
    cents: float,
    place: float,
    fault: Fault | None,
) -> NotePlan:
    """Return a note as it comes out of the hand."""
    late = _LATE if fault is Fault.LATE else 0.0
    share = min(1.0, note.sounding / note.duration)
    made = faster(note, 10 ** ((gain + (_LOUD if fault is Fault.LOUD else 0.0)) / 20))
    middle = {Fault.AIRY: _AIRY, Fault.PRESSED: _PRESSED}.get(fault) if fault else None
    made = with_place(made, middle if middle is not None else float(np.clip(made.lead.place + place, _CALM, _EDGE)))
    open_strings = [string.midi for string in plan.rig.instrument.strings]
    by = cents / 100 + (_WRONG if fault is Fault.WRONG else 0.0)
    voices = tuple(
        voice
        if voice.midi == open_strings[voice.string] and fault is not Fault.WRONG
        else structs.replace(voice, midi=voice.midi + by)
        for voice in made.voices
    )
    first, end = made.speed_ends
    ends = (first, end * _THIN) if fault is Fault.THIN else (first, end)
    long = max(long - late, 0.05)
    return structs.replace(
        made, onset=onset + late, duration=long, sounding=long * share, voices=voices, speed_ends=ends, chord=None
    )


def _fitted(played: Sequence[NotePlan]) -> list[NotePlan]:
    """Return notes none of which sounds into the next one of its bow."""
    found = []
    for note, after in zip(played, [*played[1:], None], strict=True):
        room = after.onset - note.onset if after is not None else note.duration
        joined = after is not None and abs(after.onset - note.onset - note.duration) < 0.25
        long = max(room, 0.05) if joined else min(note.duration, max(room, 0.05))
        share = note.sounding / note.duration
        found.append(structs.replace(note, duration=long, sounding=long * share))
    return found


def _recorded(dry: FloatArray, human: Human, chance: np.random.Generator) -> FloatArray:
    """Return a sound as a microphone in a room takes it, in 16 bits."""
    sound = np.concatenate([np.zeros(round(_LEAD * SAMPLES)), dry])
    loud = np.abs(sound) > 1e-4
    sound = sound * LOUDNESS / max(float(np.sqrt(np.mean(sound[loud] ** 2))) if loud.any() else 1.0, 1e-9)
    count = len(sound)
    size = 1 << count.bit_length()  # of a transform that is quick whatever the count
    hz = np.fft.rfftfreq(size, 1 / SAMPLES)
    hiss = np.fft.rfft(chance.normal(0, 1, count), size)
    noise = np.fft.irfft(hiss / np.sqrt(1 + (hz / 400) ** 2) + 0.15 * hiss, size)[:count]
    sound = sound + noise / noise.std() * 10 ** (human.room_db / 20)
    if human.click_db is not None:
        at = np.arange(round(CLICK_LONG * SAMPLES)) / SAMPLES
        click = 10 ** (human.click_db / 20) * np.sin(2 * np.pi * CLICK_HZ * at) * np.exp(-at / 0.008)
        for time in np.arange(_LEAD % human.beat, count / SAMPLES - CLICK_LONG, human.beat):
            first = round(time * SAMPLES)
            sound[first : first + len(click)] += click[: count - first]
    if human.small_microphone:
        lows, lift = (
            (1j * hz / 120) / (1 + 1j * hz / 120),
            0.5 * np.exp(-0.5 * (np.log2(np.maximum(hz, 1) / 4200) / 0.6) ** 2),
        )
        heard = np.fft.rfft(sound, size) * lows * (1 + lift) / np.sqrt(1 + (hz / 14000) ** 4)
        sound = np.fft.irfft(heard, size)[:count]
    return np.asarray(np.round(np.clip(sound, -1, 1) * 32767) / 32767)
