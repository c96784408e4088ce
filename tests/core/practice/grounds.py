"""Plans and drills that the tests of practice share."""

import re
from functools import cache

from pathway.core.planning import Plan, plan_part
from pathway.core.practice.drill import DrillAsk, Stage
from pathway.core.practice.making import Opened, opened
from pathway.core.rig import PRESETS
from tests.helpers import part_of

TUNE = (
    "[mf] (d4:2 e4:4 f#4) | a4:8 b4 a4 g4 (f#4:4 e4) | d4:4d e4:8 f#4:4d g4:8 | (a4:4 f#4) d5:2 | "
    "[p] d5:4. b4. g4. b4. | (a4:1~ | a4:2) r:2"
)
LOW_TUNE = re.sub(r"([a-g]#?)(\d)", lambda note: f"{note[1]}{int(note[2]) - 1}", TUNE)  # an octave lower


@cache
def tune_on(rig: str) -> Plan:
    """Return the plan of a small tune on a rig, in a register that it has."""
    low = PRESETS[rig].instrument.strings[0].midi < 45
    head = "cello" if low else "viola" if rig == "viola" else "violin"
    text = LOW_TUNE if low else TUNE
    return plan_part(part_of(text, head), PRESETS[rig])


def place(plan: Plan) -> tuple[str, str]:
    """Return the first and last note of a place in the middle."""
    ids = [note.id for note in plan.bowed]
    return ids[len(ids) // 3], ids[len(ids) // 3 + 3]


def drill(family: str, member: str = "", stage: Stage = Stage.BARS, rig: str = "violin", kind: str = "") -> Opened:
    """Return a drill on a rig, from the tune where its stage asks for one."""
    plan = tune_on(rig)
    first, last = place(plan)
    return opened(DrillAsk(family, member, stage, first, last, kind), plan.rig, plan)
