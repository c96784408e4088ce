"""Where the bow goes: one cost, a search on a grid, and its refinement."""
