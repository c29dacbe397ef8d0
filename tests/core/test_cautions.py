"""What is named before paper is used: fourteen deliberate mistakes, the trade's rules (common practice, no source), and what mends each."""

from dataclasses import replace

import pytest

from rehearsal.core.errors import QueueError
from rehearsal.core.icc.standard import SPACES
from rehearsal.core.proof.judging import Cut
from rehearsal.core.sheet.atprinter import feed_of, hand_steps, is_large, weight_gsm
from rehearsal.core.sheet.caution import Caution
from rehearsal.core.sheet.cautions import looked_at, print_question
from rehearsal.core.sheet.composing import Lettering, Page, compose
from rehearsal.core.sheet.onpage import _lettering_cautions
from rehearsal.core.sheet.putright import MENDS, Parts, put_right
from rehearsal.core.sheet.queueing import job_options, left_on, set_word, size_word, wanted_word, with_word
from rehearsal.core.sheet.request import TicketRequest
from rehearsal.core.values.condition import USUAL, PrintCondition
from rehearsal.core.values.destination import SPACE_NAMES, Destination
from rehearsal.core.values.frame import Frame, PrintSize
from rehearsal.core.values.handover import HandOver
from rehearsal.core.values.queue import QueueOffers, QueueOption
from rehearsal.core.values.recipe import by_hand
from rehearsal.core.values.rendering import Rendering
from rehearsal.core.values.rendition import Rendition
from rehearsal.core.values.sheet import Caption, Mat, Several, Sheet
from rehearsal.core.values.words import LANGUAGES

CARD = PrintCondition(
    1, "Skarn 24", "White Dune", media_setting="Fine art, smooth", quality="High", resolution="1200 dpi", ink="matte black",
    feed="rear, single sheet", margins_mm=(30, 5, 30, 5), surface="matte cotton", weight="300 g/m²",
)  # fmt: skip
PRINTED = Rendition(
    "digest", frame=Frame(size=PrintSize(39, 26)), destination=Destination("profile"), sheet=Sheet("A3+")
)
REQUEST = TicketRequest(PRINTED, CARD, "Drying line", (5000, 3333), "profile", PRINTED)
QUEUE = QueueOffers(
    "hall",
    (
        QueueOption("PageSize", "Media Size", ("A4", "A3Plus"), "A4", "size"),
        QueueOption("MediaType", "Media", ("Cotton", "Gloss"), "Gloss", "media"),
        QueueOption("InputSlot", "Feed", ("Rear", "Top"), "Top", "feed"),
        QueueOption("ColorModel", "Colour", ("RGB", "Gray"), "RGB", "mode"),
        QueueOption("HighSpeed", "High speed", ("On", "Off"), "Off", "speed"),
        QueueOption("Stapler", "Stapler", ("None", "Left"), "None"),
    ),
)
TOLD = with_word(with_word(CARD, "hall", "media", "Cotton"), "hall", "feed", "Rear")


def _found(request: TicketRequest) -> dict[str, Caution]:
    return {caution.key: caution for caution in looked_at(request)}


def _with(
    hand_over: dict[str, object] | None = None, card: dict[str, object] | None = None, **fields: object
) -> TicketRequest:
    rendition = replace(PRINTED, hand_over=replace(HandOver(), **(hand_over or {})))  # type: ignore[arg-type]
    made = replace(REQUEST, rendition=rendition, judged=rendition, condition=replace(CARD, **(card or {})))  # type: ignore[arg-type]
    return replace(made, **fields)  # type: ignore[arg-type]


def test_a_right_print_needs_no_look() -> None:
    assert _found(REQUEST) == {}
    assert _found(replace(REQUEST, condition=TOLD, queue=QUEUE)) == {}


