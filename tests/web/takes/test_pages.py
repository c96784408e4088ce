"""Takes: simulated, dropped, recorded in pieces; heard under the plan; let go."""

import io
import re
import shutil
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import soundfile
from fastapi.testclient import TestClient

from pathway.core.takes import Listened
from pathway.core.takes.groups import HeardGroup
from pathway.core.takes.player import Human
from pathway.web.config import AppSettings
from tests.web.asking import HTMX, player, version_of

TOLL = "/pieces/6/takes"


@pytest.fixture(scope="module")
def played(tmp_path_factory: pytest.TempPathFactory, demo_data: Path) -> Iterator[TestClient]:
    """The app with a take of the simulated player, with faults and weak up-bows."""
    folder = tmp_path_factory.mktemp("takes")
    shutil.copytree(demo_data, folder, dirs_exist_ok=True)
    with player(AppSettings(folder, demo=True)) as client:
        made = client.post(f"{TOLL}/simulate", data={"faults": 4, "weak_up": "true", "seed": 5}, headers=HTMX)
        assert made.headers["HX-Redirect"] == f"{TOLL}/1"
        yield client


def _silence(seconds: float = 3.0) -> bytes:
    out = io.BytesIO()
    soundfile.write(out, np.zeros(round(16_000 * seconds)), 16_000, format="WAV")
    return out.getvalue()


def test_the_station_tells_of_takes(played: TestClient) -> None:
    """And of the room they need."""
    page = played.get(TOLL).text
    assert "Simulated, 4 faults, weak up-bows" in page
    assert re.search(r"\d\.\d MB", page)
    assert 'title="in work"' in page
    assert "No take yet" in played.get("/pieces/1/takes").text


def test_what_is_heard_stands_in_three_lines_and_under_the_plan(played: TestClient) -> None:
    """With ±, a drill, signs for words, and how sure it is."""
    heard = played.post(f"{TOLL}/1/heard", headers=HTMX).text
    assert re.search(r"\d+ of \d+ notes were found", heard)
    assert re.search(r"Down-bows are \d\.\d ± \d\.\d dB louder than up-bows, over \d+ pairs", heard)
    assert "notes are surely placed" in heard
    assert 'class="take-word"' in heard
    assert heard.count('class="take-dot') > 40
    link = re.findall(r'href="(/practise/drill\?[^"]+)"', heard)[0].replace("&amp;", "&")
    assert played.get(link).status_code == 200


def test_a_take_is_played_and_its_notes_have_times(played: TestClient) -> None:
    """In order; the sound is FLAC."""
    sound = played.get(f"{TOLL}/1/sound.flac")
    assert sound.content[:4] == b"fLaC"
    times = [begin for _, begin, _ in played.get(f"{TOLL}/1/times.json").json()["notes"]]
    assert times == sorted(times)
    assert "media-src 'self'" in sound.headers["content-security-policy"]


def test_a_dropped_file_is_kept_and_what_is_not_heard_is_said(played: TestClient) -> None:
    """Silence is no take; nonsense no recording."""
    kept = played.post(TOLL, files={"file": ("silence.wav", _silence())}, headers=HTMX)
    address = kept.headers["HX-Redirect"]
    assert "silence.wav" in played.get(address).text
    refused = played.post(f"{address}/heard", headers=HTMX)
    assert refused.status_code == 422
    assert "silent" in refused.text
    assert played.post(TOLL, files={"file": ("x.wav", b"no")}, headers=HTMX).status_code == 422
    played.post(f"{address}/put-away", headers=HTMX)
    assert played.get(address).status_code == 404


def test_a_recording_comes_in_pieces(played: TestClient) -> None:
    """And is kept for the bars that were chosen; one that was not finished can be kept or let go."""
    pcm = (8000 * np.sin(np.arange(96_000) * 0.05)).astype("<i2").tobytes()
    for offset in (96_000, 0):
        sent = played.post(
            f"{TOLL}/pieces?token=a-recording-1&offset={offset}", content=pcm[offset : offset + 96_000], headers=HTMX
        )
        assert sent.status_code == 204
    assert "was not finished" in played.get(TOLL).text
    done = {"token": "a-recording-1", "rate": 48_000, "first_bar": "3", "last_bar": "4"}
    kept = played.post(f"{TOLL}/finish", data=done, headers=HTMX)
    sound = played.get(kept.headers["HX-Redirect"] + "/sound.flac").content
    samples, rate = soundfile.read(io.BytesIO(sound))
    assert (len(samples), rate) == (96_000, 48_000)
    assert "was not finished" not in played.get(TOLL).text
    again = [played.post(f"{TOLL}/finish", data=done, headers=HTMX) for _ in range(3)]
    assert {one.headers["HX-Redirect"] for one in again} == {kept.headers["HX-Redirect"]}
    played.post(f"{TOLL}/pieces?token=a-recording-2&offset=0", content=b"1234", headers=HTMX)
    played.post(f"{TOLL}/unfinished/a-recording-2/put-away", headers=HTMX)
    assert "was not finished" not in played.get(TOLL).text
    assert played.post(f"{TOLL}/finish", data={"token": "never-begun-1"}, headers=HTMX).status_code == 404


