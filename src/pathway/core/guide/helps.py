"""What helps, in a player's words, and what it does to the findings near it."""

from collections.abc import Mapping, Sequence

from pathway.core.guide.speech import PLAIN, Speech

_LINES = {
    "unlock": "Leave the stroke at {place}, to the plan again",
    "split": "Begin a new bow at {place}",
    "as-proposed": "Change the bow at {place}, as proposed",
    "join": "Slur it to the note before",
    "hook": "Hook it: go on in the same direction after a stop",
    "retake": "Lift and set the bow again before it",
    "change": "Stay on the string and turn the bow",
    "turn": "Begin it on the {bow}",
    "type": "Play {manner}",
    "lead": "Let the {voice} voice lead",
    "gap": "Let the long note end early: {manner}",
    "softer": "Play it {db} dB softer",
    "tempo": "Take it at {bpm} a minute",
    "string": "Play it on the {string} string",
    "octave": "Play {pitch} {octaves}",
    "tuning": "Tune the {string} string to {pitch}, in the whole piece",
}


def help_text(way: str, facts: Mapping[str, str], say: Speech = PLAIN) -> str:
    """Return a help in a player's words.

    Args:
        way: in which it helps.
        facts: place, bow, voice, string, tempo; the key of a manner.
        say: how the player is told names.
    """
    names = {"manner": say.manner(facts["type"])} if "type" in facts else {}
    return _LINES[way].format(**facts, **names)


def effect_text(lowers: bool, brings: Sequence[str]) -> str:
    """Return what a help does: to the finding it is for, and which other ones it brings."""
    gone = "lowers it" if lowers else "removes it"
    return f"{gone}; brings {', '.join(brings)} near it" if brings else gone
