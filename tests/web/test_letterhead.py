"""The letterhead: given once, printed at the head of everything from then on."""

import io

import pytest
from PIL import Image
from pypdf import PdfReader

from tests.laboratory import LIQUID_LIMIT_U2
from tests.printed import pages_of


def png(width=40, height=20, kind="PNG"):
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#335577").save(out, kind)
    return out.getvalue()


def give(client, name="Marsh End Laboratory", address="Weir Road 2\nMarsh End", logo=None, **more):
    files = {"logo": ("logo.png", logo, "application/octet-stream")} if logo is not None else None
    return client.post(
        "/letterhead", data={"name": name, "address": address, **more}, files=files, follow_redirects=False
    )


def sheet(client):
    return client.get(f"/tests/{LIQUID_LIMIT_U2}/sheet.pdf").content


def printed(client):
    return PdfReader(io.BytesIO(sheet(client)))


def images(pdf):
    return [image for page in pdf.pages for image in page.images]


def test_name_and_address_head_every_page(client):
    assert give(client).status_code == 303
    for words in pages_of(sheet(client)):
        assert "Marsh End Laboratory" in words
        assert "Weir Road 2 · Marsh End" in words
    assert printed(client).metadata.author == "Marsh End Laboratory"


@pytest.mark.parametrize("kind", ["PNG", "JPEG"])
def test_a_logo_is_printed_and_shown_until_it_is_taken_away(client, kind):
    before = len(images(printed(client)))
    assert give(client, logo=png(kind=kind)).status_code == 303
    assert len(images(printed(client))) > before
    assert client.get("/letterhead/logo").headers["content-type"] == f"image/{kind.lower()}"
    give(client, name="Marsh End Laboratory again")
    assert client.get("/letterhead/logo").status_code == 200, "kept when no other is given"
    give(client, without_logo="1")
    assert client.get("/letterhead/logo").status_code == 404


_SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="8" height="4">{}</svg>'
)


def test_a_plain_drawing_is_taken_set_and_shown_in_a_sandbox(client):
    drawing = _SVG.format('<style>rect{fill:url(#g)}</style><linearGradient id="g"/><rect width="4" height="4"/>')
    assert give(client, logo=drawing.encode()).status_code == 303
    reply = client.get("/letterhead/logo")
    assert reply.headers["content-type"].startswith("image/svg+xml")
    assert reply.headers["content-security-policy"].endswith("sandbox")
    assert printed(client).pages


@pytest.mark.parametrize(
    ("inside", "said"),
    [
        ("<script>alert(1)</script>", "script"),
        ('<rect onload="alert(1)" width="4" height="4"/>', "script"),
        ("<foreignObject><p/></foreignObject>", "foreignobject"),
        ('<a xlink:href="https://elsewhere.example"><rect width="4" height="4"/></a>', "links to something outside"),
        ('<image href="https://elsewhere.example/p.png" width="4" height="4"/>', "image"),
        ('<rect style="fill:url(https://elsewhere.example/a)" width="4" height="4"/>', "links to something outside"),
        ("<style>@import 'https://elsewhere.example/a.css';</style>", "links to something outside"),
        ("<g>" * 60 + "</g>" * 60, "nested too deep"),
        ("<rect/>" * 5000, "nested too deep or too large"),
    ],
)
def test_a_drawing_that_is_more_than_a_drawing_is_refused(client, inside, said):
    reply = give(client, logo=_SVG.format(inside).encode())
    assert reply.status_code == 422
    assert said in reply.text
    assert client.get(f"/tests/{LIQUID_LIMIT_U2}/sheet.pdf").status_code == 200


def test_a_logo_that_cannot_be_set_is_not_kept(client):
    """It is set once before it is kept: a broken one would break every sheet from then on."""
    reply = give(client, logo=png()[:-30] + b"0" * 30)
    assert reply.status_code == 422
    assert "cannot be set on paper" in reply.text or "PNG, a JPEG or an SVG" in reply.text
    assert client.get(f"/tests/{LIQUID_LIMIT_U2}/sheet.pdf").status_code == 200


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"GIF89a not a picture", "PNG, a JPEG or an SVG"),
        (b"", "PNG, a JPEG or an SVG"),
        (png()[:40], "PNG, a JPEG or an SVG"),
        (png(kind="BMP"), "PNG, a JPEG or an SVG"),
        (b"<html></html>", "PNG, a JPEG or an SVG"),
        (b"<svg><rect></svg>", "damaged"),
        (b'<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg>&a;</svg>', "defines entities"),
        (b"\x89PNG" + b"0" * 1_100_000, "at most 1 MB"),
    ],
)
def test_what_cannot_be_printed_is_refused_and_what_was_typed_stays(client, data, said):
    before = client.get("/letterhead").text
    reply = give(client, name="Typed just now", logo=data)
    assert reply.status_code == 422
    assert said in reply.text
    assert "Typed just now" in reply.text
    assert client.get("/letterhead").text == before


def test_a_name_too_long_is_refused(client):
    reply = give(client, name="x" * 121)
    assert reply.status_code == 422
    assert "name" in reply.text


def test_a_sheet_is_tagged_and_has_bookmarks_for_those_who_do_not_see_it(client):
    pdf = printed(client)
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"] == "en"
    titles = [entry.title for entry in pdf.outline if not isinstance(entry, list)]
    assert titles == ["Liquid limit"]
    sections = [entry.title for part in pdf.outline if isinstance(part, list) for entry in part]
    assert "Results" in sections
