from numpy import uint8
from numpy.typing import NDArray

from pathway.core.arrays import BoolArray, FloatArray, IntArray

def without_room(
    least: FloatArray,
    most: FloatArray,
    directions: IntArray,
    free: NDArray[uint8],
    returns: NDArray[uint8],
    low: float,
    high: float,
) -> BoolArray: ...
