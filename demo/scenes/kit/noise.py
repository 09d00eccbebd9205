"""Noise that depends on nothing but place and seed: smooth values in octaves, and cells."""

import numpy as np
from numba import njit, prange


@njit(inline="always")
def _hashed(i, j, k, s):
    n = (i * 374761393 + j * 668265263 + k * 1274126177 + s * 974634773) & 0xFFFFFFFF
    n = ((n ^ (n >> 13)) * 1274126177) & 0xFFFFFFFF
    n = ((n ^ (n >> 16)) * 2246822519) & 0xFFFFFFFF
    return ((n ^ (n >> 15)) & 0xFFFFFF) / 16777215.0


@njit(inline="always")
def _value(x, y, z, s):
    i = int(np.floor(x))
    j = int(np.floor(y))
    k = int(np.floor(z))
    x -= i
    y -= j
    z -= k
    x = x * x * x * (x * (x * 6 - 15) + 10)
    y = y * y * y * (y * (y * 6 - 15) + 10)
    z = z * z * z * (z * (z * 6 - 15) + 10)
    a = _hashed(i, j, k, s) * (1 - x) + _hashed(i + 1, j, k, s) * x
    b = _hashed(i, j + 1, k, s) * (1 - x) + _hashed(i + 1, j + 1, k, s) * x
    c = _hashed(i, j, k + 1, s) * (1 - x) + _hashed(i + 1, j, k + 1, s) * x
    d = _hashed(i, j + 1, k + 1, s) * (1 - x) + _hashed(i + 1, j + 1, k + 1, s) * x
    return (a * (1 - y) + b * y) * (1 - z) + (c * (1 - y) + d * y) * z


@njit(parallel=True)
def at(P, freq, octaves, seed):
    """Return noise about 0 at places (N, 3), with details down by ``octaves`` of two."""
    out = np.empty(P.shape[0], np.float32)
    for q in prange(P.shape[0]):
        a = 0.0
        w = 0.5
        f = 1.0
        for o in range(octaves):
            a += w * (
                _value(P[q, 0] * freq[0] * f + 17.3, P[q, 1] * freq[1] * f + 5.1, P[q, 2] * freq[2] * f + 9.7, seed + o)
                - 0.5
            )
            w *= 0.55
            f *= 2.03
        out[q] = a
    return out


@njit(parallel=True)
def cells(P, freq, seed):
    """Return how far the nearest seed of each place is, how much farther the next, and the cell's number 0…1."""
    n = P.shape[0]
    out = np.empty((n, 3), np.float32)
    for q in prange(n):
        x = P[q, 0] * freq
        y = P[q, 1] * freq
        z = P[q, 2] * freq
        i = int(np.floor(x))
        j = int(np.floor(y))
        k = int(np.floor(z))
        f1 = 9.0
        f2 = 9.0
        cid = 0.0
        for a in range(-1, 2):
            for b in range(-1, 2):
                for c in range(-1, 2):
                    dx = i + a + _hashed(i + a, j + b, k + c, seed) - x
                    dy = j + b + _hashed(i + a, j + b, k + c, seed + 1) - y
                    dz = k + c + _hashed(i + a, j + b, k + c, seed + 2) - z
                    d = dx * dx + dy * dy + dz * dz
                    if d < f1:
                        f2 = f1
                        f1 = d
                        cid = _hashed(i + a, j + b, k + c, seed + 3)
                    elif d < f2:
                        f2 = d
        out[q, 0] = np.sqrt(f1)
        out[q, 1] = np.sqrt(f2) - np.sqrt(f1)
        out[q, 2] = cid
    return out


def grid(w, h, sx=1.0, sy=1.0):
    """Return the places of a texture's pixels, (w·h, 3), over ``sx`` by ``sy`` units."""
    y, x = np.mgrid[0:h, 0:w]
    return np.stack([x.ravel() / w * sx, y.ravel() / h * sy, np.zeros(w * h)], 1)


def plane(w, h, sx, sy, octaves=5, seed=1):
    """Return noise over a texture, shape (h, w)."""
    return at(grid(w, h, sx, sy), np.ones(3), octaves, seed).reshape(h, w)
