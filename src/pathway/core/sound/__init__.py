"""The plan made audible: every planned note bowed on a simulated string, through a body and a room.

What is heard is the plan with a competent hand: it sets each start with the weight that its acceleration asks for, and
listens on notes that are planned as a clear tone. Notes planned airy or pressed get no help.
"""

from pathway.core.sound.curves import RATE, Curves, SoundedNote
from pathway.core.sound.gestures import gestures_of
from pathway.core.sound.playable import Playable, playable
from pathway.core.sound.render import Manner, Sound, render

__all__ = ["RATE", "Curves", "Manner", "Playable", "Sound", "SoundedNote", "gestures_of", "playable", "render"]
