"""Unsaturated flow below a cylinder by finite volumes: a second way that shares nothing with the wetting-front model.

Richards' equation in a cylinder's symmetry, implicit in time, iterated as Celia, Bouloutas and Zarba (1990), Water
Resources Research 26, 1483-1496; soil after van Genuchten (1980) and Mualem. Lengths in mm, times in minutes.
"""

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.linalg import spsolve


@dataclass(frozen=True)
class Loam:
    """Water retention and conductivity of a soil."""

    residual: float
    saturated: float
    alpha_mm: float
    n: float
    ks_mm_min: float

    def water(self, head):
        return self.residual + (self.saturated - self.residual) * self._filled(head)

    def _filled(self, head):
        m = 1 - 1 / self.n
        return np.where(head < 0, (1 + (self.alpha_mm * np.maximum(-head, 1e-12)) ** self.n) ** -m, 1.0)

    def capacity(self, head):
        step = 0.01
        return np.where(head < -step, (self.water(head + step) - self.water(head - step)) / (2 * step), 0.0)

    def conductivity(self, head):
        filled = np.minimum(self._filled(head), 1.0)
        m = 1 - 1 / self.n
        return self.ks_mm_min * np.sqrt(filled) * (1 - (1 - filled ** (1 / m)) ** m) ** 2


def _edges(fine, until, step, last):
    edges = list(np.arange(0, until + step / 2, fine))
    while edges[-1] < last:
        edges.append(edges[-1] + 1.25 * (edges[-1] - edges[-2]))
    return np.array(edges)


class Column:
    """Ground around a cylinder of radius ``radius`` driven ``embedded`` deep; water stands in it ``start`` high."""

    def __init__(self, soil, radius, embedded, start, before, fine=5.0):
        self.soil, self.radius, self.start = soil, radius, start
        r, z = _edges(fine, 2 * radius, fine, 380.0), _edges(fine, 3 * embedded, fine, 460.0)
        self.nr, self.nz = len(r) - 1, len(z) - 1
        rm, zm = (r[1:] + r[:-1]) / 2, (z[1:] + z[:-1]) / 2
        ring = np.pi * (r[1:] ** 2 - r[:-1] ** 2)
        self.volume = np.outer(ring, np.diff(z)).ravel()
        cell = np.arange(self.nr * self.nz).reshape(self.nr, self.nz)
        wall = np.isclose(r, radius).argmax()
        pairs = []
        for i in range(self.nr - 1):
            for j in range(self.nz):
                if i + 1 == wall and z[j + 1] <= embedded + 1e-9:
                    continue
                area = 2 * np.pi * r[i + 1] * (z[j + 1] - z[j])
                pairs.append((cell[i, j], cell[i + 1, j], area / (rm[i + 1] - rm[i]), 0.0))
        for i in range(self.nr):
            for j in range(self.nz - 1):
                pairs.append((cell[i, j], cell[i, j + 1], ring[i] / (zm[j + 1] - zm[j]), ring[i]))
        self.a, self.b = (np.array([p[k] for p in pairs], dtype=int) for k in (0, 1))
        self.over, self.down = (np.array([p[k] for p in pairs]) for k in (2, 3))
        self.inside = cell[:wall, 0]
        self.inlet, self.ring = ring[:wall] / zm[0], ring[:wall]
        # Head at which the soil holds what it held before.
        low, high = -1e6, -1e-3
        for _ in range(200):
            middle = -np.sqrt(low * high)
            low, high = (middle, high) if soil.water(np.array(middle)) < before else (low, middle)
        self.head = np.full(self.nr * self.nz, -np.sqrt(low * high))

    def _step(self, level, minutes):
        """Return heads after a step, and the water that went in, mm3."""
        soil, old = self.soil, self.soil.water(self.head)
        head, count = self.head.copy(), len(self.head)
        for _ in range(30):
            k = soil.conductivity(head)
            between = (k[self.a] + k[self.b]) / 2 * self.over
            fall = (k[self.a] + k[self.b]) / 2 * self.down
            entry = (soil.ks_mm_min + k[self.inside]) / 2
            capacity = soil.capacity(head) * self.volume / minutes
            diagonal = capacity + 1e-9 * self.volume / minutes
            np.add.at(diagonal, self.a, between)
            np.add.at(diagonal, self.b, between)
            diagonal[self.inside] += entry * self.inlet
            rows = np.concatenate([np.arange(count), self.a, self.b])
            columns = np.concatenate([np.arange(count), self.b, self.a])
            matrix = csr_matrix((np.concatenate([diagonal, -between, -between]), (rows, columns)))
            right = (capacity + 1e-9 * self.volume / minutes) * head
            right -= self.volume / minutes * (soil.water(head) - old)
            np.add.at(right, self.a, -fall)
            np.add.at(right, self.b, fall)
            right[self.inside] += entry * (self.inlet * level + self.ring)
            new = spsolve(matrix, right)
            change = float(np.abs(soil.water(new) - soil.water(head)).max())
            head = new
            if change < 1e-4:
                k = soil.conductivity(head)
                entry = (soil.ks_mm_min + k[self.inside]) / 2
                went = float((entry * (self.inlet * (level - head[self.inside]) + self.ring)).sum()) * minutes
                return head, went
        return None, 0.0

    def fall(self, left):
        """Return minutes and levels until only the share ``left`` of the start stands in the cylinder."""
        area, level, t, step = np.pi * self.radius**2, self.start, 0.0, 1e-3
        minutes, levels = [0.0], [level]
        while level > left * self.start and len(minutes) < 4000:
            head, went = self._step(level, step)
            if head is None or went / area > 0.03 * self.start:
                step *= 0.4
                continue
            # The level at the middle of the step: the water went in while it fell.
            head, went = self._step(max(level - went / area / 2, 0.0), step)
            if head is None:
                step *= 0.4
                continue
            self.head, level, t = head, level - went / area, t + step
            minutes.append(t)
            levels.append(level)
            step = min(1.3 * step, 0.02 * self.start / max(went / area / step, 1e-9))
        return np.array(minutes), np.array(levels)
