# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True
"""What a hair path costs and how that changes as its places move, compiled: one pass over the strokes.

The terms stand here once, as costs in ``of`` and as residuals with their derivatives in ``equations``: a cost is the
square of its residual. Links are numbered as in the wishes.
"""

import numpy as np
from libc.math cimport fabs, fmax, fmin, log, sqrt

from pathway.core.planning.path.weights import (
    GIVING, HOME, KEEP, KEEP_UNIT, LIMITS, NO_TIME, RETAKE_PER_METRE, SPEED, START, ZONE, ZONE_UNIT,
)

cdef enum:
    FIRST, CHANGE, HOOK, RETAKE

cdef enum:
    BANDS = 3  # below the diagonal: a residual touches at most four neighbouring unknowns
    AT_MOST = 4

cdef double RETAKE_START = 0.12, CARRY_SPEED = 1.2  # time to lift and set [s]; speed of the hand in the air [m/s]
cdef double LEAST = 0.0005  # of a stroke [m]
cdef double NEAR = 0.01  # a shorter way through the air pulls no harder [m]
LEAST_LENGTH = LEAST


cdef inline double outside(double value, double low, double high) noexcept:
    return value - fmin(fmax(value, low), high)


cdef double unheard(double before) noexcept:
    """Return what a note so long [s] may lose to a retake without anyone hearing it [s]."""
    return fmin(0.12 * before, 0.15)


cdef double bearable(double before) noexcept:
    """Return what it may lose beyond that, heard but borne [s]."""
    return fmin(0.5 * before, 0.4)


