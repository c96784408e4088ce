"""The instrument and the whole rig. SI units; string 0 is the lowest."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated, Literal

from pathway.core.rig.bow import Bow, Direction, Hold
from pathway.core.says import CM, DB, DEG, NM, PITCH_NAME, N, S, Says
from pathway.errors import RigError

_NAMES = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
RING = 0.8  # of a string that nothing is known of [s]
ASIDE_UP, ASIDE_DOWN = math.radians(1.0), 0.5  # the stick turns from string to string: held up [rad]; of the level
MOST_ASIDE, MOST_FLATTER, MOST_TILTED = (math.radians(degrees) for degrees in (45, 20, 30))
HAND_SPAN = 0.109  # from first to fourth finger, our estimate [m]
FOUR_FINGERS, WITH_THUMB, THUMB_FROM = 5, 7, 12  # [semitones]


def aside_of(off_middle: float, angle_step: float, *, held_down: bool) -> float:
    """Return the direction of the stick on a string, seen from above [rad], our estimate.

    Args:
        off_middle: strings from the middle, positive to the higher ones.
        angle_step: between neighbours on the bridge's arc [rad].
        held_down: whether the instrument is.
    """
    return -ASIDE_DOWN * angle_step * off_middle if held_down else ASIDE_UP * off_middle


def open_pitch(midi: int) -> str:
    """Return the name of an open string's pitch, as rig files have it."""
    return f"{_NAMES[midi % 12]}{midi // 12 - 1}"


@dataclass(frozen=True, slots=True)
class OpenString:
    """One open string."""

    name: Annotated[str, Says(PITCH_NAME)]  # pitch with octave, such as "G3"
    midi: Annotated[int, Says(within=(21, 100))]
    tension: Annotated[float, Says(N, (10, 500))]  # T_s [N]
    gravity_share: Annotated[float, Says(within=(0.05, 1))]  # g₁, share of the bow's weight that presses it [1]
    ring: Annotated[  # [s]
        float,
        Says(
            S,
            (0.05, 12),
            estimated=True,
            note="until the open string has fallen by 20 dB after the bow has left it; else estimated",
        ),
    ] = RING
    aside: Annotated[  # [rad]
        float,
        Says(
            DEG,
            (-MOST_ASIDE, MOST_ASIDE),
            key="stick_deg",
            estimated=True,
            note="of the stick on it, seen from above; positive: the hand drawn back; else estimated",
        ),
    ] = 0.0
    answer: Annotated[  # [dB]
        float, Says(DB, (-12, 12), note="how much louder it is than another string of its weight with the same bow")
    ] = 0.0  # fmt: skip

    @property
    def letter(self) -> str:
        """Return the name without its octave."""
        return self.name.rstrip("0123456789")

    def at(self, midi: int) -> "OpenString":
        """Return the same string tuned to a pitch."""
        return replace(self, name=open_pitch(midi), midi=midi, tension=self.tension * 2.0 ** ((midi - self.midi) / 6))


def frequency(midi: float) -> float:
    """Return the frequency of a MIDI pitch [Hz], a' = 440."""
    return float(440.0 * 2.0 ** ((midi - 69) / 12))


@dataclass(frozen=True)
class Instrument:
    """A bowed instrument: its strings and the geometry of bridge and fingerboard."""

    name: Annotated[str, Says(within=(1, 80))]
    strings: Annotated[tuple[OpenString, ...], Says(within=(1, 8))]
    length: Annotated[float, Says(CM, (0.15, 1.50), key="vibrating_cm")]  # ℓ₀, of the open strings [m]
    gap: Annotated[float, Says(CM, (0.02, 0.40))]  # bridge to the fingerboard's end [m]
    spacing: Annotated[float, Says(CM, (0.005, 0.05))]  # between neighbouring strings at the bridge [m]
    bridge_radius: Annotated[float, Says(CM, (0.02, 0.15))]  # [m]
    drive_mf: Annotated[float, Says(within=(0.5, 10), key="drive_mf_m_s")]  # D_mf, of a plain mezzo-forte [m/s]
    loss: Annotated[float, Says(within=(10, 1000), key="loss_ratio")]  # ρ, string-end resistance over Z_g [1]
    plain_place: Annotated[float, Says(within=(0.2, 0.85))]  # q of a plain tone in the force window [1]
    comfort_force: Annotated[float, Says(N, (0.3, 20))]  # F_comf, most a player likes to press [N]
    octave_down: bool = False  # written an octave above its sound
    held_down: Annotated[  # neck up, between the knees or standing
        bool, Says(note="the lowest string lies next to the bow hand")
    ] = False

    def tuned(self, pitches: Sequence[int]) -> "Instrument":
        """Return it with its strings tuned to other pitches; their tension goes with the square of the frequency."""
        if list(pitches) == [string.midi for string in self.strings]:
            return self
        strings = (string.at(midi) for string, midi in zip(self.strings, pitches, strict=True))
        return replace(self, strings=tuple(strings))

    @cached_property
    def impedances(self) -> tuple[float, ...]:
        """Return Z = T/(2 ℓ₀ f₀) of each string [kg/s]."""
        return tuple(s.tension / (2 * self.length * frequency(s.midi)) for s in self.strings)

    @cached_property
    def impedance_mean(self) -> float:
        """Return Z_g, the geometric mean of the strings' impedances [kg/s]."""
        return math.exp(sum(math.log(z) for z in self.impedances) / len(self.strings))

    @property
    def loss_resistance(self) -> float:
        """Return R = ρ Z_g [kg/s]."""
        return self.loss * self.impedance_mean

    def frame(self, position: int) -> int:
        """Return the semitones from first to last finger, with the first so many above the open string.

        Four fingers span a fourth where the hand is wide enough for it, with the thumb on the string a fifth.
        """
        most = WITH_THUMB if self.held_down and position >= THUMB_FROM else FOUR_FINGERS
        first, reach = 2 ** (-position / 12), HAND_SPAN / self.length
        spanned = -12 * math.log2(first - reach) - position if first > reach else most
        return min(most, math.floor(spanned))

    @property
    def angle_step(self) -> float:
        """Return the angle between neighbouring strings on the bridge's arc [rad]."""
        return self.spacing / self.bridge_radius

    def aside(self, string: float) -> float:
        """Return the direction of the stick on a string, or between two, seen from above [rad]."""
        low = min(int(string), len(self.strings) - 1)
        high = min(low + 1, len(self.strings) - 1)
        return self.strings[low].aside + (string - low) * (self.strings[high].aside - self.strings[low].aside)

    def level(self, string: float) -> float:
        """Return the bow's level on a string, or between two [rad]; positive towards the bow hand."""
        towards_hand = -1 if self.held_down else 1
        return towards_hand * (string - (len(self.strings) - 1) / 2) * self.angle_step


