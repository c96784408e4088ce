"""Typical rigs. String tensions: makers' usual medium gauges; all other figures are our estimates."""

from math import radians
from typing import Any

from pathway.core.rig.bow import Bow, Direction, Hold
from pathway.core.rig.instrument import Instrument, OpenString, Rig
from pathway.errors import NotFound

_LETTERS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}


def _strings(
    names: str, tensions: tuple[float, ...], shares: tuple[float, ...], rings: tuple[float, float], aside: float
) -> tuple[OpenString, ...]:
    """Return open strings from the lowest up.

    Args:
        names: their pitches.
        tensions: [N].
        shares: of the bow's weight that press them [1].
        rings: of the lowest and of the highest, the others between [s].
        aside: how far the stick turns from string to string, seen from above [degrees]; the middle ones are square.
    """
    last = len(tensions) - 1
    return tuple(
        OpenString(
            name,
            _LETTERS[name[0]] + 12 * (int(name[1:]) + 1),
            tension,
            share,
            ring=round(rings[0] + (rings[1] - rings[0]) * i / last, 2),
            aside=radians(aside * (i - last / 2)),
        )
        for i, (name, tension, share) in enumerate(zip(names.split(), tensions, shares, strict=True))
    )


VIOLIN = Instrument(
    "violin", _strings("G3 D4 A4 E5", (44, 44, 55, 75), (0.98, 0.95, 0.87, 0.72), (0.9, 0.5), 1.0),
    length=0.328, gap=0.058, spacing=0.0115, bridge_radius=0.042,
    drive_mf=3.0, loss=80, plain_place=0.60, comfort_force=2.2,
)  # fmt: skip
VIOLA = Instrument(
    "viola", _strings("C3 G3 D4 A4", (52, 52, 54, 75), (0.98, 0.95, 0.87, 0.75), (1.1, 0.6), 1.0),
    length=0.375, gap=0.066, spacing=0.0125, bridge_radius=0.050,
    drive_mf=3.0, loss=90, plain_place=0.58, comfort_force=2.5,
)  # fmt: skip
CELLO = Instrument(
    "cello", _strings("C2 G2 D3 A3", (127, 130, 135, 170), (0.40,) * 4, (2.2, 1.2), -7.3),
    length=0.690, gap=0.105, spacing=0.0158, bridge_radius=0.062,
    drive_mf=2.6, loss=120, plain_place=0.50, comfort_force=4.5, held_down=True,
)  # fmt: skip
DOUBLE_BASS = Instrument(
    "double bass", _strings("E1 A1 D2 G2", (290, 290, 285, 280), (0.30,) * 4, (3.0, 2.0), -10.0),
    length=1.050, gap=0.160, spacing=0.028, bridge_radius=0.080,
    drive_mf=2.4, loss=180, plain_place=0.42, comfort_force=7.0, octave_down=True, held_down=True,
)  # fmt: skip

GUT_VIOLIN = Instrument(
    "historical violin", _strings("G3 D4 A4 E5", (40, 40, 45, 60), (0.98, 0.95, 0.87, 0.72), (0.6, 0.35), 1.0),
    length=0.325, gap=0.070, spacing=0.0115, bridge_radius=0.040,
    drive_mf=3.0, loss=80, plain_place=0.60, comfort_force=1.8,
)  # fmt: skip
GUT_CELLO = Instrument(
    "historical cello", _strings("C2 G2 D3 A3", (110, 110, 115, 130), (0.40,) * 4, (1.5, 0.8), -7.5),
    length=0.680, gap=0.120, spacing=0.0158, bridge_radius=0.060,
    drive_mf=2.4, loss=110, plain_place=0.48, comfort_force=3.5, held_down=True,
)  # fmt: skip
TREBLE_VIOL = Instrument(
    "treble viol", _strings("D3 G3 C4 E4 A4 D5", (28,) * 6, (0.35,) * 6, (1.0, 0.6), -5.4),
    length=0.360, gap=0.070, spacing=0.009, bridge_radius=0.048,
    drive_mf=2.4, loss=80, plain_place=0.42, comfort_force=1.2, held_down=True,
)  # fmt: skip
BASS_VIOL = Instrument(
    "bass viol", _strings("D2 G2 C3 E3 A3 D4", (58,) * 6, (0.35,) * 6, (2.0, 1.0), -5.0),
    length=0.690, gap=0.115, spacing=0.0125, bridge_radius=0.072,
    drive_mf=2.2, loss=80, plain_place=0.42, comfort_force=1.8, held_down=True,
)  # fmt: skip

VIOLIN_BOW = Bow("violin", 0.060, 0.650, 0.745, 0.200, 0.020, 60, 0.010, 0.008)
VIOLA_BOW = Bow("viola", 0.070, 0.645, 0.740, 0.195, 0.020, 62, 0.011, 0.008)
CELLO_BOW = Bow("cello", 0.080, 0.600, 0.715, 0.185, 0.025, 70, 0.0125, 0.012)
BASS_BOW = Bow("double bass", 0.130, 0.560, 0.700, 0.170, 0.030, 80, 0.017, 0.014)
EARLY_VIOLIN_BOW = Bow("historical violin", 0.050, 0.600, 0.650, 0.170, 0.020, 45, 0.007, 0.009)
EARLY_CELLO_BOW = Bow("historical cello", 0.072, 0.600, 0.690, 0.175, 0.025, 55, 0.010, 0.012)
VIOL_BOW = Bow("viol", 0.075, 0.620, 0.745, 0.190, 0.040, 55, 0.011, 0.009)

CELLO_LONGER, BASS_LONGER = 0.020, 0.030  # what the larger bows add to the index lever [m]
_VIOL: dict[str, Any] = {"strong": Direction.UP, "lifts_to_cross": False}

PRESETS: dict[str, Rig] = {
    rig.key: rig
    for rig in (
        Rig("violin", VIOLIN, VIOLIN_BOW, Hold.of("shallow"), torque_limit=0.55, hard_way=1),
        Rig("viola", VIOLA, VIOLA_BOW, Hold.of("shallow"), torque_limit=0.60, hard_way=1),
        Rig("cello", CELLO, CELLO_BOW, Hold.of("shallow", CELLO_LONGER), torque_limit=1.5),
        Rig("bass", DOUBLE_BASS, BASS_BOW, Hold.of("shallow", BASS_LONGER), torque_limit=2.0),
        Rig("early-violin", GUT_VIOLIN, EARLY_VIOLIN_BOW, Hold.of("early"), torque_limit=0.55, hard_way=1),
        Rig("early-cello", GUT_CELLO, EARLY_CELLO_BOW, Hold.of("early", CELLO_LONGER), torque_limit=1.2),
        Rig("treble-viol", TREBLE_VIOL, VIOL_BOW, Hold.of("underhand"), torque_limit=0.6, **_VIOL),
        Rig("bass-viol", BASS_VIOL, VIOL_BOW, Hold.of("underhand"), torque_limit=0.9, **_VIOL),
    )
}


def preset(key: str) -> Rig:
    """Return a typical rig by its key.

    Raises:
        NotFound: there is no such rig; names those there are.
    """
    if key not in PRESETS:
        raise NotFound(f"There is no rig called {key!r}", advice=f"Rigs: {', '.join(PRESETS)}.")
    return PRESETS[key]
