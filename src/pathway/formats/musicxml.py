"""The player's own MusicXML document: its parts, ids for its notes, and bow marks written into it.

Notes are numbered in the order of the document; ``n17`` is its seventeenth ``<note>``. The marks are spliced into
the bytes, so that nothing else of the document changes.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from xml.parsers import expat

from lxml import etree

from pathway.core.rig.bow import Direction
from pathway.errors import ScoreError
from pathway.formats.safe_files import parse_xml

_SIGNS = {"down-bow": Direction.DOWN, "up-bow": Direction.UP}
_NAMES = {direction: name for name, direction in _SIGNS.items()}
_AFTER_NOTATIONS = {"lyric", "play", "listen"}


@dataclass(frozen=True, slots=True)
class PartHead:
    """What the part list says of one part."""

    id: str
    name: str
    notes: int
    unpitched: bool


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
        ScoreError: not a partwise MusicXML score.
    """
    if root.tag == "score-timewise":
        raise ScoreError("The score is ordered by time", advice="Export it as partwise MusicXML.")
    if root.tag != "score-partwise":
        raise ScoreError(
            f"The file is XML but not MusicXML: it begins with <{etree.QName(root).localname}>",
            place=f"line {root.sourceline}",
            advice="Export the score as MusicXML.",
        )


def part_heads(root: etree._Element) -> list[PartHead]:
    """Return the parts in the order of the part list."""
    bodies = {part.get("id"): part for part in root.findall("part")}
    heads = []
    for entry in root.iterfind("part-list/score-part"):
        body = bodies.get(entry.get("id"))
        notes = [] if body is None else [n for n in body.iter("note") if n.find("rest") is None]
        unpitched = bool(notes) and all(n.find("unpitched") is not None for n in notes)
        name = " ".join((entry.findtext("part-name") or "").split())
        heads.append(PartHead(entry.get("id", ""), name, len(notes), unpitched))
    return heads


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


def printed_strings(root: etree._Element) -> dict[str, int]:
    """Return the printed string numbers by note id; the engraver drops them."""
    found = {}
    for note in root.iter("note"):
        text = (note.findtext("notations/technical/string") or "").strip()
        if text.isdigit():
            found[note.get("id", "")] = int(text)
    return found


@dataclass(slots=True)
class _Spot:
    """Where a note's bow mark belongs in the bytes, and the marks that stand there."""

    insert: int
    old: list[tuple[str, int, int]]


def write_bow_marks(document: bytes, marks: Mapping[str, Direction]) -> bytes:
    """Return the document with these bow marks and nothing else changed.

    Args:
        document: MusicXML as the player gave it, unpacked.
        marks: direction by note id; other notes keep what they have.

    Raises:
        ScoreError: the document is not well-formed.
    """
    encoding = parse_xml(document).getroottree().docinfo.encoding or "UTF-8"
    edits: list[tuple[int, int, str]] = []
    for id_, spot in _spots(document).items():
        wanted = _NAMES.get(marks[id_]) if id_ in marks else None
        if wanted is None:
            continue
        edits += [(start, end, "") for name, start, end in spot.old if name != wanted]
        if all(name != wanted for name, _, _ in spot.old):
            edits.append((spot.insert, spot.insert, _notation(document, spot.insert, wanted)))
    result, at = [], 0
    for start, end, text in sorted(edits):
        result += [document[at:start], text.encode(encoding)]
        at = end
    return b"".join([*result, document[at:]])


def _notation(document: bytes, at: int, name: str) -> str:
    """The mark as an element of its own line where the document has lines."""
    element = f"<notations><technical><{name}/></technical></notations>"
    line = re.search(rb"\r?\n[ \t]*$", document[max(0, at - 200) : at])
    if line is None:
        return element
    deeper = "  " if document[at : at + 2] == b"</" else ""
    return deeper + element + line.group().decode("ascii")


def _spots(document: bytes) -> dict[str, _Spot]:
    spots: dict[str, _Spot] = {}
    parser = expat.ParserCreate()
    stack: list[str] = []
    current: _Spot | None = None
    count = 0

    def start(name: str, _: object) -> None:
        nonlocal current, count
        stack.append(name)
        at = parser.CurrentByteIndex
        if name == "note":
            count += 1
            current = spots[f"n{count}"] = _Spot(-1, [])
        elif current is not None and name in _SIGNS:
            current.old.append((name, at, -1))
        elif current is not None and current.insert < 0 and name in _AFTER_NOTATIONS and stack[-2] == "note":
            current.insert = at

    def end(name: str) -> None:
        nonlocal current
        stack.pop()
        at = parser.CurrentByteIndex
        if current is not None and name in _SIGNS:
            sign, begin, _ = current.old[-1]
            current.old[-1] = (sign, begin, document.index(b">", max(begin, at)) + 1)
        elif current is not None and name == "note":
            current.insert = at if current.insert < 0 else current.insert
            current = None

    parser.StartElementHandler, parser.EndElementHandler = start, end
    try:
        parser.Parse(document, True)
    except expat.ExpatError as error:
        raise ScoreError("The XML is broken", place=f"line {error.lineno}") from error
    return spots
