"""ICC profiles of our spaces, and which of our spaces a file's profile means."""

import io
from functools import lru_cache

import imagecodecs
import numpy as np
from numpy.typing import NDArray
from PIL import ImageCms

from calado.colour.spaces import DISPLAY_P3, SRGB, STILL_SPACES, ColourSpace
from calado.errors import MediaError

#: two profiles mean the same space when colorants and a grey ramp agree this closely
COLORANT_TOLERANCE, RAMP_TOLERANCE = 0.004, 0.004
_RAMP = np.linspace(0.1, 0.9, 5)


@lru_cache(maxsize=8)
def profile_of(space: ColourSpace) -> bytes:
    """Return an ICC profile for a space."""
    if space is SRGB:
        return _undated(bytes(imagecodecs.cms_profile("srgb")))
    curve = space.transfer.decode(np.linspace(0, 1, 4096))
    codes = np.rint(np.clip(curve, 0, 1) * 65535).astype(np.uint16)
    primaries = [c for point in (space.red, space.green, space.blue) for c in (*point, 1.0)]
    white = [*space.white, 1.0]
    made = imagecodecs.cms_profile("rgb", whitepoint=white, primaries=primaries, transferfunction=codes)
    return _undated(bytes(made))


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


def to_display_p3(codes: NDArray[np.uint16], profile: bytes) -> NDArray[np.uint16]:
    """Return 16-bit Display P3 codes, shape (H, W, 3), of codes in a profile that is none of ours."""
    return _transformed(codes, profile, DISPLAY_P3)


def _transformed(codes: NDArray[np.uint16], profile: bytes, space: ColourSpace) -> NDArray[np.uint16]:
    """Return 16-bit codes of a space, shape (H, W, 3), of codes in a profile.

    Raises
    ------
    MediaError
        when the profile tells no way from its colours.
    """
    try:
        converted = imagecodecs.cms_transform(
            codes, profile, profile_of(space), colorspace="rgb", outcolorspace="rgb", outdtype="uint16"
        )
    except (RuntimeError, ValueError) as error:  # CmsError is a RuntimeError
        raise _damaged() from error
    return np.asarray(converted, np.uint16)


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
