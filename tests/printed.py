"""What stands on paper: the words of a PDF as a reader finds them."""

import pypdfium2


def pages_of(pdf):
    """Return the text of every page, line by line."""
    document = pypdfium2.PdfDocument(pdf)
    return [page.get_textpage().get_text_bounded().replace("\r\n", "\n") for page in document]


def words_of(pdf):
    """Return all of it with single spaces, wherever its lines and pages end."""
    return " ".join(" ".join(pages_of(pdf)).split())
