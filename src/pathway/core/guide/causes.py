"""What may cause what is heard: in words, with a quick test and what helps."""

from collections.abc import Mapping
from dataclasses import dataclass

from pathway.core.guide.speech import PLAIN, Speech


@dataclass(frozen=True, slots=True)
class CauseWords:
    """What is told of one cause."""

    text: str
    test: str
    help: tuple[str, ...]


def cause_words(heard: str, key: str, say: Speech = PLAIN) -> CauseWords:
    """Return what is told of a cause of what is heard.

    Args:
        heard: what the player hears.
        key: of the cause.
        say: how the player is told lengths.
    """
    words = WORDS[heard, key]
    return CauseWords(words.text, words.test.format(cm2=say.length(0.02), cm3=say.length(0.03)), words.help)


WORDS: Mapping[tuple[str, str], CauseWords] = {
    ("breathy", "light"): CauseWords(
        "Too little weight for this speed and place", "Add weight at the same speed.",
        ("less hair", "more weight", "further from the bridge"),
    ),
    ("breathy", "slant"): CauseWords(
        "The hair leaves its lane", "Watch the contact in a mirror for one bow.",
        ("square the stick", "further from the bridge"),
    ),
    ("breathy", "open"): CauseWords(
        "The thin open string whistles", "Stop the same note below.",
        ("play it stopped", "begin with more weight"),
    ),
    ("grating", "heavy"): CauseWords(
        "Too much weight for this speed", "Same weight, twice the hair.",
        ("more hair", "less weight", "nearer the fingerboard"),
    ),
    ("grating", "preload"): CauseWords(
        "The load is kept too long", "Let go with the very start of the stroke.",
        ("let go sooner",),
    ),
    ("mute start", "gather"): CauseWords(
        "Speed is gathered too slowly or too quickly for the weight", "Start it in twice the time, then half.",
        ("gather speed slower or faster", "start heavier", "set the weight before"),
    ),
    ("mute start", "light"): CauseWords(
        "Too little weight at the start", "Rest the bow first.",
        ("start heavier",),
    ),
    ("sudden squeal", "level"): CauseWords(
        "The bow touches the neighbouring string", "Play it with the elbow a little higher.",
        ("set the level of the string sooner",),
    ),
    ("sudden squeal", "slant"): CauseWords(
        "The stick comes over at the angle of the string before", "Stop before the note and look.",
        ("square the stick at the crossing",),
    ),
    ("sudden squeal", "lane"): CauseWords(
        "The hair slides out of its lane", "Hold the lane through the change.",
        ("a lane in between",),
    ),
    ("sticks out", "remainder"): CauseWords(
        "It gives back in a short time the hair a long note took", "Play the long note with half the hair.",
        ("hook it", "narrower long note", "lighter and further out"),
    ),
    ("sticks out", "heavy"): CauseWords(
        "It is played heavier than its neighbours", "Play it with less weight.",
        ("less weight",),
    ),
    ("buried", "fade"): CauseWords(
        "The long note before fades into it", "Leave a gap before it.",
        ("a gap", "load the long note at its start", "a quicker short note"),
    ),
    ("buried", "light"): CauseWords(
        "It is too light for its place", "Add weight.",
        ("more weight",),
    ),
    ("nowhere left to go", "hair"): CauseWords(
        "The bow arrives with too little hair", "Begin the stroke at the very end of the hair.",
        ("retake", "hook", "divide the slur", "save at the start"),
    ),
    ("accent falls short", "tip"): CauseWords(
        "Near the tip the hand has little moment left", "Play it at the middle.",
        ("nearer the middle", "more moment", "a shorter stroke"),
    ),
    ("accent falls short", "hand"): CauseWords(
        "The hand is at its limit already", "Play the passage softer.",
        ("less weight between accents",),
    ),
    ("a voice is missing", "share"): CauseWords(
        "The second string has too little of the weight", "Lean the level towards it.",
        ("another lead", "a place between"),
    ),
    ("bounce falls apart", "crossing"): CauseWords(
        "A crossing breaks the bounce", "Play it on one string.",
        ("another string", "a slur over the crossing"),
    ),
    ("bounce falls apart", "place"): CauseWords(
        "The place on the hair does not fit the rate", "Move {cm3}.",
        ("move along the hair", "tilt"),
    ),
    ("wood noise", "stick"): CauseWords(
        "Weight brings the stick down on the tilted hair", "Play it flat.",
        ("flatter", "more hair"),
    ),
    ("audible join", "reversal"): CauseWords(
        "The turn is fast and heavy", "Slow the last {cm2}.",
        ("slower last centimetres", "lighter", "more tilt"),
    ),
    ("audible join", "hook"): CauseWords(
        "The stop before it is heard", "Play it as one bow.",
        ("slur it",),
    ),
}  # fmt: skip
