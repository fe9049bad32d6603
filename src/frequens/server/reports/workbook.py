"""Tables as one XLSX workbook, a sheet each. It takes long to read: whoever writes one reads it."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from openpyxl.styles import Font

from .tables import Cell, Table


def write_xlsx(tables: Sequence[Table]) -> bytes:
    """All tables as one workbook; every text is a text, never a formula."""
    book = Workbook(write_only=True)
    for table in tables:
        sheet = book.create_sheet(table.name)
        sheet.freeze_panes = "A2"
        heads = [WriteOnlyCell(sheet, head) for head in table.heads]
        for head in heads:
            head.font = Font(bold=True)
        sheet.append(heads)
        for row in table.rows:
            sheet.append([_xlsx_cell(sheet, cell) for cell in row])
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def _xlsx_cell(sheet: Any, cell: Cell) -> Any:
    if not isinstance(cell, str):
        return cell
    # The format has no place for control characters; they may come from older data.
    text: str = ILLEGAL_CHARACTERS_RE.sub("", cell)
    if not text.startswith("="):
        return text
    written = WriteOnlyCell(sheet, text)
    written.data_type = "s"
    return written
