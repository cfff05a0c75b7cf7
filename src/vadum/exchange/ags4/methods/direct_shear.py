"""Fills SHBG and SHBT."""

from vadum.exchange.ags4.sent import Row, Sent


def fill(t: Sent) -> list[Row]:
    general = {
        "SHBG_TYPE": "SMALL SBOX",
        "SHBG_PCOH": t.value("cohesion_peak"),
        "SHBG_PHI": t.value("friction_peak"),
        "SHBG_REM": f"End of travel, not residual: {t.text('friction_end')} deg" if t.value("friction_end") else None,
    }
    stages = [
        {
            "SHBT_TESN": str(k + 1),
            "SHBT_BDEN": t.at(f"specimens.{k}.density"),
            "SHBT_DDEN": t.at(f"after.{k}.dry_density"),
            "SHBT_NORM": normal,
            "SHBT_DISP": t.readings.rate_mm_min,
            "SHBT_PEAK": t.at(f"specimens.{k}.peak_kpa"),
            "SHBT_PDIS": t.at(f"after.{k}.peak_mm"),
            "SHBT_PDEN": t.readings.particle_density,
            "SHBT_IVR": t.at(f"after.{k}.void_ratio"),
            "SHBT_MCI": t.at(f"after.{k}.water_content"),
            "SHBT_HGT": specimen.height_mm,
        }
        for k, specimen in enumerate(t.readings.specimens)
        if (normal := t.at(f"specimens.{k}.normal_kpa")) is not None
    ]
    return [("SHBG", general), *(("SHBT", stage) for stage in stages)]
