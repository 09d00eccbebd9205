"""The carved head's shape, given by distances: a mesh, places on the face, and where a texture round it lies.

Head units: half width about 0.78, face towards +z, y up.
"""

import numpy as np
from numba import njit, prange
from skimage.measure import marching_cubes

from demo.scenes.kit import geometry, noise
from demo.scenes.kit.files import CACHE


@njit(inline="always")
def smin(a, b, k):
    h = max(k - abs(a - b), 0.0) / k
    return min(a, b) - h * h * k * 0.25


@njit(inline="always")
def smax(a, b, k):
    return -smin(-a, -b, k)


@njit(inline="always")
def ell(x, y, z, cx, cy, cz, rx, ry, rz):
    x -= cx
    y -= cy
    z -= cz
    k0 = np.sqrt((x / rx) ** 2 + (y / ry) ** 2 + (z / rz) ** 2)
    k1 = np.sqrt((x / rx / rx) ** 2 + (y / ry / ry) ** 2 + (z / rz / rz) ** 2)
    return k0 * (k0 - 1.0) / max(k1, 1e-6)


@njit(inline="always")
def cap(x, y, z, ax, ay, az, ra, bx, by, bz, rb):
    dx = bx - ax
    dy = by - ay
    dz = bz - az
    t = ((x - ax) * dx + (y - ay) * dy + (z - az) * dz) / (dx * dx + dy * dy + dz * dz)
    t = min(max(t, 0.0), 1.0)
    return np.sqrt((x - ax - t * dx) ** 2 + (y - ay - t * dy) ** 2 + (z - az - t * dz) ** 2) - (ra + (rb - ra) * t)


#: the right eye's middle, and how large an eye is
EX, EY, EZ, ER = 0.285, 0.12, 0.585, 0.158


@njit
def sdf(x0, y, z):
    x = abs(x0)
    d = ell(x, y, z, 0, 0.20, -0.06, 0.76, 0.86, 0.84)
    d = smin(d, ell(x, y, z, 0, -0.42, 0.13, 0.50, 0.50, 0.53), 0.30)
    d = smin(d, ell(x, y, z, 0.36, -0.17, 0.47, 0.21, 0.19, 0.19), 0.22)
    d = smin(d, cap(x, y, z, 0.09, 0.285, 0.70, 0.07, 0.40, 0.33, 0.55, 0.055), 0.16)
    d = smax(d, -ell(x, y, z, EX + 0.01, EY, 0.80, 0.20, 0.135, 0.20), 0.13)
    d = smin(d, cap(x, y, z, 0, 0.27, 0.70, 0.055, 0, -0.10, 0.90, 0.095), 0.11)
    d = smin(d, ell(x, y, z, 0, -0.125, 0.925, 0.10, 0.085, 0.10), 0.06)
    d = smin(d, ell(x, y, z, 0.095, -0.155, 0.84, 0.062, 0.055, 0.075), 0.055)
    d = smax(d, -ell(x, y, z, 0.055, -0.215, 0.90, 0.032, 0.028, 0.05), 0.02)
    d = smin(d, ell(x, y, z, 0, -0.42, 0.60, 0.26, 0.17, 0.16), 0.14)
    up = smin(
        cap(x, y, z, 0, -0.385, 0.768, 0.038, 0.085, -0.365, 0.75, 0.044),
        cap(x, y, z, 0.085, -0.365, 0.75, 0.044, 0.205, -0.415, 0.655, 0.018),
        0.04,
    )
    lo = cap(x, y, z, 0, -0.475, 0.755, 0.056, 0.15, -0.455, 0.69, 0.03)
    d = smin(d, up, 0.045)
    d = smin(d, lo, 0.045)
    d = smax(d, -cap(x, y, z, 0, -0.423, 0.815, 0.010, 0.21, -0.425, 0.675, 0.008), 0.03)
    d = smin(d, ell(x, y, z, 0, -0.765, 0.46, 0.15, 0.12, 0.13), 0.17)
    # lids: thin shells round the eyeball, cut by tilted planes
    ex = x - EX
    ey = y - EY
    ez = z - EZ
    e = np.sqrt(ex * ex + ey * ey + ez * ez)
    sh = abs(e - (ER + 0.016)) - 0.016
    upl = smax(sh, -(ey * 0.80 + ez * 0.35 - 0.112 + 0.08 * ex), 0.02)
    lol = smax(sh, (ey * 0.90 - ez * 0.22 + 0.118), 0.02)
    d = smin(d, smax(upl, -(ez + 0.02), 0.02), 0.035)
    d = smin(d, smax(lol, -(ez + 0.02), 0.02), 0.035)
    ear = smax(
        ell(x, y, z, 0.80, 0.03, -0.06, 0.085, 0.215, 0.145), -ell(x, y, z, 0.86, 0.05, -0.03, 0.06, 0.13, 0.085), 0.03
    )
    d = smin(d, ear, 0.06)
    d = smin(d, cap(x, y, z, 0, -0.75, -0.10, 0.27, 0, -1.6, -0.14, 0.25), 0.13)
    ring = np.sqrt((np.sqrt(x * x + (z + 0.12) ** 2) - 0.262) ** 2 + (y + 1.02) ** 2) - 0.016
    return smax(d, -ring, 0.02)


