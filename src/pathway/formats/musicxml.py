"""The player's own MusicXML document: its parts, ids for its notes, and bow marks written into it.

Notes are numbered in the order of the document; ``n17`` is its seventeenth ``<note>``. The marks are spliced into
the bytes, so that nothing else of the document changes.
"""

import codecs
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from xml.parsers import expat

from lxml import etree

from pathway.core.rig.bow import Direction
from pathway.core.technique.fingers import OPEN, THUMB, finger_named
from pathway.errors import ScoreError
from pathway.formats.mei_elements import STEPS
from pathway.formats.musicxml_mending import played
from pathway.formats.safe_files import parse_xml

_SIGNS = {"down-bow": Direction.DOWN, "up-bow": Direction.UP}
_NAMES = {direction: name for name, direction in _SIGNS.items()}
_DIGITS = 2  # of an octave
_AFTER_NOTATIONS = {"lyric", "play", "listen"}


@dataclass(frozen=True, slots=True)
class PartHead:
    """What the part list says of one part."""

    id: str
    name: str
    notes: int
    unpitched: bool
    clef: str  # its first one, by the letter of its sign; empty where there is none
    lowest: int | None  # pitch that is written


def number_notes(root: etree._Element) -> None:
    """Give every note its number as an id, and take away other ids that could be the same."""
    for node in root.iter():
        if isinstance(node.tag, str) and node.tag not in {"part", "score-part"} and "id" in node.attrib:
            del node.attrib["id"]
    for i, note in enumerate(root.iter("note"), start=1):
        note.set("id", f"n{i}")


def check_root(root: etree._Element) -> None:
    """Refuse documents of other kinds.

    Raises:
        ScoreError: not a MusicXML score.
    """
    if root.tag not in {"score-partwise", "score-timewise"}:
        raise ScoreError(
            f"The file is XML but not MusicXML: it begins with <{etree.QName(root).localname}>",
            place=f"line {root.sourceline}",
            advice="Export the score as MusicXML.",
        )


def order_by_parts(root: etree._Element) -> None:
    """Let a score that is ordered by time have its bars in its parts; its notes keep the numbers that they have."""
    if root.tag != "score-timewise":
        return
    parts: dict[str, etree._Element] = {}
    for bar in root.findall("measure"):
        for staff in bar.findall("part"):
            id_ = staff.get("id", "")
            whole = parts.setdefault(id_, etree.Element("part", id=id_))
            etree.SubElement(whole, "measure", {str(key): str(value) for key, value in bar.attrib.items()}).extend(
                list(staff)
            )
        root.remove(bar)
    root.extend(parts.values())
    root.tag = "score-partwise"


def part_heads(root: etree._Element) -> list[PartHead]:
    """Return the parts in the order of the part list."""
    bodies = {part.get("id"): part for part in root.findall("part")}
    heads = []
    for entry in root.iterfind("part-list/score-part"):
        body = bodies.get(entry.get("id"))
        notes = [] if body is None else [note for note in body.iter("note") if played(note)]
        unpitched = bool(notes) and all(n.find("unpitched") is not None for n in notes)
        name = " ".join((entry.findtext("part-name") or "").split())
        clef = "" if body is None else (body.findtext(".//attributes/clef/sign") or "").strip()
        pitches = [pitch for note in notes if (pitch := _pitch(note)) is not None]
        heads.append(PartHead(entry.get("id", ""), name, len(notes), unpitched, clef, min(pitches, default=None)))
    return heads


def _pitch(note: etree._Element, named: str = "pitch/") -> int | None:
    """Return a pitch as it is written, a note's without its accidental; None where there is none."""
    step, octave, alter = ((note.findtext(f"{named}{name}") or "").strip() for name in ("step", "octave", "alter"))
    if step.lower() not in STEPS or not octave.isdecimal() or len(octave) > _DIGITS:
        return None
    altered = int(alter) if re.fullmatch(r"-?[12]", alter) and named != "pitch/" else 0
    return 12 * (int(octave) + 1) + STEPS[step.lower()] + altered


