"""Draws tracks as SVG. Looks (colours, hatches) are in the style sheet; here are only shapes and their classes."""

from collections.abc import Iterable, Sequence
from html import escape
from math import hypot

from pathway.web.sheet.geometry import HAIR, LANE, RISE, STRING_ROW, Bar, Piece, Ribbon, Sign, Tracks

_DOWN = "M-4.5 5V-4.5H4.5V5M-4.5 -3.2H4.5"
_UP = "M-4 -5L0 5L4 -5"
_SIGN_HIT = '<rect class="sign-hit" x="-13" y="-16" width="26" height="32"/>'
STRAND_GAP = 1.6  # between the strands of several strings
_BOW_X = 36.0  # of the small bow in the margin, left of the staff


def draw_tracks(tracks: Tracks) -> str:
    """Return the overlay of one system: signs above it and the tracks below, note under note."""
    parts = [
        f'<svg class="tracks" viewBox="0 0 {_n(tracks.width)} {_n(tracks.height)}" '
        f'width="{_n(tracks.width)}" height="{_n(tracks.height)}" data-system="{tracks.index}" '
        f'data-hair-top="{_n(tracks.hair_top)}" data-hair="{_n(HAIR)}" data-hair-cm="{_n(tracks.hair_cm)}" '
        f'data-lanes-top="{_n(tracks.lanes_top)}" data-lane="{_n(LANE)}">',
        _ground(tracks),
        *(_ribbon(ribbon) for ribbon in tracks.ribbons),
        '<g class="lane-notes">',
        *(_lane(bar) for bar in tracks.lanes),
        '</g><g class="string-notes">',
        *(_crossing(tracks)),
        *(_line(bar, "string-note") for bar in tracks.strings),
        "</g>",
        *(_finding(x, tracks.hair_top, severity) for x, severity, _ in tracks.findings),
        *(_hit(tracks, hit.note, hit.x0, hit.x1, hit.label) for hit in tracks.hits),
        *(_sign(sign) for sign in tracks.signs),
        "</svg>",
    ]
    return "".join(parts)


def _n(value: float) -> str:
    return f"{value:.1f}".rstrip("0").rstrip(".")


def _path(class_: str, d: str) -> str:
    return f'<path class="{class_}" d="{d}"/>'


def _h(y: float, x0: float, x1: float) -> str:
    return f"M{_n(x0)} {_n(y)}H{_n(x1)}"


def _ground(t: Tracks) -> str:
    """Bands, lanes, strings and the small bow that is their axis."""
    bottom = t.hair_top + HAIR
    if t.lane_count:
        bottom = t.lanes_top + t.lane_count * LANE
    if t.string_names:
        bottom = t.strings_top + len(t.string_names) * STRING_ROW
    thirds = "".join(_h(t.hair_top + HAIR * i / 3, t.left, t.right) for i in (1, 2))
    lanes = "".join(_h(t.lanes_top + LANE * i, t.left, t.right) for i in range(t.lane_count + 1) if t.lane_count)
    strings = "".join(_h(t.strings_top + STRING_ROW * (i + 0.5), t.left, t.right) for i in range(len(t.string_names)))
    bars = "".join(f"M{_n(x)} {_n(t.hair_top)}V{_n(bottom)}" for x in t.bars)
    names = "".join(
        _name(t.left - 8, t.strings_top + STRING_ROW * (i + 0.5) + 3.5, s) for i, s in enumerate(t.string_names)
    )
    return (
        '<g class="ground" aria-hidden="true">'
        f'<rect class="hair-field" x="{_n(t.left)}" y="{_n(t.hair_top)}" '
        f'width="{_n(t.right - t.left)}" height="{_n(HAIR)}"/>'
        + _path("third", thirds)
        + _path("balance", _h(t.balance_y, t.left, t.right))
        + _path("lane", lanes)
        + _path("string", strings)
        + _path("bar", bars)
        + _bow(t)
        + (_lane_axis(t) if t.lane_count else "")
        + names
        + "</g>"
    )


