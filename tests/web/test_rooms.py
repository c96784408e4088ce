"""The rooms around the sheet: rigs, the bounce, reach, stroke types, settings, help."""

import json
import re
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from pathway.core.rig import preset
from pathway.core.technique.measuring import MEASURES, string_measures
from pathway.core.technique.stroke_types import STROKE_TYPES
from pathway.core.technique.teaching import DISAGREEMENTS
from pathway.formats.plan_document import read_plan_document
from pathway.store import Choices, Lengths, Weights
from pathway.web.app import create_app
from pathway.web.reading import Reading
from pathway.web.rigs.drawings import drawing
from pathway.web.settings import AppSettings
from pathway.web.tips import TIPS, tip_for

HTMX = {"HX-Request": "true"}


@pytest.fixture
def shelf(tmp_path: Path) -> TestClient:
    """The app with the demo pieces, for tests that change what is set once."""
    return TestClient(create_app(AppSettings(tmp_path, demo=True)))


def _own(client: TestClient, base: str, **numbers: object) -> str:
    """Make a rig of one's own with some numbers; return its key."""
    fields = {name.replace("__", "."): value for name, value in numbers.items()}
    answer = client.post(f"/rigs/{base}/numbers", data=fields, headers=HTMX)
    return str(answer.headers["hx-redirect"]).rsplit("/", 1)[1]


def test_a_measured_bow_changes_the_plan(shelf: TestClient) -> None:
    """From the typical rig to one's own; a piece played on it is planned anew, and again when a number changes."""
    key = _own(shelf, "viola", bow__mass_g=62, bow__centre_cm=21)
    before = read_plan_document(shelf.get("/pieces/2/plan.json").content)
    data = {"version": _version(shelf, 2), "rig": key}
    assert shelf.post("/pieces/2/rig", data=data, headers=HTMX).status_code == 200
    after = read_plan_document(shelf.get("/pieces/2/plan.json").content)
    assert after.rig.bow.mass_g == 62
    assert [n.hand_torque_nm for n in after.notes] != [n.hand_torque_nm for n in before.notes]
    shelf.post(f"/rigs/{key}/numbers", data={"usable_cm.1": 50}, headers=HTMX)
    shorter = read_plan_document(shelf.get("/pieces/2/plan.json").content)
    assert max(stroke.end_cm for stroke in shorter.strokes) <= 50 < max(stroke.end_cm for stroke in after.strokes)
    assert "Played on My viola" in shelf.get("/pieces/2/history").text


def _version(client: TestClient, key: int) -> int:
    found = re.search(r'data-version="(\d+)"', client.get(f"/pieces/{key}").text)
    assert found is not None
    return int(found[1])


@pytest.mark.parametrize(
    ("numbers", "said"),
    [({"bow.mass_g": 900}, "bow.mass_g is 900"), ({"usable_cm.0": 80}, "usable_cm"), ({"hold": "loose"}, "hold")],
)
def test_numbers_that_cannot_be_are_refused(shelf: TestClient, numbers: dict[str, object], said: str) -> None:
    """By name, with the value; no rig is made."""
    answer = shelf.post("/rigs/violin/numbers", data=numbers, headers=HTMX)
    assert answer.status_code == 422
    assert said in answer.text
    assert "Yours" not in shelf.get("/rigs").text


def test_rigs_are_copied_renamed_exported_and_brought_in(shelf: TestClient) -> None:
    """The file that is taken home comes back as the same rig; the one offered first is offered first."""
    key = _own(shelf, "cello", bow__mass_g=77)
    shelf.post(f"/rigs/{key}/name", data={"name": "The light one"}, headers=HTMX)
    file = shelf.get(f"/rigs/{key}/rig.json").content
    shelf.post("/rigs/import", files={"file": ("again.json", file)}, headers=HTMX)
    shelf.post(f"/rigs/{key}/default", headers=HTMX)
    page = shelf.get("/rigs").text
    assert page.index("The light one") < page.index("again") < page.index("Typical ones")
    assert "offered first" in shelf.get(f"/rigs/{key}").text
    again = json.loads(shelf.get("/rigs/mine-2/rig.json").content)
    assert again["bow"] == json.loads(file)["bow"]
    shelf.post(f"/rigs/{key}/delete", headers=HTMX)
    assert "Bring The light one back" in shelf.get("/rigs").text
    assert "The light one" not in shelf.get("/settings").text
    assert shelf.post("/rigs/import", files={"file": ("x.json", b"{}")}, headers=HTMX).status_code == 422


