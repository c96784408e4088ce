"""What helps, in a player's words, and what it does to the findings near it."""

from collections.abc import Mapping, Sequence

from pathway.core.guide.speech import PLAIN, Speech

_TEXT = ", other than printed"  # what changes the text is called so
_LINES = {
    "unlock": "Leave the stroke at {place}, to the plan again",
    "unlock-all": "Leave these {count} notes to the plan again",
    "split": "Begin a new bow at {place}" + _TEXT,
    "as-proposed": "Change the bow at {place}, as proposed",
    "join": "Slur it to the note before" + _TEXT,
    "hook": "Hook it: go on in the same direction after a stop" + _TEXT,
    "retake": "Lift and set the bow again before it",
    "change": "Stay on the string and turn the bow",
    "turn": "Begin it on the {bow}",
    "as-before": "Bow it as in bar {bar}",
    "as-here": "Bow bar {bar} as it is here",
    "type": "Play {manner}",
    "lead": "Let the {voice} voice lead",
    "gap": "Let the long note end early: {manner}",
    "ending-stopped": "Stop the note before it sooner",
    "ending-lifted": "Lift the note before it sooner",
    "profile-save": "Save: open slowly and keep the hair for its second half",
    "profile-spend": "Spend: load the beginning and let it run out",
    "accents": "Shape it by accents: load each long note and stop it, the short one quick",
    "stops": "Stop each long note before its short one",
    "place": "Play it {way} nearer the {side}",
    "bow-less": "Bow less: end where {way} are left",
    "arrive": "Arrive where the repeat begins",
    "lane-in": "Play it {lanes} {lane_word} nearer the bridge",
    "lane-out": "Play it {lanes} {lane_word} nearer the fingerboard",
    "heavier": "Give it {weight} more",
    "lighter": "Take {weight} off",
    "tilt": "Tilt {degrees}° more: a softer spring, a lower flight",
    "flatten": "Flatten the stick by {degrees}°",
    "softer": "Play it {db} dB softer",
    "mean": "Mean it {db} dB louder than it is written",
    "louder": "Play it {db} dB louder",
    "colour": "Give it a {colour} tone",
    "apart": "Leave a third of each note silent",
    "tempo": "Take it at {bpm} a minute",
    "string": "Play it on the {string} string",
    "string-there": "Play the note at {place} on the {string} string",
    "stay": "Keep it on the {string} string, on purpose",
    "hand": "Begin with {finger} in {position} on the {string} string",
    "hand-open": "Begin on the open {string} string",
    "hand-harmonic": "As it is, with a harmonic on the {string} string",
    "octave": "Play {pitch} {octaves}",
    "voicing": "Play {easier} instead",
    "tuning": "Tune the {string} string to {pitch}, in the whole piece",
}


def help_text(way: str, facts: Mapping[str, str], say: Speech = PLAIN) -> str:
    """Return a help in a player's words.

    Args:
        way: in which it helps.
        facts: place, bow, voice, string, tempo; the key of a manner; a way [m], a weight [N].
        say: how the player is told names.
    """
    told: dict[str, object] = {}
    if "type" in facts:
        told["manner"] = say.manner(facts["type"])
    if "m" in facts:
        told["way"] = say.length(float(facts["m"]))
    if "n" in facts:
        told["weight"] = say.weight(float(facts["n"]))
    if "lanes" in facts:
        told["lane_word"] = "lane" if facts["lanes"] == "1" else "lanes"
    return _LINES[way].format(**facts, **told)


def everywhere_text(places: int) -> str:
    """Return what is told after a help that is taken at several like places."""
    return f", here and at {places - 1} more place{'s' if places > 2 else ''} like it" if places > 1 else ""


def effect_text(lowers: bool, brings: Sequence[str]) -> str:
    """Return what a help does: to the finding it is for, and which other ones it brings."""
    gone = "lowers it" if lowers else "removes it"
    return f"{gone}; brings {', '.join(brings)} near it" if brings else gone
