# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The inner loop of the choice of strings, compiled: every note tries each string in each position of the hand."""

import numpy as np
from libc.math cimport INFINITY


def cheapest_hand(
    const double[:, :, ::1] costs, const double[:, :, ::1] cross, const long long[::1] inside,
    const double[::1] ease, const double[:, :, ::1] slide, double shift, double semitone,
):
    """Return string and position of every note on the cheapest way, shape (2, N); None if there is no way.

    Args:
        costs: of N notes, by string and position.
        cross: from string to string, of each kind of joint.
        inside: the kind of joint before every note.
        ease: factor on the shift before each note.
        slide: what it costs to come to each note from the one before on its string in its position.
        shift: what it costs to leave a position.
        semitone: and what each semitone of the way does.
    """
    cdef Py_ssize_t count = costs.shape[0], strings = costs.shape[1], positions = costs.shape[2], k, s, t, p, q
    cdef double cost, least, stays
    best_room, moved_room, reached_room = (np.empty((strings, positions)) for _ in range(3))
    cdef double[:, ::1] best = best_room, moved = moved_room, reached = reached_room
    cdef long long[:, ::1] origin = np.zeros((strings, positions), dtype=np.int64)
    cdef signed char[:, :, ::1] string = np.zeros((count, strings, positions), dtype=np.int8)
    cdef signed char[:, :, ::1] position = np.zeros((count, strings, positions), dtype=np.int8)
    found = np.zeros((2, count), dtype=np.int64)
    cdef long long[:, ::1] way = found
    best_room[...] = costs[0]
    for k in range(1, count):
        for s in range(strings):
            least, q = INFINITY, 0  # cheapest from below, then from above
            for p in range(positions):
                least += ease[k] * semitone
                moved[s, p], origin[s, p] = least + ease[k] * shift, q
                if best[s, p] < least:
                    least, q = best[s, p], p
            least, q = INFINITY, 0
            for p in range(positions - 1, -1, -1):
                least += ease[k] * semitone
                if least + ease[k] * shift < moved[s, p]:
                    moved[s, p], origin[s, p] = least + ease[k] * shift, q
                if best[s, p] < least:
                    least, q = best[s, p], p
        for t in range(strings):
            for p in range(positions):
                least = INFINITY
                for s in range(strings):
                    stays = best[s, p] + (slide[k, s, p] if s == t else 0.0)
                    cost = min(stays, moved[s, p]) + cross[inside[k], s, t]
                    if cost < least:
                        least, string[k, t, p] = cost, s
                        position[k, t, p] = p if stays <= moved[s, p] else origin[s, p]
                reached[t, p] = least + costs[k, t, p]
        best[...] = reached
    least = INFINITY
    for s in range(strings):
        for p in range(positions):
            if best[s, p] < least:
                least, way[0, count - 1], way[1, count - 1] = best[s, p], s, p
    if least == INFINITY:
        return None
    for k in range(count - 1, 0, -1):
        way[0, k - 1], way[1, k - 1] = string[k, way[0, k], way[1, k]], position[k, way[0, k], way[1, k]]
    return found
