"""What of a MusicXML document would be misread, put right before it is engraved and read; the player's file stays.

Hidden notes and cues are not the player's. A sign means the note that it stands at, which its offset says: many a
program writes it behind its note and moves it back. A tie may be written without its curve; what the tempo is, and
where sections begin, may stand in another part only.
"""

import re
from collections.abc import Iterator
from copy import deepcopy
from fractions import Fraction

from lxml import etree

from pathway.core.music import Measure
from pathway.core.technique.tempo_words import tempo_word_of
from pathway.errors import ScoreError

_PLUCKS = {"yes": "pizz.", "no": "arco"}
_PLUCKED_OR_BOWED = re.compile(r"pizz|arco", re.IGNORECASE)
_LETTERS = 12  # of a number of divisions
TEMPI = (5.0, 400.0)  # beats a minute that a mark can mean
_KEPT_IN_RESTS = {"duration", "voice", "type", "dot", "staff", "time-modification"}


def mend(root: etree._Element, part: etree._Element) -> None:
    """Put a part of a document right, with what other parts say of the tempo and of sections.

    Args:
        root: the whole document.
        part: one of its parts; changed.

    Raises:
        ScoreError: a tempo that is no number or cannot be played.
    """
    for bar, divisions in _bars(part):
        _set_signs(bar, divisions)
    for other in root.findall("part"):
        if other is not part and _take_over(other, part):
            break
    for details in part.iter("staff-details"):
        for tuning in details.findall("staff-tuning"):  # the engraver would take the part for frets
            details.remove(tuning)
    for note in list(part.iter("note")):
        if note.get("print-object") == "no" or note.find("cue") is not None:
            _silence(note)
        else:
            _tie(note)
    for sound in list(part.iter("sound")):
        if sound.get("pizzicato") in _PLUCKS:
            _say_plucked(sound, _PLUCKS[sound.get("pizzicato", "")])
    for bar in part.findall("measure"):
        for number in (*bar.iter("per-minute"), *bar.iterfind(".//sound[@tempo]")):
            _check_tempo(number, bar.get("number", ""))


def played(note: etree._Element) -> bool:
    """Whether a note is the player's: not a rest, not hidden, no cue."""
    return note.find("rest") is None and note.get("print-object") != "no" and note.find("cue") is None


def speaks_of_tempo(direction: etree._Element) -> bool:
    """Whether a direction sets the tempo, by a number or a word."""
    if direction.find(".//metronome") is not None or direction.find("sound[@tempo]") is not None:
        return True
    return any(tempo_word_of(words.text or "") for words in direction.iter("words"))


def tempo_doubt(part: etree._Element) -> tuple[str, float, float] | None:
    """Return where a part opens with a word and is played by a number that contradicts it; None where it does not.

    Returns:
        The word, and the beats a minute that it means and that the file is played at, in the beat of the meter.
    """
    bar = part.find("measure")
    if bar is None:
        return None
    count, unit = ((bar.findtext(f"attributes/time/{name}") or "") for name in ("beats", "beat-type"))
    if not count.isdecimal() or not unit.isdecimal() or not int(unit):
        return None
    measure = Measure("1", Fraction(0), Fraction(0), int(count), int(unit))
    for direction in bar.findall("direction"):
        words = " ".join(text for node in direction.iter("words") if (text := (node.text or "").strip()))
        sound, word = direction.find("sound[@tempo]"), tempo_word_of(words)
        if word is None or sound is None or direction.find(".//metronome") is not None:
            continue
        quarters, beat = _playback(sound.get("tempo", "")), measure.beat_length
        if quarters and word.denies(quarters, beat, Fraction(4, int(unit))):
            return words, word.quarters(beat, Fraction(4, int(unit))) / float(beat), quarters / float(beat)
    return None


def _playback(text: str) -> float:
    try:
        return float(text) if len(text) < _LETTERS else 0.0
    except ValueError:
        return 0.0


def _check_tempo(node: etree._Element, bar: str) -> None:
    """Leave the number in a metronome mark that says more, such as "ca. 60" or "60-72".

    Raises:
        ScoreError: no number, or one that cannot be played.
    """
    text = (node.text if node.tag == "per-minute" else node.get("tempo")) or ""
    numbers = [float(found) for found in re.findall(r"(?<![\d.])-?\d{1,9}(?:\.\d{1,9})?", text.replace("–", " "))]
    bpm = sum(map(abs, numbers)) / len(numbers) if numbers else 0.0
    if not numbers or min(numbers) <= 0 < len(numbers) == 1 or not TEMPI[0] <= bpm <= TEMPI[1]:
        raise ScoreError(
            f"A tempo of {text.strip()[:20] or 'nothing'} beats a minute cannot be played",
            place=f"bar {bar}",
            advice=f"Write a number from {TEMPI[0]:g} to {TEMPI[1]:g} in the score.",
        )
    if node.tag == "per-minute":
        node.text = f"{bpm:g}"


def _silence(note: etree._Element) -> None:
    """Leave a rest of its length in a note's place, or nothing where it has none of its own."""
    if note.find("chord") is not None or note.find("grace") is not None:
        _parent(note).remove(note)
        return
    for child in list(note):
        if child.tag not in _KEPT_IN_RESTS:
            note.remove(child)
    note.insert(0, etree.Element("rest"))
    note.set("print-object", "no")


