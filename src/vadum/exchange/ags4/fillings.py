"""Which methods go out, by their code."""

from collections.abc import Callable

from vadum.exchange.ags4 import ground, laboratory
from vadum.exchange.ags4.sent import Row, Sent

# Classification and inspections have no group; water retention has none either.
FILLINGS: dict[str, Callable[[Sent], list[Row]]] = {
    "water-content": laboratory.water_content,
    "liquid-limit": laboratory.liquid_limit,
    "plastic-limit": laboratory.plastic_limit,
    "particle-density": laboratory.particle_density,
    "sieve": laboratory.sieve,
    "hydrometer": laboratory.hydrometer,
    "ring-density": laboratory.ring_density,
    "compaction": laboratory.compaction,
    "cbr-lab": laboratory.cbr,
    "unconfined": laboratory.unconfined,
    "direct-shear": laboratory.direct_shear,
    "triaxial": laboratory.triaxial,
    "lime-demand": laboratory.lime_demand,
    "excavation-density": ground.excavation_density,
    "cbr-in-situ": ground.cbr,
    "vane": ground.vane,
    "plate-static": ground.plate_static,
    "plate-incremental": ground.plate_incremental,
    "falling-head": ground.falling_head,
    "well-permeameter": ground.well_permeameter,
}