def test_three_takes_tell_of_some_weeks_and_lie_beside_each_other(played: TestClient) -> None:
    """In the first the up-bows are weak, in the last they are not; note under note in another shape."""
    address = "/pieces/2/takes"
    played.post(f"{address}/demo", headers=HTMX)
    ids = re.findall(rf'href="{address}/(\d+)"', played.get(address).text)
    assert len(ids) == 3
    assert f'<option value="{ids[2]}"' in played.get(f"{address}/{ids[0]}").text
    both = played.post(f"{address}/{ids[0]}/heard", data={"beside": ids[2]}, headers=HTMX).text
    assert both.count('class="take-other"') > 20
    last, first = (float(x.replace("−", "-")) for x in re.findall(r">([−+]?\d+\.\d) ± \d\.\d dB</td>", both))
    assert first - last > 2
    assert played.post(f"{address}/{ids[0]}/heard", data={"beside": 99}, headers=HTMX).status_code == 404


def test_what_was_heard_is_told_in_the_list_and_over_time(played: TestClient) -> None:
    """Once it was listened to; from two takes on the bows are drawn."""
    address = "/pieces/4/takes"
    played.post(f"{address}/demo", headers=HTMX)
    page = played.get(address).text
    assert page.count("not listened to yet") == 3
    for id_ in re.findall(rf'href="{address}/(\d+)"', page)[:2]:
        played.post(f"{address}/{id_}/heard", headers=HTMX)
    page = played.get(address).text
    assert page.count("not listened to yet") == 1
    assert len(re.findall(r"\d+ of \d+ found · \d+ notes? with a word · down against up", page)) == 2
    assert 'aria-label="Down against up over 2 takes' in page
    played.post(f"{address}/older", data={"days": 5}, headers=HTMX)
    assert len(re.findall(rf'href="{address}/(\d+)"', played.get(address).text)) == 1


def test_the_tempo_that_was_played_can_be_taken(played: TestClient) -> None:
    """With what it does to the findings; at the plan's own there is nothing to take."""
    simulating = played.app.state.simulating  # type: ignore[attr-defined]
    id_ = simulating.play(3, Human(tempo=0.8), "Slower", 2)
    heard = played.post(f"/pieces/3/takes/{id_}/heard", headers=HTMX).text
    tempo = re.search(r"Plan it at (\d+), as you played</button><span[^>]*>findings \d+ → \d+", heard)
    assert tempo is not None
    take_over = f"/pieces/3/takes/{id_}/take-over"
    assert played.post(take_over, data={"version": 0, "what": "stretch"}, headers=HTMX).status_code == 404
    taken = played.post(take_over, data={"version": 0, "what": "tempo"}, headers=HTMX)
    assert taken.headers["HX-Redirect"] == "/pieces/3"
    assert f'value="{tempo[1]}"' in played.get("/pieces/3").text
    assert "as you played" not in played.post(f"/pieces/3/takes/{id_}/heard", headers=HTMX).text