#: The mistakes by name, the request that makes each, and the key it is named by.
MISTAKES = {
    "second conversion": (_with({"converter": "program"}), "two-converters"),
    "no conversion": (_with({"route": "space", "converter": "none"}), "nobody-converts"),
    "other profile": (replace(REQUEST, judged=replace(PRINTED, destination=Destination("other"))), "judged-otherwise"),
    "other intent": (_with({"route": "space", "program_intent": "perceptual"}), "program-intent"),
    "wrong medium": (_with({"media": "Photo gloss"}), "media"),
    "wrong tray": (_with({"feed": "top"}), "feed"),
    "coat on matte": (_with({"coat": "full"}), "coat-on-matte"),
    "scaling": (_with({"scale_percent": 97.0}), "scale"),
    "size": (replace(REQUEST, rendition=(r := replace(PRINTED, sheet=Sheet("A4"))), judged=r), "margins"),
    "borderless": (
        replace(REQUEST, rendition=(b := replace(PRINTED, sheet=Sheet("A3+", True))), judged=b),
        "borderless",
    ),
    "stale judgement": (replace(REQUEST, judged=replace(PRINTED, recipe=by_hand(strength=4))), "judged-otherwise"),
    "changed file": (replace(REQUEST, file_state="changed"), "file-changed"),
    "missing profile": (replace(REQUEST, profile_missing=True), "profile-missing"),
    "mode left on": (_with({"mode": "grey"}), "mode"),
    "empty stock": (_with(card={"stock": 0}), "stock"),
}


@pytest.mark.parametrize("name", MISTAKES)
def test_each_mistake_is_named_before_paper_is_used(name: str) -> None:
    request, key = MISTAKES[name]
    assert key in _found(request)


@pytest.mark.parametrize(
    ("request_", "key"),
    [
        (_with({"speed": "on"}), "speed"), (_with({"quality": "Draft"}), "quality"), (_with({"ink": "photo black"}), "photo-on-matte"),
        (_with(card={"surface": "gloss", "ink": "matte black"}), "matte-on-gloss"),
        (_with(card={"surface": "gloss", "ink": "photo black", "gloss_coat": "off"}), "coat-missing"),
        (_with({"feed": "top"}), "heavy"), (_with(idle_days=12), "nozzles"), (_with(tested=False), "untested"),
        (_with(inks=("another set",), card={"ink_set": "ten inks"}), "ink-set"), (_with({"converter": "driver"}), "driver-decides"),
    ],
)  # fmt: skip
def test_rules_of_the_trade(request_: TicketRequest, key: str) -> None:
    assert key in _found(request_)


def test_what_is_no_mistake_is_not_named() -> None:
    light = _found(_with({"feed": "top"}, {"weight": "260 g/m²", "feed": "top"}))
    assert "heavy" not in light and "feed" not in light, "260 g/m² goes in from above"
    for feed in ("rear tray", "Rear tray, single sheets", "manual tray"):
        assert "heavy" not in _found(_with({"feed": feed}, {"feed": feed})), feed
    assert "heavy" in _found(_with({"feed": "tray 1"}, {"feed": "tray 1"}))
    assert "nozzles" not in _found(_with(idle_days=6))
    small = replace(PRINTED, frame=Frame(size=PrintSize(23, 15)), sheet=Sheet("A4"))
    assert _found(replace(REQUEST, rendition=small, judged=small, tested=False, idle_days=6)) == {}, (
        "a small sheet is not asked about"
    )
    assert set(_found(replace(REQUEST, rendition=small, judged=small, tested=False, idle_days=40))) == {"nozzles"}, (
        "gaps show on a small sheet as well"
    )
    assert "coat-missing" not in _found(
        _with(card={"surface": "gloss", "ink": "photo black", "gloss_coat": "automatic"})
    )
    assert "ink-set" not in _found(_with(inks=("ten inks",), card={"ink_set": "ten inks"}))
    lab = _found(_with({"scale_percent": 97.0}, {"lab": True}))
    assert lab == {}, "a lab sets its driver itself"


