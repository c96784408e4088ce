"""Takes the engraver's music font, needed for note values in tempo marks, out of its package."""

import base64
import re
from importlib.resources import files
from pathlib import Path

TARGET = Path(__file__).parent.parent / "src/pathway/web/static/fonts"
css = (files("verovio") / "data" / "Leipzig.css").read_text(encoding="utf-8")
found = re.search(r"base64,([A-Za-z0-9+/=]+)", css)
if found is None:
    raise SystemExit("The package's style sheet holds no font.")
(TARGET / "leipzig.woff2").write_bytes(base64.b64decode(found[1]))
(TARGET / "LICENSE-leipzig.txt").write_text(
    "leipzig.woff2: the Leipzig music font, part of the Verovio package.\n"
    "Licensed under the SIL Open Font License, Version 1.1; its text stands in LICENSE-literata.txt.\n",
    encoding="utf-8",
)
