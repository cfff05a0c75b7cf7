"""What a worksheet and a run mode are told: one shape that first render, live preview and save all answer with."""

from vadum.web.view.models import RecordView, SheetView, Verdict
from vadum.web.view.sheet import folded_runs, run_view, sheet_view, verdict

__all__ = ["RecordView", "SheetView", "Verdict", "folded_runs", "run_view", "sheet_view", "verdict"]
