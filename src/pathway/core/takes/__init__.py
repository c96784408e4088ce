"""What was played against what was planned: a recording is followed through the plan, measured, and told in few words.

Nothing is said that is not known. Newtons, sounding point, tilt, hair and direction cannot be heard, and no word is
said of them; the tone of very short notes and inside double stops cannot either.
"""

from pathway.core.takes.listening import Listened, listen
from pathway.core.takes.measures import MeasuredNote

__all__ = ["Listened", "MeasuredNote", "listen"]
