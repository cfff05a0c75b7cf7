"""Photographs and files kept with tests: what is taken out, what stays, and what can be proved of it."""

import hashlib
import io
import json
import re

import pytest
from fastapi.testclient import TestClient
from PIL import Image, PngImagePlugin
from pypdf import PdfReader
from sqlmodel import Session

from tests.laboratory import UNCONFINED_U5
from tests.printed import pages_of, words_of
from tests.web.hands import GPS, TURNED, picture, save
from vadum.records.tables import Test
from vadum.web.app import create_app

CYLINDER = UNCONFINED_U5  # an unconfined test under way in the demonstration laboratory


@pytest.fixture
def lab(database):
    with TestClient(create_app(database)) as client:
        yield client


def send(lab, data, **form):
    return lab.post(f"/api/tests/{CYLINDER}/photographs", files={"file": ("p 1.jpg", data)}, data=form)


def test_a_picture_sent_again_is_kept_once_and_never_by_another_person(lab):
    data = picture("JPEG")
    assert len(send(lab, data, caption="specimen 1").json()) == 1
    assert len(send(lab, data, caption="specimen 1").json()) == 1
    assert len(send(lab, data, caption="specimen 2").json()) == 2
    refused = send(lab, picture("PNG"), taken_by="somebody else")
    assert refused.status_code == 403
    assert "somebody else took this picture" in refused.json()["message"]


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_where_a_photograph_was_taken_is_taken_out(lab, kind):
    data = picture(kind)
    (kept,) = send(lab, data, caption="specimen 1").json()
    whole = lab.get(f"/attachments/{kept['id']}")
    exif = Image.open(io.BytesIO(whole.content)).getexif()
    assert GPS not in exif
    assert exif[TURNED] == 6, "only the position is taken out"
    assert hashlib.sha256(whole.content).hexdigest() == kept["sha256"] == whole.headers["x-sha256"]
    assert whole.headers["content-disposition"] == 'attachment; filename="p 1.jpg"'
    assert whole.headers["x-content-type-options"] == "nosniff"
    small = Image.open(io.BytesIO(lab.get(f"/attachments/{kept['id']}/small").content))
    # Turned upright, at most 1280 px, no metadata of the camera.
    assert small.size == (960, 1280)
    assert not dict(small.getexif())


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_the_pixels_of_a_photograph_stay_to_the_bit(lab, kind):
    data = picture(kind)
    (kept,) = send(lab, data).json()
    before, after = (Image.open(io.BytesIO(d)) for d in (data, lab.get(f"/attachments/{kept['id']}").content))
    assert before.tobytes() == after.tobytes()


def talkative(kind):
    """A picture with everything a camera or a program writes beside it, and something behind its end."""
    exif = Image.Exif()
    exif[TURNED], exif[0x010F], exif[0x9286] = 6, "MAKER-OF-CAMERA", "USER-COMMENT"
    exif[GPS] = {1: "N", 2: (52.0, 7.0, 1.0)}
    options = {"exif": exif, "xmp": b"<x:xmpmeta>XMP-WITH-NAME</x:xmpmeta>"}
    if kind == "JPEG":
        options["comment"] = b"A-COMMENT"
    if kind == "PNG":
        del options["xmp"]
        options["pnginfo"] = PngImagePlugin.PngInfo()
        options["pnginfo"].add_text("Author", "A-COMMENT")
        options["pnginfo"].add_itxt("XML:com.adobe.xmp", "XMP-WITH-NAME", zip=False)
    out = io.BytesIO()
    Image.linear_gradient("L").resize((300, 200)).convert("RGB").save(out, kind, **options)
    return out.getvalue() + b"BEHIND-THE-END"


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
@pytest.mark.parametrize("keep", ["false", "true"])
def test_all_that_came_along_is_taken_out(lab, kind, keep):
    (kept,) = send(lab, talkative(kind), keep_position=keep).json()
    whole = lab.get(f"/attachments/{kept['id']}").content
    for said in (b"MAKER", b"COMMENT", b"XMP", b"BEHIND"):
        assert said not in whole
    exif = Image.open(io.BytesIO(whole)).getexif()
    assert exif[TURNED] == 6
    assert dict(exif.get_ifd(GPS)) == ({1: "N", 2: (52.0, 7.0, 1.0)} if keep == "true" else {})