cdef class PathCost:
    """The cost of a path of K strokes."""

    cdef const double[::1] moving, bows, zone_low, zone_high, rest, settle, change, hook, retake
    cdef const double[::1] speeding, slowing, wanted_step, keep, preferred, slowest, fastest  # the last three as ln
    cdef const double[:, ::1] direction
    cdef const double[:, :, ::1] bands
    cdef const unsigned char[::1] returns
    cdef double low, high
    cdef double of_speed, of_limits, of_zone, of_home, of_start, of_keep, zone_unit, keep_unit  # weights of the terms
    cdef double giving, no_time, per_metre  # and of a retake
    cdef Py_ssize_t count

    def __init__(self, problem):
        """Take the numbers of a problem, see ``PathProblem``."""
        self.moving, self.bows, self.rest, self.settle = problem.moving, problem.bows, problem.rest, problem.settle
        self.zone_low, self.zone_high = np.ascontiguousarray(problem.zone_low), np.ascontiguousarray(problem.zone_high)
        self.change, self.hook, self.retake = problem.change, problem.hook, problem.retake
        self.speeding, self.slowing = problem.speeding, problem.slowing
        self.wanted_step, self.keep = problem.wanted_step, problem.keep
        self.preferred, self.slowest, self.fastest = np.log([problem.preferred, problem.slowest, problem.fastest])
        self.direction, self.bands = problem.direction_costs, problem.start_bands
        self.returns = problem.returns.view(np.uint8)
        self.of_speed, self.of_limits, self.of_zone, self.of_home = SPEED, LIMITS, ZONE, HOME
        self.of_start, self.of_keep, self.zone_unit, self.keep_unit = START, KEEP, ZONE_UNIT, KEEP_UNIT
        self.giving, self.no_time, self.per_metre = GIVING, NO_TIME, RETAKE_PER_METRE
        self.low, self.high, self.count = problem.low, problem.high, len(problem)

    cdef int fits(self, path) except -1:
        """Refuse a path that has not as many strokes in each of its arrays: nothing below looks again."""
        if not len(path.directions) == len(path.starts) == len(path.ends) == len(path.links) == self.count:
            raise ValueError(f"a path of other strokes than these {self.count}")
        return 0

    cdef double short_time(self, Py_ssize_t k, double way) noexcept:
        """Return what a retake over a way takes from the note before."""
        return fmax(0.0, RETAKE_START + self.settle[k] + way / CARRY_SPEED - self.rest[k])

    cdef double lifted(self, Py_ssize_t k, double way) noexcept:
        """Return the cost of a retake over a way."""
        cdef double before = self.moving[k - 1] if k else 1.0
        cdef double given = fmax(0.0, self.short_time(k, way) - unheard(before))
        cdef double beyond = fmax(0.0, given - bearable(before))
        return self.retake[k] + self.per_metre * way + (self.giving * given + self.no_time * beyond) / before

    cdef double ahead(self, Py_ssize_t k, long long direction, double end) noexcept:
        """Return how much hair is lacking at a stroke's end against what should be kept back."""
        cdef double left = self.high - end if direction > 0 else end - self.low
        return fmax(0.0, self.keep[k] - left) if self.keep[k] > 0 else 0.0

    def short_of_keep(self, path):
        """Return how much hair is lacking ahead of every stroke's end against what should be kept back [m]."""
        self.fits(path)
        cdef const long long[::1] directions = path.directions
        cdef const double[::1] ends = path.ends
        cdef Py_ssize_t k
        found = np.empty(self.count)
        cdef double[::1] short = found
        for k in range(self.count):
            short[k] = self.ahead(k, directions[k], ends[k])
        return found

    def time_short(self, const double[::1] ways):
        """Return what a retake over each of K ways [m] takes from the note before [s]."""
        if ways.shape[0] != self.count:
            raise ValueError(f"{ways.shape[0]} ways for {self.count} strokes")
        cdef Py_ssize_t k
        found = np.empty(self.count)
        cdef double[::1] taken = found
        for k in range(self.count):
            taken[k] = self.short_time(k, ways[k])
        return found

    def time_lacking(self, const double[::1] ways):
        """Return by how much a retake over each of K ways [m] takes more of the note before than that can give [s]."""
        found = self.time_short(ways)
        cdef double[::1] lacking = found
        cdef Py_ssize_t k
        cdef double before
        for k in range(self.count):
            before = self.moving[k - 1] if k else 1.0
            lacking[k] = fmax(0.0, lacking[k] - unheard(before) - bearable(before))
        return found

    def retakes(self, const double[::1] ways):
        """Return the cost of a retake before every stroke over each of N ways [m]; shape (K, N)."""
        found = np.empty((self.count, ways.shape[0]))
        cdef double[:, ::1] costs = found
        cdef Py_ssize_t k, n
        for k in range(self.count):
            for n in range(ways.shape[0]):
                costs[k, n] = self.lifted(k, ways[n])
        return found

    def times(self, path):
        """Return the time the bow really moves in each stroke [s]: a retake may shorten the one before."""
        self.fits(path)
        cdef const double[::1] starts = path.starts, ends = path.ends
        cdef const long long[::1] links = path.links
        found = np.empty(self.count)
        self.moved(starts, ends, links, found)
        return found

    cdef void moved(
        self, const double[::1] starts, const double[::1] ends, const long long[::1] links, double[::1] times
    ) noexcept:
        cdef Py_ssize_t k
        cdef double taken
        for k in range(self.count):
            taken = 0.0
            if k + 1 < self.count and links[k + 1] == RETAKE:
                taken = self.short_time(k + 1, self.way(k + 1, starts, ends))
            times[k] = fmax(self.moving[k] - taken, 0.3 * self.moving[k])

    cdef double way(self, Py_ssize_t k, const double[::1] starts, const double[::1] ends) noexcept:
        """Return how far a stroke starts from where the bow was left."""
        return fabs(starts[k] - (starts[k - 1] if self.returns[k - 1] else ends[k - 1])) if k else 0.0

    def of(self, path):
        """Return what every stroke of a path costs; shape (K,)."""
        self.fits(path)
        cdef const double[::1] starts = path.starts, ends = path.ends
        cdef const long long[::1] directions = path.directions, links = path.links
        found, times = np.empty(self.count), np.empty(self.count)
        cdef double[::1] costs = found, moving = times
        cdef Py_ssize_t k, w
        cdef double speed, before = 0.0, even, cost
        self.moved(starts, ends, links, moving)
        for k in range(self.count):
            w = 0 if directions[k] > 0 else 1
            speed = log(fmax(fabs(ends[k] - starts[k]), LEAST) * self.bows[k] / moving[k])
            even = (speed - before if k else 0.0) - self.wanted_step[k]
            before = speed
            cost = self.of_speed * (speed - self.preferred[k]) ** 2
            cost += self.of_limits * outside(speed, self.slowest[k], self.fastest[k]) ** 2
            cost += self.of_zone * (outside((starts[k] + ends[k]) / 2, self.zone_low[k], self.zone_high[k]) / self.zone_unit) ** 2
            cost += self.of_home * ((starts[k] + ends[k] - self.zone_low[k] - self.zone_high[k]) / 2 / self.zone_unit) ** 2
            cost += self.of_start * (outside(starts[k], self.bands[k, w, 0], self.bands[k, w, 1]) / self.zone_unit) ** 2
            cost += (self.speeding[k] if even > 0 else self.slowing[k]) * even * even
            cost += self.direction[k, w]
            cost += self.of_keep * (self.ahead(k, directions[k], ends[k]) / self.keep_unit) ** 2
            if links[k] == CHANGE:
                cost += self.change[k]
            elif links[k] == HOOK:
                cost += self.hook[k]
            elif links[k] == RETAKE:
                cost += self.lifted(k, self.way(k, starts, ends))
            costs[k] = cost
        return found

    def equations(self, path, const long long[::1] start, const long long[::1] end, Py_ssize_t unknowns):
        """Return gradient and bands of the normal equations at a path.

        Args:
            path: of K strokes.
            start: which unknown the start of every stroke is.
            end: and its end.
            unknowns: how many there are.
        """
        self.fits(path)
        cdef const double[::1] starts = path.starts, ends = path.ends
        cdef const long long[::1] directions = path.directions, links = path.links
        slope_, bands_, times = np.zeros(unknowns), np.zeros((BANDS + 1, unknowns)), np.empty(self.count)
        cdef double[::1] slope = slope_, moving = times
        cdef double[:, ::1] bands = bands_
        cdef Py_ssize_t k, w
        cdef double length, speed, off, weight, to_end, speed_before = 0.0, to_end_before = 0.0
        self.moved(starts, ends, links, moving)
        for k in range(self.count):
            w = 0 if directions[k] > 0 else 1
            length = fmax(fabs(ends[k] - starts[k]), LEAST)
            speed = log(length * self.bows[k] / moving[k])
            to_end = directions[k] / length  # ∂ ln v/∂ end; by the start it is the opposite
            off, weight = speed - self.preferred[k], sqrt(self.of_speed)
            both(slope, bands, start[k], end[k], weight * off, -weight * to_end, weight * to_end)
            off = outside(speed, self.slowest[k], self.fastest[k])
            if off != 0:
                weight = sqrt(self.of_limits)
                both(slope, bands, start[k], end[k], weight * off, -weight * to_end, weight * to_end)
            off = outside((starts[k] + ends[k]) / 2, self.zone_low[k], self.zone_high[k])
            if off != 0:
                weight = sqrt(self.of_zone) / self.zone_unit
                both(slope, bands, start[k], end[k], weight * off, weight / 2, weight / 2)
            off, weight = (starts[k] + ends[k] - self.zone_low[k] - self.zone_high[k]) / 2, sqrt(self.of_home) / self.zone_unit
            both(slope, bands, start[k], end[k], weight * off, weight / 2, weight / 2)
            off = outside(starts[k], self.bands[k, w, 0], self.bands[k, w, 1])
            if off != 0:
                weight = sqrt(self.of_start) / self.zone_unit
                both(slope, bands, start[k], end[k], weight * off, weight, 0.0)
            off = self.ahead(k, directions[k], ends[k])
            if off > 0:
                weight = sqrt(self.of_keep) / self.keep_unit
                both(slope, bands, start[k], end[k], weight * off, 0.0, weight * directions[k])
            if k:
                off = speed - speed_before - self.wanted_step[k]
                weight = sqrt(self.speeding[k] if off > 0 else self.slowing[k])
                add(
                    slope, bands, AT_MOST, [start[k - 1], end[k - 1], start[k], end[k]], weight * off,
                    [weight * to_end_before, -weight * to_end_before, -weight * to_end, weight * to_end],
                )
                if links[k] == RETAKE:
                    off = starts[k] - (starts[k - 1] if self.returns[k - 1] else ends[k - 1])
                    weight = sqrt(self.per_metre / (2 * fmax(fabs(off), NEAR)))
                    both(slope, bands, end[k - 1], start[k], weight * off, -weight, weight)
            speed_before, to_end_before = speed, to_end
        return slope_, bands_


