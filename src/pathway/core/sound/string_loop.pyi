from pathway.core.arrays import FloatArray

def bow_string(
    speed: FloatArray,
    force: FloatArray,
    pull: FloatArray,
    beta: FloatArray,
    period: FloatArray,
    nut: FloatArray,
    listens: FloatArray,
    hiss: FloatArray,
    hop: int,
    impedance: float,
    resistance: float,
    rounding: float,
    seed: int,
    out: FloatArray,
    slips: FloatArray,
    motion: FloatArray,
) -> int: ...
