"""Where on the hair strokes are at home: as words ask, by their type, their bounce, or their level."""

from collections.abc import Sequence

import numpy as np

from pathway.core.arrays import FloatArray
from pathway.core.physics.bounce import HAND_LEADS_BELOW, Bounce
from pathway.core.planning.strokes.segments import Segment
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.rig.instrument import Rig
from pathway.core.technique.notation import ZONES, Half

CENTRES = ((-9.0, 0.0, 4.0), (0.569, 0.508, 0.446))  # level [dB] → share of the hair
EDGES = (0.046, 0.954)
TOWARDS_FROG, SLACK = 0.06, 0.03  # accents and chords lie nearer the frog; room about the preferred [m]
LED_ROOM = 0.08  # about the place of a stroke off the string that the hand leads [m]
BOUNCE_ROOM = 0.03  # about the place where a bow off the string answers best [m]


def zones_of(strokes: Sequence[Stroke], levels: FloatArray, lengths: FloatArray, rig: Rig) -> FloatArray:
    """Return where the middles of K strokes are at home [m]: from and to, shape (K, 2).

    Args:
        strokes: on their strings.
        levels: of each [dB]; shape (K,).
        lengths: that a player would take by habit [m]; shape (K,).
        rig: instrument, bow and hand.
    """
    hair = rig.bow.hair
    forward = np.array([stroke.accented or stroke.is_chord for stroke in strokes])
    centres = np.interp(levels, *CENTRES) * hair - np.where(forward, TOWARDS_FROG, 0.0)
    half = lengths / 2 + SLACK
    zones = np.clip(np.stack([centres - half, centres + half], axis=1), EDGES[0] * hair, EDGES[1] * hair)
    for k, stroke in enumerate(strokes):
        kind = stroke.kind
        if stroke.ask.half is not Half.ANY:
            zones[k] = np.multiply(ZONES[stroke.ask.half], hair)
        elif kind.bounces:
            middle, room = bounce_place(stroke, rig), bounce_room(stroke)
            zones[k] = middle - room, middle + room
        elif kind.zone is not None:
            zones[k] = np.multiply(kind.zone, hair)
    return zones


def bounce_room(segment: Segment) -> float:
    """Return how far from its best place [m] a stroke off the string still does: thrown by hand it is less bound."""
    return LED_ROOM if segment.rate < HAND_LEADS_BELOW else BOUNCE_ROOM


def bounce_place(stroke: Stroke, rig: Rig) -> float:
    """Return where on the hair [m] a stroke off the string answers best, kept on the usable hair."""
    share = rig.instrument.strings[stroke.placements[0].lead_string].gravity_share
    bounce = Bounce(rig.bow, share)
    find = bounce.sautille_place if stroke.kind.key == "sautille" else bounce.spiccato_place
    low, high = rig.usable
    return min(max(find(stroke.rate), low + BOUNCE_ROOM), high - BOUNCE_ROOM)
