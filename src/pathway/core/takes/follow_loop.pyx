# cython: language_level=3, boundscheck=False, wraparound=False, cdivision=True, initializedcheck=False
"""The way of a recording through a plan: the best path over (tick of the plan, playing or pausing)."""

import numpy as np


def search(const double[:, ::1] cost, const double[::1] silent, const double[::1] flux, const long long[::1] key,
           const unsigned char[::1] rest, const unsigned char[::1] gone, const unsigned char[::1] first,
           const unsigned char[::1] bar, double jump, double hold, double skip_two, double skip_three,
           double pause_in, double pause_out, double onset, double onset_base):
    cdef Py_ssize_t T = cost.shape[0], S = key.shape[0], t, s, playing, pausing, source
    cdef double best, jumped, waited, here, still, waits = 0.0
    cdef int move, layer
    play_, pause_, next_ = np.full(S, 1e9), np.full(S, 1e9), np.full(S, 1e9)
    cdef double[::1] D = play_, P = pause_, E = next_
    moves_, paused_ = np.zeros((T, S), np.int8), np.zeros((T, S), np.int8)
    cdef signed char[:, ::1] moves = moves_, paused = paused_
    sources_, layers_ = np.zeros(T, np.int32), np.zeros(T, np.int8)
    cdef int[::1] sources = sources_
    cdef signed char[::1] layers = layers_
    for t in range(T):
        still = silent[t]
        playing = 0
        pausing = 0
        for s in range(1, S):
            if D[s] < D[playing]:
                playing = s
            if P[s] < P[pausing]:
                pausing = s
        if D[playing] < P[pausing]:
            source = playing
            jumped = D[playing] + jump
            layer = 0
        else:
            source = pausing
            jumped = P[pausing] + 0.8 * jump
            layer = 1
        sources[t] = source
        layers[t] = layer
        for s in range(S):
            best = D[s] + hold
            move = 0
            if s >= 1 and D[s - 1] < best:
                best = D[s - 1]
                move = 1
            if s >= 2 and D[s - 2] + skip_two < best:
                best = D[s - 2] + skip_two
                move = 2
            if s >= 3 and D[s - 3] + skip_three < best:
                best = D[s - 3] + skip_three
                move = 3
            if P[s] + pause_out < best:
                best = P[s] + pause_out
                move = 4
            if bar[s]:
                if t > 0 and jumped < best:
                    best = jumped
                    move = 5
                waited = waits + (0.5 * jump if s > 0 else 0.0)
                if waited < best:
                    best = waited
                    move = 9
            here = cost[t, key[s]]
            if gone[s]:
                here = 0.8 * still
            elif rest[s] and still + 0.1 < here:
                here = still + 0.1
            if first[s]:
                here = here - onset * flux[t] + onset_base
            E[s] = best + here
            moves[t, s] = move
        waited = still + 0.03
        if waited > 0.6:
            waited = 0.6
        for s in range(S):
            if D[s] + pause_in < P[s]:
                P[s] = D[s] + pause_in + waited
                paused[t, s] = 1
            else:
                P[s] = P[s] + waited
        D, E = E, D
        waits += still + 0.02 if still + 0.02 < 0.5 else 0.5
    return np.asarray(D), np.asarray(P), moves_, paused_, sources_, layers_
