"""A score file in, its parts out: which parts there are, and one of them as written and as MEI to engrave."""

from dataclasses import dataclass, replace
from pathlib import PurePath

from lxml import etree

from pathway.core.guide.notices import bars_named
from pathway.core.music import Event, Part
from pathway.core.planning.wish_checks import tunable
from pathway.core.rig.instrument import Rig
from pathway.core.technique.tempo_words import tempo_word_of
from pathway.core.technique.written_short import in_full
from pathway.errors import NotFound, ScoreError, TooLarge
from pathway.formats import musicxml, musicxml_mending
from pathway.formats.abc import AbcVoice, voices_of
from pathway.formats.bar_repeats import bars_of_signs, say_how_many, write_out
from pathway.formats.engraver import engraver
from pathway.formats.mei import read_mei
from pathway.formats.mei_elements import NS, XML_ID, pitch_of, text_of
from pathway.formats.ossia import main_version
from pathway.formats.part_names import RigGuess, guessed_rig
from pathway.formats.safe_files import check_size, parse_xml, unpack
from pathway.formats.unread import told_once, unread_in_xml

FORMATS = {".musicxml": "xml", ".xml": "xml", ".mxl": "xml", ".mei": "mei", ".abc": "abc", ".krn": "humdrum"}
MOST_NOTE, MOST_BAR, MOST_PIECE = 256, 1024, 40_000  # longest that can be played [quarters]; five hours at 120 a minute
MOST_NOTES = 30_000  # of a part: about half a minute to read and plan
OF_ALL = {f"{NS}tempo", f"{NS}reh"}  # signs that hold for all staves


@dataclass(frozen=True, slots=True)
class PartEntry:
    """One part of a score, numbered from 1."""

    number: int
    name: str
    notes: int
    clef: str = ""  # its first one, by the letter of its sign
    lowest: int | None = None  # pitch that is written

    @property
    def guess(self) -> RigGuess:
        """Return what it is played on, as far as that can be told."""
        return guessed_rig(self.name, self.clef, self.lowest)


@dataclass(frozen=True, slots=True)
class PartScore:
    """One part, read and ready to engrave."""

    part: Part
    mei: str


