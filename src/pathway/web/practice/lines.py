"""Drills in a list: what each is called, what asks for it, how far the player is."""

from collections.abc import Iterable
from dataclasses import dataclass

from pathway.core.guide.drills import DRILL_WORDS
from pathway.core.guide.speech import Speech
from pathway.core.planning.plan import Plan
from pathway.core.practice import FAMILIES
from pathway.core.practice.drill import Offer, Strain
from pathway.desk.practising import Practising
from pathway.web.practice.words import link_of, name_of, state_of, where_of, why_of


@dataclass(frozen=True, slots=True)
class DrillLine:
    """One drill of a list."""

    name: str
    where: str
    aim: str
    why: str
    state: str
    href: str
    heavy: bool
    varies: str


def lines_of(
    practising: Practising, offers: Iterable[Offer], piece: int | None, plan: Plan | None, say: Speech
) -> list[DrillLine]:
    """Return drills as a list shows them."""
    climbs = practising.log.climbs(piece)
    last = {key: one.begun.astimezone().date() for key, one in practising.log.last(piece, tried=True).items()}
    return [
        DrillLine(
            name_of(offer.ask),
            where_of(offer.ask),
            DRILL_WORDS[offer.ask.family].aim,
            why_of(offer, plan, say),
            state_of(climbs.get(offer.ask.key), last.get(offer.ask.key)),
            link_of(piece, offer),
            FAMILIES[offer.ask.family].load is Strain.HEAVY,
            FAMILIES[offer.ask.family].varies.value,
        )
        for offer in offers
    ]
