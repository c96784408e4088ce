"""The bow's rebound under a stroke to be, on its own strings: where it answers, and how much hair a landing takes."""

from collections.abc import Sequence

import numpy as np

from pathway.core.arrays import FloatArray, Floats
from pathway.core.physics.bounce import HAND_LEADS_BELOW, Bounce
from pathway.core.physics.hair import hair_share
from pathway.core.physics.string import CLOSEST
from pathway.core.planning.strokes.asked import StrokesAsked
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.planning.strokes.placement import Placement
from pathway.core.rig.instrument import Rig
from pathway.core.technique.stroke_types import StrokeType
from pathway.core.technique.tilts import habitual_tilt

TILT_OF_KIND = of_kinds(lambda kind: kind.tilt_deg)  # [degrees]
LED_ROOM = 0.08  # about the place of a stroke off the string that the hand leads [m]
BOUNCE_ROOM = 0.03  # about the place where a bow off the string answers best [m]
FASTEST_THROW = 1.2  # at which a hand draws a bouncing bow while it touches [m/s]; our estimate


def rebounds_of(
    asked: StrokesAsked, rig: Rig, speed: Floats, contact: Floats | None = None, tilt: Floats | None = None
) -> Bounce:
    """Return the rebound of K strokes, in the lanes and at the tilts they will have.

    Args:
        asked: the strokes; two strings bear the bow together.
        rig: instrument, bow and hand.
        speed: of the hair while each sounds [m/s]; its lane follows from it.
        contact: bridge to hair [m], where the player set it.
        tilt: likewise [rad].
    """
    placed, own = [stroke.placements[0] for stroke in asked.strokes], rig.instrument.strings
    levels, notes, firsts = asked.columns.level, asked.notes, asked.columns.firsts
    if contact is None:
        wanted = speed * notes.heaviness[firsts] / (rig.instrument.drive_mf * 10 ** (levels / 20))
        contact = np.minimum(np.maximum(wanted, CLOSEST), notes.furthest[firsts]) * notes.length[firsts]
    if tilt is None:
        tilt = habitual_tilt(TILT_OF_KIND[asked.columns.kind], notes.colour[firsts], levels, rig.tilt_habit)
    touched = [_touched(one) for one in placed]
    contacts = np.broadcast_to(contact, len(placed)).tolist()
    stiffness = [
        sum(one.sounding[one.strings.index(string)].stiffness(at) for string in strings)
        for one, strings, at in zip(placed, touched, contacts, strict=True)
    ]
    shares = [sum(own[string].gravity_share for string in strings) / len(strings) for strings in touched]
    return Bounce(rig.bow, np.array(shares), np.array(stiffness), hair_share(tilt))


def _touched(placed: Placement) -> tuple[int, ...]:
    """Return the strings under the hair: the lead, and its neighbour in a double stop or chord."""
    if len(placed.strings) == 1:
        return placed.strings
    return placed.strings[placed.leading], placed.strings[placed.beside]


def homes_of(bounce: Bounce, kinds: Sequence[StrokeType], rates: Floats, rig: Rig) -> FloatArray:
    """Return where on the hair [m] K strokes off the string answer best, kept on the usable hair."""
    swinging = np.array([kind.key == "sautille" for kind in kinds])
    best = bounce.spiccato_place(rates)
    if swinging.any():
        best = np.where(swinging, bounce.sautille_place(rates), best)
    low, high = rig.usable
    return np.minimum(np.maximum(best, low + BOUNCE_ROOM), high - BOUNCE_ROOM)


def room_of(rate: float) -> float:
    """Return how far from its best place [m] a stroke off the string still does: thrown by hand it is less bound."""
    return LED_ROOM if rate < HAND_LEADS_BELOW else BOUNCE_ROOM


def longest_landings(asked: StrokesAsked, rig: Rig, speed: FloatArray) -> FloatArray:
    """Return the most hair [m] that a note of K strokes at some speeds [m/s] takes while the bow touches."""
    bounce = rebounds_of(asked, rig, speed)
    homes = homes_of(bounce, [stroke.kind for stroke in asked.strokes], asked.columns.rate, rig)
    return np.asarray(FASTEST_THROW * bounce.contact_time(homes))
