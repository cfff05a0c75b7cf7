"""The virtual soils of the demonstration laboratory: their truth is written here and nowhere in its records."""

from vadum.soil.physics.constant_head import SoilClass
from vadum.soil.virtual.augered_ground import AugeredGround
from vadum.soil.virtual.box_soil import BoxSoil
from vadum.soil.virtual.cell_clay import CellClay
from vadum.soil.virtual.clay_cylinder import ClayCylinder
from vadum.soil.virtual.compaction_soil import CompactionSoil
from vadum.soil.virtual.drilled_ground import DrilledGround
from vadum.soil.virtual.grain_soil import GrainSoil
from vadum.soil.virtual.holding_soil import HoldingSoil
from vadum.soil.virtual.liming_soil import LimingSoil
from vadum.soil.virtual.packed_soil import PackedSoil
from vadum.soil.virtual.plastic_soil import PlasticSoil
from vadum.soil.virtual.plate_soil import ElasticPlateSoil, YieldingPlateSoil
from vadum.soil.virtual.plunger_soil import PlungerSoil
from vadum.soil.virtual.soaked_ground import SoakedGround
from vadum.soil.virtual.soft_clay import SoftClay
from vadum.soil.virtual.thirsty_ground import ThirstyGround
from vadum.soil.virtual.washed_soil import WashedSoil

FAT_CLAY = PlasticSoil(liquid_limit=61.4, plastic_limit=24.6, flow_index=15.8, natural_water_content=33.2, scatter=0.2)
LEAN_CLAY = PlasticSoil(liquid_limit=38.2, plastic_limit=19.7, flow_index=9.6, natural_water_content=22.8, scatter=0.2)
SANDY_CLAY = PlasticSoil(liquid_limit=31.3, plastic_limit=17.2, flow_index=7.9, natural_water_content=16.4, scatter=0.2)
SILT = PlasticSoil(liquid_limit=44.1, plastic_limit=31.5, flow_index=11.2, natural_water_content=36.0, scatter=0.2)
SANDY_CLAY_GRAINS = GrainSoil(0.045, 0.35, 0.75, 1.6, particle_density=2.69, largest_mm=4.75)
FAT_CLAY_GRAINS = GrainSoil(0.004, 0.28, 1.0, 1.5, particle_density=2.74, largest_mm=2.0)
SILT_GRAINS = GrainSoil(0.022, 0.9, 1.2, 0.8, particle_density=2.67, largest_mm=2.0)
GRAVELLY_SAND_GRAINS = GrainSoil(1.6, 0.95, 0.8, 1.5, particle_density=2.65, largest_mm=19.0)
SILTY_SAND_GRAINS = GrainSoil(0.24, 0.55, 1.3, 0.9, particle_density=2.66, largest_mm=9.5)
FILL = CompactionSoil(optimum_percent=8.4, maximum_dry_density=2.05, bend=0.006, particle_density=2.65)
CLAY_FILL = CompactionSoil(optimum_percent=15.2, maximum_dry_density=1.80, bend=0.005, particle_density=2.69)
IN_PLACE_CLAY = PackedSoil(dry_density=1.58, water_content=22.8, particle_density=2.71)
IN_PLACE_FILL = PackedSoil(dry_density=1.93, water_content=7.1, particle_density=2.65, stones_percent=24.0)
FILL_BELOW_PLUNGER = PlungerSoil(stiffness_kn_mm=1.38, straight_mm=1.6, bend_mm=2.8, bedding_mm=0.34)
SUBGRADE_BELOW_PLUNGER = PlungerSoil(stiffness_kn_mm=0.52, straight_mm=1.5, bend_mm=2.4, bedding_mm=0.22)
FORMATION = ElasticPlateSoil(first=(5.9, -1.9), again=(2.55, -0.45), left_mm=1.32)
RAFT_LEVEL = YieldingPlateSoil("straight", yield_kpa=305.0, stiffness_kpa_mm=62.0, steeper=7.0, creep_min=1.4)
# Constants of the vane in the register that suits the soft ground.
VANE = {"constant": 2.33, "full_scale": 100.0, "diameter_mm": 65.0, "height_mm": 130.0}
SOFT_GROUND = SoftClay(22.0, 1.1, 16.0, 2.2, sensitivity=4.6, plasticity_index=37.0)
STIFF_CLAY = ClayCylinder(compressive_kpa=184.0, failure_percent=5.6, sensitivity=2.3, water_content=24.2)
BOX_SAND = BoxSoil(36.4, 31.2, 0.0, peak_mm=1.25, softening_mm=1.6, dilation_deg=4.8)
CELL_CLAY = CellClay(
    24.8, 6.0, pore_coefficient=0.42, failure_percent=6.2, undrained_kpa=74.0, t100_min=128.0, volume_percent=2.1
)
MEADOW = ThirstyGround(ks_mm_h=32.0, suction_mm=140.0, before=0.3, deficit=0.16)
SWALE = AugeredGround(kfs_mm_h=26.0, soil=SoilClass.LOAM, eager=0.8)
SILT_HOLDING = HoldingSoil(theta_r=0.06, theta_s=0.44, alpha=0.14, n=1.55, porosity=0.46, drains_days=0.55)
FILL_WITH_LIME = LimingSoil(bare_ph=7.4, takes_percent=0.83)
SWALES = tuple(SoakedGround(rate_mm_h=rate, eager=0.2) for rate in (27.0, 19.0, 34.0, 23.0))
RIVER_SILT = DrilledGround(k_m_s=8.5e-7, rest_m=2.42)
DRAIN_SAND = WashedSoil(sand_m_s=2.1e-4, silt_m_s=3e-7, dry_density_g_cm3=1.64)
