"""Maintainer's tool: the pictures of the main views in docs/screenshots, from the demo workbook.

python tools/take_screenshots.py [FOLDER] [VIEW ...]      (works without a display)
"""

import os
import sys
import tempfile
import time
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_DATA_HOME"] = os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp(prefix="rehearsal-shots-")
#: Only the demo's own profiles are to be seen, not those of the machine that takes the pictures.
os.environ["XDG_DATA_DIRS"] = tempfile.mkdtemp(prefix="rehearsal-shots-data-")

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog

from rehearsal.core.icc import open_profile
from rehearsal.core.icc.write import text_tag
from rehearsal.core.values.adjustments import Values
from rehearsal.core.values.recipe import HAND, LEARNT, LIGHT, Recipe, Step, habit_origin
from rehearsal.core.values.sheet import Caption
from rehearsal.demo.make import demo_folder, make_demo
from rehearsal.desk import theme
from rehearsal.desk.frame.window import Window
from rehearsal.desk.start import make_window
from rehearsal.tasks.queues import SIMULATED
from rehearsal.workbook.home import data_home
from rehearsal.workbook.values import Take

DEFAULT = Path(__file__).parents[1] / "docs" / "screenshots"


def settle(window: Window, most: float = 40.0) -> None:
    """Wait until nothing is being worked on."""
    end = time.monotonic() + most
    quiet_since = time.monotonic()
    while time.monotonic() < end:
        QTest.qWait(30)
        if window.session.jobs.running or not window.session.judging.is_current:
            quiet_since = time.monotonic()
        elif time.monotonic() - quiet_since > 0.5:
            return


def open_named(window: Window, name: str) -> None:
    """Open a picture of the demo by name."""
    master = next((m for m in window.session.takes.masters if m.name == name), None)
    if master is not None:
        window.session.takes.open_master(master)
        settle(window)


def open_first(window: Window, name: str) -> None:
    """Open the first take of a picture of the demo."""
    master = next(m for m in window.session.takes.masters if m.name == name)
    window.session.takes.open(window.session.takes.of(master.id)[0])
    settle(window)


def dialog_shot(window: Window, opener, path: Path) -> None:  # type: ignore[no-untyped-def]
    """Grab a modal page."""
    from PyQt6.QtCore import QTimer

    def grab() -> None:
        page = QApplication.activeModalWidget()
        if isinstance(page, QDialog):
            page.grab().save(str(path))
            page.accept()

    QTimer.singleShot(400, grab)
    opener()


def profiles_to_find() -> None:
    """A few profiles as they lie about on a machine: good, doubled, wrong and broken ones."""
    from rehearsal.core.icc.write import assemble

    folder = Path(os.environ["XDG_DATA_DIRS"]) / "color" / "icc"
    folder.mkdir(parents=True)
    demo = demo_folder() / "profiles"
    for i, (source, name) in enumerate((
        ("SK24_SluiceGloss_Hi", "SK24_BrineLustre260_PK_1440"), ("SK24_WhiteDune_Hi", "SK24_SaltMeadowRag310_MK_2880"),
        ("OS17_OldQuay_Fine", "OS17_HarbourCanvas350_MK_Fine"), ("OS17_OldQuay_Fine", "OS17_TidewaterVelvet_MK_Fine"),
    )):  # fmt: skip
        profile = open_profile(demo / f"{source}.icc")
        tags = {**profile.tags, "desc": text_tag(name, 2), "cprt": profile.tags["cprt"] + b"\0" * 4 * (i + 1)}
        (folder / f"{name}.icc").write_bytes(assemble(tags, "prtr", "RGB ", "Lab ", 2.4))
    for file in ("SK24_WhiteDune_Hi.icc", "OS17_OldQuay_Fine.icc", "desk-screen-wide.icc"):
        (folder / file).write_bytes((demo / file).read_bytes())
    (folder / "SK24_WhiteDune_Hi copy.icc").write_bytes((demo / "SK24_WhiteDune_Hi.icc").read_bytes())
    (folder / "SK24_Sluice_torn.icc").write_bytes((demo / "SK24_SluiceGloss_Hi.icc").read_bytes()[:9000])


def _tuned() -> Recipe:
    """A recipe with a step of each kind."""
    hand = Values.of(lightness=-1 / 6, light_half=12, strength=6)
    return Recipe((
        Step(LIGHT, Values.of(lightness=1 / 3)), Step(LEARNT, Values.of(lightness=1 / 6, warmth=5)),
        Step(habit_origin("open the darks"), Values.of(dark_half=8)), Step(HAND, hand),
    ))  # fmt: skip


def boards(window: Window, take) -> None:  # type: ignore[no-untyped-def]
    """The boards of the first three stations."""
    window.boards.toggle("check")
    window.boards.shown.start()
    QTest.qWait(2600)
    take("1-screen-check")
    window.session.screen.forget_reading()
    for name in ("shelf", "card", "scout", "reach"):
        window.boards.toggle(name)
        settle(window)
        if name == "shelf":
            window.boards.shown.expand_all()
        if name == "reach":
            board = window.boards.shown
            gloss = next(c for c in window.session.shelf.conditions if c.paper == "Sluice Gloss")
            board.choose_other(gloss.id)
            board.slider.setValue(42)
            settle(window)
            board.pick((52, 51))
        take(f"3-{name}")
    window.boards.toggle("reach")


