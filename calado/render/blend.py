"""Strips of a pass: where a side acts, and how its result is laid back.

out = in + mix · w · (T(in) − in), with w the matte inside and 1 − matte outside. Where w is 0 the input stays bit for
bit, whatever T made of it.
"""

import numba as nb

from calado.compiled import compiled


@compiled()
def extent(matte, first, last, outside):  # type: ignore[no-untyped-def]
    """Return the columns (start, end) of rows ``first`` to ``last`` in which the side's weight is not 0."""
    columns = matte.shape[1]
    start, end = columns, 0
    nothing = matte.dtype.type(1 if outside else 0)
    for y in range(first, last):
        row = matte[y]
        x = 0
        while x < start and row[x] == nothing:
            x += 1
        start = min(start, x)
        x = columns
        while x > end and row[x - 1] == nothing:
            x -= 1
        end = max(end, x)
    return start, end


@compiled(fastmath=True)
def blend_into(before, treated, matte, first, column, mix, outside, out):  # type: ignore[no-untyped-def]
    """Add mix · w · (treated − before) to ``out``; ``treated`` begins at ``column`` of the other arrays.

    Where w is whole the result is ``treated`` itself: no rounding, no NaN, no trace of what stood there.
    """
    for y in range(treated.shape[1]):
        covered = matte[first + y, column : column + treated.shape[2]]
        for c in range(3):
            old = before[c, y, column : column + treated.shape[2]]
            new, row = treated[c, y], out[c, y, column : column + treated.shape[2]]
            for x in range(new.size):
                w = mix * (nb.float32(1) - covered[x] if outside else covered[x])
                step = w * (new[x] - old[x])
                row[x] = new[x] if w >= 1 else row[x] + (step if w > 0 else nb.float32(0))


@compiled(fastmath=True)
def grade_into(sharp, level, shares, weight, first, column, out):  # type: ignore[no-untyped-def]
    """Lay one level of a stack of blurs into ``out`` where its weight asks for it (blur by radius).

    A pixel of weight w wants σ·w; between two levels their mixture has just that variance. ``shares``, float32 of shape
    (3,), are those of σ at the level below, at this one and at the one above, 0 where there is none; below the first is
    ``sharp``, which must stand in ``out`` beforehand.
    """
    below, at, above = shares[0], shares[1], shares[2]
    # in squares the share rises to 1 at this level, and falls again toward the next, if there is one
    rise = nb.float32(1) / (at * at - below * below)
    fall = nb.float32(1) / (above * above - at * at) if above > 0 else nb.float32(0)
    for y in range(level.shape[1]):
        covered = weight[first + y, column : column + level.shape[2]]
        for c in range(3):
            here, source = level[c, y], sharp[c, y, column : column + level.shape[2]]
            row = out[c, y, column : column + level.shape[2]]
            for x in range(here.size):
                w = covered[x]
                up = min(max((w * w - below * below) * rise, nb.float32(0)), nb.float32(1))
                down = min(max((w * w - at * at) * fall, nb.float32(0)), nb.float32(1))
                row[x] += (up - down) * (here[x] - source[x])
