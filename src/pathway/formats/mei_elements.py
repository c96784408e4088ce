"""Single elements of MEI: what they last, which signs they carry, how they sound."""

import math
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from lxml import etree

from pathway.core.music import Head, Mark, TempoMark
from pathway.core.technique.fingers import finger_named

NS = "{http://www.music-encoding.org/ns/mei}"
XML_ID = "{http://www.w3.org/XML/1998/namespace}id"
STEPS = {"c": 0, "d": 2, "e": 4, "f": 5, "g": 7, "a": 9, "b": 11}
_ALTER = {"s": 1, "f": -1, "ss": 2, "x": 2, "ff": -2, "n": 0, "xs": 3, "tf": -3, "ns": 1, "nf": -1, "ts": 3}
_NAMED = {"breve": Fraction(8), "long": Fraction(16), "maxima": Fraction(32)}
SLASHES = {"1slash": 1, "2slash": 2, "3slash": 3, "4slash": 4, "5slash": 5, "6slash": 6}
A_FOURTH = 5  # semitones


def text_of(node: etree._Element) -> str:
    """Return an element's text in one line."""
    return " ".join("".join(str(piece) for piece in node.itertext()).split())


def pitch_of(note: etree._Element) -> int | None:
    """Return the pitch of a note without its accidental; None where it has none."""
    step = note.get("pname")
    if step not in STEPS:
        return None
    return 12 * (int(note.get("oct.ges") or note.get("oct") or "4") + 1) + STEPS[step]


def local(node: etree._Element) -> str:
    """Return an element's name without its namespace; empty for comments."""
    return etree.QName(node).localname if isinstance(node.tag, str) else ""


def tremolo_of(node: etree._Element) -> frozenset[Mark]:
    """Return the mark of a tremolo that is not counted, if a note has it."""
    parent = node.getparent()
    around = parent is not None and local(parent) == "bTrem" and parent.get("form") == "unmeas"
    return frozenset({Mark.TREMOLO}) if around or node.get("stem.mod") == "z" else frozenset()


def repeated_in(node: etree._Element) -> Fraction | None:
    """Return the value that a note is repeated in [quarters], by its slashes or by the beams to the other note."""
    parent = node.getparent()
    if parent is not None and local(parent) == "fTrem":
        beams = parent.get("beams", "3")
        return Fraction(1, 2 ** min(int(beams), 6)) if beams.isdecimal() else None
    unit = parent.get("unitdur", "") if parent is not None else ""
    if unit.isdecimal() and int(unit):
        return Fraction(4, int(unit))
    slashes = SLASHES.get(node.get("stem.mod") or "", 0)
    if not slashes and parent is not None and local(parent) == "bTrem" and parent.get("form") != "unmeas":
        slashes = 3
    value = node.get("dur", "4")
    flags = max(0, int(value).bit_length() - 3) if value.isdecimal() else 0
    return Fraction(1, 2 ** (slashes + flags)) if slashes else None


def sounding(heads: tuple[Head, ...]) -> tuple[Head, ...]:
    """Keep of an artificial harmonic the note that sounds: two octaves over the stopped, a fourth under the touched."""
    if len(heads) == 2 and sum(head.harmonic for head in heads) == 1:
        stopped, touched = sorted(heads, key=lambda head: head.midi)
        if touched.harmonic and touched.midi - stopped.midi == A_FOURTH:
            return (replace(stopped, midi=stopped.midi + 24, harmonic=True),)
    return heads


def is_played(node: etree._Element) -> bool:
    """Whether a note or chord is the player's: not hidden, no cue."""
    return node.get("visible") != "false" and node.get("cue") != "true"


def has_notes(layer: etree._Element) -> bool:
    """Whether a layer holds notes that are played."""
    return any(is_played(note) for note in layer.iter(f"{NS}note"))


