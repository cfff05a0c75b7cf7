"""Limits of one sample in more than one state: only the state asked for is leant on."""

from tests.web.hands import save


def tin(w, **more):
    return {"mass_tin_g": "17", "mass_tin_wet_g": f"{37 + 0.2 * w:.2f}", "mass_tin_dry_g": "37"} | more


def filled(client, sample, method, rows, **fields):
    """Plan a test of a sample and type its rows; return its number."""
    reply = client.post(f"/samples/{sample}/tests", data={"method": method, "anyway": "1"}, follow_redirects=False)
    test = int(reply.headers["location"].rsplit("/", 1)[1])
    table = {"liquid-limit": "trials", "plastic-limit": "threads"}.get(method, "")
    cells = {f"{table}.{i}.{name}": text for i, row in enumerate(rows) for name, text in row.items()}
    save(client, test, cells=cells | fields)
    return test


def results(client, test):
    view = client.get(f"/api/tests/{test}/sheet").json()["verdict"]
    return {part["symbol"]: part["text"] for part in [view["headline"], *view["others"]] if part}


def cups(limit):
    return [tin(w, blows=str(n)) for n, w in ((32, limit - 1.1), (24, limit + 0.2), (18, limit + 1.4))]


def test_the_oven_dried_limit_is_compared_and_never_stands_for_the_soil(client):
    page = client.post("/locations/1/samples", data={"name": "P7", "top_m": "2", "base_m": "2.4"}).text
    sample = int(page.rsplit("/samples/", 1)[1].split('"', 1)[0])
    filled(client, sample, "liquid-limit", cups(75), state="natural")
    filled(client, sample, "plastic-limit", [tin(48, tin="A"), tin(48.4, tin="B")])
    filled(client, sample, "liquid-limit", cups(52), state="oven-dried")
    threads = filled(client, sample, "plastic-limit", [tin(48, tin="A"), tin(48.4, tin="B")])
    assert results(client, threads)["PI"] == "27"
    group = filled(client, sample, "classification", [], fines_percent="96", sand_percent="4", gravel_percent="0")
    assert results(client, group)["unified"] == "OH"


def test_another_schedule_rebuilds_the_rows_that_nobody_has_read(client):
    test = filled(client, 4, "hydrometer", [])
    save(client, test, cells={"sedimentation.0.hydrometer": "40", "sedimentation.0.temperature_c": "20"})
    save(client, test, settings={"own_times": "1 3 9 27 81"})
    view = save(client, test, settings={"schedule": "own"})
    (rows,) = (table["rows"] for table in view["tables"] if table["name"] == "sedimentation")
    assert [row["cells"]["due_min"]["text"] for row in rows] == ["1", "3", "9", "27", "81", ""]
    assert rows[0]["cells"]["hydrometer"]["text"] == "40"