LO = np.array([-1.0, -1.5, -1.02])
HI = np.array([1.0, 1.15, 1.1])


@njit(parallel=True)
def _grid(nx, ny, nz, lo, st):
    g = np.empty((nx, ny, nz), np.float32)
    for i in prange(nx):
        for j in range(ny):
            for k in range(nz):
                g[i, j, k] = sdf(lo[0] + i * st, lo[1] + j * st, lo[2] + k * st)
    return g


@njit(parallel=True)
def _grad(P):
    o = np.empty_like(P)
    e = 0.004
    for q in prange(P.shape[0]):
        x, y, z = P[q]
        a = sdf(x + e, y, z) - sdf(x - e, y, z)
        b = sdf(x, y + e, z) - sdf(x, y - e, z)
        c = sdf(x, y, z + e) - sdf(x, y, z - e)
        length = np.sqrt(a * a + b * b + c * c) + 1e-9
        o[q, 0] = a / length
        o[q, 1] = b / length
        o[q, 2] = c / length
    return o


@njit(parallel=True)
def _round(w, h, y0, y1):
    o = np.zeros((h, w, 3), np.float32)
    for j in prange(h):
        y = y0 + (y1 - y0) * (j + 0.5) / h
        for i in range(w):
            a = ((i + 0.5) / w - 0.5) * 2 * np.pi
            s = np.sin(a)
            c = np.cos(a)
            r = 1.35
            for _ in range(48):
                d = sdf(r * s, y, r * c)
                r -= d * 0.8
                if d < 0.001 or r < 0.02:
                    break
            r = max(r, 0.02)
            o[j, i, 0] = r * s
            o[j, i, 1] = y
            o[j, i, 2] = r * c
    return o


def surface(w, h):
    """Return the places on the head that a texture round it shows, shape (h, w, 3)."""
    return _round(w, h, HI[1], LO[1])


def uv_of(P):
    """Return where a place stands on the texture round the head."""
    return np.stack([np.arctan2(P[:, 0], P[:, 2]) / (2 * np.pi) + 0.5, 1 - (P[:, 1] - LO[1]) / (HI[1] - LO[1])], 1)


def head(step=0.0085):
    """Return the carved head, found on a lattice of a step."""
    kept = CACHE / f"head_{step:g}.npz"
    if kept.exists():
        z = np.load(kept)
        return z["V"], z["F"], z["UV"], z["N"]
    n = np.ceil((HI - LO) / step).astype(int)
    g = _grid(n[0], n[1], n[2], LO, step)
    V, F, _, _ = marching_cubes(g, 0.0, spacing=(step,) * 3)
    V = (V + LO).astype("f8")
    F = F[:, ::-1].astype("i4")
    fac = noise.cells(V, 6.5, 31)
    N = _grad(V)
    # chisel facets: flat shallow gouges, damped near the eyes and the mouth
    damp = (
        np.clip(
            np.minimum(
                np.hypot(np.abs(V[:, 0]) - EX, V[:, 1] - EY) / 0.3,
                np.hypot(V[:, 0] / 0.28, (V[:, 1] + 0.42) / 0.14) - 0.4,
            ),
            0,
            1,
        )
        ** 2
    )
    big = noise.at(V, np.array([2.2, 2.2, 2.2]), 3, 77)
    V2 = V + N * ((fac[:, 0] - 0.5) * 0.011 * damp + big * 0.02)[:, None]
    N2 = geometry.normals(V2, F)
    if (N2 * N).sum(1).mean() < 0:
        F = F[:, ::-1]
        N2 = -N2
    np.savez(kept, V=V2, F=F, UV=uv_of(V), N=N2)
    return V2, F, uv_of(V), N2


#: places on the face, its outline first, then the nose and the eyes
FACE = np.array(
    [
        *((0, 0.55, 0.70), (0.42, 0.42, 0.5), (0.62, 0.0, 0.40), (0.55, -0.4, 0.3), (0.3, -0.78, 0.45)),
        *((0, -0.88, 0.5), (-0.3, -0.78, 0.45), (-0.55, -0.4, 0.3), (-0.62, 0, 0.4), (-0.42, 0.42, 0.5)),
        *((0, -0.12, 1.02), (EX, EY, 0.74), (-EX, EY, 0.74)),
    ]
)
#: the middle of the face
MIDDLE = (0.0, -0.08, 0.45)
