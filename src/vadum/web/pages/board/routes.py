"""The due board of the whole laboratory."""

from datetime import UTC, datetime, timedelta
from typing import Annotated, Any

from fastapi import APIRouter, Body, HTTPException, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import AwareDatetime, BaseModel
from sqlalchemy import String, and_, cast, literal_column, or_
from sqlalchemy.orm import load_only
from sqlmodel import Session, col, select

from vadum.bench.board import Board, DueLine, InOven, Running, board
from vadum.bench.kept import who_does
from vadum.bench.tasks import task_id
from vadum.records.apart import told_apart
from vadum.records.calibrations import begun_of, calibrations_by_piece, why_not
from vadum.records.conditions import of_record, on_soil
from vadum.records.context import inspection_states
from vadum.records.practice import now_of
from vadum.records.standing import FROZEN
from vadum.records.tables import Equipment, Test
from vadum.records.times import operations_of, say_done, take_back, times_of, timetables_of
from vadum.records.together import Listed, with_places
from vadum.records.zone import today
from vadum.soil.contract.method import Operation
from vadum.soil.registry import METHODS
from vadum.web.rendering import Db, Who, first_seen, get, page, seen, template_exists

router = APIRouter()
_SHOWN_AT_ONCE = 8
_UNDER_WAY = ("planned", "running")
# Clocks of two machines differ a little.
_AHEAD = timedelta(minutes=1)
# In the very words of its index, or years of checked tests are read.
_MOVED = and_(col(Test.state).in_(FROZEN), cast(col(Test.moved), String) != literal_column("'[]'"))
_WAITING = Listed(and_(or_(col(Test.state) == "reduced", _MOVED), of_record()), col(Test.updated_at))
# Of a test what its line is made of.
_LINED: Any = (Test.id, Test.method, Test.state, Test.revision, Test.summary, Test.sample_id, Test.location_id)
_UNDER_WAY_NOW = select(Test).where(col(Test.state).in_(_UNDER_WAY), on_soil()).order_by(col(Test.id))
_TESTS_UNDER_WAY = with_places(_UNDER_WAY_NOW).options(load_only(*_LINED))
_PIECES = select(Equipment).where(Equipment.kind != "tin").order_by(Equipment.name)


@router.get("/board", response_class=HTMLResponse)
def board_page(request: Request, session: Db) -> HTMLResponse:
    waiting, count = _waiting(session, request, _SHOWN_AT_ONCE)
    return page(
        request,
        "board/board.html",
        view=board_view(session, request),
        waiting=(waiting, count),
        called=told_apart(waiting, projects=count > len(waiting)),
        gear=_out_of_date(session),
    )


@router.get("/api/rooms")
def waits_in_rooms(request: Request, session: Db) -> dict[str, int]:
    """Return how much waits in each room today."""
    due = board(running_tests(session, request), datetime.now(UTC)).urgent
    return {"Bench": len(due), "Records": _waiting(session, request, 0)[1], "Laboratory": len(_out_of_date(session))}


@router.get("/api/board")
def read_board(request: Request, session: Db) -> Response:
    """Return what is late, now, next and later, with the server's time, which is the one that counts."""
    return JSONResponse(board_view(session, request))


class Said(BaseModel):
    """When an operation was done; now where nobody says when."""

    at: AwareDatetime | None = None


@router.post("/api/tests/{test_id}/operations/{key}")
def operation_done(
    request: Request, session: Db, who: Who, test_id: int, key: str, said: Annotated[Said | None, Body()] = None
) -> Response:
    """Say that an operation is done, now or at a time that does not lie ahead; answers with the board."""
    test = get(session, Test, test_id, "test")
    operation, at = _under_way(test, key), said.at if said else None
    if at is not None and at > now_of(test) + _AHEAD:
        raise HTTPException(422, "That time lies ahead.")
    if not operation.said:
        raise HTTPException(409, f"{operation.what}: done once its reading is typed.")
    if not say_done(session, test, key, who, at):
        raise HTTPException(409, f"{operation.what}: its reading says when it was done; correct it there.")
    return JSONResponse(board_view(session, request))


@router.delete("/api/tests/{test_id}/operations/{key}")
def operation_not_done(request: Request, session: Db, test_id: int, key: str) -> Response:
    """Take the word back that an operation is done; answers with the board."""
    test = get(session, Test, test_id, "test")
    _under_way(test, key)
    if not take_back(session, test, key):
        raise HTTPException(409, "Nobody said so; what a reading says is corrected on its sheet.")
    return JSONResponse(board_view(session, request))


