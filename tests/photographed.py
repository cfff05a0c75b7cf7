"""A label as a phone photographs it on a bench: turned, leaning, in poor light, soil on a corner."""

import io

import numpy as np
import segno
from PIL import Image, ImageDraw, ImageFilter

SIDE = 900


def label(*codes, turned=17.0, soiled=True):
    """Return the JPEG of one or more labels beside each other."""
    sheet = Image.new("L", (SIDE * len(codes), SIDE), 190)
    for i, code in enumerate(codes):
        out = io.BytesIO()
        segno.make(code, error="q", micro=False).save(out, kind="png", scale=12, border=4)
        one = Image.open(io.BytesIO(out.getvalue())).convert("L")
        if soiled:
            # One corner that is not a finder of the code's.
            w, h = one.size
            ImageDraw.Draw(one).ellipse((w * 0.72, h * 0.72, w * 0.86, h * 0.84), fill=90)
        one = one.rotate(turned, expand=True, fillcolor=190)
        one = one.transform(one.size, Image.Transform.AFFINE, (1, 0.12, 0, 0.05, 1, 0), fillcolor=190)
        one.thumbnail((SIDE - 80, SIDE - 80))
        sheet.paste(one, (i * SIDE + 40, 40))
    grain = np.random.default_rng(5).normal(0, 12, (SIDE, SIDE * len(codes)))
    dim = np.clip(np.asarray(sheet, float) * 0.6 + grain, 0, 255).astype(np.uint8)
    taken = io.BytesIO()
    Image.fromarray(dim).filter(ImageFilter.GaussianBlur(1.5)).save(taken, "JPEG", quality=55)
    return taken.getvalue()


def bench():
    """Return a picture without a label."""
    taken = io.BytesIO()
    Image.new("L", (600, 400), 150).save(taken, "JPEG")
    return taken.getvalue()