def _tie(note: etree._Element) -> None:
    """Add the curve of a tie that is only meant to sound."""
    for tie in note.findall("tie"):
        kind = tie.get("type", "start")
        if any(tied.get("type") == kind for tied in note.iterfind("notations/tied")):
            continue
        notations = note.find("notations")
        if notations is None:
            notations = etree.Element("notations")
            before = next((child for child in note if child.tag in {"lyric", "play", "listen"}), None)
            note.append(notations) if before is None else before.addprevious(notations)
        etree.SubElement(notations, "tied", type=kind)


def _say_plucked(sound: etree._Element, word: str) -> None:
    """Print what a file only plays: that the fingers pluck from here on, or the bow plays again."""
    around = _parent(sound)
    if around.tag == "direction":
        if any(_PLUCKED_OR_BOWED.search(words.text or "") for words in around.iter("words")):
            return
        kinds = around.findall("direction-type")
        kind = etree.Element("direction-type")
        kinds[-1].addnext(kind) if kinds else around.insert(0, kind)
    else:
        direction = etree.Element("direction", placement="above")
        sound.addprevious(direction)
        kind = etree.SubElement(direction, "direction-type")
    etree.SubElement(kind, "words").text = word


def _set_signs(bar: etree._Element, divisions: int) -> None:
    """Set every sign that is moved at the note that it stands at: the nearest start; an end where that is nearer.

    One that stands on a beat inside a long note stays there: it is a change in the note.
    """
    starts, ends = _edges(bar, divisions)
    for at, direction in list(_timed(bar, divisions, moved=False)):
        offset = direction.find("offset")
        if offset is None or offset.get("sound") == "yes":  # meant to the letter
            continue
        place = at + Fraction(_signed(offset.text), divisions)
        stops = direction.find("direction-type/wedge[@type='stop']") is not None
        edges = starts | ends if stops else starts
        nearest = min(edges, key=lambda edge: (abs(edge - place), edge), default=place)
        if abs(nearest - place) > 1 and place.denominator == 1 and 0 <= place <= max(ends, default=0):
            nearest = place
        direction.remove(offset)
        _move(direction, round((nearest - at) * divisions))


def _edges(bar: etree._Element, divisions: int) -> tuple[set[Fraction], set[Fraction]]:
    """Return where notes of a bar begin and where they end [quarters]."""
    starts, ends, at = set[Fraction](), set[Fraction](), Fraction(0)
    for node in bar:
        length = Fraction(_number(node.findtext("duration")), divisions)
        if node.tag == "note":
            if node.find("chord") is None:
                if played(node):
                    starts.add(at)
                    ends.add(at + length)
                at += length
        elif node.tag in {"backup", "forward"}:
            at += length if node.tag == "forward" else -length
    return starts, ends


def _take_over(other: etree._Element, part: etree._Element) -> bool:
    """Copy what another part says of the tempo and of sections into the bars where this one says nothing of it."""
    found = False
    for theirs, mine in zip(_bars(other), _bars(part), strict=False):
        (bar, divisions_there), (here, divisions) = theirs, mine
        kinds = [_kinds(direction) for direction in here.iter("direction")]
        for at, direction in _timed(bar, divisions_there):
            fresh = _kinds(direction) - {kind for known in kinds for kind in known}
            if fresh:
                found = True
                here.insert(0, _moved(direction, round(at * divisions)))
    return found


def _kinds(direction: etree._Element) -> set[str]:
    kinds = {"section"} if direction.find("direction-type/rehearsal") is not None else set()
    return kinds | ({"tempo"} if speaks_of_tempo(direction) else set())


def _moved(direction: etree._Element, divisions: int) -> etree._Element:
    copy = deepcopy(direction)
    for child in copy.findall("offset") + copy.findall("staff") + copy.findall("voice"):
        copy.remove(child)
    _move(copy, divisions)
    return copy


def _move(direction: etree._Element, divisions: int) -> None:
    """Say how far from its place in the file a sign means something."""
    if divisions:
        offset = etree.Element("offset", sound="yes")
        offset.text = str(divisions)
        direction.findall("direction-type")[-1].addnext(offset)


def _bars(part: etree._Element) -> Iterator[tuple[etree._Element, int]]:
    """Yield the bars of a part with the divisions of a quarter at their beginning."""
    divisions = 1
    for bar in part.findall("measure"):
        said = bar.findtext("attributes/divisions") or ""
        divisions = int(said) if said.isdigit() and int(said) else divisions
        yield bar, divisions


def _timed(bar: etree._Element, divisions: int, *, moved: bool = True) -> Iterator[tuple[Fraction, etree._Element]]:
    """Yield the directions of a bar with their places [quarters], as their offsets move them or as they stand."""
    at = Fraction(0)
    for node in bar:
        length = Fraction(_number(node.findtext("duration")), divisions)
        if node.tag == "direction":
            offset = _signed(node.findtext("offset")) if moved else 0
            yield max(at + Fraction(offset, divisions), Fraction(0)), node
        elif node.tag == "backup":
            at -= length
        elif node.tag == "forward" or (node.tag == "note" and node.find("chord") is None):
            at += length


def _number(text: str | None) -> int:
    text = (text or "").strip()
    return int(text) if text.isdecimal() else 0


def _signed(text: str | None) -> int:
    text = (text or "").strip()
    try:
        return round(float(text)) if len(text) < _LETTERS else 0
    except (ValueError, OverflowError):
        return 0


def _parent(node: etree._Element) -> etree._Element:
    parent = node.getparent()
    assert parent is not None  # it was found below a part
    return parent