def test_a_borderless_page_is_fine_where_the_paper_allows_it_and_the_picture_keeps_a_border() -> None:
    sheet = replace(PRINTED, sheet=Sheet("A3+", borderless=True, place="5,5"))
    request = replace(_with(card={"borderless": True}), rendition=sheet, judged=sheet)
    assert _found(request) == {}
    with_edge = replace(request, rendition=(e := replace(sheet, sheet=Sheet("A3+", place="5,5"))), judged=e)
    assert set(_found(with_edge)) == {"margins"}


def test_what_a_person_says_is_right_is_not_asked_again() -> None:
    asked = _with(tested=False, idle_days=12)
    assert set(_found(asked)) == {"nozzles", "untested"}
    assert set(_found(replace(asked, ticked=("untested",)))) == {"nozzles"}
    wrong = _with({"media": "Photo gloss"})
    assert "media" in _found(replace(wrong, ticked=("media",))), "a setting is mended, not said away"


# ---- what mends


@pytest.mark.parametrize("name", [n for n, (r, k) in MISTAKES.items() if _found(r)[k].mend in MENDS])
def test_each_mend_puts_its_mistake_right(name: str) -> None:
    request, key = MISTAKES[name]
    rendition = request.rendition
    parts = Parts(rendition.frame, rendition.sheet, rendition.hand_over, rendition.rendering, (5000, 3333))
    made = put_right(_found(request)[key].mend, parts, request.condition)
    after = replace(rendition, frame=made.frame, sheet=made.sheet, hand_over=made.hand_over, rendering=made.rendering)
    assert key not in _found(replace(request, rendition=after, judged=after))


def test_every_mend_has_its_word() -> None:
    words = LANGUAGES["en"]["mend"]
    assert set(MENDS) < set(words)
    for request, key in MISTAKES.values():
        assert _found(request)[key].mend in {"", *words}


def test_a_print_is_made_to_fit_where_ink_reaches() -> None:
    parts = Parts(Frame(size=PrintSize(47, 31.3)), Sheet("A3+", place="0,0"), HandOver(), Rendering(), (3000, 2000))
    made = put_right("fit-the-page", parts, CARD)
    assert made.sheet.place == "centre" and made.frame.size == PrintSize(pytest.approx(42.3), pytest.approx(28.2))  # type: ignore[arg-type]
    small = replace(parts, frame=Frame(size=PrintSize(30, 20)))
    assert put_right("fit-the-page", small, CARD).frame.size == PrintSize(30, 20), "it only moves"
    # a roll is turned until the print fits; it is as long as print and bare ends want it, so nothing shrinks for ever
    for margins in ((5, 30, 5, 30), (30, 5, 45, 5)):
        card, wide = replace(CARD, margins_mm=margins), replace(parts, frame=Frame(size=PrintSize(60, 40)))
        rolled = put_right("fit-the-page", replace(wide, sheet=Sheet("roll 610mm")), card)
        page = compose(rolled.sheet, [rolled.frame.size], card.margins_mm)  # type: ignore[list-item]
        assert rolled.frame.size == PrintSize(60, 40) and all(page.inked.holds(one.box) for one in page.laid)
        assert put_right("fit-the-page", rolled, card) == rolled
    large = replace(parts, sheet=Sheet("roll 610mm"), frame=Frame(size=PrintSize(100, 66.67)))
    smaller = put_right("fit-the-page", large, replace(CARD, margins_mm=(30, 5, 45, 5)))
    assert smaller.frame.size is not None and smaller.frame.size.height_cm == pytest.approx(59.96, abs=0.05)
    assert put_right("fit-the-page", smaller, replace(CARD, margins_mm=(30, 5, 45, 5))).frame.size == smaller.frame.size


def test_one_print_instead_of_several_has_its_own_size_again() -> None:
    own = Frame(size=PrintSize(39, 26))
    cell = own.lent("way", Frame(size=PrintSize(21, 15.8)))
    parts = Parts(cell, Sheet("A3+", several=Several("grid")), HandOver(), Rendering(), (3000, 2000))
    made = put_right("lay-single", parts, CARD)
    assert made.frame == own and made.frame.before is None and not made.sheet.several.way


