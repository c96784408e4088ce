"""The command line: plan, sound, hear, check, drills, listen, today, rigs, strokes, schema, serve, bench.

What it prints is in `report`.
"""

import gc

from pathway.cli import planning, practising, things
from pathway.cli.shared import EXIT_FAULT, EXIT_REFUSED, app

gc.set_threshold(50_000, 20, 100)  # plans are many small values without cycles
__all__ = ["EXIT_FAULT", "EXIT_REFUSED", "app", "planning", "practising", "things"]
