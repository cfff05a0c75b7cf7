"""Ground in layers whose penetration per blow is known."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class LayeredGround:
    """The truth: thickness in mm and penetration in mm per blow of the 8 kg hammer, from the top."""

    layers: tuple[tuple[float, float], ...]

    @property
    def deep_mm(self) -> float:
        return sum(thick for thick, _ in self.layers)

    def after(self, depth_mm: float, factor: float = 1.0) -> float:
        """Return how deep the cone stands after one more blow that does ``1 / factor`` of the work."""
        work, at, top = 1.0 / factor, depth_mm, 0.0
        for thick, per_blow in self.layers:
            top += thick
            if at >= top:
                continue
            went = min(work * per_blow, top - at)
            at, work = at + went, work - went / per_blow
            if work <= 1e-12:
                return at
        return at + work * self.layers[-1][1]


def a_layered_ground(rng: np.random.Generator) -> LayeredGround:
    """Return believable ground below a road: two or three layers, each clearly softer or stiffer than the one above."""
    count = int(rng.integers(2, 4))
    per_blow = float(np.exp(rng.uniform(np.log(3), np.log(15))))
    made: list[tuple[float, float]] = []
    for _ in range(count):
        made.append((float(rng.uniform(180, 350)), per_blow))
        step = float(rng.uniform(1.8, 3.0))
        per_blow = per_blow * step if per_blow < 14 else per_blow / step
    return LayeredGround(tuple(made))
