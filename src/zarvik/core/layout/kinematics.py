"""The end of a run of straights and bends, and how it moves with each of them; made to meet a goal by least squares.

A straight moves all behind it along its way, a bend turns it about its own centre, a roll about its way: a product of
exponentials (R. W. Brockett, 1984). The least squares are K. Levenberg's (1944) with D. W. Marquardt's (1963) damping,
short bases those of A. K. Lenstra, H. W. Lenstra, L. Lovász, Math. Ann. 261 (1982) 515.
"""

from __future__ import annotations

import math

import numpy as np

from zarvik.core.common.compiled import compiled


@compiled
def chain_end(
    bends: np.ndarray,
    radii: np.ndarray,
    sizes: np.ndarray,
    rolls: np.ndarray,
    size_of: np.ndarray,
    roll_of: np.ndarray,
    values: np.ndarray,
    start: np.ndarray,
    end: np.ndarray,
    jacobian: np.ndarray,
) -> float:
    """Length m of a chain; fills `end` (4x3: place m, and the three axes) and `jacobian` (7 x variables: place m, way,
    length m). For each piece: does it bend (`bends`, 0 or 1), its centreline radius m (`radii`), length m or angle rad
    (`sizes`), roll rad (`rolls`), and which of the `values` stands for its size and its roll (`size_of`, `roll_of`; -1
    none). `start`: 4x3 as `end`."""
    n = len(values)
    axis = np.zeros((n, 3))
    about = np.zeros((n, 3))
    what = np.zeros(n, np.int64)  # 1 moves, 2 turns
    longer = np.zeros(n)
    o, x, y, z = start[0].copy(), start[1].copy(), start[2].copy(), start[3].copy()
    length = 0.0
    for i in range(len(bends)):
        roll = rolls[i]
        k = roll_of[i]
        if k >= 0:
            roll = values[k]
            axis[k], about[k], what[k] = z, o, 2
        if roll != 0.0:
            c, s = math.cos(roll), math.sin(roll)
            x, y = c * x + s * y, c * y - s * x
        size = sizes[i]
        k = size_of[i]
        if k >= 0:
            size = values[k]
        if bends[i]:
            radius = radii[i]
            if k >= 0:
                axis[k], about[k], what[k], longer[k] = y, o + radius * x, 2, radius
            c, s = math.cos(size), math.sin(size)
            o = o + radius * (1.0 - c) * x + radius * s * z
            x, z = c * x - s * z, c * z + s * x
            length += radius * size
        else:
            if k >= 0:
                axis[k], what[k], longer[k] = z, 1, 1.0
            o = o + size * z
            length += size
    end[0], end[1], end[2], end[3] = o, x, y, z
    for k in range(n):
        for j in range(7):
            jacobian[j, k] = 0.0
        jacobian[6, k] = longer[k]
        a0, a1, a2 = axis[k, 0], axis[k, 1], axis[k, 2]
        if what[k] == 1:
            jacobian[0, k], jacobian[1, k], jacobian[2, k] = a0, a1, a2
        elif what[k] == 2:
            p0, p1, p2 = o[0] - about[k, 0], o[1] - about[k, 1], o[2] - about[k, 2]
            jacobian[0, k] = a1 * p2 - a2 * p1
            jacobian[1, k] = a2 * p0 - a0 * p2
            jacobian[2, k] = a0 * p1 - a1 * p0
            jacobian[3, k] = a1 * z[2] - a2 * z[1]
            jacobian[4, k] = a2 * z[0] - a0 * z[2]
            jacobian[5, k] = a0 * z[1] - a1 * z[0]
    return length


