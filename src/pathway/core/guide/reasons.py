"""Why a stroke is as it is, in a line for each reason."""

from pathway.core.guide.speech import PLAIN, Speech

_LINES = {
    "set": "{bow}: you set it",
    "printed": "{bow}: printed in the part",
    "chord": "a chord: {bow}",
    "accent": "an accent: {bow}",
    "phrase": "begins a phrase: {bow}",
    "first beat": "first beat: {bow}",
    "strong beat": "strong beat: {bow}",
    "upbeat": "leads into the next bar: {bow}",
    "weak entry": "comes in on a weak beat: {bow}",
    "as before": "this phrase returns: {bow} as before",
    "run kept": "a run of long and short keeps one way",
    "grows": "grows: {bow}",
    "fades": "fades: {bow}",
    "against the beat": "against the beat, to keep the bows around it even",
    "easy way": "crosses the easy way round",
    "hook": "hooked: a turn here would have to give back too much hair",
    "hooked pair": "hooked: the short note goes with the long one",
    "retake in a rest": "comes back {length} in the rest",
    "retake": "comes back {length} in time taken from the note before",
    "hair set": "its hair is as you set it",
    "hair ends": "saves hair: the hair ends there",
    "hair needed": "saves hair: the bows after it need the hair",
    "hair given back": "takes more hair than its time, to come back from the end",
    "at home": "lies where this way of playing is at home",
    "nearer the frog": "lies {length} nearer the frog than it would by itself: the bows around it ask for it",
    "nearer the tip": "lies {length} nearer the tip than it would by itself: the bows around it ask for it",
}


def reason_text(code: str, bow: str, way: float, say: Speech = PLAIN) -> str:
    """Return a reason in a player's words.

    Args:
        code: of the reason.
        bow: what the rig calls the stroke's direction.
        way: along the hair [m], where the reason has one.
        say: how the player is told lengths.
    """
    return _LINES[code].format(bow=bow, length=say.length(way))
