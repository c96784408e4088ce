"""From the plan to what bow and fingers do in time, string by string."""

import math
from collections.abc import Iterable, Sequence

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.string import WIDEST_LOOP
from pathway.core.planning.note_plan import NotePlan, Tone, Voice
from pathway.core.planning.plan import StrokePlan
from pathway.core.planning.wishes import Link
from pathway.core.rig.instrument import frequency
from pathway.core.sound.curves import RATE, Curves, SoundedNote, StringCurves
from pathway.core.sound.playable import Playable, Plucked
from pathway.core.sound.starts import start_of
from pathway.core.technique.endings import Exit
from pathway.core.technique.stroke_types import STROKE_TYPES, Contact, Start
from pathway.errors import PlanError

MOST_AT_ONCE, _LONGEST = 600.0, 120.0  # of a plan; of a note after them [s]
_LEAD_IN, _TAIL = 0.10, 0.80  # of silence before the first note, and for the last to ring [s]
_SLURRED = 0.024  # a crossing inside a slur takes so long [s]
FINGER = 0.008  # settles in [s]
_LIFT, _STOP, _SET = 0.020, 0.018, 0.010  # the hair leaves, the bow halts, the hair is set on the string [s]
FLIES_ON = 0.12  # the bow moves on after a note that it leaves [s]
LED = 0.09  # of a landing that the hand leads, at most [s]
_TURNS = 0.03  # strokes that end so shortly before the next go over into it [s]
RINGS_BARE = 0.985  # of a stopped string that nobody bows, a period [1]
PLUCK_PLACE, PLUCK_PULL, PLUCK_WEIGHT = 0.22, 0.012, 2.0  # β; time to pull [s]; over the force of a bowed tone [1]
HISS = 0.8  # of the whole ribbon
PULSE_OVER = 0.12  # an impulse is gone after [s]
VIBRATO = (5.4, 0.12, 0.25, 0.06)  # a second; begins after, grows for, stops before the end [s]
VIBRATED_FROM = 0.30  # shorter notes have none [s]


def gestures_of(
    plan: Playable, begin: float = 0.0, end: float = math.inf, *, helped: bool = True, vibrato: float = 10.0
) -> Curves:
    """Return the controls of the notes that begin in a span of a plan.

    Args:
        plan: what is played.
        begin: from here [s].
        end: up to here [s].
        helped: by a hand that sets its starts and listens.
        vibrato: width to each side [cents].

    Raises:
        PlanError: no note begins there, or too much is asked for at once.
    """
    sounding = [n for n in plan.notes if begin <= n.onset < end and (n.voices or n.id in plan.plucked)]
    if not sounding:
        raise PlanError("There is nothing to play there", advice="Choose bars with notes.")
    first = min(note.onset - (note.chord.before_beat if note.chord else 0.0) for note in sounding)
    if sounding[-1].onset - first > MOST_AT_ONCE:
        raise PlanError(
            f"{sounding[-1].onset - first:.0f} s are too long to be sounded at once: up to {MOST_AT_ONCE:.0f} are",
            advice="Take some bars of it.",
        )
    last = max(note.onset + max(note.duration, note.sounding) for note in sounding)
    last = min(last, max(first + MOST_AT_ONCE, sounding[-1].onset + _LONGEST))
    page = _Page(plan, first - _LEAD_IN, last + _TAIL, helped, vibrato)
    wanted = {note.id for note in sounding}
    strokes = [(stroke, tuple(plan.note[id_] for id_ in stroke.notes if id_ in wanted)) for stroke in plan.strokes]
    played = [(stroke, notes) for stroke, notes in strokes if notes]
    for k, (stroke, notes) in enumerate(played):
        following = played[k + 1] if k + 1 < len(played) else None
        page.bow(stroke, notes, following[0] if following else None, following[1][0].onset if following else None)
    for note in sounding:
        if not note.voices:
            page.pluck(note, plan.plucked[note.id])
    return page.curves()