@compiled
def chain_miss(
    bends: np.ndarray,
    radii: np.ndarray,
    sizes: np.ndarray,
    rolls: np.ndarray,
    size_of: np.ndarray,
    roll_of: np.ndarray,
    values: np.ndarray,
    start: np.ndarray,
    goal: np.ndarray,
) -> tuple[float, float, float, float]:
    """How the end of a chain (`bends`, `radii`, `sizes`, `rolls`, `size_of`, `roll_of`, `values` and `start` as `chain_end` has
    them) misses the `goal` (2x3: place m, way): gap m along that way, offset m beside it, angle rad between both ways; and the
    length of the chain in m."""
    end = np.zeros((4, 3))
    jacobian = np.zeros((7, len(values)))
    length = chain_end(bends, radii, sizes, rolls, size_of, roll_of, values, start, end, jacobian)
    a, z = goal[1], end[3]
    apart = goal[0] - end[0]
    gap = apart[0] * a[0] + apart[1] * a[1] + apart[2] * a[2]
    beside = apart - gap * a
    offset = math.sqrt(beside[0] ** 2 + beside[1] ** 2 + beside[2] ** 2)
    c0, c1, c2 = z[1] * a[2] - z[2] * a[1], z[2] * a[0] - z[0] * a[2], z[0] * a[1] - z[1] * a[0]
    # By the sine for small angles, where the cosine knows nothing.
    angle = math.atan2(math.sqrt(c0**2 + c1**2 + c2**2), z[0] * a[0] + z[1] * a[1] + z[2] * a[2])
    return gap, offset, angle, length


@compiled
def reduce_basis(r: np.ndarray, moves: np.ndarray, share: float, rounds: int) -> None:
    """Make the basis with the upper triangle `r` (n x n, any one unit) a short one, in place, and with it `moves` (n x n, whole
    numbers), which make it from the vectors that it came from. `share` (0.25–1): by how much a vector has to be shorter to be put
    first; so many `rounds` (count) at the most."""
    n = r.shape[0]
    k, done = 1, 0
    while k < n and done < rounds:
        done += 1
        for j in range(k - 1, -1, -1):
            whole = np.rint(r[j, k] / r[j, j]) if r[j, j] != 0.0 else 0.0
            if whole != 0.0:
                for i in range(n):
                    r[i, k] -= whole * r[i, j]
                    moves[i, k] -= whole * moves[i, j]
        if r[k, k] ** 2 >= share * r[k - 1, k - 1] ** 2 - r[k - 1, k] ** 2:
            k += 1
            continue
        for i in range(n):
            r[i, k - 1], r[i, k] = r[i, k], r[i, k - 1]
            moves[i, k - 1], moves[i, k] = moves[i, k], moves[i, k - 1]
        # One turn of the two rows makes it a triangle again.
        a, b = r[k - 1, k - 1], r[k, k - 1]
        size = math.hypot(a, b)
        c, s = (a / size, b / size) if size != 0.0 else (1.0, 0.0)
        for i in range(k - 1, n):
            r[k - 1, i], r[k, i] = c * r[k - 1, i] + s * r[k, i], c * r[k, i] - s * r[k - 1, i]
        k = max(k - 1, 1)


