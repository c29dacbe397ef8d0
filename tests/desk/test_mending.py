"""What is missing or in doubt is said in the pane, once, beside the button that mends it."""

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtWidgets import QFileDialog, QPushButton
from tests.desk.conftest import pixels, wait_until_settled

from rehearsal.desk.frame.window import Window
from rehearsal.workbook.values import Master


def _press(window: Window, text: str) -> None:
    next(b for b in window.pair.mending.findChildren(QPushButton) if b.text() == text).click()


def _choose(monkeypatch: pytest.MonkeyPatch, path: Path) -> None:
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(path), ""))


def test_a_lost_profile_is_chosen_again_in_the_pane(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    condition = window.session.now.condition
    assert condition is not None and not window.pair.mending.isVisible()
    said: list[str] = []
    window.session.bus.said.connect(lambda m: said.append(m.text))
    window.session.shelf.change(replace(condition, profile_path=str(tmp_path / "gone.icc"), profile_digest="gone"))
    card = window.pair.mending
    assert (
        card.isVisible()
        and "gone.icc" in card.text
        and said == []
        and "Nothing can be judged yet" in window.verdict.text
    )
    pane = window.pair.placing.placed(1)
    assert pane is not None and pane.pane.contains(card.geometry().toRectF()), "in the take's own pane"
    assert np.ptp(pixels(card).astype(int), axis=2).max() == 0, "chrome is neutral"
    wait_until_settled(window, judged=False)
    assert all(card._picture is None for card in window.stack.judge._cards), "no old proof stands on the cards"
    left = window.pair.placing.placed(0)
    assert left is not None
    painted = pixels(window.pair)
    at = left.picture.toRect()
    inside = painted[at.top() + 5 : at.bottom() - 5, at.left() + 5 : at.right() - 5].astype(int)
    assert np.ptp(inside, axis=2).max() > 60, "the picture itself can still be seen"
    right = window.pair.placing.placed(1)
    assert right is not None
    other = painted[right.picture.toRect().top() + 5, right.picture.toRect().left() + 5].astype(int)
    assert np.ptp(other) == 0, "and nothing stands for its proof"
    (tmp_path / "no.icc").write_bytes(b"x" * 200)
    _choose(monkeypatch, tmp_path / "no.icc")
    _press(window, "Choose the profile again…")
    assert card.isVisible() and said and "no.icc" in said[-1]
    _choose(monkeypatch, Path(condition.profile_path))
    _press(window, "Choose the profile again…")
    wait_until_settled(window)
    assert not card.isVisible() and window.session.roads.painter is not None and "beyond" in window.verdict.text
    assert window.session.now.condition == condition


def test_a_picture_that_is_gone_is_found_again_in_the_pane(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, master = window.session, window.session.now.master
    assert master is not None
    other = tmp_path / "elsewhere" / "moved.tif"
    other.parent.mkdir()
    other.write_bytes(Path(master.path).read_bytes())
    said: list[str] = []
    s.bus.said.connect(lambda m: said.append(m.text))
    s.book.note(replace(master, path=str(tmp_path / "a" / "b" / "c" / "gone.tif")))
    s.now.read_again()
    wait_until_settled(window, judged=False)
    card = window.pair.mending
    assert card.isVisible() and "gone.tif" in card.text and master.name in card.text and said == []
    assert window.verdict.text == "Nothing can be judged yet."
    _choose(monkeypatch, other)
    _press(window, "Choose its file…")
    wait_until_settled(window)
    assert not card.isVisible() and s.now.picture is not None
    kept = s.book.get(Master, master.id)
    assert kept is not None and kept.path == str(other) and kept.digest == master.digest
    assert (kept.name, kept.assumed) == (master.name, master.assumed)


def test_a_picture_that_cannot_be_read_can_be_taken_off(window: Window, tmp_path: Path) -> None:
    s, master = window.session, window.session.now.master
    assert master is not None
    (tmp_path / "torn.tif").write_bytes(Path(master.path).read_bytes()[:3000])
    s.book.note(replace(master, path=str(tmp_path / "torn.tif")))
    s.now.read_again()
    wait_until_settled(window, judged=False)
    assert window.pair.mending.kind == "picture"
    _press(window, "Take this picture off the rack")
    wait_until_settled(window)
    assert s.book.get(Master, master.id) is None and not window.pair.mending.isVisible()


def test_an_untagged_grey_file_asks_what_it_is(window: Window, tmp_path: Path) -> None:
    ramp = np.tile(np.linspace(0, 255, 300, dtype=np.uint8), (200, 1))
    Image.fromarray(ramp).save(tmp_path / "grey.png")
    window.session.incoming.open_files([str(tmp_path / "grey.png")])
    wait_until_settled(window)
    card, s = window.pair.mending, window.session
    assert card.isVisible() and "grey file" in card.text and "gamma 2.2" in card.text
    left = window.pair.placing.placed(0)
    assert left is not None and left.pane.contains(card.geometry().toRectF())
    _press(window, "Say what it is…")
    assert window.stack.current_key == "picture"
    box = window.stack.picture._assume
    assert box.isVisible() and [box.itemData(i) for i in range(box.count())] == [
        "gray",
        "gray18",
        "graysrgb",
        "graydot20",
    ]
    assert s.now.opened is not None
    middle = s.now.opened.space.to_lab(s.now.opened.open.pyramid.whole)[100, 150, 0]
    box.setCurrentIndex(3)
    box.activated.emit(3)
    wait_until_settled(window)
    assert not card.isVisible() and s.now.master is not None and s.now.master.assumed == "graydot20"
    assert s.now.opened.space.to_lab(s.now.opened.open.pyramid.whole)[100, 150, 0] > middle + 5
    s.takes.undo()
    wait_until_settled(window)
    assert card.isVisible()


def test_a_very_large_picture_waits_for_a_yes(window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("rehearsal.core.picture.file.LARGE_PIXELS", 20_000)
    Image.fromarray(np.full((150, 200, 3), 90, np.uint8)).save(tmp_path / "wide.png")
    window.session.incoming.open_files([str(tmp_path / "wide.png")])
    wait_until_settled(window, judged=False)
    card, s = window.pair.mending, window.session
    assert card.kind == "large" and "is not opened yet" in card.text and s.now.picture is None
    assert window.verdict.text == "Nothing can be judged yet."
    _press(window, "Open it")
    wait_until_settled(window)
    assert s.now.picture is not None and s.now.picture.size == (200, 150) and not card.isVisible()
    other = next(m for m in s.takes.masters if m.name == "Stoneware")
    s.takes.open_master(other)
    wait_until_settled(window, judged=False)
    assert card.kind == "large", "a yes counts for the picture it was said of"
