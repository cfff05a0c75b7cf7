"""The worksheet and run mode of one test, and their live connection."""

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Annotated, Any, TypeVar

from fastapi import APIRouter, Form, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import AwareDatetime, BaseModel, Field, field_validator
from sqlalchemy import Engine
from sqlalchemy.orm import selectinload
from sqlmodel import Session, col, select

from vadum.bench.recorded import clock_of
from vadum.exchange.readings_import import targets
from vadum.records.apart import told_apart
from vadum.records.brought import constants_in
from vadum.records.calibrations import begun_of, calibrations_by_piece, pieces_with_uses
from vadum.records.conditions import on_soil
from vadum.records.context import Beside, footing, tests_beside
from vadum.records.database import session_on, writing
from vadum.records.footing import Lean
from vadum.records.pieces import not_said
from vadum.records.practice import guidance
from vadum.records.proposed import asks, is_proposed
from vadum.records.regrouping import once_more, to_sample
from vadum.records.saving import Change, locked, save, saved_as
from vadum.records.standing import FROZEN, Standing, standing_of
from vadum.records.states import (
    NEEDS_REASON,
    OF_CHECKERS,
    RefusedMove,
    found_mark,
    lacking_competence,
    move,
    moved_now,
    moves_of,
    was_moved,
)
from vadum.records.tables import Check, Sample, Test
from vadum.records.times import times_of
from vadum.records.together import hole_of, samples_around, with_places
from vadum.records.unchanged import hold, under
from vadum.records.units import units_of_test
from vadum.report.issuing import issue, issued_by_test, issued_of
from vadum.report.sheet import kept_words
from vadum.soil.contract.cells import Sheet, enter
from vadum.soil.contract.loads import as_pressures
from vadum.soil.registry import method as method_of
from vadum.web.access import require
from vadum.web.column import ground_column
from vadum.web.rendering import STATE_WORDS, Db, Who, get, page, seen, template_exists, to, who
from vadum.web.view import RecordView, run_view, sheet_view
from vadum.web.view.models import Due, Leaning, Moving, PreviewView

T = TypeVar("T")
router = APIRouter()
_MOST_CELLS = 4000
# Kinds of equipment that stay in the laboratory when the others go to the ground.
_AT_HOME = {"oven", "balance"}


class FigureBox(BaseModel):
    """Room for the figure on the screen, px."""

    width: float = Field(660, ge=260, le=2400)
    height: float = Field(600, ge=220, le=2000)


class Shown(BaseModel):
    """What of the sheet the page shows: the answer is drawn for that."""

    box: FigureBox = FigureBox()
    figure: str = Field("", max_length=40)
    unfolded: int | None = Field(None, ge=0, le=10000, description="row of the run that stands open in a long table")


class Preview(Shown):
    """Cells being typed, not yet saved."""

    cells: dict[str, str] = Field(default_factory=dict, max_length=_MOST_CELLS)

    @field_validator("cells")
    @classmethod
    def _whole_signs(cls, cells: dict[str, str]) -> dict[str, str]:
        for path, text in cells.items():
            if any("\ud800" <= sign <= "\udfff" for sign in text):
                raise ValueError(f"{path[:80]} holds half a sign, which cannot be kept; type it again")
        return cells


class Save(Preview):
    """A change to be saved on top of the revision the person was looking at."""

    base_revision: int
    save_key: str = Field(min_length=8, max_length=64)
    settings: dict[str, Any] = Field(default_factory=dict)
    logs: dict[str, None] = Field(default_factory=dict)
    uses: list[int] | None = None
    bindings: dict[str, str] | None = Field(None, max_length=200)
    origins: dict[str, dict[str, str]] = Field(default_factory=dict, max_length=_MOST_CELLS)
    reason: str = Field("", max_length=400)
    typed_at: AwareDatetime | None = Field(None, description="when it was typed, by the laboratory's clock")
    typed_by: str = Field("", max_length=80, description="who typed it; another person signed in does not save it")


class Move(Shown):
    """The test's next state."""

    action: str
    reason: str = Field("", max_length=400)
    base_revision: int | None = Field(None, ge=0, description="the revision that was looked at: another is refused")
    found: str | None = Field(None, max_length=64, description="the sheet's `found`: what it found then")
    save_key: str | None = Field(None, min_length=8, max_length=64, description="names it: sent twice it counts once")


@router.get("/tests/{test_id}", response_class=HTMLResponse)
def worksheet(request: Request, session: Db, test_id: int) -> HTMLResponse:
    return _worksheet(request, session, get(session, Test, test_id, "test"))


