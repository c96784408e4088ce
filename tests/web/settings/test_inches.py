"""A player who measures in inches is told inches, and what is written in inches is kept as it was meant."""

import re

import pytest
from fastapi.testclient import TestClient

from pathway.core.guide.speech import PLAIN, Lengths, Speech
from pathway.formats.rig_document import rig_document
from tests.web.asking import HTMX

INCHES = Speech(lengths=Lengths.INCH)


@pytest.fixture
def inches(shelf: TestClient) -> TestClient:
    """The app in inches."""
    choices = shelf.app.state.choices  # type: ignore[attr-defined]
    choices.set(choices.get().model_copy(update={"lengths": Lengths.INCH}))
    return shelf


@pytest.mark.parametrize("metric", ["cm", "cm/s"])
def test_what_is_shown_is_what_is_meant(metric: str) -> None:
    """There and back; other units are the same for all."""
    assert INCHES.shown(2.54, metric) == pytest.approx(1)
    assert INCHES.meant(INCHES.shown(17.3, metric), metric) == pytest.approx(17.3)
    assert INCHES.unit(metric) == metric.replace("cm", "in")
    assert (PLAIN.shown(17.3, metric), PLAIN.unit(metric)) == (17.3, metric)
    assert (INCHES.shown(60, "g"), INCHES.unit("g")) == (60, "g")


def test_notes_are_read_out_in_inches(inches: TestClient) -> None:
    """On the sheet and on the stand; nowhere a centimetre."""
    for page in ("/pieces/2", "/pieces/2/stand/lines"):
        text = inches.get(page, headers=HTMX if "lines" in page else {}).text
        labels = re.findall(r'class="hit"[^>]*aria-label="([^"]+)"', text)
        assert labels
        assert all("inches from the bridge" in label for label in labels if "lane" in label)
        assert not [label for label in labels if "centimetre" in label]


def test_a_rigs_numbers_are_shown_and_read_in_inches(inches: TestClient) -> None:
    """What was left alone stays to the digit; what was written is meant in inches; weights stay grams."""
    page = inches.get("/rigs/violin").text
    hair = re.findall(r'name="bow\.hair_cm"\s+value="([\d.]+)"', page)[0]
    assert float(hair) == pytest.approx(65 / 2.54, abs=2)
    assert not re.search(r'<span class="w-14[^>]*>cm<', page)
    fields = dict(re.findall(r'name="([\w.]+)"\s+value="([^"]*)"', page))
    kept = inches.post("/rigs/violin/numbers", data=fields | {"bow.centre_cm": "10"}, headers=HTMX)
    key = kept.headers["HX-Redirect"].rsplit("/", 1)[1]
    rigs = inches.app.state.desk.rigs  # type: ignore[attr-defined]
    mine, typical = rigs.find(key).rig, rigs.find("violin").rig
    assert mine.bow.centre == pytest.approx(0.254)
    written, known = (rig_document(rig) for rig in (mine, typical))
    assert written["instrument"] == known["instrument"]
    assert written["bow"] | {"centre_cm": 0} == known["bow"] | {"centre_cm": 0}
    assert inches.post(f"/rigs/{key}/numbers", data={"bow.hair_cm": "long"}, headers=HTMX).status_code == 422


def test_the_bench_and_the_arm_are_asked_in_inches(inches: TestClient) -> None:
    """The same bow as in centimetres."""
    metric = inches.app.state.choices  # type: ignore[attr-defined]
    told = inches.get("/bench?speed=10&hair=12").text
    assert "Speed, in/s" in told
    assert 'name="speed"' in told
    assert re.findall(r'name="hair"[^>]*value="([\d.]+)"', told) == ["12"]
    figures = inches.get("/bench/figures?speed=10&hair=12", headers=HTMX).text
    least = float(re.findall(r'name="speed"\s+min="([\d.]+)"', told)[0])
    assert inches.get(f"/bench?speed={least}").status_code == 200
    assert "it must lie within 0.79 to 59.06 in/s" in inches.get(f"/bench?speed={least * 0.9}").text
    arm = inches.get("/rigs/violin/reach?upper=12&fore=14").text
    assert "Shoulder to elbow, in<" in arm
    metric.set(metric.get().model_copy(update={"lengths": Lengths.CM}))
    assert re.search(r'name="speed"\s+min="2"\s+max="150"', inches.get("/bench").text)
    assert re.search(r'name="hair"\s+min="1"\s+max="90"', inches.get("/bench").text)
    assert inches.get("/bench?speed=2").status_code == 200
    same = inches.get("/bench/figures?speed=25.4&hair=30.48", headers=HTMX).text
    weights = [re.findall(r"(\d+) g\b", text) for text in (figures, same)]
    assert weights[0] == weights[1] != []
    assert "Shoulder to elbow, cm<" in inches.get("/rigs/violin/reach").text
