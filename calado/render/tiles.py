"""The passes of a run, a piece of one row of the picture at a time, which stays in the processor's nearest memory.

A run is written down as lines of numbers: where each array lies, and where the compiled code of each step. One compiled
loop takes every piece of a row through all of it, so that the picture crosses memory once, and a run of other steps, or
of the same in another order, compiles nothing.

out = in + w · (T(in) − in), w the mix times the side's weight: what has no weight is not visited, and where it is whole
the result is T(in) itself: no rounding, no NaN, no trace of what stood there.
"""

from typing import Any

import numba as nb
from llvmlite import ir
from numba import types
from numba.extending import intrinsic

from calado.compiled import compiled
from calado.numeric import bits_of

#: pixels of a piece: with what is kept beside it, it fills half of the nearest memory
PIECE = 448
PLANES, ROW = types.Array(types.float32, 3, "C"), types.Array(types.float32, 1, "C")
POINT, GUARD = (PLANES, ROW), (PLANES, PLANES, ROW)
#: rows of the scratch, three each: the picture, what came into the pass, what a side makes, what a guard looks back at
NOW, CAME, TREATED, HELD = 0, 3, 6, 9
#: twelve rows, which begin where a line of the memory does
ROOM = 12 * PIECE + 16
#: what stands in a line of a side
OUTSIDE, MATTE, FROM, BEFORE, STEPS, GUARDS, COVERS, LAID, ROWS, WIDE = 0, 1, 3, 6, 9, 11, 13, 15, 16, 18
#: more rows than any picture has
EVERY_ROW = 1 << 40


def _calls(*kinds: Any) -> Any:
    """Return what calls compiled code of these kinds of arguments that lies at an address."""

    def generate(context, builder, signature, arguments):  # type: ignore[no-untyped-def]
        code = context.call_conv.get_function_type(types.none, kinds)
        place = builder.inttoptr(arguments[0], ir.PointerType(code))
        context.call_conv.call_function(builder, place, types.none, kinds, arguments[1:])
        return context.get_dummy_value()

    return types.none(types.int64, *kinds), generate


@intrinsic
def _step_at(typingctx, code, planes, settings):  # type: ignore[no-untyped-def]
    return _calls(*POINT)


@intrinsic
def _guard_at(typingctx, code, planes, before, settings):  # type: ignore[no-untyped-def]
    return _calls(*GUARD)


@intrinsic
def _floats_at(typingctx, address):  # type: ignore[no-untyped-def]
    """Return an address as one of float32."""

    def generate(context, builder, signature, arguments):  # type: ignore[no-untyped-def]
        return builder.inttoptr(arguments[0], ir.PointerType(ir.FloatType()))

    return types.CPointer(types.float32)(types.int64), generate


@compiled(inline="always")
def _piece(line, at, c, y, x, n):  # type: ignore[no-untyped-def]
    """Return ``n`` floats of a row of plane ``c``; ``line[at:]`` = address, floats a row, floats a plane."""
    return nb.carray(_floats_at(line[at] + 4 * (c * line[at + 2] + y * line[at + 1] + x)), (n,))


@compiled(inline="always")
def _kept(base, row, at, n):  # type: ignore[no-untyped-def]
    """Return ``n`` floats of a row of the scratch; an array that owns nothing costs nothing to hand on."""
    return nb.carray(_floats_at(base + 4 * (row * PIECE + at)), (n,))


@compiled(inline="always")
def _empty(weight, start, end, nothing):  # type: ignore[no-untyped-def]
    some = nb.int32(0)
    for k in range(start, end):
        some |= bits_of(weight[k]) ^ nothing
    return some == 0