# ---- the page


@pytest.mark.parametrize(
    ("sheet", "key"),
    [
        (Sheet("A3+", place="90,10"), "margins"), (Sheet("A3+", place="200,10"), "over-edge"), (Sheet("A3+", place="up"), "page"),
        (Sheet("A3+", mat=Mat("float", show=60.0)), "mat"), (Sheet("A3+", mat=Mat("over", 390, 270)), "mat"),
        (Sheet("A3+", caption=Caption("x" * 300)), "lettering"), (Sheet("A3+", several=Several("packed")), "left-out"),
        (Sheet("A4", several=Several("most")), "left-out"),
    ],
)  # fmt: skip
def test_what_does_not_lie_right_on_the_page(sheet: Sheet, key: str) -> None:
    laid = replace(PRINTED, sheet=sheet)
    others = (PrintSize(40, 30),) if sheet.several.way == "packed" else ()
    found = _found(replace(REQUEST, rendition=laid, judged=laid, others=others))
    assert key in found, found


@pytest.mark.parametrize(
    "sheet",
    [
        Sheet("A3+", mat=Mat("over", 500, 400)),
        Sheet("A3+", caption=Caption("Line", 1, 9, "A. Lind")),
        Sheet("A3+", place="foot:15"),
    ],
)
def test_what_lies_right_on_the_page_is_not_named(sheet: Sheet) -> None:
    laid = replace(PRINTED, sheet=sheet)
    assert _found(replace(REQUEST, rendition=laid, judged=laid)) == {}


def test_a_mat_that_shows_more_than_the_sheet_is_told_from_a_narrow_one() -> None:
    for mat, words in (
        (Mat("float", 900, 800, show=60.0), "something else would be seen"),
        (Mat("over", 390, 270), "5 mm of mat"),
    ):
        laid = replace(PRINTED, sheet=Sheet("A3+", mat=mat))
        assert words in _found(replace(REQUEST, rendition=laid, judged=laid))["mat"].text


# ---- queues


def test_a_cards_words_are_matched_to_a_queues_once() -> None:
    asked = _found(replace(REQUEST, queue=QUEUE))
    assert set(asked) == {"unknown-media", "unknown-feed"} and asked["unknown-media"].mend == ""
    assert wanted_word("media", TOLD, QUEUE) == "Cotton" and wanted_word("feed", TOLD, QUEUE) == "Rear"
    again = with_word(TOLD, "hall", "media", "Gloss")
    assert wanted_word("media", again, QUEUE) == "Gloss" and len(again.queue_words) == 2
    other = replace(QUEUE, name="attic")
    assert wanted_word("media", TOLD, other) == "", "at another queue it is asked again"
    same = replace(CARD, media_setting="cotton", feed="REAR")
    assert wanted_word("media", same, QUEUE) == "Cotton", "the very same word needs no asking"


def test_what_is_set_otherwise_at_a_queue_is_named_and_mended() -> None:
    request = replace(_with({"media": "Gloss", "speed": "On", "mode": "Gray"}), condition=TOLD, queue=QUEUE)
    found = _found(request)
    assert (
        {"media", "speed", "mode"} <= set(found)
        and "black-and-white" in found["mode"].text
        and "Cotton" in found["media"].text
    )
    parts = Parts(PRINTED.frame, PRINTED.sheet, request.rendition.hand_over, PRINTED.rendering, (3, 2))
    for key in ("media", "speed", "mode"):
        parts = put_right(found[key].mend, parts, TOLD)
    mended = replace(PRINTED, hand_over=parts.hand_over)
    assert _found(replace(request, rendition=mended, judged=mended)) == {}


def test_a_queue_that_scales_or_stands_still_is_named() -> None:
    found = _found(
        replace(REQUEST, condition=TOLD, queue=replace(QUEUE, scale=97.0, stopped="it is stopped: no paper"))
    )
    assert "97 %" in found["scale"].text and "no paper" in found["queue-stopped"].text
    assert "fits pages" in _found(replace(REQUEST, condition=TOLD, queue=replace(QUEUE, scale=0.0)))["scale"].text


