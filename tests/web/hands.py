"""What hands do over the interface: sign in, save, take a reading, photograph."""

import io
import re

from fastapi.testclient import TestClient
from PIL import Image

GPS, TURNED = 0x8825, 0x0112  # tags of a photograph: position, and which way is up
SECRET = re.compile(r'data-testid="secret">([^<]+)<')
PASSWORD = "long enough for all"


def signed_in(app, name):
    client = TestClient(app, raise_server_exceptions=False)
    reply = client.post("/sign-in", data={"name": name, "password": PASSWORD}, follow_redirects=False)
    assert reply.status_code == 303, reply.text
    return client


def save(client, test, **change):
    sheet = client.get(f"/api/tests/{test}/sheet").json()
    body = {"base_revision": sheet["revision"], "save_key": f"key-{sheet['revision']:08d}"} | change
    reply = client.post(f"/api/tests/{test}/save", json=body)
    assert reply.status_code == 200, reply.text
    return reply.json()


def take(client, test, *paths, minutes=None):
    return client.post(f"/api/tests/{test}/read", json={"cells": dict.fromkeys(paths, minutes)}).json()


def picture(kind="JPEG", size=(1600, 1200), *, position=True):
    exif = Image.Exif()
    exif[TURNED] = 6
    if position:
        exif[GPS] = {1: "N", 2: (52.0, 7.0, 1.0), 3: "W", 4: (1.0, 2.0, 3.0)}
    out = io.BytesIO()
    Image.linear_gradient("L").resize(size).convert("RGB").save(out, kind, exif=exif)
    return out.getvalue()


def read(reply):
    """Return a page as it reads: runs of blanks and line ends are one blank."""
    return re.sub(r"\s+", " ", reply.text)
