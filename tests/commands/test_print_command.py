"""``rehearsal print``: the page at a real queue and at the simulated one; what it refuses, and what it only says."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from tests.conftest import opened_for
from tests.poppler import pdf_images
from tests.printrig import PrintRig

from rehearsal.commands.cli import run
from rehearsal.core.icc import Profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.sheet.printfile import make_pixels
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.demo.make import demo_folder
from rehearsal.tasks.queues import SIMULATED

PAPER = str(demo_folder() / "profiles" / "SK24_WhiteDune_Hi.icc")


def _print(picture: Path, *more: str) -> int:
    return run(["print", str(picture), "--paper", PAPER, "--size", "9x6cm", "--ppi", "127", *more])


def test_every_pixel_arrives_at_a_queue(
    small_cloths: Path, dune: Profile, print_daemon: PrintRig, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert _print(small_cloths, "--sheet", "A4", "--queue", "skarn24", "--media", "Gloss", "--place", "foot:15") == 0
    said = capsys.readouterr()
    assert said.out.startswith("skarn24-") and "No feed was named: it is sent with “Rear”" in said.err
    wanted = make_pixels(
        opened_for(
            read_picture(small_cloths),
            dune,
            frame=Frame(size=PrintSize(9.0, 6.0)),
            hand_over=HandOver(ppi=127.0, format="tiff8"),
        )
    )
    arrived = print_daemon.arrived(said.out.split()[0])
    (pixels,) = pdf_images(arrived, tmp_path)
    np.testing.assert_array_equal(np.rot90(pixels), wanted)


@pytest.mark.parametrize(
    ("more", "says"),
    [
        (("--sheet", "A4", "--queue", "attic"), "no such queue"), (("--sheet", "A2", "--queue", "skarn24"), "no sheet of that size"),
        (("--sheet", "A4", "--queue", "skarn24", "--media", "Silk"), "does not know that: Silk: take one of Cotton, Gloss"),
        (("--sheet", "A4", "--queue", "skarn24", "--feed", "Cellar"), "take one of Rear, Top"),
    ],
)  # fmt: skip
def test_what_is_unknown_is_refused(
    more: tuple[str, ...], says: str, small_cloths: Path, print_daemon: PrintRig, capsys: pytest.CaptureFixture[str]
) -> None:
    assert _print(small_cloths, *more) == 2
    said = capsys.readouterr()
    assert says in said.err and said.err.count("\n") == 1 and said.out == ""


def test_cautions_are_said_and_the_page_is_sent_all_the_same(
    small_cloths: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    page = ["--size", "40x26cm", "--sheet", "A3+", "--ppi", "60"]
    assert run(["print", str(small_cloths), "--paper", PAPER, *page, "--queue", SIMULATED]) == 0
    said = capsys.readouterr()
    assert said.out.startswith("simulated-") and "ppi" in said.err and "Fine art, smooth" in said.err
    assert all(line.startswith("rehearsal: ") for line in said.err.splitlines())
