"""Timings of whole pages: 75 megapixels written, sent and composed; seconds, ratios to a plain write of as many pixels, and memory."""

from __future__ import annotations

import resource
import tempfile
import time
from pathlib import Path

import numpy as np

from rehearsal.core.icc import open_profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Sheet
from rehearsal.demo.make import demo_folder
from rehearsal.demo.pictures import demo_picture
from rehearsal.tasks.paging import PageOrder, write_page
from rehearsal.tasks.writing import Target

#: 89.8 × 59.9 cm at 300 ppi are 10,606 × 7,075 pixels.
_SIZE = PrintSize(89.8, 59.9)


def _peak() -> float:
    """Megabytes this process has held at most."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000


def pages(fast: bool = False) -> None:
    """A page of 75 megapixels as TIFF and PDF, with nothing, with sharpening, with a recipe too."""
    folder = Path(tempfile.mkdtemp())
    paper = open_profile(demo_folder() / "profiles" / "SK24_WhiteDune_Hi.icc")
    picture = OpenPicture(read_picture(demo_picture("cloths.tif")), "digest")
    picture.pyramid.prepare()
    size = PrintSize(9.0, 6.0) if fast else _SIZE
    wide, high = size.pixels(300)
    begin = time.perf_counter()
    write_picture(np.full((high, wide, 3), 128, dtype=np.uint8), paper, 300, folder / "plain.tif")
    plain, held = time.perf_counter() - begin, _peak()
    for name, file, kind, recipe, sharpen in (
        ("TIFF, 8 bit", "a.tif", "tiff8", by_hand(), 0.0), ("PDF", "b.pdf", "tiff8", by_hand(), 0.0),
        ("TIFF, 16 bit", "c.tif", "tiff16", by_hand(), 0.0), ("PDF, sharpened", "d.pdf", "tiff8", by_hand(), 100.0),
        ("PDF, tuned and sharpened", "e.pdf", "tiff8", by_hand(contrast=6, strength=5, warmth=4), 100.0),
    ):  # fmt: skip
        hand_over = HandOver(format=kind, sharpen=sharpen, sigma_um=60.0 if sharpen else 0.0)
        frame, sheet = Frame(size=size), Sheet("20x15cm" if fast else "100x70cm")
        rendition = Rendition(
            "digest",
            destination=Destination(paper.digest),
            recipe=recipe,
            frame=frame,
            sheet=sheet,
            hand_over=hand_over,
        )
        begin = time.perf_counter()
        write_page(PageOrder((OpenRendition(rendition, picture, paper),)), Target(folder / file))
        took = time.perf_counter() - begin
        print(
            f"page of {wide * high / 1e6:.0f} Mpx, {name}: {took:.1f} s, {took / plain:.0f} × a plain write; "
            f"{_peak() - held:.0f} MB over the open picture"
        )


if __name__ == "__main__":
    pages()
