"""Readings of a screen as CGATS text."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from rehearsal.core.errors import RehearsalError
from rehearsal.devices import cgats

_DO = "the file needs the columns RGB_R, RGB_G, RGB_B and XYZ_X, XYZ_Y, XYZ_Z, and a patch of full white"


def read_screen_file(path: str | Path, white_luminance: float) -> tuple[np.ndarray, np.ndarray]:
    """Screen readings of a CGATS file: RGB (m, 3), 0 to 1, and XYZ (m, 3) in cd/m².

    Args:
        white_luminance: cd/m² of white, used when the file's XYZ are relative (white has Y = 100).

    Raises:
        RehearsalError: the file has no such columns or no white.
    """
    for table in cgats.read(path):
        if not table.has("RGB_R", "RGB_G", "RGB_B", "XYZ_X", "XYZ_Y", "XYZ_Z"):
            continue
        try:
            rgb = table.columns(["RGB_R", "RGB_G", "RGB_B"])
            xyz = table.columns(["XYZ_X", "XYZ_Y", "XYZ_Z"])
        except ValueError as error:
            raise RehearsalError(f"a reading is not a number ({error})", path, _DO) from error
        rgb = rgb / (255.0 if rgb.max() > 100.5 else 100.0)
        white = np.flatnonzero(np.all(rgb > 0.9999, axis=1))
        if not len(white) or not np.isfinite(xyz).all():
            break
        if abs(xyz[white[0], 1] - 100) < 0.005:
            xyz = xyz * white_luminance / 100
        return rgb, xyz
    raise RehearsalError("no readings of a screen found", path, _DO)


def screen_file_text(rgb: np.ndarray, xyz: np.ndarray, title: str) -> str:
    """CGATS text of screen readings: RGB 0 to 100, XYZ in cd/m²."""
    head = [
        "CGATS.17", f'DESCRIPTOR "{title}"', 'ORIGINATOR "Rehearsal"', 'LUMINANCE_UNIT "cd/m2"', "NUMBER_OF_FIELDS 7",
        "BEGIN_DATA_FORMAT", "SAMPLE_ID RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z", "END_DATA_FORMAT",
        f"NUMBER_OF_SETS {len(rgb)}", "BEGIN_DATA",
    ]  # fmt: skip
    rows = [
        f"{i + 1} " + " ".join(f"{v:.4f}" for v in (*(r * 100), *x))
        for i, (r, x) in enumerate(zip(rgb, xyz, strict=True))
    ]
    return "\n".join([*head, *rows, "END_DATA", ""])
