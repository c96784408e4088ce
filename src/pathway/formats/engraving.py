"""What runs in the engraver's own process. Nothing else may import the engraving library."""

import json
import os
import signal
import sys
from functools import lru_cache
from importlib.resources import files

import verovio

_SCALE = 44  # size of the staff: user units to CSS pixels [%]
_MODEST = 5  # whoever edits goes first
_READING = {"xmlIdChecksum": True}
_DRAWING = {
    "xmlIdChecksum": True,
    "pageHeight": 60000,
    "scale": _SCALE,
    "adjustPageHeight": True,
    "breaks": "auto",
    "systemMaxPerPage": 1,
    "header": "none",
    "footer": "none",
    "svgViewBox": True,
    "svgRemoveXlink": True,
    "svgFormatRaw": True,
    "smuflTextFont": "none",
    "mnumInterval": 0,
    "pageMarginLeft": 110,
    "pageMarginRight": 20,
    "pageMarginTop": 20,
    "pageMarginBottom": 20,
    "spacingNonLinear": 0.55,
}


@lru_cache(maxsize=1)
def _prepare() -> None:
    verovio.enableLog(verovio.LOG_OFF)
    verovio.setDefaultResourcePath(str(files("verovio") / "data"))


def _toolkit(options: dict[str, object]) -> "verovio.toolkit":
    _prepare()
    toolkit = verovio.toolkit()
    toolkit.setOptions(options)
    return toolkit


def read(text: str, input_format: str) -> str:
    """Return a score as MEI; empty if it cannot be read."""
    toolkit = _toolkit({**_READING, "inputFrom": input_format})
    return str(toolkit.getMEI()) if toolkit.loadData(text) else ""


def draw(mei: str, width: int, bars: list[int] | None = None, filled: bool = False) -> list[str]:
    """Return one SVG for each system, as wide as asked [CSS px]; none if it cannot be drawn.

    Args:
        mei: the part.
        width: of a system.
        bars: only from one bar to another, counted from 1.
        filled: whether the last system is as wide as the others.
    """
    fills = {"minLastJustification": 0.0} if filled else {}
    toolkit = _toolkit({**_DRAWING, **fills, "pageWidth": round(width * 100 / _SCALE)})
    if bars:
        toolkit.select({"measureRange": f"{bars[0]}-{bars[1]}"})
    if not toolkit.loadData(mei):
        return []
    return [str(toolkit.renderToSVG(i + 1)) for i in range(toolkit.getPageCount())]


def _work_for(seconds: float) -> None:
    """Let this process be ended once it has worked for so long from now on [s]; 0 for as long as it takes."""
    if hasattr(signal, "setitimer"):
        signal.setitimer(signal.ITIMER_PROF, seconds)


def main() -> None:
    """Answer requests, a line of JSON each, until there are no more."""
    if hasattr(os, "nice"):
        os.nice(_MODEST)
    for line in sys.stdin:
        request = json.loads(line)
        _work_for(request.pop("seconds"))
        answer = read(**request) if request.pop("do") == "read" else draw(**request)
        _work_for(0)
        sys.stdout.write(json.dumps(answer) + "\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
