"""Timecode: what a frame is called on set and in the cut.

References
----------
SMPTE ST 12-1 for counting with drop-frame: at 29.97 and 59.94 the first two (four) numbers of each minute are left out,
but of each tenth.
"""

import re
from fractions import Fraction

_CODE = re.compile(r"(\d{2}):(\d{2}):(\d{2})([:;.])(\d{2,3})")


def advanced(code: str, frames: int, rate: Fraction) -> str:
    """Return the timecode of so many frames later, at ``rate`` frames a second; what is none comes back as it is."""
    found = _CODE.fullmatch(code)
    if not found:
        return code
    hours, minutes, seconds, sign, number = found.groups()
    base = -(-rate.numerator // rate.denominator)
    left_out = round(base / 15) if sign in ";." and base % 30 == 0 else 0
    whole = int(hours) * 60 + int(minutes)
    count = (whole * 60 + int(seconds)) * base + int(number) - left_out * (whole - whole // 10) + frames
    if left_out:
        tenth = 600 * base - 9 * left_out
        tens, rest = divmod(count, tenth)
        into = max(rest - left_out, 0) // (60 * base - left_out)
        count += left_out * (9 * tens + into)
    second, frame = divmod(count, base)
    digits = len(number)
    return f"{second // 3600 % 24:02}:{second // 60 % 60:02}:{second % 60:02}{sign}{frame:0{digits}}"
