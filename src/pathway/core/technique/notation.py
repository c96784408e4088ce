"""What printed signs and words ask of the bow. Words in English, Italian, French and German."""

import re
from collections.abc import Collection
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.music import Mark
from pathway.core.physics.string import CLOSEST
from pathway.core.technique.stroke_types import STROKE_TYPES, StrokeType
from pathway.core.technique.tempo_words import tempo_word_of

PORTATO_BELOW = 3.5  # notes a second: slower dots under a slur are a portato
_SPICCATO, _SPRINGS = (3.5, 9.0), 13.0  # notes a second at which a dot alone leaves the string; to which it springs
SPICCATO_UP_TO = 4.0  # louder dots stay on it [dB]


class Where(StrEnum):
    """A place on the string that is asked for: a colour, not a dynamic."""

    USUAL = "usual"
    FINGERBOARD = "fingerboard"
    BRIDGE = "bridge"


_ON_FINGERBOARD = (0.85, 1.5, 0.30)  # least and greatest place over the usual furthest one; never beyond this β
_AT_BRIDGE = (0.022, 0.050)  # β


def place_range(where: Where, furthest: float) -> tuple[float, float]:
    """Return the least and greatest β where a tone is asked for.

    Args:
        where: as printed.
        furthest: β before the fingerboard, of the string as it sounds.
    """
    if where is Where.FINGERBOARD:
        low, high, end = _ON_FINGERBOARD
        return min(low * furthest, end), min(high * furthest, end)
    return _AT_BRIDGE if where is Where.BRIDGE else (CLOSEST, furthest)


class Half(StrEnum):
    """A part of the bow that is asked for."""

    ANY = "any"
    FROG = "frog"
    MIDDLE = "middle"
    TIP = "tip"


ZONES = {Half.FROG: (0.03, 0.30), Half.MIDDLE: (0.35, 0.65), Half.TIP: (0.65, 0.97)}  # shares of the hair


@dataclass(frozen=True, slots=True)
class Wording:
    """What printed words change from here on; None leaves a thing as it was."""

    kind: str | None = None  # key of a stroke type; empty ends an earlier word
    where: Where | None = None
    half: Half | None = None
    muted: bool | None = None
    soft: bool | None = None
    string: int | None = None  # counted from the highest, 1; 0 ends it


_KINDS = {
    "running-staccato": r"self-?running staccato|staccato serrato",
    "flying-staccato": r"flying staccato|staccato volante|staccato [àa] recochet|fliegende[rs]? staccato|picch?iettato",
    "ricochet": r"ricochet|jet[ée]\b|gettato|geworfen|saltando|thrown",
    "sautille": r"sautill[ée]|saltellato|springbogen|springender bogen",
    "heavy-spiccato": r"heavy spiccato|spiccato pesante|schweres spiccato|spiccato lourd",
    "spiccato": r"spiccato|off the string|spr[iu]ngend|balzato|leicht geworfen",
    "grand-martele": r"grand martel[ée]",
    "soft-martele": r"soft martel[ée]|martel[ée] doux|poco martellato",
    "martele": r"martel[ée]|martellato|geh[äa]mmert|hammered",
    "colle": r"coll[ée]\b",
    "fouette": r"fouett[ée]|whipped|gepeitscht",
    "broad-detache": r"grand d[ée]tach[ée]|broad d[ée]tach[ée]|large d[ée]tach[ée]|breit gestrichen|largamente"
    r"|tutto l'arco|ganzer bogen|(tout l'|[àa] plein )archet|whole bows?|d'un trait",
    "lance": r"lanc[ée]\b",
    "porte": r"d[ée]tach[ée] port[ée]|port[ée]\b",
    "pulsed-detache": r"pulsed",
    "short-detache": r"short d[ée]tach[ée]|on the string|alla corda|[àa] la corde|an der saite|sulla corda",
    "detache": r"d[ée]tach[ée]|sciolto|gestrichen|separate bows",
    "portato": r"portato|lour[ée]|getragen",
    "sustained": r"sostenuto|sustained|soutenu|gehalten",
    "legato": r"\blegato|gebunden|li[ée]\b",
    "tremolo": r"tremolo|trem\.",
    "rebound": r"rebound|federnd",
}
_HELD, _SEPARATE = "sustained", "detache"  # kinds
_NOT = re.compile(r"\b(non|senza|sans|ohne|nicht|pas|without|not|no|kein)\s+((troppo|zu|trop|too|tanto)\s+)?$")
_NOT_BOUND = r"\b(non|nicht|pas|not)\s+(legato|gebunden|li[ée]\b)"
_NO_TREMOLO = r"\b(non|senza|sans|ohne|without|no)\s+trem"
_ENDS_KIND = r"\b(ord(\.|inario|inary)?|nat(\.|urale)?|normale?|gew[öo]hnlich|modo ordinario)(?!\w)"
_FINGERBOARD = r"sul(la)? tast(o|iera)|flautando|flautato|sur la touche|am griffbrett|on the fingerboard|over the fing"
_BRIDGE = (
    r"sul pont(\.|icello)|\bponticello|(au|sur le|pr[èe]s du) chevalet|am steg|near the bridge|at the bridge|pont\."
)
_FROG = r"al(la)? (tallone|noce)|(au|du) talon|am frosch|at the frog"
_MIDDLE = r"mezz'? ?arco|met[àa] d'arco|milieu de l'archet|mitte des bogens|middle of the bow|in the middle"
_TIP = r"(alla |a )?punta( d'arco)?|(de|[àa]) la pointe|an der spitze|at the (point|tip)"
_MUTED = r"con sord|avec sourd|mit d[äa]mpfer|\bmuted\b|with mute"
_OPEN = r"senza sord|sans sourd|ohne d[äa]mpfer|without mute|mute off|[ôo]tez"
_SOFT = (
    r"\bdol(\.|ce\b|cissimo\b)|sotto voce|mezza voce|\bdoux\b|[àa] mi-?voix|\bzart\b|halber stimme|flauta(nd|t)"
    r"|gently"
)
_ENDS_SOFT = r"\bespr(\.|ess)|\bcantabile\b|\bausdrucksvoll\b|\bexpressif|con (forza|fuoco)|\bmarc(\.|ato)|\bfull tone"
_SUL = re.compile(
    r"(?:sul(?:la)?|sur (?:la|le)|auf (?:der|dem)|on)\s+(?:corde |corda )?"
    r"(?P<name>[A-H]\b|IV|I{1,3}|[Ss]ol|[Rr][ée]|[Ll]a|[Mm]i|[Dd]o|[Uu]t)(?:[- ]?(?:saite|string))?\b"
)
_COUNTED = re.compile(
    r"\b(?:(?P<number>[1-4])\s?(?:a|ª|e|[èe]me|me|\.)?\s?(?:corda|corde|saite|string)\b"
    r"|(?P<roman>IV|I{1,3})(?:a|ª)(?:\s?corda)?(?!\w))"
)
_SUNG = {"sol": "G", "ré": "D", "re": "D", "la": "A", "mi": "E", "do": "C", "ut": "C"}
_ROMAN = {"I": 1, "II": 2, "III": 3, "IV": 4}


