"""Scripts, styles and fonts: small on the way, kept for good by their name, of one release with the page."""

import re

from vadum.web import files


def test_what_a_page_is_made_of_is_sent_small_and_never_asked_for_again(client):
    page = client.get("/").text
    asked = re.findall(r'(?:href|src)="(/files/[^"]+)"', page)
    assert len(asked) > 15
    assert {path.split("/")[2] for path in asked} == {files.release()}
    for path in asked:
        answer = client.get(path)
        assert answer.status_code == 200, path
        assert answer.headers["cache-control"] == "public, max-age=31536000, immutable"
        shrinks = path.endswith((".js", ".css", ".svg")) and len(answer.content) > 500
        assert answer.headers.get("content-encoding") == ("gzip" if shrinks else None), path


def test_what_scripts_and_styles_name_in_their_turn_lies_where_they_say(client):
    named = re.compile(r"""(?:from |import )"(\.[^"]+)"|url\(["']?([^"')]+)["']?\)""")
    found = set()
    for folder in ("static", "pages"):
        for path in (p for p in files.sent(folder) if p.endswith((".js", ".css")) and "vendor" not in p):
            text = (files.FOLDERS[folder] / path).read_text(encoding="utf-8")
            assert '"/static' not in text, f"{path} asks for a file of no release"
            found |= {(f"/files/{files.release()}/{folder}/{path}", a or b) for a, b in named.findall(text)}
    found = {(base, name) for base, name in found if not name.startswith("data:")}
    assert len(found) > 40
    for base, name in found:
        assert client.get(str(client.base_url.join(base).join(name))).status_code == 200, f"{base} names {name}"


def test_a_release_is_called_by_what_is_in_it(tmp_path, monkeypatch):
    monkeypatch.setattr(files, "FOLDERS", {"static": tmp_path})
    called = []
    for text in ("a {}", "a { top: 0 }", "a {}"):
        (tmp_path / "base.css").write_text(text)
        called.append(files.release.__wrapped__())
    assert called[0] == called[2] != called[1]


def test_nothing_else_that_lies_beside_them_is_sent(client):
    for path in ("pages/start/routes.py", "pages/start/start.html", "drawing/theme.py", "static/vendor/MANIFEST.json"):
        assert client.get(f"/files/{files.release()}/{path}").status_code == 404, path
    gone = client.get("/files/0123456789ab/static/css/base.css")
    assert gone.status_code == 404
    assert "cache-control" not in gone.headers