class _Page:
    """The controls while they are written."""

    def __init__(self, plan: Playable, begin: float, end: float, helped: bool, vibrato: float) -> None:
        self.plan, self.begin, self.helped, self.vibrato = plan, begin, helped, vibrato
        instrument = plan.rig.instrument
        self.instrument, self.impedances = instrument, instrument.impedances
        self.open = [frequency(string.midi) for string in instrument.strings]
        count, strings = math.ceil((end - begin) * RATE) + 1, len(instrument.strings)
        self.times = np.arange(count) / RATE
        self.speed = np.zeros(count)
        self.force, self.pull, self.listens, self.hiss = np.zeros((4, strings, count))
        self.beta, self.pitch, self.nut = np.full((3, strings, count), np.nan)
        self.free = [0] * strings  # from this control on no note sounds on it
        self.notes: list[SoundedNote] = []

    def at(self, seconds: float) -> int:
        """Return the control at a time after the first [s], within those there are."""
        return min(max(0, round(seconds * RATE)), len(self.times))

    def bow(self, stroke: StrokePlan, notes: Sequence[NotePlan], after: StrokePlan | None, then: float | None) -> None:
        """Write one travel of the bow.

        Args:
            stroke: that is played.
            notes: of it, in order.
            after: the next stroke, if there is one.
            then: its first onset [s].
        """
        on, off = notes[0].onset - self.begin, notes[-1].onset + notes[-1].sounding - self.begin
        until = math.inf if then is None else then - self.begin
        turns = stroke.exit is Exit.JOINED and after is not None and until - off < _TURNS
        self._move(stroke, notes, on, off, turns)
        before: tuple[int, ...] = ()
        for j, note in enumerate(notes):
            following = notes[j + 1] if j + 1 < len(notes) else None
            touch = _Touch(self, stroke, note, before, following, until)
            for voice, start, stop in _spans(note, self.begin):
                touch.write(voice, start, stop)
            before = tuple(voice.string for voice in note.voices)
            onset = note.onset - self.begin
            self.notes.append(SoundedNote(note, onset, onset + note.sounding, first=j == 0))

    def _move(self, stroke: StrokePlan, notes: Sequence[NotePlan], on: float, off: float, turns: bool) -> None:
        """Write the speed of the bow in one travel."""
        kind = STROKE_TYPES[stroke.kind]
        before = max((note.chord.before_beat for note in notes[:1] if note.chord), default=0.0)
        on -= before
        flies = stroke.exit in {Exit.RINGING, Exit.LIFTED} or kind.contact is not Contact.ON
        a, b = self.at(on), self.at(off + FLIES_ON if flies else off)
        t = self.times[a:b]
        xs = [x - self.begin for note in notes for x in (note.onset, note.onset + note.duration - 1e-6)]
        speed = np.interp(t, xs, [v for note in notes for v in note.speed_ends])
        onset = notes[0].onset_of_tone
        rise = onset.rise if onset and onset.rise > 0 else 0.04
        if kind.start is Start.LAND:  # the bow turned in the air, and moves already
            speed *= np.clip((t - on + 0.03) / 0.04, 0, 1)
        else:
            speed *= np.clip((t - on) / rise, 0, 1)
        if not flies:
            fall = min(rise, 0.25 * (off - on), 0.10) if turns else min(_STOP, 0.3 * (off - on))
            speed *= np.clip((off - t) / fall, 0, 1)
        for note in notes:
            x = t - (note.onset - self.begin)
            inside = (x >= 0) & (x < note.duration)
            if kind.stops_inside and kind.contact is Contact.ON and len(notes) > 1:
                short = min(_STOP, 0.25 * note.sounding)
                speed[inside] *= np.clip(np.minimum(x / short, (note.sounding - x) / short), 0, 1)[inside]
            if note.bows > 1:
                turn = np.sin(np.pi * note.bows * x / note.sounding)
                speed[inside] *= np.clip(3 * turn, -1, 1)[inside]
            if kind.start is Start.PULSE and note.pulse_db > 0:
                speed[inside] *= 10 ** (note.pulse_db / 20 * np.clip(1 - x / PULSE_OVER, 0, 1))[inside]
        self.speed[a:b] = float(stroke.direction) * speed

    def sound(self, voice: Voice, a: int, b: int, beta: FloatArray | float) -> None:
        """Write pitch, place and end of a string from one control to another; the finger is there a little before."""
        i = voice.string
        early = max(0, a - round(0.02 * RATE))
        a0 = a if self.force[i, early:a].max(initial=0) > 0 else early
        self.pitch[i, a0 : b + 1] = frequency(voice.midi)
        self.beta[i, a0 : b + 1] = np.ravel(beta)[0]
        self.beta[i, a:b] = beta
        self.nut[i, a0 : b + 1] = (
            1 - 0.5 * self.impedances[i] / self.instrument.loss_resistance if self._stopped(voice) else 1.0
        )

    def _stopped(self, voice: Voice) -> bool:
        """Whether a finger holds the string down: not where it is open, or touched for a harmonic."""
        return voice.loops == 1 and voice.midi != self.instrument.strings[voice.string].midi

    def pluck(self, note: NotePlan, plucked: Iterable[Plucked]) -> None:
        """Write a note that a finger plucks."""
        on = self.at(note.onset - self.begin)
        for one in plucked:
            string = one.string
            a = max(0, on - round(PLUCK_PULL * RATE))
            b = self.at(note.onset - self.begin + note.duration)
            drive = self.instrument.drive_mf * math.sqrt(self.instrument.impedance_mean / self.impedances[string])
            most = PLUCK_WEIGHT * self.impedances[string] * drive * 10 ** (note.target_db / 20)
            self.pull[string, a:on] = most * np.linspace(0, 1, on - a)
            self.pitch[string, a : b + 1] = frequency(one.midi)
            self.beta[string, a : b + 1] = PLUCK_PLACE
            open_ = one.midi == self.instrument.strings[string].midi
            self.nut[string, a : b + 1] = 1.0 if open_ else RINGS_BARE
        self.notes.append(SoundedNote(note, on / RATE, on / RATE + note.sounding, first=True))

    def curves(self) -> Curves:
        """Return the controls as they are when all is written: where nothing is said a string stays as it was."""
        strings = [self._string(i) for i in range(len(self.open)) if np.isfinite(self.pitch[i]).any()]
        notes = tuple(sorted(self.notes, key=lambda sounded: sounded.on))
        return Curves(self.speed, tuple(strings), notes, self.begin, self._muted())

    def _string(self, i: int) -> StringCurves:
        said = np.isfinite(self.pitch[i])
        index = np.maximum.accumulate(np.where(said, np.arange(len(said)), -1))
        index[index < 0] = int(np.argmax(said))
        pitch, beta, nut = self.pitch[i][index], self.beta[i][index], self.nut[i][index]
        bare = (self.force[i] <= 0) & (self.pull[i] <= 0)
        nut[bare & (nut < 1)] = RINGS_BARE
        ring = self.instrument.strings[i].ring
        nut[bare & (nut >= 1)] = 10 ** (-1 / (ring * self.open[i]))
        force = _smooth(self.force[i], 5) * (self.force[i] > 0)
        width = 2 * round(FINGER * RATE) + 1
        pitch = np.exp(_smooth(np.log(pitch), width)) * 2 ** (self._vibrato(i) / 1200)
        return StringCurves(
            i, self.impedances[i], force, self.pull[i], _smooth(beta, width), pitch, nut, self.listens[i], self.hiss[i]
        )

    def _vibrato(self, i: int) -> FloatArray:
        """Return how far the pitch is from its middle [cents]."""
        found = np.zeros(len(self.times))
        rate, after, grows, stops = VIBRATO
        for sounded in self.notes if self.vibrato else ():
            for voice in sounded.note.voices:
                if voice.string == i and self._stopped(voice) and sounded.note.duration > VIBRATED_FROM:
                    a, b = self.at(sounded.on), self.at(sounded.off)
                    x = self.times[: b - a]
                    swell = np.clip((x - after) / grows, 0, 1) * np.clip((sounded.off - sounded.on - x) / stops, 0, 1)
                    found[a:b] = self.vibrato * np.sin(2 * np.pi * rate * x) * swell
        return found

    def _muted(self) -> FloatArray:
        """Return 1 where a mute is on the bridge."""
        found = np.zeros(len(self.times))
        for on, off in self.plan.muted:
            found[self.at(on - self.begin) : self.at(off - self.begin)] = 1.0
        return found


