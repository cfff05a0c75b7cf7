"""Pictures without what came along with them: position, maker's notes, captions, second pictures, bytes behind the end.

Files are taken apart, not decoded: what is left of the picture is bit for bit what the camera wrote. Published formats:
JPEG (ITU-T T.81 with JFIF), PNG (ISO/IEC 15948), WebP container (RIFF).
"""

import struct
import zlib
from collections.abc import Iterator

_ORIENTATION = 0x0112
# What a viewer needs for right colours and sizes; of applications' own segments only these.
_JPEG_KEPT = ((0xE0, b"JFIF\x00"), (0xE2, b"ICC_PROFILE\x00"), (0xEE, b"Adobe"))
_PNG_KEPT = {
    b"IHDR",
    b"PLTE",
    b"IDAT",
    b"IEND",
    b"tRNS",
    b"cHRM",
    b"gAMA",
    b"iCCP",
    b"sBIT",
    b"sRGB",
    b"bKGD",
    b"pHYs",
    b"cICP",
}
_WEBP_KEPT = {b"VP8 ", b"VP8L", b"ALPH", b"ICCP", b"ANIM", b"ANMF"}
_EXIF_FLAG, _XMP_FLAG = 0x08, 0x04


class Broken(ValueError):
    """A picture whose parts do not follow one another as its format says."""


def stripped(data: bytes, exif: bytes) -> bytes:
    """Return a picture with nothing but itself, and with ``exif`` as its only metadata.

    Arguments
    ---------
    exif : an Exif block from its TIFF header on, b"" for none

    Raises
    ------
    Broken
        If it cannot be taken apart.
    """
    try:
        if data.startswith(b"\xff\xd8"):
            return _jpeg(data, exif)
        return _png(data, exif) if data.startswith(b"\x89PNG") else _webp(data, exif)
    except (IndexError, struct.error) as error:
        raise Broken("the file ends in the middle of a part") from error


def oriented(orientation: int) -> bytes:
    """Return an Exif block that says which way is up and nothing else; b"" for a picture that is upright."""
    if orientation not in range(2, 9):
        return b""
    return b"II*\x00" + struct.pack("<IH", 8, 1) + struct.pack("<HHIHHI", _ORIENTATION, 3, 1, orientation, 0, 0)


def _jpeg(data: bytes, exif: bytes) -> bytes:
    out = [b"\xff\xd8"]
    own = b"Exif\x00\x00" + exif
    told = struct.pack(">HH", 0xFFE1, len(own) + 2) + own if exif else b""
    at = 2
    while True:
        if data[at] != 0xFF:
            raise Broken("a segment without a marker")
        while data[at + 1] == 0xFF:  # any number of fill bytes may stand before a marker
            at += 1
        marker = data[at + 1]
        if marker == 0xD9:
            return b"".join([*out, b"\xff\xd9"])
        length: int = struct.unpack(">H", data[at + 2 : at + 4])[0]
        segment, body = data[at : at + 2 + length], data[at + 4 : at + 2 + length]
        if length < 2 or len(segment) < 2 + length:
            raise Broken("a segment that ends behind the file")
        if marker != 0xE0 and told:  # behind the JFIF header, before anything else
            out.append(told)
            told = b""
        applications = 0xE0 <= marker <= 0xEF or marker == 0xFE
        if not applications or any(marker == kept and body.startswith(name) for kept, name in _JPEG_KEPT):
            out.append(segment)
        at += 2 + length
        if marker == 0xDA:
            end = _end_of_scan(data, at)
            out.append(data[at:end])
            at = end


def _end_of_scan(data: bytes, at: int) -> int:
    """Return where the next marker stands behind the coded picture: in it 0xFF is followed by 0, or restarts it."""
    while True:
        at = data.find(b"\xff", at)
        if at < 0 or at + 1 >= len(data):
            raise Broken("the picture does not end")
        follows = data[at + 1]
        if follows != 0 and not 0xD0 <= follows <= 0xD7 and follows != 0xFF:
            return at
        at += 1 if follows == 0xFF else 2


def _png(data: bytes, exif: bytes) -> bytes:
    out = [data[:8]]
    at = 8
    while True:
        length: int = struct.unpack(">I", data[at : at + 4])[0]
        kind, chunk = data[at + 4 : at + 8], data[at : at + 12 + length]
        if len(chunk) < 12 + length:
            raise Broken("a chunk that ends behind the file")
        if kind in _PNG_KEPT:
            out.append(chunk)
        if kind == b"IHDR" and exif:
            out.append(struct.pack(">I", len(exif)) + b"eXIf" + exif + struct.pack(">I", zlib.crc32(b"eXIf" + exif)))
        if kind == b"IEND":
            return b"".join(out)
        at += 12 + length


def _webp(data: bytes, exif: bytes) -> bytes:
    size: int = struct.unpack("<I", data[4:8])[0]
    kept = list(_riff(data[: 8 + size]))
    extended = dict(kept).get(b"VP8X")
    parts = [(kind, body) for kind, body in kept if kind in _WEBP_KEPT]
    if extended is not None:
        flags = extended[0] & ~(_EXIF_FLAG | _XMP_FLAG) | (_EXIF_FLAG if exif else 0)
        parts = [(b"VP8X", bytes([flags]) + extended[1:]), *parts]
        parts += [(b"EXIF", exif)] if exif else []
    body = b"".join(
        kind + struct.pack("<I", len(part)) + part + (b"\x00" if len(part) % 2 else b"") for kind, part in parts
    )
    return b"RIFF" + struct.pack("<I", len(body) + 4) + b"WEBP" + body


def _riff(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = 12
    while at + 8 <= len(data):
        kind, length = data[at : at + 4], struct.unpack("<I", data[at + 4 : at + 8])[0]
        if at + 8 + length > len(data):
            raise Broken("a chunk that ends behind the file")
        yield kind, data[at + 8 : at + 8 + length]
        at += 8 + length + length % 2