def part_of(root: etree._Element, part_id: str) -> etree._Element:
    """Return the music of a part.

    Raises:
        ScoreError: the part list names a part that is not there.
    """
    for part in root.findall("part"):
        if part.get("id") == part_id:
            return part
    raise ScoreError(f"The part {part_id!r} is listed and not there", advice="Export the score again.")


def title_of(root: etree._Element) -> str:
    """Return the work's or movement's title, empty if it has none."""
    for path in ("movement-title", "work/work-title"):
        if text := " ".join((root.findtext(path) or "").split()):
            return text
    return ""


def only_part(root: etree._Element, part_id: str) -> None:
    """Take all other parts out of the document."""
    for part in root.findall("part"):
        if part.get("id") != part_id:
            root.remove(part)
    listed = root.find("part-list")
    for entry in list(listed) if listed is not None else []:
        if entry.tag != "score-part" or entry.get("id") != part_id:
            entry.getparent().remove(entry)  # type: ignore[union-attr]


def tuning_of(part: etree._Element) -> tuple[tuple[int, int], ...]:
    """Return the strings that a part names, counted from the highest, 1, and the pitches that it tunes them to."""
    found: dict[int, int] = {}
    tunings = [pitch for node in part.iter("staff-tuning") if (pitch := _pitch(node, "tuning-")) is not None]
    found |= dict(enumerate(sorted(tunings, reverse=True), start=1))
    for accord in part.iter("accord"):
        string, pitch = accord.get("string", ""), _pitch(accord, "tuning-")
        if string.isdecimal() and len(string) == 1 and pitch is not None:
            found[int(string)] = pitch
    return tuple(sorted(found.items()))


def printed_hand(root: etree._Element) -> dict[str, dict[str | bytes, str | bytes]]:
    """Return printed string numbers and fingers as attributes of MEI, by note id; the engraver drops some of them."""
    found: dict[str, dict[str | bytes, str | bytes]] = {}
    for note in root.iter("note"):
        hand: dict[str | bytes, str | bytes] = {}
        text = (note.findtext("notations/technical/string") or "").strip()
        if text.isdigit():
            hand["tab.string"] = text
        finger = finger_named(note.findtext("notations/technical/fingering") or "")
        if note.find("notations/technical/thumb-position") is not None:
            finger = THUMB
        elif note.find("notations/technical/open-string") is not None:
            finger = OPEN
        if finger is not None:
            hand["tab.fing"] = str(finger)
        if hand:
            found[note.get("id", "")] = hand
    return found


@dataclass(slots=True)
class _Spot:
    """Where a note's bow mark belongs in the bytes, and the marks that stand there.

    Readers look at the first ``notations`` and the first ``technical`` in it only, so these are used if they exist.
    """

    note_end: int = -1  # before the lyrics, or at the end tag
    notations_end: int = -1
    technical_end: int = -1
    empty: tuple[int, int] | None = None  # an empty notations element, to be replaced
    old: list[tuple[str, int, int]] = field(default_factory=list)

    def edit(self, document: bytes, name: str) -> tuple[int, int, str]:
        """Return start, end and text of what is spliced in for a mark."""
        if self.technical_end >= 0:
            return self.technical_end, self.technical_end, f"<{name}/>"
        technical = f"<technical><{name}/></technical>"
        if self.notations_end >= 0:
            return self.notations_end, self.notations_end, technical
        notations = f"<notations>{technical}</notations>"
        if self.empty:
            return *self.empty, notations
        return self.note_end, self.note_end, _on_own_line(document, self.note_end, notations)


_BY_MARK = ((codecs.BOM_UTF8, "UTF-8"), (codecs.BOM_UTF16_LE, "UTF-16-LE"), (codecs.BOM_UTF16_BE, "UTF-16-BE"))