def _worksheet(request: Request, session: Session, test: Test, problem: str = "") -> HTMLResponse:
    method = method_of(test.method)
    own = f"worksheet/{method.code}.html"
    # What the sheet leans on is among them: read here, nothing of it is asked for again.
    beside, equipment, column = _beside(session, test), pieces_with_uses(session, test), _column(session, test)
    return page(
        request,
        own if template_exists(own) else "worksheet/shell.html",
        status_code=409 if problem else 200,
        problem=problem,
        beside=beside,
        test=test,
        method=method,
        view=_opened(request, session, test),
        column=column,
        equipment=equipment,
        mix=_mix(session, test),
        can_import=not locked(test) and bool(targets(method.Readings)),
    )


def _column(session: Session, test: Test) -> str | None:
    return ground_column(hole_of(session, test.ground), chosen=test.sample, narrow=True) if test.ground else None


@router.get("/tests/{test_id}/run", response_class=HTMLResponse)
def run(request: Request, session: Db, test_id: int, one: bool = False) -> Any:
    """Show run mode: the method's own where it has one, else (or with ``one``) its readings one by one."""
    test = get(session, Test, test_id, "test")
    # On the virtual bench only a run mode whose clock the bench knows.
    practised = not test.practice or bool(method_of(test.method).clocked)
    own = f"run/{test.method}.html" if practised else ""
    if locked(test):
        return to(request, "worksheet", test_id=test_id)
    carried = run_together(request, session, test)
    read_at_once(session, carried)
    called = told_apart(carried)
    return page(
        request,
        own if template_exists(own) and not one else "run/steps.html",
        has_own=template_exists(own),
        one_by_one=one,
        test=test,
        method=method_of(test.method),
        view=_opened(request, session, test),
        set_up=_set_up(session, test),
        guidance=guidance(method_of(test.method)) if test.practice.get("guided") else {},
        together=[view(session, t) | {"name": called[t.id or 0] or "practice"} for t in carried],
    )


def _set_up(session: Session, test: Test) -> dict[str, Any] | None:
    """Return what is asked before a run in the ground begins: pieces of the kinds in use, and readings."""
    method = method_of(test.method)
    if not method.set_up or test.practice or _under_way(test):
        return None
    kinds = {piece.kind for piece in test.uses} - _AT_HOME
    pieces = [e for e in pieces_with_uses(session, test) if e.kind in kinds]
    words = [{"id": e.id, "kind": e.kind, "words": e.name + (f", {e.note}" if e.note else "")} for e in pieces]
    return {"fields": list(method.set_up), "pieces": words}


def _under_way(test: Test) -> bool:
    """Return whether any row holds more than what a new test begins with."""
    method = method_of(test.method)
    planned = method.begin(method.Settings.model_validate(test.settings), None)
    rows = {name: rows for name, rows in test.kept.items() if isinstance(rows, list)}
    return any(rows != planned.get(name, []) for name, rows in rows.items())


def run_together(request: Request, session: Session, test: Test) -> list[Test]:
    """Return the tests one run mode carries: this one and the others of its method under way that the person sees, then
    the planned ones."""
    most = method_of(test.method).run_together
    if most == 1 or test.practice:
        return [test]
    query = select(Test).where(
        Test.method == test.method, col(Test.state).in_(("running", "planned")), Test.id != test.id, on_soil()
    )
    with_uses: Any = selectinload(Test.uses)  # type: ignore[arg-type]
    others = seen(request, session.exec(with_places(query).options(with_uses)).all())
    begun_first = sorted(others, key=lambda t: (not t.readings.get("started_at"), t.state == "planned", t.id))
    return [test, *begun_first[: most - 1]]


def read_at_once(session: Session, tests: list[Test]) -> None:
    """Read what the sheets of several tests say of their record: nothing of it is asked for again."""
    begun_of(session, tests)
    times_of(session, tests)
    issued_by_test(session, tests)
    calibrations_by_piece(session, [piece for test in tests for piece in test.uses])
    tests_beside(session, [test.sample_id for test in tests if test.sample_id])


@router.get("/api/tests/{test_id}/sheet")
def read_sheet(session: Db, test_id: int) -> Response:
    """Return what the worksheet shows of the newest revision."""
    return JSONResponse(view(session, get(session, Test, test_id, "test")))


@router.post("/api/tests/{test_id}/preview")
def preview(request: Request, test_id: int, typed: Preview) -> Response:
    """Return what the worksheet would show with these cells; nothing is saved. What is checked shows nothing else."""
    return previewed(request.app.state.engine, test_id, typed)


