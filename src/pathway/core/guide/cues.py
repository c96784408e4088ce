"""Cues for hand and arm, in the words of the school the player chose. The numbers are the same for all."""

import math
from enum import StrEnum

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.technique.crossings import CrossingManner, Mover
from pathway.core.technique.endings import Exit
from pathway.core.technique.limbs import Limb
from pathway.core.technique.stroke_types import Contact, Start, StrokeType


class School(StrEnum):
    """Where force is felt to come from."""

    ARM = "arm"  # the arm rests in the stick
    HAND = "hand"  # the hand makes a moment


CARRIED = 0.15  # shorter ways back are the forearm's [m]
NEAR_HAND = 0.25  # of the hair, from its ends
A_STEP = 0.25  # of colour that is worth a word
_LEAST_TURN = math.radians(2)
THIRD = 0.34
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


_LIMBS = {
    Limb.FINGERS: "From the fingers, wrist loose.",
    Limb.WRIST: "From wrist and fingers; the arm only carries.",
    Limb.FOREARM: "From the forearm.",
    Limb.UPPER_ARM: "The upper arm joins in.",
    Limb.WHOLE_ARM: "From the whole arm: upper arm first, then the forearm opens.",
}


def limb_cue(limb: Limb) -> str:
    """Return what moves a stroke."""
    return _LIMBS[limb]


def start_cue(school: School, kind: StrokeType, rise: float, *, from_air: bool = False) -> str:
    """Return how a stroke begins; rise is the time to gather speed [s]."""
    if kind.start is Start.CATCH:
        cause = "Let the arm settle" if school is School.ARM else "Pinch with the index"
        return f"{cause} for {1000 * kind.catch:.0f} ms before it, and let go with the stroke."
    if kind.contact is not Contact.ON and from_air:
        return "Let the bow fall from close above; it comes back by itself."
    if kind.contact is not Contact.ON:
        return "Set it on the string, and let it spring off with the stroke."
    return f"Gather speed over about {1000 * rise:.0f} ms."


def kept_down_cue() -> str:
    """Return how a note is played that stays on the string among lifted ones."""
    return "Kept down among lifted notes: press the bounce out, hold it, and throw anew after it."


def retake_cue(way: float, time: float, say: Speech = PLAIN) -> str:
    """Return how the bow is carried back a way [m] in a time [s]."""
    limb = "from the forearm" if way < CARRIED else "from the arm"
    return f"Carry it back {say.length(way)} in a flat curve {limb}, in {1000 * time:.0f} ms, and set it from the side."


def cushion_cue(place: float, hair: float) -> str:
    """Return what the fingers do where the bow turns at a place on the hair [m]."""
    if place < NEAR_HAND * hair:
        return "At the turn the fingers bend as the frog arrives, and stretch with the new bow."
    if place > (1 - NEAR_HAND) * hair:
        return "At the turn the fingers stretch to the tip, and bend as the new bow is drawn in."
    return "At the turn the fingers give along the stick; the hand does not stop."


def grip_cue(colour: tuple[float, float]) -> list[str]:
    """Return how firm the hand is for a colour, −1 soft to 1 focused, as a note begins and ends."""
    begins, ends = colour
    if abs(ends - begins) > A_STEP:
        way = "firm" if ends > begins else "loose"
        return [f"Let the grip turn {way} on the way, as speed, place and weight turn."]
    if ends > A_STEP:
        return ["A firm hand: fingers close round the stick, the tone gathers."]
    return ["A loose hand: the stick lies in soft fingers, the tone spreads."] if ends < -A_STEP else []


def vibrato_cue(vibrato: str | None, *, on_open: bool) -> list[str]:
    """Return what a vibrato asks of the bow; nothing without a wish."""
    if vibrato is None:
        return []
    if on_open and vibrato != "none":
        return ["An open string does not shake: play it stopped, or let a finger shake its octave."]
    return [
        {
            "none": "No vibrato: the bow alone keeps the line; hold its speed even.",
            "narrow": "A narrow vibrato: keep the lane, a little less weight.",
            "wide": "A wide vibrato: give it hair and weight enough to carry it.",
            "pulse": "A pulse of vibrato with the accent, gone as the weight lets go.",
        }[vibrato]
    ]


def turn_cue(turn: float, *, held_down: bool) -> list[str]:
    """Return how the stick is turned on the way to a string, seen from above [rad]; positive: the hand comes back."""
    if abs(turn) < _LEAST_TURN:
        return []
    if held_down:
        way = "back along your side" if turn > 0 else "forward, out of the knees"
    else:
        way = "in, towards you" if turn > 0 else "out, away from you"
    return [f"The stick turns by {abs(math.degrees(turn)):.0f}°: the hand goes {way}."]


