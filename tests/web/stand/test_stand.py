"""The stand: as large as asked, with ribbons or signs only, pencilled, in the order in which it is played."""

import asyncio
import re
from dataclasses import replace

import pytest
from fastapi.testclient import TestClient

from pathway.core.guide.speech import PLAIN, Lengths
from pathway.core.music import Repeat
from pathway.store import Pieces
from pathway.web.shared.live import changes
from pathway.web.shared.tracks.geometry import PlanIndex, tracks_of
from pathway.web.shared.tracks.pencil import with_pencil
from pathway.web.stand.view import LEAST_WIDTH, MOST_WIDTH, PER_MM, STAFF, STAFF_MM, played_order, width_for
from tests.web.asking import HTMX, version_of

LINES = "/pieces/2/stand/lines"


@pytest.mark.parametrize("wide", [736, 992, 1240])
def test_a_staff_is_as_high_as_asked(wide: int) -> None:
    """To a few percent, in each of the four sizes, as far as a line can be engraved."""
    for size, height in enumerate(STAFF_MM):
        width = width_for(wide, size)
        assert LEAST_WIDTH <= width <= MOST_WIDTH
        if LEAST_WIDTH < width < MOST_WIDTH:
            assert STAFF * wide / width / PER_MM == pytest.approx(height, rel=0.04)
    assert width_for(374, 3) == LEAST_WIDTH


def test_larger_music_needs_more_lines(demo: TestClient) -> None:
    """And all notes are on them."""
    small, large = (demo.get(f"{LINES}?wide=736&size={size}", headers=HTMX).text for size in (0, 3))
    assert large.count('class="system stand-line"') > 2 * small.count('class="system stand-line"')
    notes = [set(re.findall(r'data-note="(\w+)"', text)) for text in (small, large)]
    assert notes[0] == notes[1]
    assert len(notes[0]) > 100


def test_ribbons_or_signs_only(demo: TestClient) -> None:
    """Signs stay, the hair goes, and a small bow says where a phrase begins."""
    ribbons, signs = (
        demo.get(f"{LINES}?wide=992&size=1&signs={wish}", headers=HTMX).text for wish in ("false", "true")
    )
    assert 'class="ribbon"' in ribbons
    assert 'class="ribbon' not in signs
    assert 'class="hair-field"' not in signs
    assert ribbons.count('class="sign ') + ribbons.count('class="sign"') == signs.count('class="sign ') + signs.count(
        'class="sign"'
    )
    assert 'class="pencil-ring"' in ribbons
    assert signs.count('class="pencil-bow"') == ribbons.count('class="pencil-ring"') > 3
    for text in (ribbons, signs):
        assert ">in doubt</text>" in text
        assert 'class="flag ' in text
        assert 'class="pencil-string"' in text


def test_places_are_told_in_the_players_units(demo: TestClient) -> None:
    """Inches where inches are wanted."""
    centimetres = re.findall(r'class="pencil-place"[^>]*>([\d.]+)<', demo.get(LINES, headers=HTMX).text)
    demo.app.state.choices.set(demo.app.state.choices.get().model_copy(update={"lengths": Lengths.INCH}))  # type: ignore[attr-defined]
    inches = re.findall(r'class="pencil-place"[^>]*>([\d.]+)<', demo.get(LINES, headers=HTMX).text)
    demo.app.state.choices.set(demo.app.state.choices.get().model_copy(update={"lengths": Lengths.CM}))  # type: ignore[attr-defined]
    assert [float(inch) for inch in inches] == pytest.approx([float(cm) / 2.54 for cm in centimetres], abs=0.25)


