# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""Strokes one after the other on one hair, compiled: where can the bow still be?"""

import numpy as np


def without_room(
    const double[::1] least, const double[::1] most, const long long[::1] directions,
    const unsigned char[::1] free, const unsigned char[::1] returns, double low, double high,
):
    """Return at which of K strokes the bow has nowhere left to be, whatever the ones before did; then it begins anew.

    Args:
        least: hair that each takes [m].
        most: that it can take [m].
        directions: +1 towards the tip, −1 towards the frog.
        free: whether it can begin anywhere.
        returns: whether it ends where it began.
        low: usable hair [m].
        high: its other end [m].
    """
    cdef Py_ssize_t count = least.shape[0], k
    cdef double nearest = low, furthest = high
    found = np.zeros(count, dtype=bool)
    cdef unsigned char[::1] none_left = found.view(np.uint8)
    for k in range(count):
        if free[k]:
            nearest, furthest = low, high
        if returns[k]:
            continue
        if directions[k] > 0:
            nearest, furthest = nearest + least[k], min(furthest + most[k], high)
        else:
            nearest, furthest = max(nearest - most[k], low), furthest - least[k]
        if nearest > furthest:
            none_left[k] = True
            nearest, furthest = low, high
    return found
