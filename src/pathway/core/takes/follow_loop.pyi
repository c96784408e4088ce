from pathway.core.arrays import FloatArray, IntArray

def search(
    cost: FloatArray,
    silent: FloatArray,
    flux: FloatArray,
    key: IntArray,
    rest: IntArray,
    gone: IntArray,
    first: IntArray,
    bar: IntArray,
    jump: float,
    hold: float,
    skip_two: float,
    skip_three: float,
    pause_in: float,
    pause_out: float,
    onset: float,
    onset_base: float,
) -> tuple[FloatArray, FloatArray, IntArray, IntArray, IntArray, IntArray]: ...