def test_repeats_are_played_twice(demo: TestClient) -> None:
    """The lines of a repeated stretch come again; a line that repeats in itself is one."""
    desk = demo.app.state.desk  # type: ignore[attr-defined]
    now = desk.open(2)
    systems = desk.drawings.of(now.piece, 500).systems()
    whole = list(range(len(systems)))
    plain = replace(now.plan.part, repeats=())
    assert played_order(plain, systems) == whole
    end = plain.measures[len(plain.measures) // 2].onset
    again = replace(plain, repeats=(Repeat(plain.measures[0].onset, end),))
    order = played_order(again, systems)
    last = order.index(0, 1) - 1
    assert order == [*whole[: last + 1], *whole[: last + 1], *whole[last + 1 :]] or order == [
        *whole[: last + 1],
        *whole[:],
    ]
    assert 0 < last < len(whole) - 1


def test_a_note_comes_from_below(demo: TestClient) -> None:
    """With its values, why, how, its sound and the way to the desk; none for what is not there."""
    card = demo.get("/pieces/2/stand/notes/n8", headers=HTMX).text
    for said in ("Why", "How", "Lane", "Weight", "Hear the bow", 'href="/pieces/2?note=n8"'):
        assert said in card
    sound = re.findall(r'data-clip="([^"]+)"', card)[0].replace("&amp;", "&")
    assert demo.get(sound).headers["content-type"] == "audio/wav"
    assert demo.get("/pieces/2/stand/notes/zzz", headers=HTMX).status_code == 404
    assert demo.get(f"{LINES}?size=4", headers=HTMX).status_code == 422
    assert demo.get("/pieces/99/stand").status_code == 404


def test_a_page_that_fell_behind_gets_everything(demo: TestClient) -> None:
    """As after an edit, with the version that is now."""
    version = version_of(demo, 2)
    data = {"notes": "n3", "version": version, "what": "direction", "value": "up"}
    demo.post("/pieces/2/edit", data=data, headers=HTMX)
    now = demo.get("/pieces/2/now?note=n3", headers={**HTMX, "Lines": "0 1"}).text
    assert f'data-version="{version + 1}"' in now
    assert 'hx-target="#tracks-0"' in now
    assert "Bar 1" in now


def test_changes_are_told_as_they_come(demo: TestClient) -> None:
    """The state at once, then what is new: a version, or where the player stands; no more once nobody hears."""
    pieces: Pieces = demo.app.state.desk.pieces  # type: ignore[attr-defined]

    async def listen() -> list[str]:
        looks = 0

        async def gone() -> bool:
            nonlocal looks
            looks += 1
            if looks == 3:
                pieces.opened(2, "n9")
            return looks > 6

        return [event async for event in changes(pieces, 2, gone, 0.001)]

    first, second = asyncio.run(listen())
    assert f'"version": {version_of(demo, 2)}' in first
    assert '"note": "n9"' in second

    async def of_none() -> list[str]:
        async def never() -> bool:
            return False

        return [event async for event in changes(pieces, 99, never, 0.001)]

    assert asyncio.run(of_none()) == []
    assert demo.get("/pieces/99/live").status_code == 404


SIGN = re.compile(r'class="sign[^>]*translate\(([\d.]+) ([-\d.]+)\)')
WORD = re.compile(r'class="pencil-word" x="([-\d.]+)" y="([-\d.]+)" text-anchor="start"')


@pytest.mark.parametrize("key", range(1, 9))
def test_no_word_lies_on_a_sign(demo: TestClient, key: int) -> None:
    """Over it, or before it where the line has no room above; in every size."""
    for size in range(4):
        text = demo.get(f"/pieces/{key}/stand/lines?wide=736&size={size}", headers=HTMX).text
        for line in text.split("<section")[1:]:
            signs = [(float(x), float(y)) for x, y in SIGN.findall(line)]
            for x, y in WORD.findall(line):
                under = min(signs, key=lambda sign: abs(sign[0] - float(x) - 6))
                assert float(y) < under[1] - 6


@pytest.mark.parametrize("wide", [700, 900, 1100])
def test_no_word_lies_on_a_tempo(demo: TestClient, wide: int) -> None:
    """Where there is no room over the sign it ends before the tempo begins."""
    desk = demo.app.state.desk  # type: ignore[attr-defined]
    now = desk.open(2)
    (line, *_) = desk.drawings.of(now.piece, wide).systems()
    (tempo,) = line.tempos
    first = line.notes[now.plan.bowed[0].id]
    assert first.x - 90 < tempo < first.x
    drawn = with_pencil("</svg>", tracks_of(PlanIndex(now.plan), line, 0), line, now.plan, PLAIN)
    ends = re.findall(r'class="pencil-word" x="([-\d.]+)" y="[-\d.]+" text-anchor="end">on the towpath', drawn)
    assert [float(end) < tempo for end in ends] == [True]
