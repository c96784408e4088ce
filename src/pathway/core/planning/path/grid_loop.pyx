# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""The inner loop of the grid search, compiled: exact over direction, end and length of every stroke.

Places count from the frog; on way 0 they grow along a stroke, on way 1 they fall. Lengths count steps, less one. Links
are numbered as ``Link`` has them. A state is a way, a length and an end, so that the evenness of neighbours is known.
Places run innermost, so that many go through the same sums side by side. Only what the states cost is kept: how they
were come to is worked out again for the one state of each stroke that lies on the cheapest path.
"""

import numpy as np
from libc.math cimport INFINITY

cdef enum:
    CHANGE = 1
    HOOK = 2
    RETAKE = 3


def cheapest(
    const double[:, ::1] by_length, const double[:, ::1] by_middle, const double[:, ::1] by_way,
    const double[:, ::1] by_ahead, const double[:, ::1] direction, const double[::1] change, const double[::1] hook,
    const double[:, :, ::1] by_start, const long long[::1] shift, const double[::1] speeding, const double[::1] slowing,
    const double[:, ::1] log_speed, const double[::1] wanted_step, const long long[::1] most,
    const signed char[::1] returns, const long long[::1] start, const long long[::1] end,
):
    """Return way, start, end and link of every stroke on the cheapest path; or the stroke that has no way.

    A stroke that returns is left at its start, the other way round than it began.
    """
    cdef Py_ssize_t count = by_length.shape[0], places = by_way.shape[1], longest = by_length.shape[1]
    cdef Py_ssize_t k, w, l, s, e, first, last
    cdef double least, step, of_length, of_way
    states = np.append(0, 2 * places * np.cumsum(most))
    cdef const long long[::1] at = states
    kept = np.empty(states[-1])
    cdef double[::1] costs = kept
    cdef double[:, :, ::1] opened = np.empty((2, longest, places)), left = np.empty((2, longest, places))
    cdef double[:, ::1] even = np.zeros((longest, longest)), joined_ = np.zeros((longest, places))
    cdef double[:, ::1] scratch = np.empty((4, places))
    cdef double *row
    cdef const double *before
    cdef double *joined
    for k in range(count):
        if k:
            before = left_behind(&costs[at[k - 1]], most[k - 1], places, returns[k - 1], &left[0, 0, 0])
            open_states(before, most[k - 1], by_way[k], change[k], hook[k], shift[k], opened, scratch)
            weigh(even, most[k - 1], most[k], log_speed[k - 1], log_speed[k], wanted_step[k], speeding[k], slowing[k])
        least = INFINITY
        for w in range(2):
            for l in range(most[k]):
                row, joined = &costs[at[k] + (w * most[k] + l) * places], &joined_[l, 0]
                first, last = w * (l + 1), places - (1 - w) * (l + 1)
                if k:
                    join(opened, w, even, l, most[k - 1], first, last, joined)
                for e in range(places):
                    row[e] = INFINITY
                of_length, of_way = by_length[k, l], direction[k, w]
                for s in range(first, last):
                    e = s + l + 1 if w == 0 else s - l - 1
                    step = joined[s] + (of_length + by_middle[k, s + e] + by_start[k, w, s])
                    step += of_way + by_ahead[k, places - 1 - e if w == 0 else e]
                    row[e] = step
                if start[k] >= 0 or end[k] >= 0:
                    for s in range(first, last):
                        e = s + l + 1 if w == 0 else s - l - 1
                        if (start[k] >= 0 and start[k] != s) or (end[k] >= 0 and end[k] != e):
                            row[e] = INFINITY
                for e in range(places):
                    least = row[e] if row[e] < least else least
        if least == INFINITY:
            return k
    return trace(
        kept, states, by_way, change, hook, shift, speeding, slowing, log_speed, wanted_step, most, returns, left
    )


cdef const double* left_behind(
    const double* before, Py_ssize_t most, Py_ssize_t places, bint returns, double* left
) noexcept:
    """Return the states of a stroke by how it is left: of one that returns, by where it began."""
    cdef Py_ssize_t l, p
    if not returns:
        return before
    for l in range(most):
        for p in range(places):
            left[l * places + p] = before[(most + l) * places + p - l - 1] if p > l else INFINITY
            left[(most + l) * places + p] = before[l * places + p + l + 1] if p + l + 1 < places else INFINITY
    return left


cdef void open_states(
    const double* before, Py_ssize_t most, const double[::1] by_way, double change, double hook, Py_ssize_t shift,
    double[:, :, ::1] opened, double[:, ::1] scratch,
) noexcept:
    """Find the least cost to be at each start, to go each way, after a stroke of each length."""
    cdef Py_ssize_t places = by_way.shape[0], l, w, s, e
    cdef double turned, kept
    cdef double *row
    cdef double *ended = &scratch[0, 0]
    cdef double *lifted = &scratch[1, 0]
    cdef double *ways = &scratch[2, 0]  # the cost of a retake by its steps, from the farthest back to the farthest on
    cdef const double *same
    cdef const double *other
    for e in range(places):
        ways[places - 1 + e], ways[places - 1 - e] = by_way[e], by_way[e]
    for l in range(most):
        same, other = before + l * places, before + (most + l) * places
        for e in range(places):
            ended[e] = same[e] if same[e] < other[e] else other[e]
        carry(ended, ways, places, lifted)
        for w in range(2):
            row = &opened[w, l, 0]
            for s in range(places):
                row[s] = lifted[s]
            for s in range(max(shift, 0), min(places, places + shift)):
                turned, kept = other[s - shift] + change, same[s - shift] + hook
                turned = kept if kept < turned else turned
                row[s] = turned if turned < row[s] else row[s]
            same, other = other, same


cdef void carry(const double* ended, const double* by_way, Py_ssize_t places, double* lifted) noexcept:
    """Set the least cost of a retake to each start, out of any end."""
    cdef Py_ssize_t s, e
    cdef double cost, from_here
    cdef const double *there
    for s in range(places):
        lifted[s] = INFINITY
    for e in range(places):
        if ended[e] == INFINITY:
            continue
        from_here, there = ended[e], by_way + places - 1 - e
        for s in range(places):
            cost = from_here + there[s]
            lifted[s] = cost if cost < lifted[s] else lifted[s]


cdef void weigh(
    double[:, ::1] even, Py_ssize_t most_before, Py_ssize_t most, const double[::1] speed_before,
    const double[::1] speed, double wanted, double speeding, double slowing,
) noexcept:
    """Set the cost of unevenness by length of a stroke and of the one before it."""
    cdef Py_ssize_t l, p
    for l in range(most):
        for p in range(most_before):
            even[l, p] = uneven(speed[l] - wanted - speed_before[p], speeding, slowing)


cdef inline double uneven(double off, double speeding, double slowing) noexcept:
    return (speeding if off > 0 else slowing) * off * off


cdef void join(
    double[:, :, ::1] opened, Py_ssize_t way, double[:, ::1] even, Py_ssize_t length, Py_ssize_t most,
    Py_ssize_t first, Py_ssize_t last, double* joined,
) noexcept:
    """Set the least cost of coming to each start, of a stroke that goes some way over some length."""
    cdef Py_ssize_t p, s
    cdef double cost, step
    cdef const double *row
    for s in range(first, last):
        joined[s] = INFINITY
    for p in range(most):
        row, step = &opened[way, p, 0], even[length, p]
        for s in range(first, last):
            cost = row[s] + step
            joined[s] = cost if cost < joined[s] else joined[s]


cdef trace(
    const double[::1] costs, const long long[::1] at, const double[:, ::1] by_way, const double[::1] change,
    const double[::1] hook, const long long[::1] shift, const double[::1] speeding, const double[::1] slowing,
    const double[:, ::1] log_speed, const double[::1] wanted_step, const long long[::1] most,
    const signed char[::1] returns, double[:, :, ::1] left,
):
    """Follow the cheapest path from its last stroke back, with the choices that its costs came from."""
    cdef Py_ssize_t count = most.shape[0], places = by_way.shape[1], k = count - 1, w = 0, e = 0, l = 0, s, i, p
    cdef Py_ssize_t link, end, way, came_w, came_e, came_l
    cdef const double *row = &costs[at[k]]
    cdef const double *same
    cdef const double *other
    cdef double least = INFINITY, cost, lifted
    found = np.zeros((4, count), dtype=np.int64)
    cdef long long[:, ::1] rows = found
    for i in range(2):
        for e in range(places):
            for p in range(most[k]):
                if row[(i * most[k] + p) * places + e] < least:
                    least, w, s, l = row[(i * most[k] + p) * places + e], i, e, p
    e = s
    while True:
        s = e - l - 1 if w == 0 else e + l + 1
        rows[0, k], rows[1, k], rows[2, k] = w, s, e
        if k == 0:
            return found
        row = left_behind(&costs[at[k - 1]], most[k - 1], places, returns[k - 1], &left[0, 0, 0])
        least, came_w, came_e, came_l = INFINITY, 0, 0, 0
        for p in range(most[k - 1]):
            same, other = row + (w * most[k - 1] + p) * places, row + ((1 - w) * most[k - 1] + p) * places
            cost, link, end, way = INFINITY, CHANGE, s - shift[k], 1 - w
            if 0 <= end < places:
                cost = other[end] + change[k]
                if same[end] + hook[k] < cost:
                    cost, link, way = same[end] + hook[k], HOOK, w
            for i in range(places):
                lifted = min(same[i], other[i]) + by_way[k, s - i if s > i else i - s]
                if lifted < cost:
                    cost, link, end = lifted, RETAKE, i
            if link == RETAKE:
                way = int(row[(most[k - 1] + p) * places + end] < row[p * places + end])
            cost += uneven(log_speed[k, l] - wanted_step[k] - log_speed[k - 1, p], speeding[k], slowing[k])
            if cost < least:
                least, came_w, came_e, came_l, rows[3, k] = cost, way, end, p, link
        w, e, l, k = came_w, came_e, came_l, k - 1
        if returns[k]:
            w = 1 - w
            e = e + l + 1 if w == 0 else e - l - 1
