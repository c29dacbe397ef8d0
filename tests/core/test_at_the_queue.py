"""What would cost a sheet at a queue: sizes only near, words it no longer has; inks, coats, speeds (common practice, no source)."""

from dataclasses import replace

import numpy as np
import pytest

from rehearsal.core.errors import QueueError
from rehearsal.core.sheet.atprinter import IDLE_DAYS, is_large, printer_cautions
from rehearsal.core.sheet.causes import _OF, _drawn, causes
from rehearsal.core.sheet.queueing import is_grey, job_options, left_on, set_word, size_word, wanted_word, with_word
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.values.condition import PrintCondition
from rehearsal.core.values.destination import Destination
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.queue import QueueOffers, QueueOption
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Sheet

CARD = PrintCondition(
    1, "Skarn 24", "White Dune", media_setting="Fine art", ink="matte black", feed="rear", surface="matte cotton", weight="300 g/m²",
    quality="High",
)  # fmt: skip


def _queue(name: str = "hall", **choices: tuple[str, ...]) -> QueueOffers:
    """A queue with settings by their roles; each stands at its last choice."""
    return QueueOffers(
        name, tuple(QueueOption(role.title(), role, each, each[-1], role) for role, each in choices.items())
    )


def _keys(
    card: PrintCondition, hand_over: HandOver | None = None, queue: QueueOffers | None = None, **fields: object
) -> set[str]:
    rendition = Rendition(
        "digest", frame=Frame(size=PrintSize(20, 15)), destination=Destination("p"), sheet=Sheet("A4"), hand_over=hand_over or HandOver()
    )  # fmt: skip
    request = TicketRequest(
        rendition, card, "Drying line", (3000, 2000), "p", rendition, queue=queue, tested=True, **fields
    )  # type: ignore[arg-type]
    return {caution.key for caution in printer_cautions(request)}


@pytest.mark.parametrize(
    ("off_mm", "fits"), [(0.0, True), (1.4, True), (-1.4, True), (1.6, False), (6.0, False), (-6.0, False)]
)
def test_a_sheet_is_the_queues_only_within_a_millimetre_and_a_half(off_mm: float, fits: bool) -> None:
    # PWG 5101.1 names sizes to the millimetre; 13 × 19 in is 330.2 × 482.6 mm and A3+ 329 × 483
    offers = _queue(size=(f"om_own_{297 + off_mm:g}x420mm",))
    assert (size_word(offers, "A3", 297, 420) != "") is fits
    other = _queue(size=(f"om_own_297x{420 + off_mm:g}mm",))
    assert (size_word(other, "A3", 297, 420) != "") is fits, "the long side counts as much"


def test_a_sheet_has_no_side_to_spare() -> None:
    offers = _queue(size=("om_own_420x297mm",))
    assert size_word(offers, "A3", 297, 420) == "om_own_420x297mm", "whichever way round it is named"
    with pytest.raises(QueueError, match="no sheet of that size"):
        job_options(HandOver(), CARD, _queue(size=("om_own_303x420mm",)), "A3", (297, 420))


def test_a_word_the_queue_no_longer_has_is_not_sent() -> None:
    told = with_word(CARD, "hall", "media", "Velvet")
    before, now = _queue(media=("Velvet", "Gloss")), _queue(media=("Cotton", "Gloss"))
    assert wanted_word("media", told, before) == "Velvet"
    assert wanted_word("media", told, now) == "", "after the driver changed it is asked anew"
    with pytest.raises(QueueError, match="nobody has said"):
        job_options(HandOver(), told, now, "A4", (210, 297))
    assert set_word("media", HandOver(media="Velvet"), told, now) == "", "nor what the take remembers"


def test_a_word_told_at_one_queue_leaves_those_of_others() -> None:
    told = with_word(with_word(CARD, "hall", "media", "Cotton"), "attic", "media", "Rag")
    told = with_word(with_word(told, "hall", "feed", "Rear"), "hall", "media", "Gloss")
    assert {(w.queue, w.role): w.word for w in told.queue_words} == {
        ("attic", "media"): "Rag", ("hall", "feed"): "Rear", ("hall", "media"): "Gloss",
    }  # fmt: skip
    assert wanted_word("media", told, _queue("attic", media=("Rag", "Gloss"))) == "Rag"