def test_the_bounce_finds_the_simulated_bow(shelf: TestClient) -> None:
    """Its taps at three marks give its tension and hold; accepted, they are a rig of one's own."""
    taps = []
    for place in (10, 23, 36):
        times = shelf.get(f"/rigs/violin/bounce/simulated?place={place}&each=4").json()
        taps.append({"place": place, "each": 4, "times": times})
    shown = shelf.post("/rigs/violin/bounce", data={"taps": json.dumps(taps)}, headers=HTMX).text
    assert "looser than set" in shown
    assert 'class="fitted"' in shown
    answer = shelf.post("/rigs/violin/bounce/accept", data={"taps": json.dumps(taps)}, headers=HTMX)
    key = answer.headers["hx-redirect"].rsplit("/", 1)[1]
    bow = json.loads(shelf.get(f"/rigs/{key}/rig.json").content)["bow"]
    assert bow["tension_n"] == pytest.approx(0.85 * 60, rel=0.05)
    assert bow["pivot_cm"] == pytest.approx(3.2, abs=0.5)


def test_too_few_taps_say_so(shelf: TestClient) -> None:
    """One mark is not enough, and nonsense is refused."""
    times = shelf.get("/rigs/violin/bounce/simulated?place=23&each=4").json()
    one = json.dumps([{"place": 23, "each": 4, "times": times}])
    assert "One place is not enough" in shelf.post("/rigs/violin/bounce", data={"taps": one}, headers=HTMX).text
    assert shelf.post("/rigs/violin/bounce", data={"taps": "[{"}, headers=HTMX).status_code == 422


def test_a_short_arm_ends_the_hair(shelf: TestClient) -> None:
    """The page says where and by how much it would slant; taken, the rig has it."""
    page = shelf.get("/rigs/violin/reach?upper=25&fore=30").text
    found = re.search(r"ends at (\d+) cm", page)
    assert found is not None
    answer = shelf.post("/rigs/violin/reach", data={"upper": 25, "fore": 30}, headers=HTMX)
    key = answer.headers["hx-redirect"].rsplit("/", 1)[1]
    usable = json.loads(shelf.get(f"/rigs/{key}/rig.json").content)["usable_cm"]
    assert usable[1] == pytest.approx(float(found[1]), abs=1)


@pytest.mark.parametrize("key", STROKE_TYPES)
def test_every_stroke_type_has_its_page(demo: TestClient, key: str) -> None:
    """With its motion, its zone on the rig, and its neighbours."""
    page = demo.get(f"/strokes/{key}")
    assert page.status_code == 200
    assert 'class="motion motion-place"' in page.text
    assert "cm from the frog on" in page.text


def test_stroke_types_are_searched_compared_and_found_on_the_shelf(demo: TestClient) -> None:
    """By a word of theirs; two side by side; with the bars that use them."""
    page = demo.get("/strokes?search=wedges").text
    assert page.count('href="/strokes/martele"') == 1
    assert 'href="/strokes/legato"' not in page
    assert demo.get("/strokes?one=spiccato&other=sautille").text.count("Goes wrong:") == 2
    assert re.search(r"Slack Water</a>, bars 19, 20", demo.get("/strokes/martele").text)
    assert demo.get("/strokes/sneeze").status_code == 404


def test_choices_change_what_is_told(shelf: TestClient) -> None:
    """Inches, newtons, the other school and name; the plan itself stays."""
    plain = shelf.get("/pieces/2").text
    assert "No more tips" in plain
    form = {"rig": "viola", "school": "arm", "lengths": "inch", "weights": "N", "sharp_name": "marcato"}
    assert shelf.post("/settings", data=form, headers=HTMX).status_code == 200
    told = shelf.get("/pieces/2").text
    assert " in/s" in told
    assert " in/s" not in plain
    assert "No more tips" not in told
    assert "let the arm sink" in told.lower() or "from the arm" in told.lower()
    assert "marcato" in shelf.get("/strokes/martele").text
    assert "Three steps to begin" not in shelf.get("/").text
    assert shelf.post("/settings", data=form | {"rig": "lute"}, headers=HTMX).status_code == 404


