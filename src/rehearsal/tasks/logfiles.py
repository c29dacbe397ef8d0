"""The logbook as files: CSV and PDF to read, JSON to read and to take in again."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from rehearsal.core.errors import PictureError
from rehearsal.core.picture.write import put_in_place
from rehearsal.core.testsheets.verdictrows import offset_words, offsets_of
from rehearsal.core.values.words import word
from rehearsal.workbook.migrations import FORMAT
from rehearsal.workbook.values import LogEntry, to_plain

HEADS = (
    "date", "picture", "paper", "verdict", "light", "lux", "kelvin", "screen cd/m²", "lighter by stops", "warmer by mired",
    "harder by", "cost", "words",
)  # fmt: skip


def row_of(entry: LogEntry) -> list[str]:
    """An entry as the table has it: what the print was beside the take, in stops, mired and contrast."""
    return [
        entry.when, entry.picture, entry.condition_name, word("verdict", entry.verdict), word("light", entry.light), f"{entry.lux:.0f}",
        f"{entry.kelvin:.0f}" if entry.kelvin > 0 else "", f"{entry.screen_white:.0f}", f"{-entry.darker / 6 + 0.0:.2f}",
        f"{-entry.cooler * 5 + 0.0:.0f}", f"{-entry.flatter * 5 + 0.0:.0f}", f"{entry.cost:.2f}" if entry.cost >= 0 else "", entry.words,
    ]  # fmt: skip


def csv_text(entries: Sequence[LogEntry]) -> str:
    """The logbook as comma-separated values (RFC 4180), newest last."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEADS)
    for entry in entries:
        # a cell that begins like a formula would be one in a spreadsheet
        writer.writerow([f"'{cell}" if cell[:1] in ("=", "+", "@") else cell for cell in row_of(entry)])
    return out.getvalue()


def json_text(entries: Sequence[LogEntry]) -> str:
    """The logbook as it is taken in again."""
    data: dict[str, Any] = {"format": FORMAT, "log": [to_plain(e) for e in entries]}
    return json.dumps(data, ensure_ascii=False, indent=1)


def write_log(entries: Sequence[LogEntry], path: Path) -> None:
    """Write the logbook: the ending says how: .csv, .json or .pdf.

    Raises:
        PictureError: the ending is another one, or nothing can be written there.
    """
    suffix = path.suffix.lower()
    if suffix not in (".csv", ".json", ".pdf"):
        raise PictureError("a logbook is written as CSV, JSON or PDF", path, "end the name in .csv, .json or .pdf")
    if suffix == ".pdf":
        put_in_place(path, lambda name: _write_pdf(entries, name), True)
        return
    text = csv_text(entries) if suffix == ".csv" else json_text(entries)

    def write(name: str) -> None:
        Path(name).write_text(text, encoding="utf-8", newline="")

    put_in_place(path, write, True)


def sentence_of(entry: LogEntry) -> str:
    """What the print was beside the take, as a line to read."""
    return offset_words(offsets_of(entry.darker, entry.cooler, entry.flatter)) or "as the take"


def _write_pdf(entries: Sequence[LogEntry], name: Any) -> None:
    from reportlab.lib.pagesizes import A4
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.pdfgen.canvas import Canvas

    from rehearsal.core.sheet.ticketpage import FONTS, font_file

    for key in FONTS:
        pdfmetrics.registerFont(TTFont(key, font_file(key)))
    page = Canvas(str(name), pagesize=A4, invariant=1)
    page.setTitle("Logbook")
    y = _head(page)
    for entry in entries:
        if y < 60:
            page.showPage()
            y = _head(page)
        page.setFont("strong", 9)
        page.drawString(50, y, f"{entry.when}  {entry.picture}"[:90])
        page.setFont("plain", 8)
        page.drawString(
            50, y - 11, f"{entry.condition_name}; {word('verdict', entry.verdict)}; {sentence_of(entry)}"[:110]
        )
        light = (
            f"{word('light', entry.light)}, {entry.lux:.0f} lux{f', {entry.kelvin:.0f} K' if entry.kelvin > 0 else ''}"
        )
        page.drawString(50, y - 21, f"{light}{f'; {entry.words}' if entry.words else ''}"[:110])
        y -= 36
    page.save()


def _head(page: Any) -> float:
    page.setFont("strong", 12)
    page.drawString(50, 800, "Logbook")
    return 775.0
