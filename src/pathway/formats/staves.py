"""Where things lie in an engraved system: notes, bars, and how high it reaches. User units are CSS pixels.

The engraver's SVG holds one style element, which strict pages would refuse; it is taken out, and the app's own style
sheet does its work. Its ids come from the score and are taken out too.
"""

import re
from dataclasses import dataclass

from lxml import etree

from pathway.formats.safe_files import parse_xml

_NS = "{http://www.w3.org/2000/svg}"
_TEMPO = re.compile(r'(<g id="[^"]*" class="tempo[^"]*")')
_STYLE = re.compile(r"<(style|desc)\b.*?</\1>", re.DOTALL)
_NOTE_ID = re.compile(r'<g id="([^"]*)" class="note')
_OTHER_ID = re.compile(r' id="(?![0-9A-F]{4,5}-)[^"]*"')  # all but those of the glyphs
_SHIFT = re.compile(r"translate\(\s*([-\d.]+)[, ]+([-\d.]+)\s*\)")
_NUMBER = re.compile(r"-?\d+(?:\.\d+)?")
_HEAD_CENTRE, _WHOLE_CENTRE, _GRACE_CENTRE = 113.0, 146.0, 85.0  # from a head's left edge, in the engraver's units
_WHOLE_HEAD = "E0A2"  # its glyph
_ABOVE_GLYPH = 130.0  # what a glyph may reach above its place
_LETTER, _LETTER_HEIGHT = 230.0, 330.0  # of printed words
TEMPO_LIFT = 200.0  # so much higher than the engraver puts it, a tempo touches neither clef nor meter
STAFF = 31.7  # height of a staff as it is engraved [CSS px]
_COLUMN = 200.0  # width in which the highest ink is noted


@dataclass(frozen=True, slots=True)
class NoteSpot:
    """Where one note lies [px]."""

    x: float  # of the head's centre
    y: float
    top: float  # of all ink near it


@dataclass(frozen=True, slots=True)
class System:
    """One engraved line."""

    svg: str
    width: float  # [px]
    height: float
    staff_left: float
    staff_right: float
    staff_top: float
    bars: tuple[float, ...]  # right edges of the bars
    notes: dict[str, NoteSpot]
    tempos: tuple[float, ...] = ()  # where printed tempi begin