def previewed(engine: Engine, test_id: int, typed: Preview) -> Response:
    """Return the answer to a preview. Every key comes by here: a session is opened only where something was written
    since the last one."""

    def said_by(of: Callable[[Session, Test], T]) -> T:
        with session_on(engine) as session:
            return of(session, get(session, Test, test_id, "test"))

    saved = hold(engine, ("under", test_id), lambda: said_by(under))
    if saved.state in FROZEN:
        return JSONResponse(said_by(lambda session, test: view(session, test, typed) | {"basis": test.revision}))
    method, settings, context = method_of(saved.method), saved.settings, saved.context
    cells = as_pressures(method, method.Settings.model_validate(settings), typed.cells)
    sheet = enter(method.Readings, Sheet(saved.readings, saved.unread), cells)
    reduction = method.reduce_raw(sheet.readings, settings, context, sheet.unread)
    asked = ((typed.box.width, typed.box.height), typed.figure, typed.unfolded, saved.units)
    shown = sheet_view(method, sheet, settings, context, reduction, *asked, locked=saved.locked)
    told = PreviewView(**dict(shown), basis=saved.revision)
    return Response(told.json_text(), media_type="application/json")


@router.post("/api/tests/{test_id}/save")
def save_sheet(session: Db, who: Who, test_id: int, sent: Save) -> Response:
    """Save a change; the answer is the acknowledgement, with the sheet as it is now."""
    test = get(session, Test, test_id, "test")
    if sent.typed_by and sent.typed_by != who:
        said = f"{sent.typed_by} typed this and {who} is signed in: it waits in the browser for {sent.typed_by}."
        return JSONResponse({"message": said, "otherPerson": who}, status_code=403)
    change = Change(
        base_revision=sent.base_revision,
        who=who,
        cells=sent.cells,
        settings=sent.settings,
        logs=dict(sent.logs),
        uses=sent.uses,
        bindings=sent.bindings,
        origins=dict(sent.origins),
        reason=sent.reason,
        save_key=sent.save_key,
        typed_at=sent.typed_at,
    )
    standing = save(session, test, change)
    shown = view(session, test, sent, standing)
    return JSONResponse(shown | {"savedAs": saved_as(session, test, sent.save_key)})


@router.post("/api/tests/{test_id}/move")
def move_test(request: Request, session: Db, who: Who, test_id: int, sent: Move) -> dict[str, Any]:
    """Bring the test into its next state; checking, issuing and reopening what was issued need a checker."""
    test = get(session, Test, test_id, "test")
    if sent.action in OF_CHECKERS or test.state == "issued":
        require(request, "check")
    with writing(session):
        if was_moved(session, test, sent.action, sent.base_revision, sent.found, sent.save_key):
            return view(session, test, sent)
        if sent.action == "issue":
            issue(session, test, who, sent.save_key)
        else:
            move(session, test, sent.action, who=who, reason=sent.reason, save_key=sent.save_key)
    return view(session, test, sent)


@router.post("/tests/{test_id}/sample")
def to_another_sample(
    request: Request,
    session: Db,
    who: Who,
    test_id: int,
    sample_id: Annotated[int, Form()],
    reason: Annotated[str, Form(max_length=200)] = "",
) -> Response:
    """Say that a test is of another sample of its project."""
    test = get(session, Test, test_id, "test")
    try:
        to_sample(session, test, get(session, Sample, sample_id, "sample"), who, reason)
    except RefusedMove as error:
        return _worksheet(request, session, test, str(error))
    return to(request, "worksheet", test_id=test_id)


@router.post("/tests/{test_id}/again")
def again(request: Request, session: Db, test_id: int) -> Response:
    """Plan a test like this one, with its settings and equipment."""
    test = get(session, Test, test_id, "test")
    try:
        return to(request, "worksheet", test_id=once_more(session, test).id)
    except RefusedMove as error:
        return _worksheet(request, session, test, str(error))


def _beside(session: Session, test: Test) -> list[Sample]:
    """Return the other samples of the project that an open test may belong to."""
    if test.sample is None or test.state in FROZEN or test.state == "void":
        return []
    return [sample for sample in samples_around(session, test.sample.location) if sample.id != test.sample_id]


def _opened(request: Request, session: Session, test: Test) -> dict[str, Any]:
    """Return the sheet as a person opens it: with the tins there are, and what is asked of them first."""
    standing = standing_of(session, test)
    more = {"registered": sorted(standing.context.get("tins", {})), "proposed": asks(session, test, who(request))}
    return view(session, test, standing=standing) | more