def test_a_phones_two_picture_file_is_taken_and_its_second_picture_left(lab):
    out = io.BytesIO()
    first, second = (Image.new("RGB", (300, 200), colour) for colour in ("#aa5522", "#2255aa"))
    first.save(out, "MPO", save_all=True, append_images=[second])
    assert Image.open(io.BytesIO(out.getvalue())).format == "MPO"
    reply = send(lab, out.getvalue())
    assert reply.status_code == 201
    whole = Image.open(io.BytesIO(lab.get(f"/attachments/{reply.json()[0]['id']}").content))
    assert (whole.format, getattr(whole, "n_frames", 1)) == ("JPEG", 1)


def test_what_is_checked_has_its_photographs_too(lab):
    (kept,) = send(lab, picture()).json()
    with Session(lab.app.state.engine) as session:
        test = session.get(Test, CYLINDER)
        test.state = "void"
        session.add(test)
        session.commit()
    assert send(lab, picture()).status_code == 423
    assert lab.post(f"/api/attachments/{kept['id']}/remove", json={"reason": "another"}).status_code == 423


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"no picture", "no picture that can be read"),
        (picture()[:9000], "no picture that can be read"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "no picture that can be read"),
        (picture("GIF"), "A GIF picture; JPEG, PNG or WebP can be kept."),
    ],
)
def test_what_is_no_photograph_is_said(lab, data, words):
    reply = send(lab, data)
    assert reply.status_code == 422
    assert words in reply.json()["message"]
    assert lab.get(f"/api/tests/{CYLINDER}/attachments").json() == []


def test_a_photograph_with_too_many_pixels_is_refused(lab, monkeypatch):
    monkeypatch.setattr("vadum.records.photographs.LARGEST_PIXELS", 1000)
    assert "1600 x 1200 pixels are too many" in send(lab, picture()).json()["message"]


def test_a_photograph_taken_off_stays_on_record(lab):
    (kept,) = send(lab, picture()).json()
    assert lab.post(f"/api/attachments/{kept['id']}/remove", json={"reason": ""}).status_code == 422
    (off,) = lab.post(f"/api/attachments/{kept['id']}/remove", json={"reason": "another specimen"}).json()
    assert off["removed"] == "another specimen"
    assert lab.get(f"/attachments/{kept['id']}").status_code == 200
    assert lab.get("/attachments/999").status_code == 404


# Files that readings came from

FRAME = "\n".join(["Weg;Kraft", "mm;kN", *(f"{i / 10};{0.004 * i}" for i in range(80))])


def bring(lab, path, data, mapping="", revision=None):
    form = {"target": "", "mapping": mapping}
    if revision is not None:
        form |= {"base_revision": str(revision), "save_key": f"key-{revision:08d}"}
    return lab.post(f"/api/tests/{CYLINDER}/{path}", files={"file": ("frame.csv", data)}, data=form)


def test_the_file_is_kept_as_it_came_and_its_columns_are_remembered(lab):
    assert bring(lab, "import/preview", FRAME).json()["faults"]
    mapping = '["shortening_mm", "force_n"]'
    shown = bring(lab, "import/preview", FRAME, mapping).json()
    assert shown["faults"] == []
    assert shown["figure"].startswith("<svg")
    revision = shown["revision"]
    assert bring(lab, "import", FRAME, mapping, revision).json() == {"revision": revision + 1, "count": 80}
    (kept,) = lab.get(f"/api/tests/{CYLINDER}/attachments").json()
    assert (kept["kind"], kept["name"], kept["size"]) == ("readings file", "frame.csv", len(FRAME))
    assert kept["sha256"] == hashlib.sha256(FRAME.encode()).hexdigest()
    raw = lab.get(f"/attachments/{kept['id']}")
    assert raw.text == FRAME
    assert raw.headers["content-disposition"].startswith("attachment")
    # The next file of its kind needs no hand, and neither do headings in another case.
    again = bring(lab, "import/preview", FRAME.replace("Weg", "WEG")).json()
    assert again["faults"] == []
    assert [c["reading"] for c in again["columns"]] == ["shortening_mm", "force_n"]
    assert "Columns are matched and read as for the last file with these headings from Press 1." in again["notes"]
    assert bring(lab, "import/preview", FRAME.replace("Weg", "path")).json()["faults"]


