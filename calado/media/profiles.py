"""ICC profiles of our spaces, and which of our spaces a file's profile means."""

import io
from functools import lru_cache
from typing import Any, TypeAlias

import imagecodecs
import numpy as np
from numpy.typing import NDArray
from PIL import ImageCms

from calado.colour.spaces import (
    BT2020,
    D50,
    D65,
    DISPLAY_P3,
    ROMM,
    SRGB,
    STILL_SPACES,
    Chromaticity,
    ColourSpace,
    adapted,
)
from calado.errors import MediaError

#: two profiles mean the same space when colorants and a grey ramp agree this closely
COLORANT_TOLERANCE, RAMP_TOLERANCE = 0.004, 0.004
_RAMP = np.linspace(0.1, 0.9, 5)
#: a primary counts as held by a space within this share of its light
HELD = 0.002
#: uint8, uint16 or float32
Samples: TypeAlias = NDArray[Any]


@lru_cache(maxsize=8)
def profile_of(space: ColourSpace) -> bytes:
    """Return an ICC profile for a space."""
    if space is SRGB:
        return _undated(bytes(imagecodecs.cms_profile("srgb")))
    curve = space.transfer.decode(np.linspace(0, 1, 4096))
    codes = np.rint(np.clip(curve, 0, 1) * 65535).astype(np.uint16)
    made = imagecodecs.cms_profile("rgb", whitepoint=_white(space), primaries=_primaries(space), transferfunction=codes)
    return _undated(bytes(made))


def _white(space: ColourSpace) -> list[float]:
    return [*space.white, 1.0]


def _primaries(space: ColourSpace) -> list[float]:
    return [c for point in (space.red, space.green, space.blue) for c in (*point, 1.0)]


def _undated(profile: bytes) -> bytes:
    """Return a profile made at no particular time, so that the same file has the same bytes on every day.

    References: ICC.1:2022, 7.2.8: twelve bytes from byte 24.
    """
    first = bytes((7, 208, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0))  # the first of January 2000
    return profile[:24] + first + profile[36:]


def space_of(profile: bytes) -> ColourSpace | None:
    """Return the space that an ICC profile means, or None when it is none of ours.

    Raises
    ------
    MediaError
        when the profile cannot be read or is not one for RGB or grey.
    """
    kind, colorants = _read(profile)
    if kind == "GRAY":
        return SRGB
    if kind != "RGB ":
        raise MediaError(
            f"The picture is described by a {kind.strip()} profile. Save it as RGB and add it again.",
            code="media.profile",
        )
    if colorants is None:
        return None
    return next((space for space in STILL_SPACES.values() if _same(profile, colorants, space)), None)


def into_ours(samples: Samples, profile: bytes) -> tuple[Samples, ColourSpace]:
    """Return samples of a profile that is none of ours, shape (H, W, 3), in the least of our spaces that holds it.

    Codes become 16-bit codes; floats become linear light, which may go beyond 0…1.
    """
    space = _holding(profile)
    if samples.dtype.kind == "f":
        return np.asarray(_converted(samples, profile, _linear_profile(space), "float32"), np.float32), space
    wide = samples.astype(np.uint16) * 257 if samples.dtype == np.uint8 else samples.astype(np.uint16)
    return _transformed(wide, profile, space), space


def _holding(profile: bytes) -> ColourSpace:
    """Return the least of our spaces in which the primaries of a profile lie; one without any may be anything."""
    _, colorants = _read(profile)
    if colorants is None:
        return ROMM
    # colorants are XYZ of D50
    colours = colorants @ adapted(D50, D65).T
    held = (space for space in (DISPLAY_P3, BT2020) if (colours @ space.from_xyz.T).min() > -HELD)
    return next(held, ROMM)


@lru_cache(maxsize=4)
def _linear_profile(space: ColourSpace) -> bytes:
    return bytes(imagecodecs.cms_profile("rgb", whitepoint=_white(space), primaries=_primaries(space), gamma=1.0))


def profile_by(white: Chromaticity, primaries: tuple[Chromaticity, ...], gamma: float) -> bytes:
    """Return an ICC profile of a power and primaries that a file names by their numbers.

    Raises
    ------
    MediaError
        when they are no colours.
    """
    points = [c for point in primaries for c in (*point, 1.0)]
    try:
        return bytes(imagecodecs.cms_profile("rgb", whitepoint=[*white, 1.0], primaries=points, gamma=gamma))
    except (RuntimeError, ValueError) as error:
        raise _damaged() from error


def is_grey(profile: bytes) -> bool:
    """Whether a profile is one for grey."""
    return _read(profile)[0] == "GRAY"


def grey_signal(samples: Samples, profile: bytes) -> Samples | None:
    """Return grey samples in a profile for grey as sRGB's signal, codes of 16 bits; None where they are that already.

    Raises
    ------
    MediaError
        when the profile tells no way from its greys.
    """
    ramp = np.arange(65536, dtype=np.uint16)
    try:
        made = imagecodecs.cms_transform(
            ramp[None], profile, profile_of(SRGB), colorspace="gray", outcolorspace="rgb", outdtype="uint16"
        )
    except (RuntimeError, ValueError) as error:
        raise _damaged() from error
    table = np.asarray(made, np.uint16)[0, :, 1]
    if np.abs(table / 65535 - ramp / 65535).max() < RAMP_TOLERANCE:
        return None
    if samples.dtype.kind == "f":
        return np.interp(samples, ramp / 65535, table / 65535).astype(np.float32)
    return table[samples.astype(np.uint16) * 257 if samples.dtype == np.uint8 else samples.astype(np.uint16)]


def _transformed(codes: NDArray[np.uint16], profile: bytes, space: ColourSpace) -> NDArray[np.uint16]:
    """Return 16-bit codes of a space, shape (H, W, 3), of codes in a profile."""
    return np.asarray(_converted(codes, profile, profile_of(space), "uint16"), np.uint16)


def _converted(samples: Samples, profile: bytes, to: bytes, kind: str) -> Samples:
    """Return samples of one profile in another.

    Raises
    ------
    MediaError
        when the profile tells no way from its colours.
    """
    try:
        return imagecodecs.cms_transform(samples, profile, to, colorspace="rgb", outcolorspace="rgb", outdtype=kind)
    except (RuntimeError, ValueError) as error:  # CmsError is a RuntimeError
        raise _damaged() from error


def _damaged() -> MediaError:
    return MediaError(
        "The colour profile inside this picture is damaged. Save it again with an intact profile.",
        code="media.profile",
    )


def _read(profile: bytes) -> tuple[str, NDArray[np.float64] | None]:
    try:
        core = ImageCms.ImageCmsProfile(io.BytesIO(profile)).profile
        points = (core.red_colorant, core.green_colorant, core.blue_colorant)
        colorants = np.array([point[0] for point in points if point is not None])
        return core.xcolor_space, colorants if len(colorants) == 3 else None
    except (OSError, ImageCms.PyCMSError, TypeError, AttributeError, ValueError, IndexError) as error:
        raise _damaged() from error


def _same(profile: bytes, colorants: NDArray[np.float64], space: ColourSpace) -> bool:
    _, ours = _read(profile_of(space))
    if ours is None or np.abs(colorants - ours).max() > COLORANT_TOLERANCE:
        return False
    ramp = np.repeat(np.rint(_RAMP * 65535).astype(np.uint16)[None, :, None], 3, axis=2)
    seen = _transformed(ramp, profile, SRGB)
    expected = SRGB.transfer.encode(space.transfer.decode(_RAMP))
    return bool(np.abs(seen[0, :, 0] / 65535 - expected).max() < RAMP_TOLERANCE)
