"""Pages as PDF: our own pictures set as vectors by the typesetter, text kept as text. It is an extra package."""

import base64
import json
import tempfile
from collections.abc import Iterable, Sequence
from functools import cache
from pathlib import Path

from pathway.errors import ScoreError
from pathway.web.paper.sheet import FOOT, GAP, MARGIN, Page, Wish

STATIC = Path(__file__).parent.parent / "static"
FONTS = STATIC / "fonts" / "paper"
NOTE_FONT = STATIC / "fonts" / "leipzig.woff2"  # the note value in a tempo
LEGEND = (
    "Ribbons: where the bow is, frog above; thicker is heavier, grey airy, hatched pressed or choked. "
    "A ring: where on the hair a phrase begins, in {unit}. A flag: see its number."
)


@cache
def ink() -> str:
    """Return the style sheet of printed music."""
    return (STATIC / "ink.css").read_text(encoding="utf-8")


@cache
def ink_alone() -> str:
    """Return the same for a picture that is to stand alone: with the font that no computer has."""
    data = base64.b64encode(NOTE_FONT.read_bytes()).decode()
    return f'@font-face {{ font-family: "Leipzig"; src: url(data:font/woff2;base64,{data}); }}\n{ink()}'


def part_pdf(title: str, about: str, pages: Sequence[Page], wish: Wish, unit: str) -> bytes:
    """Return a part as PDF.

    Args:
        title: over the first page.
        about: under it: part, tempo, rig.
        pages: of its lines.
        wish: paper and which way.
        unit: of lengths.

    Raises:
        ScoreError: the typesetter is not installed; says how to get it.
    """
    heading = f"{_heading(title)} #linebreak() #text(fill: luma(60))[#{_said(about)}]\n\n"
    pictures: dict[str, str] = {}
    parts = [heading]
    for page in pages:
        parts += _lines(((f"{page.number}-{n}", line.svg) for n, line in enumerate(page.lines)), pictures)
        parts += [f"#text(size: 8.5pt)[#super[{n}] #{_said(text)}] #linebreak()\n" for n, text in page.notes]
        parts.append("#pagebreak()\n" if page is not pages[-1] else "")
    legend = LEGEND.format(unit="centimetres" if unit == "cm" else "inches")
    parts.append(f"\n#v(1fr)\n#text(size: 7.5pt, fill: luma(60))[#{_said(legend)}]\n")
    return _set("".join(parts), pictures, title, wish)


def drills_pdf(title: str, drills: Iterable[tuple[str, str, Sequence[str]]], wish: Wish) -> bytes:
    """Return a page of practice as PDF: each drill by its name, what to watch, and its lines.

    Raises:
        ScoreError: the typesetter is not installed; says how to get it.
    """
    pictures: dict[str, str] = {}
    parts = [f"{_heading(title)}\n\n"]
    for k, (name, watch, lines) in enumerate(drills):
        inside = "".join(_lines(((f"d{k}-{n}", svg) for n, svg in enumerate(lines)), pictures))
        head = f'#text(size: 12pt, weight: 600, font: "Literata")[#{_said(name)}] #linebreak() #{_said(watch)}\n\n'
        parts.append(f"#block(breakable: {'true' if len(lines) > 3 else 'false'})[{head}{inside}]\n#v(3mm)\n")
    return _set("".join(parts), pictures, title, wish)


def _heading(title: str) -> str:
    return f'#text(size: 18pt, weight: 600, font: "Literata")[#{_said(title)}]'


def _lines(named: Iterable[tuple[str, str]], pictures: dict[str, str]) -> list[str]:
    found = []
    for name, svg in named:
        pictures[f"{name}.svg"] = svg
        found.append(f'#block(spacing: {GAP}mm)[#image("{name}.svg", width: 100%)]\n')
    return found


def _said(text: str) -> str:
    """Return a text as the typesetter's own string: nothing in it is a command."""
    return json.dumps(text, ensure_ascii=False)


def _set(body: str, pictures: dict[str, str], title: str, wish: Wish) -> bytes:
    """Return a typeset document."""
    try:
        import typst  # noqa: PLC0415 - an extra, and large
    except ImportError as error:
        raise ScoreError(
            "PDFs need the typesetter, which is not installed",
            advice="Run: pip install typst - or print from the browser.",
        ) from error
    paper = "a4" if wish.paper.value == "a4" else "us-letter"
    head = (
        f'#set document(title: {_said(title)}, author: "Pathway")\n'
        f'#set page(paper: "{paper}", flipped: {"true" if wish.lying else "false"}, '
        f"margin: (x: {MARGIN}mm, top: {MARGIN}mm, bottom: {FOOT}mm), footer: context align(center, "
        "text(size: 8.5pt)[#counter(page).display() / #counter(page).final().first()]))\n"
        '#set text(font: "Instrument Sans", size: 10pt)\n#set par(spacing: 2mm)\n'
    )
    with tempfile.TemporaryDirectory() as folder:
        for name, svg in pictures.items():
            styled = svg.replace(">", f"><style>{ink()}</style>", 1)
            (Path(folder) / name).write_text(styled, encoding="utf-8")
        source = Path(folder) / "part.typ"
        source.write_text(head + body, encoding="utf-8")
        made = typst.compile(str(source), root=folder, font_paths=[str(FONTS)], ignore_system_fonts=True)
    return bytes(made)