def test_columns_are_remembered_for_each_instrument(lab):
    """Two frames with the same headings: the one writes N, the other kN."""

    def with_frame(name):
        save(lab, CYLINDER, uses=[frames[name]])

    frames = {}
    for name in ("frame 1", "frame 2"):
        lab.post("/equipment", data={"name": name, "kind": "press"})
        page = lab.get("/equipment").text
        frames[name] = int(re.search(rf'/equipment/(\d+)"[^>]*>\s*(?:<b>)?{name}', page)[1])

    def look(how=None, path="import/preview"):
        form = {"target": "", "mapping": '["shortening_mm", "force_n"]' if how else ""}
        form["how"] = json.dumps(how) if how else ""
        revision = lab.get(f"/api/tests/{CYLINDER}/sheet").json()["revision"]
        form |= {"base_revision": str(revision), "save_key": f"key-{revision:08d}", "mode": "replace"}
        return lab.post(f"/api/tests/{CYLINDER}/{path}", files={"file": ("frame.csv", FRAME)}, data=form).json()

    def units():
        return [column["unit"] for column in look()["columns"]]

    with_frame("frame 1")
    first = {"ways": [None, None], "units": ["mm", "N"], "decimal": "found"}
    look(first, "import")
    with_frame("frame 2")
    (said,) = [note for note in look()["notes"] if "matched" in note]
    assert said == "Columns are matched and read as for a file from frame 1: look at units and signs."
    second = {"ways": [None, None], "units": ["mm", "kN"], "decimal": "found"}
    look(second, "import")
    assert units() == ["mm", "kN"]
    with_frame("frame 1")
    assert units() == ["mm", "N"]
    assert any("these headings from frame 1." in note for note in look()["notes"])


def test_a_file_that_is_not_taken_is_not_kept(lab):
    before = lab.get(f"/api/tests/{CYLINDER}/sheet").json()["revision"]
    spoilt = FRAME + "\nabc;1"
    assert bring(lab, "import", spoilt, '["shortening_mm", "force_n"]', before).status_code == 422
    stale = bring(lab, "import", FRAME, '["shortening_mm", "force_n"]', before - 1)
    assert stale.status_code == 409
    assert lab.get(f"/api/tests/{CYLINDER}/attachments").json() == []
    assert bring(lab, "import/preview", FRAME).json()["faults"], "nor is the matching remembered"


def test_an_import_sent_twice_is_kept_once(lab):
    before = lab.get(f"/api/tests/{CYLINDER}/sheet").json()["revision"]
    for _ in range(2):
        assert bring(lab, "import", FRAME, '["shortening_mm", "force_n"]', before).status_code == 200
    assert len(lab.get(f"/api/tests/{CYLINDER}/attachments").json()) == 1
    assert lab.get(f"/api/tests/{CYLINDER}/sheet").json()["revision"] == before + 1


def test_the_shape_of_the_failure_is_drawn(lab):
    sheet = save(lab, CYLINDER, cells={"failure": "one plane", "plane_angle": "56"})
    assert [f["title"] for f in sheet["figures"]] == ["Stress and strain", "Failure"]
    shown = lab.post(f"/api/tests/{CYLINDER}/preview", json={"figure": "failure"}).json()["figures"][1]["svg"]
    assert "one plane at 56°" in shown


def sheet_of(lab):
    return lab.get(f"/tests/{CYLINDER}/sheet.pdf").content


def printed(sheet):
    """Return the words of a sheet, and how many raster pictures stand on it."""
    return words_of(sheet), sum(len(page.images) for page in PdfReader(io.BytesIO(sheet)).pages)


def test_a_photograph_stands_on_the_sheet_until_it_is_taken_off(lab):
    assert printed(sheet_of(lab))[1] == 0
    (kept,) = send(lab, picture(), caption="core box with the tube").json()
    words, count = printed(sheet_of(lab))
    assert count == 1
    assert "Photographs" in words
    assert "core box with the tube" in words
    lab.post(f"/api/attachments/{kept['id']}/remove", json={"reason": "of another tube"})
    words, count = printed(sheet_of(lab))
    assert (count, "core box" in words) == (0, False)


def test_the_failed_specimen_stands_beside_its_sketch(lab):
    save(lab, CYLINDER, cells={"failure": "one-plane", "plane_angle": "61"})
    (kept,) = send(lab, picture(), caption="after failure", beside="failure").json()
    assert kept["beside"] == "failure"
    sheet = sheet_of(lab)
    words, count = printed(sheet)
    assert count == 1
    # Under the heading of the sketch, on its page, and not among other photographs.
    assert "Photographs" not in words
    assert "Failure" in next(page for page in pages_of(sheet) if "after failure" in page)
    # A sketch that is taken back leaves the photograph among the others.
    save(lab, CYLINDER, cells={"failure": ""})
    assert "Photographs" in printed(sheet_of(lab))[0]


def test_where_a_photograph_stands_is_a_key_and_nothing_else(lab):
    refused = send(lab, picture(), beside="../../etc")
    assert refused.status_code == 422
    assert lab.get(f"/api/tests/{CYLINDER}/attachments").json() == []
