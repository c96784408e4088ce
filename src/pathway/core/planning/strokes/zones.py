"""Where on the hair strokes are at home: as words ask, by their type, their bounce, or their level."""

import numpy as np

from pathway.core.arrays import FloatArray, Floats
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.rebound import homes_of, rebounds_of, room_of
from pathway.core.rig.instrument import Rig
from pathway.core.technique.notation import ZONES, Half

CENTRES = ((-9.0, 0.0, 4.0), (0.569, 0.508, 0.446))  # level [dB] → share of the hair
EDGES = (0.046, 0.954)
_AT_HOME = of_kinds(lambda kind: kind.bounces or kind.zone is not None)
TOWARDS_FROG, SLACK = 0.06, 0.03  # accents and chords lie nearer the frog; room about the preferred [m]


def zones_of(asked: StrokesAsked, levels: FloatArray, lengths: FloatArray, rig: Rig) -> FloatArray:
    """Return where the middles of K strokes are at home [m]: from and to, shape (K, 2).

    Args:
        asked: K strokes.
        levels: of each [dB]; shape (K,).
        lengths: that a player would take by habit [m]; shape (K,).
        rig: instrument, bow and hand.
    """
    hair, strokes, columns = rig.bow.hair, asked.strokes, asked.columns
    forward = columns.accented | columns.chord
    centres = np.interp(levels, *CENTRES) * hair - np.where(forward, TOWARDS_FROG, 0.0)
    half = lengths / 2 + SLACK
    zones = np.clip(np.stack([centres - half, centres + half], axis=1), EDGES[0] * hair, EDGES[1] * hair)
    bouncing = []
    for k in np.flatnonzero(_AT_HOME[columns.kind] | columns.halved).tolist():
        stroke, kind = strokes[k], strokes[k].kind
        if stroke.ask.half is not Half.ANY:
            zones[k] = np.multiply(ZONES[stroke.ask.half], hair)
        elif kind.bounces:
            bouncing.append(k)
        elif kind.zone is not None:
            zones[k] = np.multiply(kind.zone, hair)
            if kind.one_bow and (own := own_stretch(rig)):
                zones[k] = own
    if bouncing:
        some = asked.at(bouncing)
        zones[bouncing] = rebounding(some, rig, lengths[bouncing] * some.columns.bows / some.columns.moving)
    return zones


def rebounding(
    asked: StrokesAsked, rig: Rig, speed: Floats, contact: Floats | None = None, tilt: Floats | None = None
) -> FloatArray:
    """Return the zones [m] about the places where K bouncing strokes answer best; shape (K, 2).

    The arguments are those of ``rebounds_of``.
    """
    rates, kinds = asked.columns.rate, [stroke.kind for stroke in asked.strokes]
    homes = homes_of(rebounds_of(asked, rig, speed, contact, tilt), kinds, rates, rig)
    rooms = np.array([room_of(rate) for rate in rates])
    return np.stack([homes - rooms, homes + rooms], axis=1)


def own_stretch(rig: Rig) -> tuple[float, float] | None:
    """Return the hair [m] on which the player's staccato in one bow is reliable on either bow; None if not known."""
    known = [one.stretch for one in rig.staccato if one.stretch]
    return (min(low for low, _ in known), max(high for _, high in known)) if known else None