def sheets(window: Window, take) -> None:  # type: ignore[no-untyped-def]
    """The page with a caution, several on a sheet, prints on their way and the dry print beside its take."""
    session, first = window.session, next(t for t in window.session.book.all(Take) if t.sheet.name == "A3+")
    session.takes.open(first)
    window.stack.go(6)
    settle(window)
    session.takes.change_hand_over(scale_percent=97.0, media="Photo gloss, resin-coated", sharpen=100.0, sigma_um=60.0)
    board = window.boards.shown
    board.take_way("foot")
    session.sheets.caption(Caption(edition=3, of=12, signature="A. Lind"))
    settle(window)
    QTest.qWait(800)
    take("7-sheet")
    session.sheets.mend([c.mend for c in session.sheets.cautions])
    session.sheets.choose_queue(SIMULATED)
    settle(window)
    session.prints.order([session.now.take])
    end = time.monotonic() + 60
    while session.prints.all[0].state != "done" and time.monotonic() < end:
        QTest.qWait(200)
    dry = (datetime.now() - timedelta(hours=30)).isoformat(timespec="minutes")
    session.book.note(replace(session.prints.all[0], printed=dry))
    waiting = [
        replace(t, hand_over=replace(t.hand_over, queue=SIMULATED))
        for t in session.book.all(Take)
        if t.condition == first.condition
    ][1:4]
    session.prints.pause()
    session.prints.order(waiting)
    window.boards.open_board("prints")
    window.boards.shown._choose(session.prints.all[0].id)
    settle(window)
    QTest.qWait(2500)
    take("7-prints")
    window.boards.close_board()


def shots(window: Window, folder: Path, wanted: list[str]) -> None:
    """All views, in the running order."""

    def take(name: str) -> None:
        settle(window)
        if not wanted or name in wanted:
            window.grab().save(str(folder / f"{name}.png"))

    for i, name in enumerate(("1-screen", "2-picture", "3-paper")):
        window.stack.go(i)
        take(name)
    boards(window, take)
    window.stack.go(3)
    window.boards.toggle("intents")
    take("4-intents")
    window.boards.toggle("intents")
    window.session.takes.mark(line=(0.285, 0.42, 0.43, 0.42), pins=((0.36, 0.33), (0.53, 0.45), (0.79, 0.5)))
    window.stack.judge.show_page(1)
    take("4-line-and-pins")
    window.session.takes.mark(line=(), pins=())
    window.stack.judge.show_page(0)
    window.session.takes.change("view", view="on-paper")
    window.pair.state.toggle_map("beyond")
    take("4-judge-lines")
    window.pair.state.toggle_map("beyond")
    window.stack.go(4)
    open_named(window, "Salt pans, evening")
    window.session.takes.change("view", view="true-black", recipe=_tuned())
    take("5-tune")
    window.session.takes.duplicate()
    for recipe in (_tuned().without(LIGHT), _tuned().without(LIGHT).with_total("contrast", 9)):
        window.session.takes.change_recipe(recipe)
    window.boards.toggle("takes")
    take("5-takes")
    window.boards.toggle("takes")
    open_first(window, "Drying line")
    test_sheet(window, take)
    open_named(window, "Drying line")
    sheets(window, take)
    open_named(window, "Earthenware")
    window.stack.go(6)
    if not wanted or "7-ticket" in wanted:
        dialog_shot(window, window.stack.sheet.show_ticket, folder / "7-ticket.png")
    open_first(window, "Drying line")
    window.stack.go(7)
    settle(window)
    rows = window.session.verdicts.rows
    if rows is not None:
        window.session.verdicts.choose("lightness", rows[0].offsets[rows[0].middle - 1])
        window.session.verdicts.choose("warmth", rows[1].offsets[rows[1].middle + 1])
    take("8-log")
    window.boards.open_board("causes")
    take("8-causes")
    window.boards.dismiss()


def test_sheet(window: Window, take) -> None:  # type: ignore[no-untyped-def]
    """A sheet of two controls at once that was printed, dried and looked at: the best lies between two fields."""
    window.stack.go(5)
    window.session.testing.wish(kind="two")
    settle(window)
    window.stack.test.write_to(Path(os.environ["XDG_DATA_HOME"]) / "sheet.tif")
    settle(window)
    sheet = window.session.tested.last
    if sheet is not None:
        window.session.testing.look_at(sheet)
        window.session.tested.choose(sheet, (5, 6))
        window.session.tested.see_wedges(window.session.tested.last, 3, 2)
    take("6-test")


def main() -> None:
    """Make the pictures."""
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else DEFAULT
    folder.mkdir(parents=True, exist_ok=True)
    profiles_to_find()
    app = QApplication([])
    app.setStyle("Fusion")
    theme.load_fonts()
    window = make_window(make_demo(data_home() / "demo.sqlite"), [])
    window.resize(1280, 800)
    window.show()
    settle(window)
    shots(window, folder, sys.argv[2:])
    window.close()


if __name__ == "__main__":
    main()
