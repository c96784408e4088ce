# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""One bowed string in time: two travelling waves and a friction with memory, solved exactly at every sample.

Wave velocities leave the bow towards bridge and nut and come back after βT and (1 − β)T. Each reflection is a
symmetric Gaussian about its fractional delay: pitch and place stay exact, and it rounds the corner. At the bridge it is
−(R − Z)/(R + Z) above a tenth of the pitch and −1 at rest, or the bridge would creep; at nut or finger −g.
Friction μ(u) = μ_d + (μ_s − μ_d) v₀/(v₀ + |u|); a sliding string keeps sliding while that branch is there.
Controls come every ``hop`` samples and are joined by straight lines; delays step with them. Nothing here needs Python
while it runs, so that other threads go on.
"""
import numpy as np

from libc.math cimport ceil, exp, fabs, floor, log, sqrt
from libc.string cimport memmove, memset

DEF MOST_TAPS = 128
DEF BLOCK = 8192
DEF QUIET = 1e-6

cdef double STATIC = 0.8, SLIDING = 0.3, FALLS_OVER = 0.1  # friction coefficients; speed over which it falls [m/s]
cdef double RIPPLE = 0.015  # of the weight
cdef double PRESSES = 0.06, MOST_MORE = 3.0, MOST_LESS = 0.5, EASES_OVER = 10.0  # of the hand that listens

cdef struct Taps:
    int first
    int count
    double h[MOST_TAPS]  # the first meets the oldest sample


cdef void gaussian(Taps* taps, double delay, double width) noexcept nogil:
    cdef double reach = 3.2 * width, total = 0.0, x, e, q, qq
    cdef int a = <int>ceil(delay - reach), b = <int>floor(delay + reach), i, n
    if a < 1:
        a = 1
    if b < a:
        b = a
    n = b - a + 1
    if n > MOST_TAPS:
        n = MOST_TAPS
    x = (a - delay) / width  # by recurrence: three exponentials a set
    e = exp(-0.5 * x * x)
    q = exp(-x / width - 0.5 / (width * width))
    qq = exp(-1.0 / (width * width))
    for i in range(n):
        taps.h[n - 1 - i] = e
        total += e
        e *= q
        q *= qq
    for i in range(n):
        taps.h[i] /= total
    taps.first = a
    taps.count = n


cdef inline double dot(const double* h, const double* x, int n) noexcept nogil:
    cdef double a = 0, b = 0, c = 0, d = 0
    cdef int i = 0
    while i + 3 < n:
        a += h[i] * x[i]
        b += h[i + 1] * x[i + 1]
        c += h[i + 2] * x[i + 2]
        d += h[i + 3] * x[i + 3]
        i += 4
    while i < n:
        a += h[i] * x[i]
        i += 1
    return (a + b) + (c + d)


def bow_string(
    const double[::1] speed,
    const double[::1] force,
    const double[::1] pull,
    const double[::1] beta,
    const double[::1] period,
    const double[::1] nut,
    const double[::1] listens,
    const double[::1] hiss,
    int hop,
    double impedance,
    double resistance,
    double rounding,
    unsigned long long seed,
    double[::1] out,
    double[:, ::1] slips,
    double[::1] motion,
):
    """Fill in the force on the bridge [N] and the slips; return how many slips there were, at most as many as fit.

    Args:
        speed: of the bow, signed [m/s]; like all controls one value a hop, shape (H,).
        force: of the bow [N]; none: the string rings on, or sleeps.
        pull: of a finger, sideways at the bow's place [N].
        beta: place of the bow [1].
        period: of the string [samples].
        nut: reflection there, 1 lossless [1].
        listens: 1 where a hand that listens presses while the string slips too often, and goes back once it stands.
        hiss: of the hair that slides, in parts of Z v.
        hop: samples from control to control.
        impedance: Z [kg/s].
        resistance: R of the string's end [kg/s].
        rounding: of the corner, in periods.
        seed: of the ripples and the hiss; not 0.
        out: bridge force, shape (H hop,).
        slips: first sample, last sample, way in metres times the rate; shape (most, 3).
        motion: velocity of the string under the bow [m/s], shape (H hop,); of length 0 where it is not wanted.
    """
    cdef Py_ssize_t H = speed.shape[0], k, n = 0, count = 0, most = slips.shape[0], at = 0, last = 0, last_start = 0
    cdef double longest = 0
    for k in range(H):
        if period[k] > longest:
            longest = period[k]
    cdef int room = <int>(longest * (1 + 4 * rounding)) + 2 * MOST_TAPS + 8
    line_b, line_n = np.zeros(room + BLOCK), np.zeros(room + BLOCK)
    cdef double[::1] view_b = line_b, view_n = line_n
    cdef double *to_bridge = &view_b[0]
    cdef double *to_nut = &view_n[0]
    cdef Taps taps_b, taps_n
    cdef double Z = impedance, loss = 1 - (resistance - Z) / (resistance + Z), per_2z = 1 / (2 * Z), two_z = 2 * Z
    cdef double slow = 0, slowness, v, dv, F, dF, P, dP, g, T, db, dn, width, last_T = -1, last_beta = -1
    cdef double s_b, s_n, in_b, in_n, D, size, sign, K, B, disc, u, f, q, weight, drop = STATIC - SLIDING, noise
    cdef double way = 0, peak, more = 0, factor = 1, interval
    cdef int i, j, m = room, state = 0, sliding = 0
    cdef bint asleep = True, listening = False, watched = motion.shape[0] > 0
    with nogil:
        for k in range(H):
            v, F, P = speed[k], force[k], pull[k]
            dv = (speed[k + 1] - v) / hop if k + 1 < H else 0.0
            dF = (force[k + 1] - F) / hop if k + 1 < H else 0.0
            dP = (pull[k + 1] - P) / hop if k + 1 < H else 0.0
            if asleep:
                if F <= 0 and dF <= 0 and P == 0 and dP == 0:
                    n += hop
                    continue
                asleep = False
                memset(to_bridge, 0, (room + BLOCK) * sizeof(double))
                memset(to_nut, 0, (room + BLOCK) * sizeof(double))
                slow, state, m = 0, 0, room
            if m + hop >= room + BLOCK:
                memmove(to_bridge, to_bridge + m - room, room * sizeof(double))
                memmove(to_nut, to_nut + m - room, room * sizeof(double))
                m = room
            T, g = period[k], nut[k]
            if T != last_T or beta[k] != last_beta:
                last_T, last_beta = T, beta[k]
                width = rounding * T
                if width < 0.75:
                    width = 0.75
                db = beta[k] * T
                if db < 1 + 2.0 * width:
                    db = 1 + 2.0 * width
                dn = T - db
                gaussian(&taps_b, db, width)
                gaussian(&taps_n, dn, width)
                slowness = 1 - exp(-2 * 3.141592653589793 * 0.1 / T)
            peak = 0
            listening = listens[k] > 0
            if not listening:
                more = 0
            factor = exp(more * listens[k]) if more != 0 else 1.0
            for i in range(hop):
                s_b = dot(taps_b.h, to_bridge + m - taps_b.first - taps_b.count + 1, taps_b.count)
                s_n = dot(taps_n.h, to_nut + m - taps_n.first - taps_n.count + 1, taps_n.count)
                slow += slowness * (s_b - slow)
                in_b = -(s_b - loss * (s_b - slow))
                in_n = -g * s_n
                D = v - in_b - in_n - P * per_2z
                seed ^= seed << 13
                seed ^= seed >> 7
                seed ^= seed << 17
                noise = <double>(seed >> 11) * (2.0 / 9007199254740992.0) - 1.0
                weight = F * factor * (1 + 1.732 * RIPPLE * noise)
                K = weight * per_2z
                sign = -1.0 if D < 0 else 1.0
                size = D * sign
                u = 0
                if size > K * STATIC:
                    B = size - K * SLIDING - FALLS_OVER
                    u = 0.5 * (B + sqrt(B * B + 4 * FALLS_OVER * (size - K * STATIC)))
                    state = 1 if sign > 0 else -1
                elif state != 0 and (state > 0) == (sign > 0):
                    B = size - K * SLIDING - FALLS_OVER
                    disc = B * B + 4 * FALLS_OVER * (size - K * STATIC)
                    if B > 0 and disc >= 0:
                        u = 0.5 * (B + sqrt(disc))
                    else:
                        state = 0
                else:
                    state = 0
                u *= sign
                f = (D - u) * two_z
                q = (f + P) * per_2z
                to_bridge[m] = in_n + q
                to_nut[m] = in_b + q
                out[n] = Z * (s_b - in_b)
                if watched:
                    motion[n] = in_b + in_n + q
                if hiss[k] > 0 and state != 0 and weight > 0:  # heard, and not fed back: it would kill the starts
                    seed ^= seed << 13
                    seed ^= seed >> 7
                    seed ^= seed << 17
                    out[n] += hiss[k] * Z * v * (<double>(seed >> 11) * (2.0 / 9007199254740992.0) - 1.0)
                if fabs(to_nut[m]) > peak:
                    peak = fabs(to_nut[m])
                if state != 0 and F > 0:
                    if not sliding:
                        sliding, at, way = 1, n, 0
                    way += u
                    last = n
                elif sliding:
                    sliding = 0
                    if listening and fabs(way) > 0.1 * fabs(v) * T and fabs(v) > 0.01:
                        interval = (at - last_start) / T
                        last_start = at
                        if interval < 0.9:
                            more += PRESSES * interval
                        elif interval <= 1.1:
                            more -= more / EASES_OVER
                        if more > log(MOST_MORE):
                            more = log(MOST_MORE)
                        if more < log(MOST_LESS):
                            more = log(MOST_LESS)
                    if count < most:
                        slips[count, 0], slips[count, 1], slips[count, 2] = at, last, way
                        count += 1
                v += dv
                F += dF
                P += dP
                m += 1
                n += 1
            if F <= 0 and dF <= 0 and force[k] <= 0 and P == 0 and peak < QUIET:
                for j in range(<int>last_T):  # nothing left on the whole line
                    if fabs(to_nut[m - 1 - j]) > peak:
                        peak = fabs(to_nut[m - 1 - j])
                if peak < QUIET:
                    asleep = True
    return count
