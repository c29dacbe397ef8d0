"""Timings of the window: opening a large picture, changing the intent, the scout's wall. Seconds, and as ratios."""

from __future__ import annotations

import shutil
import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from rehearsal.core.icc.write import assemble
from rehearsal.core.picture.file import read_picture
from rehearsal.core.picture.write import write_picture
from rehearsal.core.values.rendering import Rendering
from rehearsal.demo.make import make_demo
from rehearsal.demo.pictures import demo_picture
from rehearsal.desk import theme
from rehearsal.desk.frame.window import Window
from rehearsal.desk.start import make_window
from rehearsal.session.session import Session
from rehearsal.tasks.conditions import new_condition
from rehearsal.workbook.home import data_home


def demo_window() -> Window:
    """The demo's window, settled."""
    app = QApplication.instance() or QApplication([])
    theme.load_fonts()
    window = make_window(make_demo(data_home() / "demo.sqlite"), [])
    window.resize(1280, 800)
    window.show()
    settle(window)
    window._app = app  # kept alive with the window
    return window


def settle(window: Window, most: float = 60.0) -> None:
    """Wait until nothing is being worked on."""
    end, calm = time.monotonic() + most, 0
    while time.monotonic() < end and calm < 8:
        QTest.qWait(25)
        calm = 0 if window.session.jobs.running or not window.session.judging.is_current else calm + 1


def _until(ready: Callable[[], bool], begin: float, most: float = 60.0) -> float:
    """Seconds since ``begin`` until something is true."""
    while not ready() and time.perf_counter() - begin < most:
        QApplication.processEvents()
        time.sleep(0.002)
    return time.perf_counter() - begin


def _has(session: Session, path: Path) -> bool:
    """True when a file's picture is the open one."""
    return session.now.master is not None and Path(session.now.master.path) == path.resolve()


def opening(library_proof: Callable[[np.ndarray, bytes], float]) -> None:
    """Open a 24-megapixel picture in a window that is at work already."""
    picture = read_picture(demo_picture("cloths.tif"))
    big = np.tile(picture.pixels, (2, 2, 1))
    folder = Path(tempfile.mkdtemp(prefix="rehearsal-bench-"))
    other = statistics.median(library_proof(big, picture.profile.data) for _ in range(3))
    window, times = demo_window(), []
    session = window.session
    for i in range(3):
        path = folder / f"big{i}.tif"
        write_picture(np.roll(big, 7 * i, axis=1), picture.profile, 300, path)
        begin = time.perf_counter()
        session.incoming.open_files([str(path)])
        _until(lambda path=path: _has(session, path), begin)
        first = _until(lambda: session.judging.first is not None or session.judging.judgement is not None, begin)
        shown = _until(lambda: session.roads.painter is not None, begin)
        judged = _until(lambda: session.judging.judgement is not None, begin)
        times.append((shown, first, judged))
        settle(window)
    shown, first, judged = (statistics.median(column) for column in zip(*times, strict=True))
    print(
        f"opening 24 Mpx: shown {shown:.2f} s, first figures {first:.2f} s (wanted 0.5), "
        f"areas and intents {judged:.2f} s (wanted 3); library's proof {other:.2f} s, ratios {first / other:.1f} and {judged / other:.1f}"
    )
    window.close()
    shutil.rmtree(folder)


