"""How to work on every manner of playing, and which of its signs are harmless while it is slow."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Working:
    """What to do with a manner of playing."""

    first: str  # where to begin
    then: str  # what to change next, one thing at a time
    while_slow: str  # what may look wrong at a slow tempo and goes away by itself


WORK = {
    "detache": Working(
        "Open strings in the middle, a hand's breadth of hair, listening to the turns only.",
        "Move the same length to the tip, then to the frog; then lengthen it.", "A small dip at each turn.",
    ),
    "broad-detache": Working(
        "Whole bows on one note, four seconds each, the lane watched in a mirror.",
        "Halve the time, keep the lane; then alternate whole and half bows.", "A heavier frog than tip.",
    ),
    "porte": Working(
        "One note a bow with a lean at the start, the speed even.",
        "Lean with speed instead of weight; then mix both.", "Leans that are too large.",
    ),
    "lance": Working(
        "Throw the bow a hand's breadth and let it run out by itself.",
        "Shorten the breath between until two notes nearly touch.", "A late stop.",
    ),
    "short-detache": Working(
        "Stop on the string after each note and keep its weight while you count one.",
        "Shorten the stop, not the note.", "A click at the stop: it goes when the stop is short.",
    ),
    "legato": Working(
        "Two notes a bow on open strings, the crossing led by the arm.",
        "Double the notes, keep the bow's speed; then the left hand.", "A little double stop at crossings.",
    ),
    "portato": Working(
        "Even bow, a breath in the weight for each note.", "Let the speed breathe with it.", "Notes that nearly part.",
    ),
    "sustained": Working(
        "Eight seconds a bow close to the bridge, the lane held.",
        "Then ten, then twelve; stop where the tone cracks.", "A rough start.",
    ),
    "martele": Working(
        "Load, wait until the hair is quiet, let go and move at the same time.",
        "Shorten the wait; then the gap; the note stays quick.", "A loud start.",
    ),
    "soft-martele": Working(
        "Martelé with half the load.", "Give the time of the load to the note.", "Starts that differ.",
    ),
    "grand-martele": Working(
        "Half bows thrown from the middle to the tip.", "Then from the frog to the middle; then join both.",
        "Arriving late.",
    ),
    "colle": Working(
        "Set the bow, pluck with it, lift; the arm does nothing.", "Move along the lower half.", "Long rests between.",
    ),
    "staccato": Working(
        "Four notes on an up-bow, each loaded and let go.", "Add notes, not tempo; then the down-bow.",
        "Starts that are too hard.",
    ),
    "running-staccato": Working(
        "Find your own rate on an open string and measure it.", "Start and stop it; then fit the music to it.",
        "It does not work slowly at all.",
    ),
    "pulsed-detache": Working(
        "Short loads on open strings in the lower half.", "Let the body of the note ring longer.", "A martelé sound.",
    ),
    "spiccato": Working(
        "Drop the bow at the place the rig gives and let it bounce; then lead it sideways.",
        "Change one thing: rate, then place, then string.", "High flights.",
    ),
    "heavy-spiccato": Working(
        "Long drops at the frog, one a second.", "Halve the time, keep the arc.", "A crunch at the landing.",
    ),
    "sautille": Working(
        "Quick détaché at the place the rig gives, stick over the hair, until it starts to spring.",
        "Keep the place, lower the weight.", "Below seven a second it does not spring.",
    ),
    "flying-staccato": Working("Two lifted notes on an up-bow.", "Then three and four.", "Lifts that travel."),
    "ricochet": Working(
        "Throw and count the landings: two, then three.", "Choose height and place for the rate.", "Uneven landings.",
    ),
    "fouette": Working(
        "Lift a hand's breadth, whip, stay.", "Lower the lift.", "A second bounce: stay heavier after landing.",
    ),
    "rebound": Working(
        "Nudge the bow and let it lift.", "Find the hair that answers by itself.", "Lifts of different height.",
    ),
    "tremolo": Working(
        "Small and slow from the wrist.", "Smaller before faster.", "Notes you can count.",
    ),
}  # fmt: skip
