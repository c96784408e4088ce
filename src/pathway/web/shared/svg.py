"""Numbers, paths, words and whole pictures as SVG writes them."""

from collections.abc import Iterable
from html import escape


def px(value: float) -> str:
    """Return a coordinate, no longer than it need be."""
    return f"{value:.1f}".rstrip("0").rstrip(".")


def path(class_: str, d: str) -> str:
    """Return a path; its look is in the style sheet."""
    return f'<path class="{class_}" d="{d}"/>'


def across(y: float, x0: float, x1: float) -> str:
    """Return the steps of a level line."""
    return f"M{px(x0)} {px(y)}H{px(x1)}"


def through(points: Iterable[tuple[float, float]]) -> str:
    """Return the steps of a line from point to point."""
    return "M" + "L".join(f"{px(x)} {px(y)}" for x, y in points)


def text(x: float, y: float, words: str, class_: str = "") -> str:
    """Return words at a place."""
    look = f' class="{class_}"' if class_ else ""
    return f'<text{look} x="{px(x)}" y="{px(y)}">{escape(words)}</text>'


def picture(
    label: str, width: float, height: float, *parts: str, kind: str = "", left: float = 0.0, top: float = 0.0
) -> str:
    """Return a picture that says what it is.

    Args:
        label: what a screen reader says of it.
        width: of what is seen [px].
        height: of what is seen [px].
        parts: what is drawn.
        kind: its own look in the style sheet, and the name that scripts find it by.
        left: of what is seen [px].
        top: of what is seen [px].
    """
    look = f' {kind}" data-picture="{kind}' if kind else ""
    return (
        f'<svg class="picture{look}" viewBox="{px(left)} {px(top)} {px(width)} {px(height)}" role="img" '
        f'aria-label="{escape(label, quote=True)}">{"".join(parts)}</svg>'
    )