def test_what_is_left_on_is_only_what_is_wanted_otherwise() -> None:
    plain = replace(CARD, quality="")
    assert left_on(plain, _queue(quality=("High", "Draft"))) == [], "an empty wish leaves it as it stands"
    assert [o.role for o in left_on(CARD, _queue(quality=("High", "Draft"), speed=("Off", "On")))] == [
        "quality",
        "speed",
    ]
    assert left_on(CARD, _queue(media=("Cotton", "Gloss"))) == [], "the medium is no left-over: it is sent each time"


def test_a_wish_the_queue_has_no_word_for_is_not_taken_for_its_default() -> None:
    superb, queue = replace(CARD, quality="Superb"), _queue(quality=("High", "Draft"))
    assert wanted_word("quality", superb, queue) == "", "nobody has said what it is called here"
    assert wanted_word("quality", replace(CARD, quality=""), queue) == "Draft", "without a wish it stays as it stands"
    assert left_on(superb, queue) == [], "and nothing is said to be left on otherwise than a word that is not known"


def test_grey_modes_by_their_names() -> None:
    assert [is_grey(c) for c in ("Gray", "Monochrome", "Black", "Color", "RGB", "CMYK")] == [
        True,
        True,
        True,
        False,
        False,
        False,
    ]
    assert wanted_word("mode", CARD, _queue(mode=("Gray", "RGB", "KGray"))) == "RGB"


# ---- ink, coat, speed, weight


@pytest.mark.parametrize(
    ("surface", "ink", "named"),
    [
        ("matte cotton", "photo black", "photo-on-matte"), ("textured cotton", "Photo black", "photo-on-matte"),
        ("gloss, resin-coated", "matte black", "matte-on-gloss"), ("lustre", "matte black", "matte-on-gloss"),
        ("baryta, semi-gloss", "matte black", "matte-on-gloss"), ("lustre", "photo black", ""), ("matte cotton", "matte black", ""),
        ("", "matte black", ""),
    ],
)  # fmt: skip
def test_the_black_that_does_not_belong_on_a_surface(surface: str, ink: str, named: str) -> None:
    found = _keys(replace(CARD, surface=surface, ink=ink)) & {"photo-on-matte", "matte-on-gloss"}
    assert found == ({named} if named else set())
    by_hand = _keys(replace(CARD, surface=surface, ink=""), HandOver(ink=ink)) & {"photo-on-matte", "matte-on-gloss"}
    assert by_hand == found, "as it is set in the driver, too"


@pytest.mark.parametrize(("told", "named"), [("", True), ("off", True), ("on", False)])
def test_high_speed_is_named_unless_the_card_wants_it(told: str, named: bool) -> None:
    card = replace(CARD, high_speed=told)
    assert ("speed" in _keys(card, HandOver(speed="on"))) is named
    assert "speed" not in _keys(card, HandOver(speed="off")) | _keys(card)
    queue = _queue(media=("Fine art",), feed=("rear",), speed=("On", "Off"))
    assert ("speed" in _keys(card, HandOver(speed="On"), queue)) is named


def test_a_coat_belongs_on_gloss_alone() -> None:
    assert "coat-on-matte" in _keys(replace(CARD, gloss_coat="automatic")) and "coat-on-matte" not in _keys(CARD)
    gloss = replace(CARD, surface="gloss, resin-coated", ink="photo black", weight="260 g/m²")
    assert "coat-missing" in _keys(replace(gloss, gloss_coat="off")) and "coat-missing" not in _keys(gloss)


@pytest.mark.parametrize(
    ("weight", "feed", "named"),
    [("300 g/m²", "top", True), ("289 g/m²", "top", False), ("290 g/m²", "top", True), ("300 g/m²", "rear, single sheet", False),
     ("300 g/m²", "", False), ("", "top", False), ("310 g/m²", "rear tray", False)],
)  # fmt: skip
def test_a_heavy_sheet_is_not_fed_from_above(weight: str, feed: str, named: bool) -> None:
    assert ("heavy" in _keys(replace(CARD, weight=weight, feed=feed))) is named


def test_an_empty_count_is_named_and_an_untold_one_is_not() -> None:
    assert "stock" in _keys(replace(CARD, stock=0))
    assert "stock" not in _keys(replace(CARD, stock=-1)) | _keys(replace(CARD, stock=1))


