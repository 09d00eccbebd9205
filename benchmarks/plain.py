"""The same work in straightforward NumPy and OpenCV: the yardstick, and a check that both do the same.

Written as a practitioner with OpenCV at hand would write it: whole-picture float32 arrays, ``cv2.distanceTransform``
for the feather, ``cv2.transform`` for matrices, ``cv2.GaussianBlur`` for the blur, ``cv2.imencode`` for the JPEG.
"""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from calado.colour.oklab import LMS_TO_LAB, lms_to_rgb, rgb_to_lms
from calado.colour.spaces import SRGB
from calado.sheet.models import Pass, Region, Sheet, Treatment

Picture = NDArray[np.float32]

_TO_LMS = rgb_to_lms(SRGB).astype(np.float32)
_TO_RGB = lms_to_rgb(SRGB).astype(np.float32)


def decode(codes: NDArray[np.uint8]) -> Picture:
    """Return linear light, (H, W, 3), of 8-bit sRGB codes (IEC 61966-2-1)."""
    encoded = codes.astype(np.float32) / 255
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def encode(linear: Picture) -> NDArray[np.uint8]:
    """Return 8-bit sRGB codes of linear light."""
    light = np.clip(linear, 0, 1)
    encoded = np.where(light <= 0.0031308, light * 12.92, 1.055 * cv2.pow(light, 1 / 2.4) - 0.055)
    return np.rint(encoded * 255).astype(np.uint8)


def matte(region: Region, height: int, width: int) -> Picture:
    """Return the matte of a region of one ellipse: drawn hard, then feathered by its distance transform."""
    values = {id: float(value) for id, value in region.parts[0].values.items()}
    hard = np.zeros((height, width), np.uint8)
    centre = (values["x"] * height - 0.5, values["y"] * height - 0.5)
    size = (values["width"] * height, values["height"] * height)
    cv2.ellipse(hard, (centre, size, values.get("turn", 0.0)), 1, cv2.FILLED)
    outside = cv2.distanceTransform(1 - hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    distance = (outside - cv2.distanceTransform(hard, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)) / height
    inward, outward = values.get("feather_in", 0.0), values.get("feather_out", 0.0)
    t = np.clip((outward - distance) / max(inward + outward, 1 / height), 0, 1)
    return (t * t * (3 - 2 * t)).astype(np.float32)


def exposure(picture: Picture, stops: float) -> Picture:
    """Return the picture times 2^stops."""
    return picture * np.float32(2**stops)


def saturation(picture: Picture, amount: float) -> Picture:
    """Return the picture with OKLab's a and b scaled."""
    lms = np.cbrt(cv2.transform(picture, _TO_LMS))
    lab = cv2.transform(lms, LMS_TO_LAB.astype(np.float32))
    lab[..., 1:] *= np.float32(1 + amount)
    return cv2.transform(cv2.transform(lab, np.linalg.inv(LMS_TO_LAB).astype(np.float32)) ** 3, _TO_RGB)


def blurred(picture: Picture, weight: Picture, sigma: float) -> Picture:
    """Return the picture blurred by normalised convolution with ``weight``; ``sigma`` in pixels."""
    top = cv2.GaussianBlur(picture * weight[..., None], (0, 0), sigma, borderType=cv2.BORDER_REPLICATE)
    return top / np.maximum(cv2.GaussianBlur(weight, (0, 0), sigma, borderType=cv2.BORDER_REPLICATE), 1e-6)[..., None]


def treated(picture: Picture, treatment: Treatment, weight: Picture) -> Picture:
    """Return one side's picture."""
    steps: dict[str, Callable[[Picture, float], Picture]] = {
        "exposure": exposure,
        "saturation": saturation,
        "blur": lambda given, radius: blurred(given, weight, radius * given.shape[0]),
    }
    for id, work in steps.items():
        if id in treatment:
            picture = work(picture, float(treatment[id]["radius" if id == "blur" else "amount"]))
    return picture


def after(picture: Picture, each: Pass, coverage: Picture) -> Picture:
    """Return the picture after one pass."""
    change = np.zeros_like(picture)
    for treatment, weight in ((each.inside, coverage), (each.outside, 1 - coverage)):
        if treatment:
            change += weight[..., None] * (treated(picture, treatment, weight) - picture)
    return picture + np.float32(each.mix) * change


def finished(picture: Picture, sheet: Sheet) -> Picture:
    """Return the picture after all passes of a sheet, each on a region of one ellipse."""
    height, width = picture.shape[:2]
    for each in sheet.passes:
        region = sheet.region(each.region)
        assert region is not None  # the sheets of the benchmark give each pass a region
        picture = after(picture, each, matte(region, height, width))
    return picture


def jpeg(codes: NDArray[np.uint8]) -> bytes:
    """Return RGB codes as a JPEG."""
    ways = [cv2.IMWRITE_JPEG_QUALITY, 90, cv2.IMWRITE_JPEG_SAMPLING_FACTOR, cv2.IMWRITE_JPEG_SAMPLING_FACTOR_444]
    return cv2.imencode(".jpg", cv2.cvtColor(codes, cv2.COLOR_RGB2BGR), ways)[1].tobytes()
