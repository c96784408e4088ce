"""How each number of a rig is measured, as a small drawing. Shapes only; looks are in the style sheet."""

import re

BOW = (
    '<path class="draw-wood" d="M8 22H22Q80 32 138 20L142 36"/><path class="draw-dark" d="M14 25H26V38H14Z"/>'
    '<path class="draw-hair" d="M26 38H140"/>'
)
STRINGS = (
    '<path class="draw-wood" d="M128 8V52"/><path class="draw-dark" d="M8 14H70V46H8Z"/>'
    '<path class="draw-hair" d="M6 22H150M6 30H150M6 38H150"/>'
)
BRIDGE = '<path class="draw-wood" d="M30 54Q36 30 78 18Q120 30 126 54"/>'
_SCALE = '<path class="draw-dark" d="M50 44H106V54H50Z"/><path class="draw-wood" d="M20 30H140"/>'
_MIDDLE = 84  # of the hair
HAND = (
    '<path class="draw-wood" d="M8 24H150"/><path class="draw-dark" d="M14 28H34V42H14Z"/>'
    '<path class="draw-hand" d="M40 46V30M56 14V22M72 12V22M88 12V22M104 14V22"/>'
)


def _across(x0: float, x1: float, y: float) -> str:
    return f'<path class="draw-mark" d="M{x0} {y - 5}V{y + 5}M{x1} {y - 5}V{y + 5}M{x0} {y}H{x1}"/>'


def _down(x: float, y0: float, y1: float) -> str:
    return f'<path class="draw-mark" d="M{x - 5} {y0}H{x + 5}M{x - 5} {y1}H{x + 5}M{x} {y0}V{y1}"/>'


def _run(tip: int, mark: str) -> str:
    """Dots of one bow along the hair, with its way."""
    dots = "".join(f'<circle class="draw-dot" cx="{x}" cy="46" r="2"/>' for x in range(44, 125, 10))
    back = tip - 6 if tip > _MIDDLE else tip + 6
    return BOW + dots + f'<path class="draw-mark" d="M{back} 41L{tip} 46L{back} 51"/>' + mark


_FROM, _TO = '<path class="draw-mark" d="M44 52V58H52"/>', '<path class="draw-mark" d="M124 52V58H116"/>'
DRAWINGS = {
    "bow.turns": BOW + '<path class="draw-mark" d="M2 18A10 10 0 1 1 2 34M-2 30L2 35L7 31"/>',
    "instrument.strings.ring": STRINGS + '<path class="draw-mark" d="M84 30Q90 22 96 30T108 30T116 30"/>',
    "instrument.strings.answer": STRINGS + '<path class="draw-mark" d="M138 24Q146 30 138 36M144 20Q154 30 144 40"/>',
    "instrument.strings.aside": STRINGS
    + '<path class="draw-mark" d="M92 4L102 56"/><path class="draw-wood" d="M97 4V56"/>',
    "staccato_down.rate": _run(132, ""),
    "staccato_down.from": _run(132, _FROM),
    "staccato_down.to": _run(132, _TO),
    "staccato_up.rate": _run(36, ""),
    "staccato_up.from": _run(36, _FROM),
    "staccato_up.to": _run(36, _TO),
    "instrument.length": STRINGS + _across(8, 128, 54),
    "instrument.gap": STRINGS + _across(70, 128, 54),
    "instrument.spacing": BRIDGE + '<circle class="draw-dot" cx="62" cy="20" r="3"/>'
    '<circle class="draw-dot" cx="94" cy="20" r="3"/>' + _across(62, 94, 9),
    "instrument.bridge_radius": BRIDGE + '<path class="draw-mark" d="M78 56L104 24M78 56L52 24M78 56V18"/>',
    "instrument.comfort_force": _SCALE + '<path class="draw-mark" d="M78 8V26M72 20L78 27L84 20"/>',
    "bow.mass": _SCALE + '<path class="draw-hair" d="M24 36H136"/>',
    "bow.centre": BOW + '<path class="draw-hand" d="M64 56V34"/>' + _across(26, 64, 50),
    "bow.hair": BOW + _across(26, 140, 50),
    "bow.stick": BOW + _across(8, 142, 10),
    "bow.pivot": BOW + '<path class="draw-hand" d="M16 54V40"/>' + _across(16, 26, 10),
    "bow.tension": BOW + '<path class="draw-mark" d="M70 38Q78 52 86 38M78 52V58"/>',
    "bow.ribbon": '<path class="draw-dark" d="M30 12H70V52H30Z"/><path class="draw-hair" '
    'd="M70 22H150M70 28H150M70 34H150M70 40H150"/>' + _down(112, 20, 42),
    "bow.clearance": BOW + _down(80, 28, 38),
    "hold.index_lever": HAND + _across(40, 56, 54),
    "torque_limit": HAND + '<circle class="draw-dot" cx="146" cy="18" r="5"/>'
    '<path class="draw-mark" d="M120 12A30 30 0 0 1 136 44M130 42L136 45L139 38"/>',
    "tilt_habit": '<path class="draw-hair" d="M40 46H120"/><path class="draw-wood" d="M80 40L104 12"/>'
    '<path class="draw-mark" d="M80 14A26 26 0 0 1 98 20M92 20L98 20L97 14"/>',
    "usable.first": BOW + '<path class="draw-mark" d="M34 30V48"/>' + _across(26, 34, 52),
    "usable.last": BOW + '<path class="draw-mark" d="M128 30V48"/>' + _across(26, 128, 52),
}


def drawing(field: str) -> str:
    """Return the drawing that shows how a number of a rig is measured; strings share one."""
    shapes = DRAWINGS.get(re.sub(r"\.\d+", "", field), STRINGS + '<path class="draw-mark" d="M144 24V36M139 30H149"/>')
    return f'<svg class="draw" viewBox="0 0 158 60" aria-hidden="true">{shapes}</svg>'
