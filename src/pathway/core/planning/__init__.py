"""From the written part to a plan: segments → strings → hair path → tone → findings.

Others use what is named here and the modules beside it; how a plan is made (``strokes``, ``path``, ``notes``,
``findings``) is this package's own.
"""

from pathway.core.planning.findings.catalogue import CATALOGUE, WorkedOn
from pathway.core.planning.findings.contrast import Contrast, contrasts
from pathway.core.planning.notes.ringing import ring_of, rings_of
from pathway.core.planning.notes.two_strings import TwoStrings, single_band
from pathway.core.planning.path.problem import Path
from pathway.core.planning.plan import Plan
from pathway.core.planning.planner import glance, plan_part, replan, revisit
from pathway.core.planning.strokes.compass import LeftOut
from pathway.core.planning.strokes.timing import checked_tempo, clock_of, tempo_marks
from pathway.core.planning.wishes import Lock, Passage, Settings, Style

__all__ = [
    "CATALOGUE", "Contrast", "LeftOut", "Lock", "Passage", "Path", "Plan", "Settings", "Style", "TwoStrings",
    "WorkedOn", "checked_tempo", "clock_of", "contrasts", "glance", "plan_part", "replan", "revisit", "ring_of",
    "rings_of", "single_band", "tempo_marks",
]  # fmt: skip
