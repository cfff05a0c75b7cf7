"""Tables as files: what laboratories bring."""

import io

import openpyxl

ROWS = [("4.75", "0"), ("2", "50.5"), ("0.425", "150.25")]


def workbook(*rows, sheet="Sheet"):
    book = openpyxl.Workbook()
    page = book.active
    page.title = sheet
    for row in rows:
        page.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def text(*rows, delimiter=",", encoding="utf-8"):
    return "\r\n".join(delimiter.join(row) for row in rows).encode(encoding)
