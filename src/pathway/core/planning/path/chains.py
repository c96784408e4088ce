"""Whether strokes still fit on the hair one after the other, in the directions that a path gives them."""

import numpy as np

from pathway.core.arrays import BoolArray
from pathway.core.planning.path.chain_loop import without_room
from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.strokes.fitting import STARVED


def starving(problem: PathProblem, path: Path, faster: float = 1.0) -> BoolArray:
    """Return at which strokes the bow has nowhere left to be at half their slowest speed; shape (K,).

    Args:
        problem: of K strokes.
        path: its directions and links count.
        faster: than the problem says, so many times.
    """
    return without_room(
        STARVED * problem.slowest * problem.each / faster,
        problem.fastest * problem.each / faster,
        path.directions,
        (~path.joined).view(np.uint8),
        problem.returns.view(np.uint8),
        problem.low,
        problem.high,
    )
