"""Paper without the app: a part, or drills, straight from a plan."""

from collections.abc import Iterable

from pathway.core.guide.drills import DRILL_WORDS
from pathway.core.guide.speech import PLAIN
from pathway.core.planning.plan import Plan
from pathway.core.practice import key_of
from pathway.core.practice.drill import DrillAsk
from pathway.core.practice.making import opened
from pathway.desk.stored import drawn, engraved
from pathway.formats.part_writer import write_part
from pathway.web.paper.part import Printed
from pathway.web.paper.pdf import drills_pdf
from pathway.web.paper.sheet import Wish, lines_of
from pathway.web.practice.words import name_of, tempo_of, where_of

MOST_DRILLS = 8


def printed_part(plan: Plan, mei: str) -> Printed:
    """Return a plan on paper.

    Args:
        plan: of the part.
        mei: the part itself.
    """
    wish = Wish()
    return Printed.of(plan, engraved(mei, wish.width), list(plan.findings), wish, PLAIN)


def printed_drills(plan: Plan, asks: Iterable[DrillAsk]) -> bytes:
    """Return the first few drills as PDF, each at its last rung.

    Raises:
        ScoreError: the typesetter is not installed.
    """
    wish, found = Wish(), []
    for ask in list(asks)[:MOST_DRILLS]:
        one = opened(ask, plan.rig, plan).rungs[-1]
        written = write_part(one.plan.part, plan.rig.instrument, key_of(plan.part), one.rung.work.quarters_per_minute)
        lines = [line.svg for line in lines_of(one.plan, drawn(written, wish.width), [], wish, PLAIN)]
        watch = f"{where_of(ask)} · {one.rung.name}, {tempo_of(one)}. Watch: {DRILL_WORDS[ask.family].watch}"
        found.append((name_of(ask), watch, lines))
    return drills_pdf(f"Drills for {plan.part.title}", found, wish)
