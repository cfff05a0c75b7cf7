"""The summary page: which tests it is of, how it is sorted, what it suggests."""

import re

import pytest
from sqlmodel import select

from tests.laboratory import LIQUID_LIMIT_B1
from vadum.demo.random_site import random_site
from vadum.records.database import open_database, session_on
from vadum.records.tables import Location, Stratum
from vadum.report.log import log_part
from vadum.soil.site import spread


def rows(page):
    """Return the cells of the table of all parameters."""
    body = page[page.index('id="all"') :]
    lines = re.findall(r"<tr data-test=\"(\d+)\">(.*?)</tr>", body, re.S)
    return [
        (int(n), [re.sub(r"<[^>]+>", "", cell).strip() for cell in re.findall(r"<td[^>]*>(.*?)</td>", cells, re.S)])
        for n, cells in lines
    ]


@pytest.fixture
def summary(client):
    def get(query="", project=1):
        reply = client.get(f"/projects/{project}/summary{query}")
        assert reply.status_code == 200
        return reply.text

    return get


def test_every_parameter_of_the_project_stands_in_it(client, summary):
    found = rows(summary())
    (limit,) = [cells for test, cells in found if test == 4 and cells[4].startswith("LL")]
    reduced = client.post("/api/reduce", json=client.get(f"/tests/{LIQUID_LIMIT_B1}/bench.json").json()).json()
    assert limit[5] == next(p["text"] for p in reduced["parameters"] if p["symbol"] == "LL")
    assert limit[:3] == ["TP4", "B1", "0.60–0.90"]


@pytest.mark.parametrize(
    ("query", "holds"),
    [
        ("?location=TP4", lambda c: c[0] == "TP4"),
        ("?method=liquid-limit", lambda c: c[3] == "Liquid limit"),
        ("?top=2,4&base=3.0", lambda c: c[2] and float(c[2].split("–")[0]) <= 3.0 and float(c[2].split("–")[1]) >= 2.4),
        ("?words=tp4+LL", lambda c: "TP4" in c[0]),
        ("?final=true", lambda c: "not reportable" not in c[7]),
    ],
)
def test_a_filter_leaves_what_was_asked_for_and_only_that(summary, query, holds):
    everything, found = rows(summary()), rows(summary(query))
    assert found
    assert all(holds(cells) for _, cells in found)
    assert len(found) < len(everything) or query == "?final=true"


def test_a_filter_changes_the_statistics_too(summary):
    assert "62" in summary("?location=TP4")
    cell = r"</td>\s*<td[^>]*>"
    spread_of = re.compile(rf"<b>LL, %</b>\s*<small[^>]*>[^<]*</small>\s*{cell}[^<]*{cell}\s*(\d+)\s*</td>")
    assert int(spread_of.search(summary())[1]) == 4
    assert int(spread_of.search(summary("?location=BH2"))[1]) == 2


def test_sorting_by_value_goes_up_and_down(summary):
    def values(query):
        return [float(c[5]) for _, c in rows(summary(query)) if re.fullmatch(r"-?[\d.]+", c[5])]

    up = values("?method=liquid-limit&sort=value")
    assert up == sorted(up)
    down = values("?method=liquid-limit&sort=value&down=true")
    assert down == sorted(up, reverse=True)


@pytest.mark.parametrize(
    "query", ["?top=abc", "?sort=nothing", "?location=nowhere", "?from_line=99999", "?method=x%27"]
)
def test_nonsense_in_the_address_breaks_nothing(summary, query):
    assert "Summary of results" in summary(query)


def test_a_project_without_results_says_so(client, summary):
    client.post("/projects", data={"name": "Empty fen"})
    number = max(int(n) for n in re.findall(r'href="/projects/(\d+)"', client.get("/").text))
    page = summary(project=number)
    assert "No result of such tests yet." in page
    assert "<table" not in page


def test_a_cautious_value_is_suggested_from_three_on_and_labelled(client, database, summary):
    with session_on(open_database(database)) as session:
        project = random_site(session, 5, 7, ("unconfined",))
        number = project.id
        strengths = [
            t.summary["parameters"]["su"]["reported"] for p in project.locations for s in p.samples for t in s.tests
        ]
    page = summary(project=number)
    suggested = re.search(r'<b class="suggested">([\d.]+)</b>', page)[1]
    assert float(suggested) == pytest.approx(spread(strengths, "low").cautious, abs=0.5)
    assert "suggestion for the engineer" in page
    assert 'class="suggested"' not in summary("?location=TP4"), "one value of a kind suggests nothing"


def test_two_layers_have_a_cautious_value_each_and_none_together(client, database, summary):
    with session_on(open_database(database)) as session:
        project = random_site(session, 12, 7, ("unconfined",))
        number, strengths = project.id, {"fill": [], "clay": []}
        for place in project.locations:
            place.strata[0].description, place.strata[0].base_m = "fill", 1.5
            session.add(Stratum(location_id=place.id, top_m=1.5, base_m=6.0, description="clay"))
            for sample in place.samples:
                found = [test.summary["parameters"]["su"]["reported"] for test in sample.tests]
                strengths["fill" if sample.top_m < 1.5 else "clay"] += found
        session.commit()
    page = summary(project=number)
    suggested = [float(found) for found in re.findall(r'<b class="suggested">([\d.]+)</b>', page)]
    in_order = re.findall(r"<td[^>]*>\s*in (clay|fill)\s*<", page)
    assert sorted(in_order) == ["clay", "fill"]
    assert suggested == [pytest.approx(spread(strengths[name], "low").cautious, abs=0.5) for name in in_order]


def test_a_long_table_comes_in_parts(summary):
    first = rows(summary())
    assert len(first) == 200
    assert "further" in summary()
    second = rows(summary("?from_line=200"))
    assert second
    assert not {(t, c[4]) for t, c in first} & {(t, c[4]) for t, c in second}


def test_the_figures_are_on_it_and_say_what_they_show(summary):
    page = summary()
    for title in ("Plasticity chart", "Grain-size curves", "Undrained strength with depth", "Infiltration by position"):
        assert f"<figcaption>{title}</figcaption>" in page
    assert "LL 62, PI 38" in page


def test_the_log_prints_results_beside_their_depth(demo_database):
    """Two tracks beside the ground, and limits and strengths in the line of the sample they were found in."""
    with session_on(open_database(demo_database)) as session:
        places = session.exec(select(Location).where(Location.name.in_(["TP4", "BH2"]))).all()
        svg = {place.name: log_part(place).pictures[0].svg for place in places}
    pit = re.sub(r"<[^>]+>", " ", svg["TP4"])
    assert "w, %" in pit
    assert "bar: PL to LL" in pit
    assert re.search(r"LL\s62", pit)
    assert any("kPa" in re.sub(r"<[^>]+>", " ", one) for one in svg.values())
