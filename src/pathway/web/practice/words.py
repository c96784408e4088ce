"""How drills are told: their names, what asks for them, what must not move, by what they are passed."""

from collections.abc import Iterator
from datetime import date
from urllib.parse import urlencode

from pathway.core.guide.drills import DRILL_WORDS
from pathway.core.guide.speech import Speech
from pathway.core.music import Part
from pathway.core.planning.plan import Plan
from pathway.core.practice import FAMILIES, TWO_WAYS
from pathway.core.practice.drill import AskedBy, DrillAsk, Keeps, Offer, PlannedWork, Quantity, Stage, Still
from pathway.core.practice.load import Allowance, Because
from pathway.core.practice.making import Opened, stills
from pathway.core.practice.staircase import Climb
from pathway.core.technique.stroke_types import STROKE_TYPES

BEATS = {0.25: "sixteenth", 0.5: "eighth", 1.0: "quarter", 1.5: "dotted quarter", 2.0: "half", 3.0: "dotted half"}
HALVES = {0.5: "½"}


def name_of(ask: DrillAsk) -> str:
    """Return the name of a drill."""
    words = DRILL_WORDS[ask.family].name
    return f"{words}, {ask.member}" if ask.member and has_ways(ask) else words


def has_ways(ask: DrillAsk) -> bool:
    """Whether there are several ways of a drill: bars of a piece are begun as they are planned there."""
    members = FAMILIES[ask.family].members
    return len(members) > 1 and (ask.stage < Stage.BARS or members != TWO_WAYS)


def where_of(ask: DrillAsk) -> str:
    """Return on what a drill is played."""
    kind = f" · {STROKE_TYPES[ask.kind].name}" if ask.kind else ""
    return f"{ask.stage.word}{kind}"


def why_of(offer: Offer, plan: Plan | None, say: Speech) -> str:
    """Return what asks for a drill, in a sentence."""
    if offer.why is AskedBy.FINDING and plan is not None:
        found = next((f for f in plan.findings if f.code == offer.what and offer.ask.first in f.notes), None)
        return found.text(say) if found else "What asked for it is not in the plan any more."
    bars = f"bar{'s' * (len(offer.bars) > 1)} {', '.join(offer.bars)}"
    return {
        AskedBy.TYPE: f"for {say.manner(offer.what)}" if offer.what in STROKE_TYPES else "for a stroke type",
        AskedBy.HEARD: f"you heard: {offer.what}",
        AskedBy.CONTRAST: offer.what,
        AskedBy.PASSAGE: f"{offer.what or 'these notes'}, {bars}" if offer.bars else offer.what or "these notes",
    }.get(offer.why, "chosen by you")


def link_of(piece: int | None, offer: Offer) -> str:
    """Return the address of a drill, with what asks for it."""
    fields = {"drill": offer.ask.key, "why": offer.why.value, "what": offer.what, "bars": ", ".join(offer.bars)}
    if piece:
        fields = {"piece": str(piece), **fields}
    return "/practise/drill?" + urlencode({key: value for key, value in fields.items() if value})


def drill_link(piece: int | None, ask: DrillAsk) -> str:
    """Return the address of a drill that the player chose."""
    return link_of(piece, Offer(ask, AskedBy.PLAYER))


def passes_of(ready: Opened, one: PlannedWork) -> str:
    """Return by what a rung is passed."""
    limit = ready.row.passes.at(one.plan)
    return DRILL_WORDS[ready.drill.ask.family].passes.format(limit=f"{limit:.3g}")


def stills_of(ready: Opened, one: PlannedWork, say: Speech) -> str:
    """Return what must not move, with its value in the plan and how far it may."""
    return " · ".join(_still(still, say) for still in stills(ready.row, one))


def _still(still: Still, say: Speech) -> str:
    if still.quantity is Quantity.LANE:
        return f"lane {still.value:.0f} ± {HALVES.get(still.within, f'{still.within:g}')}"
    if still.quantity is Quantity.SPEED:
        return f"speed {say.speed(still.value)} ± {100 * still.within:.0f} %"
    if still.quantity is Quantity.HAIR:
        return f"every arrival ± {say.length(still.within)}"
    return f"{still.quantity.value} ± {still.within:g} dB"


def beat_of(part: Part) -> str:
    """Return the name of a part's beat."""
    return BEATS.get(float(part.tempo.unit), "beat")


def tempo_of(one: PlannedWork) -> str:
    """Return a rung's notes a second, and its tempo beside."""
    return f"{one.rate:.1f} notes a second · {beat_of(one.plan.part)} = {one.beats_per_minute:.0f}"


def changes_of(ready: Opened, rung: int, say: Speech) -> list[str]:
    """Return what is otherwise on a rung than in the piece."""
    return list(_changes(ready, rung, say))


def _changes(ready: Opened, rung: int, say: Speech) -> Iterator[str]:
    one = ready.at(rung)
    if ready.bars is None:
        return
    if one.rung.keeps is Keeps.HAIR:
        moved = round(abs(one.lanes)) >= 1
        way = "nearer to the board" if one.lanes < 0 else "nearer to the bridge"
        lanes = f"; the lane lies {abs(one.lanes):.0f} {way}" if moved else ""
        yield f"It keeps the hair of the piece: the bow is slower{lanes}."
    elif one.rung.keeps is Keeps.SPEED:
        yield "It keeps the speed of the piece" + (
            f": {one.parted} bow{'s' * (one.parted > 1)} more." if one.parted else "; no bow has to be parted."
        )
    for old, new in one.replaced:
        yield f"At this rate {say.manner(new)} stands for {say.manner(old)}."
    held = ready.holds_from
    if held is None and one.rung.keeps is not None:
        yield "The bowing is never that of the piece."
    elif held and rung < held and one.rung.keeps is not None:
        yield f"The bowing of the piece holds from {ready.at(held).rung.name} on."
    elif held == 0 and rung == 0:
        yield "The bowing is that of the piece from here on."


def state_of(climb: Climb | None, last: date | None) -> str:
    """Return how far a player is on a ladder."""
    if climb is None or (last is None and not climb.tries and not climb.rung and not climb.passed):
        return "not begun"
    told = "passed" if climb.passed else "does not move" if climb.stuck else f"rung {climb.rung + 1}"
    return f"{told}, last on {last:%-d %B}" if last else told


NUMBERS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")


def day_told(number: int, count: int, left: float) -> str:
    """Return which of the day's work something is, and how many minutes are left."""
    nth = NUMBERS[number - 1] if number <= len(NUMBERS) else f"{number}th"
    return f"{nth} of {count} · {left:.0f} min left today"


def minutes_of(seconds: float) -> str:
    """Return a time as it is told."""
    return f"{seconds / 60:.0f} min" if seconds >= 90 else f"{seconds:.0f} s"


def against(allowance: Allowance) -> str:
    """Return why a set cannot begin now; empty where it can."""
    cap = allowance.cap.value if allowance.cap else ""
    return {
        Because.STRAINED: "The hand was strained: no more heavy work today. Light and ordinary drills go on.",
        Because.CAP: f"That is enough of {cap} for today. What was borne a week ago grows by a fifth at most.",
        Because.REST: "The hand rests as long as it has played.",
        Because.PAUSE: "Twenty-five minutes without a break: rest the hands.",
    }.get(allowance.because, "") if allowance.because else ""  # fmt: skip
