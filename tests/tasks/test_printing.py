"""Pages as they are sent: what a printer got, read back through its profile, is what the take predicted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from tests.conftest import demo_profile

from rehearsal.core.colour.difference import delta_e_2000
from rehearsal.core.errors import PictureError, ProfileError, RehearsalError
from rehearsal.core.icc import Profile, Step, Transform, lab_profile
from rehearsal.core.picture.file import read_picture
from rehearsal.core.proof.chain import Light, Look
from rehearsal.core.sheet.page import DrawnPage
from rehearsal.core.tuning.opened import OpenPicture, OpenRendition
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Crop, Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.queue import QueueOffers, QueueOption, SentState
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Caption, Several, Sheet
from rehearsal.core.values.trueplace import TruePlace
from rehearsal.core.work.progress import silent
from rehearsal.demo.make import demo_folder
from rehearsal.devices.simulated.press import SimulatedPress
from rehearsal.tasks.paging import PageOrder, make_page, mark_digest, size_of
from rehearsal.tasks.printing import PrintOrder, look_at_print, page_order, print_page, profile_of, reduced
from rehearsal.workbook.masters import make_master
from rehearsal.workbook.values import Master

OFFERS = QueueOffers(
    "hall",
    (
        QueueOption("PageSize", "Size", ("A4", "A3", "A5"), "A4", "size"),
        QueueOption("MediaType", "Media", ("Cotton", "Gloss"), "Gloss", "media"),
    ),
)


class Tray:
    """A queue that keeps what it gets."""

    name = "hall"

    def __init__(self) -> None:
        self.page: DrawnPage | None = None
        self.options: dict[str, str] = {}
        self.title = ""

    def offers(self) -> QueueOffers:
        return OFFERS

    def send(self, page: DrawnPage, title: str, options: Sequence[tuple[str, str]]) -> str:
        self.page, self.title, self.options = page, title, dict(options)
        return "hall-1"

    def state(self, job: str) -> SentState:
        return SentState("done", job)

    def stop(self, job: str) -> None:
        raise AssertionError(job)

    def unscale(self) -> None:
        raise AssertionError


@pytest.fixture(scope="module")
def master(small_cloths: Path) -> Master:
    return make_master(small_cloths)


def _order(
    master: Master, paper: str = "SK24_WhiteDune_Hi.icc", card: PrintCondition | None = None, **parts: object
) -> PrintOrder:
    path = demo_folder() / "profiles" / paper
    profile = demo_profile(paper)
    rendition = Rendition(master.digest, destination=Destination(profile.digest, str(path)), **parts)  # type: ignore[arg-type]
    card = card or PrintCondition(paper="White Dune", media_setting="Cotton", margins_mm=(5, 5, 5, 5))
    return PrintOrder((rendition,), (master,), card, "Drying line on White Dune")


PAPERS = ("SK24_WhiteDune_Hi.icc", "SK24_SluiceGloss_Hi.icc", "SK24_WindmillBaryta_Hi.icc", "OS17_OldQuay_Fine.icc")


def _ticket(i: int, master: Master) -> PrintOrder:
    """One of thirty random tickets."""
    rng = np.random.default_rng(i)
    wide = float(rng.uniform(6, 13))
    crop = Crop(*(float(v) for v in rng.uniform(0, 0.15, 2)), *(float(v) for v in rng.uniform(0.6, 0.85, 2)))
    _x, _y, w, h = crop.pixels(450, 300)
    size = PrintSize(wide, wide * h / w)
    recipe = by_hand(
        contrast=float(rng.integers(-8, 9)),
        strength=float(rng.integers(-10, 15)),
        lightness=float(rng.integers(-2, 3)) / 6,
    )
    rendering = Rendering(str(rng.choice(["relative", "relative", "perceptual", "absolute"])), bool(rng.integers(0, 2)))
    place = str(rng.choice(["centre", "foot:15", "12,14"]))
    caption = Caption("Line") if i % 3 == 0 else Caption()
    return _order(
        master, PAPERS[i % 4], frame=Frame(crop, size), recipe=recipe, rendering=rendering, sheet=Sheet("A4", place=place, caption=caption),
        hand_over=HandOver(ppi=float(rng.choice([90, 120, 150])), queue="hall", media="Cotton", format="tiff16"),
    )  # fmt: skip


@pytest.mark.parametrize("i", range(30))
def test_what_the_printer_got_is_what_the_take_predicted(i: int, master: Master) -> None:
    order, tray = _ticket(i, master), Tray()
    sent = print_page(order, tray, OFFERS, silent)
    assert (
        sent.number == "hall-1"
        and sent.options == (("PageSize", "A4"), ("MediaType", "Cotton"))
        and tray.page is not None
    )
    rendition, profile = order.renditions[0], demo_profile(PAPERS[i % 4])
    part = tray.page.parts[0]
    got = tray.page.pixels[part.rows, part.columns]
    feeds_left = rendition.frame.size is not None and rendition.frame.size.width_cm >= rendition.frame.size.height_cm
    got = np.rot90(got) if feeds_left else got
    printed = Transform([Step(profile), Step(lab_profile(), "relative")]).apply(got.reshape(-1, 3) / 255.0)
    opened = OpenRendition(rendition, OpenPicture(read_picture(master.path), master.digest), profile)
    height, width = got.shape[:2]
    ((_part, tuned),) = opened.tuned.strips(opened.box, width, height, height)
    predicted = opened.chain().print_lab(tuned.reshape(-1, 3) / 65535.0)
    assert delta_e_2000(predicted, printed).mean() <= 0.3
    bare = tray.page.pixels.copy()
    for each in tray.page.parts:
        bare[each.rows, each.columns] = 255
    assert (bare == 255).all() and bare.shape[0] > bare.shape[1], (
        "as it is fed: short side across, bare paper without ink"
    )


@pytest.mark.parametrize("size", [PrintSize(12, 9), PrintSize(9, 12)])
def test_a_free_size_is_told_as_the_sheet_is_fed(master: Master, size: PrintSize) -> None:
    # the long side across would be wider than the printer
    free = replace(OFFERS, options=(QueueOption("PageSize", "Size", ("A3", "Custom.WIDTHxHEIGHT"), "A3", "size"),))
    order = _order(master, frame=Frame(size=size), sheet=Sheet("A4"), hand_over=HandOver(ppi=80))
    assert print_page(order, Tray(), free, silent).options == (("PageSize", "Custom.210.0x297.0mm"),)


def test_a_page_of_several_takes_has_each_in_its_own_look(master: Master) -> None:
    one = _order(
        master,
        frame=Frame(size=PrintSize(9, 6)),
        sheet=Sheet("A4", several=Several("packed", takes=(2,))),
        hand_over=HandOver(ppi=100),
    )
    other = replace(
        one.renditions[0],
        frame=Frame(Crop(0, 0, 0.5, 1), PrintSize(4.5, 6)),
        recipe=by_hand(lightness=1.0),
        hand_over=HandOver(ppi=222),
        sheet=Sheet(),
    )
    order = replace(one, renditions=(*one.renditions, other), masters=(master, master))
    made = page_order(order)
    page = make_page(made)
    assert len(page.parts) == 2 and [size_of(o).width_cm for o in made.opened] == [9, 4.5]
    light = [page.pixels[p.rows, p.columns].mean() for p in page.parts]
    assert light[1] > light[0] + 15
    assert page.parts[1].columns.stop - page.parts[1].columns.start == round(4.5 / 2.54 * 100), (
        "in the page's own resolution"
    )
    assert made.opened[1].rendition.hand_over.file.depth == 8


def test_the_true_place_is_taken_out_of_what_is_sent(master: Master) -> None:
    card = PrintCondition(
        paper="White Dune", media_setting="Cotton", true_place=TruePlace(right=3.0, down=-2.0, along=1.0)
    )
    frame, hand_over = Frame(size=PrintSize(15, 10)), HandOver(ppi=100, media="Cotton")
    plain, mended = (
        make_page(page_order(_order(master, card=c, frame=frame, sheet=Sheet("A4"), hand_over=hand_over)), fed=True)
        for c in (replace(card, true_place=None), card)
    )
    scale = 25.4 / 100
    assert mended.parts[0].left - plain.parts[0].left == pytest.approx(-3.0, abs=0.01)
    assert (mended.parts[0].rows.start - plain.parts[0].rows.start) * scale == pytest.approx(
        2.0 / 1.01 + 150 * 0.0099 / 2, abs=0.3
    )
    assert (mended.parts[0].rows.stop - mended.parts[0].rows.start) * scale == pytest.approx(150 / 1.01, abs=0.2)


def test_what_was_judged_is_printed_or_nothing(master: Master, tmp_path: Path) -> None:
    order = _order(master, frame=Frame(size=PrintSize(9, 6)), hand_over=HandOver(ppi=80, media="Cotton"))
    with pytest.raises(PictureError, match="another than the one that was judged"):
        print_page(replace(order, masters=(replace(master, digest="accepted since"),)), Tray(), OFFERS, silent)
    copy = tmp_path / "line.tif"
    copy.write_bytes(Path(master.path).read_bytes())
    here = make_master(copy)
    copy.write_bytes(copy.read_bytes() + b" ")
    with pytest.raises(PictureError, match="another than the one that was judged"):
        print_page(replace(order, masters=(here,)), Tray(), OFFERS, silent)
    copy.unlink()
    with pytest.raises(PictureError, match="file is gone"):
        print_page(replace(order, masters=(here,)), Tray(), OFFERS, silent)
    with pytest.raises(RehearsalError, match="no sheet of that size"):
        print_page(
            _order(master, frame=Frame(size=PrintSize(9, 6)), sheet=Sheet("A2"), hand_over=HandOver(media="Cotton")),
            Tray(),
            OFFERS,
            silent,
        )
    tray = Tray()
    with pytest.raises(RehearsalError, match="over the edge"):
        print_page(
            _order(master, frame=Frame(size=PrintSize(40, 26)), hand_over=HandOver(ppi=30, media="Cotton")),
            tray,
            OFFERS,
            silent,
        )
    assert tray.page is None


def test_a_kept_profile_prints_when_its_file_is_gone_or_another(master: Master, tmp_path: Path, dune: Profile) -> None:
    order = _order(master)
    rendition = order.renditions[0]
    gone = replace(rendition, destination=Destination(dune.digest, str(tmp_path / "gone.icc")))
    with pytest.raises(ProfileError):
        profile_of(replace(order, renditions=(gone,)))
    assert profile_of(replace(order, renditions=(gone,), profile=dune.data)).digest == dune.digest
    other = demo_folder() / "profiles" / "SK24_SluiceGloss_Hi.icc"
    changed = replace(rendition, destination=Destination(dune.digest, str(other)))
    with pytest.raises(ProfileError, match="another than the one that was judged"):
        profile_of(replace(order, renditions=(changed,)))
    assert profile_of(replace(order, renditions=(changed,), profile=dune.data)).digest == dune.digest


def test_a_mark_that_has_changed_is_not_printed(master: Master, tmp_path: Path) -> None:
    from PIL import Image

    mark = tmp_path / "mark.png"
    Image.new("L", (20, 10), 0).save(mark)
    sheet = Sheet("A4", caption=Caption(mark=str(mark), mark_digest=mark_digest(str(mark))))
    order = _order(master, frame=Frame(size=PrintSize(9, 6)), sheet=sheet, hand_over=HandOver(ppi=60, media="Cotton"))
    assert len(make_page(page_order(order)).parts) == 2
    Image.new("L", (20, 10), 99).save(mark)
    with pytest.raises(PictureError, match="mark has changed"):
        make_page(page_order(order))


def test_a_print_is_seen_beside_its_take(master: Master, screen: Profile) -> None:
    order = _order(
        master, frame=Frame(size=PrintSize(18, 12)), sheet=Sheet("A4"), hand_over=HandOver(ppi=100, media="Cotton")
    )
    look = Look(screen, light=Light(320, 90))
    alone = look_at_print(order, look, None, {}, 0.0, "Cotton", 4000, silent)
    assert alone.printed is None and alone.compared is None and alone.planned.shape[1] > alone.planned.shape[0], (
        "as the sheet is seen"
    )
    options = {"media": "Cotton", "feed": "rear"}
    dry = look_at_print(order, look, SimulatedPress("Skarn 24"), options, 1e6, "Cotton", 0, silent)
    assert (
        dry.printed is not None
        and dry.compared is not None
        and dry.printed.shape == dry.planned.shape
        and dry.meter is not None
    )
    calm = look_at_print(order, look, SimulatedPress("calm", faulty=False), options, 1e6, "Cotton", 0, silent)
    assert calm.printed is not None and np.abs(calm.printed.astype(int) - calm.planned).mean() < 1.0
    assert (
        np.abs(dry.printed.astype(int) - dry.planned).mean()
        > np.abs(calm.printed.astype(int) - calm.planned).mean() + 1
    )
    wrong = look_at_print(
        order, look, SimulatedPress("calm", faulty=False), {"media": "Gloss"}, 1e6, "Cotton", 0, silent
    )
    assert wrong.compared is not None and wrong.compared.stops < -0.5


def test_a_reduced_page_is_the_page(master: Master) -> None:
    page = make_page(
        page_order(_order(master, frame=Frame(size=PrintSize(18, 12)), hand_over=HandOver(ppi=100, media="Cotton")))
    )
    small = reduced(page, 1.0)
    assert small.shape == (210, 297, 3) and small[2, 2].tolist() == [255, 255, 255]
    middle = page.pixels[300:500, 400:700].mean(axis=(0, 1))
    np.testing.assert_allclose(small[77:127, 102:178].mean(axis=(0, 1)), middle, atol=4)
    assert reduced(page, 100.0).shape == page.pixels.shape


def test_a_whole_page_is_the_same_into_every_file(master: Master, tmp_path: Path, dune: Profile) -> None:
    from rehearsal.tasks.paging import write_page
    from rehearsal.tasks.writing import Target

    order = _order(
        master, frame=Frame(size=PrintSize(9, 6)), sheet=Sheet("A5"), hand_over=HandOver(ppi=100, format="tiff16")
    )
    opened = OpenRendition(order.renditions[0], OpenPicture(read_picture(master.path), master.digest), dune)
    for name in ("p.tif", "p.png"):
        write_page(PageOrder((opened,)), Target(tmp_path / name))
    tif, png = read_picture(tmp_path / "p.tif"), read_picture(tmp_path / "p.png")
    np.testing.assert_array_equal(tif.pixels, png.pixels)
    assert tif.profile.digest == png.profile.digest == dune.digest and tif.info.depth == 16