def _under_way(test: Test, key: str) -> Operation:
    """Return an operation of a test of which something can be said."""
    if test.state not in _UNDER_WAY:
        raise HTTPException(409, f"This test is {test.state}: nothing of it is timed any more.")
    found = next((operation for operation in operations_of(test) if operation.key == key), None)
    if found is None:
        raise HTTPException(404, f"This test has no operation {key!r} as its readings stand.")
    return found


def board_view(session: Session, request: Request) -> dict[str, Any]:
    """Return the board as plain data."""
    now = datetime.now(UTC)
    made, planned = board(running_tests(session, request), now), who_does(session)
    return {
        "serverTime": now.isoformat(),
        "parts": [
            {"name": name, "title": title, "lines": [_line(line, planned) for line in lines]}
            for name, title, lines in _parts(made)
        ],
        "oven": [_oven(held) for held in made.oven],
        "untimed": [_untimed(test) for test in made.untimed],
    }


def running_tests(session: Session, request: Request) -> list[Running]:
    """Return every test under way as the board needs it."""
    under_way = session.exec(_TESTS_UNDER_WAY).all()
    timetables, tests = timetables_of(session, under_way), seen(request, under_way)
    times, first, called = times_of(session, tests), begun_of(session, tests), told_apart(tests)
    found = []
    for test in tests:
        timetable = timetables[test.id or 0]
        found.append(
            Running(
                test_id=test.id or 0,
                title=METHODS[test.method].title,
                place=called[test.id or 0],
                operations=timetable.operations,
                times=times.get(test.id or 0, {}),
                begun=first.get(test.id or 0) if test.state == "running" else None,
                tins=timetable.tins,
                next_action=test.summary.get("next_action", "") if test.state == "running" else "",
            )
        )
    return found


def _parts(made: Board) -> tuple[tuple[str, str, list[DueLine]], ...]:
    return (
        ("late", "Late", made.late),
        ("now", "Now", made.now),
        ("next", "Next two hours", made.next),
        ("later", "Later", made.later),
    )


def _line(line: DueLine, planned: dict[str, tuple[str, datetime]]) -> dict[str, Any]:
    operation, due = line.due.operation, line.due
    who, at = planned.get(task_id(line.test.test_id, operation.key), ("", None))
    code = next(code for code, method in METHODS.items() if method.title == line.test.title)
    run = f"/tests/{line.test.test_id}/run" if template_exists(f"run/{code}.html") else ""
    return {
        "id": f"{line.test.test_id}.{operation.key}",
        "test": line.test.test_id,
        "key": operation.key,
        "what": operation.what,
        "title": line.test.title,
        "place": line.test.place,
        "due": due.due.isoformat() if due.due else "",
        "latest": due.latest.isoformat() if due.latest else "",
        "hands": operation.hands_on_min,
        "said": operation.said,
        "who": who,
        "plannedAt": at.isoformat() if at else "",
        "reading": run or f"/tests/{line.test.test_id}" + (f"?cell={operation.cell}" if operation.cell else ""),
    }


def _untimed(test: Running) -> dict[str, Any]:
    return {"test": test.test_id, "title": test.title, "place": test.place, "next": test.next_action}


def _oven(held: InOven) -> dict[str, Any]:
    what = f"tins {', '.join(held.test.tins)}" if held.test.tins else held.what
    return {
        "test": held.test.test_id,
        "title": held.test.title,
        "place": held.test.place,
        "what": what,
        "out": held.out_at.isoformat(),
    }


def _waiting(session: Session, request: Request, most: int) -> tuple[list[Test], int]:
    """Return the first of what waits for a check (done, or checked on ground that moved), and how much there is."""
    return first_seen(request, session, _WAITING, most)


def _out_of_date(session: Session) -> list[tuple[Equipment, str]]:
    """Return cups that are not fit today and pieces whose calibration ran out, each with why."""
    day, found = today(session), []
    pieces = session.exec(_PIECES).all()
    calibrations = calibrations_by_piece(session, pieces)
    inspections = inspection_states(session, [piece for piece in pieces if piece.kind == "cup"], day)
    for piece in pieces:
        if piece.kind == "cup":
            state = inspections[piece.id or 0]
            why = "" if state == "fit" else f"inspection {state}"
        else:
            every = calibrations.get(piece.id or 0)
            why = why_not(every, day) if every else ""
        if why:
            found.append((piece, why))
    return found