def test_lengths_and_weights_are_told_in_other_units() -> None:
    """By hand: 12.7 cm are 5 in, 100 g are 0.98 N; other numbers and words stay."""
    reads = Reading(Choices(lengths=Lengths.INCH, weights=Weights.NEWTON))
    assert (
        reads.told("12.7 cm further, 254 cm/s, 100 g; 3 gaps, 5 dB")
        == "5.0 in further, 100.0 in/s, 0.98 N; 3 gaps, 5 dB"
    )
    assert reads.pair("−2.54", "cm") == ("−1.0", "in")
    assert Reading(Choices()).told("12.7 cm and 100 g") == "12.7 cm and 100 g"


def test_backup_wipe_restore_gives_identical_plans(shelf: TestClient, tmp_path: Path) -> None:
    """Everything in one file, into an empty app, and every plan document is the same."""
    shelf.post("/pieces/1/tempo", data={"tempo": 90, "version": _version(shelf, 1)}, headers=HTMX)
    saved = shelf.get("/settings/backup").content
    empty = TestClient(create_app(AppSettings(tmp_path / "empty")))
    answer = empty.post("/settings/restore", files={"file": ("b.zip", saved)}, headers=HTMX)
    assert "Everything is back: 8 pieces" in answer.text
    for key in range(1, 9):
        assert empty.get(f"/pieces/{key}/plan.json").content == shelf.get(f"/pieces/{key}/plan.json").content


def test_a_piece_leaves_the_shelf_and_returns(shelf: TestClient) -> None:
    """Its place says how to put it back."""
    gone = shelf.post("/pieces/3/remove", headers=HTMX).text
    assert "Lamp in the Window is off the shelf" in gone
    assert "Lamp in the Window" not in shelf.get("/").text
    shelf.post("/pieces/3/put-back", headers=HTMX)
    assert "Lamp in the Window" in shelf.get("/").text


@pytest.mark.parametrize("page", ["/help", "/help/schools", "/keys", "/settings", "/rigs", "/rigs/bass-viol"])
def test_the_rooms_open(demo: TestClient, page: str) -> None:
    """Each with a title of its own."""
    answer = demo.get(page)
    assert answer.status_code == 200
    assert answer.text.count("<h1") == 1


def test_every_number_of_a_rig_has_a_drawing_of_its_own() -> None:
    """Strings share one; no two others look alike."""
    shapes = [drawing(measure.key) for measure in MEASURES]
    assert len(set(shapes)) == len(shapes)
    assert {drawing(m.key) for m in string_measures(preset("cello"))}.isdisjoint(shapes)


@pytest.mark.parametrize("where", sorted({d.where for d in DISAGREEMENTS}))
def test_every_choice_of_schools_leads_somewhere(demo: TestClient, where: str) -> None:
    """The pages named on the page of schools are there."""
    assert demo.get(where).status_code == 200


def test_tips_come_one_after_the_other() -> None:
    """Each change of a piece brings the next, round and round."""
    shown = [tip_for(n) for n in range(2 * len(TIPS))]
    assert shown[: len(TIPS)] == list(TIPS) == shown[len(TIPS) :]


def test_only_a_backup_may_be_large(shelf: TestClient) -> None:
    """A score of forty megabytes is refused before it is read; the way back for a backup is open further."""
    size = {"Content-Length": str(40_000_000)}
    assert shelf.post("/imports", content=b"", headers=size).status_code == 413
    assert shelf.post("/settings/restore", content=b"", headers=size).status_code != 413
    size = {"Content-Length": str(900_000_000)}
    answer = shelf.post("/settings/restore", content=b"", headers=size)
    assert answer.status_code == 413
    assert "up to 500" in answer.text


def test_steps_to_begin_go_with_the_first_change(shelf: TestClient) -> None:
    """There on the first day, done once a piece was worked on."""
    assert "Three steps to begin" in shelf.get("/").text
    shelf.post("/pieces/1/tempo", data={"tempo": 70, "version": 0}, headers=HTMX)
    assert "Three steps to begin" not in shelf.get("/").text


def test_a_rig_with_a_string_more_than_typical_opens(shelf: TestClient) -> None:
    """Five strings brought in from a file: the fifth has no typical tension and is shown as it is."""
    doc = json.loads(shelf.get("/rigs/violin/rig.json").content)
    doc["key"] = "five"
    doc["instrument"]["strings"].append({"name": "B5", "midi": 83, "tension_n": 81, "gravity_share": 0.6})
    answer = shelf.post("/rigs/import", files={"file": ("five.json", json.dumps(doc))}, headers=HTMX)
    page = shelf.get(answer.headers["hx-redirect"])
    assert page.status_code == 200
    assert "Tension of the B string" in page.text
    assert 'value="81"' in page.text