@dataclass(frozen=True, slots=True)
class OneBow:
    """What a player's staccato in one bow does in one direction."""

    rate: Annotated[  # [1/s]; None: not known
        float | None, Says(within=(4, 20), key="per_second", note="of the self-running one")
    ] = None
    stretch: Annotated[tuple[float, float] | None, Says(kept=False)] = (
        None  # of hair on which it is reliable [m]; None: that of its type
    )


@dataclass(frozen=True)
class Rig:
    """Instrument, bow, hold and arm: everything physical a plan depends on."""

    key: Annotated[str, Says(within=(1, 60))]
    instrument: Instrument
    bow: Bow
    hold: Annotated[Hold, Says(flat=True)]
    torque_limit: Annotated[float, Says(NM, (0.05, 5))]  # τ_max, comfortable moment of the hand [N m]
    strong: Annotated[Direction, Says(always=True)] = Direction.DOWN
    hard_way: Annotated[Literal[-1, 0, 1], Says(always=True)] = (
        0  # 1: the higher string on a down-bow is the hard way round; −1: the lower
    )
    frog_margin: Annotated[float, Says(kept=False)] = 0.01  # hair not used at the frog [m]
    tip_margin: Annotated[float, Says(kept=False)] = 0.01  # hair not used at the tip [m]
    lifts_to_cross: Annotated[bool, Says(note="may leave the string to pass over others")] = True
    tilt_habit: Annotated[  # [rad]
        float, Says(DEG, (-MOST_FLATTER, MOST_TILTED), note="more than others tilt the stick, or less")
    ] = 0.0
    says_pull: Annotated[bool | None, Says(kept=False)] = None  # strokes are called pull and push; None: by the hold
    staccato: Annotated[  # the player's own, on a down-bow and on an up-bow
        tuple[OneBow, OneBow], Says(kept=False)
    ] = (OneBow(), OneBow())

    def __post_init__(self) -> None:
        if self.usable[1] - self.usable[0] < 0.10:
            raise RigError(
                f"The rig {self.key} leaves less than 10 cm of usable hair",
                advice="Make the margins at frog and tip smaller.",
            )

    @property
    def usable(self) -> tuple[float, float]:
        """Return the first and last usable place on the hair [m]."""
        return self.frog_margin, self.bow.hair - self.tip_margin

    def one_bow(self, direction: Direction) -> OneBow:
        """Return what the player's staccato in one bow does in a direction."""
        return self.staccato[0 if direction is Direction.DOWN else 1]

    def word(self, direction: Direction) -> str:
        """Return what players of this rig call a stroke in a direction."""
        if self.hold.underhand if self.says_pull is None else self.says_pull:
            return "pull" if direction is Direction.DOWN else "push"
        return f"{direction.word}-bow"

    def tuned(self, pitches: Sequence[int]) -> "Rig":
        """Return the rig with its strings at some pitches, from the lowest string up; as it is without any."""
        return replace(self, instrument=self.instrument.tuned(pitches)) if pitches else self

    def with_hair(self, low: float, high: float) -> "Rig":
        """Return the rig with other limits of usable hair [m], for shorter arms."""
        return replace(self, frog_margin=low, tip_margin=self.bow.hair - high)
