"""The types of arrays that flow through the core."""

from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

IntArray = NDArray[np.int64]
BoolArray = NDArray[np.bool_]
FloatArray = NDArray[np.float64]
Bools: TypeAlias = bool | BoolArray
Ints: TypeAlias = int | IntArray
Floats: TypeAlias = float | FloatArray  # one value or many; results have the broadcast shape
