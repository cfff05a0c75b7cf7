"""Photographs made ready for the record: read as what they are, small copy upright, nothing that came along with
them."""

import io
import warnings

from vadum.records.stripping import Broken, oriented, stripped

LARGEST_PIXELS = 80_000_000
_SMALL = 1280
_GPS, _ORIENTATION = 0x8825, 0x0112
_KINDS = {"JPEG": "image/jpeg", "MPO": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}


class PhotographError(ValueError):
    """A file that is no photograph that can be kept; the message is for the person who brought it."""


def opened(data: bytes) -> "Image.Image":  # type: ignore[name-defined]  # noqa: F821
    """Return a picture that was brought, read to its end.

    Raises
    ------
    PhotographError
        If it is of another kind, damaged, or too large to open.
    """
    from PIL import Image, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data))
            if image.format not in _KINDS:  # a phone's JPEG with a second picture behind it is called MPO
                raise PhotographError(f"A {image.format} picture; JPEG, PNG or WebP can be kept.")
            if image.width * image.height > LARGEST_PIXELS:
                raise PhotographError(
                    f"{image.width} x {image.height} pixels are too many; take it at a lower setting."
                )
            image.load()
    except PhotographError:
        raise
    except (
        UnidentifiedImageError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
        OSError,
        ValueError,
    ) as error:
        raise PhotographError("This is no picture that can be read: JPEG, PNG or WebP, not damaged.") from error
    return image


def prepared(data: bytes, *, keep_position: bool) -> tuple[bytes, bytes, str]:
    """Return the photograph to keep, a small copy and the media type.

    The picture stays bit for bit as it is; of what came along with it only which way is up stays, and where it was
    taken if that is wanted. The small copy carries nothing at all.

    Raises
    ------
    PhotographError
        If it is no picture that can be opened, or damaged.
    """
    from PIL import ImageOps

    image = opened(data)
    small = ImageOps.exif_transpose(image).convert("RGB")
    small.thumbnail((_SMALL, _SMALL))
    out = io.BytesIO()
    small.save(out, "JPEG", quality=82)
    try:
        whole = stripped(data, _kept_of(image, keep_position=keep_position))
    except Broken as error:
        raise PhotographError(f"This picture is damaged: {error}.") from error
    return whole, out.getvalue(), _KINDS[image.format]


def _kept_of(image: "Image.Image", *, keep_position: bool) -> bytes:  # type: ignore[name-defined]  # noqa: F821
    """Return the Exif block that stays: which way is up, and where it was taken if that is wanted."""
    exif = image.getexif()
    position = exif.get_ifd(_GPS) if keep_position else {}
    if not position:
        return oriented(exif.get(_ORIENTATION, 1))
    for tag in list(exif):
        if tag not in (_ORIENTATION, _GPS):
            del exif[tag]
    return bytes(exif.tobytes().removeprefix(b"Exif\x00\x00"))
