"""What words ask for the tempo: usual beats a minute of Italian, French, German and English words, our estimates."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction

MOST_SLOW = 70  # beats a minute: slower words count the eighth in compound time, and the quarter in cut time
COMPOUND = 0.8  # of a word's beats a minute that dotted beats take
_CUT = 0.62  # of a word's quarters a minute that its halves take where the half is the beat
DENIED_FROM = 1.25  # times what a word means: a number further off contradicts it, our choice
MORE, LESS = 1.15, 0.85  # più mosso, meno mosso
_FURTHER, _TAMED = 0.10, 0.06  # what "molto" and "ma non troppo" change, away from and towards the middle [1]
_MIDDLE = 100.0
_DENIED = 0.4  # of the way to the middle, where a word is denied: nicht schnell, non troppo lento [1]
_DENIES = re.compile(r"^\W*(non|nicht|pas|not)\s+((troppo|tanto|zu|trop|too)\s+)?(?P<what>\w.*)$")


class Kind(StrEnum):
    """What a word does to the tempo."""

    SETS = "sets"
    CHANGES = "changes"  # by a factor, from the tempo that holds
    RETURNS = "returns"  # to the tempo before the last change
    FIRST = "first"  # to the tempo of the beginning


@dataclass(frozen=True, slots=True)
class TempoWord:
    """A word that speaks of the tempo."""

    text: str  # as it is printed
    kind: Kind
    beats: float = 0.0  # a minute, for a word that sets it: the usual one, and its range
    low: float = 0.0
    high: float = 0.0
    factor: float = 1.0  # for one that changes it
    slow: bool = False  # so that compound time is felt in its smaller values

    def quarters(self, beat: Fraction, unit: Fraction) -> float:
        """Return the quarters a minute of a word that sets the tempo.

        Args:
            beat: of the meter [quarters]; dotted in compound time.
            unit: the note value that the meter counts [quarters].
        """
        if beat > unit and self.slow:  # slow compound time is felt in its smaller values
            return self.beats * 1.4 * float(unit)
        share = _CUT if beat >= 2 else COMPOUND if beat > unit else 1.0
        return self.beats * share * float(beat)

    def denies(self, quarters: float, beat: Fraction, unit: Fraction) -> bool:
        """Whether a number of quarters a minute is far from all that a word that sets the tempo can mean."""
        if self.kind is not Kind.SETS:
            return False
        slowest, fastest = (replace(self, beats=beats).quarters(beat, unit) for beats in (self.low, self.high))
        return not slowest / DENIED_FROM <= quarters <= fastest * DENIED_FROM


# usual, slowest and fastest, then the words; the first that fits counts, so that longer ones stand before shorter
_SETS: tuple[tuple[tuple[int, int, int], str], ...] = (
    ((200, 184, 220), r"prestissimo"),
    ((176, 168, 200), r"presto|tr[èe]s (vif|vite)|sehr (schnell|rasch|lebhaft)|very (fast|quick)"),
    ((160, 140, 184), r"(tempo di )?(valse|walzer|waltz)\b"),
    ((152, 132, 168), r"vivacissimo|allegrissimo|vivace|\bvif\b|\bvite\b|schnell|\brasch\b|geschwind|\bfast\b|\bquick"),
    ((144, 132, 160), r"allegro (molto|assai|vivace|con (fuoco|brio|spirito))|molto allegro|assai allegro"),
    ((138, 120, 152), r"lebhaft|\blively|\bbrisk|feurig|con brio"),
    ((126, 112, 138), r"munter|\bgai\b|gaiement|anim[ée]|flott|heiter|cheerful"),
    ((116, 104, 126), r"allegro moderato|(tempo di )?(menuett?o?|minuet|menuet)\b"),
    ((108, 96, 116), r"allegretto|bewegt|with motion|moderately fast"),
    ((132, 116, 150), r"allegro|\ball[°o]\b"),
    ((112, 96, 120), r"(tempo di )?(marcia|marche|marsch|march)\b"),
    ((92, 84, 104), r"m[äa](ss|ß)ig|mod[ée]r[ée]|moderato|\bmoderate"),
    ((88, 80, 96), r"andantino"),
    ((80, 69, 92), r"gehend|\bwalking"),
    ((76, 66, 88), r"andante|\ballant"),
    ((66, 60, 72), r"adagietto|ruhig|\bcalm|tranquillo|\bquiet|etwas langsam"),
    ((44, 36, 52), r"adagissimo|larghissimo|tr[èe]s (lent|large)|sehr (langsam|breit)|very slow"),
    ((63, 56, 69), r"larghetto"),
    ((50, 42, 58), r"\blargo\b|\blarge\b|\bbreit\b|\bbroad(ly)?\b"),
    ((40, 34, 48), r"\bgrave(ment)?\b"),
    ((54, 44, 60), r"\blento\b|\blent(ement)?\b|langsam|\bslow"),
    ((58, 50, 72), r"adagio"),
)
_MUCH = r"\b(molto|assai|tr[èe]s|sehr|very)\b"
_NOT_TOO = r"(ma )?non (troppo|tanto)( \w+)?|nicht zu \w+|pas trop \w+|not too \w+"
_LIVELIER = r"con moto|mosso\b|un poco animato"
_CHANGES = (
    (LESS, r"meno (mosso|allegro|vivace|presto)|pi[ùu] (lento|largo|adagio|tranquillo)|weniger bewegt|langsamer|ruhiger"
           r"|moins (vite|vif|anim[ée])|plus (lent|calme)|\bslower|less motion|doppio pi[ùu] lento"),
    (2.0, r"doppio movimento|twice as fast"),
    (MORE, r"pi[ùu] (mosso|allegro|vivo|vivace|presto|animato|moto)|bewegter|schneller|lebhafter"
           r"|plus (vite|vif|anim[ée])|\bfaster|more motion|un poco pi[ùu]$|animando"),
)  # fmt: skip
_VALUES: dict[str, Fraction | int] = {  # of the note signs in words, and of those of the engraver's font [quarters]
    "𝅝": 4, "𝅗𝅥": 2, "♩": 1, "♪": Fraction(1, 2), "𝅘𝅥𝅯": Fraction(1, 4),
    "\ueca2": 4, "\ueca3": 2, "\ueca5": 1, "\ueca7": Fraction(1, 2), "\ueca9": Fraction(1, 4),
}  # fmt: skip
_DOTS = ".·\uecb7"
_EQUATION = re.compile(
    rf"(?P<was>{'|'.join(_VALUES)})\s?(?P<dots_was>[{_DOTS}]*)\s*=\s*(?P<now>{'|'.join(_VALUES)})\s?(?P<dots_now>[{_DOTS}]*)"
)
_FIRST = (
    r"tempo (i\b|1\b|primo|del principio)|erstes tempo|premier mouvement|1er mouv|first tempo|wie (am anfang|zu anfang)"
)
_RETURNS = r"\ba tempo\b|(au|a) mouv(ement|t)|im (alten )?tempo|in tempo\b|l'istesso tempo"


def tempo_word_of(text: str) -> TempoWord | None:
    """Return what printed words ask for the tempo, or None if they do not speak of it."""
    if (equation := _EQUATION.search(text)) is not None:
        return TempoWord(text, Kind.CHANGES, factor=_factor(equation))
    low = text.lower()
    if (
        back := Kind.FIRST if re.search(_FIRST, low) else Kind.RETURNS if re.search(_RETURNS, low) else None
    ) is not None:
        return TempoWord(text, back)
    for factor, pattern in _CHANGES:
        if re.search(pattern, low):
            return TempoWord(text, Kind.CHANGES, factor=factor)
    denied = _DENIES.match(low)
    if denied is not None and (inner := tempo_word_of(denied["what"])) is not None and inner.kind is Kind.SETS:
        beats = round(inner.beats + _DENIED * (_MIDDLE - inner.beats))
        return TempoWord(text, Kind.SETS, beats, min(beats, inner.low), max(beats, inner.high), slow=beats < MOST_SLOW)
    plain = re.sub(_NOT_TOO, " ", low)
    found = next(((beats, match) for beats, pattern in _SETS if (match := re.search(pattern, plain))), None)
    if found is None:
        return None
    usual, least, most = found[0]
    rest = plain.replace(found[1].group(), " ")
    away = 1 if usual > _MIDDLE else -1
    share = _FURTHER * away * bool(re.search(_MUCH, rest)) - _TAMED * away * (plain != low)
    share += _TAMED * bool(re.search(_LIVELIER, rest))
    beats = round(usual * (1 + share))
    return TempoWord(text, Kind.SETS, beats, min(least, beats), max(most, beats), slow=usual < MOST_SLOW)


def _factor(equation: "re.Match[str]") -> float:
    """Return how many times as many quarters a minute there are where a note of before lasts as long as one now."""
    was, now = (
        _VALUES[equation[name]] * (2 - Fraction(1, 2 ** len(equation[f"dots_{name}"]))) for name in ("was", "now")
    )
    return float(now / was)


@dataclass(frozen=True, slots=True)
class Spoken:
    """A tempo that words ask for, or that a number sets, at a place in a part [quarters]."""

    onset: Fraction
    quarters: float  # a minute
    word: str = ""  # as printed; empty where a number stands


def spoken_tempi(
    numbers: Iterable[tuple[Fraction, float]],
    words: Iterable[tuple[Fraction, TempoWord, Fraction, Fraction]],
    assumed: float,
) -> Iterator[Spoken]:
    """Yield the tempi of a part in order; where a number stands the words beside it say nothing more.

    Args:
        numbers: onset and quarters a minute of every mark with a number.
        words: onset, the word, the beat and the counted unit of the meter there [quarters].
        assumed: quarters a minute that hold before anything is said.
    """
    marks = {onset: Spoken(onset, quarters) for onset, quarters in numbers}
    spoken = {onset: (word, beat, unit) for onset, word, beat, unit in words if onset not in marks}
    first = settled = now = assumed
    begun = False
    for onset in sorted({*marks, *spoken}):
        if onset in marks:
            mark = marks[onset]
            now = settled = mark.quarters
        else:
            word, beat, unit = spoken[onset]
            if word.kind is Kind.SETS:
                now = settled = word.quarters(beat, unit)
            elif word.kind is Kind.CHANGES:
                now = word.factor * now
            else:
                now = first if word.kind is Kind.FIRST else settled
            mark = Spoken(onset, now, word.text)
        if not begun:
            first, begun = now, True
        yield mark
