"""A page as PDF: device values without a profile and without loss, each part at its place, unscaled.

The file is written part by part (ISO 32000-1: image XObjects in DeviceRGB, DeviceGray or DeviceCMYK, 8 bits). The page library that sets
the tickets holds three copies of a picture and packs it on one core; here nothing is held twice, and what is large is not packed.
"""

from __future__ import annotations

import zlib
from collections.abc import Callable, Iterator
from typing import BinaryIO

import numpy as np

from rehearsal.core.sheet.page import DrawnPage, Part

_POINTS = 72 / 25.4
_SPACES = {1: b"/DeviceGray", 3: b"/DeviceRGB", 4: b"/DeviceCMYK"}
_DARK = {1: b"0 G", 3: b"0 0 0 RG", 4: b"0 0 0 1 K"}
#: Larger parts are not packed: photographs hardly shrink, and packing takes longer than anything else.
_PACKED_PIXELS = 24_000_000
_STRIP_ROWS = 512
#: Cut marks are so wide, points.
_LINE = 0.3


class _Objects:
    """Writes numbered objects and remembers where they begin."""

    def __init__(self, file: BinaryIO) -> None:
        self._file, self._starts = file, dict[int, int]()
        self._count = 0
        file.write(b"%PDF-1.5\n%\xe2\xe3\xcf\xd3\n")

    def number(self) -> int:
        """A number for an object that is written later."""
        self._count += 1
        return self._count

    def put(self, number: int, body: bytes) -> None:
        """A plain object."""
        self._begin(number)
        self._file.write(body + b"\nendobj\n")

    def stream(self, number: int, head: bytes, pieces: Callable[[], Iterator[bytes]]) -> None:
        """A stream whose length is known only when it is written: it stands in an object of its own."""
        length = self.number()
        self._begin(number)
        self._file.write(b"<< " + head + b" /Length %d 0 R >>\nstream\n" % length)
        size = 0
        for piece in pieces():
            self._file.write(piece)
            size += len(piece)
        self._file.write(b"\nendstream\nendobj\n")
        self.put(length, b"%d" % size)

    def _begin(self, number: int) -> None:
        self._starts[number] = self._file.tell()
        self._file.write(b"%d 0 obj\n" % number)

    def close(self, root: int) -> None:
        """The table of places."""
        at = self._file.tell()
        rows = b"".join(b"%010d 00000 n \n" % self._starts[n] for n in range(1, self._count + 1))
        self._file.write(b"xref\n0 %d\n0000000000 65535 f \n" % (self._count + 1) + rows)
        self._file.write(
            b"trailer\n<< /Size %d /Root %d 0 R >>\nstartxref\n%d\n%%%%EOF\n" % (self._count + 1, root, at)
        )


def write_pdf(page: DrawnPage, path: str) -> None:
    """One page of 8-bit pixels.

    Raises:
        ValueError: they are of another depth.
        OSError: it cannot be written.
    """
    if page.pixels.dtype != np.uint8:
        raise ValueError("PDF carries 8 bits here")
    with open(path, "wb") as file:  # noqa: PTH123 - the path of a file that is renamed when it is whole
        objects = _Objects(file)
        root, pages, leaf, content = (objects.number() for _ in range(4))
        images = []
        for part in page.parts:
            number = objects.number()
            _put_image(objects, number, page.pixels[part.rows, part.columns])
            images.append(number)
        names = b" ".join(b"/Im%d %d 0 R" % (i, n) for i, n in enumerate(images))
        objects.stream(content, b"", lambda: iter([_drawing(page)]))
        box = b"[0 0 %.4f %.4f]" % (page.width * _POINTS, page.height * _POINTS)
        objects.put(
            leaf, b"<< /Type /Page /Parent %d 0 R /MediaBox %s /Contents %d 0 R /Resources << /XObject << %s >> >> >>"
            % (pages, box, content, names),
        )  # fmt: skip
        objects.put(pages, b"<< /Type /Pages /Kids [%d 0 R] /Count 1 >>" % leaf)
        # nothing between here and the printer may scale
        objects.put(root, b"<< /Type /Catalog /Pages %d 0 R /ViewerPreferences << /PrintScaling /None >> >>" % pages)
        objects.close(root)


def _put_image(objects: _Objects, number: int, pixels: np.ndarray) -> None:
    high, wide, channels = pixels.shape
    packed = high * wide <= _PACKED_PIXELS
    head = b"/Type /XObject /Subtype /Image /Width %d /Height %d /BitsPerComponent 8 /ColorSpace %s" % (
        wide,
        high,
        _SPACES[channels],
    )
    objects.stream(number, head + (b" /Filter /FlateDecode" if packed else b""), lambda: _pieces(pixels, packed))


def _pieces(pixels: np.ndarray, packed: bool) -> Iterator[bytes]:
    packer = zlib.compressobj(1)
    for start in range(0, len(pixels), _STRIP_ROWS):
        piece = pixels[start : start + _STRIP_ROWS].tobytes()
        yield packer.compress(piece) if packed else piece
    if packed:
        yield packer.flush()


def _drawing(page: DrawnPage) -> bytes:
    """Each part in its own pixels' size, and the cut marks."""
    dark = _DARK[page.pixels.shape[2]]
    drawn = [_placed(page, part, i) for i, part in enumerate(page.parts)]
    for x0, y0, x1, y1 in page.lines:
        ends = tuple(v * _POINTS for v in (x0, page.height - y0, x1, page.height - y1))
        drawn.append(dark + b" %.2f w" % _LINE + b" %.4f %.4f m %.4f %.4f l S" % ends)
    return b"\n".join(drawn)


def _placed(page: DrawnPage, part: Part, number: int) -> bytes:
    wide, high = ((s.stop - s.start) * 72 / page.ppi for s in (part.columns, part.rows))
    x, y = part.left * _POINTS, (page.height - part.top) * _POINTS - high
    return b"q %.4f 0 0 %.4f %.4f %.4f cm /Im%d Do Q" % (wide, high, x, y, number)
