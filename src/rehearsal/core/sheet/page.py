"""The whole page as it goes to the printer: the print at its place, and bare paper around it."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from rehearsal.core.picture.write import put_in_place
from rehearsal.core.sheet.placing import OnSheet

_MM = 72 / 25.4


def page_pixels(pixels: np.ndarray, where: OnSheet, ppi: float) -> np.ndarray:
    """Device values of the page (h, w, channels): those of the print (h, w, channels) at their place, no ink elsewhere.

    No ink is the largest value of RGB printers and of grey ones, and nought of ink amounts.
    """
    wide, high = (round(side / 25.4 * ppi) for side in where.sheet)
    pixels = pixels[:high, :wide]  # one as large as its sheet may be a pixel larger by rounding
    h, w, channels = pixels.shape
    bare = 0 if channels == 4 else np.iinfo(pixels.dtype).max
    left, top = (
        min(max(round(v / 25.4 * ppi), 0), most) for v, most in ((where.left, wide - w), (where.top, high - h))
    )
    page = np.full((high, wide, channels), bare, dtype=pixels.dtype)
    page[top : top + h, left : left + w] = pixels
    return page


def write_page_pdf(pixels: np.ndarray, where: OnSheet, path: Path, replace: bool = True) -> None:
    """The page as PDF: 8-bit device values (h, w, 3) without a profile and without loss, at their place, in their size.

    Raises:
        PictureError: the file cannot be written, or is there; nothing half-written stays.
    """
    from PIL import Image
    from reportlab.lib.utils import ImageReader
    from reportlab.pdfgen.canvas import Canvas

    def write(name: str) -> None:
        canvas = Canvas(name, pagesize=tuple(side * _MM for side in where.sheet), pageCompression=1)
        wide, high = (side * _MM for side in where.size)
        foot = (where.sheet[1] - where.top - where.size[1]) * _MM
        canvas.drawImage(ImageReader(Image.fromarray(pixels)), where.left * _MM, foot, wide, high)
        canvas.save()

    put_in_place(path, write, replace)
