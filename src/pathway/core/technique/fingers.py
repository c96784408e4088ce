"""Which finger of the left hand reaches what: the shapes of the hand, closed, stretched and with the thumb."""

from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import product

from pathway.core.rig.instrument import THUMB_FROM, Instrument

OPEN, THUMB = 0, 5  # beside the fingers 1 to 4: none, on an open string or a harmonic; the thumb on the string
NAMES = {OPEN: "0", 1: "1", 2: "2", 3: "3", 4: "4", THUMB: "T"}
_THUMBS = {"t", "♀", "+", "ϙ", "ǫ", "thumb", "pouce", "daumen", "pollice"}  # as it is printed
STRETCHED = 0.15  # what a stretched finger costs, as strings and shifts are counted; our estimate
THUMB_EARLY = 5  # semitones below the end of the neck from which a thumb may be set
_TENTH = 9

# semitones above the first finger that each finger reaches: at ease, and stretched
_Shape = Mapping[int, tuple[Sequence[int], Sequence[int]]]
_WIDE: _Shape = {1: ((0, -1), ()), 2: ((1, 2), ()), 3: ((3, 4), (2,)), 4: ((5,), (4, 6))}
_FOURTH: _Shape = {1: ((0, -1), ()), 2: ((1, 2), ()), 3: ((3,), (2, 4)), 4: ((4, 5), (6,))}  # of low ones, higher up
_CLOSED: _Shape = {1: ((0,), (-1,)), 2: ((1,), (2,)), 3: ((2,), (1, 3)), 4: ((3,), (4,))}
_NARROW: _Shape = {1: ((0,), ()), 2: ((1,), ()), 3: ((), (1, 2)), 4: ((2,), (3,))}  # the third joins the fourth
_WITH_THUMB: _Shape = {
    THUMB: ((0,), ()), 1: ((1, 2), ()), 2: ((3, 4), (2,)), 3: ((5,), (4, 6)), 4: ((7,), (6, 8)),
}  # fmt: skip
_BY_FRAME = ((2, _NARROW), (4, _CLOSED))  # widest frame [semitones] of a shape


def finger_named(text: str) -> int | None:
    """Return the finger that a printed sign names, None where it names none."""
    said = text.strip().lower()
    if said in _THUMBS:
        return THUMB
    return int(said) if len(said) == 1 and said in "01234" else None


@lru_cache(maxsize=4096)
def reaching(instrument: Instrument, position: int, above: int) -> dict[int, float]:
    """Return what each finger that reaches a place costs; none of them where the hand does not reach it.

    Args:
        instrument: by its length and how it is held.
        position: of the first finger, or of the thumb, above the open string [semitones].
        above: the place, likewise.
    """
    found: dict[int, float] = {}
    for shape, price in _shapes(instrument, position):
        for finger, (at_ease, stretched) in shape.items():
            offset = above - position
            if offset in at_ease:
                found[finger] = min(found.get(finger, price), price)
            elif offset in stretched:
                found[finger] = min(found.get(finger, _TENTH), price + STRETCHED)
    return found


def _shapes(instrument: Instrument, position: int) -> list[tuple[_Shape, float]]:
    """Return the shapes that a hand has in a position, with what each costs."""
    if not instrument.held_down:
        return [(_WIDE, 0.0)]
    if position >= THUMB_FROM:
        return [(_WITH_THUMB, 0.0), (_FOURTH, STRETCHED)]
    frame = instrument.frame(position)
    hand = next((shape for widest, shape in _BY_FRAME if frame <= widest), _FOURTH)
    return [(hand, 0.0), (_WITH_THUMB, 2 * STRETCHED)] if position >= THUMB_FROM - THUMB_EARLY else [(hand, 0.0)]


def fingers_for(
    instrument: Instrument, position: int, touches: Sequence[tuple[int, int]], printed: Sequence[int | None]
) -> tuple[int | None, ...]:
    """Return the fingers that hold some notes together: those that are printed where they can be, else the easiest.

    Args:
        instrument: by its length and how it is held.
        position: of the hand.
        touches: semitones above its open string and loops of every note, from the top.
        printed: the finger that is asked for of each.
    """
    choices: list[Mapping[int | None, float]] = []
    for above, _ in touches:
        reached: dict[int | None, float] = dict(reaching(instrument, position, above).items())
        choices.append({OPEN: 0.0} if above == 0 else reached or {None: 0.0})

    def cost(hand: tuple[int | None, ...]) -> float:
        places: dict[int, int] = {}
        paid = sum(choice[finger] for choice, finger in zip(choices, hand, strict=True))
        paid += sum(finger != asked for finger, asked in zip(hand, printed, strict=True) if asked is not None) * _TENTH
        for finger, (above, _) in zip(hand, touches, strict=True):
            if finger and places.setdefault(finger, above) != above:  # one finger holds one place, on two strings too
                paid += _TENTH
        return paid

    return min(product(*choices), key=cost)
