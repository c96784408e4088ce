"""What of a page says something that no plan listens to: words, signs and elements, each with the bars it stands in."""

from collections.abc import Iterable, Iterator

from lxml import etree

from pathway.core.music import Unread
from pathway.core.technique.directions import understood
from pathway.formats.mei_elements import NS, local, text_of

_HEARD = {  # of MEI, beside the notes: read, or drawn and without a meaning for the bow
    "staff", "layer", "dynam", "dir", "tempo", "fermata", "slur", "tie", "hairpin", "reh", "fing", "octave", "ending",
    "repeatMark", "mNum", "beamSpan", "tupletSpan", "annot", "ossia", "oStaff", "oLayer", "lv", "phrase", "sb", "pb",
    "cb", "barLine", "meterSig", "keySig", "clef", "scoreDef", "staffDef", "staffGrp", "fig", "fb",
}  # fmt: skip
_TOLD = {
    "trill": "trill", "mordent": "mordent", "turn": "turn", "arpeg": "arpeggio sign", "gliss": "glissando",
    "breath": "breath mark", "caesura": "caesura", "pedal": "pedal", "bracketSpan": "bracket", "harm": "chord symbol",
    "ornam": "ornament", "bend": "bend", "verse": "lyrics", "syl": "lyrics",
}  # fmt: skip
_IN_NOTES = {"verse"}
_ARTICS = {
    "stacc", "ten", "stacciss", "spicc", "acc", "acc-soft", "marc", "dnbow", "upbow", "harm", "open", "snap", "lhpizz",
    "stop",
}  # fmt: skip
_READ = {  # of MusicXML: what the engraver hands on, or what is read here
    "words", "dynamics", "wedge", "metronome", "rehearsal", "segno", "coda", "dashes", "octave-shift", "bracket",
    "pedal", "scordatura", "harp-pedals",
    "tied", "slur", "tuplet", "articulations", "technical", "ornaments", "fermata", "arpeggiate", "non-arpeggiate",
    "accidental-mark", "glissando", "slide",
    "staccato", "tenuto", "accent", "strong-accent", "staccatissimo", "spiccato", "detached-legato", "soft-accent",
    "breath-mark", "caesura", "up-bow", "down-bow", "fingering", "string", "harmonic", "open-string", "thumb-position",
    "stopped", "snap-pizzicato", "tremolo", "trill-mark", "wavy-line", "turn", "delayed-turn", "inverted-turn",
    "mordent", "inverted-mordent",
}  # fmt: skip
_GROUPS = {"articulations", "technical", "ornaments"}
_SAID = 60  # letters of words that are told


def unread_in(root: etree._Element) -> Iterator[tuple[str, str]]:
    """Yield what is said in the bars of an MEI part and not listened to, with the bar."""
    for index, bar in enumerate(root.iter(f"{NS}measure"), start=1):
        number = bar.get("n") or str(index)
        for node in bar.iter():
            kind = local(node)
            if kind in {"dir", "tempo", "dynam"}:
                text = text_of(node)
                if text and not understood(text):
                    yield f"“{text[:_SAID]}”", number
            elif kind == "artic":
                yield from ((_name(sign), number) for sign in (node.get("artic") or "").split() if sign not in _ARTICS)
            elif kind in _TOLD or (node.getparent() is bar and kind and kind not in _HEARD):
                yield _TOLD.get(kind, _name(kind)), number


def unread_in_xml(part: etree._Element) -> Iterator[tuple[str, str]]:
    """Yield what the engraver drops of a MusicXML part, with the bar."""
    for index, bar in enumerate(part.findall("measure"), start=1):
        number = bar.get("number") or str(index)
        for group in (*bar.iter("direction-type"), *bar.iter("notations"), *bar.iter(*_GROUPS)):
            yield from (
                (_name(node.tag), number) for node in group if isinstance(node.tag, str) and node.tag not in _READ
            )


def told_once(found: Iterable[tuple[str, str]]) -> tuple[Unread, ...]:
    """Return what was found, each thing once with all its bars, in the order of the page."""
    bars: dict[str, list[str]] = {}
    for what, bar in found:
        bars.setdefault(what, []).append(bar)
    return tuple(Unread(what, tuple(dict.fromkeys(numbers))) for what, numbers in bars.items())


def _name(tag: str) -> str:
    return tag.replace("-", " ").replace("_", " ")