def test_a_string_that_answers_louder_becomes_a_number_of_the_players_own_rig(
    played: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A typical rig becomes one's own by it; the second time it is changed itself, and the piece stays on it."""
    told = HeardGroup("string", "D", 4.0, 0.5, 20, ("n1",))
    whole = Listened.beside
    monkeypatch.setattr(Listened, "beside", lambda self, others: replace(whole(self, others), groups=(told,)))
    simulating = played.app.state.simulating  # type: ignore[attr-defined]
    id_ = simulating.play(8, Human(), "Even", 2, most=12.0)
    for answer in (4.0, 8.0):
        version = version_of(played, 8)
        heard = played.post(f"/pieces/8/takes/{id_}/heard", headers=HTMX).text
        assert "Let the rig know that the D string is 4 dB louder" in heard
        data = {"version": version, "what": "answer-2"}
        assert played.post(f"/pieces/8/takes/{id_}/take-over", data=data, headers=HTMX).status_code == 200
        desk = played.app.state.desk  # type: ignore[attr-defined]
        (own,) = desk.rigs.own()
        assert own.rig.instrument.strings[2].answer == answer
        assert desk.open(8).plan.rig.instrument.strings[2].answer == answer
    stale = played.post(f"/pieces/8/takes/{id_}/take-over", data={"version": 0, "what": "answer-2"}, headers=HTMX)
    assert stale.status_code == 409


def test_a_note_of_a_take_is_told_and_looked_for_on_the_sheet(played: TestClient) -> None:
    """What is known of it; a rough one leads to what grates, and its card on the sheet begins there."""
    heard = played.post(f"{TOLL}/1/heard", headers=HTMX).text
    rough = re.search(r'are rough.*?data-hear-notes="(\w+)', heard) or re.search(r"is rough.*?notes=\"(\w+)", heard)
    assert rough is not None
    told = played.get(f"{TOLL}/1/notes/{rough[1]}", headers=HTMX).text
    assert re.search(r"Bar \d+</b> · [−+]\d+\.\d dB against the plan", told)
    assert "What may cause it: grating" in told
    card = played.get(f"/pieces/6/notes/{rough[1]}", headers=HTMX).text
    assert 'data-heard-in-take="grating"' in card
    assert "grating" in played.get(f"/pieces/6/notes/{rough[1]}/hear?heard=grating", headers=HTMX).text
    assert "data-heard-in-take" not in played.get("/pieces/1/notes/n1", headers=HTMX).text
    assert played.get(f"{TOLL}/1/notes/zzz", headers=HTMX).status_code == 404


def test_a_word_that_is_not_known_any_more_is_passed_over(played: TestClient) -> None:
    """Kept by another edition of the app: the sheet opens, with what it knows."""
    takes = played.app.state.taking.takes  # type: ignore[attr-defined]
    played.post(f"{TOLL}/1/heard", headers=HTMX)
    take = takes.take(6, 1)
    takes.note(take.id, take.figures.model_copy(update={"said": take.figures.said | {"n1": ["woolly", "rough"]}}))
    card = played.get("/pieces/6/notes/n1", headers=HTMX).text
    assert 'data-heard-in-take="grating"' in card
    takes.note(take.id, take.figures)


def test_the_beats_to_record_by_are_those_of_the_bars(played: TestClient) -> None:
    """A bar counted in, the bars, a beat of rest."""
    two = played.get(f"{TOLL}/beats.json?first_bar=3&last_bar=4").json()
    beat = two["beats"][1][0] - two["beats"][0][0]
    assert [first for _, first in two["beats"]] == [True, False, False, False] * 3
    assert two["count_in"] == pytest.approx(4 * beat)
    assert two["length"] == pytest.approx(13 * beat)
    assert len(played.get(f"{TOLL}/beats.json").json()["beats"]) > 90


def test_a_backup_takes_the_sound_along_if_wished(played: TestClient) -> None:
    """And brings it back; nothing else is taken out of it."""
    page = played.get("/settings").text
    assert "/settings/backup?takes=true" in page
    plain, whole = (played.get(f"/settings/backup{query}").content for query in ("", "?takes=true"))
    names = [zipfile.ZipFile(io.BytesIO(data)).namelist() for data in (plain, whole)]
    assert not any(name.startswith("takes/") for name in names[0])
    sounds = [name for name in names[1] if name.startswith("takes/")]
    assert sounds
    folder = played.app.state.config.data  # type: ignore[attr-defined]
    for sound in sounds:
        (folder / sound).unlink()
    asked = played.post("/settings/restore", files={"file": ("x.zip", whole)}, headers=HTMX).text
    assert not list((folder / "takes").glob("*.flac"))
    (yes,) = re.findall(r"/settings/copies/[^\"/]+/return", asked)
    assert played.post(yes, headers=HTMX).status_code == 200
    assert len(list((folder / "takes").glob("*.flac"))) == len(sounds)
    assert played.get(f"{TOLL}/1/sound.flac").content.startswith(b"fLaC")
    with zipfile.ZipFile(bad := io.BytesIO(plain), "a") as archive:
        archive.writestr("takes/../../evil.flac", b"fLaC")
        archive.writestr("takes/not-a-sound-at-all.flac", b"no")
    refused = played.post("/settings/restore", files={"file": ("x.zip", bad.getvalue())}, headers=HTMX)
    assert refused.status_code == 422
    assert "This is no recording" in refused.text
    assert not list(folder.parent.rglob("evil.flac"))


def test_ten_minutes_may_be_dropped(played: TestClient) -> None:
    """More than a score may have; what is longer than a quarter of an hour is refused in words."""
    out = io.BytesIO()
    soundfile.write(out, np.zeros(48_000 * 600, dtype=np.int16), 48_000, format="WAV")
    kept = played.post(TOLL, files={"file": ("long.wav", out.getvalue())}, headers=HTMX)
    assert kept.status_code == 200
    played.post(f"{kept.headers['HX-Redirect']}/put-away", headers=HTMX)


def test_a_take_of_another_plan_says_so(played: TestClient) -> None:
    """The plan has changed since it was recorded."""
    edit = {"notes": "n30", "version": version_of(played, 6), "what": "direction", "value": "up"}
    played.post("/pieces/6/edit", data=edit, headers=HTMX)
    assert "the plan has changed since" in played.post(f"{TOLL}/1/heard", headers=HTMX).text


@pytest.mark.parametrize("path", ["/1", "/1/notes/n1", "/1/times.json", "/1/sound.flac"])
def test_takes_that_there_are_not_are_refused(played: TestClient, path: str) -> None:
    """Also those of another piece."""
    assert played.get(f"/pieces/1/takes{path}").status_code == 404
    assert played.get(f"{TOLL}{path.replace('1', '99')}").status_code == 404
