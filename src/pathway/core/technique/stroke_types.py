"""Manners of playing: where on the hair, how much of it, how they begin and end. Figures are our estimates."""

from dataclasses import dataclass
from enum import StrEnum


class Contact(StrEnum):
    """What the hair does between two notes."""

    ON = "on"
    OFF = "off"  # leaves the string
    THROWN = "thrown"  # one throw, several landings


class Start(StrEnum):
    """How a note begins."""

    NONE = "none"  # inside a slur
    SOFT = "soft"  # gathers speed
    PULSE = "pulse"  # a swell or impulse at the start
    CATCH = "catch"  # weight first, then let go with the stroke
    LAND = "land"  # from the string or from the air


@dataclass(frozen=True, slots=True)
class StrokeType:
    """One manner of playing."""

    key: str
    name: str
    zone: tuple[float, float] | None  # shares of the hair for the stroke's middle; None: by level, or by the bounce
    gap: float  # share of each note that is silent at its end
    most_per_second: float | None
    tilt_deg: float
    start: Start = Start.SOFT
    catch: float = 0.0  # time to load the string [s]
    attack: float = 1.0  # speed over what the level asks for: heard as attack, not as level
    breadth: float = 1.0  # speed over the habitual one
    hair_a_note: tuple[float, float] | None = None  # least and most hair for one note [m]
    whole_bow: bool = False
    contact: Contact = Contact.ON
    stops_inside: bool = False  # several notes in one bow, each ended by itself
    least_per_second: float = 0.0
    own_rate: bool = False  # runs at the player's own rate, not at any other
    faster: str | None = None  # what takes over when it gets too fast
    softer: str | None = None  # a gentler neighbour

    @property
    def joins(self) -> bool:
        """Whether strokes of it join without a silence, on the string."""
        return self.gap == 0 and self.contact is Contact.ON

    @property
    def one_bow(self) -> bool:
        """Whether it is a staccato in one bow: stopped notes in one direction, each with a start of its own."""
        return self.stops_inside and self.start is Start.CATCH

    @property
    def bounces(self) -> bool:
        """Whether its place follows the bow's rebound."""
        return self.contact is not Contact.ON and self.zone is None


def _cm(least: float, most: float) -> tuple[float, float]:
    return least / 100, most / 100


OFF, THROWN = Contact.OFF, Contact.THROWN
_TYPES = (
    StrokeType("detache", "détaché", None, 0, 12, 15),
    StrokeType("broad-detache", "broad détaché", (0.05, 0.95), 0, 4, 10, breadth=1.9, faster="detache"),
    StrokeType("porte", "détaché porté", (0.15, 0.85), 0.05, 5, 15, Start.PULSE, faster="detache"),
    StrokeType("lance", "détaché lancé", (0.15, 0.85), 0.15, 5, 15, Start.PULSE, faster="detache", softer="porte"),
    StrokeType("short-detache", "short détaché", None, 0.35, 8, 15, breadth=0.9, faster="detache"),
    StrokeType("legato", "legato", None, 0, None, 15),
    StrokeType("portato", "portato", (0.15, 0.85), 0.10, 6, 15, Start.PULSE, stops_inside=True, faster="legato"),
    StrokeType("sustained", "sustained", (0.02, 0.98), 0, None, 5, breadth=0.7),
    StrokeType(
        "martele", "martelé", (0.45, 0.95), 0.35, 5, 5, Start.CATCH, 0.070, 1.6,
        faster="soft-martele", softer="soft-martele",
    ),
    StrokeType(
        "soft-martele", "soft martelé", (0.35, 0.90), 0.20, 7, 10, Start.CATCH, 0.035, 1.4,
        faster="short-detache", softer="short-detache",
    ),
    StrokeType(
        "grand-martele", "grand martelé", (0.0, 1.0), 0.30, 2, 5, Start.CATCH, 0.090, whole_bow=True, faster="martele",
    ),
    StrokeType(
        "colle", "collé", (0.05, 0.40), 0.55, 5, 10, Start.CATCH, 0.050, hair_a_note=_cm(2, 5), contact=OFF,
        faster="spiccato", softer="spiccato",
    ),
    StrokeType(
        "staccato", "staccato in one bow", (0.45, 0.90), 0.40, 9, 10, Start.CATCH, 0.020, hair_a_note=_cm(1, 2.5),
        stops_inside=True, faster="running-staccato", softer="portato",
    ),
    StrokeType(
        "running-staccato", "self-running staccato", (0.40, 0.95), 0.40, 13, 10, Start.CATCH,
        hair_a_note=_cm(0.8, 2), stops_inside=True, least_per_second=8, own_rate=True, softer="flying-staccato",
    ),
    StrokeType(
        "pulsed-detache", "pulsed détaché", (0.10, 0.55), 0.25, 8, 10, Start.CATCH, 0.020, breadth=1.2,
        faster="detache", softer="short-detache",
    ),
    StrokeType(
        "spiccato", "spiccato", None, 0.30, 10, 15, Start.LAND, hair_a_note=_cm(1, 6), contact=OFF,
        faster="sautille", softer="short-detache",
    ),
    StrokeType(
        "heavy-spiccato", "heavy spiccato", (0.03, 0.20), 0.30, 5, 15, Start.LAND, hair_a_note=_cm(3, 8), contact=OFF,
        faster="spiccato", softer="spiccato",
    ),
    StrokeType(
        "sautille", "sautillé", None, 0, 13, 10, Start.LAND, hair_a_note=_cm(1, 2.5), contact=OFF,
        least_per_second=7.5, faster="tremolo", softer="detache",
    ),
    StrokeType(
        "flying-staccato", "flying staccato", (0.35, 0.75), 0.50, 8, 10, Start.LAND, hair_a_note=_cm(1, 2), contact=OFF,
        stops_inside=True, faster="ricochet", softer="portato",
    ),
    StrokeType(
        "ricochet", "ricochet", (0.50, 0.80), 0.20, 13, 0, Start.LAND, hair_a_note=_cm(1, 3), contact=THROWN,
        stops_inside=True, least_per_second=7, faster="legato", softer="flying-staccato",
    ),
    StrokeType(
        "fouette", "fouetté", (0.60, 0.95), 0.20, 3, 0, Start.LAND, breadth=1.5, contact=OFF,
        faster="lance", softer="lance",
    ),
    StrokeType(
        "rebound", "rebound", (0.25, 0.60), 0.30, 7, 10, Start.LAND, hair_a_note=_cm(2, 5), contact=OFF,
        faster="detache", softer="short-detache",
    ),
    StrokeType(
        "tremolo", "tremolo", (0.70, 0.98), 0, None, 20, Start.NONE, hair_a_note=_cm(1, 3), least_per_second=10,
    ),
)  # fmt: skip
STROKE_TYPES: dict[str, StrokeType] = {kind.key: kind for kind in _TYPES}
