"""The rig room: own rigs, the bounce, reach."""

import json
import re

import pytest
from fastapi.testclient import TestClient

from pathway.core.guide.measuring import MEASURES, string_measures
from pathway.core.rig import preset
from pathway.formats.plan_document import read_plan_document
from pathway.web.rigs.drawings import drawing
from tests.web.asking import HTMX, version_of


def _own(client: TestClient, base: str, **numbers: object) -> str:
    """Make a rig of one's own with some numbers; return its key."""
    fields = {name.replace("__", "."): value for name, value in numbers.items()}
    answer = client.post(f"/rigs/{base}/numbers", data=fields, headers=HTMX)
    return str(answer.headers["hx-redirect"]).rsplit("/", 1)[1]


def test_a_measured_bow_changes_the_plan(shelf: TestClient) -> None:
    """From the typical rig to one's own; a piece played on it is planned anew, and again when a number changes."""
    key = _own(shelf, "viola", bow__mass_g=62, bow__centre_cm=21)
    before = read_plan_document(shelf.get("/pieces/2/plan.json").content)
    data = {"version": version_of(shelf, 2), "rig": key}
    assert shelf.post("/pieces/2/rig", data=data, headers=HTMX).status_code == 200
    after = read_plan_document(shelf.get("/pieces/2/plan.json").content)
    assert after.rig.bow.mass == 0.062
    assert [n.hand_torque_nm for n in after.notes] != [n.hand_torque_nm for n in before.notes]
    shelf.post(f"/rigs/{key}/numbers", data={"usable_cm.1": 50}, headers=HTMX)
    shorter = read_plan_document(shelf.get("/pieces/2/plan.json").content)
    assert max(stroke.end_cm for stroke in shorter.strokes) <= 50 < max(stroke.end_cm for stroke in after.strokes)
    assert "Played on My viola" in shelf.get("/pieces/2/history").text


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


def test_every_number_of_a_rig_has_a_drawing_of_its_own() -> None:
    """Strings share one; no two others look alike."""
    shapes = [drawing(measure.field) for measure in MEASURES]
    assert len(set(shapes)) == len(shapes)
    assert {drawing(m.field) for m in string_measures(preset("cello"))}.isdisjoint(shapes)


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
