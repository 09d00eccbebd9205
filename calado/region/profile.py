"""From signed distance to matte: the profile of a feathered edge.

Convention
----------
d is the signed distance to the outline in picture heights, negative inside. With f_in, f_out the matte is S((f_out −
d)/(f_in + f_out)): 1 at f_in inside the outline, 0 at f_out outside of it. S is a smoothstep, a straight line or a bell
(Gaussian integral). Where the band is narrower than a pixel the matte becomes the area of the pixel inside the outline,
to first order, so that a hard edge is antialiased.

The bell spans seven standard deviations and is stretched by 0.05 % to reach 0 and 1 exactly (our choice).
"""

from math import erf, sqrt

import numba as nb

from calado.compiled import compiled

PROFILES = {"smooth": 0, "straight": 1, "bell": 2}
BELL_SIGMAS = 7.0
BELL_END = erf(BELL_SIGMAS / 2 / sqrt(2))
_BELL_SCALE = BELL_SIGMAS / sqrt(2)


@compiled("float32(float32, int64)", inline="never")
def falling(t: float, profile: int) -> float:
    """Return the profile at share ``t`` of the way from nothing to whole."""
    if profile == 0:
        return t * t * (nb.float32(3) - nb.float32(2) * t)
    if profile == 1:
        return t
    return nb.float32(0.5 + 0.5 * erf((t - 0.5) * _BELL_SCALE) / BELL_END)


@compiled("float32(float32, float32, float32, float32, int64)")
def matte_at(d: float, feather_in: float, feather_out: float, pixel: float, profile: int) -> float:
    """Return the matte at signed distance ``d``; all lengths in picture heights."""
    band = feather_in + feather_out
    half = max(band, pixel) * nb.float32(0.5)
    middle = (feather_out - feather_in) * nb.float32(0.5)
    t = (middle + half - d) / (nb.float32(2) * half)
    if t <= 0:
        return nb.float32(0)
    if t >= 1:
        return nb.float32(1)
    # between one and two pixels the profile takes over from plain coverage without a jump
    blend = min(max(band / pixel - nb.float32(1), nb.float32(0)), nb.float32(1))
    return t + blend * (falling(t, profile) - t)
