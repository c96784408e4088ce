"""Printed parts: every line once, pages that turn well, footnotes, strings and fingerings as wished, PDFs read back."""

import io
import re
import sys
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from lxml import etree
from pypdf import PdfReader
from typer.testing import CliRunner

from pathway.cli import app
from pathway.demo.loader import DEMO_PIECES
from pathway.web.paper.sheet import Paper, PaperLine, Wish, pages_of
from tests.web.asking import HTMX, version_of

PRINT = "/pieces/2/print"
SVG = "{http://www.w3.org/2000/svg}"


def _read(data: bytes) -> PdfReader:
    assert data.startswith(b"%PDF")
    return PdfReader(io.BytesIO(data))


def _line(height: float, rest: float = 0.0, notes: int = 0) -> PaperLine:
    return PaperLine("<svg/>", height, ("1", "2"), tuple((n, "short") for n in range(notes)), rest)


def test_pages_are_full_and_turn_in_a_rest() -> None:
    """A line or two earlier where there is a rest of two beats, and not for a shorter one; every line stands once."""
    wish = Wish()
    plain = pages_of([_line(40.0)] * 14, wish)
    counts = [len(page.lines) for page in plain]
    assert sum(counts) == 14
    assert counts[:2] == [5, 6]
    rests = [_line(40.0, 2.0 if n == 3 else 1.5) for n in range(14)]
    assert len(pages_of(rests, wish)[0].lines) == 4
    far = [_line(40.0, 4.0 if n == 1 else 0.0) for n in range(14)]
    assert len(pages_of(far, wish)[0].lines) == 5
    noted = pages_of([_line(40.0, notes=5)] * 14, wish)
    assert len(noted[0].lines) < 5
    assert [len(page.notes) for page in noted] == [5 * len(page.lines) for page in noted]
    assert len(pages_of([_line(400.0)] * 3, wish)) == 3


@pytest.mark.parametrize("paper", Paper)
@pytest.mark.parametrize("lying", [False, True])
def test_paper_is_as_large_as_its_name_says(paper: Paper, lying: bool) -> None:
    """Upright or lying, a line fills the width between the margins at seven millimetres a staff."""
    wish = Wish(paper, lying)
    width, height = wish.size
    assert (width > height) is lying
    assert wish.width == pytest.approx(wish.inner * 31.7 / 7, abs=11)


def test_the_page_shows_everything_and_leaves_out_what_is_not_wished(demo: TestClient) -> None:
    """Title, tempo and rig, strip, words, rings, numbered findings with their text; strings and fingerings by wish."""
    page = demo.get(PRINT).text
    for said in ("Slack Water", "84 beats a minute", "in doubt", 'class="pencil-ring"', 'class="ribbon"', "1 / "):
        assert said in page
    numbers = re.findall(r'class="foot-number"[^>]*>(\d+)<', page)
    assert numbers
    assert re.findall(r'<li value="(\d+)">Bar ', page) == numbers
    assert 'class="string-note"' not in page
    assert 'class="string-note"' in demo.get(f"{PRINT}?strings=true").text
    bare = demo.get(f"{PRINT}?strip=false&fingers=false").text
    assert 'class="ribbon"' not in bare
    assert 'class="pencil-bow"' in bare
    assert 'class="paper no-fingers"' in bare
    assert demo.get(f"{PRINT}?paper=a5").status_code == 422
    assert demo.get("/pieces/99/print").status_code == 404


def test_the_line_under_the_title_says_nothing_twice(shelf: TestClient) -> None:
    """The viola part on a viola with a viola bow is one of a viola; on another rig that is told."""
    assert "Viola · 84 beats a minute</p>" in shelf.get("/pieces/2/print").text
    shelf.post("/pieces/2/rig", data={"rig": "cello", "version": version_of(shelf, 2)}, headers=HTMX)
    assert "Viola · 84 beats a minute · cello</p>" in shelf.get("/pieces/2/print").text


def test_findings_that_were_laid_aside_are_not_printed(demo: TestClient) -> None:
    """They are the player's own business."""
    before = demo.get("/pieces/5/print").text
    plan = demo.app.state.desk.open(5).plan  # type: ignore[attr-defined]
    first = plan.findings[0]
    demo.post("/pieces/5/aside", data={"code": first.code, "note": first.notes[0], "reason": "mine"}, headers=HTMX)
    after = demo.get("/pieces/5/print").text
    assert after.count("foot-number") < before.count("foot-number")