class _Touch:
    """One note while its weight is written."""

    def __init__(
        self,
        page: _Page,
        stroke: StrokePlan,
        note: NotePlan,
        before: tuple[int, ...],
        following: NotePlan | None,
        until: float,
    ) -> None:
        self.page, self.stroke, self.note, self.before, self.until = page, stroke, note, before, until
        self.kind = STROKE_TYPES[stroke.kind]
        self.last = following is None
        self.next_strings = {voice.string for voice in following.voices} if following else set()
        self.slurred_on = following is not None and following.onset - note.onset - note.sounding < 0.02
        short = self.kind.hair_a_note is not None  # a whole bow may come from the air, and then stays
        self.lands = short and self.kind.start is Start.LAND and note.landing is not None and note.landing.height > 0

    def write(self, voice: Voice, start: float, stop: float) -> None:
        """Write what one string gets of the note from a time to another [s]."""
        page, note, i = self.page, self.note, voice.string
        a, b = page.at(start), page.at(stop)
        if b <= a:
            return
        x = np.arange(b - a) / RATE
        page.sound(voice, a, b, np.minimum(self._place(voice, x), WIDEST_LOOP))
        weight = np.interp(x / max(stop - start, 1e-3), (0, 0.5, 1), _share_of(note)) * voice.force
        weight = self._landed(x, weight) if self.lands else self._laid(voice, x, weight, start)
        page.force[i, a:b] = weight
        page.free[i] = b
        place = voice.place
        if page.helped and note.tone is Tone.CORE and 0 < place < 1:
            page.listens[i, a:b] = 1.0
        page.hiss[i, a:b] = HISS * (note.hair_width / page.plan.rig.bow.ribbon if note.hair_width else 1.0)
        self._leave(i, b, float(weight[-1]), stop)

    def _place(self, voice: Voice, x: FloatArray) -> FloatArray:
        """Return β as it goes from the note's beginning to its end, that of the loop in a harmonic."""
        first, last = self.note.contact_ends
        if not self.note.contact or not first or not last:
            return np.full(len(x), voice.beta * voice.loops)
        along = np.interp(x / max(self.note.sounding, 1e-3), (0, 1), (first, last)) / self.note.contact
        return np.asarray(voice.beta * voice.loops * along)

    def _landed(self, x: FloatArray, weight: FloatArray) -> FloatArray:
        """Return the weight of a note that lands and leaves: half an oscillation of the bow on the string."""
        landing = self.note.landing
        assert landing is not None
        touch = min(LED if landing.led else max(landing.contact, 0.03), 0.6 * self.note.duration)
        swing = np.sin(np.pi * np.clip(x / touch, 0, 1))
        return np.asarray(np.where(x < touch, 0.5 * np.pi * weight * swing, 0.0))

    def _laid(self, voice: Voice, x: FloatArray, weight: FloatArray, start: float) -> FloatArray:
        """Return the weight of a note on the string: how it is set, and how it is let go."""
        page, note = self.page, self.note
        inside, same = bool(self.before), voice.string in self.before
        if note.load is not None:
            weight = self._caught(voice, x, weight, start)
        elif page.helped and not same:
            weight = weight + self._set(voice, x, float(weight[0]))
        if inside and not same:
            weight = weight * np.clip(x / _SLURRED, 0, 1)
        elif not inside and (self.stroke.entry in {Link.RETAKE, Link.FIRST} or self.stroke.from_air):
            weight = weight * np.clip(0.3 + 0.7 * x / _SET, 0, 1)
        if self.last and self.stroke.exit in {Exit.RINGING, Exit.LIFTED}:
            weight = weight * np.clip((x[-1] - x) / _LIFT, 0, 1)
        return weight

    def _set(self, voice: Voice, x: FloatArray, own: float) -> FloatArray:
        """Return what a competent hand adds at the start."""
        start = start_of(self.note, voice, self.page.impedances[voice.string], own)
        if start is None:
            return np.zeros(len(x))
        return (start.weight - own) * 0.5 * (1 + np.cos(np.pi * np.clip((x - start.hold) / start.fade, 0, 1)))

    def _caught(self, voice: Voice, x: FloatArray, weight: FloatArray, start: float) -> FloatArray:
        """Return the weight of a caught start, and let it rest on the string before."""
        load = self.note.load
        assert load is not None
        page, share = self.page, voice.force / max(self.note.force, 1e-9)
        resting = share * sum(load.resting) / 2
        b = page.at(start)
        a = min(max(page.at(start - load.time), page.free[voice.string]), b)
        page.force[voice.string, a:b] = np.maximum(page.force[voice.string, a:b], resting)
        page.sound(voice, a, b, voice.beta * voice.loops)
        gone = max(load.gone, 2 / RATE)
        return np.asarray(weight + np.maximum(0, resting - weight) * np.clip(1 - x / gone, 0, 1))

    def _leave(self, i: int, b: int, weight: float, stop: float) -> None:
        """Write what the string still gets after the note; one that a chord has left before gets nothing."""
        page = self.page
        if stop < self.note.onset - page.begin + self.note.sounding - 1e-6:
            return
        if self.slurred_on and i not in self.next_strings and not self.lands:
            c = min(len(page.times), b + round(_SLURRED * RATE))
            page.force[i, b:c] = weight * np.linspace(1, 0, c - b)
        elif self.stroke.exit is Exit.STOPPED or (not self.last and self.kind.stops_inside and not self.lands):
            rests = min(stop + 0.5, self.until if self.last else self.note.onset - page.begin + self.note.duration)
            page.force[i, b : page.at(rests)] = weight  # the bow stays on the string


