"""What the code on a label says, out of a picture of it."""

from vadum.records.photographs import PhotographError, opened

NONE_SEEN = "No code is seen in the picture. Hold the label flat and near, in the light, and take it again."
SEVERAL_SEEN = "There are {} codes in the picture. Take one label alone."


class NoCode(ValueError):
    """A picture that says no code, or more than one; the message is for the person who took it."""


def code_in(data: bytes) -> str:
    """Return what the code in a picture says.

    Raises
    ------
    NoCode
        If the file is no picture that can be read, or if there is no code in it, or several that differ.
    """
    from zxingcpp import BarcodeFormat, BarcodeFormats, read_barcodes

    try:
        image = opened(data)
    except PhotographError as error:
        raise NoCode(str(error)) from error
    codes = read_barcodes(image.convert("L"), BarcodeFormats(BarcodeFormat.QRCode))
    found = {code.text.strip() for code in codes}
    found.discard("")
    if len(found) != 1:
        raise NoCode(SEVERAL_SEEN.format(len(found)) if found else NONE_SEEN)
    return found.pop()
