"""Scripts, styles and fonts: small on the way, kept for good by their name, of one release with the page."""

import importlib.util
import re

from tests.laboratory import LIQUID_LIMIT_D2
from vadum.web import files


def test_what_a_page_is_made_of_is_sent_small_and_never_asked_for_again(client):
    page = client.get("/").text
    asked = re.findall(r'(?:href|src)="(/files/[^"]+)"', page)
    assert len(asked) > 5
    assert {path.split("/")[2] for path in asked} == {files.release()}
    for path in asked:
        answer = client.get(path)
        assert answer.status_code == 200, path
        assert answer.headers["cache-control"] == "public, max-age=31536000, immutable"
        shrinks = path.endswith((".js", ".css", ".svg")) and len(answer.content) > 500
        assert answer.headers.get("content-encoding") == ("gzip" if shrinks else None), path


def test_no_page_names_a_file_that_is_not_sent(client):
    """The documentation of the interface asked for its script under a name of no release, and was blank."""
    named = re.compile(r'<(?:script|link|img)\b[^>]*(?:href|src)="(/[^"]+)"')
    for page in ("/", "/board", "/sign-in?back=/", f"/tests/{LIQUID_LIMIT_D2}/sheet", "/tests/9999", "/api/docs"):
        asked = named.findall(client.get(page).text)
        assert asked, page
        for path in asked:
            assert client.get(path).status_code == 200, f"{page} names {path}"


def test_pages_and_answers_are_sent_small_and_what_is_packed_already_as_it_is(client):
    """A worksheet of 92 kB took a phone at 200 kB/s half a second before anything of it was seen."""
    for path in (f"/tests/{LIQUID_LIMIT_D2}", f"/api/tests/{LIQUID_LIMIT_D2}/sheet", "/projects/1/results.csv"):
        answer = client.get(path)
        assert answer.headers["content-encoding"] == "gzip", path
        assert 3 * int(answer.headers["content-length"]) < len(answer.content), path
        plain = client.get(path, headers={"accept-encoding": "identity"})
        assert "content-encoding" not in plain.headers
    for path in (f"/tests/{LIQUID_LIMIT_D2}/sheet.pdf", "/projects/1/results.xlsx"):
        answer = client.get(path)
        assert answer.status_code == 200, path
        assert "content-encoding" not in answer.headers, path


def test_what_scripts_and_styles_name_in_their_turn_lies_where_they_say(client):
    named = re.compile(r"""^import .*"([^"]+)";$|url\("(?!data:)([^"]+)"\)""", re.MULTILINE)
    found = set()
    for of in (of for of in files.sent() if of.endswith((".js", ".css")) and "vendor" not in of):
        address = f"/files/{files.release()}/{of}"
        text = client.get(address).text
        assert '"/static' not in text, f"{of} asks for a file of no release"
        found |= {(address, a or b) for a, b in named.findall(text)}
    assert len(found) > 20
    for base, name in found:
        assert base.endswith(".css") or name.startswith("."), f"{name} is the name of a package"
        assert client.get(str(client.base_url.join(base).join(name))).status_code == 200, f"{base} names {name}"


def test_a_page_with_all_that_it_is_made_of_is_few_files(client):
    """A line of 300 ms takes six at a time: sixty files were four and a half seconds."""
    kinds = re.compile(r'(?:rel="(?:stylesheet|modulepreload)" href|src)="(/files/[^"]+)"')
    named = re.compile(r'^(?:@import|import) .*"([^"]+)";$', re.MULTILINE)
    for address in ("/", f"/tests/{LIQUID_LIMIT_D2}", f"/tests/{LIQUID_LIMIT_D2}/run"):
        asked = [client.base_url.join(path) for path in kinds.findall(client.get(address).text)]
        more = [path.join(of) for path in asked for of in named.findall(client.get(str(path)).text)]
        assert len({*asked, *more}) <= 7, address


def test_a_release_is_called_by_what_is_in_it(tmp_path):
    called = []
    for text in ("a {}", "a { top: 0 }", "a {}"):
        (tmp_path / "base.css").write_text(text)
        spec = importlib.util.spec_from_file_location("files_of_another_release", files.__file__)
        anew = importlib.util.module_from_spec(spec)
        spec.loader.exec_module(anew)
        anew.FOLDERS = {"static": tmp_path}
        called.append(anew.release())
    assert called[0] == called[2] != called[1]


def test_nothing_else_that_lies_beside_them_is_sent(client):
    for path in ("pages/start/routes.py", "pages/start/start.html", "drawing/theme.py", "static/vendor/MANIFEST.json"):
        assert client.get(f"/files/{files.release()}/{path}").status_code == 404, path
    gone = client.get("/files/0123456789ab/static/css/vadum.css")
    assert gone.status_code == 404
    assert "cache-control" not in gone.headers
