from pathway.core.arrays import FloatArray, IntArray

def cheapest_hand(
    costs: FloatArray,
    cross: FloatArray,
    inside: IntArray,
    ease: FloatArray,
    slide: FloatArray,
    shift: float,
    semitone: float,
) -> IntArray | None: ...