@compiled
def solve_chain(
    bends: np.ndarray,
    radii: np.ndarray,
    sizes: np.ndarray,
    rolls: np.ndarray,
    size_of: np.ndarray,
    roll_of: np.ndarray,
    first: np.ndarray,
    begin: np.ndarray,
    start: np.ndarray,
    goal: np.ndarray,
    low: np.ndarray,
    high: np.ndarray,
    unit: np.ndarray,
    length: float,
    weights: np.ndarray,
    rounds: int,
) -> np.ndarray:
    """The values, from `first` on, near to `begin`, between `low` and `high`, with which a chain (`bends`, `radii`, `sizes`, `rolls`,
    `size_of`, `roll_of` and `start` as `chain_end` has them) ends in the `goal` (2x3: place m, way) and is `length` m long.
    `weights`: of place 1/m, way 1/rad, length 1/m and of how far each value goes from where it began, in its `unit`; so
    many `rounds` (count) at the most."""
    n = len(begin)
    values = np.minimum(np.maximum(first, low), high)
    end = np.zeros((4, 3))
    jacobian = np.zeros((7, n))
    trial_jacobian = np.zeros((7, n))
    r = np.zeros(7)
    damping = 1e-5
    long = chain_end(bends, radii, sizes, rolls, size_of, roll_of, values, start, end, jacobian)
    cost = _cost(end, goal, long - length, values, begin, unit, weights, r)
    normal = np.zeros((n, n))
    right = np.zeros(n)
    for _ in range(rounds):
        for a in range(n):
            total = 0.0
            for j in range(7):
                w = weights[0] if j < 3 else weights[1] if j < 6 else weights[2]
                total += w * jacobian[j, a] * r[j]
            far = weights[3] / unit[a]
            right[a] = -total - far * far * (values[a] - begin[a])
            for b in range(a, n):
                total = 0.0
                for j in range(7):
                    w = weights[0] if j < 3 else weights[1] if j < 6 else weights[2]
                    total += w * w * jacobian[j, a] * jacobian[j, b]
                if a == b:
                    total += far * far
                normal[a, b] = normal[b, a] = total
        # What stands at its limit and would go beyond it stays.
        shut = np.zeros(n, np.bool_)
        for a in range(n):
            shut[a] = (values[a] <= low[a] + 1e-12 and right[a] < 0.0) or (values[a] >= high[a] - 1e-12 and right[a] > 0.0)
        step = damped_step(normal, right, damping, shut)
        trial = np.minimum(np.maximum(values + step, low), high)
        long = chain_end(bends, radii, sizes, rolls, size_of, roll_of, trial, start, end, trial_jacobian)
        kept = r.copy()
        new = _cost(end, goal, long - length, trial, begin, unit, weights, r)
        if new < cost:
            moved = 0.0
            for a in range(n):
                moved = max(moved, abs(trial[a] - values[a]) / unit[a])
                values[a] = trial[a]
            jacobian[:] = trial_jacobian
            better = cost - new
            cost = new
            damping = max(0.1 * damping, 1e-13)
            # What the ends hardly feel moves last: only a hardly damped step that moves nothing is the end.
            if damping < 1e-11 and (moved < 1e-7 or better < 1e-9 * cost):
                break
        else:
            r[:] = kept
            damping *= 4.0
            if damping > 1e10:
                break
    return values


@compiled
def _cost(
    end: np.ndarray,
    goal: np.ndarray,
    longer: float,
    values: np.ndarray,
    begin: np.ndarray,
    unit: np.ndarray,
    weights: np.ndarray,
    r: np.ndarray,
) -> float:
    """Sum of squares; fills the weighted residuals `r`."""
    total = 0.0
    for j in range(3):
        r[j] = weights[0] * (end[0, j] - goal[0, j])
        r[3 + j] = weights[1] * (end[3, j] - goal[1, j])
    r[6] = weights[2] * longer
    for j in range(7):
        total += r[j] * r[j]
    for a in range(len(values)):
        far = weights[3] * (values[a] - begin[a]) / unit[a]
        total += far * far
    return total


@compiled
def damped_step(normal: np.ndarray, right: np.ndarray, damping: float, shut: np.ndarray) -> np.ndarray:
    """The step of the `normal` equations with their `right` side, by Cholesky's square root, in the units of the unknowns: `damping`, a
    share of the diagonal, more on it; unknowns that are `shut` stay."""
    n = len(right)
    root = np.zeros((n, n))
    found = np.zeros(n)
    for i in range(n):
        for j in range(i + 1):
            if shut[i] or shut[j]:
                total = 1.0 if i == j else 0.0
            else:
                total = normal[i, j]
                if i == j:
                    total += damping * normal[i, i] + 1e-12
            for k in range(j):
                total -= root[i, k] * root[j, k]
            root[i, j] = math.sqrt(max(total, 1e-30)) if i == j else total / root[j, j]
    for i in range(n):
        total = 0.0 if shut[i] else right[i]
        for k in range(i):
            total -= root[i, k] * found[k]
        found[i] = total / root[i, i]
    for i in range(n - 1, -1, -1):
        total = found[i]
        for k in range(i + 1, n):
            total -= root[k, i] * found[k]
        found[i] = total / root[i, i]
    return found
