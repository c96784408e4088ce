import numpy as np
from numpy.typing import NDArray

from pathway.core.arrays import FloatArray, IntArray

def cheapest(
    by_length: FloatArray,
    by_middle: FloatArray,
    by_way: FloatArray,
    by_ahead: FloatArray,
    direction: FloatArray,
    change: FloatArray,
    hook: FloatArray,
    by_start: FloatArray,
    shift: IntArray,
    speeding: FloatArray,
    slowing: FloatArray,
    log_speed: FloatArray,
    wanted_step: FloatArray,
    most: IntArray,
    returns: NDArray[np.int8],
    start: IntArray,
    end: IntArray,
) -> IntArray | int: ...
