"""What is drawn of practice: the day as bows, the ladder, days of a log, the way of one drill."""

from collections.abc import Sequence
from datetime import date, timedelta
from html import escape

from pathway.core.guide.speech import Speech
from pathway.core.planning.plan import Plan
from pathway.core.practice.drill import Strain
from pathway.core.practice.progress import BestMark, DayOf
from pathway.web.shared.svg import across, path, px, text
from pathway.web.shared.tracks.geometry import Tracks

_WIDTH = 1000.0
_BOWS = 88.0  # height of the day's hair
_WEIGHTS = {Strain.LIGHT: 3.0, Strain.NORMAL: 5.5, Strain.HEAVY: 9.0}  # of a ribbon: as weight is drawn on the sheet
FILLING = 20.0  # minutes that fill a day, where no day had more
_COLUMN, _ROW = 94.0, 46.0


def draw_day(entries: Sequence[tuple[float, Strain, bool]]) -> str:
    """Return the minutes of a day as bows one after the other, from frog to tip and back.

    Args:
        entries: minutes, load, and whether it is done.
    """
    total = sum(minutes for minutes, _, _ in entries) or 1.0
    left, right, top, bottom = 56.0, _WIDTH - 6, 14.0, 14.0 + _BOWS
    parts = [
        f'<svg class="day-bows tracks" viewBox="0 0 {px(_WIDTH)} {px(bottom + 22)}" role="img" '
        f'aria-label="The day as bows: {len(entries)} of them">',
        f'<rect class="hair-field" x="{px(left)}" y="{px(top)}" width="{px(right - left)}" height="{px(_BOWS)}"/>',
        path("third", across(top + _BOWS / 3, left, right) + across(top + 2 * _BOWS / 3, left, right)),
        text(left - 8, top + 9, "frog", "axis-name"),
        text(left - 8, bottom, "tip", "axis-name"),
    ]
    x = left
    for n, (minutes, load, done) in enumerate(entries):
        far = x + minutes / total * (right - left)
        y0, y1 = (top + 6, bottom - 6) if n % 2 == 0 else (bottom - 6, top + 6)
        shade = "tone-core" if done else "day-to-come"
        parts.append(
            f'<path class="{shade}" stroke-width="{px(_WEIGHTS[load])}" stroke-linecap="round" '
            f'd="M{px(x + 4)} {px(y0)}L{px(far - 4)} {px(y1)}"/>'
        )
        parts.append(text((x + far) / 2, bottom + 16, f"{n + 1}", "day-number"))
        x = far
    return "".join([*parts, "</svg>"])


def draw_ladder(names: Sequence[str], at: int, passed: bool, goal: str) -> str:
    """Return the rungs of a ladder along a line: those climbed, the present one, those to come.

    Args:
        names: what is told of every rung: its notes a second.
        at: the present rung.
        passed: whether the last one is.
        goal: told over the last rung.
    """
    left, right, y = 14.0, _WIDTH - 14, 30.0
    step = (right - left) / max(len(names) - 1, 1)
    dots, told = [], []
    for n, name in enumerate(names):
        x = left + n * step
        kind = "climbed" if n < at or passed else "present" if n == at else "to-climb"
        dots.append(f'<circle class="rung {kind}" cx="{px(x)}" cy="{px(y)}" r="{10 if n == at else 8}"/>')
        anchor = "start" if n == 0 else "end" if n == len(names) - 1 else "middle"
        told.append(
            f'<text class="rung-name" text-anchor="{anchor}" x="{px(x)}" y="{px(y + 26)}">{escape(name)}</text>'
        )
    return (
        f'<svg class="ladder" viewBox="0 0 {px(_WIDTH)} 62" role="img" '
        f'aria-label="Rung {at + 1} of {len(names)}; {escape(goal, quote=True)}">'
        f"{path('ladder-line', across(y, left, right))}{''.join(dots)}{''.join(told)}"
        f'<text class="rung-goal" text-anchor="end" x="{px(right)}" y="13">{escape(goal)}</text></svg>'
    )