class ScoreFile:
    """A score as the player gave it."""

    def __init__(self, data: bytes, filename: str) -> None:
        """Open a score; nothing is engraved yet but what the format needs.

        Raises:
            ScoreError: not music, or broken; with the place.
            TooLarge: over the limit.
        """
        check_size(len(data))
        self.kind = _kind(data, filename)
        self.stem = PurePath(filename).stem or "Untitled"
        self.document = unpack(data) if data[:2] == b"PK" else data
        self._xml = self._mei = None
        self._voices = tuple[AbcVoice, ...]()  # of ABC
        if self.kind == "xml":
            self._xml = parse_xml(self.document)
            musicxml.check_root(self._xml)
            musicxml.number_notes(self._xml)
            musicxml.order_by_parts(self._xml)
            self.title = musicxml.title_of(self._xml) or self.stem
        elif self.kind == "abc" and self._tuned():
            self.title = (self._voices[0].title if not self._several() else "") or self.stem
        else:
            self._mei = self._normalised()
            self.title = _mei_title(self._mei) or self.stem

    @property
    def takes_marks(self) -> bool:
        """Whether bow marks can be written into the player's own document."""
        return self.kind == "xml"

    @property
    def tempo_printed(self) -> bool:
        """Whether a number or a word anywhere in the score says how fast it goes."""
        if self._xml is not None:
            return any(musicxml_mending.speaks_of_tempo(direction) for direction in self._xml.iter("direction"))
        if self._voices:
            return any(voice.tempo_printed for voice in self._voices)
        assert self._mei is not None
        signs = self._mei.iter(f"{NS}tempo", f"{NS}dir")
        return any(sign.get("mm") or sign.get("midi.bpm") or tempo_word_of(text_of(sign)) for sign in signs)

    @property
    def tempo_doubt(self) -> tuple[str, float, float] | None:
        """Return a word that the file's own playing contradicts, and the beats a minute of both; None without one."""
        if self._xml is None:
            return None
        doubts = (musicxml_mending.tempo_doubt(part) for part in self._xml.findall("part"))
        return next((doubt for doubt in doubts if doubt), None)

    @property
    def parts(self) -> list[PartEntry]:
        """Return the parts in the order of the score."""
        if self._xml is not None:
            heads = musicxml.part_heads(self._xml)
            return [
                PartEntry(i, head.name or f"Part {i}", head.notes, head.clef, head.lowest)
                for i, head in enumerate(heads, start=1)
            ]
        if self._voices:  # none of them was engraved yet: a book may have hundreds
            several = self._several()
            return [_entry_of(voice, i, several) for i, voice in enumerate(self._voices, start=1)]
        assert self._mei is not None
        return [
            _entry(self._mei, node, i)
            for i, node in enumerate(self._mei.iter(f"{NS}staffDef"), start=1)
            if node.getparent().tag == f"{NS}staffGrp"  # type: ignore[union-attr]
        ]

    def find(self, wanted: str | int | None = None) -> PartEntry:
        """Return a part by number or name; without a wish the first of a bowed instrument, else the first with pitches.

        Raises:
            NotFound: no such part; names those there are.
            ScoreError: the part is empty.
            TooLarge: it has more notes than anyone would wait for.
        """
        parts = self.parts
        if not parts:
            raise ScoreError("The score has no parts", advice="Choose another file.")
        chosen = parts[0] if wanted is None and parts and self._several() else _choose(parts, wanted)
        if chosen is None:
            names = ", ".join(f"{p.number} {p.name}" for p in parts)
            raise NotFound(f"There is no part {wanted!r}", advice=f"Parts: {names}.")
        if chosen.notes == 0:
            raise ScoreError(f"The part {chosen.name!r} is empty", advice="Choose another part.")
        if chosen.notes > MOST_NOTES:
            raise TooLarge(
                f"The part {chosen.name!r} has {chosen.notes} notes; Pathway plans up to {MOST_NOTES} at once",
                advice="Bring in a movement at a time.",
            )
        return chosen

    def part(self, wanted: str | int | None = None) -> PartScore:
        """Read one part.

        Raises:
            NotFound: no such part.
            ScoreError: empty, percussion, or not readable; with the place.
            TooLarge: something in it lasts longer than anyone plays; with the place.
        """
        entry = self.find(wanted)
        root = self._part_mei(entry)
        others, repeated = main_version(root), write_out(root)
        part = read_mei(root, self._title_of(entry), entry.name)
        _check_lengths(part)
        told = [
            *([f"{bars_named(repeated)}: written as a repeat of those before; written out."] if repeated else []),
            *([f"{bars_named(others)}: of two versions (ossia) the main one is planned."] if others else []),
            *(self._voices[entry.number - 1].told if self._voices else ()),
        ]
        if all(event.plucked for event in part.events):
            part = replace(part, events=tuple(replace(event, plucked=False) for event in part.events))
            told.append("The whole part is plucked: it is laid out as if it were bowed.")
        part = in_full(replace(part, notices=(*part.notices, *told)))
        if self._xml is not None:
            written = musicxml.part_of(self._xml, musicxml.part_heads(self._xml)[entry.number - 1].id)
            unread = (*part.unread, *told_once(unread_in_xml(written)))
            part = replace(part, unread=unread, tuning=musicxml.tuning_of(written))
        return PartScore(part, etree.tostring(root, encoding="unicode"))

    def _title_of(self, entry: PartEntry) -> str:
        """Return the title of the tune that a part is of."""
        return (self._voices[entry.number - 1].title if self._voices else "") or self.title

    def _part_mei(self, entry: PartEntry) -> etree._Element:
        if self._voices:
            voice = self._voices[entry.number - 1]
            root = parse_xml(engraver().read(voice.text, self.kind).encode())
            keep_staff(root, _staff_numbers(root)[0])
            notes = list(root.iter(f"{NS}note"))
            for number, finger in voice.fingers if len(notes) == voice.notes else ():
                notes[number].set("tab.fing", str(finger))
            return root
        if self._xml is None:
            assert self._mei is not None
            root = parse_xml(etree.tostring(self._mei))
            keep_staff(root, _staff_numbers(root)[entry.number - 1])
            return root
        head = musicxml.part_heads(self._xml)[entry.number - 1]
        if head.unpitched:
            raise ScoreError(f"{entry.name!r} is a percussion part", advice="Choose the part of a bowed instrument.")
        alone = parse_xml(etree.tostring(self._xml))
        part = musicxml.part_of(alone, head.id)
        musicxml_mending.mend(alone, part)
        musicxml.only_part(alone, head.id)
        root = parse_xml(engraver().read(etree.tostring(alone, encoding="unicode"), "xml").encode())
        staves = _staff_numbers(root)
        if len(staves) > 1:
            keep_staff(root, staves[0])
        say_how_many(root, bars_of_signs(part))
        hands = musicxml.printed_hand(alone)
        for note in root.iter(f"{NS}note"):
            note.attrib.update(hands.get(str(note.get(XML_ID)), {}))
        return root

    def _normalised(self) -> etree._Element:
        if self.kind == "mei":
            root = parse_xml(self.document)
            if etree.QName(root).localname != "mei":
                raise ScoreError(
                    f"The file is XML but not MEI: it begins with <{etree.QName(root).localname}>",
                    place=f"line {root.sourceline}",
                    advice="Choose another file.",
                )
        return parse_xml(engraver().read(self._text(), self.kind).encode())

    def _text(self) -> str:
        try:
            text = self.document.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = self.document.decode("latin-1")
        if "\x00" in text:
            raise ScoreError("This is not a text score", advice="Choose a .mei, .abc or .krn file.")
        return text

    def _several(self) -> bool:
        """Whether the voices are of more than one tune."""
        return len({voice.title for voice in self._voices}) > 1

    def _tuned(self) -> bool:
        """Take the voices of ABC apart; return whether there are any."""
        self._voices = tuple(voice for voice in voices_of(self._text()) if voice.notes)
        return bool(self._voices)


