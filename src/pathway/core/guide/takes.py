"""What is told of a take: words of single notes, groups, and the three lines at its top."""

from collections.abc import Mapping

WORDS: Mapping[str, tuple[str, str]] = {  # one, several
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
NOTHING = "Nothing: what came out is what was planned."


def found_text(found: int, count: int, tempo: float, cents: float) -> str:
    """Return what is as planned."""
    pace = "at the plan's tempo" if abs(tempo - 1) < 0.02 else f"at {100 * tempo:.0f} % of the plan's tempo"
    tune = f", in tune within {cents:.0f} cents" if cents == cents else ""  # noqa: PLR0124 - nan is not itself
    return f"{found} of {count} notes were found {pace}{tune}."


def word_text(word: str, count: int, bars: list[str]) -> str:
    """Return how many notes have a word, and where."""
    one, several = WORDS[word]
    told = ", ".join(bars[:4]) + (" and others" if len(bars) > 4 else "")
    where = f"in bar{'s' * (len(bars) > 1)} {told}"
    return f"{count} notes {several}, {where}." if count > 1 else f"One note {one}, {where}."


def direction_text(mean: float, error: float, count: int) -> str:
    """Return how down-bows differ from up-bows."""
    louder, softer = ("Down-bows", "up-bows") if mean > 0 else ("Up-bows", "down-bows")
    return f"{louder} are {abs(mean):.1f} ± {error:.1f} dB louder than {softer}, over {count} pairs."


def string_text(name: str, mean: float, error: float, count: int) -> str:
    """Return how a string differs from the others."""
    way = "louder" if mean > 0 else "softer"
    return (
        f"The {name} string is {abs(mean):.1f} ± {error:.1f} dB {way} against the others than planned ({count} notes)."
    )
