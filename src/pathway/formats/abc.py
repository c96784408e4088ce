"""ABC: the tunes of a book and the voices of a tune, each as a text by itself that the engraver reads rightly.

The engraving library knows neither voices nor keys that change inside a tune: it lays the one end to end and passes
over the other. So voices are taken apart here, and in another key the notes are given the accidentals that it means.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from pathway.core.technique.fingers import finger_named

_FIELD = re.compile(r"^([A-Za-z+]):\s*(.*)$")
_TOKEN = re.compile(
    r"(?P<text>\"[^\"\n]*\"|![^!\n]*!|\+[^+\n]*\+|%.*|\\\n|\[[A-Za-z]:[^\]\n]*\])"
    r"|(?P<bar>\|[:|\]]?|\[\||:\||::)"
    r"|(?P<accidental>\^{1,2}|_{1,2}|=)?(?P<note>[A-Ga-g])(?P<octave>[,']*)"
)
_KEY = re.compile(r"^\s*([A-G])([#b♯♭]?)\s*(maj|min|mix|dor|phr|lyd|loc|aeo|ion|m(?![a-z]))?", re.IGNORECASE)
_OWN = re.compile(r"(?<![\w=])(\^{1,2}|_{1,2}|=)([a-gA-G])")
_FIFTHS = {"F": -1, "C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5}
_MODES = {
    "maj": 0,
    "ion": 0,
    "": 0,
    "mix": -1,
    "dor": -2,
    "m": -3,
    "min": -3,
    "aeo": -3,
    "phr": -4,
    "loc": -5,
    "lyd": 1,
}
_SHARPS = "FCGDAEB"
_MAJOR = ("Cb", "Gb", "Db", "Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#")  # from seven flats on
_ENDS = re.compile(r"[|:\]]\s*(%.*)?$")
_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_SIGN = {2: "^^", 1: "^", 0: "=", -1: "_", -2: "__"}
_DOUBLE = {"^^", "__"}
_ALTERS = {sign: alter for alter, sign in _SIGN.items()}
_NAME = re.compile(r"(?:name|nm)=\"?([^\"]*?)(?:\"|\s\w+=|$)")
_CLEF = re.compile(r"clef=([\w+-]+)|\b(bass|alto|tenor)\b")
_NUMBER = re.compile(r"^\s*(\d{1,4})\s*$")
_NO_METERS = re.compile(r"^M:\s*(none)?\s*$", re.IGNORECASE)
_REKEYED = "The key changes inside the tune; from there on the notes are written with their accidentals."
_NO_METER = "The tune has no time signature; its bars are counted in quarters."
_A_FINGER = 3  # letters of such a sign: !1!
_ALL = ""  # the voice of a tune that names none
MOST_TUNES = 2_000


@dataclass(frozen=True, slots=True)
class AbcVoice:
    """One voice of one tune, as a tune of its own."""

    title: str
    name: str
    text: str
    notes: int
    lowest: int | None  # pitch that is written, without its accidental
    clef: str  # letter of its sign
    told: tuple[str, ...]  # what had to be decided
    fingers: tuple[tuple[int, int], ...] = ()  # number of a note and the finger over it

    @property
    def tempo_printed(self) -> bool:
        """Whether it says how fast it goes."""
        return re.search(r"(?m)^Q:|\[Q:", self.text) is not None


@dataclass(slots=True)
class _Tune:
    header: list[str] = field(default_factory=list)
    voices: dict[str, list[str]] = field(default_factory=dict)
    told: dict[str, str] = field(default_factory=dict)  # what the tune says of its voices
    without_meter: bool = False


def voices_of(text: str) -> list[AbcVoice]:
    """Return the voices of all tunes of a file, in order."""
    found: list[AbcVoice] = []
    for lines in _tunes(text.replace("\r\n", "\n").replace("\r", "\n").split("\n"))[:MOST_TUNES]:
        tune = _taken_apart(lines)
        found += [_voice(tune, id_) for id_ in tune.voices]
    return found


def _tunes(lines: list[str]) -> list[list[str]]:
    """Return the lines of every tune; what stands before the first holds for all."""
    starts = [i for i, line in enumerate(lines) if line.startswith("X:")]
    if not starts:
        return [lines]
    shared = [line for line in lines[: starts[0]] if line[:2] in {"M:", "L:", "Q:"}]
    ends = [*starts[1:], len(lines)]
    return [[lines[start], *shared, *lines[start + 1 : end]] for start, end in zip(starts, ends, strict=True)]


def _taken_apart(lines: list[str]) -> _Tune:
    tune, at, opened = _Tune(), _ALL, False
    for line in lines:
        known = _FIELD.match(line)
        if known and known[1] == "V":
            at, _, told = known[2].strip().partition(" ")
            tune.told[at] = f"{tune.told.get(at, '')} {told}".strip()
            continue
        if not opened:
            tune.without_meter = tune.without_meter or bool(_NO_METERS.match(line))
            tune.header.append(_header_line(line, known))
            opened = bool(known and known[1] == "K")
            at = _ALL if opened else at
            continue
        if known and known[1] in "wWsNHORrZBDFGSTIPmU+":
            continue
        named = re.match(r"^\s*\[V:\s*([^\]\s]+)[^\]]*\]", line)
        if named:
            at, line = named[1], line[named.end() :]  # noqa: PLW2901 - the rest of it
        if line.strip() and not line.startswith("%"):
            tune.voices.setdefault(at, []).append(line)
    shared = tune.voices.pop(_ALL, None) if len(tune.voices) > 1 else None
    if shared and not any(_notes_in("\n".join(shared))):
        tune.voices = {id_: [*shared, *own] for id_, own in tune.voices.items()}
    elif shared:
        tune.voices = {_ALL: shared, **tune.voices}
    return tune


def _header_line(line: str, known: "re.Match[str] | None") -> str:
    """Return a line of a header as it is read: a tempo that is a number alone is one of quarters."""
    number = _NUMBER.match(known[2]) if known and known[1] == "Q" else None
    if _NO_METERS.match(line):
        return "M:4/4"
    return f"Q:1/4={number[1]}" if number else line


def _voice(tune: _Tune, id_: str) -> AbcVoice:
    header, told = list(tune.header), tune.told.get(id_, "")
    title = next((line[2:].strip() for line in header if line.startswith("T:")), "")
    keys = [i for i, line in enumerate(header) if line.startswith("K:")]
    clef = _CLEF.search(told)
    plain, first = "C", _alters("C")
    if keys:
        key = header[keys[-1]][2:]
        plain, clef, first = _plain(key), _CLEF.search(key) or clef, _alters(key)
        header[keys[-1]] = f"K:{plain}" + (f" clef={clef[1] or clef[2]}" if clef else "")
    name = _NAME.search(told)
    body, rekeyed = _rekeyed("\n".join(tune.voices[id_]), _alters(plain), first)
    pitches = list(_notes_in(body))
    told_of = (*([_REKEYED] * rekeyed), *([_NO_METER] * tune.without_meter))
    whole = "\n".join([*header, body.rstrip()])
    whole += "\n" if _ENDS.search(whole) else " |]\n"  # a bar without its line would not be read
    named = " ".join(name[1].split()) if name else (f"Voice {id_}" if id_ else "")
    sign = (clef[1] or clef[2] or "")[:1].upper() if clef else "G"
    letter = {"T": "C" if clef and (clef[1] or clef[2]) == "tenor" else "G", "B": "F", "A": "C"}.get(sign, sign)
    return AbcVoice(
        title, named, whole, len(pitches), min(pitches, default=None), letter, told_of, tuple(_fingers_in(body))
    )


def _notes_in(body: str) -> Iterator[int]:
    """Yield the written pitches of a body."""
    for token in _TOKEN.finditer(body):
        if token["note"]:
            high = token["note"].islower()
            octave = 5 + high + token["octave"].count("'") - token["octave"].count(",")
            yield 12 * octave + _STEPS[token["note"].upper()]


def _fingers_in(body: str) -> Iterator[tuple[int, int]]:
    """Yield the numbers of the notes that have a finger over them, with the finger."""
    number, finger = 0, None
    for token in _TOKEN.finditer(body):
        if token["note"]:
            if finger is not None:
                yield number, finger
            number, finger = number + 1, None
        elif token["text"] and token["text"][0] == token["text"][-1] == "!":
            finger = finger_named(token["text"].strip("!")) if len(token["text"]) == _A_FINGER else finger


def _fifths(key: "re.Match[str]") -> int:
    """Return how many sharps a key has; flats are below 0."""
    sign = {"#": 7, "♯": 7, "b": -7, "♭": -7}.get(key[2], 0)
    return max(-7, min(_FIFTHS[key[1].upper()] + sign + _MODES.get((key[3] or "").lower(), 0), 7))


def _plain(key: str) -> str:
    """Return a key as a major one with the same signs: the engraver knows few other names of it."""
    found = _KEY.match(key)
    return _MAJOR[_fifths(found) + 7] if found else "C"


def _alters(key: str) -> dict[str, int]:
    """Return what a key does to each letter."""
    found = _KEY.match(key)
    alters = dict.fromkeys(_SHARPS, 0)
    if found:
        fifths = _fifths(found)
        letters = _SHARPS[: max(fifths, 0)] + _SHARPS[::-1][: max(-fifths, 0)]
        alters |= dict.fromkeys(letters, 1 if fifths > 0 else -1)
    alters |= {own[2].upper(): _ALTERS[own[1]] for own in _OWN.finditer(key)}
    return alters


def _rekeyed(body: str, read: dict[str, int], now: dict[str, int]) -> tuple[str, bool]:
    """Return a body with accidentals where a key means what it is not read as; and whether keys change in it.

    Args:
        body: of a voice.
        read: what the engraver takes its key for.
        now: what the key at its beginning means.
    """
    out, at, written, changed = list[str](), 0, dict[str, str](), False
    lines = re.sub(r"(?m)^K:\s*(.*)$", r"[K:\1]", body)
    lines = re.sub(r"(?m)^([MLQ]):\s*(.*)$", r"[\1:\2]", lines)
    for token in _TOKEN.finditer(lines):
        out.append(lines[at : token.start()])
        at, text = token.end(), token[0]
        if text.startswith("[K:"):
            if _KEY.match(text[3:]):
                now = _alters(text[3:-1])
            changed, text = True, ""
        elif token["bar"]:
            written.clear()
        elif token["note"]:
            letter, place = token["note"].upper(), token["note"] + token["octave"]
            if token["accidental"]:
                written[place] = token["accidental"]
            elif place in written:
                text = (
                    written[place] if written[place] in _DOUBLE else ""
                ) + text  # which is not held to the bar's end
            elif now[letter] != read[letter]:
                text = _SIGN[now[letter]] + text
        out.append(text)
    whole = "".join([*out, lines[at:]])
    return "\n".join(line for line in whole.split("\n") if line.strip()), changed  # an empty one would end the tune
