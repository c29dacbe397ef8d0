"""The printable colour nearest to a wanted one (P* of the project's definitions).

Minimum of CIEDE2000 between the wanted Lab and the colours of a device table, over device values in
[0, 1] with a total-ink limit: bounded damped Gauss-Newton (Levenberg, "A method for the solution of
certain non-linear problems in least squares", 1944; bounds by an active set), started from the
profile's own answer. The residual is the CIEDE2000 expression itself: its rotation term is folded
in by a Cholesky step, so that the squared length of the residual is ΔE₀₀².
"""

from __future__ import annotations

import math

import numpy as np

from rehearsal.core.colour.difference import ciede_parts
from rehearsal.core.work.kernels import kernel
from rehearsal.core.work.pool import in_slices

_MAX_STEPS = 20


@kernel
def _colour_and_slope(table, d, lab, slope):  # type: ignore[no-untyped-def]
    """Multilinear value (3,) and gradient (3, channels) of a flat table (n^k, 3) at device values d (k,)."""
    k = d.shape[0]
    n = round(table.shape[0] ** (1.0 / k))
    base = 0
    place = np.empty(4, np.float64)
    strides = np.empty(4, np.int64)
    stride = 1
    for axis in range(k - 1, -1, -1):
        x = min(max(d[axis], 0.0), 1.0) * (n - 1)
        i = min(int(x), n - 2)
        place[axis] = x - i
        strides[axis] = stride
        base += i * stride
        stride *= n
    for c in range(3):
        lab[c] = 0.0
        for axis in range(k):
            slope[c, axis] = 0.0
    for corner in range(1 << k):
        at = base
        weight = 1.0
        for axis in range(k):
            if corner >> axis & 1:
                at += strides[axis]
                weight *= place[axis]
            else:
                weight *= 1.0 - place[axis]
        for c in range(3):
            lab[c] += weight * table[at, c]
        for axis in range(k):
            side = 1.0 if corner >> axis & 1 else -1.0
            w = side * (n - 1)
            for other in range(k):
                if other != axis:
                    w *= place[other] if corner >> other & 1 else 1.0 - place[other]
            for c in range(3):
                slope[c, axis] += w * table[at, c]


@kernel
def _residual(want, have, out):  # type: ignore[no-untyped-def]
    tl, tc, th, rt = ciede_parts(want[0], want[1], want[2], have[0], have[1], have[2])
    out[0] = tl
    out[1] = tc + 0.5 * rt * th
    out[2] = math.sqrt(max(1.0 - 0.25 * rt * rt, 0.0)) * th
    return out[0] * out[0] + out[1] * out[1] + out[2] * out[2]


@kernel
def _limit_ink(d, limit):  # type: ignore[no-untyped-def]
    """Clip to [0, 1] and, over the limit, take the same amount from every ink that is printed."""
    k = d.shape[0]
    for i in range(k):
        d[i] = min(max(d[i], 0.0), 1.0)
    for _ in range(k):
        total, used = 0.0, 0
        for i in range(k):
            total += d[i]
            used += 1 if d[i] > 0.0 else 0
        if total <= limit + 1e-9 or used == 0:
            return
        less = (total - limit) / used
        for i in range(k):
            d[i] = max(d[i] - less, 0.0)


@kernel
def _solve(a, b, free, step):  # type: ignore[no-untyped-def]
    """Solve a x = b over the free unknowns by elimination; held unknowns get 0."""
    k = b.shape[0]
    m = np.empty((4, 5), np.float64)
    index = np.empty(4, np.int64)
    size = 0
    for i in range(k):
        step[i] = 0.0
        if free[i]:
            index[size] = i
            size += 1
    for i in range(size):
        for j in range(size):
            m[i, j] = a[index[i], index[j]]
        m[i, size] = b[index[i]]
    for i in range(size):
        pivot = m[i, i]
        if abs(pivot) < 1e-14:
            return
        for r in range(i + 1, size):
            f = m[r, i] / pivot
            for j in range(i, size + 1):
                m[r, j] -= f * m[i, j]
    for i in range(size - 1, -1, -1):
        v = m[i, size]
        for j in range(i + 1, size):
            v -= m[i, j] * step[index[j]]
        step[index[i]] = v / m[i, i]


