"""The carved head: a shape given by distances, painted by position, glass eyes, hair in strands.

Head units: half width about 0.78, face towards +z, y up.
"""

import numpy as np
from numba import njit, prange
from scipy import ndimage as ni
from skimage.measure import marching_cubes

from demo.scenes.kit import geometry, noise
from demo.scenes.kit.files import CACHE
from demo.scenes.kit.tracing import rgb


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
SKIN = (0.60, 0.345, 0.225)
AUBURN = (0.21, 0.062, 0.018)


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
def _posmap(w, h, y0, y1):
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


def paint(w=3072, h=2200, skin=(0.60, 0.345, 0.225), seed=5):
    """Return colours, heights, roughness and where the lips are, round the head, painted by place on it."""
    kept = CACHE / f"paint_{w}_{seed}.npz"
    if kept.exists():
        z = np.load(kept)
        return tuple(z[each].astype("f4") for each in ("colour", "height", "rough", "lips"))
    pm = _posmap(w // 3, h // 3, HI[1], LO[1])
    pm = np.stack([ni.zoom(pm[..., c], (h / pm.shape[0], w / pm.shape[1]), order=1) for c in range(3)], -1)
    P = pm.reshape(-1, 3).astype("f8")
    x, y, z = P[:, 0], P[:, 1], P[:, 2]
    ax = np.abs(x)

    def sm(a, b, t):
        return np.clip((t - a) / (b - a), 0, 1) ** 2 * (3 - 2 * np.clip((t - a) / (b - a), 0, 1))

    def grain_at(fr, o, s):
        return noise.at(P, np.array(fr if isinstance(fr, list) else [fr] * 3, float), o, s)

    blot = grain_at(3.0, 5, seed)
    fine = grain_at(55.0, 3, seed + 1)
    pore = grain_at(120.0, 2, seed + 2)
    grain = grain_at([38.0, 3.5, 38.0], 4, seed + 3)
    brush = grain_at([9.0, 60.0, 9.0], 3, seed + 4)
    col = np.array(skin)[None] * (1 + 0.28 * blot + 0.20 * fine + 0.13 * pore + 0.10 * brush)[:, None]

    def mix(c, m):
        return col * (1 - m[:, None]) + np.array(c) * m[:, None]

    def g(cx, cy, sx, sy):
        return np.exp(-(((ax - cx) / sx) ** 2 + ((y - cy) / sy) ** 2)) * (z > 0.1)

    col = mix((0.60, 0.17, 0.115), 0.62 * g(0.42, -0.17, 0.17, 0.13) * (1 + 0.8 * blot))
    col = mix((0.58, 0.19, 0.13), 0.45 * g(0, -0.14, 0.11, 0.1))
    col = mix((0.55, 0.2, 0.14), 0.3 * g(0, -0.78, 0.16, 0.1))
    col = mix((0.34, 0.15, 0.12), 0.55 * g(EX, EY + 0.15, 0.17, 0.05))
    # lips, brows, lid lines
    lip = (
        sm(
            0.011,
            -0.012,
            np.minimum(
                np.abs(y + 0.378 + 0.10 * ax**1.3 - 0.02 * np.cos(ax * 22) * sm(0.16, 0.07, ax))
                - 0.036 * np.clip(1 - (ax / 0.225) ** 2, 0, 1),
                np.abs(y + 0.470 - 0.5 * ax**2) - 0.048 * np.clip(1 - (ax / 0.2) ** 2, 0, 1),
            ),
        )
        * sm(0.200, 0.150, ax)
        * (z > 0.55)
    )
    col = mix((0.40, 0.050, 0.045), np.clip(lip * (0.94 + 0.6 * fine), 0, 1))
    col = mix(
        (0.10, 0.015, 0.012), 0.9 * np.exp(-(((y + 0.424 - 0.02 * ax) / 0.010) ** 2)) * sm(0.185, 0.12, ax) * (z > 0.6)
    )
    by = 0.345 + 0.10 * np.sin(np.clip((ax - 0.06) / 0.42, 0, 1) * np.pi * 0.85) - 0.03 * (ax > 0.4) * (ax - 0.4)
    bw = 0.034 * np.clip((ax - 0.06) / 0.05, 0, 1) * np.clip((0.50 - ax) / 0.3, 0, 1) ** 0.6
    strokes = grain_at([70.0, 25.0, 10.0], 2, seed + 8)
    brow = (
        sm(0.6, 0.0, np.abs(y - by) / np.maximum(bw, 1e-4) - 1 + 1.2 * strokes) * (ax > 0.06) * (ax < 0.50) * (z > 0.2)
    )
    col = mix((0.045, 0.022, 0.014), 0.93 * brow)
    er = np.sqrt((ax - EX) ** 2 + (y - EY) ** 2 + (z - EZ) ** 2)
    ln = (
        np.exp(-(((y - EY - 0.062 + 0.9 * (ax - EX) ** 2 + 0.05 * (ax - EX)) / 0.014) ** 2))
        * sm(0.15, 0.11, np.abs(ax - EX))
        * (er < 0.21)
    )
    col = mix((0.03, 0.016, 0.012), 0.85 * ln)
    # wear: bare wood on ridges, fine age cracks, dirt in hollows
    wear = np.clip((grain_at(7.0, 6, seed + 11) + 0.55 * fine - 0.30) * 9, 0, 1) * (1 - brow) * (1 - 0.6 * lip)
    wood = np.array([0.30, 0.17, 0.085]) * (1 + 1.1 * grain)[:, None]
    col = col * (1 - wear[:, None]) + wood * wear[:, None]
    wo = noise.cells(P + 0.03 * np.stack([blot, fine, blot], 1), 4.2, seed + 13)
    crack = sm(0.022, 0.004, wo[:, 1]) * (grain_at(2.2, 2, seed + 15) > 0.06)
    col *= (1 - 0.55 * crack)[:, None]
    hol = np.clip(grain_at(14.0, 4, seed + 16) * 1.5, 0, 1)
    col *= (1 - 0.18 * hol)[:, None]
    hgt = 0.55 * fine + 0.32 * pore + 0.30 * grain + 0.25 * brush - 0.7 * crack - 0.45 * wear
    rgh = 0.40 + 0.16 * fine + 0.22 * wear - 0.10 * lip + 0.1 * blot
    col = np.clip(col, 0.006, 0.85).reshape(h, w, 3)
    hgt = hgt.reshape(h, w)
    rgh = np.clip(rgh, 0.2, 0.8).reshape(h, w)
    lips = np.clip(lip, 0, 1).reshape(h, w)
    made = {"colour": col, "height": hgt, "rough": rgh, "lips": lips}
    np.savez(kept, **{name: each.astype("f2") for name, each in made.items()})
    return tuple(each.astype("f4") for each in made.values())


def eye(n=160):
    """Return a glass eye that looks to +z: its mesh and its colours."""
    th = np.linspace(0, np.pi, n)
    ph = np.linspace(0, 2 * np.pi, 2 * n)
    t, p = np.meshgrid(th, ph, indexing="ij")
    P = np.stack([np.sin(t) * np.cos(p), np.sin(t) * np.sin(p), np.cos(t)], -1)
    m = geometry.sheet(P * ER, closed=True)
    w, h = 512, 512
    u, v = np.meshgrid((np.arange(w) + 0.5) / w, (np.arange(h) + 0.5) / h)
    a = v * np.pi
    s = noise.at(
        np.stack([np.cos(u * 6.2832).ravel() * 3, np.sin(u * 6.2832).ravel() * 3, (v * 6).ravel()], 1),
        np.array([5.0, 5.0, 0.6]),
        4,
        3,
    ).reshape(h, w)
    ir, pu = 0.50, 0.24
    c = np.ones((h, w, 3)) * (0.66, 0.60, 0.50) * (1 + 0.12 * s[..., None])
    k = a < ir
    c[k] = (
        np.array([0.115, 0.048, 0.018])
        * np.clip(1 + 2.2 * s[..., None] + 0.9 * ((a - pu) / (ir - pu))[..., None], 0.1, 3)
    )[k]
    edge = np.exp(-(((a - ir) / 0.045) ** 2))[..., None]
    c = c * (1 - 0.85 * edge) + 0.012 * edge
    c[a < pu] = (0.004, 0.0035, 0.003)
    return m, c.astype("f4")


def hair(n=9000, seed=3):
    """Return ``n`` strands and their radii: wavy tufts combed off a crown, a loose fringe, some that fly away."""
    r = np.random.default_rng(seed)
    S, R = [], []
    C = np.array([0, 0.20, -0.06])
    A = np.array([0.76, 0.86, 0.84])
    clumps = 420
    cd = r.standard_normal((clumps * 4, 3))
    cd /= np.linalg.norm(cd, axis=1, keepdims=True)
    yl = 0.20 + 0.62 * np.clip(cd[:, 2], 0, 1) - 0.75 * np.clip(-cd[:, 2], 0, 1)
    cd = cd[cd[:, 1] > yl][:clumps]
    K = 13
    for d in cd:
        m = max(4, n // len(cd))
        crown = np.array([0.06, 0.9, -0.42])
        root = C + A * d
        front = np.clip(d[2], 0, 1)
        comb = root - (C + A * crown / np.linalg.norm(crown))
        comb[1] -= 0.35
        comb /= np.linalg.norm(comb) + 1e-6
        L = r.uniform(0.75, 1.15) * (1.0 - 0.38 * front)
        ph = r.uniform(0, 6.28)
        fq = r.uniform(7, 12)
        amp = r.uniform(0.022, 0.055)
        for _ in range(m):
            dd = d + r.normal(0, 0.055, 3)
            dd /= np.linalg.norm(dd)
            p = C + A * dd * 1.0
            fly = r.random() < 0.07
            reach = L * r.uniform(0.7, 1.08) * (1.15 if fly else 1)
            pts = [p]
            st = reach / (K - 1)
            v = dd * 0.9 + comb * 0.5 + r.normal(0, 0.10 + 0.35 * fly, 3)
            off = r.normal(0, 1, 3) * 0.5
            for k in range(1, K):
                s = k / (K - 1)
                v = v * 0.72 + 0.28 * (
                    comb * 1.0 + np.array([0, -1.15 * s, 0]) + dd * 0.12 + r.normal(0, 0.05 + 0.22 * fly, 3)
                )
                v /= np.linalg.norm(v)
                p = p + v * st
                e = (p - C) / (A * (1.03 + 0.05 * r.random()))
                q2 = np.linalg.norm(e)
                if q2 < 1:
                    p = C + (p - C) / q2
                pts.append(p)
            pts = np.array(pts)
            s = np.linspace(0, 1, K)[:, None]
            wv = (
                amp
                * (1 + 0.5 * fly)
                * s**0.7
                * np.concatenate(
                    [np.cos(ph + fq * s + off[0] * 0.6), 0.5 * np.sin(ph + fq * s), np.sin(ph + fq * s + off[1] * 0.6)],
                    1,
                )
            )
            pts = pts + wv
            S.append(pts)
            R.append((0.0058 * r.uniform(0.7, 1.25)) * np.linspace(1, 0.35, K))
    return S, R


def hair_matter():
    """Return what hair is made of."""
    return {
        "type": "principled",
        "base_color": rgb(*AUBURN),
        "roughness": 0.38,
        "specular": 0.55,
        "sheen": 0.35,
        "sheen_tint": 0.8,
    }


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
