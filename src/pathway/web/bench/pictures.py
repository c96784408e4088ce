"""The large pictures of the bench. Shapes only; looks are in the style sheet."""

import math
from collections.abc import Sequence
from itertools import pairwise

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.rig.instrument import Rig
from pathway.core.technique.chords import Chord
from pathway.web.shared.bridge import HEIGHT, WIDTH, Bridge
from pathway.web.shared.reading import signed

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
        f"{bridge.arc(-edge, edge, -10)}L{x1 - 26:.1f} {HEIGHT - 6}H{x0 + 26:.1f}Z"
        if x1 < WIDTH
        else bridge.arc(-edge, edge, -10)
    )
    singles = "".join(bridge.arc(v - b, v + b, 16) for v, b in zip(levels, bands, strict=True) if b > 0)
    pairs = "".join(_tick(bridge, (a + b) / 2) for a, b in pairwise(levels))
    dots = "".join(_string_end(bridge, i, levels[i], i in touched, s.letter) for i, s in enumerate(strings))
    degrees = math.degrees(level)
    return (
        f'<svg class="picture bridge-large" viewBox="0 0 {WIDTH:.0f} {HEIGHT:.0f}" role="slider" tabindex="0" '
        f'aria-label="Level of the bow" aria-valuemin="{-math.degrees(edge):.0f}" '
        f'aria-valuemax="{math.degrees(edge):.0f}" aria-valuenow="{degrees:.1f}" aria-valuetext="{on_page}" '
        f'data-level="{degrees:.2f}" data-cx="{bridge.cx:.1f}" data-cy="{bridge.cy:.1f}">'
        f'<path class="bridge-section" d="{body}"/><path class="band" d="{singles}"/><path class="pair" d="{pairs}"/>'
        f"{dots}{_bow(bridge, level)}</svg>"
    )


def _tick(bridge: Bridge, level: float) -> str:
    (x0, y0), (x1, y1) = bridge.at(level, 8), bridge.at(level, 24)
    return f"M{x0:.1f} {y0:.1f}L{x1:.1f} {y1:.1f}"


def _string_end(bridge: Bridge, i: int, level: float, played: bool, letter: str) -> str:
    x, y = bridge.at(level)
    name = bridge.at(level, -26)
    classes = "string-end played" if played else "string-end"
    return (
        f'<circle class="{classes}" cx="{x:.1f}" cy="{y:.1f}" r="{8.5 - i:.1f}"/>'
        f'<text class="middle" x="{name[0]:.1f}" y="{name[1] + 5:.1f}">{letter}</text>'
    )


def _bow(bridge: Bridge, level: float) -> str:
    """The bow lies flat above the middle of the bridge and is turned about its centre."""
    x, y = bridge.cx, bridge.cy - bridge.radius - 9
    left, right = x - _REACH, x + _REACH
    return (
        f'<g class="bow-turned" transform="rotate({math.degrees(level):.2f} {bridge.cx:.1f} {bridge.cy:.1f})">'
        f'<rect class="grip" x="{left:.1f}" y="{y - 40:.1f}" width="{2 * _REACH}" height="56"/>'
        f'<path class="bow-stick" d="M{left:.1f} {y - 14:.1f}Q{x:.1f} {y - 8:.1f} {right:.1f} {y - 18:.1f}"/>'
        f'<path class="hair-across" d="M{left:.1f} {y:.1f}H{right:.1f}"/>'
        f'<rect class="bow-frog" x="{right - 22:.1f}" y="{y - 17:.1f}" width="22" height="17"/></g>'
    )


def window_bars(rows: Sequence[tuple[str, float, float, float, float]], say: Speech = PLAIN) -> str:
    """Both force windows side by side, each with the weight in it.

    Args:
        rows: name, least and greatest force, force [N], and q of each voice.
        say: how the player is told weights.
    """
    least, most, top, bottom = 0.03, 12.0, 8.0, 146.0

    def y(force: float) -> float:
        share = math.log(min(max(force, least), most) / least) / math.log(most / least)
        return bottom - share * (bottom - top)

    parts = []
    for n, (name, low, high, force, place) in enumerate(rows):
        x = 50.0 + 124.0 * n
        inside = 0.08 <= place <= 0.92
        parts.append(
            f'<rect class="window-area" x="{x - 26}" y="{y(high):.1f}" width="52" '
            f'height="{max(y(low) - y(high), 0):.1f}"/>'
            f'<path class="limit-upper" d="M{x - 26} {y(high):.1f}h52"/>'
            f'<path class="limit-lower" d="M{x - 26} {y(low):.1f}h52"/>'
            f'<path class="weight-mark {"core" if inside else "off"}" d="M{x - 34} {y(force):.1f}h68"/>'
            f'<text class="middle" x="{x}" y="170">{name}</text>'
            f'<text x="{x + 38}" y="{y(force) + 4:.1f}">{say.weight(force)}</text>'
        )
    return (
        '<svg class="picture" viewBox="0 0 260 178" role="img" aria-label="The force windows of both voices">'
        f"{''.join(parts)}</svg>"
    )


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
            f'<text x="2" y="{y + 5}">{name}</text><path class="level-line" d="M40 {y}H{x:.1f}"/>'
            f'<path class="goal" d="M{goal:.1f} {y - 11}v22"/>'
            f'<text class="end" x="288" y="{y + 5}">{signed(level, 1)} dB</text>'
        )
    return (
        '<svg class="picture" viewBox="0 0 290 84" role="img" aria-label="The levels of both voices">'
        f"{''.join(parts)}</svg>"
    )


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
        line = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in at)
        third = at[len(at) // 8 : len(at) // 8 + 2]
        parts.append(
            f'<path class="hand-loop" d="{line}"/>{_arrow(*third)}'
            f'<circle class="hand-start" cx="{at[0][0]:.1f}" cy="{at[0][1]:.1f}" r="3.5"/>'
            f'<text class="middle" x="{width * (n + 0.5):.1f}" y="{height - 4}">{name}</text>'
        )
    return (
        f'<svg class="picture" viewBox="0 0 {width * len(loops):.0f} {height:.0f}" role="img" '
        f'aria-label="The way of the hand">{"".join(parts)}</svg>'
    )


def _arrow(a: tuple[float, float], b: tuple[float, float]) -> str:
    angle = math.atan2(b[1] - a[1], b[0] - a[0])
    left, right = angle + 2.6, angle - 2.6
    return (
        f'<path class="hand-way" d="M{b[0] + 8 * math.cos(left):.1f} {b[1] + 8 * math.sin(left):.1f}L{b[0]:.1f} '
        f'{b[1]:.1f}L{b[0] + 8 * math.cos(right):.1f} {b[1] + 8 * math.sin(right):.1f}"/>'
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
                f'<rect class="{kind}" x="{at:.1f}" y="{y}" width="{max(width - 1, 1):.1f}" height="14" rx="3"/>'
            )
        parts.append(
            f'<text class="middle" x="{at + width / 2:.1f}" y="{top + len(rows) * step + 12}">'
            f"{1000 * piece.time:.0f} ms · {say.length(piece.hair, 1)}</text>"
            if width > 90 or (not piece.turn and width > 40)
            else ""
        )
        at += width
    labels = "".join(f'<text x="6" y="{top + i * step + 11}">{names[s]}</text>' for i, s in enumerate(rows))
    return (
        f'<svg class="picture" viewBox="0 0 560 {top + len(rows) * step + 20:.0f}" role="img" '
        f'aria-label="The chord in time">{labels}{"".join(parts)}</svg>'
    )
