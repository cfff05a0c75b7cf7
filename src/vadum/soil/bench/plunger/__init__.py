"""The bearing ratio in the mould and in the ground: a plunger pressed into soil, its curve, its construction."""
