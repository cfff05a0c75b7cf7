"""What a page offers may be done by whom it is offered to: every form and link of every page, for every role."""

import re
from html.parser import HTMLParser

import pytest
from starlette.routing import Match

from tests.web.hands import signed_in
from vadum.web.access import MAY, need_of
from vadum.web.routers import ROUTERS

# Downloads and things that only a test with readings shows.
_NO_PAGES = re.compile(r"\.(pdf|csv|xlsx|json|geojson|ags|zip|svg|ics)$")


class Offered(HTMLParser):
    """The forms and links of a page."""

    def __init__(self):
        super().__init__()
        self.found = set()

    def handle_starttag(self, tag, attrs):
        said = dict(attrs)
        if tag == "a" and (said.get("href") or "").startswith("/"):
            self.found.add(("GET", said["href"].partition("#")[0]))
        if tag == "form":
            self.found.add(((said.get("method") or "get").upper(), said.get("action") or ""))


def route_of(method, address):
    scope = {"type": "http", "method": method, "path": address.partition("?")[0]}
    every = (route for router in ROUTERS for route in router.routes)
    return next((route for route in every if route.matches(scope)[0] == Match.FULL), None)


def walked(app, role):
    """Yield page, method and route of everything offered on the way through the laboratory, each route seen twice."""
    client, seen, todo = signed_in(app, role), {}, ["/"]
    while todo:
        address = todo.pop(0)
        reply = client.get(address)
        if reply.status_code != 200 or "text/html" not in reply.headers["content-type"]:
            continue
        page = Offered()
        page.feed(reply.text)
        for method, target in sorted(page.found):
            route = route_of(method, target or address)
            if route is None:
                continue
            yield address, method, route.path
            key = (method, route.path)
            if method == "GET" and seen.get(key, 0) < 2 and not _NO_PAGES.search(target.partition("?")[0]):
                seen[key] = seen.get(key, 0) + 1
                todo.append(target)


# A manager may do everything.
@pytest.mark.parametrize("role", ["reader", "technician", "checker"])
def test_nothing_is_offered_that_may_not_be_done(app, role):
    offered = list(walked(app, role))
    assert len({path for _, _, path in offered}) > 15
    refused = {(method, path): page for page, method, path in offered if need_of(method, path) not in MAY[role]}
    assert refused == {}