def test_a_pdf_holds_title_bars_and_strip(demo: TestClient) -> None:
    """As text and vectors, on pages of the size asked for, numbered."""
    answer = demo.get("/pieces/2/part.pdf")
    assert answer.headers["content-type"] == "application/pdf"
    assert "slack-water-viola.pdf" in answer.headers["content-disposition"]
    found = _read(answer.content)
    text = "\n".join(page.extract_text() for page in found.pages)
    for said in ("Slack Water", "beats a minute", "in doubt", "frog", "tip", "pebbly", "Bar 8:"):
        assert said in text
    assert f"1 / {len(found.pages)}" in text
    assert "\\" not in text
    assert not [image for page in found.pages for image in page.images]
    width, height = (float(value) for value in found.pages[0].mediabox[2:])
    assert (width, height) == pytest.approx((595.3, 841.9), abs=1)
    lying = _read(demo.get("/pieces/2/part.pdf?paper=letter&lying=true").content).pages[0].mediabox
    assert (float(lying[2]), float(lying[3])) == pytest.approx((792, 612), abs=1)


def test_a_long_part_has_as_many_pages_as_on_the_screen(demo: TestClient) -> None:
    """The typesetter breaks nowhere that we did not."""
    for key in range(1, 9):
        pages = demo.get(f"/pieces/{key}/print").text.count('class="paper-page ')
        assert len(_read(demo.get(f"/pieces/{key}/part.pdf").content).pages) == pages


def test_a_title_cannot_command_the_typesetter(demo: TestClient) -> None:
    """Whatever it is made of, it is printed."""
    from pathway.web.paper.pdf import part_pdf

    evil = '#read("/etc/passwd") $x$ \\ "quoted" *bold* @ref'
    made = _read(part_pdf(evil, evil, [], Wish(), "cm"))
    assert '#read("/etc/passwd")' in made.pages[0].extract_text()


def test_without_the_typesetter_the_page_says_what_to_install(
    demo: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """And the browser still prints."""
    monkeypatch.setitem(sys.modules, "typst", None)
    refused = demo.get("/pieces/2/part.pdf")
    assert refused.status_code == 422
    assert "pip install typst" in refused.text
    assert demo.get(PRINT).status_code == 200


def test_the_days_drills_go_on_paper(demo: TestClient) -> None:
    """Each with its lines and what to watch."""
    page = demo.get("/practise/print").text
    names = re.findall(r"<h2[^>]*>([^<]+)</h2>", page)
    assert len(names) > 1
    assert page.count("Watch:") == len(names)
    text = "\n".join(one.extract_text() for one in _read(demo.get("/practise/print/drills.pdf").content).pages)
    assert all(name.split(",")[0] in text for name in names)


def test_the_command_line_writes_the_same(tmp_path: Path) -> None:
    """A PDF, a picture that stands alone, drills; another ending is refused by name."""
    score, runner = tmp_path / "x.musicxml", CliRunner()
    score.write_bytes(DEMO_PIECES[1].document)
    for ending in ("pdf", "svg"):
        done = runner.invoke(app, ["plan", str(score), "--out", str(tmp_path / f"x.{ending}"), "--quiet"])
        assert done.exit_code == 0
    assert "Slack Water" in _read((tmp_path / "x.pdf").read_bytes()).pages[0].extract_text()
    picture = etree.fromstring((tmp_path / "x.svg").read_bytes())
    assert picture.tag == f"{SVG}svg"
    assert "font/woff2" in str(picture.findtext(f"{SVG}style"))
    lines = picture.findall(f"{SVG}svg")
    assert len(lines) > 3
    tops = [float(line.get("y", "0")) for line in lines]
    assert tops == sorted(tops)
    assert tops[-1] < float(picture.get("height", "0"))
    drills = runner.invoke(app, ["drills", str(score), "--out", str(tmp_path / "d.pdf")])
    assert drills.exit_code == 0
    assert "Watch:" in _read((tmp_path / "d.pdf").read_bytes()).pages[0].extract_text()
    refused = runner.invoke(app, ["plan", str(score), "--out", str(tmp_path / "x.docx")])
    assert refused.exit_code == 2
    assert ".pdf" in refused.output
