"""How notes off the string come back to it, each of its own string, lane and tilt: rate, flight, contact, dryness."""

from collections.abc import Sequence

import numpy as np

from pathway.core.physics.bounce import HAND_LEADS_BELOW, Bounce
from pathway.core.physics.hair import hair_share
from pathway.core.planning.note_plan import Landing, NotePlan
from pathway.core.planning.notes.hand import BowHand
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.notes.strings_together import Sounded
from pathway.core.rig.instrument import Rig
from pathway.core.technique.stroke_types import Contact


def landings(rows: Rows, strings: Sequence[Sounded], hand: BowHand) -> list[Landing | None]:
    """Return how every note lands; None where it stays on the string.

    Args:
        rows: N notes.
        strings: theirs.
        hand: what it does in them.
    """
    found: list[Landing | None] = [None] * len(strings)
    off = [i for i, s in enumerate(rows.segments) if s.kind.contact is not Contact.ON and s.rate > 0]
    if not off:
        return found
    rig, rates = rows.draft.rig, np.array([rows.segments[i].rate for i in off])
    own = rig.instrument.strings
    pairs = [strings[i].voices[:2] for i in off]
    contacts = [strings[i].contact for i in off]
    springs = [
        sum(_spring(own[voice.string].tension, voice.vibrating, contact) for voice in pair)
        for contact, pair in zip(contacts, pairs, strict=True)
    ]
    bounce = Bounce(
        rig.bow,
        np.array([np.mean([own[voice.string].gravity_share for voice in pair]) for pair in pairs]),
        np.array(springs),
        np.asarray(hair_share(hand.tilt[0][off])),
    )
    place = rows.places[1][off]
    columns = (
        bounce.rate(place),
        bounce.height(place, rates),
        bounce.contact_time(place),
        bounce.contact_share(place, rates),
        bounce.dryness(place, rates),
        bounce.landing_weight(place, rates),
    )
    for i, row in zip(off, zip(*(np.asarray(column).tolist() for column in columns), strict=True), strict=True):
        rate, height, touch, share, dry, weight = row
        found[i] = Landing(rate, height, touch, share, dry, weight, rows.segments[i].rate < HAND_LEADS_BELOW)
    return found


def _spring(tension: float, length: float, contact: float) -> float:
    """Return the stiffness of a string under the hair [N/m]."""
    return tension * (1 / contact + 1 / (length - contact))


def rebounds_under(notes: Sequence[NotePlan], rig: Rig) -> Bounce:
    """Return the rebound of the bow where N notes are played, at their lanes and tilts."""
    own, pairs = rig.instrument.strings, [note.voices[:2] for note in notes]
    return Bounce(
        rig.bow,
        np.array([sum(own[voice.string].gravity_share for voice in pair) / len(pair) for pair in pairs]),
        np.array(
            [
                sum(_spring(own[voice.string].tension, voice.vibrating, note.contact) for voice in pair)
                for note, pair in zip(notes, pairs, strict=True)
            ]
        ),
        np.asarray(hair_share(np.array([note.tilt for note in notes]))),
    )
