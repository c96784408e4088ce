"""Scores that something went wrong with: read, planned and taken home, or refused in words."""

import random
from collections import Counter

from lxml import etree

from pathway.core.planning import plan_part
from pathway.core.rig import preset
from pathway.demo.loader import DEMO_PIECES
from pathway.errors import PathwayError
from pathway.formats.plan_document import read_plan_document
from pathway.formats.plan_exchange import document_of
from pathway.formats.plan_table import to_csv
from pathway.formats.score import ScoreFile, at_pitch
from tests.helpers import THOROUGH

ODD = (
    "",
    "-1",
    "0",
    "7",
    "1000000",
    "99999999999999999999",
    "1e308",
    "NaN",
    "1/0",
    "٣",
    "x",
    "C",
    "up",
    "quarter",
)


def _mutated(chance: random.Random, source: bytes) -> bytes:
    """Return a score in which a few elements are gone, twice there, somewhere else, or say something odd."""
    root = etree.fromstring(source)
    for _ in range(chance.choice([1, 1, 2, 5])):
        node = chance.choice([one for one in root.iter("*") if one.getparent() is not None])
        parent = node.getparent()
        match chance.randrange(5):
            case 0:
                parent.remove(node)
            case 1:
                parent.insert(chance.randrange(len(parent) + 1), etree.fromstring(etree.tostring(node)))
            case 2:
                chance.choice(list(root.iter("*"))).append(etree.fromstring(etree.tostring(node)))
            case 3:
                node.text = chance.choice(ODD)
            case _:
                node.set(chance.choice([*node.keys(), "id", "number", "type"]), chance.choice(ODD))
    return etree.tostring(root)


def _outcome(data: bytes, rig_key: str) -> str:
    """Return what became of a score: planned and taken home, or why not."""
    rig = preset(rig_key)
    try:
        found = ScoreFile(data, "mutated.musicxml").part()
        plan = plan_part(at_pitch(found.part, rig), rig)
    except PathwayError as refused:
        return refused.text
    home = document_of(plan)
    assert read_plan_document(home.to_json().encode()).totals == home.totals
    assert to_csv(home).count("\n") == len(home.notes) + 1
    return "planned"


def test_a_mutated_score_is_planned_and_taken_home_or_refused_in_words() -> None:
    """Whatever happened to it; most are still planned, and no refusal is in a library's own words."""
    chance = random.Random(15)
    outcomes: Counter[str] = Counter()
    for _ in range(40 * THOROUGH):
        demo = chance.choice(DEMO_PIECES)
        outcomes[_outcome(_mutated(chance, demo.document), demo.rig)] += 1
    assert outcomes["planned"] > 15 * THOROUGH, outcomes
    assert outcomes["planned"] < 40 * THOROUGH, "nothing was refused: the mutations are too tame"
    assert not [text for text in outcomes if "Traceback" in text or "Error" in text or "NoneType" in text]