def _in_letters(document: bytes) -> tuple[bytes, str, str]:
    """Return a document's mark, its encoding and its text; the mark holds, whatever the document calls its encoding.

    Raises:
        ScoreError: it is in letters that nobody knows.
    """
    for mark, encoding in _BY_MARK:
        if document.startswith(mark):
            return mark, encoding, document[len(mark) :].decode(encoding)
    encoding = parse_xml(document).getroottree().docinfo.encoding or "UTF-8"
    try:
        return b"", encoding, document.decode(encoding)
    except (LookupError, UnicodeDecodeError) as error:
        raise ScoreError(f"The letters of this score are of no kind that is known: {encoding}") from error


def write_bow_marks(document: bytes, marks: Mapping[str, Direction]) -> bytes:
    """Return the document with these bow marks and nothing else changed.

    Args:
        document: MusicXML as the player gave it, unpacked.
        marks: direction by note id; other notes keep what they have.

    Raises:
        ScoreError: the document is not well-formed.
    """
    mark, encoding, text = _in_letters(document)
    plain = text.encode()
    edits: list[tuple[int, int, str]] = []
    for id_, spot in _spots(plain).items():
        wanted = _NAMES.get(marks[id_]) if id_ in marks else None
        if wanted is None:
            continue
        edits += [(start, end, "") for name, start, end in spot.old if name != wanted]
        if all(name != wanted for name, _, _ in spot.old):
            edits.append(spot.edit(plain, wanted))
    result, at = [], 0
    for start, end, element in sorted(edits):
        result += [plain[at:start], element.encode()]
        at = end
    return mark + b"".join([*result, plain[at:]]).decode().encode(encoding)


def _on_own_line(document: bytes, at: int, element: str) -> str:
    """Lay an element out like its neighbours where the document has lines."""
    line = re.search(rb"\r?\n[ \t]*$", document[max(0, at - 200) : at])
    if line is None:
        return element
    deeper = "  " if document[at : at + 2] == b"</" else ""
    return deeper + element + line.group().decode("ascii")


class _Finder:
    """Walks through a document and notes the spots of its notes."""

    def __init__(self, document: bytes) -> None:
        self.document = document
        self.spots: dict[str, _Spot] = {}
        self.stack: list[str] = []
        self.current: _Spot | None = None
        self.began = 0  # where the last notations began
        self.parser = expat.ParserCreate("UTF-8")
        self.parser.StartElementHandler, self.parser.EndElementHandler = self.start, self.end

    def start(self, name: str, _: object) -> None:
        at, self.stack = self.parser.CurrentByteIndex, [*self.stack, name]
        if name == "note":
            self.current = self.spots[f"n{len(self.spots) + 1}"] = _Spot()
        elif name == "notations":
            self.began = at
        elif self.current is not None and name in _SIGNS:
            self.current.old.append((name, at, at))
        elif self.current is not None and name in _AFTER_NOTATIONS and self.stack[-2] == "note":
            self.current.note_end = at if self.current.note_end < 0 else self.current.note_end

    def end(self, name: str) -> None:
        self.stack.pop()
        at, spot = self.parser.CurrentByteIndex, self.current
        if spot is None:
            return
        closes = self.document.startswith(b"</" + name.encode(), at)  # else it was an empty tag that ends here
        after = self.document.index(b">", at) + 1 if closes else at
        if name in _SIGNS:
            sign, begin, _ = spot.old[-1]
            spot.old[-1] = (sign, begin, after)
        elif name == "technical" and closes and spot.technical_end < 0 and spot.notations_end < 0:
            spot.technical_end = at
        elif name == "notations" and spot.notations_end < 0 and spot.empty is None:
            spot.notations_end, spot.empty = (at, None) if closes else (-1, (self.began, after))
        elif name == "note":
            spot.note_end = at if spot.note_end < 0 else spot.note_end
            self.current = None


def _spots(document: bytes) -> dict[str, _Spot]:
    finder = _Finder(document)
    try:
        finder.parser.Parse(document, True)
    except expat.ExpatError as error:
        raise ScoreError("The XML is broken", place=f"line {error.lineno}") from error
    return finder.spots
