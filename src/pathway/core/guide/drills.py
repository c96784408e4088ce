"""What is told of every family of drills: its aim, what to watch, what is harmless, by what it is passed."""

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class DrillWords:
    """The words of one family; `passes` has room for its limit and unit."""

    name: str
    aim: str  # what will be different afterwards
    watch: str
    harmless: str  # while it is slow
    passes: str = "you find it clean"


W = DrillWords
DRILL_WORDS: Mapping[str, DrillWords] = {
    "long-tones": W(
        "Long tones",
        "the same tone from frog to tip, whatever share of the hair it takes",
        "the lane stays where it is; the tone neither swells nor thins",
        "a late tone at the start of the slowest bows",
        "the level stays within {limit} dB along the bow",
    ),
    "slowest-bow": W(
        "The slowest bow",
        "a long note that leaves hair for the next one",
        "where the bow is when half of the time is over",
        "a soft tone",
        "the level stays within {limit} dB",
    ),
    "speed-alone": W(
        "Speed alone",
        "more hair without more weight",
        "the arm travels, the hand does nothing; the level follows the speed",
        "a bright tone on the fast strokes",
        "the speed is within {limit} % of the plan's",
    ),
    "weight-alone": W(
        "Weight alone",
        "a pulse that the bow's travel does not feel",
        "the bow goes on as if nothing happened",
        "unequal pulses",
        "the level is back within {limit} ms",
    ),
    "place-alone": W(
        "Place alone",
        "going to the bridge and back without a break of tone",
        "the bow stays square; the weight grows towards the bridge",
        "a shade of grain near the bridge",
        "no break of tone, the level within {limit} dB",
    ),
    "extremes": W(
        "One to its end",
        "knowing what the two others must do when one goes to its end",
        "say which of the three would fail before you look at the tone map",
        "noise at the very end",
        "you name the failing one before the map does",
    ),
    "lane-by-pitch": W(
        "The same tone up one string",
        "a lane that moves with what vibrates",
        "the bow comes nearer to the bridge as the hand goes up",
        "a thin tone high up",
        "a clear tone at every place, the level within {limit} dB",
    ),
    "tilt-turns": W(
        "Flat and tilted",
        "turning the stick without a change of level",
        "the fingers turn the stick, the arm does not",
        "a change of colour",
        "the level stays within {limit} dB, no wood",
    ),
    "parts-of-bow": W(
        "Parts of the bow",
        "the same notes anywhere on the hair",
        "the weight that the hand adds towards the tip",
        "a slower start at the tip",
        "the parts are within {limit} dB of each other",
    ),
    "smooth-turns": W(
        "Turns of the bow",
        "a turn that is not heard",
        "the last of every bow slower and lighter; the wrist leads the turn",
        "a short breath between the bows",
        "no turn is longer than the plan's {limit} ms",
    ),
    "pulse-release": W(
        "Pulse and release",
        "an accent that is gone as soon as it sounded",
        "the release, not the pulse",
        "too strong a pulse",
        "the level is back within {limit} ms",
    ),
    "load-and-test": W(
        "Load and test",
        "a start that holds the string before it moves",
        "nudge the bow: the string follows without a sound; then draw",
        "a click at the start",
        "the starts are within {limit} dB of each other, without noise after them",
    ),
    "noise-and-note": W(
        "Noise beside note",
        "telling the caught start from the pressed one",
        "the weight is gone when the tone stands",
        "the noise itself: it is wanted here",
        "the noise is shorter than {limit} ms",
    ),
    "hard-to-soft": W(
        "From hard to soft",
        "every strength of start, down to a trace",
        "the same lane and tempo for all three",
        "a trace that is hardly there",
        "each is still told from the plain stroke",
    ),
    "borrowed-manner": W(
        "Borrowed manner",
        "the bars with the freedom of another stroke",
        "notes and tempo stay; only the stroke changes",
        "another balance of tone",
        "the bars are clean in their own stroke",
    ),
    "one-throw": W(
        "One throw",
        "a whole bow from a single impulse",
        "the arm coasts; the speed has its top in the first third",
        "the bow stops short",
        "it arrives without a second push",
    ),
    "short-after-long": W(
        "Short after long",
        "the short note as full as the long one began",
        "a clear stop before each short note; then its start",
        "a scratch at the stop",
        "the short note is at most {limit} dB under the end of the long one",
    ),
    "travelling-starts": W(
        "Starts along the hair",
        "a start that is set before it moves, anywhere near the frog",
        "the fingers set, then draw; the arm only carries",
        "a dry sound",
        "the starts are within {limit} dB of each other",
    ),
    "one-bow-staccato": W(
        "Staccato in one bow",
        "even stops at the rate of the piece",
        "the strong pulses lead, the light ones follow by themselves",
        "uneven light notes",
        "the starts are even to {limit} %",
    ),
    "bursts": W(
        "Bursts and waits",
        "quick notes without effort between two rests",
        "the smallest motion that speaks; the hand is loose in the wait",
        "the first note louder",
        "the starts are even to {limit} %",
    ),
    "self-running": W(
        "The run by itself",
        "a staccato that keeps its own rate",
        "the place on the hair moves slowly; nothing is counted",
        "a start that needs two tries",
        "the rate is steady to {limit} %",
    ),
    "growing-groups": W(
        "Growing groups",
        "as many notes a bow as are wanted, without an accent at the turn",
        "the hair is shared out before the bow begins",
        "a soft end of the longest bows",
        "the notes are even to {limit} %",
    ),
    "find-the-bounce": W(
        "Find the bounce",
        "the place where this bow springs at this rate",
        "slower nearer the frog, quicker further out; the bow does the work",
        "dry notes far from its place",
        "the rate is within {limit} % of the rig's",
    ),
    "bounce-by": W(
        "What changes the bounce",
        "keeping the bounce while something else moves",
        "the height of the bow over the string",
        "a brushed note now and then",
        "the distances are even to {limit} %",
    ),
    "crossings": W(
        "Crossings",
        "strings that follow each other as if they were one",
        "the arm arrives before the note; the hand draws the smaller loop",
        "both strings for a moment",
        "the starts are even to {limit} %",
    ),
    "angle": W(
        "Square on each string",
        "knowing the direction of the stick on every string",
        "the stick from above: it turns a little from string to string",
        "a small slide",
        "it slides less than {limit} lane",
    ),
    "two-strings": W(
        "Two strings",
        "both strings clear, and the one that leads led",
        "one place for both; the balance comes from the level of the bow",
        "one voice later than the other",
        "both are clear, the leading one up to {limit} dB louder",
    ),
    "chords": W(
        "Chords",
        "three strings and more, without roughness on top",
        "how much hair the low pair takes",
        "a gap between the pairs",
        "the low pair ends where the plan has it",
    ),
    "shifts": W(
        "Shifts",
        "a slur in which the left hand is not heard",
        "the bow goes on evenly while the hand travels",
        "a slide that is heard",
        "no bump over {limit} dB",
    ),
    "finger-before-bow": W(
        "Finger before bow",
        "a finger that is there before the bow moves",
        "place the finger in the stop",
        "a short stop",
        "the starts are within {limit} dB of each other",
    ),
    "weak-and-strong": W(
        "Weak and strong",
        "weight by the bow's own shape",
        "what is short is light",
        "a weak note that hardly speaks",
        "the weak ones are {limit} dB under the strong ones",
    ),
    "silence-between": W(
        "Silence between",
        "a silence as long as it is meant",
        "the bow rests on the string in the silence",
        "a click where it stops",
        "the silences are even to {limit} %",
    ),
    "contrast": W(
        "Contrast",
        "two characters that a listener tells apart",
        "the seam: nothing of the first goes over into the second",
        "too much of it",
        "the step is at least {limit} dB",
    ),
    "colours": W(
        "Two colours",
        "another brightness at the same level",
        "the lane and the hand that holds it: firm, then loose",
        "a small step of level",
        "the levels are within {limit} dB",
    ),
    "wrong-on-purpose": W(
        "Wrong on purpose",
        "hearing the fault before it is one",
        "listen to the fault from the app, play it, then leave it out",
        "the fault: it is wanted here",
        "you tell both apart with closed eyes",
    ),
    "arrive": W(
        "Arrive",
        "being where the plan has the bow at the end of every stroke",
        "the mark at the end of each ribbon",
        "another tone than in tempo",
        "every bow arrives within {limit} cm",
    ),
    "tempo-ladder": W(
        "Up to tempo",
        "the bars at the tempo of the piece",
        "the bowing of the plan from the rung on where it holds",
        "more tone than in tempo",
        "three clean of three",
    ),
    "two-tempi": W(
        "Two tempi",
        "ease in tempo, from saving hair below it",
        "the hair that is left at the end of the long bows",
        "a soft tone while saving",
        "three clean of three",
    ),
    "with-second-part": W(
        "With the second part",
        "the bars in time with another voice",
        "the other part, not your own hand",
        "waiting for it",
        "three clean of three",
    ),
    "other-bow": W(
        "Begun on the other bow",
        "bars that do not depend on the direction",
        "the weak bow as full as the strong one",
        "unusual places on the hair",
        "the starts are within {limit} dB",
    ),
    "both-ways-equal": W(
        "Both ways alike",
        "down and up not told apart",
        "the end of the up-bow, and the start of the down-bow",
        "a heavier down-bow",
        "the starts are within {limit} dB",
    ),
    "hand-alone": W(
        "The hand alone",
        "one joint at a time, without the instrument",
        "hold a pencil; only the named joint moves, the others hang",
        "everything: nothing sounds",
        "it moves by itself",
    ),
}
STRAINS = "Heavy work: short sets, and rest as long as you played. Stop at once if it hurts."
STOP = "Pain, numbness, tingling or weakness: stop, and see a doctor before you go on."
