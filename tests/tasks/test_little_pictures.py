"""Little pictures for lists: their size, their colours, and files that cannot be read."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from rehearsal.core.errors import PictureError
from rehearsal.core.icc import Step, Transform
from rehearsal.core.icc.standard import working_space
from rehearsal.core.picture.file import little_picture, read_picture
from rehearsal.core.work.progress import silent
from rehearsal.demo.pictures import demo_picture
from rehearsal.tasks.opening import little_pictures
from rehearsal.workbook.masters import make_master


@pytest.mark.parametrize("name", ["cloths.tif", "dyed_cloths.jpg", "boiling_house.tif"])
def test_a_little_picture_has_the_pictures_colours_in_srgb(name: str) -> None:
    """Against the engine's own conversion of the full picture, whose means differ by the order of reducing alone."""
    path = demo_picture(name)
    little, picture = little_picture(path, 120, 80), read_picture(path)
    h, w = picture.pixels.shape[:2]
    assert little.dtype == np.uint8 and max(little.shape[0] / 80, little.shape[1] / 120) == pytest.approx(1.0)
    assert little.shape[1] / little.shape[0] == pytest.approx(w / h, rel=0.02)
    flat = picture.pixels[::8, ::8].reshape(-1, picture.pixels.shape[2]) / 65535.0
    exact = Transform([Step(picture.profile), Step(working_space("sRGB"), "relative")]).apply(flat) * 255
    np.testing.assert_allclose(little.reshape(-1, 3).mean(axis=0), exact.mean(axis=0), atol=6)


def test_what_cannot_be_read_has_none_and_ends_nothing(tmp_path: Path, little_cloths: Path) -> None:
    bad = tmp_path / "bad.tif"
    bad.write_bytes(b"II*\0" + b"\xff" * 300)
    with pytest.raises(PictureError):
        little_picture(bad, 60, 40)
    good = make_master(little_cloths)
    broken, gone = (type(good)(name=n, path=str(tmp_path / n), digest=n) for n in ("bad.tif", "gone.tif"))
    told: list[str] = []
    little_pictures([broken, gone, good], 60, 40, lambda digest, _rgb: told.append(digest), silent)
    assert told == [good.digest]
