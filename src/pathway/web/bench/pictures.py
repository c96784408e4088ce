"""The large pictures of the bench. Shapes only; looks are in the style sheet."""

import math
from collections.abc import Sequence
from itertools import pairwise

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import Chord
from pathway.web.shared.axes import ForceAxis
from pathway.web.shared.bridge import BRIDGE_HEIGHT, BRIDGE_WIDTH, Bridge
from pathway.web.shared.reading import signed
from pathway.web.shared.svg import across, path, picture, px, text, through

_REACH = 190.0  # of the bow to either side of where it touches [px]


def bridge_picture(rig: Rig, level: float, bands: Sequence[float], touched: Sequence[int], on_page: str) -> str:
    """The bridge, large: strings at their places, their bands, the bow at its level, to be turned by hand.

    Args:
        rig: instrument, bow and hand.
        level: of the bow [rad].
        bands: how far the level may stray on each string [rad].
        touched: strings under the bow.
        on_page: what a screen reader says.
    """
    bridge, strings = Bridge(rig), rig.instrument.strings
    levels = [rig.instrument.level(i) for i in range(len(strings))]
    edge = max(levels) + rig.instrument.angle_step * 0.75
    x0, x1 = bridge.at(-edge)[0], bridge.at(edge)[0]
    body = (
        f"{bridge.arc(-edge, edge, -10)}L{px(x1 - 26)} {BRIDGE_HEIGHT - 6}H{px(x0 + 26)}Z"
        if x1 < BRIDGE_WIDTH
        else bridge.arc(-edge, edge, -10)
    )
    singles = "".join(bridge.arc(v - b, v + b, 16) for v, b in zip(levels, bands, strict=True) if b > 0)
    pairs = "".join(_tick(bridge, (a + b) / 2) for a, b in pairwise(levels))
    dots = "".join(_string_end(bridge, i, levels[i], i in touched, s.letter) for i, s in enumerate(strings))
    degrees = math.degrees(level)
    return (
        f'<svg class="picture bridge-large" data-picture="level" viewBox="0 0 {BRIDGE_WIDTH:.0f} {BRIDGE_HEIGHT:.0f}" '
        'role="slider" tabindex="0" '
        f'aria-label="Level of the bow" aria-valuemin="{-math.degrees(edge):.0f}" '
        f'aria-valuemax="{math.degrees(edge):.0f}" aria-valuenow="{degrees:.1f}" aria-valuetext="{on_page}" '
        f'data-level="{degrees:.2f}" data-cx="{px(bridge.cx)}" data-cy="{px(bridge.cy)}">'
        f'<path class="bridge-section" d="{body}"/><path class="band" d="{singles}"/><path class="pair" d="{pairs}"/>'
        f"{dots}{_bow(bridge, level)}</svg>"
    )


def _tick(bridge: Bridge, level: float) -> str:
    (x0, y0), (x1, y1) = bridge.at(level, 8), bridge.at(level, 24)
    return f"M{px(x0)} {px(y0)}L{px(x1)} {px(y1)}"


def _string_end(bridge: Bridge, i: int, level: float, played: bool, letter: str) -> str:
    x, y = bridge.at(level)
    name = bridge.at(level, -26)
    classes = "string-end played" if played else "string-end"
    return f'<circle class="{classes}" cx="{px(x)}" cy="{px(y)}" r="{px(8.5 - i)}"/>' + text(
        name[0], name[1] + 5, letter, "middle"
    )


def _bow(bridge: Bridge, level: float) -> str:
    """The bow lies flat above the middle of the bridge and is turned about its centre."""
    x, y = bridge.cx, bridge.cy - bridge.radius - 9
    left, right = x - _REACH, x + _REACH
    return (
        f'<g data-turned transform="rotate({math.degrees(level):.2f} {px(bridge.cx)} {px(bridge.cy)})">'
        f'<rect class="grip" x="{px(left)}" y="{px(y - 40)}" width="{2 * _REACH}" height="56"/>'
        f'<path class="bow-stick" d="M{px(left)} {px(y - 14)}Q{px(x)} {px(y - 8)} {px(right)} {px(y - 18)}"/>'
        f'<path class="hair-across" d="M{px(left)} {px(y)}H{px(right)}"/>'
        f'<rect class="bow-frog" x="{px(right - 22)}" y="{px(y - 17)}" width="22" height="17"/></g>'
    )


