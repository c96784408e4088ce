"""Numbers as a player reads them."""


def signed(value: float, digits: int) -> str:
    """Return a number with a true minus or plus; nothing is never negative."""
    text = f"{abs(value):.{digits}f}"
    if float(text) == 0:
        return text
    return ("−" if value < 0 else "+") + text
