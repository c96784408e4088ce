"""The small picture of a plan: its bows in time."""

from collections.abc import Iterable

from pathway.web.shared.svg import across, path, px


def draw_thumbnail(strokes: Iterable[tuple[float, float, float, float]], width: float = 240, height: float = 56) -> str:
    """Return a small hair track.

    Args:
        strokes: begin and end in time, start and end on the hair, all from 0 to 1.
        width: of the picture.
        height: of the picture.
    """
    lines = "".join(
        f"M{px(t0 * width)} {px(4 + a * (height - 8))}L{px(t1 * width)} {px(4 + b * (height - 8))}"
        for t0, t1, a, b in strokes
    )
    thirds = across(height / 3, 0, width) + across(2 * height / 3, 0, width)
    return (
        f'<svg class="thumb" viewBox="0 0 {px(width)} {px(height)}" aria-hidden="true" preserveAspectRatio="none">'
        f"{path('third', thirds)}{path('thumb-line', lines)}</svg>"
    )