def test_nozzles_are_spoken_of_before_every_sheet_a_test_before_a_large_one() -> None:
    small = Rendition("digest", frame=Frame(size=PrintSize(20, 15)), destination=Destination("p"), sheet=Sheet("A4"))
    large = replace(small, frame=Frame(size=PrintSize(39, 26)), sheet=Sheet("A3"))
    request = TicketRequest(small, CARD, "Drying line", (3000, 2000), "p", small, idle_days=IDLE_DAYS, tested=False)
    assert not is_large(request) and {"nozzles", "untested"} & {c.key for c in printer_cautions(request)} == {"nozzles"}
    request = replace(request, rendition=large, judged=large)
    found = {c.key: c for c in printer_cautions(request)}
    assert is_large(request) and {"nozzles", "untested"} <= set(found) and "7 days" in found["nozzles"].text
    rested = {c.key for c in printer_cautions(replace(request, idle_days=IDLE_DAYS - 1, tested=True))}
    assert not rested & {"nozzles", "untested"}


# ---- from a bad print to its cause


def _held(
    look: str, hand_over: HandOver | None = None, card: PrintCondition = CARD, kept: bool = True, white: float = 0.0
) -> dict[str, tuple[str, float]]:
    return {
        cause.key: (cause.known, cause.likely) for cause in causes(look, hand_over or HandOver(), card, kept, white)
    }


def test_density_is_no_cause_of_a_colour_print() -> None:
    colour, grey = _held("dark"), _held("dark", HandOver(mode="grey"))
    assert (
        colour["density"][0] == "out" and grey["density"][0] == "open" and grey["density"][1] > 5 * colour["density"][1]
    )


def test_a_black_is_held_against_what_the_card_tells() -> None:
    assert (
        _held("faded", HandOver(ink="photo black"))["wrong-black"][1]
        > _held("faded", HandOver(ink="matte black"))["wrong-black"][1]
    )
    untold = replace(CARD, ink="")
    assert _held("faded", HandOver(ink="photo black"), untold)["wrong-black"][0] == "open", (
        "an empty card speaks for nothing"
    )
    assert _held("faded")["wrong-black"][0] == "read"


def test_a_bright_screen_speaks_for_a_dark_print_and_an_untold_one_does_not() -> None:
    bright, usual, untold = (_held("dark", white=w)["screen-bright"] for w in (160.0, 90.0, 0.0))
    assert (usual[0], untold[0]) == ("read", "open") and bright[1] > untold[1] > usual[1]


def test_high_speed_speaks_for_bands_only_when_it_was_on() -> None:
    on, off, untold = (_held("banded", HandOver(speed=word))["high-speed"] for word in ("on", "off", ""))
    assert on[1] > off[1] == untold[1] and off[0] == "open"


def test_a_faded_print_goes_towards_its_papers_white() -> None:
    paper = np.array([0.9, 0.8, 0.7])
    made = _drawn(np.full((2, 2, 3), 0.2), "faded", paper)
    np.testing.assert_allclose(made, np.broadcast_to(0.2 + 0.35 * (paper - 0.2), (2, 2, 3)))
    np.testing.assert_allclose(_drawn(np.tile(paper, (2, 2, 1)), "faded", paper), np.tile(paper, (2, 2, 1)))


def test_shares_of_causes_add_up_and_the_likeliest_comes_first() -> None:
    for look in ("never", "twice", "magenta", "grey", "dark", "faded", "banded", "soft"):
        shares = [cause.likely for cause in causes(look, HandOver(queue="hall"), CARD, True)]
        assert sum(shares) == pytest.approx(1) and shares == sorted(shares, reverse=True)


@pytest.mark.parametrize("look", list(_OF))
def test_causes_of_a_look_are_shares_of_one(look: str) -> None:
    shares = [share for _cause, share in _OF[look]]
    assert sum(shares) == pytest.approx(1.0), "one of them is the cause"
    assert shares == sorted(shares, reverse=True) and len({cause for cause, _share in _OF[look]}) == len(shares)


def test_bands_are_darker_at_their_edges_than_they_are_uneven() -> None:
    grey = np.full((480, 40, 3), 0.5)
    light = _drawn(grey, "banded", np.ones(3))[:, 0, 0] / 0.5 - 1
    levels = np.unique(np.round(np.abs(light), 6))
    assert len(levels) == 2 and levels[0] == pytest.approx(levels[1] / 4), "a quarter of the edge, either way"
    assert np.isclose(light, -levels[0]).any() and np.isclose(light, levels[0]).any()


def test_copies_are_named_only_where_there_are_more_than_one() -> None:
    offers = _queue(size=("iso_a4_210x297mm",))
    assert ("copies", "3") in job_options(HandOver(copies=3), CARD, offers, "A4", (210, 297))  # RFC 8011, 5.2.5
    assert "copies" not in dict(job_options(HandOver(), CARD, offers, "A4", (210, 297)))
