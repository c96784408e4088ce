"""What words over the staff do beside tempo, level and manner: pluck, strike, divide, slow down, jump, or nothing."""

import re
from enum import StrEnum
from fractions import Fraction

from pathway.core.technique.dynamic_words import dynamic_of, goes_on
from pathway.core.technique.notation import wording_of
from pathway.core.technique.tempo_words import tempo_word_of
from pathway.core.technique.written_short import goes_on_alike, marks_asked


class SoundedBy(StrEnum):
    """What sounds the string."""

    HAIR = "hair"
    FINGER = "finger"
    WOOD = "wood"


_WOOD = re.compile(
    r"\bcol l(egno|\.)|\bc\. ?l\.|\bavec le (bois|dos)|\bmit (dem )?holz\b|\bwith the wood", re.IGNORECASE
)
_PLUCKED = re.compile(r"\bpizz|\bgezupft|\bpinc[ée]", re.IGNORECASE)
_BOWED = re.compile(r"\b(arco|col arco|bowed|coll.arco|avec l.archet|(mit )?(dem )?bogen)\b", re.IGNORECASE)
_HAIR_AGAIN = re.compile(r"\b(ord(\.|inario)|nat(\.|urale)|gew[öo]hnlich|normale?)(?!\w)", re.IGNORECASE)
_DIVIDED = re.compile(r"(?<!non )\bdiv(\.|isi\b)|\bgeteilt\b|\bdivis[ée]s?\b|\bdivided\b", re.IGNORECASE)
_TOGETHER = re.compile(
    r"\bunis(\.|ono\b|on\b)|\bnon div|\bzusammen\b|\bnicht geteilt|\ba 2\b|\bensemble\b", re.IGNORECASE
)
_SLOWING = re.compile(r"\b(rit|rall|riten|ritard|slargando|allarg|molto rit|c[ée]dez|langsamer werden)", re.IGNORECASE)
_QUICKENING = re.compile(
    r"\b(accel(\.|erando\b)|string(\.|endo\b)|affrett|stretto\b|pressez\b|en pressant|dr[äa]ngend|eilend)",
    re.IGNORECASE,
)
_IN_TIME = re.compile(r"a tempo|tempo (i|primo)\b|au mouvement|im tempo", re.IGNORECASE)
_JUMPS = (
    re.compile(r"\b(d\. ?c\.|da capo|vom anfang)", re.IGNORECASE),
    re.compile(r"\b(d\. ?s\.|dal segno|vom zeichen)", re.IGNORECASE),
    re.compile(r"\b(to coda|alla coda)\b|^\W*al coda\b", re.IGNORECASE),
    re.compile(r"^\W*fine\W*$", re.IGNORECASE),
    re.compile(r"^\W*coda\W*$", re.IGNORECASE),
    re.compile(r"^\W*segno\W*$", re.IGNORECASE),
)
_PLAIN = re.compile(
    r"^\W*(sempre|pi[uù]|meno|molto|poco( a poco)?|assai|trio|var(iation)?\.? ?[\dIVX]*|minore|maggiore|intermezzo|"
    r"introduzione|atta(c|cc)a( subito)?|solo|soli|tutti|fine|v\.? ?s\.?|volti( subito)?|[ivx]+\.?|[a-z]?\d*\.?|bis|"
    r"(1|2|3)(st|nd|rd|a|ª|\.)? ?(time|volta|x)?\.?)\W*$",
    re.IGNORECASE,
)


class Jump(StrEnum):
    """Where the music goes on, or is left."""

    TO_START = "da capo"
    TO_SEGNO = "dal segno"
    LEAVES = "to the coda"  # the second time
    FINE = "fine"
    CODA = "coda"
    SEGNO = "segno"


def hands_asked(text: str) -> SoundedBy | None:
    """Return what sounds the string from here on, None where words do not say."""
    if _WOOD.search(text):
        return SoundedBy.WOOD
    if _PLUCKED.search(text):
        return SoundedBy.FINGER
    return SoundedBy.HAIR if _BOWED.search(text) else None


def ends_wood(text: str) -> bool:
    """Whether words end the wood's part: as usual again; plucking goes on, which only the bow's own words end."""
    return _HAIR_AGAIN.search(text) is not None


def divides(text: str) -> bool | None:
    """Return whether a staff is divided among players from here on, None where words do not say."""
    if _TOGETHER.search(text):
        return False
    return True if _DIVIDED.search(text) else None


def slows(text: str) -> bool:
    """Whether the tempo is held back from here on."""
    return _SLOWING.search(text) is not None


def quickens(text: str) -> bool:
    """Whether the tempo is driven on from here on."""
    return _QUICKENING.search(text) is not None


def in_time(text: str) -> bool:
    """Whether it is no longer held back."""
    return _IN_TIME.search(text) is not None


def jump_of(text: str) -> Jump | None:
    """Return which jump words ask for, or what they mark for one; None where they speak of none."""
    return next((jump for jump, pattern in zip(Jump, _JUMPS, strict=True) if pattern.search(text)), None)


def understood(text: str) -> bool:
    """Whether words do anything to the plan, or have nothing to do with it, so that nobody misses them in it."""
    return (
        wording_of(text, "EADGCFBH") is not None
        or tempo_word_of(text) is not None
        or dynamic_of(text, Fraction(0)) is not None
        or goes_on(text) != 0
        or marks_asked(text) is not None
        or goes_on_alike(text)
        or hands_asked(text) is not None
        or divides(text) is not None
        or slows(text)
        or quickens(text)
        or in_time(text)
        or jump_of(text) is not None
        or _PLAIN.match(text) is not None
    )