def with_arrivals(drawn: str, tracks: Tracks, plan: Plan, say: Speech) -> str:
    """Return a drawn line with a ring where every bow arrives, and the place on the hair beside it."""
    marks = []
    for ribbon in tracks.ribbons:
        last = ribbon.pieces[-1]
        stroke = plan.stroke[ribbon.stroke]
        if last.note != stroke.notes[-1]:
            continue
        beside = -9 if last.y1 < tracks.hair_top + tracks.hair / 2 else 19
        marks.append(
            f'<circle class="arrival" cx="{px(last.x1)}" cy="{px(last.y1)}" r="5"/>'
            f'<text class="arrival-told" x="{px(last.x1)}" y="{px(last.y1 + beside)}">'
            f"{say.length(stroke.left_at).number}</text>"
        )
    return drawn.removesuffix("</svg>") + "".join(marks) + "</svg>"


def draw_calendar(days: Sequence[DayOf]) -> str:
    """Return days as bows drawn downwards, a week a row: the longer the more minutes, the thicker the heavier."""
    weeks = [days[i : i + 7] for i in range(0, len(days), 7)]
    most = max([FILLING, *(one.minutes for one in days)])
    height = len(weeks) * _ROW + 22
    parts = [
        f'<svg class="calendar tracks" viewBox="0 0 {px(7 * _COLUMN + 70)} {px(height)}" role="img" '
        f'aria-label="Minutes of {len(days)} days">'
    ]
    for n, name in enumerate(("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")):
        parts.append(text(70 + n * _COLUMN + 4, 12, name, "axis-name at-start"))
    for w, week in enumerate(weeks):
        y = 22 + w * _ROW
        parts.append(text(0, y + 18, f"{week[0].day:%-d %b}", "axis-name at-start"))
        for d, one in enumerate(week):
            parts.append(_day(one, 70 + d * _COLUMN, y, most))
    return "".join([*parts, "</svg>"])


def _day(one: DayOf, x: float, y: float, most: float) -> str:
    field = f'<rect class="hair-field" x="{px(x)}" y="{px(y)}" width="{px(_COLUMN - 6)}" height="{px(_ROW - 8)}"/>'
    if not one.minutes:
        return field
    long = (_COLUMN - 22) * one.minutes / most
    weight = 4.0 + 7.0 * min(one.heavy / max(one.minutes, 1e-6), 1.0)
    told = f"{one.minutes:.0f} min" + (f", {one.heavy:.0f} heavy" if one.heavy >= 1 else "")
    strained = path("flag high", f"M{px(x + _COLUMN - 20)} {px(y + 23)}h8l-4 7Z") if one.strained else ""
    return (
        f'{field}<path class="tone-core" stroke-width="{px(weight)}" stroke-linecap="round" '
        f'd="M{px(x + 7)} {px(y + 27)}h{px(max(long, 1))}"/>'
        f'<text class="day-told" x="{px(x + 7)}" y="{px(y + 14)}">{told}</text>{strained}'
    )


def draw_way(marks: Sequence[BestMark], first: date, last: date) -> str:
    """Return the rungs of one drill over days, with the goal as a line at the top."""
    width, top, bottom = 420.0, 10.0, 66.0
    days = max((last - first) / timedelta(days=1), 1)

    def x(day: date) -> float:
        return 6 + (day - first) / timedelta(days=1) / days * (width - 12)

    def y(share: float) -> float:
        return bottom - min(share, 1.0) * (bottom - top)

    line = "".join(f"{'M' if n == 0 else 'L'}{px(x(m.day))} {px(y(m.share))}" for n, m in enumerate(marks))
    kinds = ["climbed" if m.passed else "to-climb" for m in marks]
    dots = "".join(
        f'<circle class="rung {kind}" cx="{px(x(m.day))}" cy="{px(y(m.share))}" r="4"/>'
        for m, kind in zip(marks, kinds, strict=True)
    )
    return (
        f'<svg class="drill-way tracks" viewBox="0 0 {px(width)} 72" role="img" aria-label="{len(marks)} days">'
        f"{path('balance', across(top, 6, width - 6))}{path('bar', across(bottom, 6, width - 6))}"
        f"{path('way-of-drill', line)}{dots}</svg>"
    )