def _entry_of(voice: AbcVoice, number: int, several: bool) -> PartEntry:
    """Return a voice of ABC as a part; where there are several tunes it is told by its tune."""
    name = ", ".join(filter(None, (voice.title if several else "", voice.name))) or f"Part {number}"
    return PartEntry(number, name, voice.notes, voice.clef, voice.lowest)


def tuning_for(part: Part, rig: Rig) -> tuple[int, ...]:
    """Return how the strings of a rig are tuned where a part says so, the lowest first; none where it does not."""
    strings = [string.midi for string in reversed(rig.instrument.strings)]
    if not part.tuning or part.tuning[-1][0] > len(strings):
        return ()
    down = 12 if rig.instrument.octave_down and not part.transposed and part.tuning[0][1] > strings[0] + 6 else 0
    for number, pitch in part.tuning:
        strings[number - 1] = pitch - down
    wanted = tuple(reversed(strings))
    own = tuple(string.midi for string in rig.instrument.strings)
    return wanted if wanted != own and tunable(rig.instrument, wanted) else ()


def at_pitch(part: Part, rig: Rig) -> Part:
    """Return the part as it sounds on a rig that is written an octave up, unless the file itself says so."""
    if not rig.instrument.octave_down or part.transposed:
        return part

    def lower(event: Event) -> Event:
        heads = tuple(replace(head, midi=head.midi - 12) for head in event.heads)
        return replace(event, heads=heads)

    notice = "Read as sounding an octave below what is written, as usual for the double bass."
    return replace(part, events=tuple(map(lower, part.events)), notices=(*part.notices, notice))


def _check_lengths(part: Part) -> None:
    """Refuse what would be played for hours, before anything is planned or sounded.

    Raises:
        TooLarge: a note, a bar or the piece is longer than anyone plays; says where.
    """
    for event in part.events:
        if event.duration > MOST_NOTE:
            raise TooLarge(
                f"A note lasts {float(event.duration):g} quarters; Pathway takes up to {MOST_NOTE}",
                place=part.place(event),
                advice="Mend its duration in the file.",
            )
    for measure in part.measures:
        if measure.length > MOST_BAR:
            raise TooLarge(
                f"Bar {measure.number} has {float(measure.length):g} quarters; Pathway takes up to {MOST_BAR}",
                advice="Divide it in the file.",
            )
    whole = float(sum(measure.length for measure in part.measures))
    if whole > MOST_PIECE:
        raise TooLarge(
            f"The part is {whole:g} quarters long; Pathway takes up to {MOST_PIECE}",
            advice="Bring in a movement at a time.",
        )


