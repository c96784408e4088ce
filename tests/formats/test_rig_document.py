"""Rig files: every preset survives, and absurd numbers are refused by name, value and range."""

import json

import pytest

from pathway.core.planning import Settings, Style, plan_part
from pathway.core.rig import PRESETS, preset
from pathway.errors import RigError
from pathway.formats.rig_document import read_rig, revised, rig_document
from tests.helpers import directions, part_of


@pytest.mark.parametrize("key", sorted(PRESETS))
def test_rigs_survive_their_files(key: str) -> None:
    """Written and read: the same plan, so the same numbers."""
    again = read_rig(json.dumps(rig_document(preset(key))).encode())
    assert rig_document(again) == rig_document(preset(key))
    assert again.instrument.impedances == pytest.approx(preset(key).instrument.impedances)


def _spoiled(*path: str | int, value: object) -> bytes:
    data = rig_document(preset("violin"))
    inner = data
    for step in path[:-1]:
        inner = inner[step]
    if value is None:
        del inner[path[-1]]
    else:
        inner[path[-1]] = value
    return json.dumps(data).encode()


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        (("bow", "mass_g"), -60, r"bow\.mass_g is -60; it must be at least 20"),
        (("bow", "mass_g"), 6000, "it must be at most 250"),
        (("bow", "hair_cm"), None, r"bow\.hair_cm is missing"),
        (("instrument", "strings", 2, "tension_n"), 0, r"strings\.2\.tension_n is 0"),
        (("instrument", "strings", 0, "midi"), 99, "lowest to the highest"),
        (("usable_cm",), [50, 20], "50 to 20"),
        (("usable_cm",), [0, 99], "on the 65 cm"),
        (("usable_cm",), [10, 15], "less than 10 cm"),
        (("colour",), "brown", "colour"),
    ],
)
def test_bad_numbers_are_refused_in_words(path: tuple[str | int, ...], value: object, said: str) -> None:
    """What, where, and what to do."""
    with pytest.raises(RigError, match=said):
        read_rig(_spoiled(*path, value=value))


def test_a_lighter_bow_changes_the_hand_not_the_music() -> None:
    """Less weight at the frog side: the index finger has to give more everywhere."""
    part = part_of("[mf] d4:4 e4 f4 g4")
    plain = plan_part(part, preset("violin"))
    light = plan_part(part, read_rig(_spoiled("bow", "mass_g", value=45)))
    assert directions(plain) == directions(light)
    assert all(b.torque_end > a.torque_end for a, b in zip(plain.notes, light.notes, strict=True))


def test_a_short_arm_keeps_to_its_hair() -> None:
    """Usable hair bounds every plan."""
    rig = read_rig(_spoiled("usable_cm", value=[5, 45]))
    plan = plan_part(part_of("[f] d4:1 | e4:1 | f4:4 g4 a4 b4 | c5:1"), rig)
    assert min(min(s.start, s.end) for s in plan.strokes) >= 0.05 - 1e-9
    assert max(max(s.start, s.end) for s in plan.strokes) <= 0.45 + 1e-9


def test_early_style_tells_strong_from_weak_by_the_bow() -> None:
    """Weak beats of three go up one after the other; modern style alternates."""
    part = part_of(" | ".join(["d4:4 e4 f4"] * 4), meter="3/4")
    early = directions(plan_part(part, preset("violin"), Settings(style=Style.EARLY)))
    modern = directions(plan_part(part, preset("violin")))
    strong = [early[i] for i in range(0, 12, 3)]
    assert strong == ["n"] * 4
    assert early.count("v") >= modern.count("v")


def test_single_numbers_are_set_by_key() -> None:
    """Down to one string's tension; the rest stays."""
    rig = revised(preset("violin"), ["bow.mass_g=52", "instrument.strings.0.tension_n = 47", "hold=deep"])
    assert (rig.bow.mass, rig.instrument.strings[0].tension, rig.hold.name) == (0.052, 47, "deep")
    assert rig.instrument.strings[1:] == preset("violin").instrument.strings[1:]


@pytest.mark.parametrize(
    ("setting", "said"),
    [
        ("bow.mass_g", "does not set a number.*KEY=VALUE"),
        ("bow.colour=brown", "Keys here: name, mass_g"),
        ("bow=5", "does not set"),
        ("instrument.strings.9.midi=5", "Keys here: 0, 1, 2, 3"),
        ("bow.mass_g.x=5", "does not set"),
        ("bow.mass_g=heavy", r"bow\.mass_g"),
        ("bow.mass_g=5", r"bow\.mass_g is 5; it must be at least 20"),
        pytest.param("bow.mass_g=" + "[" * 5000, "bow.mass_g", id="deep"),
        pytest.param("bow.mass_g=" + "1" * 5000, "bow.mass_g", id="long"),
        pytest.param("bow.name=" + "x" * 150, "bow.name", id="wordy"),
        ("bow.mass_g=٣", "bow.mass_g"),
        ("bow.mass_g=NaN", "bow.mass_g"),
    ],
)
def test_settings_that_mean_nothing_are_refused(setting: str, said: str) -> None:
    """With the keys there are."""
    with pytest.raises(RigError, match=said):
        revised(preset("violin"), [setting])


@pytest.mark.parametrize("key", PRESETS)
def test_older_files_without_angles_and_rings_are_filled_by_estimates(key: str) -> None:
    """The stick turns as on the typical rig, to a fifth of a degree; the own rate of both bows is that of one."""
    doc = rig_document(preset(key))
    for string in doc["instrument"]["strings"]:
        del string["ring_s"], string["stick_deg"]
    del doc["staccato_down"], doc["staccato_up"], doc["bow"]["turns"]
    doc["staccato_per_second"] = 10.5
    old = read_rig(json.dumps(doc).encode())
    for mine, typical in zip(old.instrument.strings, preset(key).instrument.strings, strict=True):
        assert mine.aside == pytest.approx(typical.aside, abs=0.004)
        assert mine.ring > 0
    assert [one.rate for one in old.staccato] == [10.5, 10.5]
