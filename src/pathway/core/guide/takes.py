"""What is told of a take: words of single notes, groups, and the three lines at its top."""

from collections.abc import Mapping

from pathway.core.guide.speech import PLAIN, Speech

_WORDS: Mapping[str, tuple[str, str]] = {  # one, several
    "missed": ("is not heard", "are not heard"),
    "wrong note": ("is another pitch", "are other pitches"),
    "rough": ("is rough, without a clear pitch", "are rough, without a clear pitch"),
    "airy": ("is soft and noisy", "are soft and noisy"),
    "sticks out": ("sticks out", "stick out"),
    "thins out": ("thins towards its end", "thin towards their end"),
    "late": ("comes late", "come late"),
}
ABOUT: Mapping[str, str] = {  # what a word may come from, as a hint
    "airy": "too little weight, too fast, or too far from the bridge: which cannot be heard",
    "sticks out": "a faster bow, or the string's own answer",
    "thins out": "hair that runs short",
    "late": "a start that gathers too slowly",
    "rough": "more weight than the place bears",
}
_BOWS = {"direction": ("down-bows", "up-bows"), "accents": ("accents on down-bows", "those on up-bows")}
PAIRS = {"direction": "pairs", "accents": "of each"}
NOTHING_TO_DO = "Nothing: what came out is what was planned."


def found_text(found: int, count: int, tempo: float, cents: float) -> str:
    """Return what is as planned."""
    pace = "at the plan's tempo" if abs(tempo - 1) < 0.02 else f"at {100 * tempo:.0f} % of the plan's tempo"
    tune = f", in tune within {cents:.0f} cents" if cents == cents else ""  # noqa: PLR0124 - nan is not itself
    return f"{found} of {count} notes were found {pace}{tune}."


def word_text(word: str, count: int, bars: list[str]) -> str:
    """Return how many notes have a word, and where."""
    one, several = _WORDS[word]
    told = ", ".join(bars[:4]) + (" and others" if len(bars) > 4 else "")
    where = f"in bar{'s' * (len(bars) > 1)} {told}"
    return f"{count} notes {several}, {where}." if count > 1 else f"One note {one}, {where}."


def group_text(kind: str, name: str, mean: float, error: float, count: int) -> str:
    """Return how one kind of notes differs from another one, or from all."""
    by = f"{abs(mean):.1f} ± {error:.1f} dB"
    if kind in _BOWS:
        louder, softer = _BOWS[kind] if mean > 0 else _BOWS[kind][::-1]
        return f"{louder[0].upper()}{louder[1:]} are {by} louder than {softer}, over {count} {PAIRS[kind]}."
    where = f"The {name} string is" if kind == "string" else f"In the {name} of the hair you are"
    return f"{where} {by} {'louder' if mean > 0 else 'softer'} against the others than planned ({count} notes)."


def tempo_text(tempo: float) -> str:
    """Return what is said of another tempo that was played."""
    return f"Plan it at {tempo:g}, as you played"


def answer_text(string: str, by: float) -> str:
    """Return what is said of a string that is louder or softer than its weight says."""
    return f"Let the rig know that the {string} string is {abs(by):g} dB {'louder' if by > 0 else 'softer'}"


def accents_text(bow: str, count: int) -> str:
    """Return what is said of accents that come out on one bow only."""
    return f"Put {count} more accent{'s' * (count != 1)} on {bow}s"


def rate_text(bow: str, rate: float, wanted: float) -> str:
    """Return what is said of a staccato in one bow that has a rate of its own."""
    return f"Your own staccato on {bow}s: {rate:.1f} a second, where {wanted:.1f} were asked"


def stretch_text(last: float, count: int, say: Speech = PLAIN) -> str:
    """Return what is said of hair up to a place [m], beyond which the tone thins out."""
    return f"Use the hair up to {say.length(last)} only: {count} notes thinned out beyond it"