def timed(node: etree._Element, ratio: Fraction, grace: bool) -> Iterator[tuple[etree._Element, Fraction, bool]]:
    """Yield what takes time in a layer, with the ratio of its tuplets and whether it is a grace note."""
    for child in node:
        kind = local(child)
        own_grace = grace or child.get("grace") is not None
        if kind in {"note", "chord", "rest", "space", "mRest", "mSpace", "multiRest", "mRpt"}:
            yield child, ratio, own_grace
        elif kind == "tuplet":
            inner = Fraction(int(child.get("numbase", "2")), int(child.get("num", "3")))
            yield from timed(child, ratio * inner, grace)
        elif kind == "fTrem":
            yield from timed(child, ratio / 2, grace)
        elif kind in {"beam", "bTrem", "graceGrp", "ligature", "supplied", "unclear", "corr", "reg"}:
            yield from timed(child, ratio, grace or kind == "graceGrp")
        elif kind in {"app", "choice", "subst"} and len(child):
            yield from timed(child[0], ratio, grace)


def written(node: etree._Element) -> Fraction:
    """Return the written length in quarters."""
    value = node.get("dur") or next((n.get("dur") for n in node.iter(f"{NS}note") if n.get("dur")), "4")
    base = _NAMED.get(value or "4") or Fraction(4, int(value or "4"))
    dots = int(node.get("dots", "0")) or sum(1 for child in node if local(child) == "dot")
    return base * (2 - Fraction(1, 2**dots))


def accidental(note: etree._Element) -> int:
    """Return how far a note is altered [semitones]."""
    for source in (note, *note.findall(f"{NS}accid")):
        sign = source.get("accid.ges") or source.get("accid")
        if sign:
            return _ALTER.get(sign, 0)
    return 0


def artics(node: etree._Element) -> list[str]:
    """Return the articulation signs of a note."""
    signs = (node.get("artic") or "").split()
    for child in node.findall(f"{NS}artic"):
        signs += (child.get("artic") or "").split()
    return signs


def fingers(root: etree._Element) -> dict[str, int]:
    """Return the printed fingering by note."""
    found = {}
    for node in root.iter(f"{NS}fing"):
        finger = finger_named(text_of(node))
        if finger is not None:
            found[(node.get("startid") or "").lstrip("#")] = finger
    return found | {
        str(note.get(XML_ID)): int(said) for note in root.iter(f"{NS}note") if (said := note.get("tab.fing"))
    }


def tied(root: etree._Element) -> set[str]:
    """Return the ids of heads that continue a tie."""
    ends = {(tie.get("endid") or "").lstrip("#") for tie in root.iter(f"{NS}tie")}
    marked = {n.get(XML_ID, "") for n in root.iter(f"{NS}note") if (n.get("tie") or "")[:1] in {"m", "t"}}
    return (ends | marked) - {""}


def beats(tstamp: str, beat_type: int) -> Fraction:
    """Return a place in a bar [quarters] from its beat; the bar's start where it is none."""
    try:
        beat = Fraction(tstamp).limit_denominator(960)
    except (ValueError, ZeroDivisionError):
        return Fraction(0)
    return (beat - 1) * Fraction(4, beat_type)


def tempo_of(node: etree._Element, at: Fraction, beat: Fraction) -> TempoMark | None:
    """Return what a tempo mark asks for, if it says a number; one without a note value is told by the beat."""
    unit = Fraction(1) if node.get("mm") else beat
    if node.get("mm.unit"):
        unit = Fraction(4, int(node.get("mm.unit", "4"))) * (2 - Fraction(1, 2 ** int(node.get("mm.dots", "0"))))
    if node.get("midi.bpm"):
        return TempoMark(at, number_in(node.get("midi.bpm", "")), unit)
    if node.get("mm"):
        return TempoMark(at, number_in(node.get("mm", "")) * float(unit), unit)
    return None


def number_in(text: str) -> float:
    """Return a number as written; not a number where it is none."""
    try:
        return float(text)
    except ValueError:
        return math.nan