def paper(library_proof: Callable[[np.ndarray, bytes], float]) -> None:
    """With 24 megapixels open, choose papers that nothing is known of yet: first figures, and all of them."""
    picture = read_picture(demo_picture("cloths.tif"))
    big = np.tile(picture.pixels, (2, 2, 1))
    folder = Path(tempfile.mkdtemp(prefix="rehearsal-bench-"))
    write_picture(big, picture.profile, 300, folder / "big.tif")
    other = statistics.median(library_proof(big, picture.profile.data) for _ in range(3))
    window, times = demo_window(), []
    session = window.session
    session.incoming.open_files([str(folder / "big.tif")])
    _until(lambda: _has(session, folder / "big.tif"), time.perf_counter())
    settle(window)
    judged = session.judging
    for condition in [c for c in session.shelf.conditions if c.printer and c != session.now.condition]:
        begin = time.perf_counter()
        session.takes.choose_condition(condition)
        first = _until(lambda: judged.first is not None, begin)
        times.append((first, _until(lambda: judged.is_current, begin)))
        settle(window)
    first, all_ = (max(column) for column in zip(*times, strict=True))
    print(
        f"paper: a new one with 24 Mpx open, slowest of {len(times)}: first figures {first:.2f} s (wanted 0.5), all {all_:.2f} s "
        f"(wanted 2.5); library's proof {other:.2f} s"
    )
    window.close()
    shutil.rmtree(folder)


def intent(library_proof: Callable[[np.ndarray, bytes], float]) -> None:
    """Change the intent to and fro and wait for the repaint: first time cold, then as it is used."""
    window = demo_window()
    session = window.session
    placed = window.pair.placing.placed(1)
    assert placed is not None and session.now.picture is not None
    block = window.pair.sides.block(window.pair.placing.patch(placed))
    other = statistics.median(
        library_proof(np.concatenate([block, block], axis=1), session.now.picture.pyramid.space.profile.data)
        for _ in range(9)
    )

    def change(name: str) -> float:
        before, begin = session.roads.road, time.perf_counter()
        session.takes.render(Rendering(name))
        _until(lambda: session.roads.road is not before, begin)
        window.pair.repaint()
        return time.perf_counter() - begin

    known = [change(name) for name in ("perceptual", "relative") * 6]
    settle(window)
    cold = []
    for view in ("fitted", "on-paper", "on-paper-bright", "in-its-light"):
        before, begin = session.roads.road, time.perf_counter()
        session.takes.change("view", view=view)
        _until(lambda before=before: session.roads.road is not before, begin)
        window.pair.repaint()
        cold.append(time.perf_counter() - begin)
        settle(window)
    print(
        f"intent: repaint {statistics.median(known) * 1000:.0f} ms (wanted 50), ratio {statistics.median(known) / other:.2f} to the "
        f"library's proof of the visible pixels; a view never seen before {statistics.median(cold) * 1000:.0f} ms"
    )
    window.close()


def scout(library_proof: Callable[[np.ndarray, bytes], float]) -> None:
    """The wall of eight papers (the demo's, with three more that only differ in their bytes)."""
    window = demo_window()
    session = window.session
    folder = Path(tempfile.mkdtemp(prefix="rehearsal-bench-"))
    for i, condition in enumerate([c for c in session.shelf.conditions if c.printer][:3]):
        profile = session.shelf.profile(condition.profile_path)
        tags = {**profile.tags, "cprt": profile.tags["cprt"] + b"\0" * 4 * (i + 1)}
        path = folder / f"more{i}.icc"
        path.write_bytes(assemble(tags, "prtr", "RGB ", "Lab ", profile.header.version))
        session.shelf.add(replace(new_condition(path), printer="Skarn 24"))
    settle(window)
    begin = time.perf_counter()
    window.boards.toggle("scout")
    board = window.boards.shown
    pictures = _until(lambda: all(card._picture is not None for card in board.wall.cards), begin)
    figures = _until(lambda: all(cost is not None for cost in board.costs), begin)
    full = session.now.picture.picture
    other = statistics.median(library_proof(full.pixels, full.profile.data) for _ in range(5))
    print(
        f"scout: {len(board.costs)} papers, all proofs {pictures:.2f} s, all figures {figures:.2f} s (wanted 2); "
        f"ratio {figures / other:.1f} to the library's proof of this picture for one paper ({other:.2f} s)"
    )
    window.close()
    shutil.rmtree(folder)
