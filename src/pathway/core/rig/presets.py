"""Typical rigs. String tensions: makers' usual medium gauges; all other figures are our estimates."""

from pathway.core.rig.bow import Bow, Hold
from pathway.core.rig.instrument import Instrument, OpenString, Rig
from pathway.errors import NotFound

_LETTERS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}


def _strings(names: str, tensions: tuple[float, ...], shares: tuple[float, ...]) -> tuple[OpenString, ...]:
    return tuple(
        OpenString(name, _LETTERS[name[0]] + 12 * (int(name[1:]) + 1), tension, share)
        for name, tension, share in zip(names.split(), tensions, shares, strict=True)
    )


VIOLIN = Instrument(
    "violin", _strings("G3 D4 A4 E5", (44, 44, 55, 75), (0.98, 0.95, 0.87, 0.72)),
    length=0.328, gap=0.058, spacing=0.0115, bridge_radius=0.042,
    drive_mf=3.0, loss=80, plain_place=0.60, comfort_force=2.2,
)  # fmt: skip
VIOLA = Instrument(
    "viola", _strings("C3 G3 D4 A4", (52, 52, 54, 75), (0.98, 0.95, 0.87, 0.75)),
    length=0.375, gap=0.066, spacing=0.0125, bridge_radius=0.050,
    drive_mf=3.0, loss=90, plain_place=0.58, comfort_force=2.5,
)  # fmt: skip
CELLO = Instrument(
    "cello", _strings("C2 G2 D3 A3", (127, 130, 135, 170), (0.40,) * 4),
    length=0.690, gap=0.105, spacing=0.0158, bridge_radius=0.062,
    drive_mf=2.6, loss=120, plain_place=0.50, comfort_force=4.5,
)  # fmt: skip
DOUBLE_BASS = Instrument(
    "double bass", _strings("E1 A1 D2 G2", (290, 290, 285, 280), (0.30,) * 4),
    length=1.050, gap=0.160, spacing=0.028, bridge_radius=0.080,
    drive_mf=2.4, loss=180, plain_place=0.42, comfort_force=7.0, octave_down=True,
)  # fmt: skip

VIOLIN_BOW = Bow("violin", 0.060, 0.650, 0.745, 0.200, 0.020, 60, 0.010, 0.008)
VIOLA_BOW = Bow("viola", 0.070, 0.645, 0.740, 0.195, 0.020, 62, 0.011, 0.008)
CELLO_BOW = Bow("cello", 0.080, 0.600, 0.715, 0.185, 0.025, 70, 0.0125, 0.012)
BASS_BOW = Bow("double bass", 0.130, 0.560, 0.700, 0.170, 0.030, 80, 0.017, 0.014)

SHALLOW = 0.030  # index lever of a shallow hold [m]
CELLO_DEEPER, BASS_DEEPER = 0.020, 0.030  # what the larger bows add to it [m]

PRESETS: dict[str, Rig] = {
    rig.key: rig
    for rig in (
        Rig("violin", VIOLIN, VIOLIN_BOW, Hold("shallow", SHALLOW), torque_limit=0.55, hard_way=1),
        Rig("viola", VIOLA, VIOLA_BOW, Hold("shallow", SHALLOW), torque_limit=0.60, hard_way=1),
        Rig("cello", CELLO, CELLO_BOW, Hold("shallow", SHALLOW + CELLO_DEEPER), torque_limit=1.5),
        Rig("bass", DOUBLE_BASS, BASS_BOW, Hold("shallow", SHALLOW + BASS_DEEPER), torque_limit=2.0),
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
