"""The moment the hand gives the bow. It touches nothing but hand and string. SI units."""

from pathway.core.arrays import Floats
from pathway.core.rig.bow import Bow, Hold

GRAVITY = 9.81  # [m/s²]


def weight_moment(bow: Bow, gravity_share: float) -> float:
    """Return what gravity alone gives about the hold's pivot: g₁ m g (x_c + a) [N m]."""
    return gravity_share * bow.mass * GRAVITY * (bow.centre + bow.pivot)


def hand_torque(force: Floats, place: Floats, bow: Bow, gravity_share: Floats) -> Floats:
    """Return τ(x) = F (x + a) − g₁ m g (x_c + a) [N m].

    Positive: the index finger presses; negative: the little finger carries.

    Args:
        force: F at the string [N].
        place: x along the hair from the frog [m]; broadcasts with force.
        bow: the bow.
        gravity_share: g₁, share of the bow's weight that presses the string [1].
    """
    return force * (place + bow.pivot) - gravity_share * weight_moment(bow, 1.0)


def passive_weight(place: Floats, bow: Bow, gravity_share: Floats) -> Floats:
    """Return the force [N] the bow gives by itself at a place x [m]."""
    return gravity_share * weight_moment(bow, 1.0) / (place + bow.pivot)


def effortless_place(force: float, bow: Bow, gravity_share: float) -> float:
    """Return where the bow's own weight is just the wanted force: x [m], perhaps beyond the hair.

    Outward of it letting go is enough to lighten; nearer the hand the bow has to be carried.
    """
    return weight_moment(bow, gravity_share) / force - bow.pivot


def greatest_force(place: Floats, bow: Bow, gravity_share: Floats, torque: float) -> Floats:
    """Return the force [N] at a place x [m] at which the hand's moment reaches a limit [N m]."""
    return (torque + weight_moment(bow, 1.0) * gravity_share) / (place + bow.pivot)


def finger_force(torque: float, hold: Hold) -> float:
    """Return the force [N] of the finger that makes a moment: index if positive, little finger if not."""
    return abs(torque) / (hold.index_lever if torque >= 0 else hold.little_lever)
