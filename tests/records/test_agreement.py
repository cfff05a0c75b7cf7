"""What the ground beside a sample says of it."""

import numpy as np
import pytest
from sqlmodel import select

from tests.records.small_laboratory import TECHNICIAN
from vadum.records import agreement
from vadum.records.saving import Change, save
from vadum.records.tables import Sample, Test
from vadum.soil.registry import METHODS


def test_a_depth_that_a_stone_spoilt_is_no_strength_of_the_sample(session, monkeypatch):
    vane, sample = METHODS["vane"], session.exec(select(Sample)).one()
    rng = np.random.default_rng(1)
    readings = vane.virtual(vane.a_soil(rng), vane.Settings(), rng).model_dump(mode="json", exclude_none=True)
    depth = (sample.top_m + sample.base_m) / 2
    row = readings["profile"][4] | {"depth_m": depth}
    stone = row | {"depth_m": depth + 0.1, "peak": row["peak"] * 3, "left_out": "a stone"}
    profile = [row, stone]
    test = Test(method="vane", location_id=sample.location_id)
    session.add(test)
    session.commit()
    cells = {name: str(value) for name, value in readings.items() if not isinstance(value, list)}
    cells |= {f"profile.{i}.{key}": str(value) for i, one in enumerate(profile) for key, value in one.items()}
    save(session, test, Change(base_revision=0, who=TECHNICIAN, cells=cells, save_key="a-vane-with-a-stone"))
    test.state, test.summary = "reduced", test.summary | {"reportable": True}
    session.commit()
    session.refresh(sample)
    monkeypatch.setattr(agreement, "consistency", lambda facts, symbol: facts)
    alone = vane.reduce_raw(readings | {"profile": [row]}).computed["profile.0.su_kpa"]
    assert agreement.disagreements(session, sample)["su_vane"].value == pytest.approx(alone)