@compiled()
def _ends(weight, outside):  # type: ignore[no-untyped-def]
    """Return the first and the last pixel (not included) of a piece in which a side's weight is not 0.

    They are sought by sixteens, so that what is made of them lies as it is read best.
    """
    nothing = bits_of(nb.float32(1 if outside else 0))
    start, end = 0, weight.size
    while start + 16 <= end and _empty(weight, start, start + 16, nothing):
        start += 16
    while end > start and _empty(weight, (end - 1) // 16 * 16, end, nothing):
        end = (end - 1) // 16 * 16
    return start, end


@compiled(fastmath=True)
def _lay(row, new, old, weight, mix, outside):  # type: ignore[no-untyped-def]
    # of the surround 1 − weight; as numbers, so that the loop has no branch and is vectors
    base, way = (nb.float32(1), nb.float32(-1)) if outside else (nb.float32(0), nb.float32(1))
    for i in range(new.size):
        w = mix * (base + way * weight[i])
        step = w * (new[i] - old[i])
        laid = row[i] + (step if w > nb.float32(0) else nb.float32(0))
        row[i] = new[i] if w >= nb.float32(1) else laid


@compiled(fastmath=True)
def _fade(row, new, old, mix):  # type: ignore[no-untyped-def]
    if mix >= 1:
        for i in range(new.size):
            row[i] = new[i]
        return
    for i in range(new.size):
        row[i] += mix * (new[i] - old[i])


@compiled(fastmath=True)
def _cover(row, share, light):  # type: ignore[no-untyped-def]
    for i in range(row.size):
        row[i] += share[i] * (light - row[i])


@compiled()
def _copy(source, into):  # type: ignore[no-untyped-def]
    for i in range(into.size):
        into[i] = source[i]


@compiled()
def _treat(line, steps, guards, covers, lights, place, before, base):  # type: ignore[no-untyped-def]
    """Make what a side makes of ``n`` pixels from (x, y) on: ``place`` = (n, x, y); planes lie one after another."""
    n, x, y = place
    for c in range(3):
        source = _piece(line, FROM, c, y, x, n) if line[FROM] else before[c]
        _copy(source, _kept(base, TREATED, c * n, n))
    planes = nb.carray(_floats_at(base + 4 * TREATED * PIECE), (3, 1, n))
    for k in range(line[STEPS], line[STEPS + 1]):
        _step_at(steps[k, 0], planes, nb.carray(_floats_at(steps[k, 1]), (steps[k, 2],)))
    for k in range(line[GUARDS], line[GUARDS + 1]):
        for c in range(3):
            source = _piece(guards[k], 3, c, y, x, n) if guards[k, 3] else before[c]
            _copy(source, _kept(base, HELD, c * n, n))
        settings = nb.carray(_floats_at(guards[k, 1]), (guards[k, 2],))
        _guard_at(guards[k, 0], planes, nb.carray(_floats_at(base + 4 * HELD * PIECE), (3, 1, n)), settings)
    for k in range(line[COVERS], line[COVERS + 1]):
        share = _piece(covers[k], 0, 0, y, x, n)
        for c in range(3):
            _cover(_kept(base, TREATED, c * n, n), share, lights[k, c])


@compiled()
def _side(line, steps, guards, covers, lights, place, mix, base):  # type: ignore[no-untyped-def]
    """Lay what a side makes of some pixels over what is there; ``place`` = (n, x, y, first pixel of the piece)."""
    n, x, y, start = place
    red, green, blue = _kept(base, CAME, start, n), _kept(base, CAME + 1, start, n), _kept(base, CAME + 2, start, n)
    if line[BEFORE]:
        # what the side began with is not what came into the pass
        red, green, blue = (
            _piece(line, BEFORE, 0, y, x, n),
            _piece(line, BEFORE, 1, y, x, n),
            _piece(line, BEFORE, 2, y, x, n),
        )
    begun = (red, green, blue)
    _treat(line, steps, guards, covers, lights, (n, x, y), begun, base)
    for c in range(3):
        new, row = _kept(base, TREATED, c * n, n), _kept(base, NOW + c, start, n)
        if line[MATTE] and line[LAID] == 0:
            _lay(row, new, begun[c], _piece(line, MATTE, 0, y, x, n), mix, line[OUTSIDE] == 1)
        else:
            _fade(row, new, _kept(base, CAME + c, start, n), mix)


@compiled(
    "void(float32[:, :, ::1], int64[:, ::1], int64[:, ::1], float32[::1], int64[:, ::1], int64[:, ::1], int64[:, ::1],"
    " float32[:, ::1], float32[::1], int64, int64, float32[:, :, ::1])"
)
def run_rows(picture, passes, sides, mixes, steps, guards, covers, lights, scratch, first, last, out):  # type: ignore[no-untyped-def]
    """Take rows ``first`` to ``last`` of a picture through passes, lines of (first side, last side, not included).

    ``scratch``, ``ROOM`` floats, is the caller's: here an array would be gone with the last word about it.
    """
    wide = picture.shape[2]
    # rows begin where a line of the memory does: what lies across two is read twice
    base = (scratch.ctypes.data + 63) // 64 * 64
    plane = picture.shape[1] * wide
    came_from, goes_to = picture.ctypes.data, out.ctypes.data
    for y in range(first, last):
        for left in range(0, wide, PIECE):
            size = min(PIECE, wide - left)
            for c in range(3):
                at = 4 * (c * plane + y * wide + left)
                _copy(nb.carray(_floats_at(came_from + at), (size,)), _kept(base, NOW + c, 0, size))
            for p in range(passes.shape[0]):
                kept = False
                for s in range(passes[p, 0], passes[p, 1]):
                    line, outside = sides[s], sides[s, OUTSIDE] == 1
                    if y < line[ROWS] or y >= line[ROWS + 1]:
                        continue
                    start, end = 0, size
                    if line[MATTE]:
                        start, end = _ends(_piece(line, MATTE, 0, y, left, size), outside)
                    n, x = end - start, left + start
                    if n <= 0:
                        continue
                    if not kept:
                        kept = True
                        for c in range(3):
                            _copy(_kept(base, NOW + c, 0, size), _kept(base, CAME + c, 0, size))
                    _side(line, steps, guards, covers, lights, (n, x, y, start), mixes[s], base)
            for c in range(3):
                at = 4 * (c * plane + y * wide + left)
                _copy(_kept(base, NOW + c, 0, size), nb.carray(_floats_at(goes_to + at), (size,)))
