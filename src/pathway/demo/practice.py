"""Some weeks of practice on three of the demo pieces: something improves, something sticks, something was rested."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from pathway.core.planning.plan import Plan
from pathway.core.practice.drill import AskedBy, DrillAsk, Stage
from pathway.core.practice.load import HandAfter
from pathway.core.practice.log import PlayedSet, with_try
from pathway.core.practice.making import opened
from pathway.core.practice.staircase import Climb, Verdict
from pathway.store.practice import PracticeLog

TRY = 45.0  # that a try and what is said of it take [s]
READY_IN = timedelta(days=24)
_WORDS = {"c": Verdict.CLEAN, "n": Verdict.NEARLY, "x": Verdict.NOT_YET}


@dataclass(frozen=True, slots=True)
class Story:
    """How one drill went: days ago and what the tries were like."""

    ask: DrillAsk
    days: Sequence[tuple[int, str]]
    why: AskedBy = AskedBy.PLAYER
    what: str = ""
    bars: str = ""
    hands: Sequence[tuple[int, HandAfter]] = ()
    notes: Sequence[tuple[int, str]] = ()


STORIES: dict[str, Sequence[Story]] = {
    "slack-water": (
        Story(  # improves
            DrillAsk("tempo-ladder", "the hair", Stage.BARS, "n57", "n58"),
            ((23, "nncn"), (21, "ncncc"), (19, "ccc"), (16, "nncc"), (14, "cccn"), (11, "ccnccc"), (8, "ccc"),
             (5, "ncc"), (3, "cccn"), (1, "ccc")),
            AskedBy.FINDING, "runs-out", "13–14", notes=((3, "The last bow has hair left now."),),
        ),
        Story(  # sticks
            DrillAsk("slowest-bow", "down", Stage.PITCH, "n35", "n35"),
            ((20, "nxn"), (17, "xnx"), (13, "ccc"), (10, "xx"), (6, "ncn"), (2, "xnx")),
            AskedBy.FINDING, "runs-out", "8",
        ),
    ),
    "toll-house": (
        Story(
            DrillAsk("both-ways-equal", "down", Stage.PATTERN, "n9", "n18"),
            ((18, "ncc"), (15, "cccn"), (12, "nccc"), (9, "cnc"), (4, "cccc")),
            AskedBy.FINDING, "uneven-accents", "2–4",
        ),
        Story(  # strained the hand once
            DrillAsk("load-and-test", "down", Stage.PITCH, "n65", "n65"),
            ((12, "nc"), (9, "ncx"), (7, "cc"), (4, "ncc")),
            AskedBy.PLAYER, "", "14",
            hands=((9, HandAfter.STRAINED), (12, HandAfter.FIRM), (7, HandAfter.EASY), (4, HandAfter.EASY)),
            notes=((9, "Thumb. Left the rest of it."),),
        ),
    ),
    "stone-stairs": (
        Story(  # passed on three days: it rests
            DrillAsk("tilt-turns", "flat first", Stage.PITCH, "n125", "n125"),
            ((24, "cccc"), (22, "cccccc"), (20, "ccc"), (17, "ccc"), (13, "ccc")),
            AskedBy.FINDING, "wood-contact", "22",
        ),
        Story(
            DrillAsk("long-tones", "down", Stage.OPEN),
            ((24, "nc"), (22, "cc"), (17, "ncc"), (13, "ccc"), (6, "ccn"), (2, "ccc")),
        ),
    ),
}  # fmt: skip


def load_log(log: PracticeLog, plans: dict[str, tuple[int, Plan]], now: datetime) -> int:
    """Write the practice of the demo pieces into the log; return how many sets that are.

    Args:
        log: to be written.
        plans: the pieces that were just put on the shelf, by their demo key: id and plan.
        now: the end of the last week of it.
    """
    sets: list[PlayedSet] = []
    for key, stories in STORIES.items():
        if key in plans:
            for n, story in enumerate(stories):
                sets += _told(log, f"demo-{key}-{n}", story, *plans[key], now)
    for played in sets:
        log.keep(played)
    if "slack-water" in plans:
        log.set_ready_by(plans["slack-water"][0], (now + READY_IN).date())
    return len(sets)


def _told(log: PracticeLog, token: str, story: Story, piece: int, plan: Plan, now: datetime) -> list[PlayedSet]:
    """Play one story on the ladder that the drill has."""
    ready, climb, sets = opened(story.ask, plan.rig, plan), Climb(), []
    hands, notes = dict(story.hands), dict(story.notes)
    for day, tries in story.days:
        begun = (now - timedelta(days=day)).replace(hour=17, minute=5, second=0, microsecond=0)
        played = PlayedSet(
            token=f"{token}-{day}", drill=story.ask.key, begun=begun, piece=piece, why=story.why.value,
            what=story.what, bars=story.bars,
        )  # fmt: skip
        for n, letter in enumerate(tries, start=1):
            climb, played = with_try(played, ready, climb, _WORDS[letter], n * TRY)
        sets.append(replace(played, hand=hands.get(day), note=notes.get(day, "")))
    log.stand(piece, story.ask.key, climb)
    return sets
