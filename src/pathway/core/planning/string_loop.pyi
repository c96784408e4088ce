from pathway.core.physics.string import FloatArray
from pathway.core.planning.path_problem import IntArray

def cheapest_hand(
    costs: FloatArray, cross: FloatArray, inside: IntArray, ease: FloatArray, shifts: FloatArray
) -> IntArray | None: ...
