"""A rig drawn from its numbers: the bow, the strings, the bridge. Shapes only; looks are in the style sheet."""

import math
from collections.abc import Sequence

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.physics.bounce import Bounce
from pathway.core.physics.lever import effortless_place
from pathway.core.physics.string import plain_place
from pathway.core.rig.instrument import Rig
from pathway.web.shared.bridge import BRIDGE_HEIGHT, Bridge
from pathway.web.shared.svg import across, path, picture, px, text, through

_LEFT, _WAY = 74.0, 640.0  # of the hair's beginning, and its length [px]
_RATES = (0.12, 0.25, 0.5, 0.75, 0.92)  # shares of the hair at which the rebound is told
EASE = 0.9  # force at which the effortless place is shown [N]
_SPICCATO = 8.0  # notes a second at which its place is shown
_LONG, _ROW = 190.0, 17.0  # room for the words of a pointer, and for a row of them [px]
STRING_WAY = 230.0  # from the bridge outward [px]


def bow_picture(rig: Rig, say: Speech = PLAIN) -> str:
    """The bow from the side: balance point, effortless place, spiccato place, rebound rates along the hair."""
    bow = rig.bow
    bounce = Bounce(bow, rig.instrument.strings[0].gravity_share)
    ease = effortless_place(EASE, bow, rig.instrument.strings[0].gravity_share)
    thrown = float(bounce.spiccato_place(_SPICCATO))
    clearance = 16 + 1000 * bow.clearance
    right, top = _LEFT + _WAY, 72 - clearance
    stick = (
        f'<path class="stick" d="M{_LEFT - 44} {px(top)}H{_LEFT}Q{_LEFT + _WAY / 2} 64 {right} {px(top)}'
        f'L{right + 7} 72"/>'
        f'<path class="frog" d="M{_LEFT - 30} {px(top + 3)}H{_LEFT}V73H{_LEFT - 30}Z"/>'
        f'<path class="hair" d="M{_LEFT} 72H{right}"/>'
    )
    low, high = (_LEFT + _WAY * place / bow.hair for place in rig.usable)
    usable = f'<path class="usable" d="M{px(low)} 78H{px(high)}"/>'
    told = [(bow.centre, f"balances at {say.length(bow.centre, 1)}"), (thrown, f"spiccato, {_SPICCATO:.0f} a second")]
    if 0 < ease < bow.hair:
        told.append((ease, f"lies by itself at {say.weight(EASE)}"))
    marks = _marks([(_LEFT + _WAY * place / bow.hair, words) for place, words in told])
    rates = "".join(_rate(share, float(bounce.rate(share * bow.hair))) for share in _RATES)
    label = "The bow with its balance point, the place where its own weight is enough, and its rebound along the hair"
    words = text(_LEFT - 66, 112, "rebounds", "quiet"), text(_LEFT - 66, 126, "a second", "quiet")
    return picture(label, 760, 148, stick, usable, *marks, rates, *words, kind="rig-bow", top=-16)


def _marks(told: list[tuple[float, str]]) -> list[str]:
    """Return pointers with their words, each row of words above the pointers that it passes."""
    from_right = [one for one in sorted(told, reverse=True) if one[0] + _LONG > _LEFT + _WAY]
    nearest = min((x for x, _ in from_right), default=float("inf"))
    from_left = sorted(one for one in told if one not in from_right)
    crossing = [one for one in from_left if one[0] + _LONG > nearest]
    ends = [*from_right, *reversed(crossing)]
    rows = [(one, "end") for one in ends] + [(one, "start") for one in from_left if one not in crossing]
    return [_mark(x, _ROW * n, words, side) for n, ((x, words), side) in enumerate(rows)]


def _mark(x: float, height: float, words: str, side: str) -> str:
    return (
        f'<path class="pointer" d="M{px(x)} 71V{px(height - 9)}"/><text x="{px(x + (5 if side == "start" else -5))}" '
        f'y="{px(height)}" text-anchor="{side}">{words}</text>'
    )


