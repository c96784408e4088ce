"""The numbers of a rig as a player measures them: how, in which range they usually lie, and what a little more does."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from math import degrees, sin

from pathway.core.guide.speech import PLAIN, Speech
from pathway.core.physics.bounce import Bounce
from pathway.core.physics.hair import wood_force
from pathway.core.physics.lever import hand_torque
from pathway.core.physics.string import PLAIN_SPEED, SoundingString, force_window, plain_place
from pathway.core.rig.instrument import Rig


class RigGroup(StrEnum):
    """What of the rig a number belongs to."""

    INSTRUMENT = "Instrument and bridge"
    STRINGS = "Strings"
    ANGLES = "Direction of the stick, string by string"
    RING = "How long strings ring on"
    ANSWER = "How readily strings answer"
    BOW = "Bow"
    HAND = "Hold and hand"
    ONE_BOW = "Your staccato in one bow"


@dataclass(frozen=True, slots=True)
class RigMeasure:
    """One number of a rig."""

    field: str  # where the rig has it, by the names of its fields: "bow.mass"
    name: str
    unit: str
    group: RigGroup
    how: str
    usual: float  # share by which good ones differ from the typical value [1]
    step: float  # a little more, in the unit
    effect: str = ""  # key among the effects
    optional: bool = False  # may be unknown


@dataclass(frozen=True, slots=True)
class Effect:
    """A figure of the rig that a number moves."""

    figure: Callable[[Rig], float]
    tell: Callable[[Speech, float], object]  # an amount of it, as it is told
    more: str  # with a place for the amount
    less: str
    least: float  # a smaller change is none worth telling


def _in(unit: str, digits: int, per: float = 1.0) -> Callable[[Speech, float], str]:
    """Return how an amount is told that has one unit for all players, so many to the SI unit."""
    return lambda _, amount: f"{per * amount:.{digits}f}{unit}"


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


def _flight(rig: Rig) -> float:
    """Return how high sixteenths at 120 fly in the middle of the hair [m]."""
    return float(Bounce(rig.bow, 1.0).height(rig.bow.hair / 2, 8.0))


EFFECTS = {
    "tip": Effect(
        _tip_torque, _in(" N m", 3), "the tip needs {} more of the hand", "the tip needs {} less of the hand", 0.0005
    ),
    "finger": Effect(
        _finger, _in(" N", 1), "the index presses {} more at the tip", "the index presses {} less at the tip", 0.05
    ),
    "bounce": Effect(
        lambda rig: float(Bounce(rig.bow, 1.0).rate(rig.bow.hair / 2)), _in(" a second", 1),
        "the middle rebounds {} faster", "the middle rebounds {} slower", 0.02,
    ),
    "screw": Effect(
        _flight, _in(" mm", 1, 1000),
        "sixteenths at 120 fly {} higher in the middle", "sixteenths at 120 fly {} lower in the middle", 1e-5,
    ),
    "place": Effect(
        lambda rig: plain_place(rig.instrument, _second(rig)) * rig.instrument.length, _in(" mm", 1, 1000),
        "a plain mezzo-forte lies {} further out", "a plain mezzo-forte lies {} closer", 0.00003,
    ),
    "lanes": Effect(
        lambda rig: rig.instrument.gap, _in(" mm", 0, 1000),
        "the lanes reach {} further out", "the lanes reach {} less far out", 0.0005,
    ),
    "weight": Effect(
        _plain_force, lambda say, force: say.weight(force, 1),
        "a plain mezzo-forte takes {} more", "a plain mezzo-forte takes {} less", 0.001,
    ),
    "levels": Effect(
        lambda rig: degrees(rig.instrument.angle_step), _in("°", 1),
        "neighbouring strings lie {} further apart", "neighbouring strings lie {} closer together", 0.02,
    ),
    "wood": Effect(
        lambda rig: float(wood_force(rig.bow.hair / 2, 0.0, rig.bow)), lambda say, force: say.weight(force),
        "in the middle the stick touches {} later", "in the middle the stick touches {} sooner", 0.005,
    ),
    "ribbon": Effect(
        lambda rig: rig.bow.ribbon, _in(" mm", 1, 1000),
        "{} more hair on the string: high notes ask for more tilt", "{} less hair on the string", 0.00005,
    ),
    "hair": Effect(
        lambda rig: rig.usable[1] - rig.usable[0], lambda say, length: say.length(length, 1),
        "{} more for every long bow", "{} less for every long bow", 0.0005,
    ),
    "comfort": Effect(
        lambda rig: rig.instrument.comfort_force, lambda say, force: say.weight(force),
        "the plan asks for up to {} more", "the plan asks for {} less at most", 0.01,
    ),
    "tilt": Effect(
        lambda rig: degrees(rig.tilt_habit), _in("°", 0),
        "every stroke is planned {} more tilted", "every stroke is planned {} flatter", 0.1,
    ),
    "answer": Effect(
        lambda rig: sum(plain_place(rig.instrument, i) for i in range(len(rig.instrument.strings)))
        * rig.instrument.length, _in(" mm", 1, 1000),
        "a plain mezzo-forte on it lies {} further from the bridge",
        "a plain mezzo-forte on it lies {} nearer the bridge", 0.0001,
    ),
    "wander": Effect(
        lambda rig: _WHOLE_BOW * sin(abs(rig.instrument.aside(0) - rig.instrument.aside(1))), _in(" mm", 0, 1000),
        "carried over to its neighbour a whole bow wanders {} further",
        "carried over to its neighbour a whole bow wanders {} less", 0.0005,
    ),
    "moment": Effect(
        lambda rig: rig.torque_limit, _in(" N m", 2),
        "the plan asks for up to {} more of the hand", "the plan asks for {} less at most", 0.005,
    ),
}  # fmt: skip

ALSO = {"screw": ("bounce", "wood")}  # figures that a number moves beside its first one
_INSTRUMENT, _BOW, _HAND, _ONE = RigGroup.INSTRUMENT, RigGroup.BOW, RigGroup.HAND, RigGroup.ONE_BOW
_WHOLE_BOW = 0.6  # [m]
MEASURES = (
    RigMeasure("instrument.length", "Vibrating length", "cm", _INSTRUMENT,
            "From the nut to the bridge, along an open string.", 0.06, 0.5, "place"),
    RigMeasure("instrument.gap", "Bridge to fingerboard", "cm", _INSTRUMENT,
            "From the bridge to the end of the fingerboard, along the middle strings.", 0.15, 0.5, "lanes"),
    RigMeasure("instrument.spacing", "String spacing", "cm", _INSTRUMENT,
            "Between two neighbouring strings on the bridge.", 0.10, 0.05, "levels"),
    RigMeasure("instrument.bridge_radius", "Bridge radius", "cm", _INSTRUMENT,
            "Hold discs of card against the bridge's top until one fits.", 0.15, 0.2, "levels"),
    RigMeasure("instrument.comfort_force", "Most weight you like", "N", _INSTRUMENT,
            "Press the bow on a kitchen scale as firmly as you would play for a while; 100 g are about 1 N.",
            0.40, 0.2, "comfort"),
    RigMeasure("bow.mass", "Weight", "g", _BOW, "On a letter scale, hair loose.", 0.08, 5, "tip"),
    RigMeasure("bow.centre", "Balance point", "cm", _BOW,
            "Lay the stick over a finger until it balances; measure to the frog's ferrule.", 0.12, 1, "tip"),
    RigMeasure("bow.hair", "Hair", "cm", _BOW, "From the ferrule to the tip plate.", 0.05, 1, "bounce"),
    RigMeasure("bow.stick", "Stick", "cm", _BOW, "From the button to the head.", 0.05, 1, "bounce"),
    RigMeasure("bow.pivot", "Where the hold turns", "cm", _BOW,
            "From the ferrule back to the thumb; the bounce can tell it.", 0.60, 0.5, "bounce"),
    RigMeasure("bow.tension", "Hair tension", "N", _BOW, "Not measured by hand: let the bounce tell it.", 0.25, 5,
            "bounce"),
    RigMeasure("bow.ribbon", "Ribbon", "mm", _BOW, "The hair's width at the ferrule.", 0.15, 0.5, "ribbon"),
    RigMeasure("bow.clearance", "Stick above hair", "mm", _BOW,
            "In the middle, tightened as you play; a pencil is about 7 mm.", 0.25, 1, "wood"),
    RigMeasure("bow.turns", "Screw, tighter than usual", "turn", _BOW,
            "0 as you usually play; −1 a turn looser, 1 a turn tighter.", 0.0, 1, "screw"),
    RigMeasure("hold.index_lever", "Index lever", "cm", _HAND,
            "From the thumb to where the index finger meets the stick, along the stick.", 0.30, 0.5, "finger"),
    RigMeasure("torque_limit", "Comfortable moment", "N m", _HAND,
            "Hold the bow level by its frog with a coin of 10 g at the tip: about 0.065 N m more.",
            0.40, 0.05, "moment"),
    RigMeasure("tilt_habit", "Your tilt against others'", "°", _HAND,
            "0 for most; 5 to 10 if you play with the stick well over, below 0 if flatter.",
            0.0, 5, "tilt"),
    RigMeasure("usable.first", "Hair begins for you at", "cm", _HAND,
            "The nearest place to the frog you play at.", 2.0, 1, "hair"),
    RigMeasure("usable.last", "Hair ends for you at", "cm", _HAND,
            "The furthest place that you reach with the bow square; see Reach.", 0.15, 1, "hair"),
    *(
        RigMeasure(f"staccato_{way}.{field}", f"{name}, {way}-bow", unit, _ONE, how, 0.0, step, optional=True)
        for way in ("down", "up")
        for field, name, unit, how, step in (
            ("rate", "Runs by itself at", "a second",
             "Let it run on an open string and count; empty if you do not know.", 0.5),
            ("from", "Reliable from", "cm", "From the ferrule to the place nearest the frog where it holds.", 1),
            ("to", "Reliable to", "cm", "And the one nearest the tip.", 1),
        )
    ),
)  # fmt: skip


def string_measures(rig: Rig) -> list[RigMeasure]:
    """Return the measures of every string of a rig."""
    return [*_tensions(rig), *_angles(rig), *_rings(rig), *_answers(rig)]


def _answers(rig: Rig) -> list[RigMeasure]:
    return [
        RigMeasure(
            f"instrument.strings.{i}.answer", f"The {string.letter} string", "dB", RigGroup.ANSWER,
            "Louder than the others with the same bow; a take tells it, string against string.", 0.0, 1, "answer",
        )
        for i, string in enumerate(rig.instrument.strings)
    ]  # fmt: skip


def _angles(rig: Rig) -> list[RigMeasure]:
    towards = "the hand drawn back" if rig.instrument.held_down else "the hand drawn in, towards you"
    return [
        RigMeasure(
            f"instrument.strings.{i}.aside", f"Stick on the {string.letter} string", "°", RigGroup.ANGLES,
            f"Seen from above, against square to the middle of the strings; positive: {towards}.", 0.0, 1, "wander",
        )
        for i, string in enumerate(rig.instrument.strings)
    ]  # fmt: skip


def _rings(rig: Rig) -> list[RigMeasure]:
    return [
        RigMeasure(
            f"instrument.strings.{i}.ring", f"The open {string.letter} string", "s", RigGroup.RING,
            "From a lifted bow until it is hardly heard (20 dB less).", 0.40, 0.1, "",
        )
        for i, string in enumerate(rig.instrument.strings)
    ]  # fmt: skip


def _tensions(rig: Rig) -> list[RigMeasure]:
    return [
        RigMeasure(
            f"instrument.strings.{i}.tension", f"Tension of the {string.letter} string", "N", RigGroup.STRINGS,
            "On the string's package, often in kg or lb: 1 kg is 9.8 N, 1 lb 4.4 N.", 0.15, 2,
            "weight" if i == _second(rig) else "place",
        )
        for i, string in enumerate(rig.instrument.strings)
    ]  # fmt: skip


def effect_of(measure: RigMeasure, now: Rig, more: Rig, say: Speech = PLAIN) -> str:
    """Return what a little more of a number does, in words; empty where it does nothing worth telling.

    Args:
        measure: the number.
        now: the rig.
        more: the rig with ``measure.step`` more of it.
        say: how the player is told lengths and weights.
    """
    keys = (measure.effect, *ALSO.get(measure.effect, ())) if measure.effect else ()
    told = "; ".join(part for key in keys if (part := _change(EFFECTS[key], now, more, say)))
    step = f"{say.shown(measure.step, measure.unit):.2g} {say.unit(measure.unit)}"
    return f"{step} more: {told}." if told else ""


def _change(effect: Effect, now: Rig, more: Rig, say: Speech) -> str:
    """Return what becomes of a figure, in words; empty where it is nothing worth telling."""
    change = effect.figure(more) - effect.figure(now)
    if abs(change) < effect.least:
        return ""
    return (effect.more if change > 0 else effect.less).format(effect.tell(say, abs(change)))
