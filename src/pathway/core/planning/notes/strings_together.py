"""Which strings sound in every note, with what weight: single strings, double stops, the strings of a chord."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pathway.core.arrays import FloatArray
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


@dataclass(frozen=True, slots=True)
class Sounded:
    """The strings of one note under the bow; the lead comes first."""

    voices: tuple[Voice, ...]
    contact: float  # [m]
    lane: int
    brightness: float  # of the lead [octaves]


def sounded(asked: Voices, tone: ToneOfVoices, placements: Sequence[Placement], rig: Rig) -> list[Sounded]:
    """Return the strings of every note.

    Args:
        asked: of the lead voices.
        tone: of the lead voices, were each alone.
        placements: of the notes.
        rig: instrument, bow and hand.
    """
    result = _alone(tone, placements)
    rows = [i for i, placed in enumerate(placements) if len(placed.strings) > 1]
    if rows:
        for i, found in zip(rows, _together(asked, tone, placements, rows, rig), strict=True):
            result[i] = found
    return result


def _alone(tone: ToneOfVoices, placements: Sequence[Placement]) -> list[Sounded]:
    """Return the leading string of every note, as if no other sounded."""
    windows = zip(tone.window.lower.tolist(), tone.window.upper.tolist(), strict=True)
    tones = zip(
        tone.beta.tolist(), tone.force.tolist(), windows, tone.place.tolist(), tone.level_db.tolist(), strict=True
    )
    rest = zip(tone.contact.tolist(), tone.lane.tolist(), tone.brightness.tolist(), strict=True)
    return [
        Sounded((_voice(placed, placed.leading, *sound),), *others)
        for placed, sound, others in zip(placements, tones, rest, strict=True)
    ]


def _voice(
    placed: Placement, n: int, beta: float, force: float, window: tuple[float, float], place: float, level: float
) -> Voice:
    string = placed.sounding[n]
    lead = n == placed.leading
    return Voice(
        placed.pitches[n], placed.strings[n], string.length, beta, force, window, place, level, lead, string.loops
    )


def stops_of(
    asked: Voices, tone: ToneOfVoices, placements: Sequence[Placement], rows: list[int], rig: Rig
) -> DoubleStops:
    """Return the lead of some notes and the string beside it as double stops."""
    pairs = [(placements[i].leading, placements[i].beside) for i in rows]
    leads = [placements[i].sounding[lead] for i, (lead, _) in zip(rows, pairs, strict=True)]
    seconds = [placements[i].sounding[other] for i, (_, other) in zip(rows, pairs, strict=True)]
    lengths = np.array([(one.length, other.length) for one, other in zip(leads, seconds, strict=True)])
    furthest = np.array([(one.furthest, other.furthest) for one, other in zip(leads, seconds, strict=True)])
    nearest, far = asked.ranges[rows].T
    most = np.minimum(HEAVIER * tone.force[rows], force_by_hand(asked, rig)[1, rows])
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


def _together(
    asked: Voices, tone: ToneOfVoices, placements: Sequence[Placement], rows: list[int], rig: Rig
) -> list[Sounded]:
    stops = stops_of(asked, tone, placements, rows, rig)
    found = share_weight(stops, rig.instrument.drive_mf)
    fixed = asked.forces[rows]
    if not np.isnan(fixed).all():
        found = _as_set(stops, found, fixed, rig)
    result = []
    for n, i in enumerate(rows):
        placed = placements[i]
        contact = float(found.contact[n])
        voices = [
            _voice(
                placed,
                string,
                contact / placed.sounding[string].length,
                float(found.force[n, side]),
                (float(found.window.lower[n, side]), float(found.window.upper[n, side])),
                float(found.place[n, side]),
                float(found.level_db[n, side]),
            )
            for side, string in enumerate((placed.leading, placed.beside))
        ]
        rest = [s for s in range(len(placed.strings)) if s not in (placed.leading, placed.beside)]
        voices += _others(placed, rest, contact, stops, n, rig)
        lead = voices[0]
        share = plain_shares(rig)[lead.string]
        bright = float(brightness_octaves(lead.force, lead.window[1], share))
        lane = int(lane_of(lead.beta, placed.lead.furthest))
        result.append(Sounded(tuple(voices), contact, lane, bright))
    return result


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
