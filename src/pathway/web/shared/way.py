"""The stations of the path that exist, and how far the player has come in each."""

from dataclasses import dataclass

from pathway.core.planning import CATALOGUE, Plan
from pathway.core.planning import WorkedOn as Where
from pathway.core.planning.finding import Severity
from pathway.store.rigs import OWN


@dataclass(frozen=True, slots=True)
class Station:
    """One station of the path."""

    name: str
    href: str
    state: str  # untouched, in work, settled or needs a look; empty where it is asked for
    here: bool
    piece: int = 0


def way_of(piece: int, plan: Plan, here: str) -> list[Station]:
    """Return the stations of a piece; the present one is marked."""
    rows = [(CATALOGUE[finding.code], finding.severity) for finding in plan.findings]
    troubled = {row.station for row, severity in rows if severity is not Severity.LOW or row.station is Where.MUSIC}
    passages = plan.draft.settings.passages

    def look_or(station: Where, otherwise: str) -> str:
        return "needs a look" if station in troubled else otherwise

    states = {
        "Rig": "settled" if plan.rig.key.startswith(OWN) else "untouched",
        "Music": look_or(Where.MUSIC, "in work" if passages else "untouched"),
        "Bowing": look_or(Where.BOWING, "in work" if plan.locks else "settled"),
        "Tone": look_or(Where.TONE, "settled"),
    }
    states |= {"Practise": "", "Takes": ""}
    pages = {
        "Rig": "/rig",
        "Music": "/music",
        "Bowing": "",
        "Tone": "/tone",
        "Practise": "/practise",
        "Takes": "/takes",
    }
    return [Station(name, f"/pieces/{piece}{page}", states[name], name == here, piece) for name, page in pages.items()]
