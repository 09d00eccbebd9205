"""Textures painted by noise, in linear light: wood, plaster, cobbles, cloth, lettered paper."""

import numpy as np
from PIL import ImageFont
from scipy import ndimage as ni

from demo.scenes.kit import noise


def ramp(t, stops):
    """Return colours between stops (at, colour), shape (…, 3)."""
    t = np.clip(t, 0, 1)
    xs = [each[0] for each in stops]
    cs = np.array([each[1] for each in stops], float)
    return np.stack([np.interp(t, xs, cs[:, k]) for k in range(3)], -1)


def wood(
    w=2048,
    h=512,
    seed=1,
    tones=((0.34, 0.20, 0.10), (0.24, 0.13, 0.06), (0.11, 0.055, 0.025)),
    planks=0,
    gap=0.006,
    wear=0.5,
):
    """Return colours and heights of wood, its grain along u; ``planks`` cuts v into so many boards."""
    y, x = np.mgrid[0:h, 0:w] / [[[h]], [[w]]]
    n = max(planks, 1)
    b = np.floor(y * n)
    yy = y * n - b
    rnd = np.random.default_rng(seed)
    offs = rnd.random((n, 4))
    o = offs[b.astype(int).clip(0, n - 1)]
    asp = w / h
    P = np.stack(
        [(x * asp * n / 3 + o[..., 0] * 40).ravel(), (yy * 1.0 + o[..., 1] * 20).ravel(), np.full(w * h, seed * 1.7)], 1
    )
    warp = noise.at(P, np.array([0.9, 1.3, 1.0]), 4, seed).reshape(h, w)
    v = yy + 0.5 * warp + o[..., 2]
    rings = 0.5 + 0.5 * np.sin(2 * np.pi * (v * 7 + 0.6 * warp))
    rings = rings**1.6
    fib = noise.at(P, np.array([3.0, 90.0, 1.0]), 4, seed + 9).reshape(h, w)
    pores = np.clip(noise.at(P, np.array([9.0, 160.0, 1.0]), 2, seed + 19).reshape(h, w) * 6 - 1.2, 0, 1)
    mott = noise.at(P, np.array([1.5, 2.0, 1.0]), 5, seed + 29).reshape(h, w)
    t = 0.45 + 0.28 * (rings - 0.5) + 0.75 * fib + 0.5 * mott + 0.16 * (o[..., 3] - 0.5) * (n > 1)
    col = ramp(t, [(0, tones[2]), (0.5, tones[1]), (1, tones[0])]) * (1 - 0.45 * pores[..., None])
    hgt = 0.5 * fib - 0.5 * pores + 0.15 * rings
    scr = np.clip(noise.at(P, np.array([2.0, 30.0, 1.0]), 3, seed + 39).reshape(h, w) * 5 - 1.1, 0, 1) * wear
    col = col * (1 - 0.25 * scr[..., None]) + 0.05 * scr[..., None]
    if n > 1:
        e = np.minimum(yy, 1 - yy) * 1.0 / n
        g = np.clip(1 - e / gap, 0, 1)
        col *= (1 - 0.93 * np.clip(g * 2, 0, 1))[..., None]
        hgt = hgt - 6 * g
    return col.astype("f4"), hgt.astype("f4")


def plaster(w=1536, h=1536, seed=3, base=(0.52, 0.40, 0.28), stain=(0.28, 0.20, 0.13)):
    """Return colours and heights of stained plaster."""
    a = noise.plane(w, h, 6, 6, octaves=7, seed=seed)
    b = noise.plane(w, h, 40, 40, octaves=4, seed=seed + 7)
    d = noise.plane(w, h, 2, 7, octaves=5, seed=seed + 3)
    t = np.clip(0.5 + 1.3 * a + 0.7 * d, 0, 1)
    col = ramp(t, [(0, stain), (0.55, base), (1, np.array(base) * 1.15)]) * (1 + 0.35 * b[..., None])
    return np.clip(col, 0.01, 0.9).astype("f4"), (0.6 * a + 0.4 * b).astype("f4")


def cobbles(w=2048, h=2048, n=26, seed=5):
    """Return colours and heights of paving, ``n`` stones across, and how high each place is for water."""
    P = noise.grid(w, h, n, n * 1.0)
    P[:, 1] *= 1.25
    wv = noise.cells(P, 1.0, seed)
    g = wv[:, 1].reshape(h, w)
    cid = wv[:, 2].reshape(h, w)
    dome = ni.gaussian_filter(1 - (1 - np.clip(g / 0.7, 0, 1)) ** 2, 3.5, mode="wrap")
    nz = noise.plane(w, h, 2 * n, 2 * n, octaves=4, seed=seed)
    big = noise.plane(w, h, n / 10, n / 10, octaves=5, seed=seed + 4)
    col = ramp(
        0.5 + 0.9 * (cid - 0.5) + 0.5 * big,
        [(0, (0.07, 0.065, 0.06)), (0.5, (0.14, 0.125, 0.11)), (1, (0.22, 0.19, 0.16))],
    ) * (1 + 0.6 * nz[..., None])
    col *= (0.3 + 0.7 * np.clip(g / 0.12, 0, 1))[..., None]
    return (
        np.clip(col, 0.005, 0.9).astype("f4"),
        (dome * 1.0 + 0.12 * nz + 1.2 * big).astype("f4"),
        (dome + 1.1 * big + 0.15 * nz).astype("f4"),
    )


def cloth(w=1024, h=1024, col=(0.05, 0.2, 0.2), n=180, seed=2):
    """Return colours and heights of a weave of ``n`` threads."""
    y, x = np.mgrid[0:h, 0:w] / h
    wv = np.sin(2 * np.pi * x * n) * np.cos(2 * np.pi * y * n)
    nz = noise.plane(w, h, 8, 8, octaves=6, seed=seed)
    c = np.array(col) * (1 + 0.22 * wv + 0.9 * nz)[..., None]
    return np.clip(c, 0.004, 0.9).astype("f4"), (0.5 * wv + 0.3 * nz).astype("f4")


FONTS = "/usr/share/fonts/truetype/liberation/LiberationSerif-"


def font(size, cut="Bold"):
    """Return a serif of a size, in pixels."""
    return ImageFont.truetype(f"{FONTS}{cut}.ttf", size)


def decoded(a):
    """Return linear light of sRGB values (IEC 61966-2-1)."""
    return np.where(a <= 0.04045, a / 12.92, ((a + 0.055) / 1.055) ** 2.4)


def paper(im, seed=4, age=0.5):
    """Return a drawn picture as paper, linear, with fibres, yellowing and stains."""
    a = np.asarray(im.convert("RGB"), "f4") / 255
    h, w = a.shape[:2]
    a = ni.gaussian_filter(a, (0.7, 0.7, 0))
    light = decoded(a)
    n = noise.plane(w, h, 12, 12 * h / w, octaves=6, seed=seed)[..., None]
    s = noise.plane(w, h, 2, 2, octaves=4, seed=seed + 1)[..., None]
    return np.clip(
        light * (1 + 0.35 * n) * (1 + age * np.minimum(s * 1.5, 0.1) * np.array([0.6, 1, 1.6])), 0.004, 0.92
    ).astype("f4")
