"""A label's code read out of a picture of it: a tin's number, a sample's address."""

import pytest

from tests.photographed import bench, label


def read(client, data, name="p.jpg"):
    return client.post("/api/code", files={"file": (name, data)})


@pytest.mark.parametrize("turned", [0.0, 17.0, 90.0, 200.0])
def test_a_label_photographed_on_the_bench_says_its_code(client, turned):
    for code in ("T12", "http://vadum.local:8000/samples/417"):
        assert read(client, label(code, turned=turned)).json() == {"code": code}


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (bench(), "No code is seen"),
        (label("T12", "T13"), "There are 2 codes in the picture. Take one label alone."),
        (b"T12", "This is no picture that can be read"),
        (label("T12")[:3000], "This is no picture that can be read"),
    ],
)
def test_what_cannot_be_read_is_said_with_what_to_do(client, data, said):
    answer = read(client, data)
    assert answer.status_code == 422
    assert said in answer.json()["message"]
