"""What words hold from a place on, looked up by place: whatever layer of the staff is read, and in whatever order."""

from bisect import bisect_right
from fractions import Fraction
from typing import Generic, TypeVar

State = TypeVar("State")


class FromHere(Generic[State]):
    """A state that words change."""

    def __init__(self, value: State) -> None:
        self._places, self._states = [Fraction(-1)], [value]

    def say(self, place: Fraction, state: State) -> None:
        """Let a state hold from a place on [quarters]."""
        at = bisect_right(self._places, place)
        self._places.insert(at, place)
        self._states.insert(at, state)

    def at(self, place: Fraction) -> State:
        """Return what holds at a place [quarters]."""
        return self._states[bisect_right(self._places, place) - 1]

    def ever(self, state: State) -> bool:
        """Whether a state holds anywhere."""
        return state in self._states