def test_a_mode_left_on_by_the_last_job_is_named_though_it_is_not_sent() -> None:
    options = tuple(replace(o, default="Gray") if o.role == "mode" else o for o in QUEUE.options)
    queue = replace(QUEUE, options=options)
    assert [o.role for o in left_on(TOLD, queue)] == ["mode"]
    found = _found(replace(REQUEST, condition=TOLD, queue=queue))
    assert set(found) == {"left-mode"} and "“Gray” from the last job" in found["left-mode"].text
    assert ("ColorModel", "RGB") in job_options(HandOver(), TOLD, queue, "A3+", (329, 483))


def test_every_setting_is_sent_by_name() -> None:
    made = job_options(HandOver(), TOLD, QUEUE, "A3+", (329, 483))
    assert dict(made) == {
        "PageSize": "A3Plus", "MediaType": "Cotton", "InputSlot": "Rear", "ColorModel": "RGB", "HighSpeed": "Off", "Stapler": "None",
    }  # fmt: skip
    assert dict(job_options(HandOver(media="Gloss"), TOLD, QUEUE, "A4", (210, 297)))["MediaType"] == "Gloss"
    with pytest.raises(QueueError, match="no sheet of that size"):
        job_options(HandOver(), TOLD, QUEUE, "A2", (420, 594))
    with pytest.raises(QueueError, match="nobody has said what Fine art, smooth"):
        job_options(HandOver(), CARD, QUEUE, "A4", (210, 297))


@pytest.mark.parametrize(
    ("choices", "sheet", "mm", "word"),
    [
        (("iso_a4_210x297mm", "iso_a3_297x420mm"), "A3", (297, 420), "iso_a3_297x420mm"),
        (("na_super-b_13x19in",), "13 × 19 in", (330.2, 482.6), "na_super-b_13x19in"), (("SuperA3",), "A3+", (329, 483), "SuperA3"),
        (("A4", "Custom.WIDTHxHEIGHT"), "30x40cm", (300, 400), "Custom.300.0x400.0mm"), (("Letter",), "A4", (210, 297), ""),
        (("A4.Borderless", "A4"), "A4", (210, 297), "A4"), (("13x19",), "A3+", (329, 483), "13x19"),
    ],
)  # fmt: skip
def test_sheets_by_the_names_of_queues(
    choices: tuple[str, ...], sheet: str, mm: tuple[float, float], word: str
) -> None:
    offers = QueueOffers("q", (QueueOption("media", "Size", choices, choices[0], "size"),))
    assert size_word(offers, sheet, *mm) == word
    assert size_word(QueueOffers("q"), sheet, *mm) == ""


def test_borderless_takes_the_borderless_name() -> None:
    offers = QueueOffers("q", (QueueOption("media", "Size", ("A4", "A4.Borderless"), "A4", "size"),))
    assert size_word(offers, "A4", 210, 297, True) == "A4.Borderless" and size_word(offers, "A4", 210, 297) == "A4"


def test_speed_is_wanted_off_unless_the_card_tells_otherwise() -> None:
    assert wanted_word("speed", CARD, QUEUE) == "Off"
    assert wanted_word("speed", replace(CARD, high_speed="on"), QUEUE) == "On"
    assert set_word("speed", HandOver(speed="no such"), CARD, QUEUE) == "Off", (
        "a word the queue does not know is not sent"
    )


def test_hands_have_their_steps() -> None:
    card = replace(CARD, loading="Brush off dust.\nPush until it is taken.", panel_setting="Thick sheet")
    steps = hand_steps(card)
    assert steps[:2] == ("Brush off dust.", "Push until it is taken.") and "Thick sheet" in steps[2] and len(steps) == 4
    assert hand_steps(replace(card, lab=True)) == ()
    rolled = hand_steps(card, "roll 610mm")
    assert rolled[:3] == steps[:3] and "roll wound tight" in rolled[3] and "one sheet" in steps[3]


