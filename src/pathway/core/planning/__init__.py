"""From the written part to a plan: segments → strings → hair path → tone → findings."""

from pathway.core.planning.draft import Settings, Style
from pathway.core.planning.plan import Lock, Plan
from pathway.core.planning.planner import plan_part, replan, revisit

__all__ = ["Lock", "Plan", "Settings", "Style", "plan_part", "replan", "revisit"]
