"""Makes the fonts of printed pages: still ones, in the format that the typesetter reads, out of those of the screen."""

import sys
from pathlib import Path

from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

FONTS = Path(__file__).parent.parent / "src/pathway/web/static/fonts"
STILL = (  # of which file, what weight, what it is called
    ("literata-latin-wght-normal", 400, "literata-regular"),
    ("literata-latin-wght-normal", 600, "literata-semibold"),
    ("literata-latin-wght-italic", 400, "literata-italic"),
    ("instrument-sans-latin-wght-normal", 400, "instrument-sans-regular"),
    ("instrument-sans-latin-wght-normal", 600, "instrument-sans-semibold"),
)


def main() -> None:
    """Write them."""
    to = FONTS / "paper"
    to.mkdir(exist_ok=True)
    for source, weight, name in STILL:
        font = TTFont(FONTS / f"{source}.woff2")
        others = {axis.axisTag: axis.defaultValue for axis in font["fvar"].axes if axis.axisTag != "wght"}
        still = instantiateVariableFont(font, {**others, "wght": weight}, updateFontNames=False)
        still["OS/2"].usWeightClass = weight
        _save(still, to / f"{name}.ttf")
    _save(TTFont(FONTS / "leipzig.woff2"), to / "leipzig.ttf")
    sys.stdout.write(f"{len(STILL) + 1} fonts in {to}\n")


def _save(font: TTFont, path: Path) -> None:
    font.flavor = None
    font.recalcTimestamp = False
    font.save(path)


if __name__ == "__main__":
    main()
