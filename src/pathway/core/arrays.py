"""The types of arrays that flow through the core."""

import numpy as np
from numpy.typing import NDArray

IntArray = NDArray[np.int64]
BoolArray = NDArray[np.bool_]
FloatArray = NDArray[np.float64]
Floats = float | FloatArray  # one value or many; results have the broadcast shape
