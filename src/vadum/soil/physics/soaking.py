"""Water that goes into the ground from a ring, a hole or a pit."""

from dataclasses import dataclass
from math import log, sqrt

from vadum.soil.physics.published import published


@published("rate through wall and base", "i = r/(2 t) ln((2 h1 + r)/(2 h2 + r))", "van Hoorn (1979)")
def wall_and_base_mm_min(radius_mm: float, from_mm: float, to_mm: float, minutes: float) -> float:
    """Return the rate at which a round hole takes water through wall and base, mm/min.

    Arguments
    ---------
    radius_mm : of the hole
    from_mm, to_mm : depth of the water above the base, before and after
    minutes : between the two

    Of pi r^2 dh/dt = -i (2 pi r h + pi r^2), the gradient taken as one. The fall itself is faster: near h/r of 2 five
    times. Source: van Hoorn (1979), inversed auger-hole method, in Drainage Principles and Applications, ILRI 16.

    >>> round(wall_and_base_mm_min(75.0, 150.0, 120.0, 30.0), 4)
    0.2179
    """
    return radius_mm / (2 * minutes) * log((2 * from_mm + radius_mm) / (2 * to_mm + radius_mm))


@dataclass(frozen=True)
class Pit:
    """A pit with a rectangular base, sides straight up or leaning; all in mm. ``full_mm`` is the water when it is full.

    ``voids`` is the share of water in it: 1 when it is empty, about 0.35 filled with clean stone.
    """

    length_mm: float
    width_mm: float
    top_length_mm: float
    top_width_mm: float
    full_mm: float
    voids: float = 1.0

    def plan(self, at_mm: float) -> tuple[float, float]:
        """Return length and width of the water's surface at a depth of water."""
        share = at_mm / self.full_mm
        return (
            self.length_mm + share * (self.top_length_mm - self.length_mm),
            self.width_mm + share * (self.top_width_mm - self.width_mm),
        )

    def volume_m3(self, at_mm: float) -> float:
        """Return the water in it at a depth: a prismatoid's volume, times the voids."""
        length, width = self.plan(at_mm)
        middle_length, middle_width = self.plan(at_mm / 2)
        area = self.length_mm * self.width_mm + 4 * middle_length * middle_width + length * width
        return self.voids * at_mm / 6 * area / 1e9

    def wetted_m2(self, at_mm: float) -> float:
        """Return base and sides up to a depth of water."""
        length, width = self.plan(at_mm)
        lean_length, lean_width = (length - self.length_mm) / 2, (width - self.width_mm) / 2
        ends = (self.width_mm + width) * sqrt(at_mm**2 + lean_length**2)
        sides = (self.length_mm + length) * sqrt(at_mm**2 + lean_width**2)
        return (self.length_mm * self.width_mm + ends + sides) / 1e6


@published("soil infiltration rate", "f = V(75−25) / (a50 t(75−25))", "BRE Digest 365 (2016)")
def soakage_m_s(pit: Pit, minutes: float) -> float:
    """Return the rate at which a pit soaks away, m/s.

    Arguments
    ---------
    minutes : in which the water falls from three quarters to one quarter of the full depth

    The volume between the two over the time and the base with the sides up to half the depth. Source: BRE Digest 365.

    >>> round(soakage_m_s(Pit(2000, 1000, 2000, 1000, 1500), 90.0) * 1e6, 2)  # 1.5 m3 over 6.5 m2 in 5400 s
    42.74
    """
    volume = pit.volume_m3(0.75 * pit.full_mm) - pit.volume_m3(0.25 * pit.full_mm)
    return volume / (pit.wetted_m2(0.5 * pit.full_mm) * 60 * minutes)


@published("infiltration velocity", "v = ΔV/(A Δt)", "ASTM D3385")
def ring_velocity_mm_min(volume_cm3: float, area_cm2: float, minutes: float) -> float:
    """Return how fast water goes into the ground within a ring, mm/min.

    Arguments
    ---------
    volume_cm3 : that kept the level up over the interval
    area_cm2 : of the ring, or of the space between two

    >>> ring_velocity_mm_min(707.0, 707.0, 10.0)
    1.0
    """
    return 10 * volume_cm3 / (area_cm2 * minutes)
