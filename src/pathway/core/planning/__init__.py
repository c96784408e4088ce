"""From the written part to a plan: segments → strings → hair path → tone → findings."""

from pathway.core.planning.plan import Plan
from pathway.core.planning.planner import glance, plan_part, replan, revisit
from pathway.core.planning.wishes import Lock, Passage, Settings, Style

__all__ = ["Lock", "Passage", "Plan", "Settings", "Style", "glance", "plan_part", "replan", "revisit"]