def _rate(share: float, rate: float) -> str:
    x = _LEFT + _WAY * share
    return path("tick", f"M{px(x)} 84V96") + text(x, 118, f"{rate:.1f}", "middle")


def strings_picture(rig: Rig, say: Speech = PLAIN) -> str:
    """The strings from above, from the bridge to the fingerboard, each with its place of a plain mezzo-forte."""
    instrument = rig.instrument
    count = len(instrument.strings)
    width = 70 + 52.0 * count
    scale = STRING_WAY / max(instrument.gap * 1.15, 0.05)
    end = 250 - instrument.gap * scale
    parts = [
        f'<path class="rig-board" d="M30 {px(end)}H{px(width - 20)}V4H30Z"/>',
        f'<path class="bridge-top" d="M30 250H{px(width - 20)}"/>',
    ]
    for i, string in enumerate(instrument.strings):
        x = 56 + 52.0 * i
        place = plain_place(instrument, i) * instrument.length
        y = 250 - place * scale
        parts.append(
            f'<path class="string-line" stroke-width="{px(1.2 + 2.4 * (count - i) / count)}" d="M{x} 250V4"/>'
            f'<circle class="place" cx="{x}" cy="{px(y)}" r="6"/>'
            + text(x, 268, string.letter, "middle")
            + text(x + 9, y + 4, say.length(place, 1).number)
        )
    label = f"The strings with the place of a plain mezzo-forte on each, in {say.names_lengths} from the bridge"
    return picture(label, width, 274, *parts)


def levels_picture(rig: Rig) -> str:
    """The bridge in section, with the bow's level on every string in degrees."""
    bridge, strings = Bridge(rig), rig.instrument.strings
    levels = [rig.instrument.level(i) for i in range(len(strings))]
    edge = max(levels) + rig.instrument.angle_step * 0.75
    parts = [f'<path class="bridge-face" d="{bridge.arc(-edge, edge, -10)}"/>']
    for string, level in zip(strings, levels, strict=True):
        x, y = bridge.at(level)
        dx, dy = 62 * math.cos(level), 62 * math.sin(level)
        parts.append(
            f'<path class="own-level" d="M{px(x - dx)} {px(y - dy - 8)}L{px(x + dx)} {px(y + dy - 8)}"/>'
            f'<circle class="string-end" cx="{px(x)}" cy="{px(y)}" r="5"/>'
            + text(x, y + 40, f"{string.letter} {math.degrees(level):+.0f}°", "middle")
        )
    left, right = bridge.at(-edge)[0] - 30, bridge.at(edge)[0] + 30
    label = "The bridge with the level of every string"
    return picture(label, right - left, BRIDGE_HEIGHT - 60, *parts, left=left, top=30)


def rebound_picture(
    typical: Sequence[tuple[float, float]],
    fitted: Sequence[tuple[float, float]],
    measured: Sequence[tuple[float, float]],
) -> str:
    """Rebound rates along the hair: typical, fitted, and as measured; places in cm, rates a second."""
    most = max(rate for row in (typical, fitted, measured) for _, rate in row) * 1.1
    furthest = max(place for place, _ in typical)

    def at(place: float, rate: float) -> tuple[float, float]:
        return 50 + 480 * place / furthest, 210 - 180 * rate / most

    dots = "".join('<circle class="measured" cx="{:.1f}" cy="{:.1f}" r="6"/>'.format(*at(*point)) for point in measured)
    steps = range(0, int(most) + 1, 10)
    grid = "".join(path("grid", across(at(0, r)[1], 50, 530)) + text(12, at(0, r)[1] + 4, str(r)) for r in steps)
    places = "".join(text(at(p, 0)[0], 228, str(p), "middle") for p in range(0, int(furthest) + 1, 10))
    usual = path("typical", through(at(*point) for point in typical))
    own = path("fitted", through(at(*point) for point in fitted)) if fitted else ""
    label = "Rebounds a second along the hair: typical, yours, and what was tapped"
    return picture(label, 560, 236, grid, places, usual, own, dots, kind="rebound")
