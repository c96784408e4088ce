"""How notes off the string come back to it, each of its own string, lane and tilt: rate, flight, contact, dryness."""

from collections.abc import Sequence

import numpy as np

from pathway.core.physics.bounce import HAND_LEADS_BELOW, Bounce
from pathway.core.physics.hair import hair_share
from pathway.core.planning.note_plan import Landing, NotePlan
from pathway.core.planning.notes.hand import BowHand
from pathway.core.planning.notes.rows import Rows
from pathway.core.planning.notes.strings_together import Strings
from pathway.core.planning.strokes.columns import of_kinds
from pathway.core.rig.instrument import Rig
from pathway.core.technique.stroke_types import Contact

_OFF = of_kinds(lambda kind: kind.contact is not Contact.ON)


def landings(rows: Rows, strings: Strings, hand: BowHand) -> dict[int, Landing]:
    """Return how notes land, by row; others stay on the string.

    Args:
        rows: N notes.
        strings: theirs.
        hand: what it does in them.
    """
    rates = rows.each(rows.asked.columns.rate)
    off = np.flatnonzero(_OFF[rows.kinds] & (rates > 0))
    if not off.size:
        return {}
    rig, rates = rows.draft.rig, rates[off]
    own = rig.instrument.strings
    pairs = [strings.voices(i)[:2] for i in off.tolist()]
    contacts = strings.contact[off].tolist()
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
    columns = {
        "rate": bounce.rate(place),
        "height": bounce.height(place, rates),
        "contact": bounce.contact_time(place),
        "share": bounce.contact_share(place, rates),
        "dryness": bounce.dryness(place, rates),
        "weight": bounce.landing_weight(place, rates),
        "led": rates < HAND_LEADS_BELOW,
    }
    found = zip(*(np.asarray(column).tolist() for column in columns.values()), strict=True)
    return {i: Landing(**dict(zip(columns, row, strict=True))) for i, row in zip(off.tolist(), found, strict=True)}


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
