"""The bow's rebound under a stroke to be, on its own strings: where it answers, and how much hair a landing takes."""

import numpy as np

from pathway.core.physics.bounce import HAND_LEADS_BELOW, Bounce
from pathway.core.physics.hair import hair_share
from pathway.core.physics.string import CLOSEST
from pathway.core.planning.strokes.placement import Placement
from pathway.core.planning.strokes.stroke import Stroke
from pathway.core.rig.instrument import Rig
from pathway.core.technique.stroke_types import StrokeType
from pathway.core.technique.tilts import habitual_tilt

LED_ROOM = 0.08  # about the place of a stroke off the string that the hand leads [m]
BOUNCE_ROOM = 0.03  # about the place where a bow off the string answers best [m]
FASTEST_THROW = 1.2  # at which a hand draws a bouncing bow while it touches [m/s]; our estimate


def rebound_of(
    stroke: Stroke, rig: Rig, speed: float, contact: float | None = None, tilt: float | None = None
) -> Bounce:
    """Return the rebound of a stroke on its strings, in the lane and at the tilt it will have.

    Args:
        stroke: on its strings; two of them bear the bow together.
        rig: instrument, bow and hand.
        speed: of the hair while it sounds [m/s]; its lane follows from it.
        contact: bridge to hair [m], where the player set it.
        tilt: likewise [rad].
    """
    placed, level = stroke.placements[0], stroke.level_db
    if contact is None:
        drive = rig.instrument.drive_mf * 10 ** (level / 20)
        beta = min(max(speed * placed.lead.heaviness / drive, CLOSEST), placed.lead.furthest)
        contact = beta * placed.lead.length
    if tilt is None:
        tilt = float(habitual_tilt(stroke.kind.tilt_deg, stroke.ask.colour, level, rig.tilt_habit))
    return Bounce(
        rig.bow,
        float(np.mean([rig.instrument.strings[string].gravity_share for string in _touched(placed)])),
        sum(placed.sounding[placed.strings.index(string)].stiffness(contact) for string in _touched(placed)),
        float(hair_share(tilt)),
    )


def _touched(placed: Placement) -> tuple[int, ...]:
    """Return the strings under the hair: the lead, and its neighbour in a double stop or chord."""
    if len(placed.strings) == 1:
        return placed.strings
    return placed.strings[placed.leading], placed.strings[placed.beside]


def home_of(bounce: Bounce, kind: StrokeType, rate: float, rig: Rig) -> float:
    """Return where on the hair [m] a stroke off the string answers best, kept on the usable hair."""
    find = bounce.sautille_place if kind.key == "sautille" else bounce.spiccato_place
    low, high = rig.usable
    return min(max(find(rate), low + BOUNCE_ROOM), high - BOUNCE_ROOM)


def room_of(rate: float) -> float:
    """Return how far from its best place [m] a stroke off the string still does: thrown by hand it is less bound."""
    return LED_ROOM if rate < HAND_LEADS_BELOW else BOUNCE_ROOM


def longest_landing(bounce: Bounce, place: float) -> float:
    """Return the most hair [m] that a note takes while the bow touches at a place."""
    return FASTEST_THROW * float(bounce.contact_time(place))
