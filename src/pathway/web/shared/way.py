"""The stations of the path that exist, and how far the player has come in each."""

from dataclasses import dataclass

from pathway.core.planning import Plan
from pathway.store.rigs import OWN

_OF_TONE = {
    "airy", "pressed", "no-window", "choked", "level-short", "string-imbalance", "uneven-accents", "voice-lost",
    "wood-contact", "hair-too-wide", "speaks-late", "join-heard",
}  # fmt: skip
_OF_MUSIC = {"contrast-thin"}


@dataclass(frozen=True, slots=True)
class Station:
    """One station of the path."""

    name: str
    href: str
    state: str  # untouched, in work, settled or needs a look
    here: bool


def way_of(piece: int, plan: Plan, here: str) -> list[Station]:
    """Return the stations of a piece; the present one is marked."""
    codes = {finding.code for finding in plan.findings if finding.severity.value != "low"}
    music = {finding.code for finding in plan.findings} & _OF_MUSIC
    passages = plan.draft.settings.passages
    states = {
        "Rig": "settled" if plan.rig.key.startswith(OWN) else "untouched",
        "Music": "needs a look" if music else "in work" if passages else "untouched",
        "Bowing": "needs a look" if codes - _OF_TONE else "in work" if plan.locks else "settled",
        "Tone": "needs a look" if codes & _OF_TONE else "settled",
    }
    pages = {"Rig": "/rig", "Music": "/music", "Bowing": "", "Tone": "/tone"}
    return [Station(name, f"/pieces/{piece}{page}", states[name], name == here) for name, page in pages.items()]
