"""The numbers of a rig as a player measures them: how, in which range they usually lie, and what a little more does."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from math import degrees

from pathway.core.physics.bounce import Bounce
from pathway.core.physics.hair import wood_force
from pathway.core.physics.lever import GRAVITY, hand_torque
from pathway.core.physics.string import PLAIN_SPEED, SoundingString, force_window, plain_place
from pathway.core.rig.instrument import Rig


class Group(StrEnum):
    """What of the rig a number belongs to."""

    INSTRUMENT = "Instrument and bridge"
    STRINGS = "Strings"
    BOW = "Bow"
    HAND = "Hold and hand"


@dataclass(frozen=True, slots=True)
class Measure:
    """One number of a rig; ``key`` is where a rig file has it."""

    key: str
    name: str
    unit: str
    group: Group
    how: str
    usual: float  # share by which good ones differ from the typical value [1]
    step: float  # a little more, in the unit
    effect: str  # key among the effects


@dataclass(frozen=True, slots=True)
class Effect:
    """A figure of the rig that a number moves."""

    figure: Callable[[Rig], float]
    more: str  # with a place for the amount
    less: str
    least: float  # a smaller change is none worth telling


def _plain_force(rig: Rig) -> float:
    """Return the force of a plain mezzo-forte on the second-lowest string [N]."""
    string = SoundingString.of(rig.instrument, _second(rig), 0)
    beta = plain_place(rig.instrument, _second(rig))
    return float(force_window(PLAIN_SPEED, beta, string).force(rig.instrument.plain_place))


def _second(rig: Rig) -> int:
    return min(1, len(rig.instrument.strings) - 1)


def _tip_torque(rig: Rig) -> float:
    share = rig.instrument.strings[0].gravity_share
    return float(hand_torque(0.9, rig.usable[1], rig.bow, share))


def _finger(rig: Rig) -> float:
    return _tip_torque(rig) / rig.hold.index_lever


EFFECTS = {
    "tip": Effect(
        _tip_torque, "the tip needs {:.3f} N m more of the hand", "the tip needs {:.3f} N m less of the hand", 0.0005
    ),
    "finger": Effect(
        _finger, "the index presses {:.1f} N more at the tip", "the index presses {:.1f} N less at the tip", 0.05
    ),
    "bounce": Effect(
        lambda rig: float(Bounce(rig.bow, 1.0).rate(rig.bow.hair / 2)),
        "the middle rebounds {:.1f} a second faster", "the middle rebounds {:.1f} a second slower", 0.02,
    ),
    "place": Effect(
        lambda rig: 1000 * plain_place(rig.instrument, _second(rig)) * rig.instrument.length,
        "a plain mezzo-forte lies {:.1f} mm further out", "a plain mezzo-forte lies {:.1f} mm closer", 0.03,
    ),
    "lanes": Effect(
        lambda rig: 1000 * rig.instrument.gap,
        "the lanes reach {:.0f} mm further out", "the lanes reach {:.0f} mm less far out", 0.5,
    ),
    "weight": Effect(
        lambda rig: 1000 * _plain_force(rig) / GRAVITY,
        "a plain mezzo-forte takes {:.1f} g more", "a plain mezzo-forte takes {:.1f} g less", 0.1,
    ),
    "levels": Effect(
        lambda rig: degrees(rig.instrument.angle_step),
        "neighbouring strings lie {:.1f}° further apart", "neighbouring strings lie {:.1f}° closer together", 0.02,
    ),
    "wood": Effect(
        lambda rig: 1000 * float(wood_force(rig.bow.hair / 2, 0.0, rig.bow)) / GRAVITY,
        "in the middle the stick touches {:.0f} g later", "in the middle the stick touches {:.0f} g sooner", 0.5,
    ),
    "ribbon": Effect(
        lambda rig: 1000 * rig.bow.ribbon,
        "{:.1f} mm more hair on the string: high notes ask for more tilt", "{:.1f} mm less hair on the string", 0.05,
    ),
    "hair": Effect(
        lambda rig: 100 * (rig.usable[1] - rig.usable[0]),
        "{:.1f} cm more for every long bow", "{:.1f} cm less for every long bow", 0.05,
    ),
    "comfort": Effect(
        lambda rig: 1000 * rig.instrument.comfort_force / GRAVITY,
        "the plan asks for up to {:.0f} g more", "the plan asks for {:.0f} g less at most", 1.0,
    ),
    "tilt": Effect(
        lambda rig: degrees(rig.tilt_habit),
        "every stroke is planned {:.0f}° more tilted", "every stroke is planned {:.0f}° flatter", 0.1,
    ),
    "moment": Effect(
        lambda rig: rig.torque_limit,
        "the plan asks for up to {:.2f} N m more of the hand", "the plan asks for {:.2f} N m less at most", 0.005,
    ),
}  # fmt: skip

_INSTRUMENT, _BOW, _HAND = Group.INSTRUMENT, Group.BOW, Group.HAND
MEASURES = (
    Measure("instrument.vibrating_cm", "Vibrating length", "cm", _INSTRUMENT,
            "From the nut to the bridge, along an open string.", 0.06, 0.5, "place"),
    Measure("instrument.gap_cm", "Bridge to fingerboard", "cm", _INSTRUMENT,
            "From the bridge to the end of the fingerboard, along the middle strings.", 0.15, 0.5, "lanes"),
    Measure("instrument.spacing_cm", "String spacing", "cm", _INSTRUMENT,
            "Between two neighbouring strings on the bridge.", 0.10, 0.05, "levels"),
    Measure("instrument.bridge_radius_cm", "Bridge radius", "cm", _INSTRUMENT,
            "Hold discs of card against the bridge's top until one fits.", 0.15, 0.2, "levels"),
    Measure("instrument.comfort_force_n", "Most weight you like", "N", _INSTRUMENT,
            "Press the bow on a kitchen scale as firmly as you would play for a while; 100 g are about 1 N.",
            0.40, 0.2, "comfort"),
    Measure("bow.mass_g", "Weight", "g", _BOW, "On a letter scale, hair loose.", 0.08, 5, "tip"),
    Measure("bow.centre_cm", "Balance point", "cm", _BOW,
            "Lay the stick over a finger until it balances; measure to the frog's ferrule.", 0.12, 1, "tip"),
    Measure("bow.hair_cm", "Hair", "cm", _BOW, "From the ferrule to the tip plate.", 0.05, 1, "bounce"),
    Measure("bow.stick_cm", "Stick", "cm", _BOW, "From the button to the head.", 0.05, 1, "bounce"),
    Measure("bow.pivot_cm", "Where the hold turns", "cm", _BOW,
            "From the ferrule back to the thumb; the bounce can tell it.", 0.60, 0.5, "bounce"),
    Measure("bow.tension_n", "Hair tension", "N", _BOW, "Not measured by hand: let the bounce tell it.", 0.25, 5,
            "bounce"),
    Measure("bow.ribbon_mm", "Ribbon", "mm", _BOW, "The hair's width at the ferrule.", 0.15, 0.5, "ribbon"),
    Measure("bow.clearance_mm", "Stick above hair", "mm", _BOW,
            "In the middle, tightened as you play; a pencil is about 7 mm.", 0.25, 1, "wood"),
    Measure("index_lever_cm", "Index lever", "cm", _HAND,
            "From the thumb to where the index finger meets the stick, along the stick.", 0.30, 0.5, "finger"),
    Measure("torque_limit_nm", "Comfortable moment", "N m", _HAND,
            "Hold the bow level by its frog with a coin of 10 g at the tip: about 0.065 N m more.",
            0.40, 0.05, "moment"),
    Measure("tilt_habit_deg", "Your tilt against others'", "°", _HAND,
            "0 for most; 5 to 10 if you play with the stick well over, below 0 if flatter.", 0.0, 5, "tilt"),
    Measure("usable_cm.0", "Hair begins for you at", "cm", _HAND, "The nearest place to the frog you play at.", 2.0, 1,
            "hair"),
    Measure("usable_cm.1", "Hair ends for you at", "cm", _HAND,
            "The furthest place that you reach with the bow square; see Reach.", 0.15, 1, "hair"),
)  # fmt: skip


def string_measures(rig: Rig) -> list[Measure]:
    """Return the measures of every string of a rig."""
    return [
        Measure(
            f"instrument.strings.{i}.tension_n", f"Tension of the {string.letter} string", "N", Group.STRINGS,
            "On the string's package, often in kg or lb: 1 kg is 9.8 N, 1 lb 4.4 N.", 0.15, 2,
            "weight" if i == _second(rig) else "place",
        )
        for i, string in enumerate(rig.instrument.strings)
    ]  # fmt: skip


def effect_of(measure: Measure, now: Rig, more: Rig) -> str:
    """Return what a little more of a number does, in words; empty where it does nothing worth telling.

    Args:
        measure: the number.
        now: the rig.
        more: the rig with ``measure.step`` more of it.
    """
    effect = EFFECTS[measure.effect]
    change = effect.figure(more) - effect.figure(now)
    if abs(change) < effect.least:
        return ""
    return f"{measure.step:g} {measure.unit} more: {(effect.more if change > 0 else effect.less).format(abs(change))}."