def keep_staff(root: etree._Element, number: str) -> None:
    """Take all other staves, and the marks that belong to them, out of an MEI document."""
    for node in list(root.iter(f"{NS}staff", f"{NS}staffDef")):
        if node.get("n") != number:
            node.getparent().remove(node)  # type: ignore[union-attr]
    for group in list(root.iter(f"{NS}staffGrp")):
        if next(group.iter(f"{NS}staffDef"), None) is None and group.getparent() is not None:
            group.getparent().remove(group)  # type: ignore[union-attr]
    ids = {node.get(XML_ID) for node in root.iter(f"{NS}note", f"{NS}chord", f"{NS}rest", f"{NS}mRest")}
    for measure in root.iter(f"{NS}measure"):
        for mark in list(measure):
            start = (mark.get("startid") or "").lstrip("#")
            staves = (mark.get("staff") or number).split()
            elsewhere = (start and start not in ids) or number not in staves
            if mark.tag in OF_ALL and "tstamp" in mark.attrib:  # printed once, over the highest staff
                mark.set("staff", number)
            elif mark.tag != f"{NS}staff" and elsewhere:
                measure.remove(mark)


def _kind(data: bytes, filename: str) -> str:
    suffix = PurePath(filename).suffix.lower()
    if suffix not in FORMATS:
        raise ScoreError(
            f"Pathway does not read {suffix or 'files without an ending'}",
            place=PurePath(filename).name[:80],
            advice="Take MusicXML (.musicxml, .xml, .mxl), MEI, ABC or Humdrum (.krn).",
        )
    if not data.strip():
        raise ScoreError("The file is empty", place=PurePath(filename).name[:80], advice="Export the score again.")
    return FORMATS[suffix]


def _choose(parts: list[PartEntry], wanted: str | int | None) -> PartEntry | None:
    if wanted is None:
        sounding = [part for part in parts if part.lowest is not None]
        return next((part for part in sounding if part.guess.named), next(iter(sounding), parts[0]))
    if str(wanted).isdigit():
        return next((part for part in parts if part.number == int(wanted)), None)
    name = str(wanted).strip().lower()
    exact = [part for part in parts if part.name.lower() == name]
    return next(iter(exact or [part for part in parts if name in part.name.lower()]), None)


def _staff_numbers(root: etree._Element) -> list[str]:
    return [node.get("n", "") for node in root.iter(f"{NS}staffDef") if node.getparent().tag == f"{NS}staffGrp"]  # type: ignore[union-attr]


def _entry(root: etree._Element, staff: etree._Element, number: int) -> PartEntry:
    """Return a staff of MEI as a part."""
    clef = next(staff.iter(f"{NS}clef"), staff)
    notes = _notes_on(root, staff.get("n", ""))
    pitches = [found for note in notes if (found := pitch_of(note)) is not None]
    shape = clef.get("shape") or clef.get("clef.shape") or ""
    return PartEntry(number, _staff_name(staff) or f"Part {number}", len(notes), shape, min(pitches, default=None))


def _staff_name(node: etree._Element) -> str:
    label = node.find(f"{NS}label")
    if label is None:
        label = node.getparent().find(f"{NS}label")  # type: ignore[union-attr]
    return text_of(label) if label is not None else ""


def _notes_on(root: etree._Element, number: str) -> list[etree._Element]:
    staves = (staff for staff in root.iter(f"{NS}staff") if staff.get("n") == number)
    return [note for staff in staves for note in staff.iter(f"{NS}note")]


def _mei_title(root: etree._Element) -> str:
    node = next(root.iter(f"{NS}title"), None)
    return text_of(node) if node is not None else ""
