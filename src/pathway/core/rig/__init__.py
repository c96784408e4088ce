"""What the player holds: instrument, bow and hand."""

from pathway.core.rig.bow import Bow, Hold
from pathway.core.rig.instrument import Instrument, OpenString, Rig
from pathway.core.rig.presets import PRESETS, preset

__all__ = ["PRESETS", "Bow", "Hold", "Instrument", "OpenString", "Rig", "preset"]