def _bow(t: Tracks) -> str:
    """The bow in the margin: frog at the top, tip at the bottom."""
    x, top, bottom = t.left - _BOW_X, t.hair_top, t.hair_top + HAIR
    bend = f"C{_n(x - 1)} {_n(top + HAIR * 0.4)} {_n(x - 1)} {_n(top + HAIR * 0.7)}"
    stick = f"M{_n(x - 5)} {_n(top)}{bend} {_n(x - 5)} {_n(bottom)}"
    return (
        f'<rect class="bow-frog" x="{_n(x - 6)}" y="{_n(top - 1)}" width="8" height="9"/>'
        + _path("bow-stick", stick + f"L{_n(x + 2)} {_n(bottom)}")
        + _path("bow-hair", f"M{_n(x + 2)} {_n(top)}V{_n(bottom)}")
        + _name(t.left - 8, top + 8, "frog")
        + _name(t.left - 8, bottom, "tip")
    )


def _lane_axis(t: Tracks) -> str:
    """Fingerboard above, bridge below."""
    bottom = t.lanes_top + t.lane_count * LANE
    return _name(t.left - 8, t.lanes_top + 6, "board") + _name(t.left - 8, bottom + 2, "bridge")


def _name(x: float, y: float, text: str) -> str:
    return f'<text class="axis-name" x="{_n(x)}" y="{_n(y)}">{escape(text)}</text>'


def _ribbon(ribbon: Ribbon) -> str:
    notes = escape(" ".join(ribbon.notes), quote=True)
    classes = "ribbon" + " locked" * ribbon.locked + " moved" * ribbon.moved
    parts = [
        f'<g class="{classes}" data-stroke="{escape(ribbon.stroke, quote=True)}" '
        f'data-direction="{ribbon.direction}" data-notes="{notes}">'
    ]
    if ribbon.hop:
        x0, y0, x1, y1 = ribbon.hop
        crest = min(y0, y1) - HAIR * RISE
        parts.append(_path("hop", f"M{_n(x0)} {_n(y0)}Q{_n((x0 + x1) / 2)} {_n(crest)} {_n(x1)} {_n(y1)}"))
    parts += [_piece(piece) for piece in ribbon.pieces]
    if ribbon.entry == "hook" and ribbon.pieces and ribbon.pieces[0].note == ribbon.notes[0]:
        first = ribbon.pieces[0]
        parts.append(_path("hook", f"M{_n(first.x0 - 2)} {_n(first.y0 - 8)}V{_n(first.y0 + 8)}"))
    parts += [f'<circle class="joint" cx="{_n(x)}" cy="{_n(y)}" r="2.4"/>' for x, y in ribbon.joints]
    parts += [_path("pin", f"M{_n(x - 4)} {_n(y)}l4 -4l4 4l-4 4Z") for x, y in ribbon.pins]
    return "".join([*parts, "</g>"])


def _piece(piece: Piece) -> str:
    """One note's share, a strand for each string, with a hatch over it where the tone is off."""
    whole = sum(piece.strands) + STRAND_GAP * (len(piece.strands) - 1)
    dx, dy = piece.x1 - piece.x0, piece.y1 - piece.y0
    way = hypot(dx, dy) or 1.0
    at, drawn = -whole / 2, []
    for width in piece.strands:
        x, y = -(at + width / 2) * dy / way, (at + width / 2) * dx / way
        d = f"M{_n(piece.x0 + x)} {_n(piece.y0 + y)}L{_n(piece.x1 + x)} {_n(piece.y1 + y)}"
        drawn.append(f'<path class="{piece.paint}" stroke-width="{_n(width)}" d="{d}"/>')
        if piece.tone != "core":
            drawn.append(f'<path class="hatch-{piece.tone}" stroke-width="{_n(width)}" d="{d}"/>')
        at += width + STRAND_GAP
    return "".join(drawn)


