"""Cues for hand and arm, in the words of the school the player chose. The numbers are the same for all."""

from enum import StrEnum

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.technique.stroke_types import Contact, Start, StrokeType


class School(StrEnum):
    """Where force is felt to come from."""

    ARM = "arm"  # the arm rests in the stick
    HAND = "hand"  # the hand makes a moment


LIGHT = 0.02  # a smaller moment needs no finger [N m]
NEAR_LIMIT = 0.8  # of the comfortable moment


def weight_cue(school: School, torque: float, limit: float) -> str:
    """Return how the weight is given at a place on the hair.

    Args:
        school: of the player.
        torque: of the hand [N m]; positive: the index finger presses.
        limit: comfortable moment [N m].
    """
    heavy = abs(torque) > NEAR_LIMIT * limit
    if abs(torque) < LIGHT:
        return "Let the bow lie; its own weight is what you want."
    if torque < 0:
        if school is School.ARM:
            return "Carry the bow from the arm; the little finger keeps the balance."
        return "Take weight off with a round little finger."
    if school is School.ARM:
        return (
            "Lean the whole arm in, elbow up with it." if heavy else "Let the arm sink through the hand into the stick."
        )
    return "Roll the forearm in firmly, index finger further out." if heavy else "Roll the forearm in; the index leads."


def limb_cue(length: float, place: float, hair: float, rate: float) -> str:
    """Return what moves a stroke.

    Args:
        length: of the stroke [m].
        place: its middle on the hair [m].
        hair: L [m].
        rate: strokes a second [1/s].
    """
    if length < 0.03 and rate > 6:
        return "From the fingers, wrist loose."
    if length > 0.6 * hair or place < hair / 2:
        return "The upper arm joins in."
    return "From the forearm."


def start_cue(school: School, kind: StrokeType, rise: float) -> str:
    """Return how a stroke begins; rise is the time to gather speed [s]."""
    if kind.start is Start.CATCH:
        cause = "Let the arm settle" if school is School.ARM else "Pinch with the index"
        return f"{cause} for {1000 * kind.catch:.0f} ms before it, and let go with the stroke."
    if kind.contact is not Contact.ON:
        return "Let the bow fall from close above; it comes back by itself."
    return f"Gather speed over about {1000 * rise:.0f} ms."


def end_cue(how: str, dip: float, say: Speech = PLAIN) -> str:
    """Return how a stroke ends; dip is the time the tone sinks at the turn [s]."""
    if how == "joined":
        slow = f"slow the last {say.length(0.02)}"
        return f"Turn without a stop; {slow}, lighten a quarter. The tone dips for {1000 * dip:.0f} ms."
    return {
        "stopped": "Stop on the string and keep the weight for the next note.",
        "ringing": "Leave the string ringing; slow down and lighten, do not stop it dead.",
        "lifted": "Lift in the direction of the stroke and carry the bow back in a curve.",
    }[how]


def level_cue(school: School, held_down: bool) -> str:
    """Return how the level between two strings is made; instruments held down carry it the other way round."""
    if school is School.ARM:
        side = "lower string, elbow out" if held_down else "lower string, elbow up"
        return f"Hang the arm on the level between the two; for the {side}."
    return "Keep the elbow where it is and let the hand tip the bow between the two; index a little further out."


def crossing_cue(school: School, how: str, limb: str) -> str:
    """Return how a crossing is made.

    Args:
        school: of the player.
        how: early, smooth, through, change, oscillation, lift or roll.
        limb: fingers, forearm or arm.
    """
    mover = {"fingers": "fingers and wrist", "forearm": "forearm", "arm": "whole arm"}[limb]
    cues = {
        "early": "Let the arm arrive first; the bow comes over at the end of the note before.",
        "smooth": f"Lead over smoothly with the {mover}.",
        "through": "Go through the position of both strings; sound them together for a moment.",
        "change": f"Cross with the turn of the bow, from the {mover}.",
        "oscillation": "One swing about the level between the strings, not single crossings.",
        "lift": "Lift over the strings between and set anew.",
        "roll": "Roll over the strings between without a halt; the speed dips, the tone goes on.",
    }
    tail = " The arm leads, the hand hangs." if school is School.ARM and limb == "arm" else ""
    return cues[how] + tail


def chord_cue(up_bow: bool, retaken: bool) -> str:
    """Return how a chord is begun."""
    if up_bow:
        return "Begin at the very end of the hair with a short extra grip, gone within the attack."
    if retaken:
        return "Let the hair come to rest on the low strings before it moves; turn by the hand, arm set for the top."
    return "Sink into the low strings, turn by the hand, and let most of the hair go to the top."
