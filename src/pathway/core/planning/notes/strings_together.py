"""Which strings sound in every note, with what weight: single strings, double stops, the strings of a chord."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import FloatArray, IntArray
from pathway.core.physics.string import (
    CLOSEST,
    ForceWindow,
    SoundingString,
    StringRow,
    brightness_octaves,
    force_window,
    lane_of,
    level_db,
)
from pathway.core.planning.note_plan import Voice
from pathway.core.planning.notes.tone import ToneOfVoices, Voices, force_by_hand, plain_shares, wanted_place
from pathway.core.planning.strokes.placement import Placement
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import Chord
from pathway.core.technique.double_stops import (
    BEYOND_COMFORT,
    HEAVIER,
    LIGHTEST,
    UNDER_LEAD,
    DoubleStops,
    Shared,
    share_at,
    share_weight,
)


@dataclass(frozen=True)
class Strings:
    """What sounds in N notes: of each the lead, in arrays of shape (N,), and the other strings of those that have some.

    The lead comes first.
    """

    placed: Sequence[Placement]
    beta: FloatArray
    contact: FloatArray  # [m]
    lane: IntArray
    force: FloatArray  # [N]
    lower: FloatArray  # least and greatest force [N]
    upper: FloatArray
    place: FloatArray  # q in the window
    level_db: FloatArray
    brightness: FloatArray  # [octaves]
    others: Mapping[int, tuple[Voice, ...]]

    def voices(self, i: int) -> tuple[Voice, ...]:
        """Return the strings of a note."""
        placed, window = self.placed[i], (float(self.lower[i]), float(self.upper[i]))
        numbers = float(self.beta[i]), float(self.force[i]), window, float(self.place[i]), float(self.level_db[i])
        return (_voice(placed, placed.leading, *numbers), *self.others.get(i, ()))

    def pressed(self, chords: Mapping[int, Chord]) -> FloatArray:
        """Return the whole force of every note [N]; of a chord in pieces, that of its last one."""
        force = self.force.copy()
        for i in self.others:
            last = chords[i].pieces[-1].strings if i in chords else self.placed[i].strings
            force[i] = sum(voice.force for voice in self.voices(i) if voice.string in last)
        return force


def sounding(asked: Voices, tone: ToneOfVoices, placements: Sequence[Placement], rig: Rig) -> Strings:
    """Return the strings of every note.

    Args:
        asked: of the lead voices.
        tone: of the lead voices, were each alone.
        placements: of the notes.
        rig: instrument, bow and hand.
    """
    window = tone.window
    alone = Strings(
        placed=placements,
        beta=tone.beta,
        contact=tone.contact,
        lane=tone.lane,
        force=tone.force,
        lower=window.lower,
        upper=window.upper,
        place=tone.place,
        level_db=tone.level_db,
        brightness=tone.brightness,
        others={},
    )
    rows = [i for i, placed in enumerate(placements) if len(placed.strings) > 1]
    return _together(asked, alone, rows, rig) if rows else alone


def _voice(
    placed: Placement, n: int, beta: float, force: float, window: tuple[float, float], place: float, level: float
) -> Voice:
    string = placed.sounding[n]
    lead = n == placed.leading
    return Voice(
        placed.pitches[n],
        placed.strings[n],
        string.length,
        beta,
        force,
        window,
        place,
        level,
        lead,
        string.loops,
        placed.fingers[n],
    )


def _stops_of(asked: Voices, alone: Strings, rows: list[int], rig: Rig) -> DoubleStops:
    """Return the lead of some notes and the string beside it as double stops."""
    placements = alone.placed
    pairs = [(placements[i].leading, placements[i].beside) for i in rows]
    leads = [placements[i].sounding[lead] for i, (lead, _) in zip(rows, pairs, strict=True)]
    seconds = [placements[i].sounding[other] for i, (_, other) in zip(rows, pairs, strict=True)]
    lengths = np.array([(one.length, other.length) for one, other in zip(leads, seconds, strict=True)])
    furthest = np.array([(one.furthest, other.furthest) for one, other in zip(leads, seconds, strict=True)])
    nearest, far = asked.ranges[rows].T
    most = np.minimum(HEAVIER * alone.force[rows], force_by_hand(asked, rig)[1, rows])
    return DoubleStops(
        leads=leads,
        seconds=seconds,
        speed=asked.speeds[rows],
        plain_speed=asked.speeds[rows] / asked.factors[rows],
        target=asked.targets[rows],
        place=wanted_place(asked.targets[rows], asked.colours[1, rows], rig),
        most=np.minimum(most, BEYOND_COMFORT * rig.instrument.comfort_force),
        nearest=np.maximum(nearest * lengths[:, 0], CLOSEST * lengths[:, 1]),
        furthest=np.minimum(far * lengths[:, 0], np.maximum(furthest[:, 1], far) * lengths[:, 1]),
    )


def _together(asked: Voices, alone: Strings, rows: list[int], rig: Rig) -> Strings:
    """Return the strings of notes, some of which have several."""
    stops = _stops_of(asked, alone, rows, rig)
    found = share_weight(stops, rig.instrument.drive_mf)
    fixed = asked.forces[rows]
    if not np.isnan(fixed).all():
        found = _as_set(stops, found, fixed, rig)
    lead = asked.strings.shaped(lambda array: array[rows])
    beta, force, upper = found.contact / lead.length, found.force[:, 0], found.window.upper[:, 0]
    leads = {
        "beta": beta,
        "contact": found.contact,
        "lane": lane_of(beta, lead.furthest),
        "force": force,
        "lower": found.window.lower[:, 0],
        "upper": upper,
        "place": found.place[:, 0],
        "level_db": found.level_db[:, 0],
        "brightness": brightness_octaves(force, upper, plain_shares(rig)[asked.indices[rows]]),
    }
    changed = {name: getattr(alone, name).copy() for name in leads}
    for name, values in leads.items():
        changed[name][rows] = values
    others = {i: _beside(alone.placed[i], found, stops, n, rig) for n, i in enumerate(rows)}
    return replace(alone, **changed, others=others)


def _beside(placed: Placement, found: Shared, stops: DoubleStops, n: int, rig: Rig) -> tuple[Voice, ...]:
    """Return the strings of a note that sound with its lead, or before or after it."""
    contact, window, second = float(found.contact[n]), found.window, placed.beside
    voice = _voice(
        placed,
        second,
        contact / placed.sounding[second].length,
        float(found.force[n, 1]),
        (float(window.lower[n, 1]), float(window.upper[n, 1])),
        float(found.place[n, 1]),
        float(found.level_db[n, 1]),
    )
    rest = [s for s in range(len(placed.strings)) if s not in (placed.leading, second)]
    return (voice, *_others(placed, rest, contact, stops, n, rig))


def _as_set(stops: DoubleStops, found: Shared, fixed: FloatArray, rig: Rig) -> Shared:
    """Return double stops with the weight the player set on some of them, shared as before."""
    most = np.where(np.isnan(fixed), found.force.sum(axis=1), fixed)
    return share_at(replace(stops, most=most), rig.instrument.drive_mf, found.contact, found.share)


def _others(placed: Placement, rest: list[int], contact: float, stops: DoubleStops, n: int, rig: Rig) -> list[Voice]:
    """Return the strings of a chord that sound before or after the pair with the lead, at the same place."""
    if not rest:
        return []
    strings: list[SoundingString] = [placed.sounding[s] for s in rest]
    row = StringRow.of(strings)
    beta = np.minimum(contact / row.length, 0.49)
    speed, plain = float(stops.speed[n]), float(stops.plain_speed[n])
    window: ForceWindow = force_window(speed, beta, row)
    wanted = max(float(stops.place[n]) - UNDER_LEAD, LIGHTEST)
    force: FloatArray = np.minimum(window.force(wanted), stops.most[n] / max(len(rest), 2))
    place, level = window.place(force), level_db(plain / beta * row.heaviness, rig.instrument.drive_mf)
    return [
        _voice(
            placed,
            s,
            float(beta[j]),
            float(force[j]),
            (float(window.lower[j]), float(window.upper[j])),
            float(place[j]),
            float(level[j]),
        )
        for j, s in enumerate(rest)
    ]