def window_bars(rows: Sequence[tuple[str, float, float, float, float]], say: Speech = PLAIN) -> str:
    """Both force windows side by side, each with the weight in it.

    Args:
        rows: name, least and greatest force, force [N], and q of each voice.
        say: how the player is told weights.
    """
    y, parts = ForceAxis(0.03, 12.0, 8.0, 146.0).y, []
    for n, (name, low, high, force, place) in enumerate(rows):
        x = 50.0 + 124.0 * n
        inside = 0.08 <= place <= 0.92
        parts.append(
            f'<rect class="window-area" x="{x - 26}" y="{px(y(high))}" width="52" '
            f'height="{px(max(y(low) - y(high), 0))}"/>'
            f'<path class="limit-upper" d="M{x - 26} {px(y(high))}h52"/>'
            f'<path class="limit-lower" d="M{x - 26} {px(y(low))}h52"/>'
            f'<path class="weight-mark {"core" if inside else "off"}" d="M{x - 34} {px(y(force))}h68"/>'
            + text(x, 170, name, "middle")
            + text(x + 38, y(force) + 4, str(say.weight(force)))
        )
    return picture("The force windows of both voices", 260, 178, *parts)


def level_bars(rows: Sequence[tuple[str, float, float]]) -> str:
    """Both voices' levels against what is wanted of each.

    Args:
        rows: name, level and wanted level [dB].
    """
    parts = []
    for n, (name, level, wanted) in enumerate(rows):
        y = 24.0 + 40.0 * n
        x, goal = (130.0 + 4.6 * min(max(value, -18.0), 14.0) for value in (level, wanted))
        parts.append(
            text(2, y + 5, name)
            + path("level-line", across(y, 40, x))
            + path("goal", f"M{px(goal)} {px(y - 11)}v22")
            + text(288, y + 5, f"{signed(level, 1)} dB", "end")
        )
    return picture("The levels of both voices", 290, 84, *parts)


def loops_picture(loops: Sequence[tuple[str, Sequence[tuple[float, float]]]]) -> str:
    """The hand's way at several places on the hair, side by side, to one scale.

    Args:
        loops: name and points [m] of each.
    """
    width, height = 186.0, 170.0
    spans = [max(max(values) - min(values) for values in zip(*points, strict=True)) for _, points in loops]
    scale = 128.0 / max(*spans, 0.02)
    parts = []
    for n, (name, points) in enumerate(loops):
        xs, ys = zip(*points, strict=True)
        cx, cy = (max(xs) + min(xs)) / 2, (max(ys) + min(ys)) / 2
        at = [((x - cx) * scale + width * (n + 0.5), (y - cy) * scale + height / 2 - 8) for x, y in points]
        third = at[len(at) // 8 : len(at) // 8 + 2]
        parts.append(
            f'<path class="hand-loop" d="{through(at)}"/>{_arrow(*third)}'
            f'<circle class="hand-start" cx="{px(at[0][0])}" cy="{px(at[0][1])}" r="3.5"/>'
            + text(width * (n + 0.5), height - 4, name, "middle")
        )
    return picture("The way of the hand", width * len(loops), height, *parts)


def _arrow(a: tuple[float, float], b: tuple[float, float]) -> str:
    angle = math.atan2(b[1] - a[1], b[0] - a[0])
    left, right = angle + 2.6, angle - 2.6
    return (
        f'<path class="hand-way" d="M{px(b[0] + 8 * math.cos(left))} {px(b[1] + 8 * math.sin(left))}L{px(b[0])} '
        f'{px(b[1])}L{px(b[0] + 8 * math.cos(right))} {px(b[1] + 8 * math.sin(right))}"/>'
    )


def chord_picture(chord: Chord, names: Sequence[str], say: Speech = PLAIN) -> str:
    """A chord in time: which strings sound when, and where the bow turns."""
    whole = sum(piece.time for piece in chord.pieces)
    rows = sorted({string for piece in chord.pieces for string in piece.strings}, reverse=True)
    left, right, top, step = 30.0, 540.0, 20.0, 24.0
    at, parts = left, []
    for piece in chord.pieces:
        width = piece.time / whole * (right - left)
        kind = "chord-turn" if piece.turn else "chord-piece"
        for string in piece.strings:
            y = top + rows.index(string) * step
            parts.append(
                f'<rect class="{kind}" x="{px(at)}" y="{y}" width="{px(max(width - 1, 1))}" height="14" rx="3"/>'
            )
        if width > 90 or (not piece.turn and width > 40):
            told = f"{1000 * piece.time:.0f} ms · {say.length(piece.hair, 1)}"
            parts.append(text(at + width / 2, top + len(rows) * step + 12, told, "middle"))
        at += width
    labels = [text(6, top + i * step + 11, names[s]) for i, s in enumerate(rows)]
    return picture("The chord in time", 560, top + len(rows) * step + 20, *labels, *parts)
