"""Photographs made ready for the record: read as what they are, turned upright, small copy, no position."""

import io
import warnings

LARGEST_PIXELS = 80_000_000
_SMALL = 1280
_GPS = 0x8825
_KINDS = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}


class PhotographError(ValueError):
    """A file that is no photograph that can be kept; the message is for the person who brought it."""


def prepared(data: bytes, *, keep_position: bool) -> tuple[bytes, bytes, str]:
    """Return the photograph to keep, a small copy and the media type.

    The pixels stay as they are; where the camera wrote a position it is taken out unless wanted. The small copy carries
    no metadata at all.

    Raises
    ------
    PhotographError
        If it is of another kind, damaged, or too large to open.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data))
            if image.format not in _KINDS:
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
    small = ImageOps.exif_transpose(image).convert("RGB")
    small.thumbnail((_SMALL, _SMALL))
    out = io.BytesIO()
    small.save(out, "JPEG", quality=82)
    return _without_position(data, image, keep_position=keep_position), out.getvalue(), _KINDS[image.format]


def _without_position(data: bytes, image: "Image.Image", *, keep_position: bool) -> bytes:  # type: ignore[name-defined]  # noqa: F821
    exif = image.getexif()
    if keep_position or (_GPS not in exif and b"exif:GPS" not in data):
        return data
    exif.pop(_GPS, None)
    out = io.BytesIO()
    # The camera's own compression is kept, so that nothing of the picture is lost.
    image.save(out, image.format, exif=exif, xmp=b"", **({"quality": "keep"} if image.format == "JPEG" else {}))
    return out.getvalue()
