"""What every manner of playing sounds like, how the fingers share it in the two schools, and what goes wrong."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Description:
    """A manner of playing in words."""

    sounds: str
    hand: str  # finger roles where the hand makes the weight
    arm: str  # and where the arm rests in the stick
    wrong: str  # what goes wrong
    written: str


DESCRIPTIONS = {
    "detache": Description(
        "Even separate notes, no gap.", "Index steady, thumb soft at each turn.", "Forearm swings, hand follows.",
        "Every second note louder; a bump at the turn.", "Notes without slur or sign",
    ),
    "broad-detache": Description(
        "Wide, open, near the whole bow.", "Index grows towards the tip, little finger takes over at the frog.",
        "Upper arm opens, then the forearm.", "Runs out in pairs of unequal notes; grates at the frog.",
        "Words: grand détaché, largamente",
    ),
    "porte": Description(
        "A small swell at each start, hardly a gap.", "Index leans in and lets off inside the note.",
        "The arm sinks a little at each start.", "Swell too late, so it sounds like hiccups.", "Dashes",
    ),
    "lance": Description(
        "Quick start that fades, a breath between.", "Impulse from the index, then fingers let the bow run.",
        "A throw of the forearm.", "The stop at the end is heard.", "Words: lancé",
    ),
    "short-detache": Description(
        "Short and on the string.", "Fingers stop the bow, weight stays.", "Arm rests between.",
        "Notes end with a click.", "Dots, when slow or loud",
    ),
    "legato": Description(
        "Notes bound in one bow.", "Index constant; thumb and little finger round the turn.",
        "The arm's level leads every crossing.", "Bulges with the left hand; runs out.", "Slur",
    ),
    "portato": Description(
        "Pulses in one bow.", "Index pulses, bow never quite stops.", "The arm breathes in and out of the string.",
        "Pulses late against the left hand.", "Slur with dashes, or slow dots",
    ),
    "sustained": Description(
        "Dense and slow, close to the bridge.", "Firm index all along the bow.", "The whole arm hangs in.",
        "Presses near the frog, thins at the tip.", "Words: sostenuto",
    ),
    "martele": Description(
        "A hard start, a fast stroke, a stop.", "Index pinches before and lets go at once.",
        "Arm loads, releases, rests.",
        "Crunch when let go late, whistle when early.", "Wedges, or accent with dot",
    ),
    "soft-martele": Description(
        "A rounded start.", "Light pinch.", "Small sink of the arm.", "Loses its start when hurried.", "Words",
    ),
    "grand-martele": Description(
        "One throw of the whole bow.", "Pinch at the end of the hair, then follow.", "Upper arm throws, forearm opens.",
        "Arrives short of the tip; slants.", "Words: grand martelé",
    ),
    "colle": Description(
        "Plucked by the bow.", "Thumb and index grip, fingers lift.", "Forearm only carries.",
        "Too much bow; lands late.", "Words: collé",
    ),
    "staccato": Description(
        "A row of small hard starts in one bow.", "Index taps for each note.", "Arm travels evenly, hand articulates.",
        "Lane drifts; weight grows on the up-bow.", "Slur with dots",
    ),
    "running-staccato": Description(
        "A row that runs by itself.", "Stiff index, trembling from the elbow.", "Upper arm tenses and glides.",
        "Only at your own rate.", "Slur with dots, fast",
    ),
    "pulsed-detache": Description(
        "Loaded start, light body, silence.", "Index in and out at once.", "Small drop of the forearm.",
        "Turns into martelé when slow.", "Words: pulsed",
    ),
    "spiccato": Description(
        "Short notes off the string.", "Little finger balances, index only guides.", "Forearm swings, hand loose.",
        "Wrong place on the hair; flies too high; falls apart at crossings.", "Dots, 3.5 to 9 a second",
    ),
    "heavy-spiccato": Description(
        "Weighty, from the frog.", "Little finger lifts, all fingers lower.", "Arm in an arc from the shoulder.",
        "Wood touches; crunch.", "Words: heavy spiccato",
    ),
    "sautille": Description(
        "Very fast, the stick springs.", "Index and thumb only; others rest.", "Forearm trembles, elbow quiet.",
        "Lifted by hand; off its place.", "Words: sautillé, saltellato",
    ),
    "flying-staccato": Description(
        "Small lifts in one bow.", "Fingers lift each note.", "Arm floats along.", "Travels too far.",
        "Slur with dots, words: flying",
    ),
    "ricochet": Description(
        "One throw, several landings.", "Little finger lets the bow fall, thumb holds.", "A drop of the forearm.",
        "Rate set by height and place, not by will.", "Words: ricochet, jeté",
    ),
    "fouette": Description(
        "A whip from above, mostly up-bow.", "Fingers snap at the landing.", "Forearm lifts just before.",
        "Bounces after landing.", "Words: fouetté",
    ),
    "rebound": Description(
        "Early bows: lifts by itself.", "Open hand, no pinch.", "Forearm gives a nudge.", "Forced with a heavy hand.",
        "Dots, early style",
    ),
    "tremolo": Description(
        "Shimmer near the tip.", "Loose index and thumb.", "From the wrist, arm still.", "Tires; grows louder unasked.",
        "Strokes through the stem",
    ),
}  # fmt: skip