def _lane(bar: Bar) -> str:
    dot = f'<circle class="lane-dot{" locked" if bar.locked else ""}" cx="{_n(bar.x0)}" cy="{_n(bar.y)}" r="2.8"/>'
    return _line(bar, "lane-note") + dot


def _line(bar: Bar, class_: str) -> str:
    return _path(class_, _h(bar.y, bar.x0, bar.x1))


def _crossing(t: Tracks) -> Iterable[str]:
    for c in t.crossings:
        yield _path(f"crossing {c.sense} {c.how}", f"M{_n(c.x0)} {_n(c.y0)}L{_n(c.x1)} {_n(c.y1)}")
        if c.sense == "hard":
            x, y = (c.x0 + c.x1) / 2, (c.y0 + c.y1) / 2
            yield _path(
                "hard-mark", f"M{_n(x - 3)} {_n(y)}L{_n(x)} {_n(y - 4)}L{_n(x + 3)} {_n(y)}L{_n(x)} {_n(y + 4)}Z"
            )


def _sign(sign: Sign) -> str:
    fixed = f" {sign.fixed}" if sign.fixed else ""
    lock = '<circle class="lock-dot" cx="0" cy="-9.5" r="1.8"/>' if sign.fixed == "locked" else ""
    shape = _DOWN if sign.down else _UP
    return (
        f'<g class="sign{fixed}" data-sign="{escape(sign.stroke, quote=True)}" '
        f'transform="translate({_n(sign.x)} {_n(sign.y)})">{_SIGN_HIT}<path d="{shape}"/>{lock}</g>'
    )


def _finding(x: float, top: float, severity: str) -> str:
    y = top - 4
    shapes = {
        "high": f"M{_n(x - 4)} {_n(y)}H{_n(x + 4)}L{_n(x)} {_n(y + 7)}Z",
        "medium": f"M{_n(x - 4)} {_n(y)}H{_n(x + 4)}L{_n(x)} {_n(y + 7)}Z",
        "low": f"M{_n(x - 3)} {_n(y + 2)}H{_n(x + 3)}",
    }
    return _path(f"flag {severity}", shapes[severity])


def _hit(t: Tracks, note: str, x0: float, x1: float, label: str) -> str:
    name = escape(note, quote=True)
    return (
        f'<rect class="hit" id="hit-{name}" data-note="{name}" x="{_n(x0)}" y="0" width="{_n(x1 - x0)}" '
        f'height="{_n(t.height)}" role="button" tabindex="-1" aria-label="{escape(label, quote=True)}"/>'
    )


def draw_ghost(tracks: Tracks, ribbons: Sequence[Ribbon], bars: Sequence[Bar]) -> str:
    """Return some ribbons, lanes and strings of another plan as thin lines, to be laid over a system."""
    lines = "".join(
        _path("ghost-ribbon", f"M{_n(p.x0)} {_n(p.y0)}L{_n(p.x1)} {_n(p.y1)}") for r in ribbons for p in r.pieces
    )
    lines += "".join(_line(bar, "ghost-line") for bar in bars)
    return f'<svg class="tracks" viewBox="0 0 {_n(tracks.width)} {_n(tracks.height)}" aria-hidden="true">{lines}</svg>'


def draw_thumbnail(strokes: list[list[float]], width: float = 240, height: float = 56) -> str:
    """Return a small hair track for the shelf.

    Args:
        strokes: begin and end in time, start and end on the hair, all from 0 to 1.
        width: of the picture.
        height: of the picture.
    """
    lines = "".join(
        f"M{_n(t0 * width)} {_n(4 + a * (height - 8))}L{_n(t1 * width)} {_n(4 + b * (height - 8))}"
        for t0, t1, a, b in strokes
    )
    return (
        f'<svg class="thumb" viewBox="0 0 {_n(width)} {_n(height)}" aria-hidden="true" preserveAspectRatio="none">'
        f"{_path('third', _h(height / 3, 0, width) + _h(2 * height / 3, 0, width))}{_path('thumb-line', lines)}</svg>"
    )
