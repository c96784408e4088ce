"""The ways in which a stroke ends."""

from enum import StrEnum


class Exit(StrEnum):
    """How a stroke ends."""

    JOINED = "joined"
    STOPPED = "stopped"
    RINGING = "ringing"
    LIFTED = "lifted"

    @property
    def silence(self) -> float:
        """Return the least share of the last note that it takes [1]; our choice."""
        return {Exit.JOINED: 0.0, Exit.STOPPED: 0.15, Exit.RINGING: 0.08, Exit.LIFTED: 0.20}[self]
