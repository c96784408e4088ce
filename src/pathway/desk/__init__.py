"""The desk on which open pieces lie: read, engraved, planned, edited and helped; no page in it."""

from pathway.desk.desk import NARROW, WIDE, Desk, Edited, OpenPiece
from pathway.desk.helps import Help, Tried

__all__ = ["NARROW", "WIDE", "Desk", "Edited", "Help", "OpenPiece", "Tried"]
