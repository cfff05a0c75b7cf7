"""The demonstration laboratory's tests by name, so that a test says what it looks at.

``tests/test_laboratory.py`` tells when the laboratory's order changes and a name is of another test.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Shown:
    """What stands behind a name: the method, where its soil or equipment is, and how far it is."""

    method: str
    of: str
    state: str


CUP_INSPECTION_CUP_1 = 1
WATER_CONTENT_B1 = 3
LIQUID_LIMIT_B1 = 4
PLASTIC_LIMIT_B1 = 5
LIQUID_LIMIT_U2 = 7
PLASTIC_LIMIT_U2 = 8
LIQUID_LIMIT_B3 = 9
WATER_CONTENT_U5 = 15
WATER_CONTENT_U1_1 = 18
LIQUID_LIMIT_D2 = 23
PARTICLE_DENSITY_B3 = 24
HYDROMETER_B3 = 26
CLASSIFICATION_B3 = 27
RING_DENSITY_U2 = 30
HYDROMETER_U1 = 31
HYDROMETER_B4 = 33
SIEVE_G1 = 34
COMPACTION_G1 = 35
EXCAVATION_DENSITY_G1 = 36
SIEVE_G2 = 38
COMPACTION_B3 = 39
CLASSIFICATION_D1 = 40
WATER_CONTENT_B3 = 41
CBR_LAB_G1_1 = 42
CBR_IN_SITU_TP4 = 43
PLATE_INCREMENTAL_P1_1 = 45
CBR_LAB_G1_2 = 48
VANE_BH2 = 49
UNCONFINED_U2 = 50
UNCONFINED_U5 = 53
FALLING_HEAD_W1_1 = 54
WELL_PERMEAMETER_W1 = 55
LIME_DEMAND_G1_1 = 57
FALLING_HEAD_W1_2 = 58
LIME_DEMAND_G1_2 = 59

WHAT = {
    CUP_INSPECTION_CUP_1: Shown("cup-inspection", "Cup 1", "reduced"),
    WATER_CONTENT_B1: Shown("water-content", "B1", "checked"),
    LIQUID_LIMIT_B1: Shown("liquid-limit", "B1", "checked"),
    PLASTIC_LIMIT_B1: Shown("plastic-limit", "B1", "checked"),
    LIQUID_LIMIT_U2: Shown("liquid-limit", "U2", "running"),
    PLASTIC_LIMIT_U2: Shown("plastic-limit", "U2", "running"),
    LIQUID_LIMIT_B3: Shown("liquid-limit", "B3", "reduced"),
    WATER_CONTENT_U5: Shown("water-content", "U5", "running"),
    WATER_CONTENT_U1_1: Shown("water-content", "U1", "planned"),
    LIQUID_LIMIT_D2: Shown("liquid-limit", "D2", "planned"),
    PARTICLE_DENSITY_B3: Shown("particle-density", "B3", "checked"),
    HYDROMETER_B3: Shown("hydrometer", "B3", "reduced"),
    CLASSIFICATION_B3: Shown("classification", "B3", "reduced"),
    RING_DENSITY_U2: Shown("ring-density", "U2", "reduced"),
    HYDROMETER_U1: Shown("hydrometer", "U1", "running"),
    HYDROMETER_B4: Shown("hydrometer", "B4", "running"),
    SIEVE_G1: Shown("sieve", "G1", "checked"),
    COMPACTION_G1: Shown("compaction", "G1", "reduced"),
    EXCAVATION_DENSITY_G1: Shown("excavation-density", "G1", "reduced"),
    SIEVE_G2: Shown("sieve", "G2", "running"),
    COMPACTION_B3: Shown("compaction", "B3", "running"),
    CLASSIFICATION_D1: Shown("classification", "D1", "running"),
    WATER_CONTENT_B3: Shown("water-content", "B3", "running"),
    CBR_LAB_G1_1: Shown("cbr-lab", "G1", "reduced"),
    CBR_IN_SITU_TP4: Shown("cbr-in-situ", "TP4", "reduced"),
    PLATE_INCREMENTAL_P1_1: Shown("plate-incremental", "P1", "reduced"),
    CBR_LAB_G1_2: Shown("cbr-lab", "G1", "planned"),
    VANE_BH2: Shown("vane", "BH2", "reduced"),
    UNCONFINED_U2: Shown("unconfined", "U2", "reduced"),
    UNCONFINED_U5: Shown("unconfined", "U5", "running"),
    FALLING_HEAD_W1_1: Shown("falling-head", "W1", "reduced"),
    WELL_PERMEAMETER_W1: Shown("well-permeameter", "W1", "reduced"),
    LIME_DEMAND_G1_1: Shown("lime-demand", "G1", "reduced"),
    FALLING_HEAD_W1_2: Shown("falling-head", "W1", "running"),
    LIME_DEMAND_G1_2: Shown("lime-demand", "G1", "planned"),
}