def test_a_roll_is_fed_from_the_roll() -> None:
    card = replace(CARD, feed="rear sheet", weight="310 g/m²")
    assert feed_of(card, "A3+") == "rear sheet" and feed_of(card, "roll 610mm") == "roll"
    assert feed_of(replace(card, feed="Roll unit 2"), "roll 610mm") == "Roll unit 2"
    sheet = replace(
        REQUEST, condition=card, rendition=replace(REQUEST.rendition, hand_over=HandOver(feed="rear sheet"))
    )
    rolled = replace(sheet, rendition=replace(sheet.rendition, sheet=Sheet("roll 610mm")))
    assert "feed" not in _found(sheet) and "fed from “roll”" in _found(rolled)["feed"].text
    right = replace(rolled, rendition=replace(rolled.rendition, hand_over=HandOver(feed="Roll")))
    assert "feed" not in _found(right)
    top = replace(card, feed="top tray")
    assert "heavy" in _found(replace(sheet, condition=top, rendition=replace(REQUEST.rendition, hand_over=HandOver())))
    assert "heavy" not in _found(
        replace(rolled, condition=top, rendition=replace(rolled.rendition, hand_over=HandOver()))
    )
    assert weight_gsm("310 g/m²") == 310 and weight_gsm("heavy") == 0


def test_nothing_is_concluded_from_what_nobody_told() -> None:
    assert "feed" not in _found(_with({"feed": "top"}, {"feed": ""}))
    assert "coat-missing" not in _found(_with(card={"surface": "gloss", "ink": "photo black", "gloss_coat": ""}))
    assert "ink-set" not in _found(_with(inks=("",), card={"ink_set": "ten inks"}))
    assert "ink-set" not in _found(_with(inks=("another set",), card={"ink_set": ""}))


@pytest.mark.parametrize(("sheet", "large"), [("A5", False), ("A4", False), ("A3", True), ("A3+", True), ("A2", True)])
def test_a_sheet_is_large_from_a3_on(sheet: str, large: bool) -> None:
    # ISO 216: A3 is 1,247 cm², A4 624
    assert is_large(replace(REQUEST, rendition=replace(PRINTED, sheet=Sheet(sheet)))) is large


@pytest.mark.parametrize(("share", "said"), [(0.09, False), (0.1, True), (0.5, True)])
def test_what_a_space_cuts_is_spoken_of_from_a_tenth_of_a_per_cent(share: float, said: bool) -> None:
    request = replace(_with({"route": "space", "space": "sRGB"}), cut=Cut(share, 2.5))
    assert ("space-cuts" in _found(request)) is said


def test_a_mark_is_as_wide_as_it_is_high() -> None:
    # four capitals of 3 mm are 12 mm: from 5 mm off the edge no ink reaches it fits at 13, not at 11
    for at, fits in ((13.0, True), (11.0, False)):
        line = Lettering("", 324.0 - at, 200.0, "left", 3.0, picture="mark.png")
        page = Page(329.0, 483.0, (5.0, 5.0, 5.0, 5.0), False, (), lettering=(line,))
        assert (_lettering_cautions(page) == []) is fits, at


# ---- what is only usual, and what a lab asks for


def test_what_is_usual_is_nobodys_until_it_is_told() -> None:
    fresh = PrintCondition(1, "Skarn 24", "White Dune")
    assert {fresh.state(name) for name in USUAL} == {"usual"}
    told = fresh.touched(borderless=False)
    assert told.state("borderless") == "told" and told.state("margins_mm") == "usual"
    assert replace(fresh, margins_mm=(5, 5, 5, 5)).state("margins_mm") == "told", "somebody has said something else"