@kernel
def _normal_equations(want, lab, slope, r, a, g):  # type: ignore[no-untyped-def]
    """Gauss-Newton matrix and gradient in device space; the residual's slope over Lab is taken numerically."""
    k = slope.shape[1]
    moved, r2 = np.empty(3), np.empty(3)
    per_lab = np.empty((3, 3))
    for c in range(3):
        for q in range(3):
            moved[q] = lab[q]
        moved[c] += 0.02
        _residual(want, moved, r2)
        for q in range(3):
            per_lab[q, c] = (r2[q] - r[q]) / 0.02
    jac = np.empty((3, 4))
    for q in range(3):
        for i in range(k):
            jac[q, i] = per_lab[q, 0] * slope[0, i] + per_lab[q, 1] * slope[1, i] + per_lab[q, 2] * slope[2, i]
    for i in range(k):
        g[i] = -(jac[0, i] * r[0] + jac[1, i] * r[1] + jac[2, i] * r[2])
        for j in range(k):
            a[i, j] = jac[0, i] * jac[0, j] + jac[1, i] * jac[1, j] + jac[2, i] * jac[2, j]


@kernel
def _nearest_one(want, d, table, limit, good_enough, lab):  # type: ignore[no-untyped-def]
    """Improve d in place; lab receives the colour; returns ΔE₀₀."""
    k = d.shape[0]
    slope, r = np.empty((3, 4)), np.empty(3)
    a, g, step, tried = np.empty((4, 4)), np.empty(4), np.empty(4), np.empty(k)
    free = np.empty(4, np.bool_)
    new_lab, new_slope, new_r = np.empty(3), np.empty((3, 4)), np.empty(3)
    _limit_ink(d, limit)
    _colour_and_slope(table, d, lab, slope[:, :k])
    cost = _residual(want, lab, r)
    damping = 1e-3
    for _ in range(_MAX_STEPS):
        if cost < good_enough * good_enough:
            break
        _normal_equations(want, lab, slope[:, :k], r, a, g)
        scale = 1e-12
        for i in range(k):
            free[i] = not ((d[i] <= 0.0 and g[i] < 0.0) or (d[i] >= 1.0 and g[i] > 0.0))
            scale = max(scale, a[i, i])
        better = False
        for _retry in range(8):
            for i in range(k):
                a[i, i] += damping * scale
            _solve(a, g[:k], free, step)
            for i in range(k):
                a[i, i] -= damping * scale
                tried[i] = d[i] + min(max(step[i], -0.3), 0.3)
            _limit_ink(tried, limit)
            _colour_and_slope(table, tried, new_lab, new_slope[:, :k])
            new_cost = _residual(want, new_lab, new_r)
            if new_cost < cost:
                better = True
                damping = max(damping * 0.2, 1e-7)
                break
            damping *= 8.0
        if not better:
            break
        gain = math.sqrt(cost) - math.sqrt(new_cost)
        d[:] = tried
        lab[:] = new_lab
        slope[:] = new_slope
        r[:] = new_r
        cost = new_cost
        if gain < 2e-4:
            break
    return math.sqrt(cost)


@kernel
def _nearest_rows(want, device, table, limit, good_enough, lab, delta):  # type: ignore[no-untyped-def]
    for i in range(want.shape[0]):
        delta[i] = _nearest_one(want[i], device[i], table, limit, good_enough, lab[i])


def nearest(
    want: np.ndarray, start: np.ndarray, table: np.ndarray, limit: float, good_enough: float = 0.05
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Nearest colours of a device table.

    Args:
        want: (m, 3) Lab, media-relative.
        start: (m, k) device values 0 to 1 to begin from, k 3 or 4.
        table: (n^k, 3) Lab at equal steps of the device values, first channel slowest.
        limit: largest sum of device values that may be printed.
        good_enough: stop below this ΔE₀₀.

    Returns:
        device values (m, k), their Lab in the table (m, 3), ΔE₀₀ (m,).
    """
    want = np.ascontiguousarray(want, dtype=np.float64)
    device = np.array(start, dtype=np.float64, order="C")
    lab, delta = np.empty((len(want), 3)), np.empty(len(want))
    in_slices(
        len(want),
        lambda s: _nearest_rows(want[s], device[s], table, limit, good_enough, lab[s], delta[s]),
        small=500,
    )
    return device, lab, delta
