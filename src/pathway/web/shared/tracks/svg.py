"""Draws tracks as SVG. Looks (colours, hatches) are in the style sheet; here are only shapes and their classes."""

from collections.abc import Iterable, Sequence
from html import escape
from math import hypot

from pathway.core.technique.crossings import Sense
from pathway.web.shared.svg import across, path, px, text
from pathway.web.shared.tracks.geometry import LANE, RISE, STRING_ROW, LevelLine, Ribbon, RibbonPiece, Sign, Tracks

_DOWN = "M-4.5 5V-4.5H4.5V5M-4.5 -3.2H4.5"
_UP = "M-4 -5L0 5L4 -5"
_SIGN_HIT = '<rect class="sign-hit" x="-13" y="-16" width="26" height="32"/>'
STRAND_GAP = 1.6  # between the strands of several strings
_BOW_X = 36.0  # of the small bow in the margin, left of the staff


def draw_tracks(tracks: Tracks) -> str:
    """Return the overlay of one system: signs above it and the tracks below, note under note."""
    parts = [
        f'<svg class="tracks" viewBox="0 0 {px(tracks.width)} {px(tracks.height)}" '
        f'width="{px(tracks.width)}" height="{px(tracks.height)}" data-system="{tracks.index}" '
        f'data-hair-top="{px(tracks.hair_top)}" data-hair="{px(tracks.hair)}" data-hair-cm="{px(tracks.hair_cm)}" '
        f'data-lanes-top="{px(tracks.lanes_top)}" data-lane="{px(LANE)}">',
        _ground(tracks) if tracks.hair else "",
        *(_ribbon(ribbon, tracks.hair) for ribbon in tracks.ribbons),
        '<g class="lane-notes">',
        _levels("lane-note", tracks.lanes),
        *(_lane_dot(bar) for bar in tracks.lanes),
        '</g><g class="string-notes">',
        *_crossings(tracks),
        _levels("string-note", tracks.strings),
        "</g>",
        *(_finding(x, tracks.hair_top, severity) for x, severity, _ in tracks.findings),
        *(_hit(tracks, hit.note, hit.x0, hit.x1, hit.label) for hit in tracks.hits),
        *(_sign(sign) for sign in tracks.signs),
        "</svg>",
    ]
    return "".join(parts)


def _ground(t: Tracks) -> str:
    """Bands, lanes, strings and the small bow that is their axis."""
    bottom = t.hair_top + t.hair
    if t.lane_count:
        bottom = t.lanes_top + t.lane_count * LANE
    if t.string_names:
        bottom = t.strings_top + len(t.string_names) * STRING_ROW
    thirds = "".join(across(t.hair_top + t.hair * i / 3, t.left, t.right) for i in (1, 2))
    lanes = "".join(across(t.lanes_top + LANE * i, t.left, t.right) for i in range(t.lane_count + 1) if t.lane_count)
    strings = "".join(
        across(t.strings_top + STRING_ROW * (i + 0.5), t.left, t.right) for i in range(len(t.string_names))
    )
    bars = "".join(f"M{px(x)} {px(t.hair_top)}V{px(bottom)}" for x in t.bars)
    names = "".join(
        _name(t.left - 8, t.strings_top + STRING_ROW * (i + 0.5) + 3.5, s) for i, s in enumerate(t.string_names)
    )
    return (
        '<g class="ground" aria-hidden="true">'
        f'<rect class="hair-field" x="{px(t.left)}" y="{px(t.hair_top)}" '
        f'width="{px(t.right - t.left)}" height="{px(t.hair)}"/>'
        + path("third", thirds)
        + path("balance", across(t.balance_y, t.left, t.right))
        + path("lane", lanes)
        + path("string", strings)
        + path("bar", bars)
        + _bow(t)
        + (_lane_axis(t) if t.lane_count else "")
        + names
        + "</g>"
    )


def _bow(t: Tracks) -> str:
    """The bow in the margin: frog at the top, tip at the bottom."""
    x, top, bottom = t.left - _BOW_X, t.hair_top, t.hair_top + t.hair
    bend = f"C{px(x - 1)} {px(top + t.hair * 0.4)} {px(x - 1)} {px(top + t.hair * 0.7)}"
    stick = f"M{px(x - 5)} {px(top)}{bend} {px(x - 5)} {px(bottom)}"
    return (
        f'<rect class="bow-frog" x="{px(x - 6)}" y="{px(top - 1)}" width="8" height="9"/>'
        + path("bow-stick", stick + f"L{px(x + 2)} {px(bottom)}")
        + path("bow-hair", f"M{px(x + 2)} {px(top)}V{px(bottom)}")
        + _name(t.left - 8, top + 8, "frog")
        + _name(t.left - 8, bottom, "tip")
    )


def _lane_axis(t: Tracks) -> str:
    """Fingerboard above, bridge below."""
    bottom = t.lanes_top + t.lane_count * LANE
    return _name(t.left - 8, t.lanes_top + 6, "board") + _name(t.left - 8, bottom + 2, "bridge")


def _name(x: float, y: float, words: str) -> str:
    return text(x, y, words, "axis-name")


