"""Printed lines laid out on pages: broken where a page turns well, findings as footnotes at the foot of their page."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from pathway.core.guide.speech import Speech
from pathway.core.planning.finding import Finding
from pathway.core.planning.plan import Plan
from pathway.formats.staves import STAFF, System
from pathway.web.shared.svg import px
from pathway.web.shared.tracks.geometry import SIGNS, PlanIndex, tracks_of
from pathway.web.shared.tracks.look import Look
from pathway.web.shared.tracks.pencil import with_pencil
from pathway.web.shared.tracks.svg import draw_tracks

STAFF_SHARE = 7.0 / STAFF  # millimetres on paper for a CSS px of an engraved line: its staff is 7 mm high
MARGIN, HEAD, FOOT = 14.0, 26.0, 16.0  # around the page, for the title of the first one, for its number [mm]
NOTE_LINE, LETTERS_PER_MM = 4.4, 0.62  # a line of a footnote [mm], and how many letters go into a millimetre
_TOUCHED = re.compile(r'<rect class="(hit|sign-hit)"[^>]*/>')  # nobody presses on paper
GAP = 2.0  # between lines [mm]
SPACE = 12.0  # between the lines of one picture [px]
LOOK_BACK = 2  # lines that a page may leave empty for a better turn
GOOD_TURN = 2  # beats of rest


class Paper(StrEnum):
    """Paper sizes."""

    A4 = "a4"
    LETTER = "letter"

    @property
    def size(self) -> tuple[float, float]:
        """Return width and height, upright [mm]."""
        return (210.0, 297.0) if self is Paper.A4 else (215.9, 279.4)


@dataclass(frozen=True, slots=True)
class Wish:
    """How a part is to be printed."""

    paper: Paper = Paper.A4
    lying: bool = False
    strip: bool = True  # the hair under each line
    strings: bool = False
    fingers: bool = True

    @property
    def size(self) -> tuple[float, float]:
        """Return width and height of a page [mm]."""
        width, height = self.paper.size
        return (height, width) if self.lying else (width, height)

    @property
    def inner(self) -> float:
        """Return how wide a line is [mm]."""
        return self.size[0] - 2 * MARGIN

    @property
    def width(self) -> int:
        """Return how wide lines are to be engraved [CSS px]."""
        return round(self.inner / STAFF_SHARE / 20) * 20

    @property
    def look(self) -> Look:
        """Return what is drawn under a line."""
        return Look(lanes=False, strings=self.strings, hair=52.0 if self.strip else 0.0, heft=0.5)


@dataclass(frozen=True, slots=True)
class PaperLine:
    """One line as a picture of its own."""

    svg: str
    height: float  # [mm]
    bars: tuple[str, str]
    notes: tuple[tuple[int, str], ...]  # footnotes: number and text
    rest: float  # at its end [beats]


@dataclass(frozen=True, slots=True)
class Page:
    """What stands on a page."""

    number: int
    lines: tuple[PaperLine, ...]
    notes: tuple[tuple[int, str], ...]


def lines_of(
    plan: Plan, systems: Sequence[System], findings: Sequence[Finding], wish: Wish, say: Speech
) -> list[PaperLine]:
    """Return the lines of a plan as they are printed."""
    index, found, count = PlanIndex(plan, findings), [], 0
    for number, system in enumerate(systems):
        tracks = tracks_of(index, system, number, look=wish.look, say=say)
        drawn = with_pencil(draw_tracks(tracks), tracks, system, plan, say)
        here = index.notes_in(system)
        told, marks = [], []
        for note in here:
            finding = index.finding_of.get(note.id)
            if finding is not None:
                count += 1
                told.append((count, finding.text(say)))
                marks.append(
                    f'<text class="foot-number" x="{px(system.notes[note.id].x + 6)}" '
                    f'y="{px(tracks.hair_top + 3)}">{count}</text>'
                )
        whole = one_picture(system, drawn.removesuffix("</svg>") + "".join(marks) + "</svg>", wish)
        bars = [note.measure for note in here] or [""]
        height = tracks.height * wish.inner / tracks.width
        found.append(PaperLine(whole, height, (bars[0], bars[-1]), tuple(told), _rest_after(plan, system)))
    return found


def one_picture(system: System, drawn: str, wish: Wish) -> str:
    """Return an engraved line and what is drawn on it as one picture, its looks left to a style sheet."""
    width, height = _box(drawn)
    room = f'<svg y="{px(SIGNS)}" width="{px(system.width)}" height="{px(system.height)}"'
    staff = system.svg.replace("<svg", room, 1)
    drawn = _TOUCHED.sub("", drawn)
    fingers = "" if wish.fingers else " no-fingers"
    return (
        f'<svg class="paper{fingers}" xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" '
        f'width="{width}" height="{height}">{staff}{drawn}</svg>'
    )


def _box(drawn: str) -> tuple[str, str]:
    """Return width and height of a drawn line, as it says them itself."""
    inside = drawn[drawn.index('viewBox="0 0 ') + 13 :]
    width, height = inside[: inside.index('"')].split()
    return width, height


def _rest_after(plan: Plan, system: System) -> float:
    """Return how many beats are silent at the end of a line."""
    events = [event for event in plan.part.events if event.id in system.notes]
    if not events:
        return 0.0
    last = plan.part.measures[events[-1].measure]
    after = plan.part.index[events[-1].id] + 1
    until = plan.part.events[after].onset if after < len(plan.part.events) else last.onset + last.length
    return float((until - events[-1].end) / last.beat_length)


def pages_of(lines: Sequence[PaperLine], wish: Wish) -> list[Page]:
    """Return the pages: each as full as may be, ended a line or two earlier where there is a rest to turn in."""
    room = wish.size[1] - MARGIN - FOOT
    pages, at, left = list[Page](), 0, room - HEAD
    while at < len(lines):
        last, used = at, _need(lines[at], wish)
        while last + 1 < len(lines) and used + _need(lines[last + 1], wish) <= left:
            last += 1
            used += _need(lines[last], wish)
        if last + 1 < len(lines):
            good = [n for n in range(last, max(at, last - LOOK_BACK) - 1, -1) if lines[n].rest >= GOOD_TURN]
            last = good[0] if good else last
        chosen = tuple(lines[at : last + 1])
        pages.append(Page(len(pages) + 1, chosen, tuple(note for line in chosen for note in line.notes)))
        at, left = last + 1, room
    return pages


def _need(line: PaperLine, wish: Wish) -> float:
    """Return the room that a line takes with its footnotes [mm]."""
    rows = sum(1 + int(len(text) / (wish.inner * LETTERS_PER_MM)) for _, text in line.notes)
    return line.height + GAP + NOTE_LINE * rows


def one_sheet(lines: Sequence[PaperLine], style: str) -> str:
    """Return all lines under each other as one picture that has its looks in itself."""
    boxes = [tuple(float(value) for value in _box(line.svg)) for line in lines]
    top, parts = 0.0, list[str]()
    for line, (_, height) in zip(lines, boxes, strict=True):
        parts.append(line.svg.replace("<svg", f'<svg y="{px(top)}"', 1))
        top += height + SPACE
    width = max(box[0] for box in boxes)
    ground = '<rect width="100%" height="100%" fill="#fff"/>'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {px(width)} {px(top)}" width="{px(width)}" '
        f'height="{px(top)}"><style>{style}</style>{ground}{"".join(parts)}</svg>\n'
    )
