"""What poppler's tools read in a PDF: an independent reader of what was written."""

import re
import subprocess
from pathlib import Path

import numpy as np
from PIL import Image


def pdf_images(path: Path, folder: Path) -> list[np.ndarray]:
    """Its images as they are stored, (h, w, 3) or (h, w)."""
    subprocess.run(["pdfimages", "-png", str(path), str(folder / "im")], check=True)
    return [np.asarray(Image.open(found)) for found in sorted(folder.glob("im-*.png"))]


def pdf_size_mm(path: Path) -> tuple[float, float]:
    """Width and height of its page."""
    said = subprocess.run(["pdfinfo", str(path)], check=True, capture_output=True, text=True).stdout
    found = re.search(r"Page size: +([\d.]+) x ([\d.]+) pts", said)
    assert found is not None and "Pages:           1" in said
    wide, high = (float(v) / 72 * 25.4 for v in found.groups())
    return wide, high


def pdf_drawn(path: Path, folder: Path, ppi: float) -> np.ndarray:
    """The page as it is drawn at a resolution, (h, w, 3)."""
    subprocess.run(["pdftoppm", "-png", "-r", str(ppi), "-singlefile", str(path), str(folder / "page")], check=True)
    return np.asarray(Image.open(folder / "page.png").convert("RGB"))
