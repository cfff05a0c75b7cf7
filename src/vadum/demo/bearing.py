"""The demonstration laboratory's bearing ratios and plate tests."""

from datetime import timedelta
from typing import Any

from vadum.demo.builder import Builder
from vadum.demo.soils import FILL_BELOW_PLUNGER, FORMATION, RAFT_LEVEL, SUBGRADE_BELOW_PLUNGER
from vadum.records.saving import Change, save
from vadum.records.tables import now

_PRESS = ("Balance 5", "Oven 1")


def bearing(lab: Builder) -> None:
    """Add a mould of the fill, a test in the ground at TP4, plates at BP1 and P1, some of them under way."""
    g1 = lab.place("BP1").samples[0]
    lab.test(g1, "cbr-lab", FILL_BELOW_PLUNGER, tools=_PRESS, mistakes=frozenset({"reading-missed"}))
    lab.test(
        lab.place("TP4"), "cbr-in-situ", SUBGRADE_BELOW_PLUNGER, tools=_PRESS, mistakes=frozenset({"reaction-lifted"})
    )
    limits: dict[str, Any] = {"required_ev2_mpa": 80.0, "required_ratio": 2.5}
    lab.test(lab.place("BP1"), "plate-static", FORMATION, tools=(), settings=limits)
    raft = lab.place("P1")
    lab.test(raft, "plate-incremental", RAFT_LEVEL, tools=())
    held = lab.test(raft, "plate-incremental", RAFT_LEVEL, tools=(), state="running", rows=38, drop=("ended",))
    cells = {"stage_started_at": (now() - timedelta(minutes=4)).isoformat()}
    save(lab.session, held, Change(base_revision=held.revision, who="technician 1", cells=cells))
    lab.test(lab.place("BP1"), "plate-static", FORMATION, tools=(), state="running", rows=3, keep_plan=True)
    lab.test(g1, "cbr-lab", FILL_BELOW_PLUNGER, tools=(*_PRESS, "Ring 20"), state="planned")