def _share_of(note: NotePlan) -> tuple[float, float, float]:
    """Return the weight as a note starts, is steady and ends, in parts of the steady one; an accent in it."""
    start, steady, end = note.force_at
    return (start / steady, 1.0, end / steady) if steady > 0 else (1.0, 1.0, 1.0)


def _spans(note: NotePlan, begin: float) -> Iterable[tuple[Voice, float, float]]:
    """Yield the voices of a note, each with when the bow is on its string [s]; those of a chord piece by piece."""
    on, off = note.onset - begin, note.onset + note.sounding - begin
    if note.chord is None:
        for voice in note.voices:
            yield voice, on, off
        return
    at = on - note.chord.before_beat
    scale = (off - at) / sum(piece.time for piece in note.chord.pieces)
    times = [at]
    for piece in note.chord.pieces:
        times.append(times[-1] + piece.time * scale)
    for voice in note.voices:
        run: tuple[float, float] | None = None
        for piece, start, stop in zip(note.chord.pieces, times[:-1], times[1:], strict=True):
            if voice.string in piece.strings:
                run = (run[0] if run else start, stop)
            elif run:
                yield voice, *run
                run = None
        if run:
            yield voice, *run


def _smooth(values: FloatArray, width: int) -> FloatArray:
    """Return values as their mean over a few neighbours; shape stays."""
    padded = np.pad(values, (width // 2, width // 2), mode="edge")
    sums = np.cumsum(np.concatenate([[0.0], padded]))
    return np.asarray((sums[width:] - sums[:-width]) / width)
