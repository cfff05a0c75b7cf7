"""What is shown in an order has one: SQLite may give rows back as it likes where a query asks for none."""

import re

from fastapi.testclient import TestClient
from sqlalchemy import event

from vadum.web.app import create_app

PAGES = ("/", "/projects/1", "/projects/1/summary", "/samples/3", "/equipment", "/equipment/1", "/locations/1")


def shown(app):
    """Everything that is said on some pages, and the order of what changes by the minute."""
    with TestClient(app) as client:
        pages = {page: client.get(page).text for page in PAGES}
        board = client.get("/api/board").json()
        sheets = [client.get(f"/api/tests/{number}/sheet").json() for number in range(1, 30)]
    return {
        "untimed": [one["test"] for one in board["untimed"]],
        "oven": [one["what"] for one in board["oven"]],
        "uses": [sheet["uses"] for sheet in sheets],
        "leans": [sheet["leans"] for sheet in sheets],
        **{page: re.findall(r'href="([^"]+)"', text) for page, text in pages.items()},
    }


def test_nothing_hangs_on_the_order_in_which_rows_happen_to_come(database):
    before = shown(create_app(database))
    backwards = create_app(database)
    event.listen(backwards.state.engine, "connect", lambda one, _: one.execute("PRAGMA reverse_unordered_selects = ON"))
    backwards.state.engine.dispose()
    assert len(before["untimed"]) > 1
    assert max(map(len, before["uses"])) > 1
    assert shown(backwards) == before
