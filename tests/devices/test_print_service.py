"""The system's print service, against a private daemon of its own: what arrives is every pixel, unscaled, with the settings as sent.

What arrives is read by poppler's tools; the settings stand in the daemon's own log.
"""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

import numpy as np
import pytest
from tests.poppler import pdf_drawn, pdf_images, pdf_size_mm
from tests.printrig import PrintRig

from rehearsal.core.errors import QueueError
from rehearsal.core.sheet.page import DrawnPage, Part
from rehearsal.devices import printservice
from rehearsal.devices.printservice import (
    ServiceQueue,
    is_there,
    queue_names,
    read_options,
    read_saved,
    scale_of,
    stopped_words,
)


def _page(rng: np.random.Generator) -> DrawnPage:
    pixels = np.full((876, 620, 3), 255, dtype=np.uint8)  # A4 at 75 ppi
    pixels[100:500, 80:380] = rng.integers(0, 250, (400, 300, 3))
    part = Part(slice(100, 500), slice(80, 380), 80 / 75 * 25.4, 100 / 75 * 25.4)
    return DrawnPage(pixels, [part], (), 210.0, 297.0, 75.0)


def test_what_arrives_is_every_pixel_in_its_place_with_its_settings(
    print_daemon: PrintRig, tmp_path: Path, rng: np.random.Generator
) -> None:
    assert is_there() and queue_names() == ["skarn24"]
    queue, page = ServiceQueue("skarn24"), _page(rng)
    offers = queue.offers()
    assert [(o.role, o.choices) for o in offers.options] == [
        ("size", ("A4", "A3Plus")), ("media", ("Cotton", "Gloss")), ("feed", ("Rear", "Top")),
    ]  # fmt: skip
    assert offers.scale == 100 and offers.stopped == "" and not offers.simulated
    job = queue.send(
        page, "Drying line; rm -rf $HOME", [("PageSize", "A4"), ("MediaType", "Gloss"), ("InputSlot", "Top")]
    )
    arrived = print_daemon.arrived(job)
    (pixels,) = pdf_images(arrived, tmp_path)
    np.testing.assert_array_equal(pixels, page.pixels[100:500, 80:380])
    assert pdf_size_mm(arrived) == pytest.approx((210, 297), abs=0.2)
    drawn = pdf_drawn(arrived, tmp_path, 508)  # 20 pixels to the mm
    rows, columns = (np.flatnonzero((drawn < 252).any(axis=(2, axis))) for axis in (1, 0))
    assert rows[0] / 20 == pytest.approx(100 / 75 * 25.4, abs=0.1) and columns[0] / 20 == pytest.approx(
        80 / 75 * 25.4, abs=0.1
    )
    sent = re.findall(r'argv\[5\]="([^"]*)"', print_daemon.log)[-1]
    for option in ("MediaType=Gloss", "InputSlot=Top", "PageSize=A4", "print-scaling=none", "number-up=1"):
        assert option in sent


def test_a_page_can_be_taken_back_and_is_known_to_be(print_daemon: PrintRig, rng: np.random.Generator) -> None:
    queue = ServiceQueue("skarn24")
    job = queue.send(_page(rng), "held", [("job-hold-until", "indefinite")])
    assert queue.state(job).key == "held"
    queue.stop(job)
    assert print_daemon.settled(job, "stopped") == "stopped"
    with pytest.raises(QueueError, match="refuses"):
        queue.stop("skarn24-9999")


def test_a_queue_that_stands_still_says_why(print_daemon: PrintRig, rng: np.random.Generator) -> None:
    queue = ServiceQueue("skarn24")
    subprocess.run(["cupsdisable", "-r", "paper is out", "skarn24"], check=True)
    assert "paper is out" in queue.offers().stopped
    job = queue.send(_page(rng), "waits", [])
    state = queue.state(job)
    assert state.key in ("held", "waiting")
    subprocess.run(["cupsenable", "skarn24"], check=True)
    assert print_daemon.settled(job, "done") == "done" and queue.offers().stopped == ""


def test_scaling_left_in_a_queue_is_seen_and_taken_out(
    print_daemon: PrintRig, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    queue = ServiceQueue("skarn24")
    subprocess.run(
        ["lpoptions", "-p", "skarn24", "-o", "natural-scaling=97", "-o", "MediaType=Gloss"],
        check=True,
        capture_output=True,
    )
    found = queue.offers()
    media = found.option("media")
    assert found.scale == 97 and media is not None and media.default == "Gloss", "what its owner left on"
    queue.unscale()
    assert queue.offers().scale == 100
    subprocess.run(["lpoptions", "-p", "skarn24", "-r", "MediaType"], check=True, capture_output=True)


def test_a_file_that_is_no_page_fails_in_words(print_daemon: PrintRig, tmp_path: Path) -> None:
    bad = tmp_path / "bad.pdf"
    bad.write_bytes(b"%PDF-1.4\nbroken\n")
    queue = ServiceQueue("skarn24")
    job = queue.send_file(bad, "bad", [])
    assert print_daemon.settled(job, "done", "failed", "held", "stopped") != "done"
    subprocess.run(["cancel", "-a", "skarn24"], check=False, capture_output=True)
    subprocess.run(["cupsenable", "skarn24"], check=False, capture_output=True)


def test_an_unknown_queue_is_named(print_daemon: PrintRig, rng: np.random.Generator) -> None:
    with pytest.raises(QueueError, match="no such queue"):
        ServiceQueue("attic").offers()
    with pytest.raises(QueueError, match="refuses"):
        ServiceQueue("attic").send(_page(rng), "x", [])


# ---- without a service


def test_clients_that_are_missing_or_silent_are_named(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PATH", "/nowhere")
    assert queue_names() == []
    with pytest.raises(QueueError, match="programs are missing"):
        printservice._run(["lpstat", "-e"])
    monkeypatch.undo()
    with pytest.raises(QueueError, match="does not answer"):
        printservice._run(["sleep", "5"], 0.1)


def test_a_state_is_never_claimed_that_nobody_can_tell(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(printservice.shutil, "which", lambda _name: None)
    monkeypatch.setattr(printservice, "_run", lambda _command, _seconds=0: "")
    state = ServiceQueue("hall").state("hall-3")
    assert state.key == "done" and "do not tell" in state.words
    monkeypatch.setattr(
        printservice,
        "_run",
        lambda command, _seconds=0: "hall-3 me 1 today\n" if "-o" in command else "printer hall is idle.",
    )
    assert ServiceQueue("hall").state("hall-3").key == "printing"


def test_what_the_clients_print_is_read() -> None:
    saved = read_saved("copies=1 printer-info='Hall, upstairs' ColorModel=Gray printer-location fit-to-page")
    assert (
        saved["printer-info"] == "Hall, upstairs" and saved["ColorModel"] == "Gray" and saved["printer-location"] == ""
    )
    (size, colour) = read_options(
        "PageSize/Media Size: *A4 A3.Borderless\nColorModel/Colour: *RGB Gray\nrubbish", saved
    )
    assert size.default == "A4" and size.role == "size" and colour.default == "Gray" and colour.words == "Colour"
    assert scale_of({"scaling": "97"}) == 97 and scale_of({"natural-scaling": "x"}) == 100
    assert (
        scale_of({"fit-to-page": "true"}) == 0 == scale_of({"print-scaling": "fit"})
        and scale_of({"fit-to-page": "false"}) == 100
    )
    assert stopped_words("printer hall disabled since Mon -\n\tpaper is out\n") == "it is stopped: paper is out"
    assert stopped_words("printer hall is idle.  enabled since Mon") == ""