def pull_cue(lanes: float) -> str:
    """Return what holds the lane where a small speed draws the hair to the bridge by some lanes."""
    return (
        f"So little hair draws the bow {lanes:.1f} lanes to the bridge: hold the lane with the arm's level still, "
        "and load each note instead."
    )


def shift_cue(time: float, through: str, *, stopped_before: bool) -> str:
    """Return what the bow gives the left hand for a shift.

    Args:
        time: that the hand has [s].
        through: gap, open string or note.
        stopped_before: whether the bow stands on the string meanwhile.
    """
    given = {
        "gap": f"The gap before it gives the left hand {1000 * time:.0f} ms to shift.",
        "open string": f"The open string before it gives the left hand {1000 * time:.0f} ms to shift.",
        "note": f"The left hand shifts in the last {1000 * time:.0f} ms of the note before: lighten the bow for it.",
    }[through]
    return given + (" Fingers first, then the bow." if stopped_before else "")


_ELBOWS = {
    False: ("at its highest", "between", "at its lowest, the arm hanging"),
    True: ("close to the body, the hand low", "between", "away from the body"),
}  # on the lowest strings, between, on the highest; held up and held down


def elbow_cue(rank: float, *, held_down: bool) -> str:
    """Return where the elbow is for a string.

    Args:
        rank: of the string, 0 the lowest to 1 the highest.
        held_down: whether the instrument is.
    """
    low, middle, high = _ELBOWS[held_down]
    where = low if rank < THIRD else high if rank > 1 - THIRD else middle
    return f"The elbow is {where}."


def end_cue(how: Exit, dip: float, say: Speech = PLAIN) -> str:
    """Return how a stroke ends; dip is the time the tone sinks at the turn [s]."""
    if how is Exit.JOINED:
        slow = f"slow the last {say.length(0.02)}"
        return f"Turn without a stop; {slow}, lighten a quarter. The tone dips for {1000 * dip:.0f} ms."
    return {
        Exit.STOPPED: "Stop on the string and keep the weight for the next note.",
        Exit.RINGING: "Leave the string ringing; slow down and lighten, do not stop it dead.",
        Exit.LIFTED: "Lift in the direction of the stroke and carry the bow back in a curve.",
    }[how]


def level_cue(school: School, held_down: bool) -> str:
    """Return how the level between two strings is made; instruments held down carry it the other way round."""
    if school is School.ARM:
        side = "lower string, elbow out" if held_down else "lower string, elbow up"
        return f"Hang the arm on the level between the two; for the {side}."
    return "Keep the elbow where it is and let the hand tip the bow between the two; index a little further out."


def crossing_cue(school: School, how: CrossingManner, mover: Mover, *, falls: bool = False) -> str:
    """Return how a crossing is made.

    Args:
        school: of the player.
        how: in what manner.
        mover: what carries the bow over.
        falls: whether it comes to the new string by its own weight.
    """
    if falls and how in {CrossingManner.EARLY, CrossingManner.SMOOTH, CrossingManner.CHANGE}:
        return "Let the bow fall to the next string by its own weight; the hand only lets it."
    cues = {
        CrossingManner.EARLY: "Let the arm arrive first; the bow comes over at the end of the note before.",
        CrossingManner.SMOOTH: f"Lead over smoothly with the {mover.said}.",
        CrossingManner.THROUGH: "Go through the position of both strings; sound them together for a moment.",
        CrossingManner.CHANGE: f"Cross with the turn of the bow, from the {mover.said}.",
        CrossingManner.OSCILLATION: "One swing about the level between the strings, not single crossings.",
        CrossingManner.LIFT: "Lift over the strings between and set anew.",
        CrossingManner.ROLL: "Roll over the strings between without a halt; the speed dips, the tone goes on.",
    }
    tail = " The arm leads, the hand hangs." if school is School.ARM and mover is Mover.ARM else ""
    return cues[how] + tail


def chord_cue(up_bow: bool, retaken: bool) -> str:
    """Return how a chord is begun."""
    if up_bow:
        return "Begin at the very end of the hair with a short extra grip, gone within the attack."
    if retaken:
        return "Let the hair come to rest on the low strings before it moves; turn by the hand, arm set for the top."
    return "Sink into the low strings, turn by the hand, and let most of the hair go to the top."
