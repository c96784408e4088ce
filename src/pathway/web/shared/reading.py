"""Texts as one player reads them: in other units, and with another name for the bitten stroke."""

import re

from pathway.core.physics.lever import GRAVITY
from pathway.store import Choices, Lengths, Weights

CM_PER_INCH = 2.54
MARTELE = "martelé"
_TOLD = re.compile(r"(?P<number>[-−+]?\d+(?:\.\d+)?) (?P<unit>cm/s|cm|g)(?![\w/])")


class Reading:
    """How one player reads what is made in cm, g and the usual names."""

    def __init__(self, choices: Choices) -> None:
        self.inches = choices.lengths is Lengths.INCH
        self.newtons = choices.weights is Weights.NEWTON
        self.bitten = choices.sharp_name

    def pair(self, value: str, unit: str) -> tuple[str, str]:
        """Return a number and its unit as the player reads them."""
        told = self.told(f"{value} {unit}")
        number, _, rest = told.partition(" ")
        return number, rest

    def told(self, text: str) -> str:
        """Return a text with every length and weight in it in the player's units, and the player's own name."""
        if self.bitten != MARTELE:
            text = text.replace(MARTELE, self.bitten)
        return _TOLD.sub(self._one, text) if self.inches or self.newtons else text

    def _one(self, found: re.Match[str]) -> str:
        number, unit = float(found["number"].replace("−", "-")), found["unit"]
        sign = "+" if found["number"].startswith("+") else ""
        if unit == "g":
            return f"{sign}{number * GRAVITY / 1000:.2f} N" if self.newtons else found[0]
        if not self.inches:
            return found[0]
        inches = f"{sign}{number / CM_PER_INCH:.1f}".replace("-", "−")
        return f"{inches} {unit.replace('cm', 'in')}"


def signed(value: float, digits: int) -> str:
    """Return a number with a true minus or plus; nothing is never negative."""
    text = f"{abs(value):.{digits}f}"
    if float(text) == 0:
        return text
    return ("−" if value < 0 else "+") + text
