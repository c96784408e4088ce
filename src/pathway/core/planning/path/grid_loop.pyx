# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The inner loop of the grid search, compiled: exact over direction, end and length of every stroke.

Places count from the frog; on way 0 they grow along a stroke, on way 1 they fall. Lengths count steps, less one. Links
are numbered as ``Link`` has them. A state is a way, an end and a length, so that the evenness of neighbours is known.
"""

import numpy as np
from libc.math cimport INFINITY

cdef enum:
    FIRST, CHANGE, HOOK, RETAKE


def cheapest(
    const double[:, ::1] by_length, const double[:, ::1] by_middle, const double[:, ::1] by_way,
    const double[:, ::1] by_ahead, const double[:, ::1] direction, const double[::1] change, const double[::1] hook,
    const double[:, :, ::1] by_start, const long long[::1] shift, const double[::1] speeding, const double[::1] slowing, const double[:, ::1] log_speed,
    const double[::1] wanted_step, const long long[::1] most, const signed char[::1] returns,
    const long long[::1] start, const long long[::1] end,
):
    """Return way, start, end and link of every stroke on the cheapest path; or the stroke that has no way.

    A stroke that returns is left at its start, the other way round than it began.
    """
    cdef Py_ssize_t count = by_length.shape[0], places = by_way.shape[1], longest = by_length.shape[1]
    cdef Py_ssize_t k, w, e, l, s, reach
    cdef double cost, least
    shape = (2, places, longest)
    cdef double[:, :, ::1] best = np.full(shape, INFINITY), before = np.full(shape, INFINITY)
    cdef double[:, :, ::1] opened = np.zeros(shape), left = np.zeros(shape)
    cdef double[:, ::1] even = np.zeros((longest, longest)), ended = np.zeros((places, longest))
    cdef double[::1] retake = np.zeros(longest)
    cdef short[:, :, :, ::1] source = np.zeros((count, *shape), dtype=np.int16)  # length of the stroke before
    cdef char[:, :, :, ::1] link = np.zeros((count, *shape), dtype=np.int8)  # by way, start and length before
    cdef short[:, :, ::1] lifted = np.zeros((count, places, longest), dtype=np.int16)  # its end, then its way
    cdef bint matters
    for k in range(count):
        matters = k > 0 and (speeding[k] > 0 or slowing[k] > 0)
        if k and returns[k - 1]:
            turn_round(before, most[k - 1], left)
            before, left = left, before
        if k:
            open_states(before, most[k - 1], by_way[k], change[k], hook[k], shift[k], opened, link[k], lifted[k], ended, retake)
        if matters:
            weigh(even, most[k - 1], most[k], log_speed[k - 1], log_speed[k], wanted_step[k], speeding[k], slowing[k])
        least = INFINITY
        for w in range(2):
            for e in range(places):
                reach = min(e if w == 0 else places - 1 - e, most[k])
                for l in range(most[k]):
                    best[w, e, l] = INFINITY
                if end[k] >= 0 and end[k] != e:
                    continue
                for l in range(reach):
                    s = e - l - 1 if w == 0 else e + l + 1
                    if start[k] >= 0 and start[k] != s:
                        continue
                    cost = 0.0
                    if k:
                        cost = join(opened[w, s], even[l], most[k - 1], matters, &source[k, w, e, l])
                    cost += by_length[k, l] + by_middle[k, s + e] + by_start[k, w, s]
                    cost += direction[k, w] + by_ahead[k, places - 1 - e if w == 0 else e]
                    best[w, e, l] = cost
                    least = min(least, cost)
        if least == INFINITY:
            return k
        best, before = before, best
    return trace(before, most, shift, returns, source, link, lifted)


cdef void turn_round(double[:, :, ::1] before, Py_ssize_t most, double[:, :, ::1] left) noexcept:
    """Tell the states of a stroke that returns by where and how it is left."""
    cdef Py_ssize_t places = before.shape[1], p, l
    for p in range(places):
        for l in range(most):
            left[0, p, l] = before[1, p - l - 1, l] if p > l else INFINITY
            left[1, p, l] = before[0, p + l + 1, l] if p + l + 1 < places else INFINITY


cdef void open_states(
    double[:, :, ::1] before, Py_ssize_t most, const double[::1] by_way, double change, double hook, Py_ssize_t shift,
    double[:, :, ::1] opened, char[:, :, ::1] link, short[:, ::1] lifted, double[:, ::1] ended, double[::1] retake,
) noexcept:
    """Find the cheapest link from any end of the stroke before, of each length, to each start in each direction.

    A retake may come from any end: lengths run innermost, so that they lie beside each other in memory.
    """
    cdef Py_ssize_t places = before.shape[1], s, end, w, l, there
    cdef double cost, carried
    for end in range(places):
        for l in range(most):
            ended[end, l] = min(before[0, end, l], before[1, end, l])
    for s in range(places):
        there = s - shift
        if 0 <= there < places:
            for w in range(2):
                for l in range(most):
                    opened[w, s, l], link[w, s, l] = before[1 - w, there, l] + change, CHANGE
                    cost = before[w, there, l] + hook
                    if cost < opened[w, s, l]:
                        opened[w, s, l], link[w, s, l] = cost, HOOK
        else:
            for w in range(2):
                for l in range(most):
                    opened[w, s, l], link[w, s, l] = INFINITY, CHANGE
        for l in range(most):
            retake[l] = INFINITY
        for end in range(places):
            carried = by_way[s - end if s > end else end - s]
            for l in range(most):
                cost = ended[end, l] + carried
                if cost < retake[l]:
                    retake[l], lifted[s, l] = cost, end
        for l in range(most):
            lifted[s, l] = 2 * lifted[s, l] + (before[1, lifted[s, l], l] < before[0, lifted[s, l], l])
            for w in range(2):
                if retake[l] < opened[w, s, l]:
                    opened[w, s, l], link[w, s, l] = retake[l], RETAKE


cdef void weigh(
    double[:, ::1] even, Py_ssize_t most_before, Py_ssize_t most, const double[::1] speed_before,
    const double[::1] speed, double wanted, double speeding, double slowing,
) noexcept:
    """Set the cost of unevenness by length of a stroke and of the one before it."""
    cdef Py_ssize_t l, p
    cdef double off
    for l in range(most):
        for p in range(most_before):
            off = speed[l] - wanted - speed_before[p]
            even[l, p] = (speeding if off > 0 else slowing) * off * off


cdef double join(
    double[::1] opened, double[::1] even, Py_ssize_t most, bint matters, short* source
) noexcept:
    """Return the least cost of coming to a start, and which length of the stroke before has it."""
    cdef Py_ssize_t p
    cdef double least = INFINITY, cost
    for p in range(most):
        cost = opened[p] + even[p] if matters else opened[p]
        if cost < least:
            least = cost
            source[0] = p
    return least


cdef trace(
    double[:, :, ::1] best, const long long[::1] most, const long long[::1] shift, const signed char[::1] returns,
    short[:, :, :, ::1] source, char[:, :, :, ::1] link, short[:, :, ::1] lifted,
):
    """Follow the cheapest path from its last stroke back."""
    cdef Py_ssize_t count = source.shape[0], places = best.shape[1], k, w = 0, e = 0, l = 0, s, i, j, n
    found = np.zeros((4, count), dtype=np.int64)
    cdef long long[:, ::1] rows = found
    cdef double least = INFINITY
    for i in range(2):
        for j in range(places):
            for n in range(most[count - 1]):
                if best[i, j, n] < least:
                    least, w, e, l = best[i, j, n], i, j, n
    for k in range(count - 1, -1, -1):
        s = e - l - 1 if w == 0 else e + l + 1
        rows[0, k], rows[1, k], rows[2, k] = w, s, e
        if k == 0:
            break
        l = source[k, w, e, l]
        rows[3, k] = link[k, w, s, l]
        e = s - shift[k]
        if rows[3, k] == CHANGE:
            w = 1 - w
        elif rows[3, k] == RETAKE:
            e, w = lifted[k, s, l] // 2, lifted[k, s, l] % 2
        if returns[k - 1]:
            w = 1 - w
            e = e + l + 1 if w == 0 else e - l - 1
    return found