cdef void both(
    double[::1] slope, double[:, ::1] bands, Py_ssize_t one, Py_ssize_t other, double residual, double by_one,
    double by_other,
) noexcept:
    """Add a residual of two unknowns."""
    add(slope, bands, 2, [one, other, 0, 0], residual, [by_one, by_other, 0.0, 0.0])


cdef void add(
    double[::1] slope, double[:, ::1] bands, Py_ssize_t count, Py_ssize_t[AT_MOST] at, double residual,
    double[AT_MOST] by,
) noexcept:
    """Add a residual of a few unknowns, which may be the same ones, with its derivatives by them."""
    cdef Py_ssize_t i, j
    for i in range(count):
        slope[at[i]] += by[i] * residual
        for j in range(count):
            if at[i] >= at[j]:
                bands[at[i] - at[j], at[j]] += by[i] * by[j]


def downhill(const double[::1] slope, const double[:, ::1] bands, const unsigned char[::1] fixed):
    """Return the step that solves the normal equations, by their factors L D Lᵀ; fixed unknowns stay.

    Args:
        slope: of N unknowns.
        bands: entry (o, i) is A[i + o, i] of a symmetric positive matrix; shape (4, N).
        fixed: which unknowns do not move.
    """
    cdef Py_ssize_t count = slope.shape[0], i, j, m, o
    found, factors = np.empty(count), np.zeros((BANDS + 1, count))
    cdef double[::1] step = found
    cdef double[:, ::1] low = factors  # D in the first row, L below
    cdef double value
    for i in range(count):
        for o in range(min(i, BANDS), -1, -1):  # entry (i, j) of the factors, from the left
            j = i - o
            if o == 0:
                value = 1.0 if fixed[i] else bands[0, i] * (1 + 1e-6) + 1e-9
            else:
                value = 0.0 if fixed[i] or fixed[j] else bands[o, j]
            for m in range(max(i - BANDS, 0), j):
                value -= low[i - m, m] * low[j - m, m] * low[0, m]
            low[o, j] = value if o == 0 else value / low[0, j]
        value = 0.0 if fixed[i] else -slope[i]
        for m in range(max(i - BANDS, 0), i):
            value -= low[i - m, m] * step[m]
        step[i] = value
    for i in range(count - 1, -1, -1):
        step[i] /= low[0, i]
        for m in range(i + 1, min(i + BANDS + 1, count)):
            step[i] -= low[m - i, i] * step[m]
    return found