def wording_of(text: str, strings: Collection[str]) -> Wording | None:
    """Return what words over the staff ask of the bow, or None if they do not speak of it.

    Args:
        text: the words as printed.
        strings: letters of the open strings, from the lowest.
    """
    low = text.lower()

    def says(pattern: str) -> bool:
        return any(not _NOT.search(low[: found.start()]) for found in re.finditer(pattern, low))

    tempo = tempo_word_of(text) is not None  # whose sostenuto is its character, not a stroke
    kinds = (key for key, pattern in _KINDS.items() if says(pattern) and not (tempo and key == _HELD))
    kind = next(kinds, _SEPARATE if re.search(_NOT_BOUND, low) else None)
    back, steady = says(_ENDS_KIND), re.search(_NO_TREMOLO, low) is not None
    half = Half.FROG if says(_FROG) else Half.TIP if says(_TIP) else Half.MIDDLE if says(_MIDDLE) else None
    where = Where.FINGERBOARD if says(_FINGERBOARD) else Where.BRIDGE if says(_BRIDGE) else None
    found = Wording(
        kind=kind or ("" if back or steady else None),
        where=where or (Where.USUAL if back else None),
        half=half or (Half.ANY if back else None),
        muted=True if says(_MUTED) else False if says(_OPEN) else None,
        soft=True if says(_SOFT) else False if back or says(_ENDS_SOFT) else None,
        string=_string_of(text, list(strings)) or (0 if back else None),
    )
    return None if found == Wording() else found


def _string_of(text: str, letters: list[str]) -> int | None:
    counted = _COUNTED.search(text)
    if counted is not None:
        return int(counted["number"]) if counted["number"] else _ROMAN[counted["roman"]]
    match = _SUL.search(text)
    if match is None:
        return None
    name = _SUNG.get(match["name"].lower(), match["name"])
    if name in _ROMAN:
        return _ROMAN[name]
    return len(letters) - letters.index(name) if letters.count(name) == 1 else None


def type_of(marks: Collection[Mark], notes_in_stroke: int, notes_per_second: float, level_db: float) -> StrokeType:
    """Return the manner the printed signs ask for.

    Args:
        marks: the signs on the stroke's first note.
        notes_in_stroke: how many separate notes the stroke carries.
        notes_per_second: their rate [1/s].
        level_db: against a plain mezzo-forte.
    """
    if not marks:
        return STROKE_TYPES["legato" if notes_in_stroke > 1 else "detache"]
    short = Mark.DOT in marks or Mark.WEDGE in marks
    accented = Mark.ACCENT in marks or Mark.STRONG_ACCENT in marks
    if notes_in_stroke > 1:
        key = "legato"
        if short or Mark.DASH in marks:
            key = "staccato" if short and notes_per_second >= PORTATO_BELOW else "portato"
    elif Mark.WEDGE in marks or (accented and Mark.DOT in marks):
        key = "martele"
    elif Mark.DOT in marks:
        off = _SPICCATO[0] <= notes_per_second <= _SPRINGS and level_db <= SPICCATO_UP_TO and Mark.DASH not in marks
        thrown = "spiccato" if notes_per_second <= _SPICCATO[1] else "sautille"
        quick = notes_per_second > (STROKE_TYPES["short-detache"].most_per_second or 0)
        key = thrown if off else "detache" if quick else "short-detache"
    else:
        key = "porte" if Mark.DASH in marks else "detache"
    return STROKE_TYPES[key]


def at_rate(kind: StrokeType, notes_per_second: float) -> StrokeType:
    """Return what an asked-for manner becomes at a rate: a spiccato too fast to be thrown trembles by itself."""
    thrown = kind.key == "spiccato" and kind.most_per_second is not None
    return STROKE_TYPES["sautille"] if thrown and notes_per_second > (kind.most_per_second or 0) else kind


def contradiction(kind: StrokeType, marks: Collection[Mark], notes_in_stroke: int) -> str | None:
    """Return which sign a worded manner contradicts, or None."""
    if kind.key in {"legato", "sustained"} and {Mark.DOT, Mark.WEDGE} & set(marks):
        return "dots"
    if kind.stops_inside and notes_in_stroke == 1:
        return "separate bows"
    if notes_in_stroke > 1 and not kind.stops_inside and kind.key not in {"legato", "sustained"}:
        return "a slur"
    return None
