"""The four small pictures of the note card. Shapes only; looks are in the style sheet."""

import math

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.music import pitch_name
from pathway.core.physics.string import SoundingString, force_window
from pathway.core.planning.note_plan import NotePlan
from pathway.core.rig.bow import Direction
from pathway.core.rig.instrument import Instrument, Rig
from pathway.web.shared.axes import ForceAxis, PlaceAxis
from pathway.web.shared.svg import picture, px, text


def bow_picture(note: NotePlan, rig: Rig, direction: Direction, say: Speech = PLAIN) -> str:
    """The bow from the side: the hair this note uses, and the moment the hand gives at its end."""
    left, right, y = 26.0, 296.0, 40.0

    def x(place: float) -> float:
        return left + place / rig.bow.hair * (right - left)

    a, b = x(note.start), x(note.end)
    torque = note.torque_end
    finger = "index presses" if torque >= 0 else "little finger carries"
    turn = "M14 20A12 12 0 0 1 32 14" if torque >= 0 else "M32 14A12 12 0 0 0 14 20"
    head = "M32 14l-6 -2m6 2l-3 6" if torque >= 0 else "M14 20l1 -6.5m-1 6.5l6 -2"
    arrow = 5 if direction > 0 else -5
    label_x = min(max((a + b) / 2, left + 46), right - 46)
    return picture(
        "The bow from the side",
        310,
        66,
        f'<path class="bow-stick" d="M6 28C90 {y - 2:.0f} 200 {y - 2:.0f} 300 26"/>'
        f'<path class="bow-stick" d="M300 26L{right:.0f} {y}"/>'
        f'<path class="bow-hair" d="M{left} {y}H{right}"/><rect class="bow-frog" x="10" y="28" width="17" height="13"/>'
        f'<path class="hair-used" d="M{px(a)} {y}H{px(b)}"/>'
        f'<path class="balance" d="M{px(x(rig.bow.centre))} {y - 8}V{y + 6}"/>'
        f'<path class="travel" d="M{px(a)} {y + 8}H{px(b)}m{-arrow} -3l{arrow} 3l{-arrow} 3"/>'
        f'<path class="turn" d="{turn}{head}"/>',
        text(40, 15, f"{finger} {abs(torque):.2f} N m at the end"),
        text(label_x, 62, f"{say.length(note.start, 1).number} → {say.length(note.end, 1)}", "middle"),
        kind="bow",
    )


def string_picture(note: NotePlan, rig: Rig) -> str:
    """The strings from above: lanes between fingerboard and bridge, and the bow across."""
    width, top, bottom = 150.0, 12.0, 84.0
    gap = rig.instrument.gap
    board, bridge = 22.0, 136.0

    def x(contact: float) -> float:
        return bridge - contact / gap * (bridge - board)

    lead = note.lead
    sounding = _sounding(note, rig.instrument)
    lanes = "".join(
        f"M{px(x(float(edge) * lead.vibrating))} {top}V{bottom}"
        for edge in sounding.lane_edges()
        if float(edge) * lead.vibrating <= gap
    )
    count = len(rig.instrument.strings)
    rows = [top + 8 + i * (bottom - top - 16) / (count - 1) for i in range(count)]
    played = {voice.string for voice in note.voices}
    strings = "".join(
        f'<path class="{"string played" if count - 1 - i in played else "string"}" d="M4 {px(y)}H{width - 4}"/>'
        for i, y in enumerate(rows)
    )
    at = max(x(note.contact), 8.0)
    return picture(
        "The strings from above",
        width,
        100,
        f'<rect class="board" x="4" y="{top}" width="{board - 4}" height="{bottom - top}"/>'
        f'<path class="lane" d="{lanes}"/>{strings}'
        f'<rect class="bridge" x="{bridge}" y="{top - 4}" width="4" height="{bottom - top + 8}"/>'
        f'<path class="hair-across" d="M{px(at)} 4V92"/>',
    )


def bridge_picture(note: NotePlan, rig: Rig) -> str:
    """The bridge in section: the strings on its arc and the bow at its level."""
    instrument = rig.instrument
    count = len(instrument.strings)
    cx, cy, radius = 75.0, 118.0, 78.0
    spread = min(1.0, 0.62 / (instrument.angle_step * (count - 1) / 2))
    played = {voice.string for voice in note.voices}
    dots = []
    for i in range(count):
        angle = -instrument.level(i) * spread
        x, y = cx - radius * math.sin(angle), cy - radius * math.cos(angle)
        if i in played:
            dots.append(f'<circle class="string-end played" cx="{px(x)}" cy="{px(y)}" r="4"/>')
        else:
            dots.append(f'<circle class="string-end" cx="{px(x)}" cy="{px(y)}" r="3"/>')
    level = note.level * spread
    touch = (cx + radius * math.sin(level), cy - radius * math.cos(level) - 4)
    along = (math.cos(level) * 70, math.sin(level) * 70)
    edge = [(cx + radius * math.sin(a * 0.68), cy + 5 - radius * math.cos(a * 0.68)) for a in (-1, 1)]
    return picture(
        "The bridge and the level of the bow",
        150,
        100,
        f'<path class="bridge-section" d="M{px(edge[0][0])} {px(edge[0][1])}A{radius} {radius} 0 0 1 {px(edge[1][0])} '
        f'{px(edge[1][1])}L{px(edge[1][0] - 8)} 96H{px(edge[0][0] + 8)}Z"/>{"".join(dots)}'
        f'<path class="hair-across" d="M{px(touch[0] - along[0])} {px(touch[1] - along[1])}L{px(touch[0] + along[0])} '
        f'{px(touch[1] + along[1])}"/>',
    )


def window_picture(note: NotePlan, rig: Rig) -> str:
    """The force window over the place on the string at this speed, with the note's point in it."""
    lead = note.lead
    string = _sounding(note, rig.instrument)
    left, right, top, bottom = 8.0, 142.0, 8.0, 92.0
    x, y = PlaceAxis(max(string.furthest, lead.beta), left, right), ForceAxis(0.03, 20.0, top, bottom)
    betas = x.places(16)
    window = [force_window(note.speed, beta, string) for beta in betas]
    upper = " ".join(f"{px(x.x(b))},{px(y.y(float(w.upper)))}" for b, w in zip(betas, window, strict=True))
    lower = " ".join(f"{px(x.x(b))},{px(y.y(float(w.lower)))}" for b, w in zip(betas, window, strict=True))
    area = upper + " " + " ".join(reversed(lower.split()))
    return picture(
        "The force window",
        150,
        100,
        f'<rect class="frame" x="{left}" y="{top}" width="{right - left}" height="{bottom - top}"/>'
        f'<polygon class="window-area" points="{area}"/><polyline class="limit-upper" points="{upper}"/>'
        f'<polyline class="limit-lower" points="{lower}"/>',
        text(14, 20, "pressed"),
        text(14, 88, "airy"),
        f'<circle class="point" cx="{px(x.x(lead.beta))}" cy="{px(y.y(lead.force))}" r="5"/>',
    )


def _sounding(note: NotePlan, instrument: Instrument) -> SoundingString:
    """Return the lead's string as it sounds, stopped or touched."""
    lead = note.lead
    return SoundingString.of(instrument, lead.string, 12 * math.log2(instrument.length / lead.vibrating), lead.loops)


def pitches(note: NotePlan) -> str:
    """Return the note's pitches for its title."""
    return " ".join(pitch_name(voice.midi) for voice in note.voices)