def view(session: Session, test: Test, asked: Shown | None = None, standing: Standing | None = None) -> dict[str, Any]:
    """Return the sheet with the state of its record; ``standing`` is what the test says where that was just worked
    out."""
    standing, asked = standing or standing_of(session, test), asked or Shown()
    method, checked, moved = standing.method, standing.check, moved_now(session, test)
    sheet = sheet_view(
        method,
        standing.sheet,
        standing.settings,
        standing.context,
        standing.reduction,
        (asked.box.width, asked.box.height),
        asked.figure,
        asked.unfolded,
        units_of_test(test),
        locked=locked(test),
    )
    numbers = [one.number for one in issued_of(session, test)]
    sheet.verdict.next = _after_checking(test, checked, moved, numbers) or sheet.verdict.next
    shown = RecordView(
        **dict(sheet),
        **run_view(method, standing.sheet, standing.settings, standing.context),
        test=test.id,
        revision=test.revision,
        found=found_mark(test),
        state=test.state,
        state_words=STATE_WORDS[test.state],
        locked=locked(test),
        void_reason=test.void_reason,
        checked_by=checked.who if checked else "",
        issued=numbers,
        moves=[Moving(action=a, needs_reason=_needs_reason(session, test, a)) for a in moves_of(test, moved)],
        moved=moved,
        kept=kept_words(standing),
        leans=[_lean(session, lean) for lean in standing.leans if lean.test],
        offered=_offered(test, standing),
        not_named=(
            [] if test.state == "planned" else not_said(method, standing.readings, standing.settings, standing.pieces)
        ),
        uses=[e.id for e in test.uses],
        proposed=is_proposed(test),
        bindings=test.bindings,
        origins=test.origins,
        due=[
            Due(
                key=due.operation.key,
                what=due.operation.what,
                due=due.due.isoformat() if due.due else "",
                standing=due.standing,
                done_at=due.done_at.isoformat() if due.done_at else "",
                cell=due.operation.cell,
                said=due.operation.said,
            )
            for due in clock_of(session, test)
        ],
        clocked=list(method.clocked),
        recorded=list(method.recorded),
        awaited=[doubt.code for doubt in method.findings if doubt.awaited or doubt.goes_on],
        clock_started=test.readings.get("started_at", ""),
        practice={"epoch": test.practice["epoch"], "speed": test.practice["speed"]} if test.practice else None,
        server_time=datetime.now(UTC).isoformat(),
    )
    return shown.plain()


def _after_checking(test: Test, checked: Check | None, moved: list[str], numbers: list[str]) -> str:
    """Return the next thing to do with a sheet that is checked; "" for one that is open or void."""
    if checked is None:
        return ""
    if moved:
        return "Its ground has moved since the check: look at To check, then keep it with a reason or reopen it."
    if test.state == "issued" and numbers:
        return f"Issued as {numbers[-1]}. To change it, reopen it with a reason: it gets another number."
    return f"Checked by {checked.who}. A checker issues it, by itself or in a report."


def _lean(session: Session, lean: Lean) -> Leaning:
    """Return a result of another test that this one leans on; ``open`` while nobody has checked it."""
    other = session.get(Test, lean.test)
    return Leaning(test=lean.test, words=lean.words, open=other is None or other.state not in FROZEN)


def _offered(test: Test, standing: Standing) -> dict[str, Any] | None:
    """Return what the method's earlier version made of an open test beside what the newer one makes of it."""
    if not test.offered:
        return None
    now = {p.key: p for p in standing.reduction.parameters}
    had = test.offered["parameters"]
    return {
        "from": test.offered["version"],
        "to": standing.version,
        "results": [
            {
                "symbol": one["symbol"],
                "then": f"{one['text']} {one['unit']}".strip(),
                "now": f"{now[key].text} {now[key].unit}".strip() if key in now else "",
            }
            for key, one in had.items()
        ],
    }


def _needs_reason(session: Session, test: Test, action: str) -> bool:
    return action in NEEDS_REASON or (action == "check" and bool(lacking_competence(session, test)))


def _mix(session: Session, test: Test) -> dict[str, Any]:
    """Return what the preparation calculator starts with: the sample's own water content and compaction."""
    found: dict[str, Any] = {"w_target": "", "w_now": "", "moulds": "1", "volume": "", "density": ""}
    if test.sample is None:
        return found
    beside = Beside(session, test.sample)
    for name, quantity in (
        ("w_now", "water_content"),
        ("w_target", "optimum_water_content"),
        ("density", "maximum_dry_density"),
    ):
        if known := beside.quantity(quantity):
            found[name] = known[1]["text"]
    if packed := beside.quantity("maximum_dry_density"):
        found["volume"] = _volume_of_mould(session, packed[0])
    return found


def _volume_of_mould(session: Session, test: Test) -> str:
    """Return the volume of the mould that soil was packed into, cm³: as it was typed, or a constant of the mould."""
    typed = test.kept.get("volume_mould_cm3")
    if typed is None:
        typed = constants_in(footing(session, test, around=False).context).get("volume_mould_cm3")
    return "" if typed is None else f"{typed:g}"
