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
    words = CAUSE_WORDS[heard, key]
    return CauseWords(words.text, words.test.format(cm2=say.length(0.02), cm3=say.length(0.03)), words.help)


CAUSE_WORDS: Mapping[tuple[str, str], CauseWords] = {
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
    ("breathy", "shift"): CauseWords(
        "The left hand has not landed when the bow plays", "Play the two notes in two bows with a stop between.",
        ("shift in a gap or on an open string", "lighten for the shift"),
    ),
    ("breathy", "little finger"): CauseWords(
        "A stiff little finger lifts the bow off the string", "Play it once with the little finger in the air.",
        ("bend the little finger", "further from the frog"),
    ),
    ("grating", "heavy"): CauseWords(
        "Too much weight for this speed", "Same weight, twice the hair.",
        ("more hair", "less weight", "nearer the bridge"),
    ),
    ("grating", "preload"): CauseWords(
        "The load is kept too long", "Let go with the very start of the stroke.",
        ("let go sooner",),
    ),
    ("grating", "thumb"): CauseWords(
        "The thumb presses against the hand", "Play it with the thumb just off the stick.",
        ("bend the thumb", "let the weight come from the arm"),
    ),
    ("mute start", "gather"): CauseWords(
        "Speed is gathered too slowly or too quickly for the weight", "Start it in twice the time, then half.",
        ("gather speed slower or faster", "start heavier", "set the weight before"),
    ),
    ("mute start", "light"): CauseWords(
        "Too little weight at the start", "Rest the bow first.",
        ("start heavier",),
    ),
    ("mute start", "knuckles"): CauseWords(
        "Locked knuckles set the bow down hard and hold it", "Set it down ten times without playing.",
        ("let the knuckles sink as the bow lands",),
    ),
    ("sudden squeal", "level"): CauseWords(
        "The bow touches the neighbouring string", "Play it with the elbow a little higher.",
        ("set the level of the string sooner",),
    ),
    ("sudden squeal", "carried"): CauseWords(
        "The stick comes over at the angle of the string before", "Stop before the note and look.",
        ("square the stick at the crossing",),
    ),
    ("sudden squeal", "slant"): CauseWords(
        "The stick is not square, and the hair slides along the string", "Play it in front of a mirror.",
        ("square the stick", "a shorter bow"),
    ),
    ("sudden squeal", "lane"): CauseWords(
        "The hair slides out of its lane", "Hold the lane through the change.",
        ("a lane in between",),
    ),
    ("sudden squeal", "shoulder"): CauseWords(
        "A lifted shoulder carries the arm over, instead of the elbow", "Cross with the other hand on the shoulder.",
        ("let the shoulder hang", "lead with the elbow"),
    ),
    ("sticks out", "remainder"): CauseWords(
        "It gives back in a short time the hair a long note took", "Play the long note with half the hair.",
        ("hook it", "narrower long note", "lighter and further out"),
    ),
    ("sticks out", "heavy"): CauseWords(
        "It is played heavier than its neighbours", "Play it with less weight.",
        ("less weight",),
    ),
    ("sticks out", "open"): CauseWords(
        "The open string is brighter than the stopped notes around it", "Play it stopped on the string below.",
        ("play it stopped", "further from the bridge"),
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
    ("nowhere left to go", "remainder"): CauseWords(
        "Short notes before it have carried the bow to the wrong end", "Play the notes before it with half the hair.",
        ("hook one of them", "go back in a rest"),
    ),
    ("accent falls short", "tip"): CauseWords(
        "Near the tip the hand has little moment left", "Play it at the middle.",
        ("nearer the middle", "more moment", "a shorter stroke"),
    ),
    ("accent falls short", "hand"): CauseWords(
        "The hand is at its limit already", "Play the passage softer.",
        ("less weight between accents",),
    ),
    ("accent falls short", "shoulder"): CauseWords(
        "A lifted shoulder keeps the arm's weight", "Breathe out, let it sink, and play the accent again.",
        ("let the shoulder hang",),
    ),
    ("a voice is missing", "share"): CauseWords(
        "The second string has too little of the weight", "Lean the level towards it.",
        ("another lead", "a place between"),
    ),
    ("a voice is missing", "level"): CauseWords(
        "The bow leaves one of the strings on the way", "Play both strings open, eyes on the level.",
        ("a level between the two", "quieter elbow"),
    ),
    ("bounce falls apart", "crossing"): CauseWords(
        "A crossing breaks the bounce", "Play it on one string.",
        ("another string", "a slur over the crossing"),
    ),
    ("bounce falls apart", "place"): CauseWords(
        "The place on the hair does not fit the rate", "Move {cm3}.",
        ("move along the hair", "tilt"),
    ),
    ("bounce falls apart", "flight"): CauseWords(
        "It flies so high that it comes back late", "Tilt a little more, or come {cm3} nearer the frog.",
        ("tilt more", "nearer the frog"),
    ),
    ("bounce falls apart", "thumb"): CauseWords(
        "A firm thumb keeps the stick from springing", "Play four notes with only thumb and middle finger.",
        ("bend the thumb", "hold the stick like something alive"),
    ),
    ("wood noise", "stick"): CauseWords(
        "Weight brings the stick down on the tilted hair", "Play it flat.",
        ("flatter", "more hair"),
    ),
    ("wood noise", "tilt"): CauseWords(
        "The stick leans so far that its side touches", "Play it with the stick over the hair.",
        ("flatter", "knuckles higher"),
    ),
    ("audible join", "reversal"): CauseWords(
        "The turn is fast and heavy", "Slow the last {cm2}.",
        ("slower last centimetres", "lighter", "more tilt"),
    ),
    ("audible join", "hook"): CauseWords(
        "The stop before it is heard", "Play it as one bow.",
        ("turn the bow", "slur it"),
    ),
    ("audible join", "shift"): CauseWords(
        "The left hand shifts in the middle of the join", "Play the join without the shift.",
        ("shift before the turn", "lighten for it"),
    ),
    ("audible join", "knuckles"): CauseWords(
        "The knuckles stand still, and the whole hand turns at once", "Turn slowly, ten times, watching the knuckles.",
        ("fingers that bend and stretch at the turn",),
    ),
}  # fmt: skip