@pytest.mark.parametrize(("told", "words"), [(True, "must not be printed"), (False, "Nobody has told whether")])
def test_borderless_is_forbidden_only_where_somebody_said_so(told: bool, words: str) -> None:
    sheet = replace(PRINTED, sheet=Sheet("A3+", borderless=True))
    card = {"borderless": False, "told": USUAL if told else ()}
    found = _found(replace(_with(card=card), rendition=sheet, judged=sheet))["borderless"]
    assert words in found.text and found.can_be_ticked is not told


def test_an_edge_nobody_has_told_is_named_as_usual() -> None:
    large = replace(PRINTED, frame=Frame(size=PrintSize(48.2, 32.8)))
    for card, said in (
        ({"margins_mm": (3.0, 3.0, 3.0, 3.0)}, True),
        ({"margins_mm": (3.0, 3.0, 3.0, 3.0), "told": USUAL}, False),
    ):
        found = _found(replace(_with(card=card), rendition=large, judged=large))["margins"]
        assert ("Nobody has told that edge: 3 mm is usual" in found.text) is said


@pytest.mark.parametrize(
    ("asked", "wanted"),
    [
        ("sRGB", "sRGB"),
        ("srgb files, please", "sRGB"),
        ("opRGB", "opRGB"),
        ("the profile on this card", "printer"),
        ("sRGB or opRGB", ""),
        ("", ""),
        ("whatever", ""),
    ],
)
def test_what_a_lab_asks_for_is_read_only_where_it_is_plain(asked: str, wanted: str) -> None:
    assert PrintCondition(lab=True, lab_space=asked).space_wanted == wanted
    assert PrintCondition(lab=False, lab_space=asked).space_wanted == ""


@pytest.mark.parametrize(
    ("asked", "hand_over", "said"),
    [
        ("sRGB", {"route": "printer"}, "The lab asks for a file in sRGB; this file holds printer-ready pixels."),
        (
            "sRGB",
            {"route": "space", "space": "opRGB"},
            "The lab asks for a file in sRGB; this file holds pixels in opRGB.",
        ),
        ("sRGB", {"route": "space", "space": "sRGB"}, ""),
        ("the profile on this card", {"route": "printer"}, ""),
        (
            "the profile on this card",
            {"route": "space", "space": "sRGB"},
            "The lab asks for pixels converted with its profile; this file holds pixels in sRGB.",
        ),
        ("", {"route": "printer"}, ""),
    ],
)
def test_the_file_is_held_against_what_the_lab_asks_for(asked: str, hand_over: dict[str, object], said: str) -> None:
    request = _with(hand_over, {"lab": True, "lab_space": asked})
    found = _found(request).get("lab-space")
    assert ("" if found is None else found.text) == said
    if found is not None:
        parts = Parts(
            request.rendition.frame,
            request.rendition.sheet,
            request.rendition.hand_over,
            request.rendition.rendering,
            (5000, 3333),
        )
        right = put_right(found.mend, parts, request.condition)
        mended = replace(request.rendition, hand_over=right.hand_over)
        assert "lab-space" not in _found(replace(request, rendition=mended, judged=mended))


def test_working_spaces_are_named_the_same_everywhere() -> None:
    assert tuple(SPACES) == SPACE_NAMES


# ---- asked once before paper is used


def test_what_wastes_the_sheet_is_named_when_a_print_is_asked_about() -> None:
    request = _with({"media": "Photo gloss"}, idle_days=1)
    found = looked_at(request)
    asked = print_question(request, found)
    assert asked.startswith("The media setting is “Photo gloss”") and asked.endswith(
        "Print on A3+ White Dune all the same?"
    )
    assert print_question(request, []) == "Print on A3+ White Dune?"
    assert print_question(_with({"copies": 3}), []) == "Print 3 copies on A3+ White Dune?"
    small = [Caution("nozzles", "40 days."), Caution("only-read", "Read.")]
    assert print_question(request, small) == "2 things to look at. Print on A3+ White Dune all the same?"
    both = print_question(request, [Caution("untested", "Untested."), *small, Caution("media", "Wrong medium.")])
    assert both == "Wrong medium. 3 more things to look at. Print on A3+ White Dune all the same?", "the worst is named"
