"""The desk on which open pieces lie: read, engraved, planned, edited and helped; no page in it."""

from pathway.desk.changes import (
    Anew,
    AtTempo,
    BarsTaken,
    ByHand,
    Chosen,
    HelpTaken,
    OnRig,
    PlanChange,
    Relieved,
    Tuned,
    VariantTaken,
)
from pathway.desk.desk import NARROW, WIDE, Desk, Edited
from pathway.desk.helps import HANDS, Help, Tried
from pathway.desk.open_piece import OpenPiece

__all__ = [
    "HANDS",
    "NARROW",
    "WIDE",
    "Anew",
    "AtTempo",
    "BarsTaken",
    "ByHand",
    "Chosen",
    "Desk",
    "Edited",
    "Help",
    "HelpTaken",
    "OnRig",
    "OpenPiece",
    "PlanChange",
    "Relieved",
    "Tried",
    "Tuned",
    "VariantTaken",
]  # fmt: skip
