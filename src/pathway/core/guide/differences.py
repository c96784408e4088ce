"""What players disagree on, which parts of the hand change what, and what to be careful with."""

from dataclasses import dataclass
from enum import StrEnum


class ChosenIn(StrEnum):
    """Where a choice is made, or told more of."""

    SETTINGS = "settings"
    RIGS = "rigs"
    REACH = "reach"
    BENCH = "bench"
    STACCATO = "staccato"  # the page of the stroke type
    HELP = "help"


@dataclass(frozen=True, slots=True)
class Disagreement:
    """A question that good players answer differently."""

    question: str
    schools: str
    changes: str  # what each choice changes here, and where it is set
    where: ChosenIn


@dataclass(frozen=True, slots=True)
class HandCause:
    """A part of the hand, what moving it changes, and how to check it."""

    part: str
    changes: str
    check: str


DISAGREEMENTS = (
    Disagreement(
        "Where does weight come from?", "The arm rests in the stick, or the hand makes a moment.",
        "The bow touches nothing but hand and string, so the moment in your plan is the same. The cues beside every "
        "note follow your school.", ChosenIn.SETTINGS,
    ),
    Disagreement(
        "How is the bow held?", "Shallow, deep, early, underhand.",
        "The hold sets how far the index finger lies from the thumb, and so how hard it presses for a moment. None is "
        "graded.", ChosenIn.RIGS,
    ),
    Disagreement(
        "What moves the stroke?", "A quiet shoulder with forearm and hand, or the upper arm for the lower half.",
        "The plan names a limb for every stroke and crossing by its length and rate; take it as a place to begin.",
        ChosenIn.HELP,
    ),
    Disagreement(
        "Does the wrist lead or follow?", "Leads fast strokes, or follows the arm.", "A cue only; no number changes.",
        ChosenIn.HELP,
    ),
    Disagreement(
        "Martelé and marcato?", "One stroke, or two.",
        "There is one entry with a softened form beside it; its name is yours to choose.", ChosenIn.SETTINGS,
    ),
    Disagreement(
        "Staccato in one bow?", "Each note placed, or a run at your own fixed rate.",
        "Both are there, with limits of their own; your own rate is a number of your rig file.", ChosenIn.STACCATO,
    ),
    Disagreement(
        "Crossing over a string?", "Roll over it on the string, or lift.",
        "By rig: viols roll. Time and the shift along the hair are planned for each.", ChosenIn.BENCH,
    ),
    Disagreement(
        "Are strong and weak beats unequal?", "Unequal, as early style has it, or even.",
        "Style is a choice of every passage: in early style weak strokes are softer and the heavy bow falls on strong "
        "beats.", ChosenIn.HELP,
    ),
    Disagreement(
        "Is the bow square at the tip?", "Always square, or a little skewed for short arms.",
        "Let your hair end where your arm does, or slant on purpose; the page on reach says by how much.",
        ChosenIn.REACH,
    ),
    Disagreement(
        "How is a slur shared out?", "Evenly, or saving hair at its beginning.",
        "A distribution for every stroke or passage; saving is suggested where hair is short.", ChosenIn.HELP,
    ),
    Disagreement(
        "How is a chord bowed?", "Two and two, three together, or one after the other.",
        "A choice of every chord and passage; the bench shows each in time.", ChosenIn.BENCH,
    ),
)  # fmt: skip

HAND_CAUSES = (
    HandCause("Thumb", "A stiff one ties the moment to the grip: tone thickens, changes of bow bump.",
              "Can it bend and straighten while a long note sounds?"),
    HandCause("Little finger", "Round, it carries the frog half; straight or off, the tip of the bow falls in.",
              "Lift the bow off the string at the frog by it alone."),
    HandCause("Depth of the index", "Nearer the tip of the finger: quick and light. Deeper: more moment, slower.",
              "Which joint touches the stick at the tip of the bow?"),
    HandCause("Spacing of the fingers", "Wider levers need less force for the same moment.",
              "Measure thumb to index; it is a number of your rig."),
    HandCause("Knuckles", "Level ones let the fingers spring; sunken ones hand every bump of the arm to the string.",
              "Do small strokes at the frog go without the arm?"),
    HandCause("Shoulder", "Raised, it takes the arm's weight off the stick and tires.",
              "Let it fall during a rest and play on without moving it."),
)  # fmt: skip

CAUTIONS = (
    "Warm up, work in short sets, and rest at least as long as you worked.",
    "Stop on pain, numbness, tingling or weakness, and see a clinician who knows musicians.",
    "A teacher's eye and ear outrank any number here.",
    "Loud practice: mind your hearing.",
    "Loosen the bow after playing, and do not over-tighten it to chase a bounce.",
    "The figures are a model's estimates for typical strings and bows, not a verdict on you.",
)
