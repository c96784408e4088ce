"""Symmetric banded equations, solved in blocks with numpy alone: the same answer as a dense solve, in linear time.

The unknowns are cut into P blocks. The last W of each block separate it from the next; the rest of every block, which
touches only the separators beside it, is solved for all blocks at once, and what is left is a small system of the
separators.
"""

import math

import numpy as np

from pathway.core.arrays import FloatArray

LEAST = 8  # unknowns of a block beside its separator
FEW = 72  # unknowns that are solved at once, without blocks


def solve_banded(bands: FloatArray, right: FloatArray) -> FloatArray:
    """Return x of A x = right, for a symmetric positive matrix A with W bands below its diagonal.

    Args:
        bands: entry (o, i) is A[i + o, i]; shape (W + 1, N).
        right: shape (N,).
    """
    width, count = bands.shape[0] - 1, bands.shape[1]
    if count <= FEW:
        return _solve_dense(bands, right)
    inner = max(LEAST, width, math.isqrt(count))
    size = inner + width
    blocks = -(-count // size)
    within, across = _blocks(bands, blocks, size)
    padded = np.zeros(blocks * size)
    padded[:count] = right
    wanted = padded.reshape(blocks, size)

    ahead = within[:, :inner, inner:]  # coupling of each inside to its own separator
    behind = np.zeros((blocks, inner, width))  # and to the one before
    behind[:, :width] = across
    sides = np.concatenate([wanted[:, :inner, None], ahead, behind], axis=2)
    solved = np.linalg.solve(within[:, :inner, :inner], sides)
    free, by_own, by_before = solved[:, :, 0], solved[:, :, 1 : 1 + width], solved[:, :, 1 + width :]

    own, next_ = ahead.transpose(0, 2, 1), np.zeros((blocks, width, inner))
    next_[:-1] = behind[1:].transpose(0, 2, 1)
    diagonal = within[:, inner:, inner:] - own @ by_own - next_ @ _after(by_before)
    beside = -next_ @ _after(by_own)  # coupling of each separator to the next
    rest = wanted[:, inner:] - (own @ free[:, :, None] + next_ @ _after(free)[:, :, None])[:, :, 0]
    separators = np.linalg.solve(_tridiagonal(diagonal, beside), rest.ravel()).reshape(blocks, width)

    before = np.concatenate([np.zeros((1, width)), separators[:-1]])
    insides = free - (by_own @ separators[:, :, None] + by_before @ before[:, :, None])[:, :, 0]
    return np.concatenate([insides, separators], axis=1).ravel()[:count]


def _after(values: FloatArray) -> FloatArray:
    """Return what belongs to the next block, nothing for the last."""
    return np.concatenate([values[1:], np.zeros_like(values[:1])])


def _solve_dense(bands: FloatArray, right: FloatArray) -> FloatArray:
    count = len(right)
    matrix = np.zeros(count * count)
    for offset in range(min(bands.shape[0], count)):
        matrix[offset * count :: count + 1] = bands[offset, : count - offset]
        matrix[offset : (count - offset) * count : count + 1] = bands[offset, : count - offset]
    return np.asarray(np.linalg.solve(matrix.reshape(count, count), right), dtype=np.float64)


def _blocks(bands: FloatArray, blocks: int, size: int) -> tuple[FloatArray, FloatArray]:
    """Return the blocks (P, size, size) on the diagonal, and what couples each to the separator before it (P, W, W)."""
    width, count = bands.shape[0] - 1, bands.shape[1]
    within, across = np.zeros((blocks, size, size)), np.zeros((blocks, width, width))
    place = np.arange(blocks * size)
    block, local = np.divmod(place, size)
    within[block, local, local] = np.append(bands[0], np.ones(blocks * size - count))
    for offset in range(1, width + 1):
        values = np.zeros(blocks * size)
        values[: max(count - offset, 0)] = bands[offset, : max(count - offset, 0)]
        inside = local + offset < size
        b, one, other = block[inside], local[inside] + offset, local[inside]
        within[b, one, other] = within[b, other, one] = values[inside]
        over = ~inside & (block + 1 < blocks)
        across[block[over] + 1, local[over] + offset - size, local[over] - size + width] = values[over]
    return within, across


def _tridiagonal(diagonal: FloatArray, beside: FloatArray) -> FloatArray:
    """Return a symmetric block tridiagonal matrix, dense."""
    blocks, width = diagonal.shape[:2]
    matrix = np.zeros((blocks, width, blocks, width))
    here = np.arange(blocks)
    matrix[here, :, here, :] = diagonal
    matrix[here[:-1], :, here[1:], :] = beside[:-1]
    matrix[here[1:], :, here[:-1], :] = beside[:-1].transpose(0, 2, 1)
    return matrix.reshape(blocks * width, blocks * width)