def read_system(svg: str) -> System:
    """Return an engraved system, as the engraver draws it, with the places of its notes."""
    text = _TEMPO.sub(rf'\1 transform="translate(0,{-TEMPO_LIFT:g})"', _STYLE.sub("", svg))
    root = parse_xml(text.encode())
    width, height = _box(root)
    inner = next(node for node in root.iter(f"{_NS}svg") if node.get("class") == "definition-scale")
    factor = width / _box(inner)[0]
    margin = _shift(next(g for g in inner.iter(f"{_NS}g") if g.get("class") == "page-margin"))
    lines = _staff_lines(inner)
    skyline = _skyline(inner)

    def x(value: float) -> float:
        return (value + margin[0]) * factor

    def y(value: float) -> float:
        return (value + margin[1]) * factor

    notes = {}
    for id_, left, top, centre in _heads(inner):
        highest = min(skyline.get(int((left + centre) // _COLUMN) + i, lines[2]) for i in (-1, 0, 1))
        notes[id_] = NoteSpot(x(left + centre), y(top), y(min(highest, lines[2])))
    return System(
        svg=_without_ids(text),
        width=width,
        height=height,
        staff_left=x(lines[0]),
        staff_right=x(lines[1]),
        staff_top=y(lines[2]),
        bars=tuple(x(edge) for edge in _bar_lines(inner)),
        notes=notes,
        tempos=tuple(x(left) for left in _tempi(inner)),
    )


def _without_ids(text: str) -> str:
    """Take the ids out of the picture, so that none of them is one of the page's; notes keep theirs as data."""
    return _OTHER_ID.sub("", _NOTE_ID.sub(r'<g data-id="\1" class="note', text))


def _box(node: etree._Element) -> tuple[float, float]:
    """Width and height of what an SVG shows."""
    box = [float(v) for v in node.get("viewBox", "0 0 1 1").split()]
    return box[2], box[3]


def _shift(node: etree._Element) -> tuple[float, float]:
    found = _SHIFT.search(node.get("transform", ""))
    return (float(found[1]), float(found[2])) if found else (0.0, 0.0)


def _heads(root: etree._Element) -> list[tuple[str, float, float, float]]:
    """Id, left edge, height and half width of every head."""
    found = []
    for group in root.iter(f"{_NS}g"):
        if "note" not in (group.get("class") or "").split():
            continue
        use = group.find(f"{_NS}g[@class='notehead']/{_NS}use")
        if use is None:
            continue
        left, top = _shift(use)
        small = "scale(0.5" in use.get("transform", "") or _is_grace(group)
        full = _WHOLE_CENTRE if _WHOLE_HEAD in (use.get("href") or "") else _HEAD_CENTRE
        found.append((group.get("id", ""), left, top, _GRACE_CENTRE if small else full))
    return found


def _is_grace(group: etree._Element) -> bool:
    return any("graceGrp" in (g.get("class") or "") for g in group.iterancestors(f"{_NS}g"))


def _numbers(path: str) -> list[float]:
    return [float(n) for n in _NUMBER.findall(path)]


def _staff_lines(root: etree._Element) -> tuple[float, float, float]:
    """Left, right and top of the staff."""
    for staff in root.iter(f"{_NS}g"):
        if (staff.get("class") or "").split()[:1] == ["staff"]:
            paths = [_numbers(p.get("d", "")) for p in staff.findall(f"{_NS}path")]
            if paths:
                break
    else:
        return 0.0, 0.0, 0.0
    rights = [
        _numbers(p.get("d", ""))[2]
        for s in root.iter(f"{_NS}g")
        if (s.get("class") or "").split()[:1] == ["staff"]
        for p in s.findall(f"{_NS}path")[:1]
    ]
    return paths[0][0], max(rights), min(path[1] for path in paths)


def _bar_lines(root: etree._Element) -> list[float]:
    groups = [g for g in root.iter(f"{_NS}g") if (g.get("class") or "").split()[:1] == ["barLine"]]
    edges = [[max(_numbers(p.get("d", ""))[::2]) for p in group.iter(f"{_NS}path")] for group in groups]
    return sorted({max(found) for found in edges if found})


def _tempi(root: etree._Element) -> list[float]:
    """Left edges of the printed tempi."""
    groups = [g for g in root.iter(f"{_NS}g") if (g.get("class") or "").startswith("tempo")]
    edges = [float(text.get("x", "0")) for group in groups for text in group.iter(f"{_NS}text") if text.get("x")]
    return sorted(edges)


def _lifted(node: etree._Element) -> float:
    """Return by how much a tempo was lifted, where a sign belongs to one."""
    inside = any((group.get("class") or "").startswith("tempo") for group in node.iterancestors(f"{_NS}g"))
    return TEMPO_LIFT if inside else 0.0


def _skyline(root: etree._Element) -> dict[int, float]:
    """The highest ink in every column of the system."""
    highest: dict[int, float] = {}

    def note(left: float, right: float, top: float) -> None:
        for column in range(int(left // _COLUMN), int(right // _COLUMN) + 1):
            highest[column] = min(highest.get(column, top), top)

    for use in root.iter(f"{_NS}use"):
        left, top = _shift(use)
        note(left, left + 2 * _HEAD_CENTRE, top - _ABOVE_GLYPH - _lifted(use))
    for text in root.iter(f"{_NS}text"):
        if text.get("x") and (said := "".join(str(piece) for piece in text.itertext()).strip()):
            left, base = float(text.get("x", "0")), float(text.get("y", "0"))
            note(left, left + _LETTER * len(said), base - _LETTER_HEIGHT - _lifted(text))
    for shape in root.iter(f"{_NS}path", f"{_NS}polygon"):
        if (shape.getparent().get("class") or "").split()[:1] in (["barLine"], ["staff"]):  # type: ignore[union-attr]
            continue
        numbers = _numbers(shape.get("d") or shape.get("points") or "")
        xs, ys = numbers[::2], numbers[1::2]
        if xs and ys and len(xs) == len(ys):
            note(min(xs), max(xs), min(ys))
    return highest
