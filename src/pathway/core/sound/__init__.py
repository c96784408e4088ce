"""The plan made audible: every planned note bowed on a simulated string, through a body and a room.

What is heard is the plan with a competent hand: it sets each start with the weight that its acceleration asks for, and
listens on notes that are planned as a clear tone. Notes planned airy or pressed get no help.
"""

from pathway.core.sound.click import with_click
from pathway.core.sound.curves import RATE, Curves, SoundedNote
from pathway.core.sound.gestures import gestures_of
from pathway.core.sound.held import held
from pathway.core.sound.plain import plain_tones
from pathway.core.sound.playable import Playable, playable
from pathway.core.sound.render import Manner, Sound, render
from pathway.core.sound.slips import heard_in
from pathway.core.sound.starts import StartWeight, start_of
from pathway.core.sound.strings import SAMPLES, Bowed

__all__ = [
    "RATE", "SAMPLES", "Bowed", "Curves", "Manner", "Playable", "Sound", "SoundedNote", "StartWeight", "gestures_of",
    "heard_in", "held", "plain_tones", "playable", "render", "start_of", "with_click",
]  # fmt: skip
