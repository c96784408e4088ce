"""What dynamic signs and words ask for: levels, accents, steps, and changes that go on. Levels in dB, our estimates."""

import re
from fractions import Fraction

from pathway.core.music import DYNAMIC_LEVELS, Dynamic

DYNAMIC_STEP = 4.0  # more or less of a sound [dB]
SUDDEN, HARDER = 6.0, 9.0  # an accent on top of the level, and one with another letter [dB]
REINFORCED = 4.0  # rf, rfz [dB]
_STRONGEST = {"pppp": "ppp", "ffff": "fff"}
_TOKENS = re.compile(r"(?<![\w.])(p{1,4}|f{1,4}|mp|mf|pf)(?![\w'’])(?!\.\s*\d)")
_SIGN = re.compile(r"^(?P<accent>s?f{1,3}z?|rfz?|mf|fz)?(?P<after>p{1,4}|mp)?$")
_ACCENTS = {"sf": SUDDEN, "sfz": SUDDEN, "fz": SUDDEN, "sff": HARDER, "sffz": HARDER, "ffz": HARDER} | dict.fromkeys(
    ("rf", "rfz"), REINFORCED
)
_MORE = re.compile(r"\b(pi[ùu]|plus|etwas|mehr|un poco pi[ùu])\s+(f|forte|fort|laut(er)?)\b", re.IGNORECASE)
_LESS = re.compile(r"\b(meno|moins|weniger)\s+(f|forte|fort|laut)\b", re.IGNORECASE)
_SOFTER = re.compile(r"\b(pi[ùu]|plus|noch)\s+(p|piano|doux|leise(r)?)\b|\bleiser\b", re.IGNORECASE)
_LOUDER = re.compile(r"\b(meno|moins|weniger)\s+(p|piano|doux|leise)\b|\blauter\b", re.IGNORECASE)
_SPELLED = (
    (re.compile(r"\bmezzo[ -]?forte\b", re.IGNORECASE), "mf"),
    (re.compile(r"\bmezzo[ -]?piano\b", re.IGNORECASE), "mp"),
    (re.compile(r"\bfortissimo\b", re.IGNORECASE), "ff"),
    (re.compile(r"\bpianissimo\b", re.IGNORECASE), "pp"),
    (re.compile(r"\bforte\b", re.IGNORECASE), "f"),
    (re.compile(r"\bpiano\b", re.IGNORECASE), "p"),
)
_GROWS = re.compile(r"\b(cres(\.|c\.|cendo\b|c\b)|rinforzando\b|anwachsend\b|augmentez\b)", re.IGNORECASE)
_FADES = re.compile(
    r"\b(dim(\.|inuendo\b|in\.|\b)|decr(\.|esc\.?|escendo\b)|mor(endo\b|\.)|cal(ando\b|\.)|smor(\.|z\.|zando\b|\b)|"
    r"mancando\b|per(d?en)?d(o|osi|endosi)\b|perd\.|abnehmend\b|verklingend\b|diminuez\b|en diminuant\b)",
    re.IGNORECASE,
)
_NOT = re.compile(r"\b(non|senza|sans|ohne|nicht|without|no)\s+$", re.IGNORECASE)


def dynamic_of(text: str, onset: Fraction) -> Dynamic | None:
    """Return the dynamic that a printed sign or word means; None where it means none.

    A sign such as fp has a start and a level after it: it starts at f and is p. An accent alone leaves the level.
    """
    said = text.strip().lower().rstrip(".").replace(" ", "")
    plain = _STRONGEST.get(said, said)
    if plain in DYNAMIC_LEVELS:
        return Dynamic(onset, DYNAMIC_LEVELS[plain])
    sign = _SIGN.match(said) if said else None
    if sign is not None and sign["accent"]:
        return _accented(sign["accent"], sign["after"], onset)
    return _worded(text, onset)


def _accented(accent: str, after: str | None, onset: Fraction) -> Dynamic:
    """Return an accent, and the level after it where one is written."""
    level = DYNAMIC_LEVELS[_STRONGEST.get(after, after)] if after else None
    if accent in DYNAMIC_LEVELS:  # fp, ffp, mfp: how loud it starts is written
        return Dynamic(onset, level, start_db=DYNAMIC_LEVELS[accent])
    if level is None:
        return Dynamic(onset, None, accent_db=_ACCENTS.get(accent, SUDDEN))
    start = DYNAMIC_LEVELS["ff" if _ACCENTS.get(accent, SUDDEN) >= HARDER else "f"] + DYNAMIC_STEP / 2
    return Dynamic(onset, level, start_db=start)


def _worded(text: str, onset: Fraction) -> Dynamic | None:
    """Return what words ask for at once: a level among them, or more or less of what is."""
    for pattern, step in (
        (_MORE, DYNAMIC_STEP),
        (_LESS, -DYNAMIC_STEP),
        (_SOFTER, -DYNAMIC_STEP),
        (_LOUDER, DYNAMIC_STEP),
    ):
        if pattern.search(text):
            return Dynamic(onset, None, step_db=step)
    token = _TOKENS.search(text)
    if token is not None and token[1] in DYNAMIC_LEVELS | _STRONGEST:
        return Dynamic(onset, DYNAMIC_LEVELS[_STRONGEST.get(token[1], token[1])])
    found = next((sign for pattern, sign in _SPELLED if pattern.search(text)), None)
    return Dynamic(onset, DYNAMIC_LEVELS[found]) if found else None


def goes_on(text: str) -> int:
    """Return whether words ask for a sound that grows (+1) or fades (−1) from here on; 0 for neither."""
    for pattern, sign in ((_GROWS, 1), (_FADES, -1)):
        found = pattern.search(text)
        if found and not _NOT.search(text[: found.start()]):
            return sign
    return 0
