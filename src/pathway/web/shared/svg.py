"""Numbers and paths as SVG writes them."""


def px(value: float) -> str:
    """Return a coordinate, no longer than it need be."""
    return f"{value:.1f}".rstrip("0").rstrip(".")


def path(class_: str, d: str) -> str:
    """Return a path; its look is in the style sheet."""
    return f'<path class="{class_}" d="{d}"/>'


def across(y: float, x0: float, x1: float) -> str:
    """Return the steps of a level line."""
    return f"M{px(x0)} {px(y)}H{px(x1)}"