def _ribbon(ribbon: Ribbon, hair: float) -> str:
    notes = escape(" ".join(ribbon.notes), quote=True)
    classes = "ribbon" + " locked" * ribbon.locked + " moved" * ribbon.moved
    parts = [
        f'<g class="{classes}" data-stroke="{escape(ribbon.stroke, quote=True)}" '
        f'data-direction="{ribbon.direction}" data-notes="{notes}">'
    ]
    if ribbon.hop:
        x0, y0, x1, y1 = ribbon.hop
        crest = min(y0, y1) - hair * RISE
        parts.append(path("hop", f"M{px(x0)} {px(y0)}Q{px((x0 + x1) / 2)} {px(crest)} {px(x1)} {px(y1)}"))
    parts += [_piece(piece) for piece in ribbon.pieces]
    if ribbon.entry == "hook" and ribbon.pieces and ribbon.pieces[0].note == ribbon.notes[0]:
        first = ribbon.pieces[0]
        parts.append(path("hook", f"M{px(first.x0 - 2)} {px(first.y0 - 8)}V{px(first.y0 + 8)}"))
    parts += [f'<circle class="joint" cx="{px(x)}" cy="{px(y)}" r="2.4"/>' for x, y in ribbon.joints]
    parts += [path("pin", f"M{px(x - 4)} {px(y)}l4 -4l4 4l-4 4Z") for x, y in ribbon.pins]
    return "".join([*parts, "</g>"])


def _piece(piece: RibbonPiece) -> str:
    """One note's share, a strand for each string, with a hatch over it where the tone is off."""
    whole = sum(piece.strands) + STRAND_GAP * (len(piece.strands) - 1)
    dx, dy = piece.x1 - piece.x0, piece.y1 - piece.y0
    way = hypot(dx, dy) or 1.0
    at, drawn = -whole / 2, []
    for width in piece.strands:
        x, y = -(at + width / 2) * dy / way, (at + width / 2) * dx / way
        d = f"M{px(piece.x0 + x)} {px(piece.y0 + y)}L{px(piece.x1 + x)} {px(piece.y1 + y)}"
        if piece.bows > 1:
            d = _to_and_fro(piece, at + width / 2)
        drawn.append(f'<path class="{piece.paint}" stroke-width="{px(width)}" d="{d}"/>')
        if piece.tone != "core":
            drawn.append(f'<path class="hatch-{piece.tone}" stroke-width="{px(width)}" d="{d}"/>')
        at += width + STRAND_GAP
    return "".join(drawn)


def _to_and_fro(piece: RibbonPiece, below: float) -> str:
    """The way of a tremolo's many bows, so far below its middle line."""
    step = (piece.x1 - piece.x0) / piece.bows
    places = [piece.y0 if i % 2 == 0 else piece.y1 for i in range(piece.bows + 1)]
    return "M" + "L".join(f"{px(piece.x0 + i * step)} {px(y + below)}" for i, y in enumerate(places))


def _lane_dot(bar: LevelLine) -> str:
    return f'<circle class="lane-dot{" locked" if bar.locked else ""}" cx="{px(bar.x0)}" cy="{px(bar.y)}" r="2.8"/>'


def _levels(class_: str, bars: Iterable[LevelLine]) -> str:
    """Many level lines as one path: a browser has far less to read and to paint."""
    steps = "".join(across(bar.y, bar.x0, bar.x1) for bar in bars)
    return path(class_, steps) if steps else ""


def _crossings(t: Tracks) -> Iterable[str]:
    """The ways from string to string, one path for those that look alike, and the marks on the hard ones."""
    alike: dict[str, list[str]] = {}
    for c in t.crossings:
        alike.setdefault(f"crossing {c.sense} {c.how}", []).append(f"M{px(c.x0)} {px(c.y0)}L{px(c.x1)} {px(c.y1)}")
    yield from (path(class_, "".join(ways)) for class_, ways in alike.items())
    hard = [((c.x0 + c.x1) / 2, (c.y0 + c.y1) / 2) for c in t.crossings if c.sense is Sense.HARD]
    if hard:
        yield path("hard-mark", "".join(f"M{px(x - 3)} {px(y)}l3 -4l3 4l-3 4Z" for x, y in hard))


def _sign(sign: Sign) -> str:
    fixed = f" {sign.fixed}" if sign.fixed else ""
    lock = '<circle class="lock-dot" cx="0" cy="-9.5" r="1.8"/>' if sign.fixed == "locked" else ""
    shape = _DOWN if sign.down else _UP
    return (
        f'<g class="sign{fixed}" data-sign="{escape(sign.stroke, quote=True)}" '
        f'transform="translate({px(sign.x)} {px(sign.y)})">{_SIGN_HIT}<path d="{shape}"/>{lock}</g>'
    )


def _finding(x: float, top: float, severity: str) -> str:
    y = top - 4
    shapes = {
        "high": f"M{px(x - 4)} {px(y)}H{px(x + 4)}L{px(x)} {px(y + 7)}Z",
        "medium": f"M{px(x - 4)} {px(y)}H{px(x + 4)}L{px(x)} {px(y + 7)}Z",
        "low": f"M{px(x - 3)} {px(y + 2)}H{px(x + 3)}",
    }
    return path(f"flag {severity}", shapes[severity])


def _hit(t: Tracks, note: str, x0: float, x1: float, label: str) -> str:
    name = escape(note, quote=True)
    return (
        f'<rect class="hit" id="hit-{name}" data-note="{name}" x="{px(x0)}" y="0" width="{px(x1 - x0)}" '
        f'height="{px(t.height)}" role="button" tabindex="-1" aria-label="{escape(label, quote=True)}"/>'
    )


def draw_ghost(tracks: Tracks, ribbons: Sequence[Ribbon], bars: Sequence[LevelLine]) -> str:
    """Return some ribbons, lanes and strings of another plan as thin lines, to be laid over a system."""
    lines = "".join(
        path("ghost-ribbon", f"M{px(p.x0)} {px(p.y0)}L{px(p.x1)} {px(p.y1)}") for r in ribbons for p in r.pieces
    )
    lines += _levels("ghost-line", bars)
    return f'<svg class="tracks" viewBox="0 0 {px(tracks.width)} {px(tracks.height)}" aria-hidden="true">{lines}</svg>'
